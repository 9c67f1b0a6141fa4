"""What the rules read: the build and every result that was worked out for it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from tiny_lantern.electrical.power import Duties, PowerSolution, solve_power
from tiny_lantern.electrical.reach import Stranded, stranded
from tiny_lantern.light.flash import FlashMeter, FlashRun
from tiny_lantern.model.build import Build, FullWhite, Load
from tiny_lantern.model.errors import CancelledError, LanternError
from tiny_lantern.model.line import slot_count
from tiny_lantern.show.draw import ShowDraw
from tiny_lantern.show.loads import duties_for
from tiny_lantern.show.weave import blocks


@dataclass(frozen=True)
class Evidence:
    """A build with its results for one load, for full white, and for the whole show where that is known."""

    build: Build
    load: Load
    duties: Duties
    solved: PowerSolution | None
    white: PowerSolution | None
    stranded: tuple[Stranded, ...]
    refusal: LanternError | None = None
    flashes: tuple[FlashRun, ...] = ()
    draw: ShowDraw | None = None


def gather(build: Build, load: Load, flashes: tuple[FlashRun, ...] = (), draw: ShowDraw | None = None) -> Evidence:
    """Solve a build for a load and for full white; a build that cannot be solved says so in the evidence."""
    duties = duties_for(build, load)
    pieces = tuple(stranded(build))
    try:
        solved = solve_power(build, duties)
        white = solve_power(build, duties_for(build, FullWhite()))
    except LanternError as refusal:
        return Evidence(build, load, duties, None, None, pieces, refusal, flashes, draw)
    return Evidence(build, load, duties, solved, white, pieces, None, flashes, draw)


def find_flashes(
    build: Build,
    progress: Callable[[float], None] = lambda share: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> tuple[FlashRun, ...]:
    """The worst seconds of the show, of each sort of flash.

    Raises:
        CancelledError: asked to stop.
    """
    if not build.effects or not build.strips:
        return ()
    meter = FlashMeter(slot_count(build), build.tick_hz)
    for first, block in blocks(build):
        if cancelled():
            raise CancelledError
        meter.feed(block / 255.0)
        progress(min(1.0, first / (build.show_s * build.tick_hz)))
    return tuple(meter.worst())
