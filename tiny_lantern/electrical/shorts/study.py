"""Shorts of a build: one followed step by step, or every place swept at once."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.memo import memoised_on
from tiny_lantern.electrical.network import Network, network_of, supply_part
from tiny_lantern.electrical.ohms import fuse_of
from tiny_lantern.electrical.shorts.circuit import Circuit, Wires
from tiny_lantern.electrical.shorts.coppers import Copper, Coppers, coppers_of
from tiny_lantern.electrical.shorts.flow import Flow
from tiny_lantern.electrical.shorts.loads import (
    NO_PEAK,
    Loads,
    RailPeak,
    bus_elements,
    loads_of,
    peak_of,
    rail_elements,
)
from tiny_lantern.electrical.shorts.sequence import Course, Event, FuseOpens, course_of
from tiny_lantern.electrical.shorts.sides import Side, sides_of
from tiny_lantern.electrical.shorts.sources import Answer, Source, alike_rows
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import CancelledError

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
STANDING_A = 1e-6
STANDING, SHUT_DOWN, NO_CURRENT = "standing", "supply shuts down", "no current"
DANGER, WEAK_SPOT, CLEARED = "danger", "weak spot", "cleared"
CHUNK = 4096


@dataclass(frozen=True)
class Ground:
    """What shorts on a build are worked out from: its network, both sides of its copper, feeds, supplies, coppers."""

    build: Build
    network: Network
    sides: tuple[Side, Side]
    wires: Wires
    sources: tuple[Source, ...]
    coppers: Coppers

    def circuit(self, run: int, nodes: Ints, ohm: float = 0.0) -> Circuit:
        """The circuit of places on one run that lie in one piece of positive copper.

        Args:
            run: number of the run. [-]
            nodes: its rail nodes, (n_places,). [-]
            ohm: resistance of the short. [ohm]
        """
        run_of = np.full(len(nodes), run)
        piece = int(self.sides[0].piece[self.sides[0].places(run, nodes[:1]).left[0]])
        return Circuit(self.sides, self.wires, self.sources, piece, run_of, nodes, ohm)


@dataclass(frozen=True)
class Instant:
    """One instant of a short, over the whole build: feeds' currents out and back (n_feeds,), supplies' currents and
    terminals (n_supplies,) with NaN where one floats, their answers, and the short itself. [A] [V]"""

    out_a: Floats
    back_a: Floats
    supply_a: Floats
    terminal_v: Floats
    answers: tuple[Answer, ...]
    short_a: float
    short_pos_v: float
    short_neg_v: float


@dataclass(frozen=True)
class Overload:
    """A copper over its limit: what flows and what may, and the stretch of rail between two nodes, or the tap's
    pixel."""

    copper: Copper
    current_a: float
    limit_a: float
    where: tuple[int, ...] | None


@dataclass(frozen=True)
class BusPeak:
    """The largest currents of a bus: each conductor with its place, and each side's taps with theirs. [A]"""

    conductors: tuple[RailPeak, RailPeak]
    taps_a: tuple[float, float]
    tap_at: tuple[int, int]


@dataclass(frozen=True)
class ShortCourse:
    """A short at one place from its first instant to its end."""

    first: Instant
    events: tuple[Event, ...]
    after: tuple[Instant, ...]
    how: str
    severity: str
    rails: tuple[tuple[RailPeak, RailPeak], ...]
    joints_a: tuple[tuple[float, float], ...]
    buses: tuple[BusPeak, ...]
    over: tuple[Overload, ...]

    @property
    def end(self) -> Instant:
        """The last instant."""
        return self.after[-1] if self.after else self.first

    @property
    def opened(self) -> tuple[int, ...]:
        """Feeds whose fuses opened, in order."""
        return tuple(event.feed for event in self.events if isinstance(event, FuseOpens))

    @property
    def shut_down(self) -> tuple[int, ...]:
        """Supplies that shut down, in order."""
        return tuple(n for event in self.events if not isinstance(event, FuseOpens) for n in event.supplies)


