"""The ways to drive a piece: which fit it, and how each is made with everything that follows from it."""

from __future__ import annotations

import math
from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass
from typing import Any, TypeVar

from tiny_lantern.catalogue.shelf import all_parts
from tiny_lantern.electrical.drive.bjt import StringLoad, base_ideal_ohm
from tiny_lantern.electrical.driven.contract import case_of, lamp_of
from tiny_lantern.electrical.driven.steering import steering_of
from tiny_lantern.electrical.driven.switch import bjt_of, load_of
from tiny_lantern.electrical.lamp.eseries import E12, E24, preferred
from tiny_lantern.model.base import made, revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Channel, Driver, Steered
from tiny_lantern.model.edits import fresh_family, item, with_part
from tiny_lantern.model.edits_drive import add_board, change_board_part, with_one_resistor
from tiny_lantern.model.edits_pieces import change_piece
from tiny_lantern.model.edits_sources import with_sources
from tiny_lantern.model.emitters import Emitter, emitters_of
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.lamps import Matrix, SwitchedLoad
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.parts.load import LoadPart
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.parts.transistor import TransistorPart
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.ways.chain import Chain
from tiny_lantern.model.ways.registry import DRIVER_TYPES
from tiny_lantern.model.ways.scanned import Scanned
from tiny_lantern.model.ways.sink import SinkChain
from tiny_lantern.model.ways.switch import Switch
from tiny_lantern.plans.pins import assign_pins
from tiny_lantern.plans.resistors import choice_of, chosen_ohm
from tiny_lantern.plans.rewire import assert_memory
from tiny_lantern.plans.usual import USUAL_A, asked_within_limits

USUAL_BOARD, LARGE_BOARD = "board-8bit-small", "board-8bit-large"
DIMMED_BITS = 8
P = TypeVar("P", bound=Part)
Made = tuple[dict[str, Any], tuple[str, ...]]
Making = Callable[[Build, Piece, Part, tuple[Emitter, ...]], Made]


@dataclass(frozen=True)
class Way:
    """A way to drive as it is offered."""

    kind: str
    driver: type[Driver]

    @property
    def word(self) -> str:
        """What it is called."""
        return self.driver.word

    @property
    def wins(self) -> str:
        """When it is the better one."""
        return self.driver.wins

    def fits(self, piece: Piece, part: Part) -> bool:
        """Whether it can drive a piece of a part."""
        return self.driver.fits(piece, part)

    def make(self, build: Build, piece: Piece, part: Part, emitters: tuple[Emitter, ...]) -> Made:
        """The fields of it for a piece, and the parts of the shelf that it takes."""
        fields, part_ids = MAKING.get(self.kind, _plainly)(build, piece, part, emitters)
        return {name: value for name, value in fields.items() if name in self.driver.model_fields}, part_ids


def part_named(build: Build, kind: type[P], part_id: str) -> P:
    """A part of the build or of the shelf."""
    return all_parts(build).find(kind, part_id)


def _anode(part: Part) -> bool:
    return isinstance(part, LampPart) and part.common == "anode"


def _on_pins(build: Build, piece: Piece, part: Part, emitters: tuple[Emitter, ...]) -> Made:
    return {"sink": _anode(part)}, ()


def _plainly(build: Build, piece: Piece, part: Part, emitters: tuple[Emitter, ...]) -> Made:
    """What a way takes that nothing else is said of: the lamps' supply where it has one."""
    return {"led_v": _led_v(build, piece, part)}, ()


def _led_v(build: Build, piece: Piece, part: Part, head_v: float = 0.8) -> float:
    """The lamps' supply: one of the build that leaves room for a resistor, else 5, 12 or 24 V. [V]"""
    if isinstance(part, LoadPart):
        return part.nominal_v
    assert isinstance(part, LampPart)
    count = piece.slot_count if getattr(piece, "wired", "apart") == "series" else 1
    needed = max(die.forward_v for die in part.dies) * count + head_v
    offered = sorted({supply.set_v for supply in build.supplies} | {5.0, 12.0, 24.0})
    return next((volts for volts in offered if volts >= needed), max(math.ceil(needed), 1.0))


