"""Why a build at the bench reads otherwise than it should: its readings and looks put to the diagnosis, in its own
words."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from tiny_lantern.bench.fault import Fault
from tiny_lantern.bench.next_reading import Next, next_reading
from tiny_lantern.bench.of_build import AtBench
from tiny_lantern.bench.order import Asked, in_words
from tiny_lantern.bench.patterns import Pattern, pattern_of
from tiny_lantern.bench.ranking import Look, diagnose, words_of
from tiny_lantern.bench.readings import Probe, Taken, sigma_of
from tiny_lantern.bench.verdict import HEALTHY, Verdict
from tiny_lantern.circuit.equations import NotSolvedError
from tiny_lantern.model.bench import BenchReading
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import LanternError

MOST_CAUSES, LEAST_SHARE, OHM_SHARE = 6, 0.004, 0.05


@dataclass(frozen=True)
class ToldCause:
    """A cause as it is shown: its sentence, how probable it is, its kind and the element that it is at. [-]"""

    words: str
    posterior: float
    kind: str
    place: str


@dataclass(frozen=True)
class ToldNext:
    """The next reading as it is shown: where, what each of the two leading causes says there, and in words why."""

    asked: Asked
    where: str
    leader: str
    other: str
    decided: bool


@dataclass(frozen=True)
class Why:
    """Causes, the most probable first, how probable all others are together, how many readings and looks they are drawn
    from, and the next reading, None where none helps. [-]"""

    causes: tuple[ToldCause, ...]
    others: float
    readings: int
    looks: int
    next: ToldNext | None

    @property
    def healthy(self) -> bool:
        """Whether nothing is wrong more probably than anything is."""
        return bool(self.causes) and self.causes[0].kind == HEALTHY


def why_task(build: Build, progress: Callable[[float], None], cancelled: Callable[[], bool]) -> Why:
    """The diagnosis as work in the background.

    Args:
        build: the build, with what was read and seen.
        progress: told how far it is. [-]
        cancelled: asked whether to stop.

    Raises:
        LanternError: nothing was read or seen that the build still has, or its circuit has no solution.
    """

    def report(share: float) -> None:
        progress(share)
        if cancelled():
            raise InterruptedError

    return why(build, report)


def why(build: Build, report: Callable[[float], None] = lambda share: None) -> Why:
    """The diagnosis of what was read and seen.

    Args:
        build: the build, with what was read and seen.
        report: told how much is done; what it raises ends the work.

    Raises:
        LanternError: nothing was read or seen that the build still has, or its circuit has no solution.
    """
    bench = AtBench(build)
    looks = _looks(bench)
    if not looks:
        raise LanternError("there is nothing to explain yet", "readings", "a reading, or a lamp that was looked at")
    try:
        verdict = diagnose([look for _, look in looks], report)
        following = next_reading([look for _, look in looks], verdict)
    except NotSolvedError as error:
        raise LanternError(f"the circuit has no solution: {error}", "readings", "see the snags first") from error
    return _told(bench, looks, verdict, following)


def _looks(bench: AtBench) -> list[tuple[str, Look]]:
    """What was read and seen, pattern by pattern; what the build no longer has is left out."""
    state = bench.build.bench
    keys = dict.fromkeys([*(each.pattern for each in state.readings), *(each.pattern for each in state.looks)])
    found = []
    for key in keys:
        pattern = pattern_of(bench.build, key)
        if pattern is None:
            continue
        plan = bench.plan(pattern)
        taken = tuple(each for reading in state.readings if reading.pattern == key
                      if (each := taken_of(bench, reading, pattern)) is not None)  # fmt: skip
        lamps = set(plan.lamps)
        seen = {look.lamp: look.word for look in state.looks if look.pattern == key and look.lamp in lamps}
        if taken or seen:
            found.append((key, Look(plan, taken, seen)))
    return found


def taken_of(bench: AtBench, reading: BenchReading, pattern: Pattern) -> Taken | None:
    """A reading with how far it may be off, by the meter and by what parts may differ; None where the build has no such
    place any more.

    Args:
        bench: the build at the bench.
        reading: the reading.
        pattern: the pattern that it was taken in.
    """
    try:
        probe = bench.probe(reading.kind, reading.plus, reading.minus, reading.conductor)
    except KeyError:
        return None
    if reading.value is None:
        return Taken(probe, float("inf"), 1.0)
    own = sigma_of(reading.kind, reading.value)
    if reading.kind == "ohm":
        return Taken(probe, reading.value, own + OHM_SHARE * reading.value)
    return Taken(probe, reading.value, float(np.hypot(own, bench.off(pattern, probe))))


def _told(bench: AtBench, looks: list[tuple[str, Look]], verdict: Verdict[Fault], following: Next | None) -> Why:
    shown = [cause for cause in verdict.causes[:MOST_CAUSES] if cause.posterior >= LEAST_SHARE]
    causes = tuple(
        ToldCause(_sentence(bench, cause.best), cause.posterior, cause.kind, cause.best.place) for cause in shown
    )
    readings, seen = sum(len(look.taken) for _, look in looks), sum(len(look.seen) for _, look in looks)
    others = max(0.0, 1.0 - sum(cause.posterior for cause in shown))
    return Why(causes, others, readings, seen, _next(bench, looks, following))


def _sentence(bench: AtBench, fault: Fault) -> str:
    words = words_of(fault, bench.words)
    return words[0].upper() + words[1:]


def _next(bench: AtBench, looks: list[tuple[str, Look]], following: Next | None) -> ToldNext | None:
    if following is None:
        return None
    best = following.easiest
    pattern = looks[best.look][0]
    asked = _asked(bench, best.probe, pattern)
    if asked is None:
        return None
    told = [
        f"{in_words(asked.kind, value)}: {_sentence(bench, each.best)}"
        for value, each in zip(best.predicted, (following.leader, following.other), strict=True)
    ]
    return ToldNext(asked, where_words(bench, asked), told[0], told[1], following.decided)


def _asked(bench: AtBench, probe: Probe, pattern: str) -> Asked | None:
    """A probe by the build's own terminals."""
    if probe.kind == "A":
        return Asked("A", conductor=probe.element, pattern=pattern)
    at = {bench.node(key): key for key in reversed(tuple(bench.ends))}
    if probe.plus not in at:
        return None
    return Asked("V", at[probe.plus], bench.zero, pattern=pattern)


def where_words(bench: AtBench, asked: Asked) -> str:
    """Where a meter is put, in words.

    Args:
        bench: the build at the bench.
        asked: where.
    """
    if asked.kind == "A":
        return f"current through {bench.words(asked.conductor)}"
    plus, minus = (bench.ends[key].words if key in bench.ends else key for key in (asked.plus, asked.minus))
    return f"{'ohms' if asked.kind == 'ohm' else 'volts'}: red on {plus}, black on {minus}"
