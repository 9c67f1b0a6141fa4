"""Where something is in a build: lights, things, a moment; what is selected is one, and so is where a finding is."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from tiny_lantern.model.effects import SlotRef

if TYPE_CHECKING:
    from tiny_lantern.model.build import Build


@dataclass(frozen=True, order=True)
class Ref:
    """One thing: its kind, which is the list of the build that it stands in, and its id."""

    kind: str
    id: str


@dataclass(frozen=True)
class Place:
    """A span of lights, the things that it is about, and a moment; each may be missing.

    ``last`` is missing when the span is one light.
    """

    first: SlotRef | None = None
    last: SlotRef | None = None
    refs: tuple[Ref, ...] = ()
    time_s: float | None = None

    @classmethod
    def at(cls, piece_id: str, index: int, *refs: Ref) -> Place:
        """One light, and what else it is about; ``index`` is the light's number on the piece."""
        return cls(SlotRef(piece_id=piece_id, index=int(index)), None, refs)

    @classmethod
    def on(cls, kind: str, *ids: str) -> Place:
        """Things of one kind."""
        return cls(refs=tuple(Ref(kind, identity) for identity in ids))

    @property
    def piece_id(self) -> str | None:
        """The piece that its first light is on, else the piece that it is about."""
        return self.first.piece_id if self.first is not None else self.one("pieces")

    @property
    def index(self) -> int | None:
        """The number of its first light on the piece."""
        return None if self.first is None else self.first.index

    def all(self, kind: str) -> tuple[str, ...]:
        """The ids of the things of a kind."""
        return tuple(ref.id for ref in self.refs if ref.kind == kind)

    def one(self, kind: str) -> str | None:
        """The id of the first thing of a kind."""
        return next((ref.id for ref in self.refs if ref.kind == kind), None)

    def about(self, kind: str, *ids: str) -> Place:
        """The same place with these as its only things of a kind."""
        others = tuple(ref for ref in self.refs if ref.kind != kind)
        return replace(self, refs=(*others, *(Ref(kind, identity) for identity in ids)))

    @property
    def thing(self) -> tuple[object, ...]:
        """What it is about, whichever light or moment is the worst."""
        return (self.first.piece_id if self.first is not None else None, *sorted(self.refs))

    def within(self, build: Build) -> Place:
        """The place without what a build does not have."""
        refs = tuple(ref for ref in self.refs if any(thing.id == ref.id for thing in getattr(build, ref.kind)))
        counts = {piece.id: piece.slot_count for piece in build.pieces}
        ends = [end for end in (self.first, self.last) if end is not None]
        there = all(end.index < counts.get(end.piece_id, 0) for end in ends)
        if there:
            return replace(self, refs=refs)
        return replace(self, first=None, last=None, refs=refs)

    def record(self) -> dict[str, object]:
        """It as JSON takes it, without what is missing."""
        return dict(self._fields())

    def _fields(self) -> Iterator[tuple[str, object]]:
        if self.first is not None:
            yield "first", self.first.model_dump()
        if self.last is not None:
            yield "last", self.last.model_dump()
        if self.refs:
            yield "refs", [vars(ref) for ref in self.refs]
        if self.time_s is not None:
            yield "time_s", self.time_s
