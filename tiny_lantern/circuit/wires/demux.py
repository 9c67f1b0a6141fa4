"""Lamps on a demultiplexer."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.circuit.conductor import CHIPS, COMMONS, CONTROL, DECOUPLING
from tiny_lantern.circuit.wires.chips import chip_of, chip_output, output_leg, own_draw
from tiny_lantern.circuit.wires.hookup import Hookup, Wired
from tiny_lantern.model.drive import Driver
from tiny_lantern.model.pin_needs import board_needs
from tiny_lantern.model.ways.demux import Demux

KINDS = (Demux,)


def turn(driver: Driver, output: int) -> int:
    """The outputs are lit one after another. [-]

    Args:
        driver: the driver.
        output: the number of its output. [-]
    """
    return output


def wire(hookup: Hookup) -> Iterator[Wired]:
    """Each lamp with its resistor between its output and the 0 V rail; select lines and enables that no pin has lie on
    0 V.

    Args:
        hookup: the driver.
    """
    driver, chip = hookup.driver, chip_of(hookup)
    assert isinstance(driver, Demux)
    supply, zero = hookup.leg(chip, 0, "supply"), hookup.leg(chip, 0, "0 V")
    yield hookup.row("0v", COMMONS, hookup.zero, zero, role="return")
    yield hookup.row("vcc", CHIPS, hookup.rail(), supply, role="logic supply")
    yield hookup.row("cap", CHIPS, supply, zero, DECOUPLING, "logic supply")
    yield own_draw(supply.of, supply, zero, chip.icc_a)
    lines = {need.role for need in board_needs(hookup.build, driver.board_id) if need.driver_id == driver.id}
    for name in (each for each in chip.legs if each.startswith(("select", "enable"))):
        start = hookup.pin(name) if name in lines else hookup.zero
        yield hookup.row(name.replace(" ", ""), CONTROL, start, hookup.leg(chip, 0, name))
    for hung in hookup.hung():
        leg, _, _ = output_leg(hookup, chip, hung.channel.output)
        yield chip_output(hookup, chip, hung.channel.output)
        yield from hookup.on_output(hung, leg)
