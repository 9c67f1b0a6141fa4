"""Boards: their pins, timers, limits and memory."""

from __future__ import annotations

from functools import cached_property
from typing import Annotated, Literal

from pydantic import Field, StringConstraints, model_validator

from tiny_lantern.model.base import Frozen, Money, Ohms
from tiny_lantern.model.parts.part import Part

PinName = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9._+-]{1,12}$")]
Current = Annotated[float, Field(gt=0, le=100)]


class BoardPin(Frozen):
    """One pin: its port, the timer and the compare channel that can dim it (``1A``: channel A of timer 1), whether it
    reads volts, and what else uses it."""

    name: PinName
    port: str = ""
    compare: str = ""
    adc: bool = False
    output: bool = True
    taken_by: str = ""

    @property
    def timer(self) -> str:
        """The timer of its compare channel."""
        return self.compare[:-1]


class BoardPart(Part):
    """A board by its family: logic voltage, what its pins may carry, its timers and memory. So many ``routed_pwm``
    channels of a routed board can be led to any pin; on the others a pin dims by its own compare channel. ``logic_a``
    is what it gives at most at its pins' voltage, ``cable_a`` what it draws at most through the cable that loads it."""

    kind: Literal["board"] = "board"
    logic_v: Annotated[float, Field(gt=0, le=12)]
    pin_ohm: Ohms = 25.0
    pin_recommended_a: Current = 0.02
    pin_absolute_a: Current = 0.04
    port_limit_a: Current | None = None
    board_limit_a: Current = 0.2
    clock_hz: Annotated[float, Field(gt=0, le=1e10)]
    pwm_bits: Annotated[int, Field(ge=1, le=20)] = 8
    prescale: Annotated[int, Field(ge=1, le=65_536)] = 64
    routed_pwm: Annotated[int, Field(ge=0, le=64)] = 0
    adc_bits: Annotated[int, Field(ge=0, le=24)] = 10
    adc_offset: Annotated[int, Field(ge=0, le=1_000_000)] = 0
    int_bits: Annotated[int, Field(ge=16, le=64)] = 32
    memory_bytes: Annotated[int, Field(ge=1, le=10**9)]
    flash_bytes: Annotated[int, Field(ge=1, le=10**10)]
    idle_a: Annotated[float, Field(ge=0, le=10)] = 0.02
    logic_a: Current = 0.5
    cable_a: Current = 0.5
    pins: Annotated[tuple[BoardPin, ...], Field(min_length=1, max_length=200)]
    cost: Money = 0.0

    @model_validator(mode="after")
    def _names_once(self) -> BoardPart:
        names = [pin.name for pin in self.pins]
        twice = next((name for number, name in enumerate(names) if name in names[:number]), None)
        if twice is not None:
            raise ValueError(f"two pins are called “{twice}”")
        return self

    def pin(self, name: str) -> BoardPin | None:
        """The pin of a name."""
        return self._by_name.get(name)

    @cached_property
    def _by_name(self) -> dict[str, BoardPin]:
        return {pin.name: pin for pin in self.pins}

    def dims(self, pin: BoardPin) -> bool:
        """Whether a pin can be dimmed."""
        return pin.output and bool(self.routed_pwm or pin.compare)
