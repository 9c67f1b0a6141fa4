"""Lamps behind a transistor each, low side or high side."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.circuit.conductor import COMMONS, CONTROL, DECOUPLING, End
from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.outputs import Output, State
from tiny_lantern.circuit.elements.transistors import Bipolar, Mosfet
from tiny_lantern.circuit.fitted import At, Fitted, Still
from tiny_lantern.circuit.wires.hookup import Hookup, Hung, Wired, resistor
from tiny_lantern.circuit.wires.pin import LEAST_OHM
from tiny_lantern.circuit.wires.steering import steering
from tiny_lantern.model.parts.transistor import TransistorPart
from tiny_lantern.model.ways.switch import Switch

KINDS = (Switch,)
OWN_BASE_OHM, USUAL_GAIN, MOST_GATE_V = 5.0, 100.0, 12.0


def wire(hookup: Hookup) -> Iterator[Wired]:
    """Low side: the lamp between the lamps' rail and the transistor, which leads to 0 V. High side: the transistor on
    the rail, the lamp between it and 0 V. The resistor lies in the lead that the transistor switches, so that dies with
    a common lead have one each.

    Args:
        hookup: the driver.
    """
    driver = hookup.driver
    assert isinstance(driver, Switch)
    part = hookup.build.shelf.find(TransistorPart, driver.transistor_id)
    for hung in hookup.hung():
        yield from _one(hookup, driver, part, hung)


def _one(hookup: Hookup, driver: Switch, part: TransistorPart, hung: Hung) -> Iterator[Wired]:
    output, high = hung.channel.output, part.sort == "p_mosfet"
    words = ("base", "collector", "emitter") if part.sort == "bjt" else ("gate", "drain", "source")
    control, switched, fixed = (hookup.part_end(f"transistor {output + 1}", word) for word in words)
    rail = hookup.rail()
    yield transistor(f"{control.of}", part, control, switched, fixed)
    yield hookup.row(
        f"{output}/source", COMMONS, rail if high else hookup.zero, fixed, role="lamp supply" if high else "return"
    )
    if driver.pull_ohm is not None:
        yield hookup.row(f"{output}/pull", CONTROL, control, fixed, resistor(driver.pull_ohm))
    pin, given = steering(hookup, output, sinks=high and not driver.has_driver)
    yield given
    if driver.has_driver:
        yield from _gate_driver(hookup, driver, output, pin, control, rail, high)
    else:
        yield hookup.row(f"{output}/gate", CONTROL, pin, control, resistor(driver.base_ohm))
    yield from hookup.on_output(hung, switched, None if high else rail)


def transistor(name: str, part: TransistorPart, control: End, switched: End, fixed: End) -> Fitted:
    """A transistor between its three terminals.

    Args:
        name: its name in the circuit.
        part: the transistor.
        control: its base or gate.
        switched: its collector or drain.
        fixed: its emitter or source.
    """

    def law(_: Still, at: At) -> tuple[Element, ...]:
        legs = at(control), at(switched), at(fixed)
        if part.sort == "bjt":
            return (Bipolar(name, *legs, "npn", part.vbe_v, OWN_BASE_OHM, part.vce_sat_v, USUAL_GAIN),)
        volts = tuple(at_v for at_v, _ in sorted(part.rds_table))
        ohms = tuple(max(ohm, LEAST_OHM) for _, ohm in sorted(part.rds_table))
        return (Mosfet(name, *legs, "pmos" if part.sort == "p_mosfet" else "nmos", volts, ohms),)

    return Fitted(name, (control, switched, fixed), law)


def _gate_driver(
    hookup: Hookup, driver: Switch, output: int, pin: End, gate: End, rail: End, high: bool
) -> Iterator[Wired]:
    """A gate driver on the lamps' rail: it gives the gate that voltage against the transistor's source, or what a gate
    bears where the rail has more."""
    word = f"gate driver {output + 1}"
    end = {name: hookup.part_end(word, name) for name in ("in", "out", "supply", "0 V")}
    yield hookup.row(f"{output}/driver/0v", COMMONS, hookup.zero, end["0 V"], role="return")
    yield hookup.row(f"{output}/driver/plus", COMMONS, rail, end["supply"], role="lamp supply")
    yield hookup.row(f"{output}/driver/cap", CONTROL, end["supply"], end["0 V"], DECOUPLING)
    yield hookup.row(f"{output}/driver/in", CONTROL, pin, end["in"])
    yield hookup.row(f"{output}/gate", CONTROL, end["out"], gate, resistor(driver.base_ohm))
    kept_v, ohm = max(0.0, driver.led_v - MOST_GATE_V), max(hookup.board_part.pin_ohm, LEAST_OHM)

    def law(still: Still, at: At) -> tuple[Element, ...]:
        state: State = "low" if still.on(driver.id, output) == high else "high"
        nodes = at(end["out"]), at(end["supply"]), at(end["0 V"])
        drops = (0.0, ohm, kept_v, ohm) if high else (kept_v, ohm, 0.0, ohm)
        return (Output(end["out"].node, *nodes, state, *drops, both_ways=not kept_v),)

    yield Fitted(end["out"].node, (end["out"], end["supply"], end["0 V"]), law, (end["in"],))