@memoised_on("strips", "joints", "buses", "supplies", "feeds", "parts")
def ground_of(build: Build) -> Ground:
    """What shorts on a build are worked out from."""
    network = network_of(build)
    fuses = [fuse_of(build, feed) for feed in build.feeds]
    sides = sides_of(build, network)
    wires = Wires(
        np.array([feed.supply for feed in network.feeds], np.int64),
        np.array([feed.pos_ohm for feed in network.feeds], float),
        np.array([feed.neg_ohm for feed in network.feeds], float),
        np.array([fuse.rating_a if fuse else np.inf for fuse in fuses], float),
        sides[0].piece[sides[0].taps],
    )
    parts = [supply_part(build, supply.id) for supply in build.supplies]
    sources = tuple(
        Source(end.open_v, end.output_ohm, part.fault_kind, part.fault_a, end.sinks)
        for end, part in zip(network.supplies, parts, strict=True)
    )
    return Ground(build, network, sides, wires, sources, coppers_of(build, network))


def short_at(build: Build, strip_id: str, node: int, ohm: float = 0.0, fuses_first: bool = False) -> ShortCourse:
    """Follow a short between the rails at one place.

    Args:
        build: the build.
        strip_id: the strip.
        node: rail node on it, 0 start .. N + 1 end. [-]
        ohm: resistance of the short. [ohm]
        fuses_first: let supplies stop only when no fuse is left that would open.
    """
    ground = ground_of(build)
    run = next(number for number, run in enumerate(ground.network.runs) if run.strip.id == strip_id)
    circuit = ground.circuit(run, np.array([node]), ohm)
    here = np.array([0])
    course = course_of(circuit, here, fuses_first)
    instants = [_instant(ground, circuit, flow) for flow in course.steps]
    loads = loads_of(build, ground.coppers, circuit, course.flow, here)
    how = _how(circuit, course)[0]
    rails = _rail_peaks(ground, circuit, loads)
    buses = tuple(_bus_peak(ground, circuit, loads, number) for number in range(len(build.buses)))
    joints = _joints(ground, circuit, loads)
    over = _overloads(ground, loads, rails, buses)
    severity = _severities(np.array([how]), np.array([bool(over)]))[0]
    return ShortCourse(
        instants[0], tuple(course.events), tuple(instants[1:]), how, severity, rails, joints, buses, over
    )  # fmt: skip


@dataclass(frozen=True)
class Sweep:
    """A short at every rail node, run after run in the network's order: run and node of each place, how it ended, how
    bad that is, the current left in it, and the worst loaded copper with its current and limit (-1 for none). Each
    (n_places,). [A]"""

    run: Ints
    node: Ints
    how: NDArray[np.str_]
    severity: NDArray[np.str_]
    short_a: Floats
    copper: Ints
    current_a: Floats
    limit_a: Floats
    coppers: Coppers
    network: Network


@memoised_on("strips", "joints", "buses", "supplies", "feeds", "parts", keep=2)
def sweep_of(build: Build, *, cancelled: Callable[[], bool] = lambda: False) -> Sweep:
    """A short at every rail node of a build, one at a time.

    Args:
        build: the build.
        cancelled: asked between pieces of copper whether to stop.

    Raises:
        CancelledError: asked to stop.
    """
    ground = ground_of(build)
    runs = ground.network.runs
    run_of = np.repeat(np.arange(len(runs)), [run.strip.pixel_count + 2 for run in runs])
    nodes = np.concatenate([np.arange(run.strip.pixel_count + 2) for run in runs]) if runs else np.zeros(0, np.int64)
    piece = _pieces_of(ground, run_of, nodes)
    order = np.argsort(piece, kind="stable")
    edges = np.flatnonzero(np.diff(piece[order])) + 1
    found: list[tuple[Ints, tuple[Any, ...]]] = []
    alike: dict[tuple[Any, ...], tuple[Any, ...]] = {}
    for members in np.split(order, edges) if len(order) else []:
        for first in range(0, len(members), CHUNK):
            if cancelled():
                raise CancelledError
            chunk = members[first : first + CHUNK]
            found.append((chunk, _swept(ground, int(piece[chunk[0]]), run_of[chunk], nodes[chunk], alike)))
    return _sweep(ground, run_of, nodes, found)


