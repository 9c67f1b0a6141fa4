"""Rules on transistors: base and gate resistors, gates that are barely on, heat."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from tiny_lantern.electrical.drive.bjt import base_ideal_ohm
from tiny_lantern.electrical.drive.mosfet import BARELY_V
from tiny_lantern.electrical.driven.contract import ChannelResult
from tiny_lantern.electrical.driven.sink import best_supply_v
from tiny_lantern.electrical.driven.steering import steering_of
from tiny_lantern.electrical.driven.switch import OneSwitch, bjt_of, one_switch, transistor_of
from tiny_lantern.electrical.lamp.eseries import E12, preferred
from tiny_lantern.findings.driven import at_channel, at_driver, driven, one_step, tenth_up
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import with_part
from tiny_lantern.model.edits_drive import change_driver
from tiny_lantern.model.parts.regulator import RegulatorPart
from tiny_lantern.model.parts.transistor import TransistorPart
from tiny_lantern.model.quantities import amps, engineering, volts
from tiny_lantern.model.ways.hold import HoldRail
from tiny_lantern.model.ways.sink import SinkChain
from tiny_lantern.model.ways.switch import Switch

GATE_OHM, PULL_OHM = 220.0, 100_000.0
LOGIC_LEVEL = "mosfet-logic"


def _first(result: ChannelResult, driver: Switch) -> OneSwitch:
    """The transistor that carries most."""
    case, part = result.case, transistor_of(result.case)
    at = int(result.on_a.argmax())
    return one_switch(driver, part, steering_of(case), case.board.ambient_c, case.channels[at], case.lamps[at])


def _switches(evidence: Evidence) -> Iterator[tuple[Switch, ChannelResult, TransistorPart, OneSwitch]]:
    for driver, result in driven(evidence, Switch):
        if len(result.on_a):
            yield driver, result, transistor_of(result.case), _first(result, driver)


@rule("no-base-resistor", "{n} transistors lack the resistor at their base or gate")
def no_base_resistor(evidence: Evidence) -> Iterator[Finding]:
    """A base on a pin without a resistor draws all that the pin gives; a gate without one rings, and loads the pin."""
    for driver, result, part, one in _switches(evidence):
        if driver.base_ohm:
            continue
        board = steering_of(result.case)
        if part.sort == "bjt":
            bjt = bjt_of(part, board, result.case.board.ambient_c)
            ideal = base_ideal_ohm(bjt, one.current_a) if one.current_a > 0 else 0.0
            good = preferred(ideal, E12).down if ideal > 0 else None
            over = one.pin_a > board.pin_absolute_a or one.pin_a > part.base_limit_a
            limit = min(board.pin_absolute_a, part.base_limit_a)
            yield Finding(
                Severity.DANGER if over else Severity.WONT_WORK, "no-base-resistor", at_driver(evidence.build, driver),
                f"{driver.name} has no base resistor",
                f"Its pin would give {amps(one.pin_a)}, and {amps(limit)} is the most that pin and base bear.",
                one_step("Base current", "I_B = (V_pin − V_BE) / R_pin",
                         f"({board.logic_v:g} − {part.vbe_v:g}) / {board.pin_ohm:g}", amps(one.pin_a)),
                () if good is None else (Fix(f"Fit {engineering(good, 'ohm')}",
                                             partial(change_driver, driver_id=driver.id, base_ohm=good)),),
            )  # fmt: skip
        else:
            yield Finding(
                Severity.WEAK_SPOT, "no-base-resistor", at_driver(evidence.build, driver),
                f"{driver.name} has no gate resistor",
                "A gate is a capacitor: without about 220 Ω its charging current is the pin's most, and it may ring.",
                None, (Fix("Fit 220 Ω", partial(change_driver, driver_id=driver.id, base_ohm=GATE_OHM)),),
            )  # fmt: skip


@rule("no-pull", "{n} gates float while the board boots")
def no_pull(evidence: Evidence) -> Iterator[Finding]:
    """A gate without a pull resistor: its lamps may light while the board boots."""
    for driver, _, part, _ in _switches(evidence):
        if part.sort != "bjt" and driver.pull_ohm is None:
            yield Finding(
                Severity.WEAK_SPOT, "no-pull", at_driver(evidence.build, driver),
                f"The gate of {driver.name} floats while the board boots",
                "Its lamps may light by themselves. 100 kΩ from gate to source keeps it off.",
                None, (Fix("Fit 100 kΩ", partial(change_driver, driver_id=driver.id, pull_ohm=PULL_OHM)),),
            )  # fmt: skip


@rule("barely-on", "{n} transistors are barely on")
def barely_on(evidence: Evidence) -> Iterator[Finding]:
    """A gate that gets less than 1.5 V over its threshold: its resistance is anyone's guess, and it grows hot."""
    for driver, result, part, one in _switches(evidence):
        if not (one.barely_on or one.unknown) or one.gate_v is None:
            continue
        needed_v = part.threshold_v + BARELY_V
        lacks_v = needed_v - one.gate_v
        told = f" It makes {engineering(one.heat_w, 'W')} and {one.warm_c:.0f} °C." if not one.unknown else ""
        yield Finding(
            Severity.WONT_WORK if one.unknown else Severity.WEAK_SPOT, "barely-on", at_driver(evidence.build, driver),
            f"{driver.name}: its gate gets {volts(one.gate_v)}",
            f"{volts(needed_v)} turn it on well: {volts(lacks_v)} too little.{told}"
            if lacks_v > 0 else f"Nobody tells what {volts(one.gate_v)} on its gate does.",
            one_step("Gate voltage", "V = V_pin · R_pull / (R_pull + R_series + R_pin)",
                     f"{steering_of(result.case).logic_v:g} V", volts(one.gate_v)),
            (Fix("A logic-level transistor", partial(_with_transistor, driver_id=driver.id)),),
        )  # fmt: skip


