"""Lamps on the outputs of boxes that pins control."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.circuit.conductor import COMMONS, CONTROL, End
from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.outputs import Output, State
from tiny_lantern.circuit.fitted import At, Fitted, Still
from tiny_lantern.circuit.wires.hookup import Hookup, Wired
from tiny_lantern.circuit.wires.pin import LEAST_OHM
from tiny_lantern.circuit.wires.steering import steering
from tiny_lantern.model.ways.boxed import Boxed

KINDS = (Boxed,)


def wire(hookup: Hookup) -> Iterator[Wired]:
    """Each lamp with its resistor between the lamps' rail and an output that sinks; each box with its 0 V.

    Args:
        hookup: the driver.
    """
    driver = hookup.driver
    assert isinstance(driver, Boxed)
    boxes: set[int] = set()
    for hung in hookup.hung():
        output = hung.channel.output
        box, own = divmod(output, driver.output.per_box)
        name = End(f"{driver.name} {box + 1}", "0 V", of=f"{driver.id} box {box}")
        if box not in boxes:
            boxes.add(box)
            yield hookup.row(f"{output}/0v", COMMONS, hookup.zero, name, role="return")
        pin, given = steering(hookup, output)
        leg = End(name.on, f"output {own + 1}", of=name.of)
        yield given
        entry = End(name.on, f"input {own + 1}", of=name.of)
        yield hookup.row(f"{output}/in", CONTROL, pin, entry)
        yield _output(driver, output, leg, name, entry)
        yield from hookup.on_output(hung, leg, hookup.rail())


def _output(driver: Boxed, output: int, leg: End, zero: End, entry: End) -> Fitted:
    """An output of a box: while it is lit it joins its leg to 0 V behind its drop and its resistance."""
    of = driver.output

    def law(still: Still, at: At) -> tuple[Element, ...]:
        state: State = "low" if still.on(driver.id, output) else "open"
        return (
            Output(leg.node, at(leg), at(leg), at(zero), state, 0.0, 1.0, of.drop_v, max(of.ohm, LEAST_OHM), False),
        )

    return Fitted(leg.node, (leg, zero), law, (entry,))
