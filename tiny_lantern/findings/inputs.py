"""Rules on inputs and on what answers to them."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from tiny_lantern.electrical.inputs.press import PressSensor, fixed_e24_ohm
from tiny_lantern.electrical.lamp.eseries import E12, preferred
from tiny_lantern.findings.driven import one_step
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.build import Build
from tiny_lantern.model.data_lines import boards_of_pieces
from tiny_lantern.model.deed import Valued
from tiny_lantern.model.deeds.seen import Seen
from tiny_lantern.model.deeds.speed import Speed
from tiny_lantern.model.edits import item
from tiny_lantern.model.edits_inputs import add_rule, change_input, reads, remove_rule, with_input_pin
from tiny_lantern.model.inputs.resistive import Resistive
from tiny_lantern.model.inputs.signal import DIODE_V, SignalInput
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.place import Place
from tiny_lantern.model.quantities import engineering
from tiny_lantern.model.rule import Rule
from tiny_lantern.show.answering.tables import tables_of

LEAST_SWING, LEAST_DIODE_A, MOST_DIODE_A, USUAL_DIODE_A = 0.25, 2e-3, 20e-3, 5e-3


@rule("input-idle", "{n} inputs change nothing")
def input_idle(evidence: Evidence) -> Iterator[Finding]:
    """An input that no rule answers to is wired for nothing."""
    heard = {each.input_id for each in evidence.build.rules}
    for one in evidence.build.inputs:
        if one.id not in heard:
            yield Finding(
                Severity.HINT, "input-idle", Place.on("inputs", one.id), f"Nothing follows from {one.name}",
                "It takes a pin and wires, and no rule answers to it. Give it one, or take it out.", None,
                (Fix("Give it a rule", partial(add_rule, input_id=one.id)),),
            )  # fmt: skip


@rule("input-pin", "{n} inputs are on pins that cannot read them")
def input_pin(evidence: Evidence) -> Iterator[Finding]:
    """An input on a pin that cannot read it: volts want one with a converter behind it."""
    build = evidence.build
    for one in build.inputs:
        part = build.shelf.find(BoardPart, item(build.boards, one.board_id, "board").part_id)
        pin = part.pin(one.pin.pin) if one.pin is not None else None
        if pin is not None and not reads(one, pin):
            count = sum(each.adc for each in part.pins)
            yield Finding(
                Severity.WONT_WORK, "input-pin", Place.on("inputs", one.id), f"Pin {pin.name} cannot read {one.name}",
                f"{count} pins of {part.name} read volts; pin {pin.name} tells high from low only.",
                one_step("Pins that read volts", "", part.name, str(count)),
                (Fix("Put it on a pin that can", partial(_on_a_pin_that_can, input_id=one.id)),),
            )  # fmt: skip


@rule("input-elsewhere", "{n} inputs are on boards that nobody hears")
def input_elsewhere(evidence: Evidence) -> Iterator[Finding]:
    """An input read by a board that is not the first of those that play, which counts the frames and tells the
    others."""
    build = evidence.build
    playing = set(boards_of_pieces(build).values())
    first = next((board for board in build.boards if board.id in playing), None)
    for one in build.inputs if build.rules and first is not None else ():
        if first is None or one.board_id == first.id:
            continue
        name = item(build.boards, one.board_id, "board").name
        place = [board.id for board in build.boards].index(one.board_id) + 1
        yield Finding(
            Severity.WONT_WORK, "input-elsewhere", Place.on("inputs", one.id), f"{one.name} is read by {name}",
            f"That is board {place} in the chain; {first.name} counts the frames, and tells the others what inputs "
            "have made of the show. Read it there.",
            one_step("Place in the chain", "", name, str(place)),
            (Fix(f"Read it with {first.name}", partial(change_input, input_id=one.id, board_id=first.id)),),
        )  # fmt: skip


@rule("rule-idle", "{n} rules change nothing")
def rule_idle(evidence: Evidence) -> Iterator[Finding]:
    """A rule whose value is the same at both ends, or that is on no effect at all, can never be seen."""
    build = evidence.build
    paced = {number for number, _ in tables_of(build).paced}
    for number, each in enumerate(build.rules):
        why = _why_idle(each, number in paced)
        if why:
            yield Finding(
                Severity.WEAK_SPOT, "rule-idle", Place.on("rules", each.id), f"A rule changes nothing: {why}",
                f"{each.told(build)}: nobody will see it. Give it two ends, or something to act on.",
                one_step("Change from end to end", "to − from", why, "0"),
                (Fix("Take the rule out", partial(remove_rule, rule_id=each.id)),),
            )  # fmt: skip


def _why_idle(each: Rule, paces: bool) -> str:
    """Why a rule can never be seen; empty where it can."""
    deed = each.does
    if isinstance(deed, Valued) and deed.low == deed.high and deed.low == 1.0:
        return "it goes from 1 to 1"
    if isinstance(deed, Speed) and not paces:
        return "0 effects lie there alone"
    if isinstance(deed, Seen) and deed.effect_id is None:
        return "0 effects are chosen"
    return ""


@rule("rules-fight", "{n} rules are never heard")
def rules_fight(evidence: Evidence) -> Iterator[Finding]:
    """Two rules ask for different scenes at the same moment: the earlier one is never heard."""
    build = evidence.build
    for number, each in enumerate(build.rules):
        if each.does.follows:
            continue
        later = next(
            (
                other
                for other in build.rules[number + 1 :]
                if (other.input_id, other.when) == (each.input_id, each.when) and not other.does.follows
            ),
            None,
        )
        if later is not None and later.does != each.does:
            place = build.rules.index(later) + 1
            yield Finding(
                Severity.WEAK_SPOT, "rules-fight", Place.on("rules", each.id),
                f"Rule {number + 1} is never heard: rule {place} has the same moment",
                f"{each.told(build)}, and at once {later.told(build)}: of several the last counts.",
                one_step("The last at that moment", "", f"rules {number + 1} and {place}", str(place)),
                (Fix("Take the rule out", partial(remove_rule, rule_id=each.id)),),
            )  # fmt: skip


@rule("sensor-swing", "{n} sensors hardly move their readings")
def sensor_swing(evidence: Evidence) -> Iterator[Finding]:
    """A fixed resistor that leaves a sensor less than a quarter of the scale, where another leaves it much more."""
    build = evidence.build
    for one in build.inputs:
        if not isinstance(one, Resistive):
            continue
        part = build.shelf.find(BoardPart, item(build.boards, one.board_id, "board").part_id)
        swing = abs(one.share(one.rest_ohm) - one.share(one.moved_ohm))
        side = one.sensor_to
        best = fixed_e24_ohm(PressSensor(one.rest_ohm, one.moved_ohm, part.logic_v, side, part.logic_v, part.adc_bits))
        if swing < LEAST_SWING and best != one.fixed_ohm:
            text = engineering(best, "ohm")
            yield Finding(
                Severity.WEAK_SPOT, "sensor-swing", Place.on("inputs", one.id),
                f"{one.name} moves its reading by {swing:.0%} of the scale only",
                f"With {engineering(one.fixed_ohm, 'ohm')} beside it little is left to tell rest from moved. The "
                f"widest swing is at the geometric mean of both: {text}.",
                one_step("Fixed resistor", "√(R_rest · R_moved)",
                         f"√({engineering(one.rest_ohm, 'ohm')} · {engineering(one.moved_ohm, 'ohm')})", text),
                (Fix(f"Use {text}", partial(change_input, input_id=one.id, fixed_ohm=best)),),
            )  # fmt: skip


@rule("coupler-current", "{n} couplers get a wrong current")
def coupler_current(evidence: Evidence) -> Iterator[Finding]:
    """A series resistor that gives an opto coupler's diode too little to switch with, or more than it bears."""
    for one in evidence.build.inputs:
        if not isinstance(one, SignalInput) or LEAST_DIODE_A <= one.diode_a <= MOST_DIODE_A:
            continue
        low = one.diode_a < LEAST_DIODE_A
        best = preferred((one.signal_v - DIODE_V) / USUAL_DIODE_A, E12).nearest
        limit = LEAST_DIODE_A if low else MOST_DIODE_A
        text = engineering(one.diode_a, "A")
        yield Finding(
            Severity.WONT_WORK if low else Severity.DANGER, "coupler-current", Place.on("inputs", one.id),
            f"{text} through the coupler of {one.name}",
            f"It wants {engineering(LEAST_DIODE_A, 'A')} to {engineering(MOST_DIODE_A, 'A')}, and is "
            f"{engineering(abs(one.diode_a - limit), 'A')} {'below' if low else 'above'} that. "
            + ("Its transistor may not switch." if low else "Its diode burns out."),
            one_step("Current of the diode", "(V − V_f) / R",
                     f"({one.signal_v:g} V − {DIODE_V:g} V) / {engineering(one.series_ohm, 'ohm')}", text),
            (Fix(f"Use {engineering(best, 'ohm')}", partial(_in_series, input_id=one.id, ohm=best)),),
        )  # fmt: skip


def _on_a_pin_that_can(build: Build, input_id: str) -> Build:
    return with_input_pin(change_input(build, input_id, pins=()), input_id)


def _in_series(build: Build, input_id: str, ohm: float) -> Build:
    return change_input(build, input_id, series_ohm=ohm)
