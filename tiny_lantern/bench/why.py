"""Why a build at the bench reads otherwise than it should: its readings and looks put to the diagnosis, in its own
words."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial

import numpy as np

from tiny_lantern.bench.fault import Fault
from tiny_lantern.bench.next_reading import Next, next_reading
from tiny_lantern.bench.of_build import AtBench
from tiny_lantern.bench.order import Asked, in_words
from tiny_lantern.bench.patterns import Pattern, pattern_of
from tiny_lantern.bench.ranking import Look, diagnose, words_of
from tiny_lantern.bench.readings import Probe, Taken, sigma_of
from tiny_lantern.bench.told import LEAST_SHARE, MOST_CAUSES, ToldCause, ToldNext, Why, capital
from tiny_lantern.bench.verdict import HEALTHY, Verdict
from tiny_lantern.bench.where import where_words
from tiny_lantern.bench.why_strips import strip_look, why_of_strips
from tiny_lantern.circuit.equations import NotSolvedError
from tiny_lantern.model.bench import BenchReading
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import CancelledError, LanternError

OHM_SHARE, LEAST_HEALTHY = 0.05, 1e-12


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
            raise CancelledError

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
    looks, strips = _looks(bench), strip_look(bench)
    if not looks and strips is None:
        raise LanternError("there is nothing to explain yet", "readings", "a reading, or a lamp that was looked at")
    told = []
    if looks:
        told.append(_of_circuit(bench, looks, report if strips is None else partial(_half, report, 0.0)))
    if strips is not None:
        told.append(why_of_strips(bench, strips, report if not looks else partial(_half, report, 0.5)))
    return told[0] if len(told) == 1 else _both(*told)


def _half(report: Callable[[float], None], begun: float, share: float) -> None:
    report(begun + share / 2)


def _of_circuit(bench: AtBench, looks: list[tuple[str, Look]], report: Callable[[float], None]) -> Why:
    try:
        verdict = diagnose([look for _, look in looks], report)
        following = next_reading([look for _, look in looks], verdict)
    except NotSolvedError as error:
        raise LanternError(f"the circuit has no solution: {error}", "readings", "see the snags first") from error
    return _told(bench, looks, verdict, following)


def _both(one: Why, other: Why) -> Why:
    """Two verdicts on parts of a build that fail apart from each other, one fault in all taken for granted: weighed by
    how far each is from nothing being wrong with its part."""
    weights = []
    for each in (one, other):
        healthy = next((cause.posterior for cause in each.causes if cause.kind == HEALTHY), LEAST_HEALTHY)
        weights.append(1.0 / max(healthy, LEAST_HEALTHY))
    faults = [replace(cause, posterior=cause.posterior * weight)
              for each, weight in zip((one, other), weights, strict=True)
              for cause in each.causes if cause.kind != HEALTHY]  # fmt: skip
    every = [*faults, ToldCause("Nothing is wrong", 1.0, HEALTHY, "")]
    whole = sum(cause.posterior for cause in every) + sum(
        each.others * weight for each, weight in zip((one, other), weights, strict=True)
    )
    causes = sorted(
        (replace(each, posterior=each.posterior / whole) for each in every), key=lambda each: -each.posterior
    )
    shown = [each for each in causes[:MOST_CAUSES] if each.posterior >= LEAST_SHARE]
    leading = one if weights[0] > weights[1] else other
    return Why(tuple(shown), max(0.0, 1.0 - sum(each.posterior for each in shown)), one.readings + other.readings,
               one.looks + other.looks, leading.next)  # fmt: skip


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
    return capital(words_of(fault, bench.words))


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
