"""A button on a pin: what pulls the pin while it is open, what it draws pressed, and how long to wait."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

DEBOUNCE_S = 0.05


@dataclass(frozen=True)
class Button:
    """A button from a pin to the supply or to 0 V, and the resistor that pulls the pin to the other side."""

    to: Literal["ground", "supply"]
    supply_v: float
    pull_ohm: float
    tick_hz: float
    debounce_s: float = DEBOUNCE_S

    @property
    def idle(self) -> int:
        """What the pin reads while nobody presses: 1 where the button goes to 0 V. [-]"""
        return 1 if self.to == "ground" else 0

    @property
    def pressed_a(self) -> float:
        """What the resistor draws while it is pressed. [A]"""
        return self.supply_v / self.pull_ohm

    @property
    def debounce_ticks(self) -> int:
        """Readings that must agree one after another: at least the time of the bounce. [-]"""
        return max(1, math.ceil(self.debounce_s * self.tick_hz - 1e-9))
