"""What to buy: the parts that a build names, and everything that lies in the rows of its wiring list."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterator

from tiny_lantern.catalogue.shelf import all_parts
from tiny_lantern.circuit.conductor import FEEDS, Conductor, InLine
from tiny_lantern.circuit.drive import whole_circuit
from tiny_lantern.circuit.splices import SPLICE
from tiny_lantern.circuit.wires.ties import TIE_BOARD
from tiny_lantern.model.bill import RESISTOR_COST, SLACK, bill_of, resistor_id
from tiny_lantern.model.build import Build
from tiny_lantern.model.parts.connector import ConnectorPart
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.part import BillLine
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.model.quantities import engineering

CAPACITOR_COST, DIODE_COST, SPLICE_COST, HOLDER_COST, DRIVER_COST = 0.05, 0.1, 0.3, 0.6, 0.9
BOARD_COST = 1.5


def whole_bill(build: Build) -> tuple[BillLine, ...]:
    """The bill of a build: what it names, then resistors, capacitors, diodes, fuses and wire as the rows of its wiring
    list have them; wire with a tenth to spare, by gauge, its colours named.

    Args:
        build: the build.
    """
    rows = whole_circuit(build).conductors
    named = [line for line in bill_of(build) if not line.part_id.startswith("resistor-")]
    wires = {line.part_id: line for line in _wires(build, rows)}
    return (
        *(_with_more(line, wires.pop(line.part_id, None)) for line in named),
        *_resistors(rows), *_small(build, rows), *_plugs(build), *_fuses(build, rows), *wires.values(),
    )  # fmt: skip


def _with_more(line: BillLine, more: BillLine | None) -> BillLine:
    if more is None:
        return line
    cost = line.cost + more.cost
    return BillLine(round(line.amount + more.amount, 1), line.unit, more.name, cost, line.part_id)


def _in_line(rows: tuple[Conductor, ...]) -> Iterator[InLine]:
    yield from (each for row in rows if not row.licensed for each in row.in_line)


def _resistors(rows: tuple[Conductor, ...]) -> Iterator[BillLine]:
    """Every resistor by its value: of lamps, bases, gates, columns, pulls, and those that set a current."""
    counts = Counter(each.ohm for each in _in_line(rows) if each.is_resistor)
    for ohm, count in sorted(counts.items()):
        name = f"Resistor {engineering(ohm, 'ohm')}"
        yield BillLine(count, "", name, RESISTOR_COST * count, resistor_id(ohm))


def _small(build: Build, rows: tuple[Conductor, ...]) -> Iterator[BillLine]:
    """Capacitors beside chips, diodes in line, splices, boards that wires are tied on, gate drivers."""
    capacitors = sum(each.blocks for each in _in_line(rows))
    diodes = sum(each.drop_v is not None for each in _in_line(rows))
    splices = sum(row.key.startswith(SPLICE) for row in rows)
    boards = len({row.end.node for row in rows if row.end.on.endswith(TIE_BOARD)})
    drivers = sum(len(build.channels_of[each.id]) for each in build.drivers if getattr(each, "has_driver", False))
    for count, name, cost, identity in (
        (capacitors, "Capacitor 100 nF", CAPACITOR_COST, "capacitor-100n"),
        (diodes, "Diode, 1 A", DIODE_COST, "diode-1a"),
        (splices, "Splice, soldered or clamped", SPLICE_COST, "splice"),
        (boards, "Board of rails that wires are tied on", BOARD_COST, "tie-board"),
        (drivers, "Gate driver", DRIVER_COST, "gate-driver"),
    ):
        if count:
            yield BillLine(count, "", name, cost * count, identity)


def _plugs(build: Build) -> Iterator[BillLine]:
    """The connectors between halves."""
    for part_id, count in Counter(plug.part_id for plug in build.plugs).items():
        part = build.shelf.find(ConnectorPart, part_id)
        yield BillLine(count, "", part.name, part.cost * count, part.id)


def _fuses(build: Build, rows: tuple[Conductor, ...]) -> Iterator[BillLine]:
    """The fuses that are no feed's, and a holder for each fuse of the build."""
    by_name = {fuse.name: fuse for fuse in all_parts(build).of(FusePart)}
    counts = Counter(
        each.words for row in rows if row.group != FEEDS for each in row.in_line if each.fuse_a is not None
    )
    for name, count in sorted(counts.items()):
        fuse = by_name[name]
        yield BillLine(count, "", name, fuse.cost * count, fuse.id)
    holders = sum(counts.values()) + sum(feed.fuse_id is not None for feed in build.feeds)
    if holders:
        yield BillLine(holders, "", "Fuse holder", HOLDER_COST * holders, "fuse-holder")


def _wires(build: Build, rows: tuple[Conductor, ...]) -> Iterator[BillLine]:
    """The wire of what is no feed, a line a gauge, with how much of each colour."""
    lengths: defaultdict[str, Counter[str]] = defaultdict(Counter)
    for row in rows:
        if row.group != FEEDS and not row.licensed:
            lengths[row.gauge][row.colour] += row.cut_m * SLACK  # type: ignore[assignment]
    by_name = {wire.name: wire for wire in all_parts(build).of(WirePart)}
    for gauge, colours in lengths.items():
        told = ", ".join(f"{length_m:.1f} m {colour}" for colour, length_m in sorted(colours.items()))
        wire, length_m = by_name[gauge], sum(colours.values())
        yield BillLine(round(length_m, 1), "m", f"Wire, {gauge}: {told}", length_m * wire.cost_per_m, wire.id)
