"""What each copper carries while a short stands."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.network import Network
from tiny_lantern.electrical.shorts.circuit import Circuit
from tiny_lantern.electrical.shorts.coppers import Coppers
from tiny_lantern.electrical.shorts.flow import Flow
from tiny_lantern.electrical.shorts.sides import Places, Side
from tiny_lantern.model.build import Build

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
ALIKE = 1e-6


@dataclass(frozen=True)
class SideFlow:
    """Currents on one side at n places of a short: in each stretch of rail followed, (n, n_stretches), the same on
    the far side of the short where it divides the stretch, and in each link followed, (n, n_links). Positive from the
    lower to the higher node. ``stretches`` and ``links`` are their numbers. [A]"""

    stretches: Ints
    before_a: Floats
    after_a: Floats
    links: Ints
    link_a: Floats


@dataclass(frozen=True)
class Loads:
    """The largest current in each copper that the short can load: places in the order of coppers, (n_coppers,), and
    currents, (n_places, n_coppers). [A]"""

    coppers: Ints
    current_a: Floats
    sides: tuple[SideFlow, SideFlow]


def loads_of(build: Build, coppers: Coppers, circuit: Circuit, flow: Flow, at: Ints) -> Loads:
    """What flows in every copper that a short at some places of a circuit can load.

    Args:
        build: the build.
        coppers: its coppers.
        circuit: the piece of copper.
        flow: what flows at the places.
        at: numbers of the places, (n_places,). [-]
    """
    sides = (_positive_flow(circuit, flow, at), _return_flow(circuit, flow, at))
    names, columns = [], []
    out = np.abs(np.concatenate([flow.own_a, flow.far_a], axis=1))
    for offset in (0, 1):
        names.append(4 * circuit.columns + offset)
        columns.append(out)
    for offset in (2, 3):
        names.append(4 * circuit.back + offset)
        columns.append(np.abs(flow.back_a))
    for which, (side, found) in enumerate(zip((circuit.pos, circuit.neg), sides, strict=True)):
        runs = side.stretches[found.stretches, 0]
        larger = np.maximum(np.abs(found.before_a), np.abs(found.after_a))
        names.append(coppers.first_run + 2 * np.unique(runs) + which)
        columns.append(_largest_by(runs, larger))
        copper = link_coppers(build, coppers, which)[found.links]
        names.append(np.unique(copper))
        columns.append(_largest_by(copper, np.abs(found.link_a)))
    return Loads(np.concatenate(names), np.concatenate(columns, axis=1), sides)


def link_coppers(build: Build, coppers: Coppers, which: int) -> Ints:
    """The copper that each link of a side belongs to: joints, then each bus's conductor and taps. (n_links,)"""
    found = [coppers.first_joint + 2 * number + which for number in range(len(build.joints))]
    for number, bus in enumerate(build.buses):
        found += [coppers.first_bus + 2 * number + which] * (len(bus.tap_pixels) + 1)
        found += [coppers.first_tap + 2 * number + which] * len(bus.tap_pixels)
    return np.array(found, np.int64)


def _largest_by(names: Ints, values: Floats) -> Floats:
    """The largest of the columns that share a name, names rising. (n_rows, n_names)"""
    if not len(names):
        return np.zeros((len(values), 0))
    order = np.argsort(names, kind="stable")
    _, starts = np.unique(names[order], return_index=True)
    return np.maximum.reduceat(values[:, order], starts, axis=1)


def _positive_flow(circuit: Circuit, flow: Flow, at: Ints) -> SideFlow:
    side = circuit.pos
    found = [_piece_flow(side, circuit.piece, circuit.own, flow.own_a, _rows(circuit.places, at), flow.short_a)]
    pieces = side.piece[side.taps[circuit.far]]
    for piece in np.unique(pieces):
        members = np.flatnonzero(pieces == piece)
        found.append(_piece_flow(side, int(piece), circuit.far[members], flow.far_a[:, members], None, flow.short_a))
    return _joined(found)


def _return_flow(circuit: Circuit, flow: Flow, at: Ints) -> SideFlow:
    places = _rows(circuit.neg_places, at)
    return _piece_flow(circuit.neg, circuit.neg_piece, circuit.back, -flow.back_a, places, -flow.short_a)


