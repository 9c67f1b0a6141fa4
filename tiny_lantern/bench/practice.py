"""Practice: a fault is hidden in a build, and a simulated meter and simulated lamps show what it does."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import cached_property, partial
from typing import Literal

import numpy as np

from tiny_lantern.bench.fault import Fault
from tiny_lantern.bench.faults.registry import suspects_of
from tiny_lantern.bench.next_reading import candidates_of, next_reading
from tiny_lantern.bench.of_build import AtBench
from tiny_lantern.bench.order import Asked
from tiny_lantern.bench.patterns import LIT, Pattern, pattern_of, patterns_of
from tiny_lantern.bench.predict import Foresight
from tiny_lantern.bench.ranking import Look, change_of, diagnose, words_of
from tiny_lantern.bench.readings import OPEN_OHM, Taken, sigma_of
from tiny_lantern.bench.seen import WORDS
from tiny_lantern.bench.seen import words_of as seen_words_of
from tiny_lantern.circuit.equations import NotSolvedError
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import CancelledError, LanternError

Difficulty = Literal["easy", "middling", "hard"]
EASY = ("lamp_open", "lamp_reversed", "output_dead", "wire_open", "chip_unpowered")
MIDDLING = (*EASY, "lamp_shorted", "wire_moved", "wires_swapped", "output_stuck", "resistor_open", "supply_low")
KINDS: dict[Difficulty, tuple[str, ...]] = {"easy": EASY, "middling": MIDDLING, "hard": ()}
LEAST_SIGMAS, MOST_TRIES, MOST_ROUNDS, SURE = 4.0, 60, 6, 0.8
STEP = {"V": 0.001, "A": 0.001, "ohm": 0.1}


@dataclass(frozen=True)
class Hidden:
    """A fault that is hidden in a build, and the number from which all noise of the meter follows."""

    fault: Fault
    seed: int
    words: str


@dataclass(frozen=True)
class Judged:
    """What a guess was worth: whether it names the fault, or one that reads alike, what it was, and with how few
    readings it could have been told after one look at all lamps; None where that was not found. [-]"""

    right: bool
    alike: bool
    truth: str
    fewest: int | None


@dataclass(frozen=True, eq=False)
class SimulatedMeter:
    """Reads a build with a fault in it, as a hand meter would, and looks at its lamps."""

    build: Build
    hidden: Hidden

    @cached_property
    def bench(self) -> AtBench:
        """The build at the bench."""
        return AtBench(self.build)

    def read(self, asked: Asked) -> float | None:
        """What the meter shows, with its noise and as many digits as it has; None is *open*. [V], [A] or [ohm]

        Args:
            asked: where it is put.

        Raises:
            LanternError: the build has no such place, or its circuit has no still state with the fault.
        """
        pattern = pattern_of(self.build, asked.pattern)
        try:
            if pattern is None:
                raise KeyError(asked.pattern)
            plan = self.bench.plan(pattern)
            probe = self.bench.probe(asked.kind, asked.plus, asked.minus, asked.conductor)
            exact = float(Foresight(plan, [probe]).shown(change_of(plan, self.hidden.fault)).read[0])
        except (KeyError, NotSolvedError) as error:
            raise LanternError("the simulated meter reads nothing there", "reading", "another place") from error
        if asked.kind == "ohm" and exact > OPEN_OHM:
            return None
        chance = np.random.default_rng([self.hidden.seed, *map(ord, repr(asked))])
        noisy = exact + sigma_of(asked.kind, exact) * float(chance.standard_normal())
        return round(round(noisy / STEP[asked.kind]) * STEP[asked.kind], 4)

    def look(self, pattern: Pattern) -> Mapping[str, str]:
        """What every lamp is seen to do in a pattern, by its name in the circuit.

        Args:
            pattern: the pattern.

        Raises:
            LanternError: its circuit has no still state with the fault.
        """
        plan = self.bench.plan(pattern)
        try:
            sight = Foresight(plan, [])
            lamp_a = sight.shown(change_of(plan, self.hidden.fault)).lamp_a
        except NotSolvedError as error:
            raise LanternError("nothing can be seen in this pattern", pattern.name, "another pattern") from error
        words = seen_words_of(lamp_a[None], sight.as_planned.lamp_a)[0]
        return {lamp: WORDS[word] for lamp, word in zip(plan.lamps, words, strict=True)}


def read_task(
    meter: SimulatedMeter, asked: Asked, progress: Callable[[float], None], cancelled: Callable[[], bool]
) -> tuple[Asked, float | None]:
    """A reading of the simulated meter as work in the background, with where it was taken.

    Args:
        meter: the meter.
        asked: where it is put.
        progress: told how far it is. [-]
        cancelled: asked whether to stop.

    Raises:
        LanternError: see ``SimulatedMeter``.
    """
    return asked, meter.read(asked)


def look_task(
    meter: SimulatedMeter, pattern: Pattern, progress: Callable[[float], None], cancelled: Callable[[], bool]
) -> Mapping[str, str]:
    """A look at the simulated lamps as work in the background.

    Args:
        meter: what shows them.
        pattern: the pattern.
        progress: told how far it is. [-]
        cancelled: asked whether to stop.

    Raises:
        LanternError: see ``SimulatedMeter``.
    """
    return meter.look(pattern)


def first_lit(build: Build) -> Pattern:
    """The pattern with all on, or the first turn of it; all dark where a build has no outputs.

    Args:
        build: the build.
    """
    patterns = patterns_of(build)
    return next((pattern for pattern in patterns if pattern.key.startswith(LIT)), patterns[0])


def hide(
    build: Build, difficulty: Difficulty, seed: int,
    progress: Callable[[float], None] = lambda share: None, cancelled: Callable[[], bool] = lambda: False,
) -> Hidden:  # fmt: skip
    """Hide a fault that a meter can tell.

    Args:
        build: the build.
        difficulty: which kinds may be hidden.
        seed: from which everything that is left to chance follows.
        progress: told how far it is. [-]
        cancelled: asked whether to stop.

    Raises:
        LanternError: there is nothing in this build that could be hidden so.
    """
    bench, pattern = AtBench(build), first_lit(build)
    plan = bench.plan(pattern)
    allowed = KINDS[difficulty]
    chance = np.random.default_rng(seed)
    try:
        sight = Foresight(plan, candidates_of(Look(plan)))
        suspects = [each for each in suspects_of(plan) if not allowed or each.kind in allowed]
        kinds = sorted({each.kind for each in suspects})
        for tried in range(MOST_TRIES if kinds else 0):
            progress(tried / MOST_TRIES)
            if cancelled():
                raise CancelledError
            kind = kinds[int(chance.integers(len(kinds)))]
            places = [each for each in suspects if each.kind == kind]
            place = places[int(chance.integers(len(places)))]
            fault = place.faults[int(chance.integers(len(place.faults)))]
            if _tells(sight, fault):
                return Hidden(fault, seed, words_of(fault, bench.words))
    except NotSolvedError as error:
        raise LanternError("the circuit has no solution", "practice", "see the snags first") from error
    raise LanternError("nothing in this build can be hidden so", "practice", "a build with driven lamps and a supply")


def _tells(sight: Foresight, fault: Fault) -> bool:
    """Whether some reading tells a fault from a build that is as planned."""
    try:
        shown = sight.shown(change_of(sight.plan, fault))
    except NotSolvedError:
        return False
    planned = sight.as_planned
    sigma = np.array([sigma_of(probe.kind, value) for probe, value in zip(sight.probes, planned.read, strict=True)])
    return bool(np.max(np.abs(shown.read - planned.read) / sigma, initial=0.0) > LEAST_SIGMAS)


def judge_guess(
    build: Build, hidden: Hidden, guess: tuple[str, str],
    progress: Callable[[float], None] = lambda share: None, cancelled: Callable[[], bool] = lambda: False,
) -> Judged:  # fmt: skip
    """What a guess was worth, and with how few readings the fault could have been told.

    Args:
        build: the build, without any readings in it.
        hidden: what is hidden.
        guess: the kind of the guess and the element that it is at.
        progress: told how far it is. [-]
        cancelled: asked whether to stop.
    """

    def report(share: float) -> None:
        progress(share)
        if cancelled():
            raise CancelledError

    meter, pattern = SimulatedMeter(build, hidden), first_lit(build)
    right = guess == (hidden.fault.kind, hidden.fault.place)
    alike = right or _reads_alike(meter, pattern, guess)
    return Judged(right, alike, hidden.words, _fewest(meter, pattern, report))


def _reads_alike(meter: SimulatedMeter, pattern: Pattern, guess: tuple[str, str]) -> bool:
    """Whether no reading tells a guess from what is hidden."""
    plan = meter.bench.plan(pattern)
    sight = Foresight(plan, candidates_of(Look(plan)))
    kind, place = guess
    faults = [fault for each in suspects_of(plan) if (each.kind, each.place) == (kind, place) for fault in each.faults]
    truth = sight.shown(change_of(plan, meter.hidden.fault)).read
    sigma = np.array([sigma_of(probe.kind, value) for probe, value in zip(sight.probes, truth, strict=True)])
    for fault in faults:
        try:
            shown = sight.shown(change_of(plan, fault)).read
        except NotSolvedError:
            continue
        if np.max(np.abs(shown - truth) / sigma, initial=0.0) < 1.0:
            return True
    return False


def _fewest(meter: SimulatedMeter, pattern: Pattern, report: Callable[[float], None]) -> int | None:
    """How many readings it takes, when each is the one that tells the two leading causes apart, until one of those that
    no reading tells apart is as good as sure."""
    plan = meter.bench.plan(pattern)
    look = Look(plan, (), meter.look(pattern))
    for count in range(MOST_ROUNDS + 1):
        verdict = diagnose([look], partial(_part_done, report, count))
        following = next_reading([look], verdict)
        if following is None:
            return count
        alike = (following.leader, *following.told_by_none)
        if sum(each.posterior for each in alike) >= SURE:
            return count
        probe = following.easiest.probe
        value = float(Foresight(plan, [probe]).shown(change_of(plan, meter.hidden.fault)).read[0])
        look = replace(look, taken=(*look.taken, Taken(probe, value, sigma_of(probe.kind, value))))
    return None


def _part_done(report: Callable[[float], None], count: int, share: float) -> None:
    report((count + share) / (MOST_ROUNDS + 1))
