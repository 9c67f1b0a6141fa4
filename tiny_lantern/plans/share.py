"""Pieces that share what drives them: one chain of chips, one relay board or one box of outputs for several pieces."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.catalogue.shelf import all_parts
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Channel, Driver, Steered
from tiny_lantern.model.edits import fresh, item, replaced, with_part
from tiny_lantern.model.edits_sources import with_sources
from tiny_lantern.model.emitters import emitters_of
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.parts.load import LoadPart
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.parts.relay import RelayPart
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.references import all_ids
from tiny_lantern.model.steering import inputs_on, outputs_used
from tiny_lantern.model.ways.boxed import Boxed
from tiny_lantern.model.ways.chain import Chain
from tiny_lantern.model.ways.relay import RelayBoard
from tiny_lantern.model.ways.scanned import Scanned
from tiny_lantern.model.ways.sink import SinkChain
from tiny_lantern.plans.pins import assign_pins
from tiny_lantern.plans.rewire import assert_memory
from tiny_lantern.plans.steer import steer
from tiny_lantern.plans.usual import USUAL_A
from tiny_lantern.plans.ways import driver_of, with_resistors, without_driving


def to_share(build: Build, piece_id: str) -> list[Driver]:
    """The drivers of other pieces that a piece could share.

    Args:
        build: the build.
        piece_id: the piece.
    """
    own = driver_of(build, piece_id)
    return [driver for driver in build.drivers if driver is not own and _why_not(build, driver, piece_id) is None]


def _why_not(build: Build, driver: Driver, piece_id: str) -> str | None:
    """Why a piece cannot share a driver, in words; None where it can."""
    piece = build.line.piece(piece_id)
    part = build.shelf.find(Part, piece.part_id)
    if not isinstance(driver, Chain | RelayBoard | Boxed) or isinstance(driver, Scanned):
        return f"{driver.name} drives lamps of one piece only"
    if not driver.fits(piece, part):
        return f"{driver.name} cannot drive {piece.name}"
    others = [build.shelf.find(Part, each.part_id) for each in _pieces(build, driver) if each.id != piece_id]
    sinks = isinstance(driver, SinkChain) or getattr(driver, "sink", False)
    if isinstance(part, LampPart) and part.common != "none" and sinks != (part.common == "anode"):
        return f"the lamps of {piece.name} share their {part.common}, and {driver.name} wants them the other way round"
    loads_v = {each.nominal_v for each in others if isinstance(each, LoadPart)}
    if isinstance(part, LoadPart) and loads_v - {part.nominal_v}:
        return f"the loads of {driver.name} hang on another voltage than {part.nominal_v:g} V"
    return None


def _pieces(build: Build, driver: Driver) -> Iterator[Piece]:
    ids = {ref.piece_id for channel in build.channels_of[driver.id] for ref in channel.slots}
    return (piece for piece in build.pieces if piece.id in ids)


def drive_with(build: Build, piece_id: str, driver_id: str) -> Build:
    """Drive a piece by what drives another one already: its outputs come after those that are used, with as many chips
    or relays as that takes; resistors and pins follow.

    Args:
        build: the build.
        piece_id: the piece.
        driver_id: the driver.

    Raises:
        LanternError: the driver cannot be shared, has no part with so many outputs, or the board has too few pins.
    """
    why = _why_not(build, item(build.drivers, driver_id, "driver"), piece_id)
    if why is not None:
        raise LanternError(why, "way to drive", "a way of its own")
    wanted = {(each.slots, each.die): each.wanted_a for each in build.channels}
    build = without_driving(build, piece_id)
    if all(driver.id != driver_id for driver in build.drivers):
        raise LanternError("it drives this piece already", "way to drive", "the driver of another piece")
    driver = item(build.drivers, driver_id, "driver")
    piece = build.line.piece(piece_id)
    part = build.shelf.find(Part, piece.part_id)
    most_a = part.most_a if isinstance(part, LampPart) else USUAL_A
    chain_id = driver.inputs_on if isinstance(driver, Steered) else None
    if chain_id is not None:
        build = revise(build, drivers=replaced(build.drivers, driver_id, revise(driver, inputs_on=None)))
        driver = item(build.drivers, driver_id, "driver")
    free = outputs_used(build, driver)
    taken = {identity for identity, _ in all_ids(build)}
    new = []
    for output, emitter in enumerate(emitters_of(piece, part), free):
        identity = fresh(f"{driver_id}-{output}", taken)
        taken.add(identity)
        asked_a = wanted.get((emitter.slots, emitter.die), min(USUAL_A, most_a))
        new.append(
            Channel(id=identity, driver_id=driver_id, output=output, slots=emitter.slots, die=emitter.die,
                    wanted_a=asked_a)
        )  # fmt: skip
    build = _with_room(build, driver, free + len(new))
    build = revise(build, channels=(*build.channels, *new))
    assert_memory(build, driver.board_id)
    fitted = with_resistors(with_sources(build), driver_id, {channel.id for channel in new})
    return assign_pins(fitted, driver.board_id) if chain_id is None else steer(fitted, driver_id, chain_id)


def _with_room(build: Build, driver: Driver, outputs: int) -> Build:
    """The build with a driver that has so many outputs."""
    if isinstance(driver, Chain):
        wider = revise(driver, chips=max(driver.chips, driver.chips_for(outputs, build.shelf)))
        return revise(build, drivers=replaced(build.drivers, driver.id, wider))
    if not isinstance(driver, RelayBoard):
        return build
    own = build.shelf.find(RelayPart, driver.relay_id)
    if own.channels >= outputs:
        return build
    like = [part for part in all_parts(build).of(RelayPart) if part.channels >= outputs and part.coil_v == own.coil_v]
    if not like:
        raise LanternError(
            f"{driver.name} would have {outputs} contacts, and no relay part here has so many", "way to drive",
            "relays of its own",
        )  # fmt: skip
    larger = min(like, key=lambda part: (part.channels, part.active_low != own.active_low))
    build = with_part(build, larger)
    return revise(build, drivers=replaced(build.drivers, driver.id, revise(driver, relay_id=larger.id)))


def move_output(build: Build, channel_id: str, output: int) -> Build:
    """Lead a channel's lamps to another output of their driver; what is there takes the old one.

    Args:
        build: the build.
        channel_id: the channel.
        output: the output. [-]

    Raises:
        LanternError: the driver has no such output.
    """
    own: Channel = item(build.channels, channel_id, "channel")
    driver = item(build.drivers, own.driver_id, "driver")
    there = driver.output_count(build.shelf)
    used = len(build.channels_of[driver.id])
    if output in inputs_on(build, driver):
        other, _ = inputs_on(build, driver)[output]
        raise LanternError(f"an input of {other.name} hangs on output {output}", "output", "another output")
    most = there if there is not None else used
    if not 0 <= output < most:
        raise LanternError(f"{driver.name} has no output {output}", "output", f"0 to {most - 1}")
    changed = {own.id: revise(own, output=output)}
    changed |= {
        each.id: revise(each, output=own.output)
        for each in build.channels_of[driver.id]
        if each.output == output and each.id != own.id
    }
    return revise(build, channels=tuple(changed.get(each.id, each) for each in build.channels))