def _pieces_of(ground: Ground, run_of: Ints, nodes: Ints) -> Ints:
    side = ground.sides[0]
    found = np.empty(len(nodes), np.int64)
    first = 0
    for run in range(len(ground.network.runs)):
        stop = first + ground.network.runs[run].strip.pixel_count + 2
        found[first:stop] = side.piece[side.places(run, nodes[first:stop]).left]
        first = stop
    return found


def _swept(
    ground: Ground, piece: int, run_of: Ints, nodes: Ints, known: dict[tuple[Any, ...], tuple[Any, ...]]
) -> tuple[Any, ...]:  # fmt: skip
    """How shorts at some places of one piece end, and what they load most; pieces that are alike are worked out once.

    Args:
        ground: what shorts are worked out from.
        piece: number of the piece.
        run_of: of each place its run, (n_places,). [-]
        nodes: of each place its rail node, (n_places,). [-]
        known: results of pieces before, by their likeness and the limits of what they load.
    """
    circuit = Circuit(ground.sides, ground.wires, ground.sources, piece, run_of, nodes)
    coppers = np.concatenate(
        [
            (4 * np.unique(np.concatenate([circuit.own, circuit.back]))[:, None] + np.arange(4)).ravel(),
            ground.coppers.first_run + (2 * np.unique(run_of)[:, None] + np.arange(2)).ravel(),
        ]
    )
    simple = circuit.likeness is not None and not (ground.build.joints or ground.build.buses)
    likeness = (*(circuit.likeness or ()), ground.coppers.limit_a[coppers].tobytes()) if simple else ()
    if likeness in known:
        *figures, place = known[likeness]
        return (*figures[:3], np.where(place < 0, -1, coppers[place]), *figures[3:])
    swept = _worked_out(ground, circuit)
    if simple:
        how, severity, short, copper, current, limit = swept
        place = np.where(copper < 0, -1, np.searchsorted(coppers, copper))
        known[likeness] = (how, severity, short, current, limit, place)
    return swept


def _worked_out(ground: Ground, circuit: Circuit) -> tuple[Any, ...]:
    at = np.arange(len(circuit.nodes))
    course = course_of(circuit, at)
    loads = loads_of(ground.build, ground.coppers, circuit, course.flow, at)
    how = _how(circuit, course)
    ratio = loads.current_a / ground.coppers.limit_a[loads.coppers]
    worst = ratio.argmax(axis=1)
    rows = at
    over = ratio[rows, worst] > 1
    copper = np.where(over, loads.coppers[worst], -1)
    severity = _severities(how, over)
    limit = ground.coppers.limit_a[loads.coppers[worst]]
    return how, severity, course.flow.short_a, copper, loads.current_a[rows, worst], limit


def _sweep(ground: Ground, run_of: Ints, nodes: Ints, found: list[tuple[Ints, tuple[Any, ...]]]) -> Sweep:
    count = len(nodes)
    how, severity = np.full(count, NO_CURRENT), np.full(count, CLEARED, dtype="<U10")
    how = how.astype("<U20")
    short, current, limit = np.zeros(count), np.zeros(count), np.zeros(count)
    copper = np.full(count, -1)
    for members, values in found:
        for into, value in zip((how, severity, short, copper, current, limit), values, strict=True):
            into[members] = value
    return Sweep(run_of, nodes, how, severity, short, copper, current, limit, ground.coppers, ground.network)


def _how(circuit: Circuit, course: Course) -> NDArray[np.str_]:
    """How the short at each place ended. (n_places,)"""
    standing = np.abs(course.flow.short_a) >= STANDING_A
    found = np.where(standing, STANDING, NO_CURRENT).astype("<U20")
    for rows in alike_rows(np.concatenate([course.whole, course.stopped], axis=1)):
        one = rows[0]
        if course.stopped[one].any() and circuit.reached_by(course.whole[one], course.stopped[one]):
            found[rows[~standing[rows]]] = SHUT_DOWN
    return found


