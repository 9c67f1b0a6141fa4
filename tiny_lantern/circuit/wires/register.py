"""Lamps on the outputs of latch registers."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.circuit.wires.chips import chain, chip_of, chip_output, output_leg
from tiny_lantern.circuit.wires.hookup import Hookup, Wired
from tiny_lantern.model.ways.register import RegisterChain

KINDS = (RegisterChain,)


def wire(hookup: Hookup) -> Iterator[Wired]:
    """Each lamp with its resistor between its output and the 0 V rail, or the lamps' rail where outputs sink. The
    chips hang on the rail of the lamps' voltage, which is what their outputs give.

    Args:
        hookup: the driver.
    """
    driver, chip = hookup.driver, chip_of(hookup)
    assert isinstance(driver, RegisterChain)
    rail = hookup.rail()
    yield from chain(hookup, rail)
    for hung in hookup.hung():
        leg, _, _ = output_leg(hookup, chip, hung.channel.output)
        yield chip_output(hookup, chip, hung.channel.output, driver.sink)
        yield from hookup.on_output(hung, leg, rail if driver.sink else None)
