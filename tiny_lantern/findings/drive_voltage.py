"""Rules on voltages that parts of a drive bear: of chips, of dark dies the wrong way round, and returns left apart."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from tiny_lantern.electrical.driven.contract import Case
from tiny_lantern.electrical.driven.switch import transistor_of
from tiny_lantern.electrical.supplies import reaching_supplies
from tiny_lantern.findings.driven import at_channel, at_driver, called, driven, one_step, row_transistors
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.build import Build, Supply
from tiny_lantern.model.edits_drive import change_driver
from tiny_lantern.model.edits_power import change_supply
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.place import Place
from tiny_lantern.model.quantities import volts
from tiny_lantern.model.sources import supply_behind
from tiny_lantern.model.steering import chain_of
from tiny_lantern.model.ways.demux import Demux
from tiny_lantern.model.ways.pair import ReversingPair
from tiny_lantern.model.ways.register import RegisterChain
from tiny_lantern.model.ways.relay import RelayBoard
from tiny_lantern.model.ways.scanned import Scanned
from tiny_lantern.model.ways.sink import SinkChain
from tiny_lantern.model.ways.switch import Switch

HAIR_V, OVER_V = 1e-9, 0.3


@rule("chip-voltage", "{n} chips get more voltage than they bear")
def chip_voltage(evidence: Evidence) -> Iterator[Finding]:
    """A lamp supply above what a chip is fed at most, or above what a dark sink output bears."""
    for driver, result in driven(evidence, RegisterChain, Scanned, Demux, SinkChain):
        chip = evidence.build.shelf.find(ChipPart, driver.chip_id)
        lost_v = _least_foot_v(result.case) if isinstance(driver, SinkChain) else 0.0
        got_v = driver.led_v - lost_v
        if got_v <= chip.most_v + HAIR_V:
            continue
        most_v = chip.most_v + lost_v
        where = "an output that is dark" if isinstance(driver, SinkChain) else "it"
        yield Finding(
            Severity.DANGER, "chip-voltage", at_driver(evidence.build, driver),
            f"{driver.name}: {volts(got_v)} on a chip for {chip.most_v:g} V",
            f"{volts(got_v - chip.most_v)} too much for {where}: it dies at once, and may short. Feed the lamps at "
            f"most {volts(most_v)}, or take transistors.",
            one_step("Voltage", "V_led − Vf" if lost_v else "V_led", f"{driver.led_v:g} − {lost_v:.2f}", volts(got_v)),
            (Fix(f"Lamp supply of {volts(most_v)}", partial(change_driver, driver_id=driver.id, led_v=most_v)),),
        )  # fmt: skip


def _least_foot_v(case: Case) -> float:
    """The least that a lamp takes before any current flows. [V]"""
    return min((lamp.led.foot_v for lamp in case.lamps if lamp.led is not None), default=0.0)


@rule("pin-over", "{n} pins meet more volts than they bear")
def pin_over(evidence: Evidence) -> Iterator[Finding]:
    """A pin that reads while its board boots, and is pulled up to more than it bears by what it is to control."""
    for driver, result in driven(evidence, Switch):
        part = transistor_of(result.case)
        if part.sort != "p_mosfet" or driver.has_driver or driver.pull_ohm is None or not result.case.channels:
            continue
        if chain_of(evidence.build, driver) is not None:
            continue  # an output of a register is driven at all times
        bears_v = result.case.board_part.logic_v + OVER_V
        if driver.led_v <= bears_v + HAIR_V:
            continue
        yield Finding(
            Severity.DANGER, "pin-over", at_driver(evidence.build, driver),
            f"A pin of {driver.name} is pulled up to {volts(driver.led_v)}",
            f"While its board boots a pin is an input, and bears {volts(bears_v)}: {volts(driver.led_v - bears_v)} too "
            "much. A driver between pin and gate keeps the two apart.",
            one_step("What a pin bears", "V = V_logic + 0.3 V", f"{result.case.board_part.logic_v:g} + 0.3",
                     volts(bears_v)),
            (Fix("Add a driver", partial(change_driver, driver_id=driver.id, has_driver=True, pull_ohm=10_000.0)),),
        )  # fmt: skip


@rule("reverse-voltage", "{n} lamps get too much voltage the wrong way round")
def reverse_voltage(evidence: Evidence) -> Iterator[Finding]:
    """A dark die that is driven backwards: in a matrix whose rows are pushed low, or by the lit die of its lamp."""
    for driver, result in driven(evidence, Scanned, ReversingPair):
        if isinstance(driver, Scanned) and driver.rows_by == "transistor":
            continue
        case = result.case
        for at, lamp in enumerate(case.lamps):
            if not isinstance(lamp.part, LampPart):
                continue
            got_v = driver.led_v if isinstance(driver, Scanned) else float(result.lamp_v[at])
            over_v = got_v - lamp.part.reverse_v
            if over_v <= HAIR_V:
                continue
            tries = (Fix("Row transistors", partial(row_transistors, driver_id=driver.id)),) if isinstance(
                driver, Scanned) else ()  # fmt: skip
            yield Finding(
                Severity.WEAK_SPOT, "reverse-voltage", at_channel(case.channels[at], driver),
                f"{called(case, at)}: {volts(got_v)} the wrong way round",
                f"It bears {volts(lamp.part.reverse_v)}: {volts(over_v)} too much; dark, it ages or dies.",
                one_step("Reverse voltage", "V_column − V_row" if isinstance(driver, Scanned) else "Vf of the lit die",
                         f"{got_v:.2f} − 0" if isinstance(driver, Scanned) else f"{got_v:.2f}", volts(got_v)), tries,
            )  # fmt: skip
            break


@rule("no-common-return", "{n} supplies have no return in common")
def no_common_return(evidence: Evidence) -> Iterator[Finding]:
    """A supply whose negative is apart from that of what controls its lamps: no current and no signal comes back."""
    build = evidence.build
    for supply in build.supplies:
        if supply.joined:
            continue
        names = _apart(build, supply, evidence)
        if names:
            yield Finding(
                Severity.WONT_WORK, "no-common-return", Place.on("supplies", supply.id),
                f"{supply.name} has no return in common with what controls its lamps",
                f"{len(names)} of them stay dark or flicker: {', '.join(names)}. Join its negative to the board's.",
                None, (Fix("Join the returns", partial(change_supply, supply_id=supply.id, joined=True)),),
            )  # fmt: skip


def _apart(build: Build, supply: Supply, evidence: Evidence) -> list[str]:
    """What the supply feeds while something on another one controls it: driven lamps, and strips with a data line."""
    names = []
    for result in evidence.drive.by_driver.values():
        driver = result.case.driver
        if isinstance(driver, RelayBoard) or supply_behind(build, driver.lamps_fed_by) != supply.id:
            continue
        if supply_behind(build, result.case.board.fed_by) != supply.id:
            names.append(driver.name)
    boards_here = [board for board in build.boards if supply_behind(build, board.fed_by) == supply.id]
    if len(build.supplies) > 1 and not boards_here:
        strips = {strip.id: strip.name for strip in build.strips}
        names += [strips[strip_id] for strip_id, ids in reaching_supplies(build).items() if supply.id in ids]
    return names
