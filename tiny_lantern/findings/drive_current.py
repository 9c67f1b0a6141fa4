"""Rules on the current of driven lamps: resistors, limits of outputs, boards and lamps."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from tiny_lantern.electrical.driven.contract import NO_LIMIT, Case, ChannelResult, case_of
from tiny_lantern.electrical.driven.solution import solver_of, source_of
from tiny_lantern.electrical.lamp.eseries import E12, preferred
from tiny_lantern.electrical.lamp.loop import HEADROOM_V, ideal_ohm, loop_current
from tiny_lantern.findings.driven import at_channel, at_driver, called, driven, one_step
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Channel, Driver
from tiny_lantern.model.edits_drive import change_channel
from tiny_lantern.model.place import Place
from tiny_lantern.model.quantities import amps, engineering, volts
from tiny_lantern.model.ways.hold import HoldRail
from tiny_lantern.model.ways.relay import RelayBoard
from tiny_lantern.model.ways.scanned import Scanned
from tiny_lantern.plans.resistors import asked_a, chosen_ohm, loop_of, own_share_a
from tiny_lantern.plans.usual import lasting_a
from tiny_lantern.plans.ways import resistor_each, set_wanted

RATING_W, HALF_RATING, MOST_OFF = 0.25, 2.0, 0.25


def _ohm(value: float) -> str:
    return engineering(value, "ohm")


@rule("no-resistor", "{n} lamps have no resistor")
def no_resistor(evidence: Evidence) -> Iterator[Finding]:
    """A lamp that needs a resistor and has none: nothing but the pin limits its current."""
    for driver, result in driven(evidence, Driver):
        case = result.case
        for at, (channel, lamp) in enumerate(zip(case.channels, case.lamps, strict=True)):
            loop = loop_of(case, at)
            if loop is None or channel.resistor_ohm or not lamp.needs_resistor or isinstance(driver, Scanned):
                continue
            current_a, good = float(result.on_a[at]), chosen_ohm(case, at)
            most_a = min(float(result.absolute_a[at]), lamp.most_a)
            worst = current_a > most_a
            fix = _fitted(channel.id, good) or _asked_less(case, at)
            yield Finding(
                Severity.DANGER if worst else Severity.WONT_WORK, "no-resistor", at_channel(channel, driver),
                f"{called(case, at)} has no resistor",
                f"{amps(current_a)} would flow, and {amps(channel.wanted_a)} are wanted; "
                f"it may carry {amps(most_a)}.",
                one_step(f"Current of {called(case, at)}", "I = (V − Vf0) / (R_out + r_d)",
                         f"({loop.supply_v:g} − {loop.string.foot_v:.2f}) / "
                         f"({loop.output_ohm + loop.string.series_ohm:g})", amps(current_a)),
                fix,
            )  # fmt: skip


def _fitted(channel_id: str, ohm: float | None) -> tuple[Fix, ...]:
    if ohm is None:
        return ()
    return (Fix(f"Fit {_ohm(ohm)}", partial(change_channel, channel_id=channel_id, resistor_ohm=ohm)),)


def _asked_less(case: Case, at: int) -> tuple[Fix, ...]:
    """A current that a resistor can set, where none can set the one that is asked for."""
    least_a = lasting_a(case, at)
    if least_a is None:
        return ()
    return (Fix(f"Ask for {amps(least_a)}", partial(set_wanted, channel_id=case.channels[at].id, wanted_a=least_a)),)


@rule("supply-too-low", "{n} lamps have too low a supply")
def supply_too_low(evidence: Evidence) -> Iterator[Finding]:
    """A lamp whose forward voltage leaves less than 0.3 V for its resistor, so that its current cannot be set; or one
    that limits its own current and gets less than it is made for."""
    for driver, result in driven(evidence, Driver):
        case, source = result.case, source_of(result.case)
        for at, (channel, lamp) in enumerate(zip(case.channels, case.lamps, strict=True)):
            loop = loop_of(case, at)
            if source is None or (loop is None and lamp.die is None):
                continue
            own_v = loop.string.voltage_v(channel.wanted_a) if loop is not None else lamp.nominal_v
            before_v = HEADROOM_V if loop is not None else lamp.load_a * (channel.resistor_ohm or 0.0)
            needed_v = own_v + before_v
            if source.voltage_v < needed_v - 1e-9:
                starved = loop is None and before_v > 0
                why = f" with the {before_v:g} V that a resistor must have" if loop is not None else ""
                why = f" with {volts(before_v)} that its resistor takes" if starved else why
                way_out = "Take the resistor out." if starved else "Choose a transistor and a higher supply."
                yield Finding(
                    Severity.WONT_WORK, "supply-too-low", at_channel(channel, driver),
                    f"{called(case, at)} needs more than {volts(source.voltage_v)}",
                    f"It needs {volts(needed_v)}{why}: {volts(needed_v - source.voltage_v)} too little. {way_out}",
                    one_step("Voltage needed", "V = Vf(I) + 0.3 V" if loop is not None else "V = V_made for + I·R",
                             f"{own_v:.2f} + {before_v:g}", volts(needed_v)),
                    _bare(channel) if loop is None else (),
                )  # fmt: skip


def _bare(channel: Channel) -> tuple[Fix, ...]:
    """Without the resistor, where there is one that lamps need not."""
    edit = partial(change_channel, channel_id=channel.id, resistor_ohm=None)
    return (Fix("Take the resistor out", edit),) if channel.resistor_ohm else ()


@rule("shared-resistor", "{n} groups share a resistor")
def shared_resistor(evidence: Evidence) -> Iterator[Finding]:
    """Lamps side by side on one resistor: the one of lowest voltage takes most of the current."""
    for driver, result in driven(evidence, Driver):
        for at, (channel, lamp) in enumerate(zip(result.case.channels, result.case.lamps, strict=True)):
            shares = lamp.branches > 1 and lamp.own_resistors == 1
            if not shares or lamp.led is None or lamp.die is None or not channel.resistor_ohm:
                continue
            unlike = result.on_a[at] / lamp.branches * lamp.led.slope_ohm
            spread_v = 2 * lamp.die.spread_v
            if spread_v > unlike:
                yield Finding(
                    Severity.WEAK_SPOT, "shared-resistor", at_channel(channel, driver),
                    f"{lamp.piece.name}: {lamp.branches} lamps share one resistor",
                    f"Their voltages may differ by {volts(spread_v)}, and only {volts(float(unlike))} of each lamp's "
                    "own evens that out: one may take nearly all. Give each a resistor of its own.",
                    one_step("What evens them out", "ΔV = I · r_d",
                             f"{amps(float(result.on_a[at]) / lamp.branches)} · {lamp.led.slope_ohm:g} Ω",
                             volts(float(unlike))),
                    (Fix("A resistor each", partial(resistor_each, piece_id=lamp.piece.id)),),
                )  # fmt: skip


@rule("output-current", "{n} outputs carry too much")
def output_current(evidence: Evidence) -> Iterator[Finding]:
    """An output that carries more than it should, or than it may at most."""
    for driver, result in driven(evidence, Driver):
        if isinstance(driver, Scanned | RelayBoard | HoldRail):
            continue
        case = result.case
        for at, channel in enumerate(case.channels):
            current_a, most_a, absolute_a = (
                float(each[at]) for each in (result.on_a, result.most_a, result.absolute_a)
            )
            if current_a <= most_a * (1 + 1e-9) or (loop_of(case, at) is not None and not channel.resistor_ohm
                                                    and case.lamps[at].needs_resistor):  # fmt: skip
                continue
            over = current_a > absolute_a * (1 + 1e-9)
            limit = absolute_a if over else most_a
            yield Finding(
                Severity.DANGER if over else Severity.WEAK_SPOT, "output-current", at_channel(channel, driver),
                f"{called(case, at)} draws {amps(current_a)} from its output",
                f"{amps(limit)} is {'the most that it bears' if over else 'what it should carry'}: "
                f"{amps(current_a - limit)} too much.",
                one_step("Current of the output", "I − limit", f"{amps(current_a)} − {amps(limit)}",
                         amps(current_a - limit)),
                _larger_resistor(case, at, most_a),
            )  # fmt: skip


def _larger_resistor(case: Case, at: int, most_a: float) -> tuple[Fix, ...]:
    """The smallest resistor of the series of twelve that keeps a current."""
    loop = loop_of(case, at)
    needed = ideal_ohm(loop, own_share_a(case, at, most_a)) if loop is not None else 0.0
    if needed <= 0:
        return ()
    good = preferred(needed, E12).up
    edit = partial(change_channel, channel_id=case.channels[at].id, resistor_ohm=good)
    return (Fix(f"Fit {_ohm(good)}", edit),)


@rule("lamp-current", "{n} lamps carry more than they bear")
def lamp_current(evidence: Evidence) -> Iterator[Finding]:
    """A lamp that carries more than it bears for long, or in its pulses."""
    for driver, result in driven(evidence, Driver):
        case = result.case
        for at, (channel, lamp) in enumerate(zip(case.channels, case.lamps, strict=True)):
            pulsed = isinstance(driver, Scanned)
            most_a = driver.led_pulse_a if isinstance(driver, Scanned) else lamp.most_a
            current_a = float(result.on_a[at])
            bare = loop_of(case, at) is not None and not channel.resistor_ohm and lamp.needs_resistor and not pulsed
            if lamp.led is None or isinstance(driver, HoldRail) or bare or current_a <= most_a * (1 + 1e-9):
                continue
            yield Finding(
                Severity.DANGER, "lamp-current", at_channel(channel, driver),
                f"{called(case, at)} carries {amps(current_a)}{' in its pulses' if pulsed else ''}",
                f"It bears {amps(most_a)}: {amps(current_a - most_a)} too much.",
                one_step("Current of the lamp", "I − limit", f"{amps(current_a)} − {amps(most_a)}",
                         amps(current_a - most_a)),
                () if pulsed else _larger_resistor(case, at, most_a),
            )  # fmt: skip


@rule("resistor-heat", "{n} resistors are too hot")
def resistor_heat(evidence: Evidence) -> Iterator[Finding]:
    """A resistor that makes more than half of the heat that a quarter-watt one bears."""
    for driver, result in driven(evidence, Driver):
        for at, channel in enumerate(result.case.channels):
            heat_w = float(result.resistor_w[at]) / result.case.lamps[at].own_resistors
            own_a = own_share_a(result.case, at, float(result.on_a[at]))
            if heat_w * HALF_RATING > RATING_W * (1 + 1e-9):
                yield Finding(
                    Severity.WEAK_SPOT, "resistor-heat", at_channel(channel, driver),
                    f"The resistor of {called(result.case, at)} makes {engineering(heat_w, 'W')}",
                    f"A quarter-watt resistor should make {RATING_W / HALF_RATING:g} W at most: take one of "
                    f"{heat_w * HALF_RATING:.2g} W, or more LEDs in series.",
                    one_step("Heat", "P = I² · R", f"{amps(own_a)}² · {channel.resistor_ohm or 0:g} Ω",
                             engineering(heat_w, "W")),
                )  # fmt: skip


@rule("chip-current", "{n} chips carry too much")
def chip_current(evidence: Evidence) -> Iterator[Finding]:
    """A chip whose outputs together carry more than its supply leg may."""
    for driver, result in driven(evidence, Driver):
        if isinstance(driver, RelayBoard | Scanned):
            continue
        for block in result.blocks:
            if block.unit != "A" or not block.over or block.limit == NO_LIMIT or len(result.pin_a):
                continue
            share = block.limit / block.value
            yield Finding(
                Severity.WONT_WORK, "chip-current", at_driver(evidence.build, driver),
                f"{block.name} carries {amps(block.value)} with all lit",
                f"Its supply leg may carry {amps(block.limit)}: {amps(block.value - block.limit)} too much.",
                one_step(f"Current of {block.name}", "I = Σ I_output", f"{block.stop - block.first} outputs",
                         amps(block.value)),
                (Fix("Larger resistors", partial(_weaker, driver_id=driver.id, share=share)),),
            )  # fmt: skip


def _weaker(build: Build, driver_id: str, share: float) -> Build:
    """Every resistor of a driver large enough that each current falls to a share of what it is."""
    driver = next(driver for driver in build.drivers if driver.id == driver_id)
    channels = build.channels_of[driver_id]
    case = case_of(build, driver, channels)
    result: ChannelResult = solver_of(driver)(case)
    new = {}
    for at, channel in enumerate(channels):
        loop = loop_of(case, at)
        if loop is None or not channel.resistor_ohm:
            continue
        wanted_a = own_share_a(case, at, float(result.on_a[at])) * share * 0.999
        new[channel.id] = revise(channel, resistor_ohm=preferred(ideal_ohm(loop, wanted_a), E12).up)
    return revise(build, channels=tuple(new.get(channel.id, channel) for channel in build.channels))


@rule("board-current", "{n} boards give too much")
def board_current(evidence: Evidence) -> Iterator[Finding]:
    """A board, or a port of it, whose pins together give more than they may."""
    for board in evidence.build.boards:
        total = evidence.drive.boards[board.id]
        limits = [("all its pins", total.pins_a, total.part.board_limit_a)]
        if total.part.port_limit_a is not None:
            limits += [(f"port {name}", value, total.part.port_limit_a) for name, value in total.ports_a.items()]
        for where, value, limit in limits:
            if value > limit * (1 + 1e-9):
                yield Finding(
                    Severity.WONT_WORK, "board-current", Place.on("boards", board.id),
                    f"{board.name} gives {amps(value)} on {where}",
                    f"{amps(limit)} is the most: {amps(value - limit)} too much. Move lamps to transistors or "
                    "registers.",
                    one_step(f"Current of {where}", "I = Σ I_pin", where, amps(value)),
                )  # fmt: skip


def _is_strongest(case: Case, at: int) -> bool:
    """Whether a channel gets the most, of what it wants, of those behind its resistor; the others cannot have more."""
    behind = case.driver.behind_one_resistor(case.channels[at].output)
    shares = {}
    for number, channel in enumerate(case.channels):
        loop = loop_of(case, number)
        if channel.output in behind and loop is not None and channel.resistor_ohm:
            shares[number] = loop_current(loop, channel.resistor_ohm) / asked_a(case, number)
    return shares[at] >= max(shares.values())


@rule("resistor-off", "{n} resistors miss what was wanted")
def resistor_off(evidence: Evidence) -> Iterator[Finding]:
    """A resistor that gives a current more than a quarter off the one that was wanted."""
    for driver, result in driven(evidence, Driver):
        case = result.case
        if isinstance(driver, Scanned):
            continue
        for at, channel in enumerate(case.channels):
            loop, wanted_a = loop_of(case, at), asked_a(case, at)
            if loop is None or not channel.resistor_ohm or not _is_strongest(case, at):
                continue
            off = loop_current(loop, channel.resistor_ohm) / wanted_a - 1
            good = chosen_ohm(case, at) if abs(off) > MOST_OFF else None
            if good is None or good == channel.resistor_ohm:
                continue
            if abs(loop_current(loop, good) / wanted_a - 1) < abs(off):
                yield Finding(
                    Severity.HINT, "resistor-off", at_channel(channel, driver),
                    f"{called(case, at)} carries {abs(off):.0%} {'more' if off > 0 else 'less'} than wanted",
                    f"{_ohm(channel.resistor_ohm)} gives {amps(wanted_a * (1 + off))}; {amps(wanted_a)} are wanted.",
                    one_step("Off by", "I / I_wanted − 1", f"{amps(wanted_a * (1 + off))} / {amps(wanted_a)} − 1",
                             f"{off:+.0%}"),
                    _fitted(channel.id, good),
                )  # fmt: skip
