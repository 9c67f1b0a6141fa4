"""Which causes are likely: every fault of the catalogue is laid over the plan, solved and compared with what was read
and seen.

A kind's evidence is its mean likelihood over its places, of a place over what it may be there  (1); half of the prior
is that nothing is wrong, the rest is shared equally by the kinds that apply  (2).

Source: Bayes' rule; any text on inference.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.special import logsumexp

from tiny_lantern.bench import seen as looks
from tiny_lantern.bench.fault import HEALTHY, Fault, Suspect
from tiny_lantern.bench.faults.registry import fault_kinds, suspects_of
from tiny_lantern.bench.plan import Plan
from tiny_lantern.bench.predict import Foresight
from tiny_lantern.bench.readings import Taken, log_likelihood
from tiny_lantern.circuit.changes import NO_CHANGE, Change
from tiny_lantern.circuit.equations import NotSolvedError

Floats = NDArray[np.float64]
Report = Callable[[float], None]
HEALTHY_PRIOR = 0.5
NOTHING = Suspect((Fault(HEALTHY),))
ACCUSED_FROM = 0.5


@dataclass(frozen=True)
class Look:
    """A circuit in one still, what was read of it, and what its lamps were seen to do, by their ids."""

    plan: Plan
    taken: tuple[Taken, ...] = ()
    seen: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Hypothesis:
    """A kind of fault at one place: the one of its faults that fits best, how well that does, and how probable it is
    that it is at this place. [nats], [-]"""

    best: Fault
    log_likelihood: float
    posterior: float


@dataclass(frozen=True)
class Cause:
    """A kind of fault with its places, most probable first, and how probable it is. [-]"""

    kind: str
    posterior: float
    places: tuple[Hypothesis, ...]

    @property
    def best(self) -> Fault:
        """Its most probable one."""
        return self.places[0].best

    @property
    def words(self) -> str:
        """It in a sentence."""
        return words_of(self.best)


def words_of(fault: Fault) -> str:
    """A fault in a sentence.

    Args:
        fault: the fault.
    """
    return "nothing is wrong" if fault.kind == HEALTHY else fault_kinds()[fault.kind].words(fault)


@dataclass(frozen=True)
class Verdict:
    """Causes, most probable first, *nothing is wrong* among them. (n_kinds,)"""

    causes: tuple[Cause, ...]

    @cached_property
    def healthy(self) -> float:
        """How probable it is that nothing is wrong. [-]"""
        return next(cause.posterior for cause in self.causes if cause.kind == HEALTHY)

    @property
    def accuses(self) -> bool:
        """Whether something is more probably wrong than not."""
        return self.healthy < ACCUSED_FROM

    @cached_property
    def hypotheses(self) -> tuple[Hypothesis, ...]:
        """All kinds at all places, most probable first."""
        every = (place for cause in self.causes for place in cause.places)
        return tuple(sorted(every, key=lambda place: -place.posterior))


class Court:
    """What judges faults by several looks at one circuit.

    Args:
        asked: the looks. (n_looks,)

    Raises:
        NotSolvedError: the circuit as planned has no still state.
    """

    def __init__(self, asked: Sequence[Look]) -> None:
        self.asked = tuple(asked)
        self.foresights = [Foresight(look.plan, [taken.probe for taken in look.taken]) for look in asked]
        self.planned_a = [sight.of(sight.planned).lamp_a for sight in self.foresights]

    def members(self, suspect: Suspect) -> tuple[Floats, list[Fault]]:
        """How likely what was read and seen is under each fault that a suspect may be, and those faults; ``-inf``
        where the circuit would have no still state. (n_faults,) [nats]

        Args:
            suspect: the suspect.
        """
        total, faults = np.zeros(1), list(suspect.faults)
        for look, sight, planned_a in zip(self.asked, self.foresights, self.planned_a, strict=True):
            read, lamp_a = _shown(sight, suspect)
            if suspect.sizes is not None:
                read, lamp_a = suspect.sizes.between(read), suspect.sizes.between(lamp_a)
            words = looks.words_of(np.nan_to_num(lamp_a), planned_a)
            found = log_likelihood(look.taken, read) + looks.log_likelihood(look.plan.lamps, look.seen, words)
            unsolved = np.isnan(read).any(axis=1) | np.isnan(lamp_a).any(axis=1)
            total = total + np.where(unsolved, -np.inf, found)
        if suspect.sizes is not None:
            faults = [replace(suspect.faults[0], size=float(size)) for size in suspect.sizes.fine]
        return total, faults


def change_of(plan: Plan, fault: Fault) -> Change:
    """The change of the circuit that a fault is.

    Args:
        plan: the circuit.
        fault: the fault.
    """
    return NO_CHANGE if fault.kind == HEALTHY else fault_kinds()[fault.kind].change(plan, fault)


def _shown(sight: Foresight, suspect: Suspect) -> tuple[Floats, Floats]:
    """What each fault shows at the probes and in the lamps, NaN where it has no still state. (n, n_probes), (n,
    n_lamps)"""
    read = np.full((len(suspect.faults), len(sight.probes)), np.nan)
    lamp_a = np.full((len(suspect.faults), len(sight.plan.lamps)), np.nan)
    for at, fault in enumerate(suspect.faults):
        try:
            shown = sight.shown(change_of(sight.plan, fault))
        except NotSolvedError:
            continue
        read[at], lamp_a[at] = shown.read, shown.lamp_a
    return read, lamp_a


def diagnose(asked: Sequence[Look], report: Report = lambda share: None) -> Verdict:
    """What is likely to be wrong with a circuit that was read and looked at.

    Args:
        asked: the looks at it, each in a still of its own. (n_looks,)
        report: told how much is done, from 0 to 1; what it raises ends the work.

    Raises:
        NotSolvedError: the circuit as planned has no still state.
    """
    court = Court(asked)
    suspects = [NOTHING, *_all_suspects(asked)]
    judged: dict[str, list[tuple[float, float, Fault]]] = {}
    for at, suspect in enumerate(suspects):
        report(at / len(suspects))
        total, faults = court.members(suspect)
        solved = np.isfinite(total)
        if solved.any():
            best = int(np.argmax(total))
            mean = float(logsumexp(total[solved])) - float(np.log(solved.sum()))  # (1)
            judged.setdefault(suspect.kind, []).append((mean, float(total[best]), faults[best]))
    return _verdict(judged)


def _all_suspects(asked: Sequence[Look]) -> list[Suspect]:
    """Those of every look, each once: some are there in one still only."""
    return list(dict.fromkeys(suspect for look in asked for suspect in suspects_of(look.plan)))


def _verdict(judged: Mapping[str, list[tuple[float, float, Fault]]]) -> Verdict:
    share = np.log(HEALTHY_PRIOR / max(len(judged) - 1, 1))  # (2)
    prior = {kind: float(np.log(HEALTHY_PRIOR) if kind == HEALTHY else share) for kind in judged}
    weights = {
        kind: np.array([mean for mean, _, _ in places]) - np.log(len(places)) + prior[kind]
        for kind, places in judged.items()
    }
    whole = logsumexp(np.concatenate(list(weights.values())))
    causes = []
    for kind, places in judged.items():
        posterior = np.exp(weights[kind] - whole)
        every = [Hypothesis(best, top, float(own)) for (_, top, best), own in zip(places, posterior, strict=True)]
        every.sort(key=lambda place: (-place.posterior, -place.log_likelihood))
        causes.append(Cause(kind, float(posterior.sum()), tuple(every)))
    return Verdict(tuple(sorted(causes, key=lambda cause: -cause.posterior)))
