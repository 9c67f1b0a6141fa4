"""The log of the bench as a page: how a build was brought to life."""

from __future__ import annotations

from itertools import groupby

from tiny_lantern.model.bench import OUTCOMES, LogEntry
from tiny_lantern.model.build import Build
from tiny_lantern.model.stamp import stamp_of

MARKED = "*_`[]<>#|\\"


def journal(build: Build) -> str:
    """The log as Markdown, day by day.

    Args:
        build: the build.
    """
    lines = [f"# {_plain(build.name)}: log of the bench", ""]
    if build.bench.stamp:
        now = stamp_of(build)
        changed = "" if now == build.bench.stamp else f"; the build is now {now}, changed since"
        lines += [f"Done on the build of stamp {build.bench.stamp}{changed}.", ""]
    outcomes = [entry for entry in build.bench.log if entry.kind in OUTCOMES]
    if outcomes:
        lines += ["## What it was", "", *(f"- {_plain(entry.text)}" for entry in outcomes), ""]
    for day, entries in groupby(build.bench.log, key=lambda entry: entry.at[:10]):
        lines += [f"## {day or 'Undated'}", "", *map(_line, entries), ""]
    return "\n".join(lines)


def _line(entry: LogEntry) -> str:
    time = f"{entry.at[11:]} " if entry.at else ""
    return f"- {time}{_plain(entry.text)}"


def _plain(text: str) -> str:
    """Text in which nothing is taken for a mark."""
    kept = "".join(f"\\{letter}" if letter in MARKED else letter for letter in text)
    return " ".join(kept.split())
