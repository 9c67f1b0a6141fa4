"""Which causes are likely where strips were read and looked at: every fault of the catalogue, solved and compared.

Along a rail readings change smoothly but where a meter was put, so places between others are not all worked out: what
they show lies on straight lines between those that are.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.bench.strips.fault import Place, StripFault, Sweep
from tiny_lantern.bench.strips.faults.pixels import shown_colour
from tiny_lantern.bench.strips.faults.registry import strip_fault_kinds, sweeps_of
from tiny_lantern.bench.strips.plan import TEST, Duties, StripPlan, World
from tiny_lantern.bench.strips.probes import Reader, StripProbe, StripReading
from tiny_lantern.bench.strips.seen import MISS_NATS, Eye, SeenRange
from tiny_lantern.bench.strips.solve import network_in, solved
from tiny_lantern.bench.verdict import HEALTHY, Verdict, Weighed, verdict_on, weighed
from tiny_lantern.electrical.newton import Operating

Floats = NDArray[np.float64]
Report = Callable[[float], None]
KNOTS = 16
HEALTHY_FAULT = StripFault(HEALTHY, {}, {})


@dataclass(frozen=True, eq=False)
class StripLook:
    """Strips as planned, what was read of them, what was seen in the test, and what colours were seen where one was
    sent."""

    plan: StripPlan
    readings: tuple[StripReading, ...] = ()
    seen: tuple[SeenRange, ...] = ()
    colours: tuple[tuple[str, str], ...] = ()

    @cached_property
    def patterns(self) -> tuple[str, ...]:
        """The patterns that readings were taken in, the test first."""
        return tuple(dict.fromkeys([TEST, *(reading.probe.pattern for reading in self.readings)]))

    @cached_property
    def probed(self) -> frozenset[int]:
        """Pixels that a meter was put on, of whatever strip."""
        found: set[int] = set()
        for reading in self.readings:
            probe = reading.probe
            found |= {probe.pixel, probe.start, probe.stop}
            found |= {probe.node} if isinstance(probe.node, int) else set()
        return frozenset(found)


def strip_words(plan: StripPlan, fault: StripFault) -> str:
    """A fault in a sentence.

    Args:
        plan: the strips.
        fault: the fault.
    """
    return "nothing is wrong" if fault.kind == HEALTHY else strip_fault_kinds()[fault.kind].words(plan, fault)


class Foreseen:
    """What strips as they may be show at some probes and in their pixels, each time beginning from the plan's solution.

    Args:
        plan: the strips.
        probes: where they are read. (n_probes,)
    """

    def __init__(self, plan: StripPlan, probes: Sequence[StripProbe]) -> None:
        self.plan, self.probes = plan, tuple(probes)
        self.patterns = tuple(dict.fromkeys([TEST, *(probe.pattern for probe in self.probes)]))
        self._sent = {name: plan.pattern(name) for name in self.patterns}
        self._near: dict[str, Operating] = {}
        world = World(plan.network)
        self._near = {name: self._solved(world, name) for name in self.patterns}

    def _solved(self, world: World, pattern: str) -> Operating:
        return solved(world, self.plan, self._sent[pattern], self._near.get(pattern), pattern == TEST)

    def shown(self, world: World) -> tuple[Floats, Floats]:
        """What the probes read and the volts of all planned pixels in the test. (n_probes,), (n_pixels,) [V] or [A]

        Args:
            world: the strips as they are taken to be.
        """
        points = {pattern: self._solved(world, pattern) for pattern in self.patterns}
        readers = {
            pattern: Reader(self.plan, world, network_in(world, pattern == TEST), point.node_v)
            for pattern, point in points.items()
        }
        read = np.array([readers[probe.pattern].read(probe) for probe in self.probes])
        return read, np.concatenate(self._pixel_v(world, points[TEST].node_v))

    def _pixel_v(self, world: World, node_v: Floats) -> list[Floats]:
        found = []
        for number in range(len(self.plan.strips)):
            run = network_in(world, True).runs[self.plan.run(number)]
            at = run.pos_nodes[1:-1]
            volts = node_v[at] - node_v[at + 1]
            found.append(volts if world.stands_for is None else volts[world.stands_for[number]])
        return found


class StripCourt:
    """What judges faults by one look at strips.

    Args:
        look: the look.
    """

    def __init__(self, look: StripLook) -> None:
        self.look, self.plan = look, look.plan
        self.foreseen = Foreseen(look.plan, [reading.probe for reading in look.readings])
        self.eye = Eye(look.plan)
        self.value = np.array([reading.value for reading in look.readings])
        self.sigma = np.array([reading.sigma for reading in look.readings])
        self.ends = np.cumsum([len(duty) for duty in look.plan.sent])[:-1]

    def of_readings(self, read: Floats) -> Floats:
        """How likely the readings are: ``−½ Σ ((value − predicted) / σ)²``. (n,) [nats]

        Args:
            read: what is predicted, (n, n_readings). [V] or [A]
        """
        return np.asarray(-0.5 * (((self.value - read) / self.sigma) ** 2).sum(axis=-1))

    def of_eye(self, pixel_v: Floats, shown: Duties) -> float:
        """How likely is what was seen. [nats]

        Args:
            pixel_v: voltage of all planned pixels, (n_pixels,). [V]
            shown: what they show, strip by strip.
        """
        predicted = self.eye.ranges(np.split(pixel_v, self.ends), shown)
        return self.eye.log_likelihood(self.look.seen, predicted)

    def of_colours(self, fault: StripFault | None) -> float:
        """How likely are the colours that were seen. [nats]

        Args:
            fault: what is wrong, None where nothing is.
        """
        return -MISS_NATS * sum(shown_colour(sent, fault) != seen for sent, seen in self.look.colours)

    def healthy(self) -> Weighed[StripFault]:
        """That nothing is wrong, weighed."""
        read, pixel_v = self.foreseen.shown(World(self.plan.network))
        total = self.of_readings(read) + self.of_eye(pixel_v, self.plan.sent) + self.of_colours(None)
        return Weighed(float(total), HEALTHY_FAULT, float(total))

    def places(self, sweep: Sweep) -> Iterator[Weighed[StripFault]]:
        """Every place of a sweep, weighed.

        Args:
            sweep: the sweep.
        """
        knots = self._knots(sweep)
        read, pixel_v = self._worked_out(sweep, [sweep.places[knot] for knot in knots])
        for number, place in enumerate(sweep.places):
            mine_read, mine_v = (_at(number, knots, values) for values in (read, pixel_v))
            yield from self._place(sweep, place, mine_read, mine_v)

    def _place(self, sweep: Sweep, place: Place, read: Floats, pixel_v: Floats) -> Iterator[Weighed[StripFault]]:
        """One place: read (n_solved, n_readings), pixel_v (n_solved, n_pixels)."""
        eyes = []
        for size, volts in zip(sweep.solved, pixel_v, strict=True):
            shown = self._as_planned(sweep.world(place, size))
            told = np.nan if np.isnan(volts).any() else self.of_eye(volts, shown)
            eyes.append(told + self.of_colours(sweep.fault(place, size)))
        seen = np.array(eyes)[:, None]
        if sweep.sizes is not None:
            read, seen = sweep.sizes.between(read), sweep.sizes.between(seen)
        total = np.nan_to_num(self.of_readings(read) + seen[:, 0], nan=-np.inf)
        found = weighed(total, [sweep.fault(place, size) for size in sweep.read])
        if found is not None:
            yield found

    def _as_planned(self, world: World) -> Duties:
        """What the planned pixels show."""
        shown = world.shown(self.plan.sent)
        if world.stands_for is None:
            return shown
        return tuple(duty[real] for duty, real in zip(shown, world.stands_for, strict=True))

    def _knots(self, sweep: Sweep) -> list[int]:
        """Places that are worked out: all of a short row or one that is no row, else the ends, some between, and those
        beside which a meter was put."""
        count = len(sweep.places)
        if not sweep.along or count <= KNOTS:
            return list(range(count))
        found = set(np.linspace(0, count - 1, KNOTS).round().astype(int).tolist())
        for number, place in enumerate(sweep.places):
            at = place[sweep.along]
            if not isinstance(at, int) or {at - 1, at, at + 1} & self.look.probed:
                found.add(number)
        return sorted(found)

    def _worked_out(self, sweep: Sweep, places: Sequence[Place]) -> tuple[Floats, Floats]:
        """What is read and the pixels' volts at places and sizes. (n_places, n_solved, n_readings), (..., n_pixels)"""
        shown = [[self._shown(sweep.world(place, size)) for size in sweep.solved] for place in places]
        read = np.array([[each[0] for each in row] for row in shown])
        return read, np.array([[each[1] for each in row] for row in shown])

    def _shown(self, world: World) -> tuple[Floats, Floats]:
        """See ``Foreseen``; NaN of strips that have no operating point, which are left out."""
        try:
            return self.foreseen.shown(world)
        except ArithmeticError:
            pixels = sum(len(duty) for duty in self.plan.sent)
            return np.full(len(self.look.readings), np.nan), np.full(pixels, np.nan)


