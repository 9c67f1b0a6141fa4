"""Trimmed rails: a regulator on a source, set to a voltage that what hangs on it wants."""

from __future__ import annotations

from collections.abc import Collection
from typing import Annotated, Literal

from pydantic import Field, model_validator

from tiny_lantern.model.base import Frozen, Id, Name, Ohms
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.refers import Refers

RailVolts = Annotated[float, Field(gt=0, le=60)]


class Rail(Frozen):
    """A rail: the source and the regulator that it comes from, the voltage it is trimmed to, and the window in which
    what hangs on it works. ``trimmed`` says whether it was set with nothing on it or with everything lit; the voltage
    then falls or rises from there by ``output_ohm``, the regulator's and its leads' resistance."""

    id: Id
    name: Name
    fed_by: FedBy
    regulator_id: Annotated[Id, Refers("parts.regulator")]
    target_v: RailVolts
    low_v: RailVolts
    high_v: RailVolts
    trimmed: Literal["unloaded", "loaded"] = "unloaded"
    output_ohm: Ohms = 0.05
    ambient_c: Annotated[float, Field(ge=-40, le=120)] = 25.0

    @model_validator(mode="after")
    def _window(self) -> Rail:
        if self.low_v > self.high_v:
            raise ValueError(f"the window ends at {self.high_v:g} V, below where it begins ({self.low_v:g} V)")
        return self

    def without(self, ids: Collection[str]) -> Rail | None:
        """None when what feeds it or its regulator goes."""
        return None if {self.fed_by.id, self.regulator_id} & set(ids) else self
