"""Lamps on pins, on or off or dimmed."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from tiny_lantern.circuit.conductor import End
from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.outputs import Output, State
from tiny_lantern.circuit.fitted import At, Fitted, Still
from tiny_lantern.circuit.wires.hookup import Hookup, Wired
from tiny_lantern.circuit.wires.rails import logic_end, zero_end
from tiny_lantern.model.drive import lamp_role
from tiny_lantern.model.ways.pin import PinDirect
from tiny_lantern.model.ways.pwm import PwmPin

KINDS = (PinDirect, PwmPin)
LEAST_OHM = 1e-6


def wire(hookup: Hookup) -> Iterator[Wired]:
    """Each lamp with its resistor between its pin and the 0 V rail, or the logic rail where pins sink.

    Args:
        hookup: the driver.
    """
    driver = hookup.driver
    assert isinstance(driver, PinDirect | PwmPin)
    for hung in hookup.hung():
        output = hung.channel.output
        pin = hookup.pin(lamp_role(output))
        yield pin_output(hookup, pin, output, sinks=driver.sink)
        yield from hookup.on_output(hung, pin, hookup.logic if driver.sink else None)


def pin_output(hookup: Hookup, pin: End, output: int, sinks: bool = False) -> Fitted:
    """A pin that is high while its output is lit, or low where it sinks.

    Args:
        hookup: the driver.
        pin: the pin.
        output: the output that it carries. [-]
        sinks: whether it is low while its output is lit.
    """
    driver_id = hookup.driver.id
    return pin_by(hookup, pin, lambda still: "high" if still.on(driver_id, output) != sinks else "low")


def pin_by(hookup: Hookup, pin: End, state: Callable[[Still], State]) -> Fitted:
    """A pin whose state follows the still.

    Args:
        hookup: the driver.
        pin: the pin.
        state: what it is.
    """
    ohm, logic, zero = hookup.board_part.pin_ohm, logic_end(hookup.board, hookup.board_part), zero_end(hookup.board)

    def law(still: Still, at: At) -> tuple[Element, ...]:
        return (output_of(pin.node, at(pin), at(logic), at(zero), state(still), ohm),)

    return Fitted(pin.node, (pin, logic, zero), law)


def output_of(name: str, pin: str, rail: str, zero: str, state: State, ohm: float) -> Output:
    """A push-pull output that conducts both ways.

    Args:
        name: its name in the circuit.
        pin: its node.
        rail: the node of its supply.
        zero: the node of its zero.
        state: what it is.
        ohm: its resistance, high and low. [ohm]
    """
    least_ohm = max(ohm, LEAST_OHM)
    return Output(name, pin, rail, zero, state, high_ohm=least_ohm, low_ohm=least_ohm)
