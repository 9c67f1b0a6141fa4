"""Chips on a chain of lines: their supply, their control legs, and the lines from chip to chip."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.circuit.conductor import CHIPS, COMMONS, CONTROL, DECOUPLING, Conductor, End
from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.loads import Load
from tiny_lantern.circuit.fitted import At, Fitted, Still
from tiny_lantern.circuit.wires.hookup import Hookup, Wired
from tiny_lantern.circuit.wires.pin import output_of
from tiny_lantern.model.drive import bits_for
from tiny_lantern.model.edits import item
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.pin_needs import behind
from tiny_lantern.model.ways.chain import Chain


def chip_of(hookup: Hookup) -> ChipPart:
    """The chip of a driver."""
    return hookup.build.shelf.find(ChipPart, hookup.driver.chip_id)  # type: ignore[attr-defined]


def chain(hookup: Hookup, rail: End) -> Iterator[Wired]:
    """A chain's chips on a rail, with their lines.

    Args:
        hookup: the driver.
        rail: what feeds its chips.
    """
    driver = hookup.driver
    assert isinstance(driver, Chain)
    for number in range(driver.chips):
        yield from _fed(hookup, number, rail)
        yield from _lines(hookup, driver, number, rail)
    yield from multiplexer(hookup)


def _fed(hookup: Hookup, number: int, rail: End) -> Iterator[Wired]:
    chip = chip_of(hookup)
    supply, zero = hookup.leg(chip, number, "supply"), hookup.leg(chip, number, "0 V")
    yield hookup.row(f"{number}/0v", COMMONS, hookup.zero, zero, role="return")
    yield hookup.row(f"{number}/vcc", CHIPS, rail, supply, role="logic supply")
    yield hookup.row(f"{number}/cap", CHIPS, supply, zero, DECOUPLING, "logic supply")
    yield own_draw(supply.of, supply, zero, chip.icc_a)


def own_draw(name: str, supply: End, zero: End, current_a: float) -> Fitted:
    """What a chip draws by itself.

    Args:
        name: its name in the circuit.
        supply: its supply.
        zero: its zero.
        current_a: what it draws. [A]
    """
    return Fitted(name, (supply, zero), lambda _, at: (Load(f"{name} itself", at(supply), at(zero), current_a),))


def _lines(hookup: Hookup, driver: Chain, number: int, high: End) -> Iterator[Conductor]:
    chip = chip_of(hookup)
    if driver.enable_wired and "enable" in chip.legs:
        yield hookup.row(f"{number}/enable", CONTROL, hookup.leg(chip, number, "enable"), hookup.zero)
    if driver.clear_wired and "clear" in chip.legs:
        yield hookup.row(f"{number}/clear", CONTROL, hookup.leg(chip, number, "clear"), high)
    for line, start in (("clock", hookup.pin("clock")), ("latch", latch_end(hookup, driver))):
        yield hookup.row(f"{number}/{line}", CONTROL, start, hookup.leg(chip, number, line), role=line)
    before = hookup.pin("data") if number == 0 else hookup.leg(chip, number - 1, "next")
    yield hookup.row(f"{number}/data", CONTROL, before, hookup.leg(chip, number, "data"), role="data")


def output_leg(hookup: Hookup, chip: ChipPart, output: int) -> tuple[End, End, End]:
    """The leg of an output of the chain, and the supply and the zero of its chip.

    Args:
        hookup: the driver.
        chip: the part.
        output: the number of the output along the chain. [-]
    """
    number, own = divmod(output, chip.outputs)
    return (
        hookup.leg(chip, number, f"out {own}"), hookup.leg(chip, number, "supply"), hookup.leg(chip, number, "0 V"),
    )  # fmt: skip


def chip_output(
    hookup: Hookup, chip: ChipPart, output: int, sinks: bool = False, lights: tuple[str, int] | None = None
) -> Fitted:
    """A push-pull output of a chip, high while it is lit, or low where it sinks.

    Args:
        hookup: the driver.
        chip: the part.
        output: the number of the output along the chain. [-]
        sinks: whether it is low while it is lit.
        lights: the driver and its output that it controls; its own lamps when None.
    """
    leg, supply, zero = output_leg(hookup, chip, output)
    driver_id, lit = lights if lights is not None else (hookup.driver.id, output)

    def law(still: Still, at: At) -> tuple[Element, ...]:
        high = still.on(driver_id, lit) != sinks
        return (output_of(leg.node, at(leg), at(supply), at(zero), "high" if high else "low", chip.out_ohm),)

    return Fitted(leg.node, (leg, supply, zero), law)


def latch_end(hookup: Hookup, driver: Chain) -> End:
    """Where a chain's latch comes from: its pin, or a way of the multiplexer that it is behind.

    Args:
        hookup: the driver.
        driver: the same, as a chain.
    """
    if behind(hookup.build, driver):
        return hookup.part_end("multiplexer", "way 0")
    if driver.bus_of is not None and driver.select_by == "multiplexer":
        owner = item(hookup.build.drivers, driver.bus_of, "driver")
        ids = [other.id for other in behind(hookup.build, owner)]
        return Hookup(hookup.build, owner).part_end("multiplexer", f"way {ids.index(driver.id) + 1}")
    return hookup.pin("latch")


def multiplexer(hookup: Hookup) -> Iterator[Wired]:
    """A multiplexer that leads the latch to the driver's own chain or to one behind it; its ways are wired with the
    chains.

    Args:
        hookup: the driver.
    """
    others = behind(hookup.build, hookup.driver)
    if not others:
        return
    end = hookup.part_end
    yield hookup.row("mux/0v", COMMONS, hookup.zero, end("multiplexer", "0 V"), role="return")
    yield hookup.row("mux/plus", CHIPS, hookup.logic, end("multiplexer", "supply"), role="logic supply")
    yield hookup.row(
        "mux/cap", CHIPS, end("multiplexer", "supply"), end("multiplexer", "0 V"), DECOUPLING, "logic supply"
    )
    yield hookup.control("mux/latch", "latch", end("multiplexer", "common"))
    for bit in range(bits_for(1 + len(others))):
        yield hookup.control(f"mux/select{bit}", f"select {bit}", end("multiplexer", f"select {bit}"))
