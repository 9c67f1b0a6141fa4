"""Which causes are likely: every fault of the catalogue is laid over the plan, solved and compared with what was read
and seen."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.bench import seen as looks
from tiny_lantern.bench.fault import Fault, Name, Suspect
from tiny_lantern.bench.faults.registry import fault_kinds, suspects_of
from tiny_lantern.bench.plan import Plan
from tiny_lantern.bench.predict import Foresight
from tiny_lantern.bench.readings import Taken, log_likelihood
from tiny_lantern.bench.verdict import HEALTHY, Verdict, Weighed, verdict_on, weighed
from tiny_lantern.circuit.changes import NO_CHANGE, Change
from tiny_lantern.circuit.equations import NotSolvedError

Floats = NDArray[np.float64]
Report = Callable[[float], None]
SAME_SIGMAS = 0.02
NOTHING = Suspect((Fault(HEALTHY),))


@dataclass(frozen=True)
class Look:
    """A circuit in one still, what was read of it, and what its lamps were seen to do, by their ids."""

    plan: Plan
    taken: tuple[Taken, ...] = ()
    seen: Mapping[str, str] = field(default_factory=dict)


def words_of(fault: Fault, name: Name = str) -> str:
    """A fault in a sentence.

    Args:
        fault: the fault.
        name: tells what an element or a node is called.
    """
    return "nothing is wrong" if fault.kind == HEALTHY else fault_kinds()[fault.kind].words(fault, name)


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
        self.planned_a = [sight.as_planned.lamp_a for sight in self.foresights]

    def members(self, suspect: Suspect) -> tuple[Floats, list[Fault]]:
        """How likely what was read and seen is under each fault that a suspect may be, and those faults; ``-inf``
        where the circuit would have no still state. (n_faults,) [nats]

        Args:
            suspect: the suspect.
        """
        total, faults = np.zeros(1), list(suspect.faults)
        for look, sight, planned_a in zip(self.asked, self.foresights, self.planned_a, strict=True):
            read, lamp_a = _shown(sight, suspect, look.taken, planned_a)
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


def _shown(sight: Foresight, suspect: Suspect, taken: tuple[Taken, ...], planned_a: Floats) -> tuple[Floats, Floats]:
    """What each fault shows at the probes and in the lamps, NaN where it has no still state; sizes between two that
    read and look alike are not worked out. (n, n_probes), (n, n_lamps)"""
    count = len(suspect.faults)
    read, lamp_a = np.full((count, len(sight.probes)), np.nan), np.full((count, len(sight.plan.lamps)), np.nan)
    first = sorted({0, count // 2, count - 1}) if suspect.sizes is not None else list(range(count))
    for at in first:
        read[at], lamp_a[at] = _of(sight, suspect.faults[at])
    sigma = np.array([each.sigma for each in taken])
    gaps = list(pairwise(first)) if suspect.sizes is not None else []
    while gaps:
        low, high = gaps.pop()
        if high - low < 2:
            continue
        if _alike(read[[low, high]], lamp_a[[low, high]], sigma, planned_a):
            share = np.linspace(0, 1, high - low + 1)[:, None]
            read[low : high + 1] = (1 - share) * read[low] + share * read[high]
            lamp_a[low : high + 1] = (1 - share) * lamp_a[low] + share * lamp_a[high]
        else:
            middle = (low + high) // 2
            read[middle], lamp_a[middle] = _of(sight, suspect.faults[middle])
            gaps += [(low, middle), (middle, high)]
    return read, lamp_a


def _alike(read: Floats, lamp_a: Floats, sigma: Floats, planned_a: Floats) -> bool:
    """Whether two faults read and look alike, or neither has a still state. (2, n_probes), (2, n_lamps)"""
    unsolved = np.isnan(read).any(axis=1) | np.isnan(lamp_a).any(axis=1)
    if unsolved.any():
        return bool(unsolved.all())
    words = looks.words_of(lamp_a, planned_a)
    return bool((np.ptp(read, axis=0) < SAME_SIGMAS * sigma).all() and np.array_equal(words[0], words[1]))


def _of(sight: Foresight, fault: Fault) -> tuple[Floats, Floats]:
    try:
        shown = sight.shown(change_of(sight.plan, fault))
    except NotSolvedError:
        return np.full(len(sight.probes), np.nan), np.full(len(sight.plan.lamps), np.nan)
    return shown.read, shown.lamp_a


def diagnose(asked: Sequence[Look], report: Report = lambda share: None) -> Verdict[Fault]:
    """What is likely to be wrong with a circuit that was read and looked at.

    Args:
        asked: the looks at it, each in a still of its own. (n_looks,)
        report: told how much is done, from 0 to 1; what it raises ends the work.

    Raises:
        NotSolvedError: the circuit as planned has no still state.
    """
    court = Court(asked)
    suspects = [NOTHING, *_all_suspects(asked)]
    judged: dict[str, list[Weighed[Fault]]] = {}
    for at, suspect in enumerate(suspects):
        report(at / len(suspects))
        found = weighed(*court.members(suspect))
        if found is not None:
            judged.setdefault(suspect.kind, []).append(found)
    return verdict_on(judged)


def _all_suspects(asked: Sequence[Look]) -> list[Suspect]:
    """Those of every look, each once: some are there in one still only."""
    return list(dict.fromkeys(suspect for look in asked for suspect in suspects_of(look.plan)))
