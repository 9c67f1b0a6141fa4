"""What controls an input of a transistor, a relay or a box: a pin, or an output of a register."""

from __future__ import annotations

from tiny_lantern.circuit.conductor import End
from tiny_lantern.circuit.fitted import Fitted
from tiny_lantern.circuit.wires.chips import chip_of, chip_output, output_leg
from tiny_lantern.circuit.wires.hookup import Hookup
from tiny_lantern.circuit.wires.pin import pin_output
from tiny_lantern.model.drive import Steered, lamp_role


def steering(hookup: Hookup, output: int, sinks: bool = False) -> tuple[End, Fitted]:
    """Where an input of a driver is led to, and what gives its level there.

    Args:
        hookup: the driver.
        output: the output that the input controls. [-]
        sinks: whether the level is low while the output is lit.
    """
    chain = hookup.on_chain
    if chain is None:
        pin = hookup.pin(lamp_role(output))
        return pin, pin_output(hookup, pin, output, sinks)
    assert isinstance(hookup.driver, Steered)
    chip, at = chip_of(chain), hookup.driver.inputs_from + output
    given = chip_output(chain, chip, at, sinks, (hookup.driver.id, output))
    return output_leg(chain, chip, at)[0], given
