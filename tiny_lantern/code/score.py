"""What is printed as code: the effects with their numbers, the lights of each board in the order of the wire."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import groupby

from tiny_lantern.code.answers_of import Answers
from tiny_lantern.code.names import Names
from tiny_lantern.effects.kind import EffectKind, Span, Value
from tiny_lantern.effects.registry import effect_kinds
from tiny_lantern.model.build import Build
from tiny_lantern.model.data_lines import PLAIN_ORDER, boards_of_pieces, usual_order
from tiny_lantern.model.drive import Driver
from tiny_lantern.model.effects import Effect
from tiny_lantern.model.emitters import by_data_line
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.listening import Listening
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.pin_needs import owner_name, pins_of
from tiny_lantern.model.stamp import code_stamp_of
from tiny_lantern.model.strip import PixelRun
from tiny_lantern.show.capping import caps_of
from tiny_lantern.show.levels import Level, levels_of
from tiny_lantern.show.limit import Cap, Load
from tiny_lantern.show.looks import look_numbers
from tiny_lantern.show.scenes import Window, windows_of
from tiny_lantern.show.weave import show_of

LETTERS = "RGBW"
FINEST_US = 1_000_000


@dataclass(frozen=True)
class Laid:
    """One effect: its function's name, the frames from ``begin`` to before ``end`` in which it may be seen (by itself
    it ends before ``own_end``), its scene, the lights from ``first`` to before
    ``stop``, and the numbers and lists that its program is given."""

    name: str
    effect: Effect
    kind: EffectKind
    begin: int
    end: int
    first: int
    stop: int
    numbers: Mapping[str, Value]
    scene: int = 0
    own_end: int = 0
    slots: tuple[int, ...] | None = None

    @property
    def count(self) -> int:
        """How many lights it has. [-]"""
        return self.stop - self.first if self.slots is None else len(self.slots)

    @property
    def places(self) -> tuple[int, ...]:
        """Of each light from ``first`` to before ``stop`` its place in the group that the effect follows, -1 where it
        is not in it."""
        assert self.slots is not None
        at = {slot: place for place, slot in enumerate(self.slots)}
        return tuple(at.get(slot, -1) for slot in range(self.first, self.stop))

    def number(self, name: str) -> int:
        """A number that its program is given."""
        value = self.count if name == "count" else self.numbers[name]
        assert isinstance(value, int)
        return value

    def list(self, name: str) -> tuple[int, ...]:
        """A list that its program is given."""
        value = self.numbers[name]
        assert isinstance(value, tuple)
        return value


@dataclass(frozen=True)
class Run:
    """Lights in a row whose bytes are sent in one order of colours."""

    piece_name: str
    first: int
    count: int
    order: str
    piece_id: str = ""


@dataclass(frozen=True)
class Driven:
    """One channel that the board drives itself: what it is called, where its light's three bytes begin in the frame,
    and how its level comes about."""

    title: str
    at: int
    level: Level


@dataclass(frozen=True)
class Slice:
    """The part of the show that one board plays: its name, its lights in the order in which they are sent, its pins,
    the channels that it drives itself, the lights of other boards whose draw counts where its own are dimmed, and how
    it listens to a computer, if it does: of several boards none does, since their serial lines hand frames on."""

    name: str
    title: str
    runs: tuple[Run, ...]
    pins: tuple[tuple[str, str], ...]
    levels: tuple[Driven, ...] = ()
    beside: tuple[Run, ...] = ()
    board_id: str = ""
    listens: Listening | None = None

    @property
    def byte_count(self) -> int:
        """How many bytes a frame of it has. [-]"""
        return sum(run.count * len(run.order) for run in self.runs)


@dataclass(frozen=True)
class Light:
    """A light that has a name of its own, and its number on the Line."""

    name: str
    title: str
    number: int


@dataclass(frozen=True)
class Score:
    """A show ready to be printed."""

    title: str
    stamp: str
    ticks: int
    tick_us: int
    after_end: str
    plays: int
    effects: tuple[Laid, ...]
    slices: tuple[Slice, ...]
    lights: tuple[Light, ...]
    caps: tuple[Cap, ...] = ()
    windows: tuple[Window, ...] = ()
    answers: Answers | None = None

    @property
    def playing(self) -> tuple[Slice, ...]:
        """The parts of the boards that have lights, in the order of the chain."""
        return tuple(part for part in self.slices if part.runs)

    def place(self, part: Slice) -> int:
        """A board's place in the chain of those that play, the first 0. [-]"""
        return self.playing.index(part)

    @property
    def kinds(self) -> tuple[EffectKind, ...]:
        """The kinds of effect in it, each once."""
        return tuple({laid.kind.kind: laid.kind for laid in self.effects}.values())


def score_of(build: Build) -> Score:
    """A build's show, ready to be printed.

    Raises:
        LanternError: there are no lights, or no effect.
    """
    if not build.line.slot_count or not build.effects:
        raise LanternError("there is no show to play", "code", "a build with lights and at least one effect")
    names, answers = Names(), Answers(build)
    return Score(
        build.name, code_stamp_of(build), build.timeline.count, round(FINEST_US / build.tick_hz), build.after_end,
        build.plays, tuple(_laid(build, names)), tuple(slices_of(build)), tuple(_lights(build)), caps_of(build),
        windows_of(build), answers,
    )  # fmt: skip


