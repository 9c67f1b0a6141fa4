"""The one circuit of a build: every conductor, and what they join."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cached_property

from tiny_lantern.circuit.conductor import FEEDS, GROUPS, Conductor, End
from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.conducting import Conducting
from tiny_lantern.circuit.elements.diodes import Diode
from tiny_lantern.circuit.elements.loads import Load
from tiny_lantern.circuit.fitted import Fitted, Same, Still
from tiny_lantern.circuit.netlist import Netlist
from tiny_lantern.circuit.plugs import through_plugs
from tiny_lantern.circuit.splices import with_splices
from tiny_lantern.circuit.told_apart import told_apart
from tiny_lantern.circuit.wires.boards import board_wires, knob_wires
from tiny_lantern.circuit.wires.data import chain_wires, data_wires, loose_wires
from tiny_lantern.circuit.wires.hookup import Hookup, Wired
from tiny_lantern.circuit.wires.inputs.registry import input_wires
from tiny_lantern.circuit.wires.rails import fed_rails, rail_wires, source_end, zero_rail
from tiny_lantern.circuit.wires.registry import wiring_of
from tiny_lantern.circuit.wires.strips import feed_wires
from tiny_lantern.circuit.wires.supplies import supply_wires
from tiny_lantern.electrical.copper import solid_ohm_per_m
from tiny_lantern.model.board_places import home_of
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Board
from tiny_lantern.model.layout import slot_places
from tiny_lantern.model.quantities import awg_area_mm2
from tiny_lantern.model.sources import source_of_supply

DIODE_OHM, THIN_AWG, STRIPS = 0.05, 24, "strips on "
QUIET_OHM = 1e10  # no meter is on it: as little as keeps floating nodes where they are


@dataclass(frozen=True, eq=False)
class Circuit:
    """The conductors of a build, in the order of the hands, and its parts; ``same`` are terminals that are one inside a
    part, ``ground`` is the one that volts are against: the rail of returns, or the first supply's zero where nothing
    hangs on that."""

    conductors: tuple[Conductor, ...]
    fitted: tuple[Fitted, ...]
    same: tuple[Same, ...]
    ground: End

    def netlist(
        self, still: Still, wires: float = 1.0, leak_ohm: float = QUIET_OHM, strips_a: Mapping[str, float] | None = None
    ) -> Netlist:
        """The circuit in a still state; the conductors' elements come first.

        Args:
            still: which outputs are lit.
            wires: which share of their resistance wires have; what lies in them has all of it. [-]
            leak_ohm: from each node to ground. [ohm]
            strips_a: what strips draw at the terminals of each supply, by its id. [A]
        """
        nodes, elements = self._wired(wires)
        fitted = [element for part in self.fitted for element in part.law(still, nodes.of)]
        strips = [_strips(part, amps, nodes) for part in self.fitted if (amps := (strips_a or {}).get(part.name))]
        return Netlist((*elements, *fitted, *strips), nodes.of(self.ground), leak_ohm)

    def node(self, end: End) -> str:
        """The node of a terminal in its netlists with wires as they are.

        Args:
            end: the terminal.
        """
        return self._wired(1.0)[0].of(end)

    def _wired(self, wires: float) -> tuple[_Nodes, list[Element]]:
        if wires not in self._known:
            nodes = _Nodes(self, wires)
            found = [element for row in self.conductors for element in _element(row, nodes, wires)]
            self._known[wires] = nodes, found
        return self._known[wires]

    @cached_property
    def _known(self) -> dict[float, tuple[_Nodes, list[Element]]]:
        return {}


def _strips(supply: Fitted, amps: float, nodes: _Nodes) -> Load:
    """What strips draw at a supply's terminals."""
    plus, zero = supply.ends
    return Load(f"{STRIPS}{supply.name}", nodes.of(plus), nodes.of(zero), amps)


def _ohm(conductor: Conductor, wires: float) -> float:
    return conductor.in_line_ohm + wires * conductor.wire_ohm


def _element(conductor: Conductor, nodes: _Nodes, wires: float) -> list[Element]:
    """A conductor as an element; none where it lets nothing through, or joins its ends without any resistance."""
    ohm, drop_v = _ohm(conductor, wires), conductor.drop_v
    start, end = nodes.of(conductor.start), nodes.of(conductor.end)
    if conductor.licensed or conductor.blocks:
        return []
    if drop_v is not None:
        return [Diode(conductor.key, start, end, drop_v, ohm or DIODE_OHM)]
    return [Conducting(conductor.key, start, end, ohm, conductor.what)] if ohm else []


