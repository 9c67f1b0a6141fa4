"""One row of the show in figures."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.model.place import Place

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Figure:
    """One thing over the show: its mean, its peak and the frame of it, and what it may carry, None where nothing says
    [A]; of a battery how long it plays the show again and again [s], of a contact how many nights it lasts [-], each
    None where there is no such end."""

    what: str
    place: Place
    mean_a: float
    peak_a: float
    tick: int
    allowed_a: float | None
    lasts_s: float | None = None
    nights: float | None = None

    @property
    def over(self) -> bool:
        """Whether its peak is more than it may carry."""
        return self.allowed_a is not None and self.peak_a > self.allowed_a * (1 + 1e-9)


def figure_of(what: str, place: Place, amps: Floats, allowed_a: float | None, mean_a: float | None = None) -> Figure:
    """A row out of a current over the show.

    Args:
        what: its name.
        place: where it is.
        amps: the current at every tick, (n_ticks,). [A]
        allowed_a: what it may carry, None where nothing says. [A]
        mean_a: its mean, where that is not the mean of the ticks. [A]
    """
    tick = int(amps.argmax())
    return Figure(what, place, float(amps.mean()) if mean_a is None else mean_a, float(amps[tick]), tick, allowed_a)
