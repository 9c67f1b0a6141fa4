"""What was done at the bench: steps ticked, readings, what was seen, and the log of it all in order."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from tiny_lantern.model.base import PLAIN_LINE, Frozen, Id, Text

Key = Annotated[str, StringConstraints(max_length=300, pattern=PLAIN_LINE)]
Moment = Annotated[str, StringConstraints(max_length=16, pattern=r"^(\d{4}-\d{2}-\d{2} \d{2}:\d{2})?$")]
Stamp = Annotated[str, StringConstraints(max_length=16, pattern=PLAIN_LINE)]
MeterKind = Literal["V", "A", "ohm"]
SeenWord = Literal["dark", "dim", "normal", "bright", "off", "lit", "reddish", "flicker", "wrong"]
Pixel = Annotated[int, Field(ge=0, le=100_000)]
EntryKind = Literal["note", "step", "reading", "look", "change", "cause", "cured", "cured, cause unknown", "left open"]
OUTCOMES: tuple[EntryKind, ...] = ("cured", "cured, cause unknown", "left open")
MOST_READINGS, MOST_ENTRIES = 2000, 5000


class BenchReading(Frozen):
    """What a meter showed: of what kind, on which terminals or in which conductor, each by its key, in which pattern,
    and in which step; a value of None is ohms that were open; ``stamp`` is that of the build then. [V], [A], [ohm]"""

    id: Id
    kind: MeterKind
    plus: Key = ""
    minus: Key = ""
    conductor: Key = ""
    pattern: Key = "dark"
    value: Annotated[float, Field(ge=-1e4, le=1e9)] | None = None
    step: Key = ""
    at: Moment = ""
    stamp: Stamp = ""


class BenchLook(Frozen):
    """What one lamp was seen to do in a pattern: the lamp by its name in the circuit; or what pixels of a strip did,
    from ``first`` to ``last``, the strip by its id."""

    pattern: Key
    lamp: Key
    word: SeenWord
    first: Pixel | None = None
    last: Pixel | None = None
    stamp: Stamp = ""


class LogEntry(Frozen):
    """One line of the log: when, of what kind, and what was done, read or found."""

    at: Moment = ""
    kind: EntryKind = "note"
    text: Text


class Bench(Frozen):
    """The state of the bench: the steps that are done, by their keys, readings, looks, the log, and the stamp of the
    build that was read or looked at last."""

    done: Annotated[tuple[Key, ...], Field(max_length=2000)] = ()
    readings: Annotated[tuple[BenchReading, ...], Field(max_length=MOST_READINGS)] = ()
    looks: Annotated[tuple[BenchLook, ...], Field(max_length=20_000)] = ()
    log: Annotated[tuple[LogEntry, ...], Field(max_length=MOST_ENTRIES)] = ()
    stamp: Stamp = ""
