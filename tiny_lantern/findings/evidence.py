"""What the rules read: the build and every result that was worked out for it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from tiny_lantern.electrical.power import Duties, PowerSolution, is_approximate, solve_power
from tiny_lantern.electrical.reach import Stranded, stranded
from tiny_lantern.light.flash import FlashMeter, FlashRun
from tiny_lantern.model.build import Build, FullWhite, Load
from tiny_lantern.model.errors import CancelledError, LanternError
from tiny_lantern.model.line import slot_count
from tiny_lantern.show.loads import duties_for, in_phase
from tiny_lantern.show.weave import blocks


@dataclass(frozen=True)
class Evidence:
    """A build with its results for one load, for full white, and for the whole show where that is known.

    ``peak`` is the load with every lit channel fully on, the moments when all PWM phases meet; it is solved only
    where the averaged solve is approximate.
    """

    build: Build
    load: Load
    duties: Duties
    solved: PowerSolution | None
    white: PowerSolution | None
    peak: PowerSolution | None
    stranded: tuple[Stranded, ...]
    refusal: LanternError | None = None
    flashes: tuple[FlashRun, ...] = ()


def gather(build: Build, load: Load, flashes: tuple[FlashRun, ...] = ()) -> Evidence:
    """Solve a build for a load and for full white; a build that cannot be solved says so in the evidence."""
    duties = duties_for(build, load)
    pieces = tuple(stranded(build))
    try:
        solved = solve_power(build, duties)
        white = solve_power(build, duties_for(build, FullWhite()))
    except LanternError as refusal:
        return Evidence(build, load, duties, None, None, None, pieces, refusal, flashes)
    peak = solve_power(build, in_phase(duties)) if is_approximate(solved, duties) else None
    return Evidence(build, load, duties, solved, white, peak, pieces, None, flashes)


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
