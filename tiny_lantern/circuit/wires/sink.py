"""Lamps on the outputs of constant-current sinks."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.circuit.conductor import CONTROL, LAST, MANY, End, InLine
from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.outputs import Sink
from tiny_lantern.circuit.fitted import At, Fitted, Still
from tiny_lantern.circuit.wires.chips import chain, chip_of, output_leg
from tiny_lantern.circuit.wires.hookup import Hookup, Wired, resistor
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.quantities import engineering
from tiny_lantern.model.ways.sink import SinkChain

KINDS = (SinkChain,)


def wire(hookup: Hookup) -> Iterator[Wired]:
    """Each lamp between the lamps' rail and its output; a resistor that a chip's lamps share lies between the rail and
    a lead of their own. The setting resistor goes from its leg to 0 V.

    Args:
        hookup: the driver.
    """
    driver, chip = hookup.driver, chip_of(hookup)
    assert isinstance(driver, SinkChain)
    rail = hookup.rail()
    yield from chain(hookup, hookup.rail("chips_fed_by"))
    setting = (InLine(f"{engineering(driver.rext_ohm, 'ohm')} sets the current", driver.rext_ohm),)
    for number in range(driver.chips):
        yield hookup.row(f"{number}/set", CONTROL, hookup.leg(chip, number, "set"), hookup.zero, setting)
        if driver.common_ohm:
            shared = resistor(driver.common_ohm)
            yield hookup.row(f"{number}/feed", LAST, rail, _feed(hookup, number), shared, "lamp supply")
    for hung in hookup.hung():
        leg, _, zero = output_leg(hookup, chip, hung.channel.output)
        fed_from = _feed(hookup, hung.channel.output // chip.outputs) if driver.common_ohm else rail
        yield _output(hookup, driver, chip, hung.channel.output, leg, zero)
        yield from hookup.on_output(hung, leg, fed_from)


def _feed(hookup: Hookup, number: int) -> End:
    return hookup.part_end(f"feed of chip {number + 1}", "", MANY)


def _output(hookup: Hookup, driver: SinkChain, chip: ChipPart, output: int, leg: End, zero: End) -> Fitted:
    def law(still: Still, at: At) -> tuple[Element, ...]:
        return (Sink(leg.node, at(leg), at(zero), chip.k_v, driver.rext_ohm, still.on(driver.id, output)),)

    return Fitted(leg.node, (leg, zero), law)
