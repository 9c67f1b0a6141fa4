"""What must hold between the parts of a build: ids unique, references found, places on the copper."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise
from typing import TYPE_CHECKING

from tiny_lantern.model.drive import Driver
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.parts.registry import PART_TYPES
from tiny_lantern.model.parts.regulator import RegulatorPart
from tiny_lantern.model.parts.strip import StripPart, check_colour_order
from tiny_lantern.model.refers import check_known
from tiny_lantern.model.strip import PixelRun
from tiny_lantern.model.ways.scanned import Scanned
from tiny_lantern.model.whole import Feed, Whole

if TYPE_CHECKING:
    from tiny_lantern.model.piece import Piece
    from tiny_lantern.model.rail import Rail

LIST_FIELDS = tuple(name for name, field in Whole.model_fields.items() if field.default == ())


def check_references(build: Whole) -> None:
    """Refuse a build whose pieces do not fit together, naming the place.

    Raises:
        LanternError: a duplicate id, a missing reference, or a place off its piece.
    """
    _ids_unique(build)
    known = known_ids(build)
    for field in LIST_FIELDS:
        for number, item in enumerate(getattr(build, field)):
            if any(reference.identity not in known[reference.to] for reference in item.held):
                check_known(item.held, f"{field}[{number}]", known)
    runs = {run.id: run for run in build.strips}
    for number, piece in enumerate(build.pieces):
        if isinstance(piece, PixelRun):
            _run_fits(piece, build.shelf.find(StripPart, piece.part_id), f"pieces[{number}]")
    _joints_fit(build)
    _buses_fit(build, runs)
    for number, rail in enumerate(build.rails):
        _rail_fits(rail, build.shelf.find(RegulatorPart, rail.regulator_id), f"rails[{number}]")
    for number, feed in enumerate(build.feeds):
        _feed_fits(feed, runs, f"feeds[{number}]")
    counts = {piece.id: (piece.slot_count, piece.name) for piece in build.pieces}
    for number, piece in enumerate(build.pieces):
        _notes_fit(piece, f"pieces[{number}].notes")
    for number, group in enumerate(build.groups):
        for at, ref in enumerate(group.slots):
            _on_piece(ref.index, *counts[ref.piece_id], f"groups[{number}].slots[{at}].index")
    _drive_fits(build, counts)
    _plugs_fit(build)
    for number, (one, other) in enumerate(pairwise(build.scenes), 1):
        if other.start_s <= one.start_s:
            raise LanternError(
                f"“{other.name}” does not begin after “{one.name}”", f"scenes[{number}].start_s",
                f"later than {one.start_s:g} s",
            )  # fmt: skip
    for number, effect in enumerate(build.effects):
        for ref, end in ((effect.first, "first"), (effect.last, "last")):
            _on_piece(ref.index, *counts[ref.piece_id], f"effects[{number}].{end}.index")


def _plugs_fit(build: Whole) -> None:
    """Each piece lies beyond one connector at most."""
    beyond: dict[str, str] = {}
    for number, plug in enumerate(build.plugs):
        for at, piece_id in enumerate(plug.piece_ids):
            if piece_id in beyond:
                words = f"{build.line.piece(piece_id).name} lies beyond {beyond[piece_id]} already"
                raise LanternError(words, f"plugs[{number}].piece_ids[{at}]", "one connector for each piece")
            beyond[piece_id] = plug.name


def _drive_fits(build: Whole, counts: dict[str, tuple[int, str]]) -> None:
    """Pins that boards have, one use a pin; outputs used once; lamps that are there."""
    used: dict[tuple[str, str], str] = {}
    boards = {board.id: build.shelf.find(BoardPart, board.part_id) for board in build.boards}
    for number, board in enumerate(build.boards):
        for at, kept in enumerate(board.reserved):
            _pin_free(boards[board.id], board.id, kept.pin, used, f"boards[{number}].reserved[{at}].pin")
        for at, line in enumerate(board.lines):
            _pin_free(boards[board.id], board.id, line.pin, used, f"boards[{number}].lines[{at}].pin")
    for number, driver in enumerate(build.drivers):
        for at, pin in enumerate(driver.pins):
            _pin_free(boards[driver.board_id], driver.board_id, pin.pin, used, f"drivers[{number}].pins[{at}].pin")
    for number, one in enumerate(build.inputs):
        for at, pin in enumerate(one.pins):
            _pin_free(boards[one.board_id], one.board_id, pin.pin, used, f"inputs[{number}].pins[{at}].pin")
    for number, driver in enumerate(build.drivers):
        _outputs_fit(build, driver, f"drivers[{number}]")
    outputs: dict[tuple[str, int], int] = {}
    part_ids = {piece.id: piece.part_id for piece in build.pieces}
    for number, channel in enumerate(build.channels):
        if outputs.setdefault((channel.driver_id, channel.output), number) != number:
            words = f"output {channel.output} has a channel already"
            raise LanternError(words, f"channels[{number}].output", "a free output")
        for at, ref in enumerate(channel.slots):
            if ref.index >= counts[ref.piece_id][0]:
                _on_piece(ref.index, *counts[ref.piece_id], f"channels[{number}].slots[{at}].index")
        if channel.die is not None:
            part = build.shelf.find(Part, part_ids[channel.slots[0].piece_id])
            _die_there(channel.die, part, f"channels[{number}].die")


def _die_there(die: str, part: Part, where: str) -> None:
    dies = [each.name for each in part.dies] if isinstance(part, LampPart) else []
    if die not in dies:
        raise LanternError(f"“{part.name}” has no {die} die, and a channel drives it", where, ", ".join(dies) or "none")


def _outputs_fit(build: Whole, driver: Driver, where: str) -> None:
    """Outputs for all of its lamps, chips for all of its outputs, and time in which a scanned row is lit."""
    used = max((channel.output + 1 for channel in build.channels_of[driver.id]), default=0)
    there = driver.output_count(build.shelf)
    if there is not None and used > there:
        words = f"{driver.name} has {there} outputs, and its lamps use {used}"
        raise LanternError(words, where, f"chips, rows or columns for {used} outputs")
    if not isinstance(driver, Scanned):
        return
    needed = driver.chips_for(used, build.shelf)
    if driver.chips < needed:
        words = f"{driver.chips} chips do not reach {driver.rows} rows of {driver.columns} columns"
        raise LanternError(words, f"{where}.chips", f"{needed} or more")
    if driver.blank_s >= 1 / driver.row_rate_hz:
        words = f"{driver.name} is blanked for all of a row's time"
        raise LanternError(words, f"{where}.blank_s", f"less than {1e6 / driver.row_rate_hz:g} µs")


def _pin_free(board: BoardPart, board_id: str, pin: str, used: dict[tuple[str, str], str], where: str) -> None:
    if board.pin(pin) is None:
        offered = ", ".join(each.name for each in board.pins[:12])
        raise LanternError(f"“{board.name}” has no pin “{pin}”", where, offered)
    if used.setdefault((board_id, pin), where) != where:
        raise LanternError(f"pin {pin} is used at {used[board_id, pin]} too", where, "a free pin")


def known_ids(build: Whole) -> dict[str, set[str]]:
    """The ids that references may name, by the list that they refer to."""
    known: dict[str, set[str]] = {f"parts.{kind}": set() for kind in PART_TYPES}
    for part in build.parts:
        known[f"parts.{part.kind}"].add(part.id)
    known["pieces"] = {piece.id for piece in build.pieces}
    known["runs"] = {run.id for run in build.strips}
    known["buses"] = {bus.id for bus in build.buses}
    known["boards"] = {board.id for board in build.boards}
    known["drivers"] = {driver.id for driver in build.drivers}
    known["supplies"] = {supply.id for supply in build.supplies}
    known["rails"] = {rail.id for rail in build.rails}
    known["sources"] = known["supplies"] | known["rails"] | known["boards"]
    known["effects"] = {effect.id for effect in build.effects}
    known["scenes"] = {scene.id for scene in build.scenes}
    known["inputs"] = {each.id for each in build.inputs}
    known["groups"] = {group.id for group in build.groups}
    return known


def all_ids(build: Whole) -> Iterator[tuple[str, str]]:
    """Every id in the build with its path."""
    for field in LIST_FIELDS:
        for number, item in enumerate(getattr(build, field)):
            yield item.id, f"{field}[{number}].id"


def _ids_unique(build: Whole) -> None:
    every = [item.id for field in LIST_FIELDS for item in getattr(build, field)]
    if len(set(every)) == len(every):
        return
    seen: dict[str, str] = {}
    for identity, where in all_ids(build):
        if identity in seen:
            raise LanternError(f"the id “{identity}” is already used at {seen[identity]}", where, "an id of its own")
        seen[identity] = where


def _on_piece(index: int, count: int, name: str, where: str) -> None:
    if not 0 <= index < count:
        accepted = f"a whole number from 0 to {count - 1}"
        raise LanternError(f"light {index} is not on “{name}”", where, accepted)


def _notes_fit(piece: Piece, where: str) -> None:
    numbers = [note.index for note in piece.notes]
    for index in numbers:
        _on_piece(index, piece.slot_count, piece.name, where)
    if numbers != sorted(set(numbers)):
        raise LanternError("what is said of the lamps is out of order", where, "each lamp once, rising")


def _run_fits(run: PixelRun, part: StripPart, where: str) -> None:
    try:
        check_colour_order(run.colour_order, part)
    except ValueError as error:
        raise LanternError(str(error), f"{where}.colour_order", f"for example {part.colour_order}") from None
    if list(run.cuts) != sorted({cut for cut in run.cuts if 1 <= cut < run.pixel_count}):
        accepted = f"rising whole numbers from 1 to {run.pixel_count - 1}"
        raise LanternError("the cuts do not rise along the strip", f"{where}.cuts", accepted)


def _joints_fit(build: Whole) -> None:
    used: set[tuple[str, str]] = set()
    for number, joint in enumerate(build.joints):
        pair = (joint.from_strip_id, joint.to_strip_id)
        if pair in used:
            raise LanternError(
                "these two strips are already joined", f"joints[{number}]", "one joint between two strips"
            )
        used.add(pair)


def _buses_fit(build: Whole, runs: dict[str, PixelRun]) -> None:
    for number, bus in enumerate(build.buses):
        where = f"buses[{number}].tap_pixels"
        for tap in bus.tap_pixels:
            _on_piece(tap, runs[bus.strip_id].pixel_count, runs[bus.strip_id].name, where)
        if list(bus.tap_pixels) != sorted(set(bus.tap_pixels)):
            raise LanternError("the taps do not rise along the strip", where, "rising pixel numbers")


def _rail_fits(rail: Rail, part: RegulatorPart, where: str) -> None:
    if not part.least_v <= rail.target_v <= part.most_v:
        words = f"“{part.name}” cannot be trimmed to {rail.target_v:g} V"
        raise LanternError(words, f"{where}.target_v", f"{part.least_v:g} to {part.most_v:g} V")


def _feed_fits(feed: Feed, runs: dict[str, PixelRun], where: str) -> None:
    if feed.attach.to == "bus":
        return
    run = runs[feed.attach.strip_id]
    if feed.attach.position_m > run.length_m + 1e-6:
        raise LanternError(
            f"{feed.attach.position_m:g} m is past the end of “{run.name}”",
            f"{where}.attach.position_m",
            f"0 to {run.length_m:g} m",
        )