def _laid(build: Build, names: Names) -> list[Laid]:
    """The effects, scene after scene, the lowest of each first."""
    show, laid = show_of(build), []
    for number, effect in enumerate(build.effects):
        begin, end, first, stop = show.place(number)
        kind = effect_kinds()[effect.look.kind]
        slots = show.lights(number)
        count = stop - first if slots is None else len(slots)
        numbers = look_numbers(effect.look, Span(count, effect.length_s, build.tick_hz))
        where = build.line.piece(effect.first.piece_id).name
        lists = [node.name for node in kind.program.lists]
        name = names.of(f"{effect.look.word} on {where}", effect.look.kind, lists)
        scene, seen_end = show.seen(number)
        order = None if slots is None else tuple(slots.tolist())
        laid.append(Laid(name, effect, kind, begin, seen_end, first, stop, numbers, scene, end, order))
    return sorted(laid, key=lambda one: one.scene)


def slices_of(build: Build) -> Iterator[Slice]:
    """A slice for each board: the pieces that it drives, and those on its data lines; the first has what nothing drives
    too. One slice without boards.

    Args:
        build: the build.
    """
    names = Names()
    if not build.boards:
        yield Slice("board", "the board", tuple(runs_of(build, build.pieces)), ())
        return
    playing = boards_of_pieces(build)
    by_itself = len(set(playing.values())) < 2
    for board in build.boards:
        own = [piece for piece in build.pieces if playing[piece.id] == board.id]
        uses = pins_of(build, board.id).items()
        pins = [(f"{owner_name(build, owner)}, {role}", pin.pin) for (owner, role), pin in uses]
        runs = tuple(runs_of(build, own))
        drivers = [driver for driver in build.drivers if driver.board_id == board.id]
        others = [piece for piece in build.pieces if playing[piece.id] != board.id]
        yield Slice(
            names.of(board.name, "board"), board.name, runs, tuple(pins), tuple(_driven(build, drivers, runs)),
            tuple(_sharing(caps_of(build), runs, list(runs_of(build, others)))), board.id,
            board.listens if by_itself else None,
        )  # fmt: skip


def _sharing(caps: Sequence[Cap], own: Sequence[Run], others: Sequence[Run]) -> Iterator[Run]:
    """The lights of other boards that a cap counts together with a board's own."""
    counting = [cap for cap in caps if any(load_of(cap, run) for run in own)]
    return (run for run in others if any(load_of(cap, run) for cap in counting))


def load_of(cap: Cap, run: Run) -> Load | None:
    """What a cap counts a run's lights for; None where it does not.

    Args:
        cap: the cap.
        run: the lights.
    """
    return next((load for load in cap.loads if load.first <= run.first < load.stop), None)


def _driven(build: Build, drivers: Sequence[Driver], runs: Sequence[Run]) -> Iterator[Driven]:
    """The channels of some drivers, output after output."""
    for driver in drivers:
        for level in levels_of(build, driver):
            ref = level.channel.slots[0]
            piece = build.line.piece(ref.piece_id)
            die = f", {level.channel.die}" if level.channel.die else ""
            title = f"{driver.name} output {level.channel.output}: {piece.place_name(ref.index)}{die}"
            yield Driven(title, _offset(runs, level.slot), level)


def _offset(runs: Sequence[Run], slot: int) -> int:
    """Where the bytes of a light begin in a board's frame. [-]"""
    at = 0
    for run in runs:
        if run.first <= slot < run.first + run.count:
            return at + (slot - run.first) * len(run.order)
        at += run.count * len(run.order)
    raise LookupError(f"light {slot} is not on this board")


def runs_of(build: Build, pieces: Sequence[Piece]) -> Iterator[Run]:
    """The lights of pieces, in a row as long as their order of colours is the same.

    Args:
        build: the build.
        pieces: the pieces, in the order of the wire.
    """
    for piece in pieces:
        first = build.line.span(piece.id).first
        orders = wire_orders(build, piece)
        at = 0
        for order, same in groupby(orders):
            count = len(list(same))
            yield Run(piece.name, first + at, count, order, piece.id)
            at += count


def wire_orders(build: Build, piece: Piece) -> list[str]:
    """The order in which the colours of each light of a piece are sent, red first where nothing says otherwise.

    Args:
        build: the build.
        piece: the piece.
    """
    part = build.shelf.find(Part, piece.part_id)
    if not by_data_line(piece, part):
        return [PLAIN_ORDER] * piece.slot_count
    usual = usual_order(piece)
    if isinstance(piece, PixelRun):
        return [usual] * piece.slot_count
    own = {note.index: note.colour_order for note in piece.notes if note.colour_order}
    return [own.get(index, usual) for index in range(piece.slot_count)]


def cap_rows(score: Score, part: Slice) -> list[tuple[int, list[tuple[int, int, int, int]]]]:
    """Of each cap that dims lights of a board: what it leaves for light, and what each run draws at full red, green,
    blue and white, zero for a run that it does not dim; the board's own runs, then those beside them. [µA]

    Args:
        score: the show.
        part: the board's part of it.
    """
    found = []
    for cap in score.caps:
        loads = [load_of(cap, run) for run in (*part.runs, *part.beside)]
        rows = [(0, 0, 0, 0) if load is None else load.full_ua for load in loads]
        if any(map(any, rows[: len(part.runs)])):
            found.append((cap.room_ua, rows))
    return found


def _lights(build: Build) -> Iterator[Light]:
    """Where each piece begins, and every light that was given a name."""
    names = Names()
    for span in build.line.spans:
        yield Light(names.of(f"{span.piece.name} first", "piece"), f"{span.piece.name}: its first light", span.first)
        for note in span.piece.notes:
            if note.place:
                told = f"{note.place}: {note.function}" if note.function else note.place
                yield Light(names.of(note.place, "light"), told, span.first + note.index)
