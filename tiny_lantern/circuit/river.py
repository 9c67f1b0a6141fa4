"""The tree of sources as a river: things that are fed, and from each to the next all wires as one stream."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field

from tiny_lantern.circuit.conductor import Conductor, End
from tiny_lantern.circuit.drive import Wired, wired, wired_drive
from tiny_lantern.circuit.equations import NotSolvedError
from tiny_lantern.circuit.splices import WORD
from tiny_lantern.circuit.wires.rails import LAMP_RAIL, LOGIC_RAIL, source_end, supply_end
from tiny_lantern.electrical.driven.solution import DriveSolution
from tiny_lantern.electrical.network import supply_part
from tiny_lantern.electrical.power_tree import Hanging
from tiny_lantern.electrical.supplies import allowed_share
from tiny_lantern.model.build import Build, Supply
from tiny_lantern.model.drive import Board, Driver
from tiny_lantern.model.edits_sources import wanted_v
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.quantities import amps
from tiny_lantern.model.rail import Rail
from tiny_lantern.model.sources import source_of, source_of_supply

FEEDING = ("lamp supply", "logic supply", "lamps", "feeds")
LEAST_A = 1e-6


@dataclass(frozen=True)
class Bank:
    """Something that is fed, or feeds: what it is, by which fields it says what feeds it, the volts there, what it
    gives idle and all lit, and at most where that is told. ``rows`` are the wires inside it: of a rail those from its
    regulator to where what it feeds meets. [V] [A]"""

    key: str
    kind: str
    name: str
    about: str
    volts: float | None = None
    source: FedBy | None = None
    fields: tuple[str, ...] = ()
    idle_a: float = 0.0
    given_a: float = 0.0
    allowed_a: float | None = None
    on_mains: bool = False
    rows: tuple[Conductor, ...] = ()


@dataclass(frozen=True)
class Stream:
    """All wires from one thing to another: what they carry together and what they may, how they are called, their fuse,
    and the conductors themselves. ``over`` where one of them carries more than it may. [A]"""

    start: str
    end: str
    current_a: float
    limit_a: float
    words: str
    fuse_a: float | None
    rows: tuple[Conductor, ...]
    over: bool = False


@dataclass(frozen=True)
class River:
    """Things and streams, sources first."""

    banks: tuple[Bank, ...]
    streams: tuple[Stream, ...]
    unfed: tuple[str, ...] = ()


@dataclass
class _Owners:
    """To which thing each terminal belongs."""

    build: Build
    of_piece: dict[str, str] = field(default_factory=dict)

    def __post_init__(self) -> None:
        for channel in self.build.channels:
            for ref in channel.slots:
                self.of_piece[ref.piece_id] = channel.driver_id
        build = self.build
        listed: tuple[tuple[Supply | Rail | Board, ...], ...] = (build.supplies, build.rails, build.boards)
        self._ids = {each.id for own in listed for each in own}
        self._rails = {rail.id for rail in build.rails}
        self._drivers = {driver.id for driver in self.build.drivers}
        self._pieces = {piece.id for piece in self.build.pieces}

    def of(self, end: End) -> str:
        """The key of what a terminal belongs to; empty where it is none of the river."""
        of = end.of or end.on
        while end.on == WORD and of.startswith("splice "):
            of = of.removeprefix("splice ").split("|")[0]
        if of.startswith(LOGIC_RAIL):
            return of.removeprefix(LOGIC_RAIL)
        if of.startswith(LAMP_RAIL):
            source_id = of.removeprefix(LAMP_RAIL).split(" ", 1)[1]
            return source_id if source_id in self._rails else of
        if of in self._ids:
            return of
        head = of.split("/")[0].split(" ")[0]
        if head in self._drivers:
            return head
        if head in self._pieces:
            return self.of_piece.get(head, head)
        return ""


def river_of(build: Build, wired: Wired, drive: DriveSolution) -> River:
    """The river of a build, everything lit.

    Args:
        build: the build.
        wired: its circuit, solved.
        drive: its drivers with everything lit.
    """
    owners = _Owners(build)
    together: dict[tuple[str, str], list[tuple[Conductor, float]]] = {}
    for row in wired.circuit.conductors:
        start, end = owners.of(row.start), owners.of(row.end)
        if row.role in FEEDING and not row.blocks and start and end and start != end and not row.key.endswith("/back"):
            flow_a = wired.lit.flow_a.get(row.key, 0.0)
            ends = (start, end) if flow_a >= 0 or row.fuse_a is not None else (end, start)
            together.setdefault(ends, []).append((row, abs(flow_a)))
    sources = {rail.id for rail in build.rails} | {board.id for board in build.boards}
    streams = [_stream(*ends, rows) for ends, rows in together.items()]
    lit = {driver.id for driver in build.drivers} | {piece.id for piece in build.pieces}
    streams = [each for each in streams if each.start not in lit and (each.current_a > LEAST_A or each.end in sources)]
    banks = tuple(_Banks(build, wired, drive, owners, streams).every())
    fed = {each.end for each in streams}
    on_cables = {board.id for board in build.boards if board.fed_by is None}
    unfed = (bank.key for bank in banks if bank.fields and bank.key not in fed | on_cables)
    return River(banks, tuple(streams), tuple(unfed))


def _stream(start: str, end: str, rows: list[tuple[Conductor, float]]) -> Stream:
    own = [row for row, _ in rows]
    gauges = dict.fromkeys(row.gauge for row in own if row.gauge)
    words = (f"{len(own)} × " if len(own) > 1 else "") + ", ".join(gauges)
    fuses = [row.fuse_a for row in own if row.fuse_a is not None]
    over = any(carries_a > row.limit_a * (1 + 1e-9) for row, carries_a in rows)
    return Stream(
        start, end, sum(carries_a for _, carries_a in rows), sum(row.limit_a for row in own), words,
        min(fuses, default=None), tuple(own), over,
    )  # fmt: skip


class _Banks:
    """The things of a river, in the order in which they feed each other."""

    def __init__(
        self, build: Build, wired: Wired, drive: DriveSolution, owners: _Owners, streams: Iterable[Stream]
    ) -> None:
        self._build, self._wired, self._owners = build, wired, owners
        self._hanging = Hanging(build, drive)
        self._streams = tuple(streams)
        self._used = {key for each in self._streams for key in (each.start, each.end)}

    def every(self) -> Iterator[Bank]:
        """All of them."""
        build = self._build
        yield from map(self._supply, build.supplies)
        yield from (self._meeting(key) for key in sorted(each for each in self._used if each.startswith(LAMP_RAIL)))
        yield from map(self._rail, build.rails)
        yield from map(self._board, build.boards)
        yield from (self._lamps(each) for each in build.drivers if build.channels_of[each.id] or each.id in self._used)
        yield from (self._piece(piece) for piece in build.pieces if piece.id not in self._owners.of_piece
                    and (piece.id in self._used or isinstance(piece, LampGroup)))  # fmt: skip

    def _supply(self, supply: Supply) -> Bank:
        part = supply_part(self._build, supply.id)
        idle_a, given_a = self._hanging.given_a(FedBy(id=supply.id))
        strips = self._wired.lit.strips
        given_a += strips.supplies[supply.id].current_a if strips is not None and supply.id in strips.supplies else 0.0
        plus, zero = (self._at_v(source_end(self._build, source_of_supply(supply), word)) for word in ("+", "0 V"))
        own_v = plus - zero if plus is not None and zero is not None else None
        return Bank(
            supply.id, "supply", supply.name, part.name, own_v, None, (), idle_a, given_a,
            allowed_share(supply) * part.rated_a, part.source == "mains",
        )  # fmt: skip

    def _meeting(self, key: str) -> Bank:
        asked_v, source_id = key.removeprefix(LAMP_RAIL).split(" ", 1)
        about = "where its wires meet" if source_id else "nothing here gives this"
        return Bank(
            key, "meeting" if source_id else "missing", f"{float(asked_v):g} V lamp rail", about, self._fed_v(key)
        )

    def _rail(self, rail: Rail) -> Bank:
        state = self._hanging.rails[rail.id]
        part = state.part
        about = "linear regulator"
        if part.sort != "linear":
            about = f"{part.sort.replace('_', '-')}, {part.efficiency:.0%}, ripples {part.ripple_v * 1000:g} mV"
        source = source_of(self._build, FedBy(id=rail.id))
        assert source is not None
        at_v = self._at_v(source_end(self._build, source, "+"))
        return Bank(
            rail.id,
            "rail",
            rail.name,
            about,
            at_v,
            rail.fed_by,
            ("fed_by",),
            state.idle_a,
            state.worst_a,
            part.most_a,
            rows=tuple(row for row in self._wired.circuit.conductors if self._inside(row, rail.id)),
        )

    def _inside(self, row: Conductor, key: str) -> bool:
        ends = {self._owners.of(row.start), self._owners.of(row.end)}
        return row.role == "lamp supply" and ends == {key}

    def _board(self, board: Board) -> Bank:
        part = self._build.shelf.find(BoardPart, board.part_id)
        idle_a, given_a = self._hanging.board_a(board)
        on_cable = board.fed_by is None
        about = f"itself {amps(part.idle_a)}{', on its cable' if on_cable else ''}"
        return Bank(
            board.id, "board", board.name, about, self._at_v(supply_end(board)), board.fed_by, ("fed_by",), idle_a,
            given_a, part.cable_a if on_cable else None,
        )  # fmt: skip

    def _lamps(self, driver: Driver) -> Bank:
        channels = self._build.channels_of[driver.id]
        count = sum(len(channel.slots) for channel in channels)
        about = f"{count} lamp{'s' if count > 1 else ''}, {driver.lamps_at()}"
        fields = tuple(wanted_v(self._build, driver))
        at_v = self._fed_v(driver.id) if driver.lamps_on else None
        return Bank(driver.id, "lamps", driver.name, about, at_v, driver.lamps_fed_by, fields)

    def _piece(self, piece: Piece) -> Bank:
        strips = self._wired.lit.strips
        about = f"{piece.slot_count} lights"
        if strips is not None and piece.id in strips.runs:
            lowest_v = float(strips.runs[piece.id].pixel_v.min())
            return Bank(piece.id, "strip", piece.name, f"{about}, the lowest", lowest_v)
        fed_by = piece.fed_by if isinstance(piece, LampGroup) else None
        return Bank(piece.id, "piece", piece.name, about, self._fed_v(piece.id), fed_by, ("fed_by",))

    def _fed_v(self, key: str) -> float | None:
        """The voltage at the end of the largest stream that arrives at a thing. [V]"""
        arriving = [each for each in self._streams if each.end == key]
        if not arriving:
            return None
        row = max(arriving, key=lambda each: each.current_a).rows[0]
        return self._at_v(row.end if self._owners.of(row.end) == key else row.start)

    def _at_v(self, end: End) -> float | None:
        """The voltage of a terminal above where the returns meet, in the first turn. [V]"""
        solution, node = self._wired.lit.first, self._wired.circuit.node(end)
        return 0.0 if node == solution.netlist.ground else solution.node_v.get(node)


def river_task(build: Build, progress: Callable[[float], None], cancelled: Callable[[], bool]) -> River | None:
    """The river of a build, as work in the background; None of a build whose circuit has no solution.

    Args:
        build: the build.
        progress: told how far it is. [-]
        cancelled: asked whether to stop.
    """
    try:
        return river_of(build, wired(build), wired_drive(build))
    except NotSolvedError:
        return None
