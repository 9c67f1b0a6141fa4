"""The sources of a build, found by what names them: what each gives, and what feeds it in its turn."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from tiny_lantern.model.drive import Board
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.rail import Rail
from tiny_lantern.model.whole import Supply, Whole

ALIKE_V, USB_V = 0.5, 5.0


@dataclass(frozen=True)
class Source:
    """Something that feeds: how it is named in a build, what it is, and what it gives. [V]"""

    fed_by: FedBy
    thing: Supply | Rail | Board
    name: str
    volts: float

    @property
    def id(self) -> str:
        """The id of what it is; two pins of a board have one."""
        return self.thing.id

    @property
    def words(self) -> str:
        """Its name with what it gives."""
        return f"{self.name}, {self.volts:g} V"


def every_source(build: Whole) -> Iterator[Source]:
    """Supplies, rails, and the pins of boards that give, in this order.

    Args:
        build: the build.
    """
    yield from map(source_of_supply, build.supplies)
    for rail in build.rails:
        yield Source(FedBy(id=rail.id), rail, rail.name, rail.target_v)
    for board in build.boards:
        yield from _outlets(build, board)


def source_of_supply(supply: Supply) -> Source:
    """A supply as a source."""
    return Source(FedBy(id=supply.id), supply, supply.name, supply.set_v)


def _outlets(build: Whole, board: Board) -> Iterator[Source]:
    """What a board gives: the pins' own voltage, and what it is fed with where that is another one."""
    logic_v, fed_v = build.shelf.find(BoardPart, board.part_id).logic_v, fed_with_v(build, board)
    yield Source(FedBy(id=board.id, pin="logic"), board, f"{board.name}'s {logic_v:g} V pin", logic_v)
    words = f"{board.name}'s {fed_v:g} V pin" if abs(fed_v - logic_v) > ALIKE_V else f"{board.name}'s supply pin"
    yield Source(FedBy(id=board.id, pin="fed"), board, words, fed_v)


def fed_with_v(build: Whole, board: Board) -> float:
    """What a board is fed with: what its source gives, or its cable. [V]

    Args:
        build: the build.
        board: the board.
    """
    source = source_of(build, board.fed_by)
    return source.volts if source is not None else USB_V


def source_of(build: Whole, fed_by: FedBy | None) -> Source | None:
    """The source that is named; None where none is.

    Args:
        build: the build.
        fed_by: its name.
    """
    if fed_by is None:
        return None
    for supply in build.supplies:
        if supply.id == fed_by.id:
            return source_of_supply(supply)
    for rail in build.rails:
        if rail.id == fed_by.id:
            return Source(fed_by, rail, rail.name, rail.target_v)
    boards = (board for board in build.boards if board.id == fed_by.id)
    return next((each for board in boards for each in _outlets(build, board) if each.fed_by == fed_by), None)


def behind(build: Whole, source: Source | None) -> Source | None:
    """What feeds a source in its turn; None of a supply, and of a board on its cable.

    Args:
        build: the build.
        source: the source.
    """
    if source is None or isinstance(source.thing, Supply):
        return None
    return source_of(build, source.thing.fed_by)


def supply_behind(build: Whole, fed_by: FedBy | None) -> str:
    """The id of the supply that something hangs on at last; empty where it is none.

    Args:
        build: the build.
        fed_by: what feeds it.
    """
    source = source_of(build, fed_by)
    while (before := behind(build, source)) is not None:
        source = before
    return source.id if source is not None and isinstance(source.thing, Supply) else ""


def usual_source(build: Whole, board: Board | None, volts: float) -> FedBy | None:
    """What would feed something of a voltage as people wire it: what feeds its board where that fits, else the first
    supply or rail that does; None where none does.

    Args:
        build: the build.
        board: its board, where there is one.
        volts: the voltage that it wants. [V]
    """
    own = source_of(build, board.fed_by) if board is not None else None
    others = [source for source in every_source(build) if not isinstance(source.thing, Board)]
    fitting = (source for source in ([own] if own is not None else []) + others if abs(source.volts - volts) <= ALIKE_V)
    return next((source.fed_by for source in fitting), None)


def check_sources(build: Whole) -> None:
    """Refuse a source of a pin that is not a board's, a board's without its pin, and sources that feed themselves.

    Raises:
        LanternError: one of these, with its place.
    """
    kinds = {board.id: "board" for board in build.boards}
    for where, fed_by in named_sources(build):
        if (fed_by.pin is not None) != (fed_by.id in kinds):
            what = "a board feeds by one of its pins" if fed_by.id in kinds else "only a board feeds by a pin"
            raise LanternError(what, f"{where}.pin", "“logic” or “fed”" if fed_by.id in kinds else "nothing")
    feeds: dict[str, FedBy | None] = {rail.id: rail.fed_by for rail in build.rails}
    feeds |= {board.id: board.fed_by for board in build.boards}
    for field in ("rails", "boards"):
        for number, thing in enumerate(getattr(build, field)):
            seen, at = {thing.id}, thing.fed_by
            while at is not None and at.id in feeds:
                if at.id in seen:
                    raise LanternError(f"{thing.name} feeds itself", f"{field}[{number}].fed_by", "a source before it")
                seen.add(at.id)
                at = feeds[at.id]


def named_sources(build: Whole) -> Iterator[tuple[str, FedBy]]:
    """Every place where a source is named, with what it names.

    Args:
        build: the build.
    """
    for field in ("rails", "boards", "drivers", "pieces"):
        for number, thing in enumerate(getattr(build, field)):
            if any(reference.to == "sources" for reference in thing.held):
                fed = ((name, value) for name, value in thing if isinstance(value, FedBy))
                yield from ((f"{field}[{number}].{name}", value) for name, value in fed)
