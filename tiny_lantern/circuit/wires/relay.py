"""Loads behind relays."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.circuit.conductor import CHIPS, COMMONS, CONTROL, LAST, Conductor, End, InLine
from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.conducting import Coil, Contact
from tiny_lantern.circuit.elements.outputs import Output
from tiny_lantern.circuit.fitted import At, Fitted, Still
from tiny_lantern.circuit.wires.chips import own_draw
from tiny_lantern.circuit.wires.hookup import Hookup, Hung, Wired
from tiny_lantern.circuit.wires.steering import steering
from tiny_lantern.model.parts.load import LoadPart
from tiny_lantern.model.parts.relay import RelayPart
from tiny_lantern.model.ways.relay import RelayBoard

KINDS = (RelayBoard,)
CONTACT_OHM, DRIVER_OHM = 0.05, 0.5


def wire(hookup: Hookup) -> Iterator[Wired]:
    """The relays' coils on what feeds the board; each load with its contact on a circuit of its own. What is on the
    mains has rows for a licensed person, and no place in the circuit.

    Args:
        hookup: the driver.
    """
    driver = hookup.driver
    assert isinstance(driver, RelayBoard)
    part = hookup.build.shelf.find(RelayPart, driver.relay_id)
    zero, supply = hookup.part_end("relay", "0 V"), hookup.part_end("relay", "supply")
    yield hookup.row("0v", COMMONS, hookup.zero, zero, role="return")
    yield hookup.row("vcc", CHIPS, hookup.rail("coils_fed_by"), supply, role="logic supply")
    yield own_draw(supply.of, supply, zero, 0.0)
    for hung in hookup.hung():
        output = hung.channel.output
        pin, given = steering(hookup, output, sinks=part.active_low)
        yield given
        entry = hookup.part_end("relay", f"input {output + 1}")
        yield hookup.row(f"{output}/in", CONTROL, pin, entry)
        yield from _relay(hookup, part, hung, supply, zero, entry)


def _relay(hookup: Hookup, part: RelayPart, hung: Hung, supply: End, zero: End, entry: End) -> Iterator[Wired]:
    output, driver_id = hung.channel.output, hookup.driver.id
    common, switched = (hookup.part_end("relay", f"contact {output + 1}{word}") for word in (", common", ""))
    coil = hookup.part_end("relay", f"coil {output + 1}")

    def law(still: Still, at: At) -> tuple[Element, ...]:
        on = still.on(driver_id, output)
        return (
            Coil(coil.node, at(supply), at(coil), part.coil_ohm, part.must_operate_v),
            Output(f"{coil.node} driver", at(coil), at(supply), at(zero), "low" if on else "open",
                   low_drop_v=part.driver_drop_v, low_ohm=DRIVER_OHM, both_ways=False),
            Contact(switched.node, at(common), at(switched), CONTACT_OHM, on, coil.node),
        )  # fmt: skip

    yield Fitted(coil.node, (supply, zero, coil, common, switched), law, (entry,))
    load = hung.lamp.part
    if isinstance(load, LoadPart) and load.mains:
        yield from _on_mains(hookup, hung, common, switched)
        return
    fed = hookup.rail("load_fed_by")
    yield hookup.row(f"{output}/feed", LAST, fed, common, role="lamp supply", slot=hung.slot)
    yield hookup.row(f"{output}/contact", LAST, switched, hung.fed, role="lamp supply", slot=hung.slot)
    yield from hookup.common(hung, hookup.zero, hung.other, "return")
    yield from hung.fitted()


def _on_mains(hookup: Hookup, hung: Hung, common: End, switched: End) -> Iterator[Conductor]:
    """Live through a fuse and the contact, neutral and protective earth straight: what is told, by whom it is done."""
    output, by = hung.channel.output, InLine("by a licensed person, to local code")
    ends = (
        ("live", End("mains", "live"), common, (InLine("fuse"), by)),
        ("contact", switched, hung.lead("live"), (by,)),
        ("neutral", End("mains", "neutral"), hung.lead("neutral"), (by,)),
        ("earth", End("mains", "protective earth"), hung.lead("protective earth"), (by,)),
    )
    for key, start, end, in_line in ends:
        yield Conductor(
            f"{hookup.driver.id}/{output}/{key}", LAST, start, end, in_line, "mains", gauge="",
            driver_id=hookup.driver.id, slot=hung.slot, licensed=True,
        )  # fmt: skip
