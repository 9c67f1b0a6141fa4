"""Edits of what was done at the bench; each leaves its line in the log."""

from __future__ import annotations

from collections.abc import Mapping

from tiny_lantern.model.base import made, revise
from tiny_lantern.model.bench import MOST_ENTRIES, Bench, BenchLook, BenchReading, EntryKind, LogEntry
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import fresh
from tiny_lantern.model.stamp import stamp_of


def _with(build: Build, bench: Bench) -> Build:
    return revise(build, bench=bench)


def with_change(before: Build, after: Build, label: str, at: str = "") -> Build:
    """A build after an edit, with a line in the log where the bench is in use and lamps, power or pins were changed; a
    full log takes none.

    Args:
        before: the build before the edit.
        after: the build after it.
        label: what the edit is called.
        at: when.
    """
    bench = after.bench
    in_use = bench.readings or bench.looks or bench.done
    if not in_use or bench != before.bench or len(bench.log) >= MOST_ENTRIES or stamp_of(after) == stamp_of(before):
        return after
    entry = made(LogEntry, at=at, kind="change", text=f"{label}.")
    return revise(after, bench=revise(bench, log=(*bench.log, entry)))


def log(build: Build, kind: EntryKind, text: str, at: str = "") -> Build:
    """Write a line into the log.

    Args:
        build: the build.
        kind: of what kind.
        text: what is said.
        at: when, ``YYYY-MM-DD HH:MM``.

    Raises:
        LanternError: the log is full, or the line is too long.
    """
    entry = made(LogEntry, at=at, kind=kind, text=text)
    return _with(build, revise(build.bench, log=(*build.bench.log, entry)))


def tick_step(build: Build, key: str, done: bool, words: str, at: str = "") -> Build:
    """Tick a step of the first power, or take the tick away.

    Args:
        build: the build.
        key: the step's key.
        done: whether it is done.
        words: the step in words, for the log.
        at: when.
    """
    others = tuple(each for each in build.bench.done if each != key)
    ticked = revise(build, bench=revise(build.bench, done=(*others, key) if done else others))
    return log(ticked, "step", words if done else f"Not done after all: {words}", at)


def take_reading(build: Build, reading: BenchReading, words: str) -> Build:
    """Keep a reading; one that was taken at the same place in the same pattern goes.

    Args:
        build: the build.
        reading: the reading; its id is made fresh.
        words: it in words, for the log.
    """
    where = (reading.kind, reading.plus, reading.minus, reading.conductor, reading.pattern)
    others = tuple(each for each in build.bench.readings if _where(each) != where)
    taken = {each.id for each in build.bench.readings}
    now = stamp_of(build)
    own = revise(reading, id=fresh("reading", taken), stamp=now)
    kept = revise(build, bench=revise(build.bench, readings=(*others, own), stamp=now))
    return log(kept, "reading", words, reading.at)


def _where(reading: BenchReading) -> tuple[str, ...]:
    return reading.kind, reading.plus, reading.minus, reading.conductor, reading.pattern


def drop_reading(build: Build, reading_id: str) -> Build:
    """Take a reading away; the log keeps that it was taken.

    Args:
        build: the build.
        reading_id: the reading.
    """
    kept = tuple(each for each in build.bench.readings if each.id != reading_id)
    return _with(build, revise(build.bench, readings=kept))


def see(build: Build, pattern: str, seen: Mapping[str, str], words: str, at: str = "") -> Build:
    """Keep what lamps were seen to do in a pattern.

    Args:
        build: the build.
        pattern: the pattern's key.
        seen: what each was seen to do, by its name in the circuit.
        words: it in words, for the log.
        at: when.

    Raises:
        LanternError: it is no word for what a lamp does.
    """
    others = tuple(each for each in build.bench.looks if each.pattern != pattern or each.lamp not in seen)
    now = stamp_of(build)
    own = (made(BenchLook, pattern=pattern, lamp=lamp, word=word, stamp=now) for lamp, word in seen.items())
    kept = revise(build, bench=revise(build.bench, looks=(*others, *own), stamp=now))
    return log(kept, "look", words, at)


def see_strip(
    build: Build, pattern: str, strip_id: str, word: str, span: tuple[int, int] | None, words: str, at: str = ""
) -> Build:  # fmt: skip
    """Keep what pixels of a strip were seen to do; all of them as they should where there is no range.

    Args:
        build: the build.
        pattern: the pattern's key.
        strip_id: the strip.
        word: what was seen.
        span: the first and the last pixel; None where the strip is as it should be.
        words: it in words, for the log.
        at: when.

    Raises:
        LanternError: it is no word for what pixels do, or no range.
    """
    others = tuple(
        each for each in build.bench.looks
        if (each.pattern, each.lamp) != (pattern, strip_id) or (span is not None and each.word not in (word, "normal"))
    )  # fmt: skip
    own = made(BenchLook, pattern=pattern, lamp=strip_id, word=word if span is not None else "normal",
               first=span[0] if span is not None else None, last=span[1] if span is not None else None,
               stamp=stamp_of(build))  # fmt: skip
    return log(revise(build, bench=revise(build.bench, looks=(*others, own), stamp=own.stamp)), "look", words, at)


def begin_anew(build: Build, at: str = "") -> Build:
    """Take all readings, looks and ticks away, as before another try; the log stays.

    Args:
        build: the build.
        at: when.
    """
    cleared = revise(build, bench=revise(build.bench, done=(), readings=(), looks=()))
    return log(cleared, "note", "Readings, looks and ticks were taken away: begun anew.", at)
