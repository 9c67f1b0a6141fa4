"""Wires."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field

from tiny_lantern.model.base import Money
from tiny_lantern.model.parts.part import BillLine, Part, Use


class WirePart(Part):
    """A wire by size; ``limit_a`` is conservative (bundled, 30 K rise) and not a code's ruling."""

    kind: Literal["wire"] = "wire"
    area_mm2: Annotated[float, Field(gt=0, le=1000)]
    ohm_per_m: Annotated[float, Field(ge=1e-6, le=1e4)]
    limit_a: Annotated[float, Field(gt=0, le=1000)]
    outer_m: Annotated[float, Field(gt=0, le=0.2)] | None = None
    cost_per_m: Money = 0.0

    @property
    def outside_m(self) -> float:
        """How thick it is with its insulation: its own figure, else that of stranded copper in half a millimetre of
        plastic, the strands a fifth wider than solid copper. [m]"""
        return self.outer_m or 1.2 * math.sqrt(4 * self.area_mm2 / math.pi) * 1e-3 + 1e-3

    def bill(self, used: Use) -> BillLine:
        """A line of the shopping list, by the metre."""
        return BillLine(round(used.length_m, 1), "m", f"Wire, {self.name}", used.length_m * self.cost_per_m, self.id)
