"""Rules on rails of self-changing lamps: the hold window, what the switches let through, the regulator, the pulses."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from tiny_lantern.catalogue.shelf import all_parts
from tiny_lantern.circuit.held import HeldLamps
from tiny_lantern.electrical.driven.hold import heat_of, held_of, lamps_of, regulator_of
from tiny_lantern.findings.driven import at_driver, driven, one_step, other_transistor, tenth_up
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.edits_drive import change_driver
from tiny_lantern.model.parts.transistor import TransistorPart
from tiny_lantern.model.quantities import volts
from tiny_lantern.model.ways.hold import HoldRail


@rule("hold-missed", "{n} hold rails miss their window")
def hold_missed(evidence: Evidence) -> Iterator[Finding]:
    """A hold voltage at which some lamp forgets its place, or glows."""
    for driver, result in driven(evidence, HoldRail):
        held = held_of(result.case)
        if held.holds:
            continue
        low, high = held.allowed_v
        foot_v, top_v = lamps_of(result.case).window_v
        margin = min(held.low_margin_v, held.high_margin_v)
        words = "the farthest lamp forgets its place" if held.low_margin_v < 0 else "the nearest lamp glows"
        middle = round((low + high) / 2, 3)
        yield Finding(
            Severity.WONT_WORK, "hold-missed", at_driver(evidence.build, driver),
            f"{driver.name} is not held: {words}",
            f"Lamps are held from {volts(foot_v)} to {volts(top_v)}; it misses by {abs(margin) * 1000:.0f} mV. "
            + (f"{low:.3f} to {high:.3f} V at the regulator hold all." if held.window_exists else
               "No voltage holds all: thicker wire, or fewer lamps on a rail."),
            one_step("Margin", "V_lamp − limit", f"{driver.out_v:g} V at the regulator", f"{margin * 1000:.0f} mV"),
            (Fix(f"{middle:g} V", partial(change_driver, driver_id=driver.id, out_v=middle)),)
            if held.window_exists else (),
        )  # fmt: skip


@rule("hold-switch", "{n} hold rails do not get through their switches")
def hold_switch(evidence: Evidence) -> Iterator[Finding]:
    """Switches of a hold rail whose gates or bases do not get what they need against what they switch."""
    for driver, result in driven(evidence, HoldRail):
        found: HeldLamps | None = evidence.drive.held.get(driver.id)
        if found is None or not held_of(result.case).holds:
            continue
        if found.full_v <= driver.dark_v:
            what, least = f"full, its lamps get {volts(found.full_v)}", f"More than {volts(driver.dark_v)} light them."
        elif found.low_v < driver.hold_v or found.high_v > driver.dark_v:
            what = f"held, its lamps get {volts(found.low_v)} to {volts(found.high_v)}"
            least = f"They keep their place from {volts(driver.hold_v)} to {volts(driver.dark_v)}."
        else:
            continue
        part = evidence.build.shelf.find(TransistorPart, driver.transistor_id)
        yield Finding(
            Severity.WONT_WORK, "hold-switch", at_driver(evidence.build, driver),
            f"{driver.name}: {what}",
            f"{least} A {part.name} does not switch these rails: what drives it is counted against what it switches.",
            one_step("Lamps", "solved with its switches", f"{driver.out_v:g} V held, {driver.full_v:g} V full", what),
            tuple(
                Fix(other.name, partial(other_transistor, driver_id=driver.id, part=other))
                for other in all_parts(evidence.build).of(TransistorPart) if other.id != part.id
            ),
        )  # fmt: skip


@rule("no-headroom", "{n} regulators have too little headroom")
def no_headroom(evidence: Evidence) -> Iterator[Finding]:
    """A regulator fed with less than its output and its dropout."""
    for driver, result in driven(evidence, HoldRail):
        heat, part = heat_of(result.case), regulator_of(result.case)
        if heat.headroom_ok:
            continue
        in_v = tenth_up(driver.out_v + part.dropout_v)
        yield Finding(
            Severity.WONT_WORK, "no-headroom", at_driver(evidence.build, driver),
            f"The regulator of {driver.name} has {volts(heat.headroom_v)} of headroom",
            f"It needs {volts(part.dropout_v)}: {volts(part.dropout_v - heat.headroom_v)} too little.",
            one_step("Headroom", "V_in − V_out", f"{driver.in_v:g} − {driver.out_v:g}", volts(heat.headroom_v)),
            (Fix(f"Feed it from {volts(in_v)}", partial(change_driver, driver_id=driver.id, in_v=in_v)),),
        )  # fmt: skip


@rule("pulsed-to-zero", "{n} rails of self-changing lamps are pulsed outside their range")
def pulsed_wrongly(evidence: Evidence) -> Iterator[Finding]:
    """Self-changing lamps pulsed slower than 100 Hz or faster than 1 kHz."""
    for driver, _ in driven(evidence, HoldRail):
        if not 100 <= driver.pulse_hz <= 1000:
            yield Finding(
                Severity.WEAK_SPOT, "pulsed-to-zero", at_driver(evidence.build, driver),
                f"{driver.name} is pulsed {driver.pulse_hz:g} times a second",
                "Between hold and full 100 Hz to 1 kHz keep their place and do not flicker.", None,
                (Fix("400 Hz", partial(change_driver, driver_id=driver.id, pulse_hz=400.0)),),
            )  # fmt: skip
