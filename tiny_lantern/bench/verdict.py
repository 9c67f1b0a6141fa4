"""What evidence comes to: kinds of causes with their places, by how probable each is.

A kind's evidence is its mean likelihood over its places, of a place over what it may be there  (1); half of the prior
is that nothing is wrong, the rest is shared equally by the kinds that apply  (2).

Source: Bayes' rule; any text on inference.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Generic, Protocol, TypeVar

import numpy as np
from numpy.typing import NDArray
from scipy.special import logsumexp

HEALTHY = "healthy"
HEALTHY_PRIOR, ACCUSED_FROM = 0.5, 0.5
LEAST_SIGMAS, ENOUGH_SIGMAS, ENOUGH_SHARE, SURE_TIMES = 0.5, 5.0, 0.8, 100.0


class Kinded(Protocol):
    """Something of a kind."""

    @property
    def kind(self) -> str:
        """The name of its kind."""
        ...


F = TypeVar("F", bound=Kinded)


@dataclass(frozen=True)
class Weighed(Generic[F]):
    """A place of a kind, weighed: the mean likelihood over what may be there, as its logarithm, and what fits best of
    it with its own. [nats]"""

    evidence: float
    best: F
    log_likelihood: float


@dataclass(frozen=True)
class Hypothesis(Generic[F]):
    """A kind of fault at one place: the one of its faults that fits best, how well that does, and how probable it is
    that it is at this place. [nats], [-]"""

    best: F
    log_likelihood: float
    posterior: float


@dataclass(frozen=True)
class Cause(Generic[F]):
    """A kind of fault with its places, most probable first, and how probable it is. [-]"""

    kind: str
    posterior: float
    places: tuple[Hypothesis[F], ...]

    @property
    def best(self) -> F:
        """Its most probable one."""
        return self.places[0].best


@dataclass(frozen=True)
class Verdict(Generic[F]):
    """Causes, most probable first, *nothing is wrong* among them. (n_kinds,)"""

    causes: tuple[Cause[F], ...]

    @cached_property
    def healthy(self) -> float:
        """How probable it is that nothing is wrong. [-]"""
        return next((cause.posterior for cause in self.causes if cause.kind == HEALTHY), 0.0)

    @property
    def accuses(self) -> bool:
        """Whether something is more probably wrong than not."""
        return self.healthy < ACCUSED_FROM

    @cached_property
    def hypotheses(self) -> tuple[Hypothesis[F], ...]:
        """All kinds at all places, most probable first."""
        every = (place for cause in self.causes for place in cause.places)
        return tuple(sorted(every, key=lambda place: -place.posterior))


def enough_sigmas(best: float) -> float:
    """How far apart two causes have to lie at a reading that is as good as the best one. [-]

    Args:
        best: how far they lie apart at that, in standard deviations. [-]
    """
    return min(ENOUGH_SIGMAS, ENOUGH_SHARE * best)


def weighed(likelihoods: NDArray[np.float64], faults: Sequence[F]) -> Weighed[F] | None:
    """What may be at one place, all of it alike before anything is known; None where none of it can be.

    Args:
        likelihoods: logarithm of that of each, ``-inf`` of what cannot be, (n_faults,). [nats]
        faults: what they are. (n_faults,)
    """
    possible = np.isfinite(likelihoods)
    if not possible.any():
        return None
    mean = float(logsumexp(likelihoods[possible]) - np.log(possible.sum()))  # (1)
    best = int(np.argmax(likelihoods))
    return Weighed(mean, faults[best], float(likelihoods[best]))


def verdict_on(judged: Mapping[str, Sequence[Weighed[F]]]) -> Verdict[F]:
    """How probable each kind and each of its places is.

    Args:
        judged: the places of each kind, ``healthy`` among the kinds.
    """
    share = np.log(HEALTHY_PRIOR / max(len(judged) - 1, 1))  # (2)
    weights = {
        kind: np.array([place.evidence for place in places])
        - np.log(len(places))
        + (np.log(HEALTHY_PRIOR) if kind == HEALTHY else share)
        for kind, places in judged.items()
    }
    whole = logsumexp(np.concatenate(list(weights.values())))
    causes = []
    for kind, places in judged.items():
        posterior = np.exp(weights[kind] - whole)
        every = [
            Hypothesis(place.best, place.log_likelihood, float(own))
            for place, own in zip(places, posterior, strict=True)
        ]
        every.sort(key=lambda place: (-place.posterior, -place.log_likelihood))
        causes.append(Cause(kind, float(posterior.sum()), tuple(every)))
    return Verdict(tuple(sorted(causes, key=lambda cause: -cause.posterior)))