def _with_transistor(build: Build, driver_id: str) -> Build:
    from tiny_lantern.catalogue.shelf import all_parts  # only when the mend is tried

    part = all_parts(build).find(TransistorPart, LOGIC_LEVEL)
    return change_driver(with_part(build, part), driver_id, transistor_id=part.id)


@rule("high-side-stays-on", "{n} high-side transistors never turn off")
def high_side_stays_on(evidence: Evidence) -> Iterator[Finding]:
    """A high-side transistor whose supply is above the pin's high: the pin cannot turn it off."""
    for driver, result, part, one in _switches(evidence):
        if one.turns_off:
            continue
        high_v = steering_of(result.case).logic_v
        yield Finding(
            Severity.WONT_WORK, "high-side-stays-on", at_driver(evidence.build, driver),
            f"{driver.name} never turns off",
            f"With {volts(driver.led_v)} on its source and {volts(high_v)} from the pin its "
            f"gate is still driven by more than {volts(part.threshold_v)}: it needs a driver.",
            one_step("Source to gate, off", "V = (V_led − V_pin) · R_pull / (R_pull + R_series)",
                     f"{driver.led_v:g} − {high_v:g}", f"over {volts(part.threshold_v)}"),
            (Fix("Add a driver", partial(change_driver, driver_id=driver.id, has_driver=True, pull_ohm=10_000.0)),),
        )  # fmt: skip


@rule("transistor-limit", "{n} transistors carry more than they bear")
def transistor_limit(evidence: Evidence) -> Iterator[Finding]:
    """A transistor that carries more than it bears, or whose supply is above what it blocks."""
    for driver, _, part, one in _switches(evidence):
        for value, limit, unit in ((one.current_a, part.most_a, "A"), (driver.led_v, part.most_v, "V")):
            if value > limit * (1 + 1e-9):
                yield Finding(
                    Severity.DANGER, "transistor-limit", at_driver(evidence.build, driver),
                    f"{driver.name}: {value:.3g} {unit} on a transistor for {limit:g} {unit}",
                    f"{value - limit:.3g} {unit} too much. Choose a larger transistor.",
                    one_step("Beyond the limit", "value − limit", f"{value:.3g} − {limit:g}",
                             f"{value - limit:.3g} {unit}"),
                )  # fmt: skip


@rule("too-hot", "{n} parts grow too hot")
def too_hot(evidence: Evidence) -> Iterator[Finding]:
    """A transistor, chip or regulator hotter than it may be; told as a number, and not with a finger."""
    for driver, result in driven(evidence, Switch, SinkChain, HoldRail):
        for block in result.blocks:
            if block.unit != "°C" or not block.over:
                continue
            channels = result.case.channels
            place = at_channel(channels[block.first], driver) if block.stop > block.first else at_driver(
                evidence.build, driver
            )  # fmt: skip
            yield Finding(
                Severity.DANGER, "too-hot", place, f"{block.name} would reach {block.value:.0f} °C",
                f"{block.limit:g} °C is its limit: {block.value - block.limit:.0f} K too much at "
                f"{result.case.board.ambient_c:g} °C around it. {_cooler(driver)}",
                one_step(f"Temperature of {block.name}", "T = T_amb + P · θ_JA", f"{result.case.board.ambient_c:g} + …",
                         f"{block.value:.0f} °C"),
                _lower_supply(driver, result),
            )  # fmt: skip


def _cooler(driver: Switch | SinkChain | HoldRail) -> str:
    if isinstance(driver, SinkChain):
        return "A lower LED supply, or a resistor in each LED's lead, takes heat off the chip."
    if isinstance(driver, HoldRail):
        return "Feed its regulator from a lower voltage."
    return "Choose a transistor of lower resistance, or one with a heat sink."


def _lower_supply(driver: Switch | SinkChain | HoldRail, result: ChannelResult) -> tuple[Fix, ...]:
    if isinstance(driver, SinkChain) and result.case.lamps:
        best_v = tenth_up(best_supply_v(result.case))
        if best_v < driver.led_v:
            return (Fix(f"LED supply of {volts(best_v)}", partial(change_driver, driver_id=driver.id, led_v=best_v)),)
    if isinstance(driver, HoldRail):
        part = result.case.build.shelf.find(RegulatorPart, driver.regulator_id)
        in_v = round(driver.out_v + part.dropout_v + 0.3, 1)
        if in_v < driver.in_v:
            return (Fix(f"Feed it from {volts(in_v)}", partial(change_driver, driver_id=driver.id, in_v=in_v)),)
    return ()
