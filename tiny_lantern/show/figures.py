"""The whole show in figures: the mean and the peak of supplies, feeds, chips and boards, each with its moment."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.driven.contract import NO_LIMIT, ChannelResult
from tiny_lantern.electrical.driven.solution import DriveSolution
from tiny_lantern.electrical.fuses import FUSE_SHARE
from tiny_lantern.electrical.network import supply_part
from tiny_lantern.electrical.ohms import connector_of, fuse_of, wire_of
from tiny_lantern.electrical.power_tree import idle_loads_a, lamp_source
from tiny_lantern.electrical.supplies import allowed_share
from tiny_lantern.model.build import Build, Feed
from tiny_lantern.model.errors import CancelledError
from tiny_lantern.model.place import Place
from tiny_lantern.model.rail import Rail
from tiny_lantern.show.channels import duties_of_show
from tiny_lantern.show.draw import ShowDraw

Floats = NDArray[np.float64]
DRIVEN_KIND, ALIKE = "drivers", 1e-6


@dataclass(frozen=True)
class Figure:
    """One thing over the show: its mean, its peak and the frame of it, and what it may carry, None where nothing says.
    [A]"""

    what: str
    place: Place
    mean_a: float
    peak_a: float
    tick: int
    allowed_a: float | None

    @property
    def over(self) -> bool:
        """Whether its peak is more than it may carry."""
        return self.allowed_a is not None and self.peak_a > self.allowed_a * (1 + 1e-9)


def show_figures(
    build: Build, draw: ShowDraw | None, drive: DriveSolution, cancelled: Callable[[], bool] = lambda: False
) -> tuple[Figure, ...]:  # fmt: skip
    """Every supply, then every feed, then the chips and transistors of each driver.

    Strips are as they were solved; a driven lamp draws its average under the frame's duty.

    Args:
        build: the build.
        draw: what its strips draw at every tick, where it has any that can be solved.
        drive: its drivers with everything lit.
        cancelled: asked between drivers whether to stop.

    Raises:
        CancelledError: asked to stop.
    """
    if not build.effects:
        return ()
    drawn: dict[str, Floats] = {}
    for driver in build.drivers:
        if cancelled():
            raise CancelledError
        drawn[driver.id] = _drawn_by(build, drive.by_driver[driver.id])
    strips = draw if draw is not None and draw.supply_a.shape[1] == len(build.supplies) else None
    return (
        *_supplies(build, strips, drive, drawn),
        *_feeds(build, strips),
        *(figure for driver in build.drivers for figure in _blocks(drive.by_driver[driver.id], drawn[driver.id])),
    )


def _drawn_by(build: Build, result: ChannelResult) -> Floats:
    """What each channel of a driver draws on average at every tick. (n_ticks, n_channels) [A]"""
    full = result.case.duties
    at_full_a = np.divide(result.average_a, full, out=np.zeros_like(result.average_a), where=full > 0)
    return duties_of_show(build, result.case.driver) * at_full_a


def _supplies(
    build: Build, draw: ShowDraw | None, drive: DriveSolution, drawn: dict[str, Floats]
) -> Iterator[Figure]:  # fmt: skip
    idle_a = idle_loads_a(build, drive)
    for number, supply in enumerate(build.supplies):
        total = np.full(build.timeline.count, idle_a[supply.id])
        if draw is not None:
            total = total + draw.supply_a[:, number]
        for driver_id, each in drawn.items():
            source = lamp_source(build, drive.by_driver[driver_id])
            fed_by = source.supply_id if isinstance(source, Rail) else source.id if source is not None else ""
            if fed_by == supply.id and each.size:
                total = total + each.sum(axis=1)
        allowed_a = allowed_share(supply) * supply_part(build, supply.id).rated_a
        yield _figure(supply.name, Place.on("supplies", supply.id), total, allowed_a)


def _feeds(build: Build, draw: ShowDraw | None) -> Iterator[Figure]:
    if draw is None or not len(draw.feed_a):
        return
    letters = build.feed_letters
    for number, feed in enumerate(build.feeds):
        out_a = draw.feed_a[:, number].astype(float)
        yield _figure(f"Feed {letters[feed.id]}", Place.on("feeds", feed.id), out_a, _feed_may_a(build, feed))


def _feed_may_a(build: Build, feed: Feed) -> float:
    """What a feed may carry out: its wire, its connector, and three quarters of its fuse. [A]"""
    connector, fuse = connector_of(build, feed.positive), fuse_of(build, feed)
    limits = [wire_of(build, feed.positive).limit_a]
    limits += [connector.limit_a] if connector else []
    limits += [FUSE_SHARE * fuse.rating_a] if fuse else []
    return min(limits)


def _blocks(result: ChannelResult, drawn: Floats) -> Iterator[Figure]:
    """The brackets of a driver: chips, transistors, pins. A limit is told where it is one for the sum of the outputs,
    not for each of them or for a row."""
    if not drawn.size:
        return
    for block in result.blocks:
        summed = float(result.on_a[block.first : block.stop].sum())
        limited = block.unit == "A" and block.limit < NO_LIMIT and abs(block.value - summed) <= ALIKE * summed
        own = result.case.driver.name
        name = block.name if block.name.startswith(own) else f"{own}: {block.name}"
        place = Place.on(DRIVEN_KIND, result.case.driver.id)
        yield _figure(name, place, drawn[:, block.first : block.stop].sum(axis=1), block.limit if limited else None)


def _figure(what: str, place: Place, amps: Floats, allowed_a: float | None) -> Figure:
    tick = int(amps.argmax())
    return Figure(what, place, float(amps.mean()), float(amps[tick]), tick, allowed_a)
