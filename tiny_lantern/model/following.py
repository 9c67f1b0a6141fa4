"""What drives a piece when the piece changes: its channels go with its lamps, its chips with its channels."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Channel
from tiny_lantern.model.edits import fresh, item
from tiny_lantern.model.emitters import Emitter, emitters_of
from tiny_lantern.model.lamps import Matrix
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.references import all_ids
from tiny_lantern.model.ways.chain import Chain
from tiny_lantern.model.ways.registry import AnyDriver
from tiny_lantern.model.ways.scanned import Scanned


def following(build: Build, piece: Piece) -> dict[str, Any]:
    """The drivers and channels of a build in which a piece is as it is now, by field; none where they stay as they are.
    Lamps that it no longer has lose their channels, new ones get channels like those of the others, and a driver that
    is left with no lamp goes.

    Args:
        build: the build in which the piece is as it was.
        piece: the piece as it is now.
    """
    before = item(build.pieces, piece.id, "piece")
    own = [channel for channel in build.channels if channel.slots[0].piece_id == piece.id]
    if not own or piece.unplaced == before.unplaced:
        return {}
    emitters = emitters_of(piece, build.shelf.find(Part, piece.part_id))
    owners = {channel.driver_id for channel in own}
    others = [channel for channel in build.channels if channel not in own]
    drivers = {driver.id: driver for driver in build.drivers}
    if len(owners) > 1:  # dies of one lamp on several ways: nobody tells which of them a new lamp goes to
        wanted = {(emitter.slots, emitter.die) for emitter in emitters}
        new = [channel for channel in own if (channel.slots, channel.die) in wanted]
    else:
        driver = drivers[own[0].driver_id]
        taken = [channel.output for channel in others if channel.driver_id == driver.id]
        ids = {identity for identity, _ in all_ids(build)} - {channel.id for channel in own}
        new = list(_channels(driver, own, emitters, taken, ids))
        drivers[driver.id] = _sized(build, driver, piece, max([*taken, *(each.output for each in new)], default=-1) + 1)
    left = {channel.driver_id for channel in (*others, *new)}
    place = build.channels.index(own[0])
    first = [channel for channel in build.channels[:place] if channel in others]
    channels = (*first, *new, *others[len(first) :])
    kept = tuple(each for each in drivers.values() if each.id not in owners or each.id in left)
    return {"drivers": kept, "channels": channels}


def _channels(
    driver: AnyDriver, own: list[Channel], emitters: tuple[Emitter, ...], taken: list[int], ids: set[str]
) -> Iterator[Channel]:
    """The channels of the emitters: those that were there as they were, new ones like one of the same die."""
    known = {(channel.slots, channel.die): channel for channel in own}
    like = {channel.die: channel for channel in reversed(own)}
    stay = [known[key].output for emitter in emitters if (key := (emitter.slots, emitter.die)) in known]
    free = max([*taken, *stay], default=-1) + 1
    for number, emitter in enumerate(emitters):
        channel = known.get((emitter.slots, emitter.die))
        if isinstance(driver, Scanned):
            free = number
        elif channel is not None:
            yield channel
            continue
        pattern = channel or like.get(emitter.die, own[0])
        yield revise(pattern, id=fresh(f"{driver.id}-{free}", ids), output=free, slots=emitter.slots, die=emitter.die)
        free += 1


def _sized(build: Build, driver: AnyDriver, piece: Piece, used: int) -> AnyDriver:
    """A driver with rows and columns of its matrix, and chips for the outputs that are used."""
    if isinstance(driver, Scanned) and isinstance(piece, Matrix):
        driver = revise(driver, rows=piece.rows, columns=piece.columns)
    if isinstance(driver, Chain):
        least = driver.chips_for(used, build.shelf)
        return revise(driver, chips=least) if isinstance(driver, Scanned) or least > driver.chips else driver
    return driver
