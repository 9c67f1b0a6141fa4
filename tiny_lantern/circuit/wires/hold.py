"""Self-changing lamps on a rail that is full, held or off."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace

from tiny_lantern.circuit.conductor import CHIPS, COMMONS, CONTROL, LAMPS, MANY, End, InLine
from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.loads import HoldLamp
from tiny_lantern.circuit.elements.outputs import State
from tiny_lantern.circuit.elements.stages import Regulator
from tiny_lantern.circuit.fitted import At, Fitted, Still
from tiny_lantern.circuit.wires.hookup import Hookup, Wired, lamp_id, resistor
from tiny_lantern.circuit.wires.leads import away_m, lead_of
from tiny_lantern.circuit.wires.pin import pin_by
from tiny_lantern.circuit.wires.switch import transistor
from tiny_lantern.model.effects import SlotRef
from tiny_lantern.model.parts.regulator import RegulatorPart
from tiny_lantern.model.parts.transistor import TransistorPart
from tiny_lantern.model.ways.hold import HoldRail

KINDS = (HoldRail,)
GATE_OHM, REGULATOR_OHM = 220.0, 0.05


def wire(hookup: Hookup) -> Iterator[Wired]:
    """Two switches on one tie, one from the full rail, one from the hold regulator; from there the lamps' plus from
    lamp to lamp, and their minus from lamp to lamp back to 0 V.

    Args:
        hookup: the driver.
    """
    driver = hookup.driver
    assert isinstance(driver, HoldRail)
    if not hookup.channels:
        return
    tie = hookup.part_end("tie", "", MANY)
    yield from _regulator(hookup, driver)
    yield from _switch(hookup, driver, "full", hookup.rail("full_fed_by"), tie)
    yield from _switch(hookup, driver, "hold", hookup.part_end("regulator", f"{driver.out_v:g} V"), tie)
    yield from _lamps(hookup, driver, tie)


def _regulator(hookup: Hookup, driver: HoldRail) -> Iterator[Wired]:
    part = hookup.build.shelf.find(RegulatorPart, driver.regulator_id)
    entry, out, zero = (hookup.part_end("regulator", word) for word in ("in", f"{driver.out_v:g} V", "0 V"))
    yield hookup.row("regulator/in", CHIPS, hookup.rail(), entry, role="lamp supply")
    yield hookup.row("regulator/0v", COMMONS, hookup.zero, zero, role="return")

    def law(_: Still, at: At) -> tuple[Element, ...]:
        legs = at(entry), at(out), at(zero)
        return (Regulator(entry.of, *legs, driver.out_v, part.dropout_v, REGULATOR_OHM, 0.0),)

    yield Fitted(entry.of, (entry, out, zero), law)


def _switch(hookup: Hookup, driver: HoldRail, word: str, source: End, tie: End) -> Iterator[Wired]:
    """One of the two switches. A p-channel has its source at what it switches and is on while its pin is low; others
    have their drain or collector there and follow their pin."""
    part = hookup.build.shelf.find(TransistorPart, driver.transistor_id)
    names = ("base", "collector", "emitter") if part.sort == "bjt" else ("gate", "drain", "source")
    control, switched, fixed = (hookup.part_end(f"{word} switch", name) for name in names)
    entry, leaves = (fixed, switched) if part.sort == "p_mosfet" else (switched, fixed)
    diode = (InLine("diode", REGULATOR_OHM, driver.diode_v),) if word == "hold" and driver.diode_v else ()
    yield hookup.row(f"{word}/in", CHIPS, source, entry, role="lamp supply")
    yield hookup.row(f"{word}/out", LAMPS, leaves, tie, diode, "lamps")
    yield hookup.row(word, CONTROL, hookup.pin(word), control, resistor(GATE_OHM))
    yield transistor(control.of, part, control, switched, fixed)
    yield pin_by(hookup, hookup.pin(word), _pin(driver, word, low=part.sort == "p_mosfet"))


def _pin(driver: HoldRail, word: str, low: bool) -> Callable[[Still], State]:
    def state(still: Still) -> State:
        full = still.on(driver.id, 0)
        return "high" if (full == (word == "full")) != low else "low"

    return state


def _lamps(hookup: Hookup, driver: HoldRail, tie: End) -> Iterator[Wired]:
    refs = [ref for channel in hookup.channels for ref in channel.slots]
    before: End = tie
    back: End = hookup.zero
    for number, ref in enumerate(refs):
        piece = hookup.build.line.piece(ref.piece_id)
        plus, minus = (lead_of(piece, ref.index, word) for word in ("plus", "minus"))
        slot = hookup.build.line.slot_of(ref)
        ohm = driver.lead_ohm if number == 0 else driver.segment_ohm
        key = "rail" if number == 0 else f"rail{number}"
        hop_m = None if number == 0 else away_m(hookup.build, refs[number - 1], ref)
        yield replace(hookup.row(key, LAMPS, before, plus, (), "lamps", slot), told_ohm=ohm, hop_m=hop_m)
        returning = hookup.row("0v" if number == 0 else f"0v{number}", COMMONS, back, minus, (), "return", slot)
        yield replace(returning, hop_m=hop_m)
        yield _lamp(hookup, driver, ref, plus, minus)
        before, back = plus, minus


def _lamp(hookup: Hookup, driver: HoldRail, ref: SlotRef, plus: End, minus: End) -> Fitted:
    name = lamp_id(ref, hookup.channels[0])

    def law(still: Still, at: At) -> tuple[Element, ...]:
        current_a = driver.full_lamp_a if still.on(driver.id, 0) else driver.hold_lamp_a
        return (HoldLamp(name, at(plus), at(minus), current_a, driver.hold_v, driver.dark_v),)

    return Fitted(name, (plus, minus), law)