def _switch(build: Build, piece: Piece, part: Part, emitters: tuple[Emitter, ...]) -> Made:
    led_v, high = _led_v(build, piece, part), isinstance(part, LampPart) and part.common == "cathode"
    transistor_id = "mosfet-high" if high else "mosfet-logic"
    return {
        "transistor_id": transistor_id, "led_v": led_v, "base_ohm": 220.0, "pull_ohm": 100_000.0,
        "has_driver": high and led_v > _logic_v(build),
    }, (transistor_id,)  # fmt: skip


def _logic_v(build: Build) -> float:
    """The lowest voltage that a board of the build gives at its pins. [V]"""
    parts = (build.shelf.find(BoardPart, board.part_id) for board in build.boards)
    return min((part.logic_v for part in parts), default=5.0)


def _register(build: Build, piece: Piece, part: Part, emitters: tuple[Emitter, ...]) -> Made:
    return {"chip_id": "register-8", "sink": _anode(part)}, ("register-8",)


def _sink(build: Build, piece: Piece, part: Part, emitters: tuple[Emitter, ...]) -> Made:
    chip = part_named(build, ChipPart, "sink-16")
    rext = preferred(chip.k_v / USUAL_A, E12).up
    return {"chip_id": chip.id, "rext_ohm": rext, "led_v": 5.0, "levels_bits": DIMMED_BITS}, (chip.id,)


