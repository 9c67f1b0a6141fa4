"""How the show uses the contacts of a relay board."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.drive.relay import ContactLife, contact_life
from tiny_lantern.model.parts.relay import RelayPart
from tiny_lantern.model.ways.relay import RelayBoard
from tiny_lantern.show.channels import runs_of

Bools = NDArray[np.bool_]
LIGHT_SHARE = 0.1


def life_of(on: Bools, driver: RelayBoard, part: RelayPart, load_a: float, tick_hz: float) -> ContactLife:
    """How a contact is used by the show and how long it lasts.

    Args:
        on: whether it is closed at each tick, (n_ticks,). [-]
        driver: the relay board.
        part: its part.
        load_a: what the contact carries; up to a tenth of what it may is a light load. [A]
        tick_hz: ticks a second. [Hz]
    """
    light = load_a <= LIGHT_SHARE * part.contact_a
    rated = part.light_operations if light else part.rated_operations
    return contact_life(runs_of(on), rated, driver.shows_per_night, tick_hz)
