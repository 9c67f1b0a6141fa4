"""What the rules read: the build and every result that was worked out for it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.circuit.drive import wired_drive
from tiny_lantern.electrical.corner import at_corner
from tiny_lantern.electrical.driven.solution import DriveSolution
from tiny_lantern.electrical.power import Duties, PowerSolution, is_approximate, solve_power
from tiny_lantern.electrical.power_tree import beside_strips_a, lamp_loads_a, rail_states
from tiny_lantern.electrical.rails import RailState
from tiny_lantern.electrical.reach import Stranded, stranded
from tiny_lantern.electrical.shorts.by_feed import NearShort, shorts_by_feed
from tiny_lantern.electrical.shorts.study import Sweep, sweep_of
from tiny_lantern.light.flash import FlashMeter, FlashRun
from tiny_lantern.light.lamps import luminance_weights
from tiny_lantern.light.restless import Restless
from tiny_lantern.model.build import Build, Feed, FullWhite, Load, OnStrip
from tiny_lantern.model.errors import CancelledError, LanternError
from tiny_lantern.model.strip import PixelRun
from tiny_lantern.show.loads import duties_for, in_phase
from tiny_lantern.show.peaks import Peak, show_peaks
from tiny_lantern.show.weave import blocks


@dataclass(frozen=True)
class Evidence:
    """A build with its results for one load, for full white, at the design corner, and for the whole show where that is
    known, ``peaks`` what it asks of supplies at its brightest.

    ``peak`` is the load with every lit channel fully on, the moments when all PWM phases meet; ``approximate`` whether
    the averaged solve is only that. ``sweep`` is a short at every place.
    """

    build: Build
    load: Load
    duties: Duties
    solved: PowerSolution | None
    white: PowerSolution | None
    peak: PowerSolution | None
    corner: PowerSolution | None
    approximate: bool
    sweep: Sweep | None
    stranded: tuple[Stranded, ...]
    refusal: LanternError | None = None
    flashes: tuple[FlashRun, ...] = ()
    peaks: tuple[Peak, ...] = ()

    @cached_property
    def near_shorts(self) -> dict[str, NearShort]:
        """How a short near each feed ends, by feed id."""
        return {} if self.sweep is None else shorts_by_feed(self.build, self.sweep)

    @cached_property
    def drive(self) -> DriveSolution:
        """Every driver with everything lit, each lamp with what it gets through its wires."""
        return wired_drive(self.build)

    @cached_property
    def lamp_loads_a(self) -> dict[str, float]:
        """What boards and driven lamps draw from each supply with everything lit, by its id. [A]"""
        return lamp_loads_a(self.build, self.drive)

    @cached_property
    def rails(self) -> tuple[RailState, ...]:
        """Every rail under what hangs on it."""
        return rail_states(self.build, self.drive)

    @cached_property
    def feeds_on(self) -> dict[str, tuple[Feed, ...]]:
        """The feeds on each strip that has any, by the strip's id."""
        found: dict[str, tuple[Feed, ...]] = {}
        for feed in self.build.feeds:
            if isinstance(feed.attach, OnStrip):
                found[feed.attach.strip_id] = (*found.get(feed.attach.strip_id, ()), feed)
        return found

    def prepare(self) -> None:
        """Work out now what a window will ask for."""
        self.near_shorts  # noqa: B018 - cached
        self.drive  # noqa: B018 - cached
        if self.corner is not None:
            self.corner.runs  # noqa: B018 - cached

    def keeping(self, other: Evidence) -> Evidence:
        """Itself, with what an equal one has worked out already."""
        self.__dict__["near_shorts"] = other.near_shorts
        self.__dict__["drive"] = other.drive
        return self

    def duty_of(self, strip: PixelRun) -> NDArray[np.float64]:
        """What the load asks of a strip's channels. (n_pixels, n_channels) [-]"""
        at = next(number for number, own in enumerate(self.build.strips) if own.id == strip.id)
        return self.duties[at]

    def lit(self, strip: PixelRun) -> NDArray[np.bool_]:
        """Which pixels of a strip current can reach. (n_pixels,)"""
        found = np.ones(strip.pixel_count, bool)
        for piece in self.stranded:
            if piece.strip.id == strip.id:
                found[piece.first_pixel : piece.stop_pixel] = False
        return found


def gather(
    build: Build,
    load: Load,
    flashes: tuple[FlashRun, ...] = (),
    cancelled: Callable[[], bool] = lambda: False,
) -> Evidence:
    """Solve a build for a load and for full white; a build that cannot be solved says so in the evidence.

    Args:
        build: the build.
        load: the load in hand.
        flashes: what is known of the show's flashes.
        cancelled: asked now and then whether to stop.

    Raises:
        CancelledError: asked to stop.
    """
    duties = duties_for(build, load)
    beside_a = beside_strips_a(build)
    pieces = stranded(build)
    together = in_phase(duties)
    try:
        solved = solve_power(build, duties, beside_a)
        white = solve_power(build, duties_for(build, FullWhite()), beside_a)
        differs = any(not np.array_equal(one, other) for one, other in zip(duties, together, strict=True))
        peak = solve_power(build, together, beside_a) if differs else solved
        corner = solve_power(at_corner(build), duties, beside_a)
        sweep = sweep_of(build, cancelled=cancelled)
    except LanternError as refusal:
        return Evidence(build, load, duties, None, None, None, None, False, None, pieces, refusal, flashes)
    peaks = show_peaks(build, cancelled=cancelled)
    approximate = is_approximate(solved, duties)
    return Evidence(build, load, duties, solved, white, peak, corner, approximate, sweep, pieces, None, flashes, peaks)


def find_flashes(
    build: Build,
    progress: Callable[[float], None] = lambda share: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> tuple[FlashRun, ...]:
    """The worst seconds of the show, of each sort of flash.

    Raises:
        CancelledError: asked to stop.
    """
    if not build.effects or not build.pieces:
        return ()
    weights = luminance_weights(build)
    restless = Restless(weights, build.tick_hz)
    for first, block in _frames(build, cancelled):
        restless.feed(block / 255.0)
        progress(0.5 * first / build.timeline.count)
    slots = restless.slots()
    if not len(slots):
        return ()
    meter = FlashMeter(weights[slots], build.tick_hz)
    for first, block in _frames(build, cancelled, slots):
        meter.feed(block / 255.0)
        progress(0.5 + 0.5 * first / build.timeline.count)
    return tuple(replace(run, slot=int(slots[run.slot])) for run in meter.worst())


def _frames(
    build: Build, cancelled: Callable[[], bool], slots: NDArray[np.int64] | None = None
) -> Iterator[tuple[int, NDArray[np.uint8]]]:
    for first, block in blocks(build, slots=slots):
        if cancelled():
            raise CancelledError
        yield first, block
