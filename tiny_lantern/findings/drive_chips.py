"""Rules on registers, sinks and matrices: control legs, commons, compliance, rows, refresh."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from tiny_lantern.catalogue.shelf import all_parts
from tiny_lantern.electrical.drive.scanned import MOVING_HZ, STILL_HZ, steady_enough
from tiny_lantern.electrical.drive.sink import least_output_v
from tiny_lantern.electrical.driven.contract import ChannelResult
from tiny_lantern.electrical.driven.scanned import pattern, row_limit_a
from tiny_lantern.electrical.driven.sink import best_supply_v, chip_of, chip_state
from tiny_lantern.electrical.driven.solution import comes_round_hz, quicker
from tiny_lantern.electrical.lamp.eseries import E24, preferred
from tiny_lantern.findings.driven import (
    at_channel,
    at_driver,
    called,
    driven,
    one_step,
    other_transistor,
    row_transistors,
    tenth_up,
)
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_drive import change_driver
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.parts.transistor import TransistorPart
from tiny_lantern.model.quantities import amps, volts
from tiny_lantern.model.ways.demux import Demux
from tiny_lantern.model.ways.register import RegisterChain
from tiny_lantern.model.ways.scanned import Scanned
from tiny_lantern.model.ways.sink import SinkChain
from tiny_lantern.model.ways.switch import Switch
from tiny_lantern.show.channels import ON_FROM, show_levels

FADED = 0.05


@rule("control-floating", "{n} chains have a control leg that floats")
def control_floating(evidence: Evidence) -> Iterator[Finding]:
    """Enable or clear of a chain that is wired to nothing: outputs flicker or stay dark."""
    for driver, _ in driven(evidence, RegisterChain, SinkChain, Scanned):
        for leg, wired, to in (("enable", driver.enable_wired, "0 V"), ("clear", driver.clear_wired, "the supply")):
            if not wired:
                yield Finding(
                    Severity.WONT_WORK, "control-floating", at_driver(evidence.build, driver),
                    f"{leg.capitalize()} of {driver.name} is not wired",
                    f"The leg floats: outputs flicker or stay dark. Wire it to {to}.", None,
                    (Fix("Add that wire", partial(_wired, driver_id=driver.id, leg=leg)),),
                )  # fmt: skip


def _wired(build: Build, driver_id: str, leg: str) -> Build:
    return change_driver(build, driver_id, **{f"{leg}_wired": True})


def _sinks(build: Build, driver: RegisterChain | SinkChain | Switch) -> bool:
    """Whether a lamp lies between its supply and the output."""
    if isinstance(driver, Switch):
        return build.shelf.find(TransistorPart, driver.transistor_id).sort != "p_mosfet"
    return isinstance(driver, SinkChain) or driver.sink


def _other_way_round(build: Build, driver: RegisterChain | SinkChain | Switch, sinks: bool) -> Iterator[Fix]:
    if isinstance(driver, RegisterChain):
        yield Fix("The other way round", partial(change_driver, driver_id=driver.id, sink=not sinks))
    if isinstance(driver, Switch):
        wanted = "p_mosfet" if sinks else "mosfet"
        for part in all_parts(build).of(TransistorPart):
            if part.sort == wanted:
                yield Fix(part.name, partial(other_transistor, driver_id=driver.id, part=part))


@rule("common-type", "{n} lamps have their common lead on the wrong side")
def common_type(evidence: Evidence) -> Iterator[Finding]:
    """A lamp whose dies meet in the anode, on outputs that source; or in the cathode, on outputs that sink."""
    for driver, result in driven(evidence, RegisterChain, SinkChain, Switch):
        sinks = _sinks(evidence.build, driver)
        for at, lamp in enumerate(result.case.lamps):
            common = lamp.part.common if isinstance(lamp.part, LampPart) else "none"
            if common == ("cathode" if sinks else "anode"):
                fix = tuple(_other_way_round(evidence.build, driver, sinks))
                yield Finding(
                    Severity.WONT_WORK, "common-type", at_channel(result.case.channels[at], driver),
                    f"{lamp.piece.name} has a common {common}, and its outputs {'sink' if sinks else 'source'}",
                    f"Lamps of a common {common} want outputs that {'source' if sinks else 'sink'}.", None, fix,
                )  # fmt: skip
                break


@rule("out-of-compliance", "{n} sinks do not hold their current")
def out_of_compliance(evidence: Evidence) -> Iterator[Finding]:
    """A sink output left with too little voltage: its current, and so its brightness, depends on how many are lit."""
    for driver, result in driven(evidence, SinkChain):
        part = evidence.build.shelf.find(ChipPart, driver.chip_id)
        for block in result.blocks:
            if block.stop <= block.first:
                continue
            state = chip_state(result.case, part, block.first, block.stop)
            least_v = least_output_v(chip_of(driver, part).set_a)
            lost = [at for at in range(block.stop - block.first) if not state.in_compliance[at]]
            if not lost:
                continue
            worst = min(lost, key=lambda at: float(state.output_v[at]))
            best_v = tenth_up(best_supply_v(result.case))
            yield Finding(
                Severity.WEAK_SPOT, "out-of-compliance", at_channel(result.case.channels[block.first + worst], driver),
                f"{called(result.case, block.first + worst)}: its output has {volts(float(state.output_v[worst]))}",
                f"It needs {volts(least_v)} to hold {amps(chip_of(driver, part).set_a)}: "
                f"{volts(least_v - float(state.output_v[worst]))} too little; {len(lost)} outputs do not hold.",
                one_step("Voltage of the output", "V = V_led − Vf − I · R", f"{driver.led_v:g} − …",
                         volts(float(state.output_v[worst]))),
                (Fix(f"LED supply of {volts(best_v)}", partial(change_driver, driver_id=driver.id, led_v=best_v)),)
                if best_v > driver.led_v else
                (Fix("Take the shared resistor out", partial(change_driver, driver_id=driver.id, common_ohm=0.0)),),
            )  # fmt: skip


@rule("row-overload", "{n} matrices overload what carries their rows")
def row_overload(evidence: Evidence) -> Iterator[Finding]:
    """A row that carries the sum of its columns on something that cannot."""
    for driver, result in driven(evidence, Scanned):
        if not len(result.on_a):
            continue
        row_a, limit_a = float(pattern(result.case).row_line_a.max()), row_limit_a(result.case)
        if row_a <= limit_a * (1 + 1e-9):
            continue
        fix: tuple[Fix, ...] = ()
        if driver.rows_by != "transistor":
            dim_ohm = _column_ohm_for(result, limit_a)
            fix = (
                Fix("Row transistors", partial(row_transistors, driver_id=driver.id)),
                Fix(f"{dim_ohm:g} Ω in each column, dimmer",
                    partial(change_driver, driver_id=driver.id, column_ohm=dim_ohm), beside=True),
            )  # fmt: skip
        yield Finding(
            Severity.WONT_WORK, "row-overload", at_driver(evidence.build, driver),
            f"{driver.name}: {amps(row_a)} in one row",
            f"What carries a row gives {amps(limit_a)}; {driver.columns} columns meet there: "
            f"{amps(row_a - limit_a)} too much.",
            one_step("Current of a row", "I = Σ I_column", f"{driver.columns} columns", amps(row_a)), fix,
        )  # fmt: skip


def _column_ohm_for(result: ChannelResult, row_a: float) -> float:
    """The resistor of each column with which a whole row carries no more than so much. [ohm]"""
    driver = result.case.driver
    assert isinstance(driver, Scanned)
    each_a = row_a / driver.columns
    led = min((lamp.led for lamp in result.case.lamps if lamp.led is not None), key=lambda led: led.foot_v)
    before_ohm = driver.row_ohm * driver.columns + led.slope_ohm
    return preferred(max((driver.led_v - led.foot_v) / each_a - before_ohm, driver.column_ohm), E24).up


@rule("column-overload", "{n} matrices overload their columns")
def column_overload(evidence: Evidence) -> Iterator[Finding]:
    """A column whose peak is more than its output may carry."""
    for driver, result in driven(evidence, Scanned):
        if not len(result.on_a):
            continue
        peak_a, limit_a = float(result.on_a.max()), float(result.most_a[0])
        if peak_a <= limit_a * (1 + 1e-9):
            continue
        foot_v = min(led.led.foot_v for led in result.case.lamps if led.led is not None)
        needed = driver.column_ohm + (driver.led_v - foot_v) * (1 / limit_a - 1 / peak_a)
        more = preferred(needed, E24).up
        yield Finding(
            Severity.WEAK_SPOT, "column-overload", at_driver(evidence.build, driver),
            f"{driver.name}: {amps(peak_a)} in a column",
            f"An output should carry {amps(limit_a)}: {amps(peak_a - limit_a)} too much in each pulse.",
            one_step("Peak of a column", "I = (V − Vf0) / R", f"{driver.led_v:g} V", amps(peak_a)),
            (Fix(f"{more:g} Ω in each column", partial(change_driver, driver_id=driver.id, column_ohm=more)),),
        )  # fmt: skip


@rule("refresh-low", "{n} refresh too seldom")
def refresh_low(evidence: Evidence) -> Iterator[Finding]:
    """A matrix, a chain that dims, or a demultiplexer that comes round too seldom: it flickers."""
    for result in evidence.drive.by_driver.values():
        driver, found, mend = result.case.driver, comes_round_hz(result.case), quicker(result.case)
        if found is None or mend is None or steady_enough(found, moving=False):
            continue
        words, changes = mend
        yield Finding(
            Severity.WEAK_SPOT, "refresh-low", at_driver(evidence.build, driver),
            f"{driver.name} comes round {found:.0f} times a second",
            f"{STILL_HZ:.0f} Hz stand still to the eye, {MOVING_HZ:.0f} Hz where lamps or eyes move: "
            f"{STILL_HZ - found:.0f} Hz too little.",
            one_step("Refresh", "f = f_scan / n", driver.name, f"{found:.1f} Hz"),
            (Fix(words, partial(change_driver, driver_id=driver.id, **changes)),),
        )  # fmt: skip


@rule("one-at-a-time", "{n} demultiplexers are asked to light several at once")
def several_at_once(evidence: Evidence) -> Iterator[Finding]:
    """A show that lights several lamps at once on outputs of which one is on at a time: each is dimmer then."""
    if not evidence.build.effects:
        return
    for driver, _ in driven(evidence, Demux):
        channels = evidence.build.channels_of[driver.id]
        if len(channels) < 2:
            continue
        on = show_levels(evidence.build, channels) >= ON_FROM
        most = int(on.sum(axis=1).max()) if on.size else 0
        if most > 1:
            tick = int(on.sum(axis=1).argmax())
            place = at_driver(evidence.build, driver)
            yield Finding(
                Severity.WONT_WORK, "one-at-a-time",
                type(place)(place.first, None, place.refs, evidence.build.timeline.begins_s(tick)),
                f"{driver.name}: {most} lamps lit at once on one-at-a-time outputs",
                f"A demultiplexer lights one; {most} in turn have {1 / most:.0%} of their light each, and a relay "
                "would chatter. Registers keep them lit.",
                one_step("Share of each", "1 / n", f"1 / {most}", f"{1 / most:.0%}"),
                (Fix("Registers", partial(_drive_again, piece_id=channels[0].slots[0].piece_id, kind="register")),),
            )  # fmt: skip


def _drive_again(build: Build, piece_id: str, kind: str) -> Build:
    from tiny_lantern.plans.ways import drive_piece  # only when the mend is tried

    return drive_piece(build, piece_id, kind)


@rule("wide-steps", "{n} fades show their steps")
def coarse_fade(evidence: Evidence) -> Iterator[Finding]:
    """A lamp that the show fades, on outputs that know on and off only."""
    if not evidence.build.effects:
        return
    for driver, _ in driven(evidence, RegisterChain, Scanned):
        if driver.levels_bits != 1:
            continue
        channels = evidence.build.channels_of[driver.id]
        levels = show_levels(evidence.build, channels)
        between = ((levels > 0.03) & (levels < 0.97)).mean(axis=0) if levels.size else levels
        faded = [at for at, share in enumerate(between) if share > FADED]
        if faded:
            yield Finding(
                Severity.HINT, "wide-steps", at_channel(channels[faded[0]], driver),
                f"{driver.name}: {len(faded)} lamps fade in the show, and their outputs are on or off",
                "They switch at half level. Soft dimming by bit-angle, a sink chip or dimming pins fade them.", None,
                (Fix("Four bits of soft dimming", partial(change_driver, driver_id=driver.id, levels_bits=4)),),
            )  # fmt: skip