def _piece_flow(
    side: Side, piece: int, feeds: Ints, into_a: Floats, places: Places | None, drawn_a: Floats
) -> SideFlow:
    """Currents in one piece with so much put in at feeds and so much drawn at the place of the short."""
    ohms = side.ohms[piece]
    v = into_a @ ohms[side.local[side.taps[feeds]]]
    if places is not None:
        left, right, share = ohms[side.local[places.left]], ohms[side.local[places.right]], places.share[:, None]
        v = v - drawn_a[:, None] * ((1 - share) * left + share * right)
    stretches = np.flatnonzero(side.piece[side.stretches[:, 3]] == piece)
    links = np.flatnonzero(side.piece[side.links[:, 0]] == piece)
    ends = side.local[side.stretches[stretches, 3:5]]
    before = (v[:, ends[:, 0]] - v[:, ends[:, 1]]) / side.stretch_ohm[stretches]
    after = before.copy()
    if places is not None:
        row = np.flatnonzero(places.stretch >= 0)
        column = np.searchsorted(stretches, places.stretch[row])
        before[row, column] += (1 - places.share[row]) * drawn_a[row]
        after[row, column] -= places.share[row] * drawn_a[row]
    ends = side.local[side.links[links]]
    link_a = (v[:, ends[:, 0]] - v[:, ends[:, 1]]) / side.link_ohm[links]
    return SideFlow(stretches, before, after, links, link_a)


def _rows(places: Places, at: Ints) -> Places:
    return Places(*(value[at] for value in vars(places).values()))


def _joined(found: list[SideFlow]) -> SideFlow:
    return SideFlow(
        np.concatenate([each.stretches for each in found]),
        np.concatenate([each.before_a for each in found], axis=1),
        np.concatenate([each.after_a for each in found], axis=1),
        np.concatenate([each.links for each in found]),
        np.concatenate([each.link_a for each in found], axis=1),
    )


@dataclass(frozen=True)
class RailPeak:
    """The largest current in a rail, the two nodes of the first element that carries it, and the two ends of the
    stretch in which it goes on unbroken. [A]"""

    current_a: float
    between: tuple[int, int] | None
    stretch: tuple[int, int] | None


NO_PEAK = RailPeak(0.0, None, None)


def peak_of(currents: Floats) -> RailPeak:
    """The peak of a rail's elements in order, (n_elements,). [A]

    Args:
        currents: of each element at each place, (n_elements, n_places). [A]
    """
    size = np.abs(currents)
    largest = float(size.max(initial=0.0))
    if largest <= NOTHING_A:
        return NO_PEAK
    first = int(np.flatnonzero(size >= largest * (1 - ALIKE))[0])
    alike = np.abs(currents - currents[first]) <= ALIKE * largest
    start, stop = first, first + 1
    while start > 0 and alike[start - 1]:
        start -= 1
    while stop < len(currents) and alike[stop]:
        stop += 1
    return RailPeak(largest, (first, first + 1), (start, stop))


NOTHING_A = 1e-9


def rail_elements(network: Network, circuit: Circuit, loads: Loads, which: int, run: int, at: int, row: int) -> Floats:
    """Current in each element of a run's rail, from start to end, for one place. (n_pixels + 1,) [A]

    Args:
        network: the network.
        circuit: the piece of copper.
        loads: what flows.
        which: 0 for the positive rail, 1 for the return rail.
        run: number of the run.
        at: number of the place in the circuit.
        row: its row in the loads.
    """
    side, flow = (circuit.pos, circuit.neg)[which], loads.sides[which]
    found = np.zeros(network.runs[run].strip.pixel_count + 1)
    divided = int((circuit.places, circuit.neg_places)[which].stretch[at])
    for column in np.flatnonzero(side.stretches[flow.stretches, 0] == run):
        stretch = int(flow.stretches[column])
        first, stop = side.stretches[stretch, 1:3]
        found[first:stop] = flow.before_a[row, column]
        if stretch == divided:
            found[circuit.nodes[at] : stop] = flow.after_a[row, column]
    return found


def bus_elements(build: Build, side: Side, flow: SideFlow, number: int, row: int) -> tuple[Floats, Floats]:
    """Current in each element of a bus conductor, (n_taps + 1,), and in each of its taps, (n_taps,). [A]

    Args:
        build: the build.
        side: the side.
        flow: what flows on it.
        number: number of the bus.
        row: row of the place.
    """
    counts = [2 * len(bus.tap_pixels) + 1 for bus in build.buses]
    edges = list(pairwise([len(build.joints), *(len(build.joints) + np.cumsum(counts)).tolist()]))
    first, stop = edges[number]
    whole = np.zeros(stop - first)
    inside = (flow.links >= first) & (flow.links < stop)
    whole[flow.links[inside] - first] = flow.link_a[row, inside]
    taps = len(build.buses[number].tap_pixels)
    return whole[: taps + 1], whole[taps + 1 :]