class _Nodes:
    """The node of each terminal, those in one where nothing lies between."""

    def __init__(self, circuit: Circuit, wires: float) -> None:
        self._root: dict[str, str] = {}
        self._of: dict[str, str] = {}
        for conductor in circuit.conductors:
            joins = not (conductor.licensed or conductor.blocks) and conductor.drop_v is None
            if joins and not _ohm(conductor, wires):
                self._join(conductor.start, conductor.end)
        for same in circuit.same:
            self._join(same.one, same.other)

    def of(self, end: End) -> str:
        """The node of a terminal."""
        node = end.node
        found = self._of.get(node)
        if found is None:
            found = self._of[node] = self._find(node)
        return found

    def _find(self, node: str) -> str:
        while (root := self._root.get(node, node)) != node:
            node = root
        return node

    def _join(self, one: End, other: End) -> None:
        a, b = self._find(one.node), self._find(other.node)
        if a != b:
            self._root[b] = a


def compile_circuit(build: Build) -> Circuit:
    """The circuit of a build.

    Args:
        build: the build.
    """
    found: list[Wired] = list(_everything(build))
    rows = [each for each in found if isinstance(each, Conductor)]
    more = list(rail_wires(build, fed_rails(build, (end for row in rows for end in (row.start, row.end)))))
    found += more
    rows += [each for each in more if isinstance(each, Conductor)]
    on_zero_rail = any(end == zero_rail() for row in rows for end in (row.start, row.end))
    found += supply_wires(build, on_zero_rail)
    return Circuit(
        _finished(build, [each for each in found if isinstance(each, Conductor)]),
        tuple(_once(each for each in found if isinstance(each, Fitted))),
        tuple(each for each in found if isinstance(each, Same)),
        _ground(build, on_zero_rail),
    )


def _ground(build: Build, on_zero_rail: bool) -> End:
    if on_zero_rail or not build.supplies:
        return zero_rail()
    return source_end(build, source_of_supply(build.supplies[0]), "0 V")


def _everything(build: Build) -> Iterator[Wired]:
    yield from feed_wires(build)
    for driver in build.drivers:
        hookup = Hookup(build, driver)
        yield from wiring_of(driver)(hookup)
        yield from knob_wires(hookup)
    yield from board_wires(build)
    yield from input_wires(build)
    yield from data_wires(build)
    yield from loose_wires(build)
    yield from chain_wires(build)


def _once(parts: Iterable[Fitted]) -> Iterator[Fitted]:
    seen: set[str] = set()
    for part in parts:
        if part.name not in seen:
            seen.add(part.name)
            yield part


def _finished(build: Build, rows: list[Conductor]) -> tuple[Conductor, ...]:
    """Each once, in the order of the hands, numbered, with its colour, its length, its passage and its resistance."""
    each_once: dict[str, Conductor] = {}
    for row in rows:
        each_once.setdefault(row.key, row)
    by_hand = sorted(each_once.values(), key=lambda row: GROUPS.index(row.group))
    ordered = sorted(with_splices(through_plugs(build, by_hand)), key=lambda row: GROUPS.index(row.group))
    return tuple(_cut(build, row, number) for number, row in enumerate(told_apart(ordered), 1))


def _cut(build: Build, row: Conductor, number: int) -> Conductor:
    colour, label = _colour(build, row), f"{number} / {row.start.on}"
    if row.group == FEEDS:
        return replace(row, colour=colour, cut_m=round(row.cut_m, 3), label=label).with_wire(0.0)
    cut_m, passage = row.cut_m, row.passage
    if row.hop_m is not None:
        cut_m = row.hop_m
    elif row.slot is not None:
        cut_m, passage = _way_to(build, _board_of(build, row), row.slot)
    cut_m = round(math.ceil((cut_m + build.wiring.allowance_m) * 200) / 200, 3)
    return replace(row, colour=colour, cut_m=cut_m, passage=passage, label=label).with_wire(thin_ohm_per_m())


def _colour(build: Build, row: Conductor) -> str:
    """The colour of a wire: that of its role, of a lamp's own wires what the build colours those by."""
    if row.role != "lamps" or row.slot is None:
        return build.wiring.colour_of(row.role)
    return build.wiring.lamp_colour(row.die, build.line.ref_at(row.slot).index)


def thin_ohm_per_m() -> float:
    """Resistance of the thin wire that everything but feeds is wired with. [ohm/m]"""
    return solid_ohm_per_m(awg_area_mm2(THIN_AWG))


def _board_of(build: Build, row: Conductor) -> Board | None:
    """The board from which a wire comes: its driver's, the one that it begins at, else the first."""
    owner = next((driver.board_id for driver in build.drivers if driver.id == row.driver_id), row.start.of)
    return next((board for board in build.boards if board.id == owner), next(iter(build.boards), None))


def _way_to(build: Build, board: Board | None, slot: int) -> tuple[float, str]:
    """How far a lamp is from where the board is, by the passage of the least detour where there are any. [m]"""
    ref = build.line.ref_at(slot)
    x, y = slot_places(build.line.piece(ref.piece_id))[ref.index]
    home = home_of(build, board)
    ways = [
        (math.dist(home, (hole.x_m, hole.y_m)) + math.dist((hole.x_m, hole.y_m), (x, y)), hole.name)
        for hole in build.passages
    ]
    return min(ways, default=(math.dist(home, (x, y)), ""))
