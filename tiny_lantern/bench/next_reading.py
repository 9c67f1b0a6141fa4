"""Which reading next: the one that best tells the leading cause from the next one that any reading can."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.bench.fault import Fault
from tiny_lantern.bench.predict import Foresight
from tiny_lantern.bench.ranking import Look, change_of
from tiny_lantern.bench.readings import SPREAD, Probe
from tiny_lantern.bench.verdict import LEAST_SIGMAS, SURE_TIMES, Hypothesis, Verdict, enough_sigmas
from tiny_lantern.circuit.equations import NotSolvedError

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Candidate:
    """A reading that may be taken: of which look, where, what each of two causes predicts, and by how many standard
    deviations these lie apart."""

    look: int
    probe: Probe
    predicted: tuple[float, float]
    separation: float


@dataclass(frozen=True)
class Next:
    """What to read next: the two causes that it tells apart, how, and causes more probable than the second that no
    reading tells from the first. ``decided`` where the first is a hundred times as probable as the second."""

    leader: Hypothesis[Fault]
    other: Hypothesis[Fault]
    best: Candidate
    enough: tuple[Candidate, ...]
    told_by_none: tuple[Hypothesis[Fault], ...]
    decided: bool

    @property
    def easiest(self) -> Candidate:
        """Of those that tell enough one for which nothing needs to be taken apart: volts before amperes."""
        return min(self.enough, key=lambda each: (each.probe.kind != "V", -each.separation))


def candidates_of(look: Look) -> tuple[Probe, ...]:
    """Every reading that may still be taken of a look: each node against ground, the current in each lead.

    Args:
        look: the look.
    """
    taken = {reading.probe for reading in look.taken}
    ground = look.plan.netlist.ground
    volts = (Probe("V", node, ground) for node in look.plan.nodes)
    amperes = (Probe("A", element=lead.id) for lead in look.plan.leads)
    return tuple(probe for probe in (*volts, *amperes) if probe not in taken)


class _Asker:
    """What hypotheses predict at every candidate."""

    def __init__(self, looks: Sequence[Look]) -> None:
        self.looks = looks
        self.probes = [candidates_of(look) for look in looks]
        self.sights = [Foresight(look.plan, probes) for look, probes in zip(looks, self.probes, strict=True)]
        every = [probe for probes in self.probes for probe in probes]
        self.share, self.always = (np.array([SPREAD[probe.kind][at] for probe in every]) for at in (0, 1))

    def predicted(self, hypothesis: Hypothesis[Fault]) -> Floats:
        """At all candidates of all looks, NaN where the circuit has no still state. (n_candidates,) [V], [A]"""
        found = []
        for sight in self.sights:
            try:
                found.append(sight.shown(change_of(sight.plan, hypothesis.best)).read)
            except NotSolvedError:
                found.append(np.full(len(sight.probes), np.nan))
        return np.concatenate(found)

    def separations(self, one: Floats, other: Floats) -> Floats:
        """How far two predictions lie apart: ``|a − b| / σ((a + b)/2)``  (1). (n_candidates,) [-]"""
        sigma = self.share * np.abs(one + other) / 2 + self.always
        return np.asarray(np.nan_to_num(np.abs(one - other) / sigma))  # (1)

    def candidates(self, one: Floats, other: Floats) -> Iterator[Candidate]:
        apart = self.separations(one, other)
        places = ((at, probe) for at, probes in enumerate(self.probes) for probe in probes)
        for number, (look, probe) in enumerate(places):
            yield Candidate(look, probe, (float(one[number]), float(other[number])), float(apart[number]))


def next_reading(looks: Sequence[Look], verdict: Verdict[Fault]) -> Next | None:
    """The reading that best tells the most probable cause from the next one that any reading tells from it by half a
    standard deviation; None where nothing helps.

    Args:
        looks: what the verdict was reached from. (n_looks,)
        verdict: the verdict.
    """
    leader, *others = verdict.hypotheses
    asker = _Asker(looks)
    own = asker.predicted(leader)
    alike: list[Hypothesis[Fault]] = []
    for other in others:
        theirs = asker.predicted(other)
        if np.max(asker.separations(own, theirs), initial=0.0) >= LEAST_SIGMAS:
            candidates = sorted(asker.candidates(own, theirs), key=lambda each: -each.separation)
            least = enough_sigmas(candidates[0].separation)
            enough = tuple(each for each in candidates if each.separation >= least)
            decided = leader.posterior > SURE_TIMES * other.posterior
            return Next(leader, other, candidates[0], enough, tuple(alike), decided)
        alike.append(other)
    return None
