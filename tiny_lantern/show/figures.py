"""The whole show in figures: mean and peak of supplies, feeds, chips, contacts and pins, each with its moment."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.driven.contract import NO_LIMIT, ChannelResult
from tiny_lantern.electrical.driven.relay import relay_of
from tiny_lantern.electrical.driven.solution import DriveSolution
from tiny_lantern.electrical.fuses import FUSE_SHARE
from tiny_lantern.electrical.network import supply_part
from tiny_lantern.electrical.ohms import connector_of, fuse_of, wire_of
from tiny_lantern.electrical.supplies import allowed_share
from tiny_lantern.model.build import Build, Feed
from tiny_lantern.model.errors import CancelledError
from tiny_lantern.model.place import Place, Ref
from tiny_lantern.model.ways.relay import RelayBoard
from tiny_lantern.show.channels import ON_FROM, duties_of_show
from tiny_lantern.show.contacts import life_of
from tiny_lantern.show.draw import ShowDraw
from tiny_lantern.show.figure import Figure, figure_of
from tiny_lantern.show.pin_figures import PinUsed, pin_figures, pins_used
from tiny_lantern.show.supply_draw import at_full_a, lives, supply_draws_a

Floats = NDArray[np.float64]
DRIVEN_KIND, ALIKE = "drivers", 1e-6


def show_figures(
    build: Build, draw: ShowDraw | None, drive: DriveSolution, cancelled: Callable[[], bool] = lambda: False
) -> tuple[Figure, ...]:  # fmt: skip
    """Every supply, then every feed, then the chips, transistors, contacts and pins of each driver, then the boards.

    Strips are as they were solved; a driven lamp draws its average under the frame's duty. A pin carries its whole
    current while it is on, however short: its peak is that, and pins of a board are taken as on at one instant.

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
    strips = draw if draw is not None and draw.supply_a.shape[1] == len(build.supplies) else None
    duties: dict[str, Floats] = {}
    for driver in build.drivers:
        if cancelled():
            raise CancelledError
        duties[driver.id] = duties_of_show(build, driver)
    rows: list[Figure] = [*_supplies(build, strips, drive, duties), *_feeds(build, strips)]
    pins: list[PinUsed] = []
    for driver in build.drivers:
        result, own = drive.by_driver[driver.id], duties[driver.id]
        rows += _contacts(result, own) if isinstance(driver, RelayBoard) else _blocks(result, own)
        pins += pins_used(result, own)
    return (*rows, *pin_figures(build, pins))


def _supplies(
    build: Build, draw: ShowDraw | None, drive: DriveSolution, duties: Mapping[str, Floats]
) -> Iterator[Figure]:
    drawn = supply_draws_a(build, draw, drive, duties)
    lasting = lives(build, drawn)
    for supply in build.supplies:
        allowed_a = allowed_share(supply) * supply_part(build, supply.id).rated_a
        figure = figure_of(supply.name, Place.on("supplies", supply.id), drawn[supply.id], allowed_a)
        yield replace(figure, lasts_s=lasting[supply.id].seconds if supply.id in lasting else None)


def _feeds(build: Build, draw: ShowDraw | None) -> Iterator[Figure]:
    if draw is None or not len(draw.feed_a):
        return
    letters = build.feed_letters
    for number, feed in enumerate(build.feeds):
        out_a = draw.feed_a[:, number].astype(float)
        yield figure_of(f"Feed {letters[feed.id]}", Place.on("feeds", feed.id), out_a, _feed_may_a(build, feed))


def _feed_may_a(build: Build, feed: Feed) -> float:
    """What a feed may carry out: its wire, its connector, and three quarters of its fuse. [A]"""
    connector, fuse = connector_of(build, feed.positive), fuse_of(build, feed)
    limits = [wire_of(build, feed.positive).limit_a]
    limits += [connector.limit_a] if connector else []
    limits += [FUSE_SHARE * fuse.rating_a] if fuse else []
    return min(limits)


def _blocks(result: ChannelResult, duties: Floats) -> Iterator[Figure]:
    """The brackets of a driver: chips, transistors, groups of pins. A limit is told where it is one for the sum of the
    outputs, not for each of them or for a row."""
    if not duties.size:
        return
    drawn_a = duties * at_full_a(result)
    for block in result.blocks:
        summed = float(result.on_a[block.first : block.stop].sum())
        limited = block.unit == "A" and block.limit < NO_LIMIT and abs(block.value - summed) <= ALIKE * summed
        own = result.case.driver.name
        name = block.name if block.name.startswith(own) else f"{own}: {block.name}"
        place = Place.on(DRIVEN_KIND, result.case.driver.id)
        yield figure_of(name, place, drawn_a[:, block.first : block.stop].sum(axis=1), block.limit if limited else None)


def _contacts(result: ChannelResult, duties: Floats) -> Iterator[Figure]:
    """The contacts of a relay board, with the nights that each lasts."""
    driver, part = result.case.driver, relay_of(result.case)
    assert isinstance(driver, RelayBoard)
    for at, channel in enumerate(result.case.channels):
        load_a = float(result.on_a[at])
        on = duties[:, at] >= ON_FROM
        nights = life_of(on, driver, part, load_a, result.case.build.tick_hz).nights
        place = Place(channel.slots[0], None, (Ref(DRIVEN_KIND, driver.id),))
        name = f"{driver.name}, contact {channel.output + 1}: {result.case.lamps[at].piece.name}"
        yield replace(figure_of(name, place, np.where(on, load_a, 0.0), part.contact_a), nights=nights)
