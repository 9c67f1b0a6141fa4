"""Sources of direct current."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from tiny_lantern.model.base import Frozen, Money, Ohms
from tiny_lantern.model.parts.part import Part

LimitKind = Literal["shuts_down", "holds", "none"]
SourceKind = Literal["mains", "battery", "bench"]
USUAL_LIMIT = 1.3
Share = Annotated[float, Field(ge=0, le=1)]
CellVolts = Annotated[float, Field(gt=0, le=60)]
OuterSize = Annotated[float, Field(gt=0, le=10)]


class Cells(Frozen):
    """What is inside a battery: its open voltage at shares of its charge, rising, the resistance behind it, its charge
    in ampere hours at a current, how much less of it there is at more (Peukert's exponent), and the voltage at which
    it, or what it feeds, gives up. With a ``stage`` a converter makes the supply's voltage from the cells'."""

    open_v: Annotated[tuple[tuple[Share, CellVolts], ...], Field(min_length=2, max_length=50)]
    own_ohm: Ohms
    capacity_ah: Annotated[float, Field(gt=0, le=10_000)]
    rated_at_a: Annotated[float, Field(gt=0, le=1000)]
    peukert: Annotated[float, Field(ge=1.0, le=1.3)] = 1.0
    cutoff_v: Annotated[float, Field(gt=0, le=60)]
    stage: bool = False

    @model_validator(mode="after")
    def _rises(self) -> Cells:
        shares, volts = zip(*self.open_v, strict=True)
        if list(shares) != sorted(set(shares)) or list(volts) != sorted(volts) or (shares[0], shares[-1]) != (0, 1):
            raise ValueError("the open voltage rises from a share of 0 to a share of 1")
        return self


class SupplyPart(Part):
    """A source of direct current: open voltage behind an output resistance.

    ``tolerance`` is how far its set-point may be off, as a share. ``limit_kind`` says what it does past ``limit_a``:
    shut down (or hiccup), hold its current, or nothing; None takes what is usual for its kind. ``sizes_m`` are its
    outer width, height and depth; ``cells`` what a battery holds.
    """

    kind: Literal["supply"] = "supply"
    source: SourceKind
    nominal_v: Annotated[float, Field(gt=0, le=60)]
    rated_a: Annotated[float, Field(gt=0, le=1000)]
    output_ohm: Ohms
    efficiency: Annotated[float, Field(gt=0, le=1)] = 0.85
    sinks_current: bool = False
    tolerance: Annotated[float, Field(ge=0, le=0.2)] = 0.01
    limit_kind: LimitKind | None = None
    limit_a: Annotated[float, Field(gt=0, le=10_000)] | None = None
    sizes_m: tuple[OuterSize, OuterSize, OuterSize] | None = None
    cells: Cells | None = None
    cost: Money = 0.0

    @property
    def fault_kind(self) -> LimitKind:
        """What it does past its limit: its own, else a mains unit shuts down, a bench unit holds, a cell does
        nothing."""
        usual: dict[str, LimitKind] = {"mains": "shuts_down", "bench": "holds", "battery": "none"}
        return self.limit_kind or usual[self.source]

    @property
    def fault_a(self) -> float:
        """The current at which it does so: its own, else 1.3 times its rating; without end where nothing limits it.
        [A]"""
        return float("inf") if self.fault_kind == "none" else self.limit_a or USUAL_LIMIT * self.rated_a
