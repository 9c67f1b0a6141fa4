"""What a solution says of an element, in a few words beside its sign."""

from __future__ import annotations

from functools import singledispatch

from tiny_lantern.circuit.element import Reading
from tiny_lantern.circuit.elements.conducting import CoilReading
from tiny_lantern.circuit.elements.loads import HoldReading
from tiny_lantern.circuit.elements.stages import StageReading
from tiny_lantern.circuit.elements.transistors import BipolarReading, ChannelReading
from tiny_lantern.model.quantities import amps, engineering, volts

LEAST_A = 1e-6


@singledispatch
def told_of(reading: Reading, across_v: float) -> tuple[str, ...]:
    """Its volts and its current.

    Args:
        reading: the reading.
        across_v: the volts between the two terminals by which its current passes. [V]
    """
    return (f"{volts(across_v)}, {amps(reading.current_a)}",)


@told_of.register
def _(reading: CoilReading, across_v: float) -> tuple[str, ...]:
    return f"coil {volts(across_v)}, {amps(reading.current_a)}", "pulls in" if reading.pulls_in else "does not pull in"


@told_of.register
def _(reading: HoldReading, across_v: float) -> tuple[str, ...]:
    return f"{volts(across_v)}, {amps(reading.current_a)}", reading.state


@told_of.register
def _(reading: StageReading, across_v: float) -> tuple[str, ...]:
    lost = ("too few volts in",) if reading.dropped_out else ()
    return f"gives {amps(reading.current_a)}, takes {amps(reading.in_a)}", engineering(reading.power_w, "W"), *lost


@told_of.register
def _(reading: BipolarReading, across_v: float) -> tuple[str, ...]:
    state = "underdriven" if reading.state == "active" else reading.state
    return f"{volts(across_v)}, {state}", f"base {amps(reading.base_a)}"


@told_of.register
def _(reading: ChannelReading, across_v: float) -> tuple[str, ...]:
    just_on = "just on" if reading.current_a > LEAST_A else "off"
    ohm = engineering(reading.ohm, "ohm") if reading.ohm is not None else just_on
    return f"{volts(across_v)}, {ohm}", f"gate {volts(reading.gate_v)}"
