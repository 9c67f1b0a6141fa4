"""The log of the bench as a page: how a build was brought to life."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import groupby

from tiny_lantern.bench.order import Step
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


def order_page(build: Build, steps: Sequence[Step]) -> str:
    """The order of the first power as Markdown, with boxes to tick and lines to write on.

    Args:
        build: the build.
        steps: its steps. (n_steps,)
    """
    lines = [f"# {_plain(build.name)}: first power", "", f"Of the build of stamp {stamp_of(build)}.", ""]
    for part, own in groupby(steps, key=lambda step: step.part):
        lines += [f"## {part}", ""]
        for step in own:
            box = "x" if step.key in build.bench.done else " "
            lines += [f"- [{box}] {_plain(step.act)} Expect {_plain(step.expect)}. Stop if {_plain(step.stop_if)}."]
            lines += ["  Read: ________"] if step.asked is not None else []
        lines.append("")
    return "\n".join(lines)


def _line(entry: LogEntry) -> str:
    time = f"{entry.at[11:]} " if entry.at else ""
    return f"- {time}{_plain(entry.text)}"


def _plain(text: str) -> str:
    """Text in which nothing is taken for a mark."""
    kept = "".join(f"\\{letter}" if letter in MARKED else letter for letter in text)
    return " ".join(kept.split())
