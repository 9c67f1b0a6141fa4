"""What flows at one instant of a short, at many places at once."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Flow:
    """One instant at n places: feeds' currents out, (n, n_own) and (n, n_far), return currents (n, n_back), supplies'
    currents and terminals (n, n_supplies) with NaN where one floats, current of the short and the voltage of its two
    sides (n,) with NaN where nothing ties them to the supplies, and the supplies' answers (n, n_supplies)."""

    own_a: Floats
    far_a: Floats
    back_a: Floats
    supply_a: Floats
    terminal_v: Floats
    short_a: Floats
    short_pos_v: Floats
    short_neg_v: Floats
    answers: NDArray[np.int8]
