"""Ways to drive a piece laid side by side, each solved on this build."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from tiny_lantern.electrical.driven.solution import comes_round_hz, solve_drive
from tiny_lantern.light.flicker import flicker
from tiny_lantern.model.bill import drive_cost
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import LanternError
from tiny_lantern.plans.told import bits_of
from tiny_lantern.plans.ways import Way, drive_piece, driver_of, ways_for

JOINTS_A_LAMP, JOINTS_A_RESISTOR, JOINTS_A_PIN = 2, 2, 1
STEADY = "steady"


@dataclass(frozen=True)
class Compared:
    """One way, solved: what it takes and what it gives. ``refusal`` says why it cannot be; the rest is nothing then."""

    way: Way
    now: bool
    build: Build | None = None
    pins: int = 0
    joints: int = 0
    cost: float = 0.0
    refresh: str = STEADY
    flicker: str = ""
    bits: int = 1
    brightest_cd: float = 0.0
    evenness: float = 1.0
    hottest_c: float = 0.0
    worst: str = ""
    over: bool = False
    refusal: str = ""


def compare(build: Build, piece_id: str, cancelled: Callable[[], bool] = lambda: False) -> Iterator[Compared]:
    """Every way that fits a piece, one after another.

    Args:
        build: the build.
        piece_id: the piece.
        cancelled: asked between ways whether to stop.
    """
    now = driver_of(build, piece_id)
    for way in ways_for(build, piece_id):
        if cancelled():
            return
        is_now = now is not None and now.kind == way.kind
        try:
            tried = build if is_now else drive_piece(build, piece_id, way.kind)
        except LanternError as error:
            yield Compared(way, is_now, refusal=error.sentence())
            continue
        yield _compared(tried, piece_id, way, is_now)


def _compared(build: Build, piece_id: str, way: Way, now: bool) -> Compared:
    driver = driver_of(build, piece_id)
    assert driver is not None
    result = solve_drive(build).by_driver[driver.id]
    light = result.intensity_cd
    worst = max(result.blocks, key=lambda block: block.share, default=None)
    hot = [block.value for block in result.blocks if block.unit == "°C"]
    fitted = sum(1 for channel in result.case.channels if channel.resistor_ohm)
    rate = comes_round_hz(result.case)
    words = "" if worst is None else f"{worst.share:.0%} of {worst.limit:g} {worst.unit}" if worst.share else ""
    return Compared(
        way, now, build, len(driver.pins),
        len(result.case.channels) * JOINTS_A_LAMP + fitted * JOINTS_A_RESISTOR + len(driver.pins) * JOINTS_A_PIN,
        drive_cost(build, driver), STEADY if rate is None else f"{rate:,.0f} Hz",
        "" if rate is None else flicker(rate).replace("_", " "), bits_of(result),
        float(light.max()) if len(light) else 0.0,
        float(light.min() / light.max()) if len(light) and light.max() > 0 else 1.0,
        max(hot, default=result.case.board.ambient_c), words, any(block.over for block in result.blocks),
    )  # fmt: skip
