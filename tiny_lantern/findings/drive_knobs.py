"""Rules on knobs that dim, and on a counter that starts anywhere."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from typing import Any

from tiny_lantern.electrical.driven.contract import ChannelResult
from tiny_lantern.electrical.inputs.knob import Knob
from tiny_lantern.findings.driven import assign_again, at_driver, driven, one_step
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.light.perception import lightness
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Dimmed
from tiny_lantern.model.edits_drive import change_driver
from tiny_lantern.model.ways.scanned import Scanned


def _knobs(evidence: Evidence) -> Iterator[tuple[Any, ChannelResult, Knob]]:
    """Every way with a knob that reads, and the knob as it is read now."""
    from tiny_lantern.plans.told import bits_of  # reads solved drivers, as this does

    for driver, result in driven(evidence, Dimmed):
        part = result.case.board_part
        if driver.knob and part.adc_bits:
            rest = part.adc_offset if driver.rest_off else 0
            yield driver, result, Knob(part.adc_bits, rest, (1 << part.adc_bits) - 1, bits_of(result))


@rule("offset-glow", "{n} knobs never turn their lamps off")
def offset_glow(evidence: Evidence) -> Iterator[Finding]:
    """An input that reads more than nothing at rest: the lamp never goes out."""
    for driver, result, knob in _knobs(evidence):
        rest = result.case.board_part.adc_offset
        level = knob.level(rest)
        if level > 0:
            share = level / knob.top
            yield Finding(
                Severity.WEAK_SPOT, "offset-glow", at_driver(evidence.build, driver),
                f"{driver.name} glows with its knob at zero",
                f"The input reads {rest} of {1 << knob.adc_bits} at rest: level {level} of {knob.top}, {share:.2%} of "
                f"the light, which looks L* {float(lightness(share)):.1f}. Take {rest} off each reading.",
                one_step("At rest", "level = a · (2^m − 1) div F", f"{rest} · {knob.top} div {knob.full_counts}",
                         str(level)),
                (Fix("Take the rest off", partial(change_driver, driver_id=driver.id, rest_off=True)),),
            )  # fmt: skip


@rule("int-overflow", "{n} knobs overflow the board's whole numbers")
def int_overflow(evidence: Evidence) -> Iterator[Finding]:
    """Levels worked out in ``int`` where it has too few bits: the light jumps as the knob turns."""
    for driver, result, knob in _knobs(evidence):
        bits = result.case.board_part.int_bits
        most = (knob.full_counts - knob.offset_counts) * knob.top
        room = (1 << (bits - 1)) - 1
        if driver.levels_in == "int" and most > room:
            yield Finding(
                Severity.WONT_WORK, "int-overflow", at_driver(evidence.build, driver),
                f"{driver.name}: its knob overflows an int of {bits} bits",
                f"The product goes up to {most}, and the int ends at {room}: from reading {room // knob.top + 1} on "
                "the level is wrong. Work it out in 32 bits.",
                one_step("Largest product", "(F − o) · (2^m − 1)",
                         f"({knob.full_counts} − {knob.offset_counts}) · {knob.top}", str(most)),
                (Fix("In 32 bits", partial(change_driver, driver_id=driver.id, levels_in="32 bits")),),
            )  # fmt: skip


@rule("no-reading", "{n} knobs are on pins that read no volts")
def no_reading(evidence: Evidence) -> Iterator[Finding]:
    """A knob on a pin that reads no volts."""
    for driver, result in driven(evidence, Dimmed):
        name = next((each.pin for each in driver.pins if each.role == "knob"), None)
        pin = result.case.board_part.pin(name) if name is not None else None
        if driver.knob and pin is not None and not pin.adc:
            count = sum(each.adc for each in result.case.board_part.pins)
            yield Finding(
                Severity.WONT_WORK, "no-reading", at_driver(evidence.build, driver),
                f"{driver.name}: pin {pin.name} cannot read its knob",
                f"{count} pins of {result.case.board_part.name} read volts; pin {pin.name} tells high from low only.",
                one_step("Pins that read volts", "", result.case.board_part.name, str(count)),
                (assign_again(driver.board_id, driver.id),),
            )  # fmt: skip


def _reset_wired(build: Build, driver_id: str) -> Build:
    from tiny_lantern.plans.rewire import change_way  # only when the mend is tried

    return change_way(build, driver_id, reset_wired=True, reset_by="pin")


@rule("counter-start", "{n} counters start at an unknown row")
def counter_start(evidence: Evidence) -> Iterator[Finding]:
    """Rows stepped by a counter whose reset goes nowhere: the picture starts shifted."""
    for driver, _ in driven(evidence, Scanned):
        if driver.rows_by == "counter" and not driver.starts_known:
            own = driver.reset_wired
            yield Finding(
                Severity.WEAK_SPOT if own else Severity.WONT_WORK, "counter-start", at_driver(evidence.build, driver),
                f"{driver.name}: its counter may start at any of {driver.rows} rows",
                f"The picture is then shifted by up to {driver.rows - 1} rows"
                + (": its own output brings it round, and says nothing of where it starts. " if own else ". ")
                + "Lead the counter's reset to a pin, and pulse it before the first row.",
                one_step("Rows off", "n − 1", f"{driver.rows} − 1", str(driver.rows - 1)),
                (Fix("Reset by a pin" if own else "Wire its reset", partial(_reset_wired, driver_id=driver.id)),),
            )  # fmt: skip