def _at(number: int, knots: list[int], values: Floats) -> Floats:
    """What lies at a place between two that were worked out."""
    after = int(np.searchsorted(knots, number))
    if knots[after] == number:
        return np.asarray(values[after])
    share = (number - knots[after - 1]) / (knots[after] - knots[after - 1])
    return np.asarray((1 - share) * values[after - 1] + share * values[after])


def diagnose_strips(look: StripLook, report: Report = lambda share: None) -> Verdict[StripFault]:
    """What is likely to be wrong with strips that were read and looked at.

    Args:
        look: what was read and seen.
        report: told how much is done, from 0 to 1; what it raises ends the work.

    Raises:
        LanternError: there is nothing to solve.
    """
    court = StripCourt(look)
    judged: dict[str, list[Weighed[StripFault]]] = {HEALTHY: [court.healthy()]}
    sweeps = list(sweeps_of(look.plan))
    whole, done = sum(len(sweep.places) for sweep in sweeps), 0
    for sweep in sweeps:
        report(done / max(whole, 1))
        judged.setdefault(sweep.kind, []).extend(court.places(sweep))
        done += len(sweep.places)
    return verdict_on({kind: places for kind, places in judged.items() if places})


def world_of(plan: StripPlan, fault: StripFault) -> World:
    """The strips as they are under a fault.

    Args:
        plan: the strips.
        fault: the fault.

    Raises:
        KeyError: the strips can have no such fault.
    """
    if fault.kind == HEALTHY:
        return World(plan.network)
    for sweep in strip_fault_kinds()[fault.kind].sweeps(plan):
        if any(place == fault.place for place in sweep.places):
            return sweep.world(fault.place, fault.size)
    raise KeyError(fault.kind)
