"""Everything that a board does, worked out from its build: its data lines, its drivers, its knobs."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from tiny_lantern.code.answers_of import Answers, refuse_elsewhere, state_bytes
from tiny_lantern.code.board.at_pins import AtPins, BoardPins
from tiny_lantern.code.board.doings import Doing, Doings, Heard, Knob, Pixels
from tiny_lantern.code.board.kinds.listening import Told
from tiny_lantern.code.board.ways.registry import doings_of
from tiny_lantern.code.names import Names, identifier
from tiny_lantern.code.score import Score, Slice, score_of
from tiny_lantern.model.build import Build
from tiny_lantern.model.data_lines import on_data_lines
from tiny_lantern.model.drive import Board, Dimmed, PinNeed
from tiny_lantern.model.edits import item
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.input import Input
from tiny_lantern.model.inputs.told import ToldInput
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.pin_needs import DATA, board_needs, owner_name, pins_of


def without_pins(build: Build, board_id: str) -> list[PinNeed]:
    """What has no pin yet on a board.

    Args:
        build: the build.
        board_id: the board.
    """
    there = pins_of(build, board_id)
    return [need for need in board_needs(build, board_id) if (need.driver_id, need.role) not in there]


def refuse_without_pins(build: Build) -> None:
    """Refuse a build on whose boards something has no pin yet: its program could not be run.

    Args:
        build: the build.

    Raises:
        LanternError: there is such a thing, or an input that what plays does not hear; it names the first.
    """
    for board in build.boards:
        for need in without_pins(build, board.id):
            told = f"{owner_name(build, need.driver_id)} has no pin yet on {board.name} for its {need.role}"
            raise LanternError(told, "code", "Assign pins in Drive, or a board with more of them")
    if build.rules and build.line.slot_count and build.effects:
        playing = score_of(build).playing
        refuse_elsewhere(Answers(build), [part.board_id for part in playing],
                         {part.board_id: part.title for part in playing})  # fmt: skip


def doings_at(build: Build, score: Score, part: Slice) -> Doings:
    """What a board does at its pins.

    Args:
        build: the build.
        score: its show.
        part: the board's part of it.

    Raises:
        LanternError: something has no pin yet.
    """
    board = item(build.boards, part.board_id, "board")
    pins = BoardPins(build.shelf.find(BoardPart, board.part_id))
    own = [driver for driver in build.drivers if driver.board_id == board.id]
    channels = [channel for driver in own for channel in build.channels_of[driver.id]]
    places = {channel.id: place for place, channel in enumerate(channels)}
    titles = tuple(driven.title for driven in part.levels)
    found: list[Doing] = list(_data_lines(build, board, part, pins))
    for driver in own:
        at = AtPins(build, driver, pins, places, titles)
        found += doings_of(at)
        if isinstance(driver, Dimmed) and driver.knob:
            found.append(_knob(at, driver))
    place = score.place(part)
    own_inputs = [one for one in build.inputs if one.board_id == board.id]
    signals = signals_of(build, board.id)
    heard = tuple(_heard(pins, one, signals) for one in own_inputs) if score.answers and score.answers.any else ()
    return Doings(
        tuple(pins.found.values()),
        tuple(found),
        len(titles),
        place > 0,
        place < len(score.playing) - 1,
        heard,
        state_bytes(score.answers, len(score.playing)),
        part.listens,
        tuple(signals.values()),
    )


def signals_of(build: Build, board_id: str) -> dict[str, Told]:
    """What a computer may tell a board, by the ids of the inputs: names and words as they go over the cable.

    Args:
        build: the build.
        board_id: the board.
    """
    names, found = Names(), {}
    for one in build.inputs:
        if isinstance(one, ToldInput) and one.board_id == board_id:
            states = identifier(one.off_word, "off"), identifier(one.on_word, "on")
            states = states if states[0] != states[1] else ("off", "on")
            found[one.id] = Told(names.of(one.name, "signal"), states, one.lost)
    return found


def _heard(pins: BoardPins, one: Input, signals: dict[str, Told]) -> Heard:
    """An input at its pin, or as a computer tells it."""
    if not one.wired:
        told = list(signals).index(one.id) if one.id in signals else None
        return Heard(None, False, one.name, told, int(getattr(one, "lost", "") == "on"))
    if one.pin is None:
        raise LanternError(f"{one.name} has no pin yet", "code", "Assign pins in Drive, or a board with more of them")
    pin = pins.named(one.name, one.pin.pin, use="reads", pull_up=bool(getattr(one, "pulled_by_board", False)))
    return Heard(pin, one.volts, one.name)


def _knob(at: AtPins, driver: Dimmed) -> Knob:
    """A knob that sets how bright its driver's lamps are; what it reads at rest is taken off where that is asked."""
    board = at.pins.part
    rest = board.adc_offset if driver.rest_off else 0
    first = at.level(at.channels[0]) if at.channels else 0
    return Knob(
        at.pin("knob", use="reads"), first, len(at.channels), rest, (1 << board.adc_bits) - 1, f"{driver.name} knob"
    )


def _data_lines(build: Build, board: Board, part: Slice, pins: BoardPins) -> Iterator[Pixels]:
    """Each data line with the bytes of what hangs on it: all of a board's pieces, or each its own."""
    pieces = on_data_lines(build).get(board.id, ())
    there = pins_of(build, board.id)
    for line in ((piece,) for piece in pieces) if build.data.parallel else [pieces] if pieces else []:
        pin = there.get((line[0].id, DATA))
        if pin is None:
            raise LanternError(f"the data line of {line[0].name} has no pin yet", "code", "Assign pins in Drive")
        spans = tuple(_joined(_bytes_of(part, piece.id) for piece in line))
        words = ", ".join(piece.name for piece in line)
        yield Pixels(pins.named(f"{line[0].name} data", pin.pin, use="pixels"), spans, words)


def _bytes_of(part: Slice, piece_id: str) -> tuple[int, int]:
    """Where the bytes of a piece begin in a board's frame, and how many they are. [-]"""
    sizes = [(run.piece_id == piece_id, run.count * len(run.order)) for run in part.runs]
    first = next(number for number, (own, _) in enumerate(sizes) if own)
    return sum(size for _, size in sizes[:first]), sum(size for own, size in sizes if own)


def _joined(spans: Iterable[tuple[int, int]]) -> Iterator[tuple[int, int]]:
    """Bytes in a row, those that follow one another as one."""
    first, count = 0, 0
    for start, size in spans:
        if count and start == first + count:
            count += size
            continue
        if count:
            yield first, count
        first, count = start, size
    if count:
        yield first, count
