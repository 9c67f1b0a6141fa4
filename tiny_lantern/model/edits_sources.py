"""Edits of what feeds what."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from typing import Any

from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Board, Driver
from tiny_lantern.model.edits import item, replaced
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.loose import NOMINAL_V, loose_board, loose_lamps
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.sources import ALIKE_V, source_of, usual_source
from tiny_lantern.model.ways.registry import AnyDriver

COILS = "coils_fed_by"


def wanted_v(build: Build, driver: Driver) -> Mapping[str, float]:
    """The voltage that each source of a driver is to give, by the field that names it. [V]

    Args:
        build: the build.
        driver: the driver.
    """
    ids = dict.fromkeys(channel.slots[0].piece_id for channel in build.channels_of[driver.id])
    parts = [build.shelf.find(Part, build.line.piece(piece_id).part_id) for piece_id in ids]
    return driver.fed_at_v(build.shelf, parts)


def with_sources(build: Build) -> Build:
    """The build with whatever names no source on the one that would usually feed it; what no source has the voltage
    for stays without.

    Args:
        build: the build.
    """
    drivers = {driver.id: _found(build, driver) for driver in build.drivers}
    if any(drivers.values()):
        build = revise(build, drivers=tuple(revise(each, **drivers[each.id]) for each in build.drivers))
    loose = {
        piece.id: found
        for piece, _ in loose_lamps(build)
        if piece.fed_by is None and (found := usual_source(build, loose_board(build, piece), NOMINAL_V)) is not None
    }
    if not loose:
        return build
    pieces = (revise(each, fed_by=loose[each.id]) if each.id in loose else each for each in build.pieces)
    return revise(build, pieces=tuple(pieces))


def _found(build: Build, driver: Driver) -> dict[str, FedBy]:
    """The sources that a driver lacks and the build has, by the fields that name them."""
    board = item(build.boards, driver.board_id, "board")
    lacking = {name: volts for name, volts in wanted_v(build, driver).items() if getattr(driver, name) is None}
    found = {name: _usual(build, board, name, volts) for name, volts in lacking.items()}
    return {name: source for name, source in found.items() if source is not None}


def _usual(build: Build, board: Board, field: str, volts: float) -> FedBy | None:
    """Coils hang on what feeds their board, whatever it gives; all else by its voltage."""
    if field == COILS and board.fed_by is not None:
        return board.fed_by
    return usual_source(build, board, volts)


def with_fitting_sources(build: Build, driver_ids: Collection[str]) -> Build:
    """The build with some drivers on sources that give what they want; those that do already stay on theirs.

    Args:
        build: the build.
        driver_ids: the drivers.
    """
    drivers = (_fitting(build, driver) if driver.id in driver_ids else driver for driver in build.drivers)
    return with_sources(revise(build, drivers=tuple(drivers)) if driver_ids else build)


def _fitting(build: Build, driver: AnyDriver) -> AnyDriver:
    wanted = wanted_v(build, driver).items()
    wrong = {name: None for name, volts in wanted if not _gives(build, getattr(driver, name), volts) and name != COILS}
    return revise(driver, **wrong)


def refed(build: Build, before: Build, driver_id: str) -> Build:
    """The build with the sources of a driver that wants other voltages than it did found anew.

    Args:
        build: the build.
        before: the build before the voltages were changed.
        driver_id: the driver.
    """
    driver, old = (item(each.drivers, driver_id, "driver") for each in (build, before))
    old_v, new_v = wanted_v(before, old), wanted_v(build, driver)
    moved = {
        name: None for name, volts in new_v.items()
        if old_v.get(name) != volts and getattr(driver, name) == getattr(old, name, None)
        and not _gives(build, getattr(driver, name), volts)
    }  # fmt: skip
    if not moved:
        return build
    drivers = tuple(revise(each, **moved) if each.id == driver_id else each for each in build.drivers)
    return with_sources(revise(build, drivers=drivers))


def _gives(build: Build, fed_by: FedBy | None, volts: float) -> bool:
    source = source_of(build, fed_by)
    return source is not None and abs(source.volts - volts) <= ALIKE_V


def hang_on(build: Build, field: str, thing_id: str, fed_by: FedBy | None) -> Build:
    """Feed something from a source; what says by itself which voltage its lamps get, says that of the source then.

    Args:
        build: the build.
        field: the field that names the source.
        thing_id: a driver, a board, a rail or loose addressable lamps.
        fed_by: the source; None for one that the build does not have.

    Raises:
        LanternError: there is no such thing or source, or it would feed itself.
    """
    for where in ("drivers", "boards", "rails", "pieces"):
        for thing in getattr(build, where):
            if thing.id == thing_id:
                new = revise(thing, **{field: fed_by}, **_told(build, thing, field, fed_by))
                return revise(build, **{where: replaced(getattr(build, where), thing_id, new)})
    raise LanternError(f"there is no “{thing_id}” in this build", "what is fed", "a driver, a board, a rail or lamps")


def source_named_by(build: Build, thing_id: str, field: str) -> FedBy | None:
    """What a field of a driver, a board, a rail or loose lamps names.

    Args:
        build: the build.
        thing_id: the thing.
        field: the field.
    """
    listed: tuple[tuple[Any, ...], ...] = (build.drivers, build.boards, build.rails, build.pieces)
    found = (getattr(thing, field, None) for own in listed for thing in own if thing.id == thing_id)
    return next(found, None)


def _told(build: Build, thing: Any, field: str, fed_by: FedBy | None) -> dict[str, float]:
    """The voltage that a driver says of one of its sources, as the source gives it."""
    told = thing.told_by.get(field) if isinstance(thing, Driver) else None
    source = source_of(build, fed_by)
    return {told: source.volts} if told is not None and source is not None else {}