def _severities(how: NDArray[np.str_], over: NDArray[np.bool_]) -> NDArray[np.str_]:
    standing = how == STANDING
    weak = standing | (how == SHUT_DOWN)
    return np.where(standing & over, DANGER, np.where(weak, WEAK_SPOT, CLEARED))


def _instant(ground: Ground, circuit: Circuit, flow: Flow) -> Instant:
    """An instant of one place, spread over the whole build; what the piece cannot touch is at rest."""
    build = ground.build
    out, back = np.zeros(len(build.feeds)), np.zeros(len(build.feeds))
    supply_a = np.zeros(len(build.supplies))
    terminal = np.array([source.open_v for source in ground.sources])
    answers = [Answer.NORMAL] * len(build.supplies)
    out[circuit.columns] = np.concatenate([flow.own_a[0], flow.far_a[0]])
    back[circuit.back] = flow.back_a[0]
    supply_a[circuit.supplies], terminal[circuit.supplies] = flow.supply_a[0], flow.terminal_v[0]
    for column, number in enumerate(circuit.supplies):
        answers[number] = Answer(int(flow.answers[0, column]))
    return Instant(
        out, back, supply_a, terminal, tuple(answers), float(flow.short_a[0]), float(flow.short_pos_v[0]),
        float(flow.short_neg_v[0]),
    )  # fmt: skip


def _rail_peaks(ground: Ground, circuit: Circuit, loads: Loads) -> tuple[tuple[RailPeak, RailPeak], ...]:
    """The peak in both rails of every run; most runs lie apart from the short and carry nothing."""
    found = [(NO_PEAK, NO_PEAK)] * len(ground.network.runs)
    touched = [
        np.unique(side.stretches[flow.stretches, 0])
        for side, flow in zip((circuit.pos, circuit.neg), loads.sides, strict=True)
    ]
    for run in np.union1d(*touched).astype(int):
        pos, neg = (peak_of(rail_elements(ground.network, circuit, loads, which, run, 0, 0)) for which in (0, 1))
        found[run] = (pos, neg)
    return tuple(found)


def _joints(ground: Ground, circuit: Circuit, loads: Loads) -> tuple[tuple[float, float], ...]:
    found = np.zeros((len(ground.build.joints), 2))
    for which, flow in enumerate(loads.sides):
        joints = flow.links < len(found)
        found[flow.links[joints], which] = np.abs(flow.link_a[0, joints])
    return tuple((float(pos), float(neg)) for pos, neg in found)


def _bus_peak(ground: Ground, circuit: Circuit, loads: Loads, number: int) -> BusPeak:
    both = [
        bus_elements(ground.build, side, flow, number, 0) for side, flow in zip(ground.sides, loads.sides, strict=True)
    ]
    taps = [np.abs(found[1]) for found in both]
    return BusPeak(
        (peak_of(both[0][0]), peak_of(both[1][0])),
        (float(taps[0].max()), float(taps[1].max())),
        (int(taps[0].argmax()), int(taps[1].argmax())),
    )


def _overloads(
    ground: Ground, loads: Loads, rails: tuple[tuple[RailPeak, RailPeak], ...], buses: tuple[BusPeak, ...]
) -> tuple[Overload, ...]:
    """Every copper over its limit, in the order of coppers."""
    found = []
    for column in np.argsort(loads.coppers, kind="stable"):
        place, current = int(loads.coppers[column]), float(loads.current_a[0, column])
        limit = float(ground.coppers.limit_a[place])
        if current > limit:
            copper = ground.coppers.at(place)
            found.append(Overload(copper, current, limit, _where(ground.build, copper, rails, buses)))
    return tuple(found)


def _where(
    build: Build, copper: Copper, rails: tuple[tuple[RailPeak, RailPeak], ...], buses: tuple[BusPeak, ...]
) -> tuple[int, ...] | None:
    which = 1 if copper.part == "return" else 0
    if copper.kind == "run":
        return rails[copper.number][which].stretch
    if copper.kind == "bus":
        return buses[copper.number].conductors[which].stretch
    if copper.kind == "tap":
        return (build.buses[copper.number].tap_pixels[buses[copper.number].tap_at[which]],)
    return None
