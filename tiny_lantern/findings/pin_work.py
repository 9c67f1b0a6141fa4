"""The rule on how often a board can send what its program dims or scans."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from functools import partial

from tiny_lantern.code.board.doings import Chain, Doings
from tiny_lantern.code.board.plan import doings_at, without_pins
from tiny_lantern.code.board.work import Hand, Pace, hand_of, paces
from tiny_lantern.code.score import score_of
from tiny_lantern.electrical.drive.scanned import STILL_HZ
from tiny_lantern.findings.driven import at_driver
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Driver
from tiny_lantern.model.edits_drive import change_driver
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.quantities import engineering
from tiny_lantern.model.working import Step, Working

KEPT = 0.999


@rule("refresh-kept", "{n} refresh more seldom than their board is asked to")
def refresh_kept(evidence: Evidence) -> Iterator[Finding]:
    """What dims or is scanned by a program comes round as often as its board can send it, whatever was asked for."""
    build = evidence.build
    if not build.effects or not build.line.slot_count:
        return
    for part in score_of(build).playing:
        if not part.board_id or without_pins(build, part.board_id):
            continue
        board = next(each for each in build.boards if each.id == part.board_id)
        kind = build.shelf.find(BoardPart, board.part_id)
        hand = hand_of(kind.int_bits)
        for pace in paces(doings_at(build, score_of(build), part), hand, kind.clock_hz):
            if pace.kept_hz >= KEPT * min(pace.asked_hz, STILL_HZ):
                continue
            driver = next(each for each in build.drivers if each.id == pace.doing.driver_id)
            yield Finding(
                Severity.WEAK_SPOT, "refresh-kept", at_driver(build, driver),
                f"{driver.name} comes round about {pace.kept_hz:.0f} times a second on {board.name}",
                f"Sending it takes about {engineering(pace.send_s, 's')} there: {pace.asked_hz:.0f} Hz are asked for, "
                f"and below {STILL_HZ:.0f} Hz it is seen to flicker. Fewer bits of dimming, a quicker board, or lamps "
                "on pins or chips that dim by themselves.",
                partial(_sending, pace, hand, kind.clock_hz),
                tuple(_fewer_bits(build, driver, pace, hand, kind.clock_hz)),
            )  # fmt: skip


def _fewer_bits(build: Build, driver: Driver, pace: Pace, hand: Hand, clock_hz: float) -> Iterator[Fix]:
    """The most bits of dimming with which it stands still to the eye."""
    for bits in range(pace.doing.bits - 1, 0, -1):
        fewer = paces(Doings((), (replace(pace.doing, bits=bits),), 0), hand, clock_hz)
        if not fewer or fewer[0].kept_hz >= STILL_HZ:
            words = f"{bits} bit{'' if bits == 1 else 's'} of dimming"
            yield Fix(words, partial(change_driver, driver_id=driver.id, levels_bits=bits))
            return


def _sending(pace: Pace, hand: Hand, clock_hz: float) -> Working:
    doing = pace.doing
    count = len(doing.outputs) if isinstance(doing, Chain) else doing.count
    return Working(
        "Sending a chain",
        (
            Step("t = outputs · (3 · pin + bit) / clock",
                 f"{count} · (3 · {hand.pin} + {hand.bit}) / {engineering(clock_hz, 'Hz')}",
                 engineering(pace.send_s, "s")),
            Step("f = 1 / (rounds · longest of t and what is asked for)", doing.words, f"{pace.kept_hz:.1f} Hz"),
        ),
        "an estimate: cycles of setting a pin by the functions that come with the board's tools",
    )  # fmt: skip
