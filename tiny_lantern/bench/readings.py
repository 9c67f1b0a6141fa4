"""What a meter reads: where it is put, what it showed, and how far it may be off."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
ProbeKind = Literal["V", "A", "ohm"]
SPREAD: dict[ProbeKind, tuple[float, float]] = {"V": (0.005, 0.005), "A": (0.02, 0.003), "ohm": (0.01, 0.3)}
OPEN_OHM = 1e6
OPEN_NATS = 8.0


@dataclass(frozen=True)
class Probe:
    """Where a meter is put: volts of node ``plus`` above ``minus``, ohms between them with the supply off, or amperes
    through an ``element``, by the sign of its kind."""

    kind: ProbeKind
    plus: str = ""
    minus: str = ""
    element: str = ""


@dataclass(frozen=True)
class Taken:
    """A reading: where, what the meter showed, and its standard deviation; ohms that are ``inf`` were *open*."""

    probe: Probe
    value: float
    sigma: float


def sigma_of(kind: ProbeKind, value: float) -> float:
    """The standard deviation of a usual hand meter: a share of the reading and what it always may be off.

    Args:
        kind: what is read.
        value: the reading. [V], [A] or [ohm]
    """
    share, always = SPREAD[kind]
    return share * abs(value) + always if math.isfinite(value) else always


def log_likelihood(taken: tuple[Taken, ...], predicted: Floats) -> Floats:
    """How likely readings are under predictions: Gaussian, ``−½ Σ ((value − predicted) / σ)²``  (1); open where it
    should not be, or the other way, costs 8 nats. (n,) [-]

    Args:
        taken: the readings. (n_readings,)
        predicted: what each hypothesis predicts, ohms above 1 Mohm being open, (n, n_readings). [V], [A], [ohm]
    """
    found = np.zeros(len(predicted))
    for at, reading in enumerate(taken):
        column = predicted[:, at]
        if reading.probe.kind == "ohm":
            opened, read_open = column > OPEN_OHM, not reading.value <= OPEN_OHM
            value = 0.0 if read_open else reading.value
            far = -0.5 * ((value - column) / reading.sigma) ** 2  # (1)
            found += np.where(opened != read_open, -OPEN_NATS, np.where(opened, 0.0, far))
        else:
            found += -0.5 * ((reading.value - column) / reading.sigma) ** 2  # (1)
    return found
