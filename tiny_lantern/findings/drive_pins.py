"""Rules on pins and on pieces that nothing drives."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from itertools import combinations

import numpy as np

from tiny_lantern.electrical.drive.timer import pwm_hz
from tiny_lantern.findings.driven import assign_again, at_driver, one_step
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.light.flicker import flicker
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Board, Channel, PinNeed, lamp_role
from tiny_lantern.model.emitters import emitters_of
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.pin_needs import board_needs, pins_of
from tiny_lantern.model.place import Place, Ref
from tiny_lantern.model.ways.pwm import PwmPin
from tiny_lantern.model.ways.switch import Switch
from tiny_lantern.model.working import Working
from tiny_lantern.show.channels import show_levels

LIKE = 1 / 255


def _boards(build: Build) -> Iterator[tuple[Board, BoardPart, list[PinNeed], dict[tuple[str, str], str]]]:
    for board in build.boards:
        pins = {key: pin.pin for key, pin in pins_of(build, board.id).items()}
        yield board, build.shelf.find(BoardPart, board.part_id), board_needs(build, board.id), pins


@rule("no-pin", "{n} ways to drive have too few pins")
def no_pin(evidence: Evidence) -> Iterator[Finding]:
    """A driver that needs a pin and has none."""
    build = evidence.build
    for board, _, needs, pins in _boards(build):
        lacking: dict[str, list[str]] = {}
        for need in needs:
            if (need.driver_id, need.role) not in pins:
                lacking.setdefault(need.driver_id, []).append(need.role)
        for driver_id, roles in lacking.items():
            driver = next((driver for driver in build.drivers if driver.id == driver_id), None)
            if driver is None:
                yield _no_data_pin(build, board, driver_id)
                continue
            yield Finding(
                Severity.WONT_WORK, "no-pin", at_driver(build, driver), f"{driver.name} lacks {len(roles)} pins",
                f"Nowhere on {board.name} lead {', '.join(roles[:4])}{' …' if len(roles) > 4 else ''}.", None,
                (assign_again(board.id),),
            )  # fmt: skip


def _no_data_pin(build: Build, board: Board, piece_id: str) -> Finding:
    piece = build.line.piece(piece_id)
    return Finding(
        Severity.WEAK_SPOT, "no-pin", Place.at(piece_id, 0, Ref("boards", board.id)), f"{piece.name} lacks 1 pin",
        f"Its data line comes from no pin of {board.name} yet, so neither its wire nor its code can name one.", None,
        (assign_again(board.id),),
    )  # fmt: skip


@rule("no-dimming", "{n} lamps that dim are on pins that do not")
def no_dimming(evidence: Evidence) -> Iterator[Finding]:
    """A lamp that is to dim, on a pin without a compare channel."""
    for board, part, needs, pins in _boards(evidence.build):
        for need in needs:
            pin = part.pin(pins.get((need.driver_id, need.role), ""))
            if need.dims and pin is not None and not part.dims(pin):
                driver = next(driver for driver in evidence.build.drivers if driver.id == need.driver_id)
                yield Finding(
                    Severity.WONT_WORK, "no-dimming", at_driver(evidence.build, driver),
                    f"{driver.name}, {need.role}: pin {pin.name} does not dim",
                    f"Pins of {part.name} that dim have a compare channel; pin {pin.name} has none.", None,
                    (assign_again(board.id, need.driver_id),),
                )  # fmt: skip


@rule("compare-clash", "{n} pairs of lamps share a compare channel")
def compare_clash(evidence: Evidence) -> Iterator[Finding]:
    """Two lamps on one compare channel mirror each other: a fault where the show asks for unlike things."""
    build = evidence.build
    for board, part, needs, pins in _boards(build):
        if part.routed_pwm:
            continue
        on: dict[str, list[PinNeed]] = {}
        for need in needs:
            pin = part.pin(pins.get((need.driver_id, need.role), ""))
            if need.dims and pin is not None and pin.compare:
                on.setdefault(pin.compare, []).append(need)
        for compare, sharing in on.items():
            for one, other in combinations(sharing, 2):
                channels = [_channel(build, need) for need in (one, other)]
                if None in channels or not _unlike(build, channels[0], channels[1]):  # type: ignore[arg-type]
                    continue
                drivers = [next(d for d in build.drivers if d.id == need.driver_id) for need in (one, other)]
                names = [f"{driver.name} {need.role}" for driver, need in zip(drivers, (one, other), strict=True)]
                yield Finding(
                    Severity.WONT_WORK, "compare-clash", at_driver(build, drivers[0]),
                    f"{names[0]} and {names[1]} share one compare channel",
                    f"Both pins hang on {compare} (timer {compare[:-1]}): they mirror each other, and the show asks "
                    "for unlike light. Two lamps may share one where their weaves agree.", None,
                    (assign_again(board.id, *{need.driver_id for need in (one, other)}),),
                )  # fmt: skip


def _channel(build: Build, need: PinNeed) -> Channel | None:
    return next((c for c in build.channels_of[need.driver_id] if lamp_role(c.output) == need.role), None)


def _unlike(build: Build, one: Channel, other: Channel) -> bool:
    if not build.effects:
        return False
    levels = show_levels(build, (one, other))
    return bool((np.abs(levels[:, 0] - levels[:, 1]) > LIKE).any())


@rule("pwm-flicker", "{n} boards dim at a rate that can be seen")
def pwm_flicker(evidence: Evidence) -> Iterator[Finding]:
    """Dimming so slow that it is seen, or felt by some people."""
    build = evidence.build
    for board, part, needs, _ in _boards(build):
        dimming = [need for need in needs if need.dims]
        own = [
            (driver.dim_hz, one_step("Rate", "f", f"as {driver.name} is set", f"{driver.dim_hz:.0f} Hz"))
            for driver in build.drivers
            if isinstance(driver, Switch) and not driver.on_off and driver.board_id == board.id
        ]
        timers = [_timer_rate(part)] if any(
            isinstance(driver, PwmPin) and driver.board_id == board.id for driver in build.drivers
        ) else []  # fmt: skip
        if not dimming or not (own or timers):
            continue
        lowest, working = min([*own, *timers], key=lambda rate: rate[0])
        how = flicker(lowest)
        if how in ("seen", "risk"):
            yield Finding(
                Severity.WEAK_SPOT if how == "seen" else Severity.HINT, "pwm-flicker", Place.on("boards", board.id),
                f"{board.name} dims {lowest:.0f} times a second",
                "Below 90 Hz it is seen directly." if how == "seen" else
                "From 1,250 Hz the risk to sensitive people is low, from 3,000 Hz nothing is noticed; moving lights "
                "and cameras want the upper one. A smaller divider, or fewer bits, is faster.",
                working,
            )  # fmt: skip


def _timer_rate(part: BoardPart) -> tuple[float, partial[Working]]:
    """How often a board's timers dim a second, and how that comes about. [Hz]"""
    rate_hz = pwm_hz(part.clock_hz, part.prescale, part.pwm_bits)
    values = f"{part.clock_hz:g} / ({part.prescale} · 2^{part.pwm_bits})"
    return rate_hz, one_step("Rate", "f = f_clk / (divider · 2^bits)", values, f"{rate_hz:.0f} Hz")


@rule("not-driven", "{n} pieces are not driven yet")
def not_driven(evidence: Evidence) -> Iterator[Finding]:
    """Lamps that no board drives yet: they are placed and named, and drawn in the show, but not in the copper."""
    build = evidence.build
    driven = {(channel.slots, channel.die) for channel in build.channels}
    for piece in build.pieces:
        emitters = emitters_of(piece, build.shelf.find(Part, piece.part_id))
        waiting = sum((emitter.slots, emitter.die) not in driven for emitter in emitters)
        if not waiting:
            continue
        share = "" if waiting == len(emitters) else f": {waiting} of {len(emitters)} channels wait"
        yield Finding(
            Severity.HINT, "not-driven", Place.on("pieces", piece.id), f"{piece.name} is not driven yet{share}",
            "It is in the picture and in the show; its current is not in the power figures until something "
            "drives it.", None, (Fix("Drive it", partial(_drive, piece_id=piece.id)),),
        )  # fmt: skip


def _drive(build: Build, piece_id: str) -> Build:
    from tiny_lantern.plans.ways import drive_piece, usual_way  # only when the mend is tried

    way = usual_way(build, piece_id)
    return build if way is None else drive_piece(build, piece_id, way.kind)
