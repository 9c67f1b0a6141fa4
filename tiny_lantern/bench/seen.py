"""What lamps are seen to do, in words, and how likely a person says another word than is meant."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
WORDS = ("dark", "dim", "normal", "bright", "off", "lit")
DARK, DIM, NORMAL, BRIGHT, OFF, LIT = range(len(WORDS))
MEANT_A, LIT_A = 0.5e-3, 0.2e-3
DARK_SHARE, DIM_SHARE, BRIGHT_SHARE = 0.05, 0.7, 1.5
OTHER_NATS, MOST_NATS = 4.0, 12.0
NEAR_NATS = {(NORMAL, DIM): 1.5, (NORMAL, BRIGHT): 1.5, (DIM, DARK): 2.5}


def words_of(current_a: Floats, planned_a: Floats) -> Ints:
    """The word for each lamp as a number of ``WORDS``: of one that is meant to be lit how bright it is beside that, of
    another whether it is lit at all. (n, n_lamps)

    Args:
        current_a: what passes through them, (n, n_lamps). [A]
        planned_a: what should, (n_lamps,). [A]
    """
    meant = planned_a >= MEANT_A
    share = current_a / np.where(meant, planned_a, 1.0)
    steps = [share < DARK_SHARE, share < DIM_SHARE, share > BRIGHT_SHARE]
    bright = np.select(steps, [DARK, DIM, BRIGHT], NORMAL)
    return np.asarray(np.where(meant, bright, np.where(current_a > LIT_A, LIT, OFF)))


def _costs() -> Floats:
    found = np.full((len(WORDS), len(WORDS)), OTHER_NATS)
    np.fill_diagonal(found, 0.0)
    for (one, other), nats in NEAR_NATS.items():
        found[one, other] = found[other, one] = nats
    return found


COST = _costs()


def log_likelihood(lamps: Sequence[str], seen: Mapping[str, str], words: Ints) -> Floats:
    """How likely it is that a person says what was said: another word costs 4 nats, one beside it less, all lamps
    together 12 at most. (n,) [-]

    Args:
        lamps: their ids. (n_lamps,)
        seen: the word of those that were looked at, by their ids.
        words: what each hypothesis shows, as numbers of ``WORDS``, (n, n_lamps). [-]
    """
    found = np.zeros(len(words))
    for at, lamp in enumerate(lamps):
        if lamp in seen:
            found += COST[WORDS.index(seen[lamp]), words[:, at]]
    return -np.minimum(found, MOST_NATS)