def _scan(build: Build, piece: Piece, part: Part, emitters: tuple[Emitter, ...]) -> Made:
    rows = piece.rows if isinstance(piece, Matrix) else max(1, math.isqrt(len(emitters)))
    columns = -(-len(emitters) // rows)
    transistor = part_named(build, TransistorPart, "mosfet-high")
    return {
        "chip_id": "register-8-strong", "rows": rows, "columns": columns, "rows_by": "transistor",
        "row_transistor_id": transistor.id, "row_ohm": transistor.rds_table[-1][1], "column_ohm": 100.0,
    }, ("register-8-strong", transistor.id)  # fmt: skip


def _demux(build: Build, piece: Piece, part: Part, emitters: tuple[Emitter, ...]) -> Made:
    return {"chip_id": "demux-16", "dwell_s": 0.001}, ("demux-16",)


def _relay(build: Build, piece: Piece, part: Part, emitters: tuple[Emitter, ...]) -> Made:
    return {"relay_id": "relay-1"}, ("relay-1",)


def _pair(build: Build, piece: Piece, part: Part, emitters: tuple[Emitter, ...]) -> Made:
    return {}, ()


def _hold(build: Build, piece: Piece, part: Part, emitters: tuple[Emitter, ...]) -> Made:
    return {"regulator_id": "regulator-low-drop", "transistor_id": "mosfet-logic"}, (
        "regulator-low-drop", "mosfet-logic",
    )  # fmt: skip


MAKING: dict[str, Making] = {
    "pin": _on_pins, "pwm": _on_pins, "switch": _switch, "register": _register, "sink": _sink, "scanned": _scan,
    "demux": _demux, "relay": _relay, "pair": _pair, "hold": _hold,
}  # fmt: skip
WAYS: tuple[Way, ...] = tuple(Way(kind, driver) for kind, driver in DRIVER_TYPES.items())


def way_of(kind: str) -> Way:
    """The way of a kind."""
    return next(way for way in WAYS if way.kind == kind)


def ways_for(build: Build, piece_id: str) -> list[Way]:
    """The ways that fit a piece, in order."""
    piece = build.line.piece(piece_id)
    part = build.shelf.find(Part, piece.part_id)
    return [way for way in WAYS if way.fits(piece, part)]


def usual_way(build: Build, piece_id: str) -> Way | None:
    """What a piece is usually driven by; None where a data line does."""
    piece = build.line.piece(piece_id)
    fitting = {way.kind: way for way in ways_for(build, piece_id)}
    if isinstance(piece, Matrix):
        return fitting.get("scanned")
    part = build.shelf.find(Part, piece.part_id)
    many = len(emitters_of(piece, part)) > 4
    wanted: tuple[str, ...] = ("hold", "relay", "pair", "register" if many else "pwm", "switch")
    if isinstance(piece, SwitchedLoad):
        wanted = ("relay", *wanted)
    return next((fitting[kind] for kind in wanted if kind in fitting), next(iter(fitting.values()), None))


def driver_of(build: Build, piece_id: str) -> Driver | None:
    """What drives a piece now."""
    channel = next((channel for channel in build.channels if channel.slots[0].piece_id == piece_id), None)
    return None if channel is None else item(build.drivers, channel.driver_id, "driver")


def drive_piece(build: Build, piece_id: str, kind: str, board_id: str | None = None) -> Build:
    """Drive a piece in a way, in place of how it was driven; resistors, chips and pins follow.

    Args:
        build: the build.
        piece_id: the piece.
        kind: the way.
        board_id: the board for a piece that none drives yet; the first when it is missing.

    Raises:
        LanternError: the way does not fit it, or the board has too few pins.
    """
    piece = build.line.piece(piece_id)
    part = build.shelf.find(Part, piece.part_id)
    way = way_of(kind)
    if not way.fits(piece, part):
        offered = ", ".join(each.word for each in ways_for(build, piece_id)) or "nothing but its data line"
        raise LanternError(f"{way.word} cannot drive {piece.name}", "way to drive", offered)
    wanted = {(channel.slots, channel.die): channel.wanted_a for channel in build.channels}
    before = driver_of(build, piece_id)
    build = without_driving(build, piece_id)
    if not build.boards:
        build = add_board(build, part_named(build, BoardPart, USUAL_BOARD))
    emitters = emitters_of(piece, part)
    fields, part_ids = way.make(build, piece, part, emitters)
    for part_id in part_ids:
        build = with_part(build, part_named(build, Part, part_id))
    board_id = before.board_id if before is not None else board_id or build.boards[0].id
    driver_id = fresh_family(build, f"{piece.name} {kind}")
    driver = made(way.driver, id=driver_id, name=piece.name, board_id=board_id, **fields)
    if isinstance(driver, Chain):
        driver = revise(driver, chips=driver.chips_for(len(emitters), build.shelf))
    build = revise(build, drivers=(*build.drivers, driver))
    most_a = part.most_a if isinstance(part, LampPart) else USUAL_A
    channels = []
    for output, emitter in enumerate(emitters):
        amps = wanted.get((emitter.slots, emitter.die), min(USUAL_A, most_a))
        channels.append(
            Channel(id=f"{driver_id}-{output}", driver_id=driver_id, output=output, slots=emitter.slots,
                    die=emitter.die, wanted_a=amps)
        )  # fmt: skip
    build = revise(build, channels=(*build.channels, *channels))
    assert_memory(build, board_id)
    build = assign_pins(with_resistors(with_sources(build), driver_id), board_id)
    new = {each.id for each in channels if (each.slots, each.die) not in wanted}
    return asked_within_limits(build, driver_id, new, with_resistors)


def without_driving(build: Build, piece_id: str) -> Build:
    """The build with nothing that drives a piece; a driver that is left with no lamp goes too."""
    own = {channel.driver_id for channel in build.channels if channel.slots[0].piece_id == piece_id}
    channels = tuple(channel for channel in build.channels if channel.slots[0].piece_id != piece_id)
    busy = {channel.driver_id for channel in channels}
    busy |= {each.inputs_on for each in build.drivers if isinstance(each, Steered) and each.inputs_on is not None}
    drivers = tuple(driver for driver in build.drivers if driver.id not in own or driver.id in busy)
    return revise(build, drivers=drivers, channels=channels)


def with_resistors(build: Build, driver_id: str, only: Collection[str] | None = None) -> Build:
    """The build with the resistors that a driver's channels want, rounded up to the series of twelve; a base resistor
    rounded down.

    Args:
        build: the build.
        driver_id: the driver.
        only: the channels whose resistors are chosen; all of them when None.
    """
    driver = item(build.drivers, driver_id, "driver")
    channels = build.channels_of[driver_id]
    case = case_of(build, driver, channels)
    chosen = [chosen_ohm(case, at) for at in range(len(channels))]
    fitted = [_largest(driver, channel, channels, chosen) for channel in channels]
    new = {
        each.id: revise(each, resistor_ohm=ohm) if only is None or each.id in only else each
        for each, ohm in zip(channels, fitted, strict=True)
    }
    build = revise(build, channels=tuple(new.get(channel.id, channel) for channel in build.channels))
    if isinstance(driver, Switch) and channels:
        part = build.shelf.find(TransistorPart, driver.transistor_id)
        if part.sort == "bjt":
            lamp = lamp_of(build, channels[0])
            load = load_of(driver.led_v, lamp.shared_ohm(new[channels[0].id].resistor_ohm), lamp)
            amps = load.current_a(lost_v=part.vce_sat_v) if isinstance(load, StringLoad) else load
            ideal = base_ideal_ohm(bjt_of(part, steering_of(case), case.board.ambient_c), amps)
            changed = revise(driver, base_ohm=preferred(ideal, E12).down if ideal > 0 else None)
            build = revise(build, drivers=tuple(changed if each.id == driver_id else each for each in build.drivers))
    return build


def _largest(
    driver: Driver, channel: Channel, channels: Sequence[Channel], chosen: Sequence[float | None]
) -> float | None:
    """The largest resistor that those behind one want, so that none gets more than it asks for. [ohm]"""
    behind = driver.behind_one_resistor(channel.output)
    wanted = [ohm for each, ohm in zip(channels, chosen, strict=True) if each.output in behind and ohm is not None]
    return max(wanted, default=None)


def resistor_each(build: Build, piece_id: str) -> Build:
    """The build whose lamps side by side have a resistor each in place of one for all; an edit.

    Args:
        build: the build.
        piece_id: the group of lamps.
    """
    build = change_piece(build, piece_id, wired="branches")
    for driver in dict.fromkeys(each.driver_id for each in build.channels if each.slots[0].piece_id == piece_id):
        own = {each.id for each in build.channels_of[driver] if each.slots[0].piece_id == piece_id}
        build = with_resistors(build, driver, own)
    return build


def set_wanted(build: Build, channel_id: str, wanted_a: float) -> Build:
    """Ask a channel for a current; what sets it follows: its resistor, the sinks' setting resistor, a matrix's columns.

    Args:
        build: the build.
        channel_id: the channel.
        wanted_a: the current while lit, in a matrix its average. [A]

    Raises:
        LanternError: it is no current.
    """
    channel: Channel = item(build.channels, channel_id, "channel")
    driver = item(build.drivers, channel.driver_id, "driver")
    together = isinstance(driver, SinkChain | Scanned)
    asked = tuple(
        revise(each, wanted_a=wanted_a) if together or each.id == channel_id else each
        for each in build.channels_of[driver.id]
    )
    at = next(number for number, each in enumerate(asked) if each.id == channel_id)
    case = case_of(build, driver, asked)
    if isinstance(driver, SinkChain):
        chip = build.shelf.find(ChipPart, driver.chip_id)
        return _asked(build, asked, revise(driver, rext_ohm=preferred(chip.k_v / wanted_a, E24).nearest))
    choice = choice_of(case, at)
    if isinstance(driver, Scanned):
        ohm = choice.series["e24"].nearest if choice is not None and choice.series is not None else driver.column_ohm
        return _asked(build, asked, revise(driver, column_ohm=ohm))
    if choice is None or choice.series is None:
        return _asked(build, asked, driver)
    fitted = revise(asked[at], resistor_ohm=chosen_ohm(case, at))
    return with_one_resistor(_asked(build, (*asked[:at], fitted, *asked[at + 1 :]), driver), channel_id)


def _asked(build: Build, channels: tuple[Channel, ...], driver: Driver) -> Build:
    """The build with channels and a driver in place of those of their ids."""
    new = {channel.id: channel for channel in channels}
    kept = tuple(new.get(channel.id, channel) for channel in build.channels)
    drivers = tuple(driver if other.id == driver.id else other for other in build.drivers)
    return revise(build, channels=kept, drivers=drivers)


def drive_everything(build: Build) -> Build:
    """Every piece that nothing drives, in its usual way; a larger board where the pins of the first do not reach.

    Raises:
        LanternError: no board here has pins enough.
    """
    for piece in build.pieces:
        way = usual_way(build, piece.id)
        if way is None or driver_of(build, piece.id) is not None:
            continue
        try:
            build = drive_piece(build, piece.id, way.kind)
        except LanternError:
            if not build.boards or any(board.part_id == LARGE_BOARD for board in build.boards):
                raise
            larger = part_named(build, BoardPart, LARGE_BOARD)
            build = drive_piece(change_board_part(build, build.boards[0].id, larger), piece.id, way.kind)
    return build
