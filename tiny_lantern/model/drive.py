"""How lamps are driven: boards, what all ways to drive have in common, and the channel of each lamp."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field

from tiny_lantern.model.base import Coordinate, Frozen, Id, Name, Ohms, revise
from tiny_lantern.model.effects import SlotRef
from tiny_lantern.model.emitters import plain_lamps
from tiny_lantern.model.fed import FedBy, unfed
from tiny_lantern.model.listening import Listening
from tiny_lantern.model.parts.board import PinName
from tiny_lantern.model.parts.light import ChannelName
from tiny_lantern.model.parts.part import BillLine, Part, Shelf
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.refers import Refers

BoardId = Annotated[Id, Refers("boards")]
DriverId = Annotated[Id, Refers("drivers")]
ChipId = Annotated[Id, Refers("parts.chip")]
TransistorId = Annotated[Id, Refers("parts.transistor")]
LedVolts = Annotated[float, Field(gt=0, le=60)]
Rate = Annotated[float, Field(gt=0, le=1e8)]
SOURCES = "sources"


class Reserved(Frozen):
    """A pin kept for something else, and the timer that it takes with it."""

    pin: PinName
    what: Name
    timer: str = ""


class LinePin(Frozen):
    """The pin of a data line, by the first piece on it, None once that is gone; a pinned one stays when pins are
    assigned again."""

    piece_id: Annotated[Id, Refers("pieces")] | None
    pin: PinName
    pinned: bool = False


class Board(Frozen):
    """One board: what it is, what feeds it (the cable that loads its program, where nothing is said), how warm it is
    around it, pins kept for other things and those of its data lines, where it stands in the picture (in the first
    box or at the first supply, where nothing is said), and how it listens to a computer, if it does."""

    id: Id
    name: Name
    part_id: Annotated[Id, Refers("parts.board")]
    fed_by: FedBy | None = None
    ambient_c: Annotated[float, Field(ge=-40, le=120)] = 25.0
    reserved: Annotated[tuple[Reserved, ...], Field(max_length=100)] = ()
    lines: Annotated[tuple[LinePin, ...], Field(max_length=200)] = ()
    at_m: tuple[Coordinate, Coordinate] | None = None
    listens: Listening | None = None

    def without(self, ids: Collection[str]) -> Board | None:
        """The board when what feeds it or pieces on its data lines are gone; None when its part is."""
        left = tuple(revise(line, piece_id=None) if line.piece_id in ids else line for line in self.lines)
        return None if self.part_id in ids else revise(self, lines=left, **unfed(self, ids))


class DriverPin(Frozen):
    """A pin that a driver uses for one of its roles; a pinned one stays when pins are assigned again."""

    role: Name
    pin: PinName
    pinned: bool = False


class Channel(Frozen):
    """One output of a driver and the lamps on it: one light, or all of a series string or a parallel group. ``die`` is
    which colour of the lamp, None for all of it. ``resistor_ohm`` is None where there is none; ``wanted_a`` is what was
    asked of it; ``trim`` is the duty that full means, less than 1 where it is matched to weaker lamps by duty."""

    id: Id
    driver_id: DriverId
    output: Annotated[int, Field(ge=0, le=5000)]
    slots: Annotated[tuple[SlotRef, ...], Field(min_length=1, max_length=5000)]
    die: ChannelName | None = None
    resistor_ohm: Ohms | None = None
    wanted_a: Annotated[float, Field(gt=0, le=10)] = 0.01
    trim: Annotated[float, Field(gt=0, le=1)] = 1.0

    def without(self, ids: Collection[str]) -> Channel | None:
        """The channel without the lamps of pieces that go; None when none is left, or its driver goes."""
        left = tuple(ref for ref in self.slots if ref.piece_id not in ids)
        return revise(self, slots=left) if left and self.driver_id not in ids else None


@dataclass(frozen=True)
class PinNeed:
    """One pin that a driver needs, for a role; ``dims`` when it must dim, ``reads`` when it must read volts,
    ``hears`` when it must tell high from low."""

    driver_id: str
    role: str
    dims: bool = False
    reads: bool = False
    hears: bool = False


def lamp_role(output: int) -> str:
    """The role of a pin that carries one output by itself."""
    return f"lamp {output}"


def bits_for(count: int) -> int:
    """How many select lines tell so many apart. [-]"""
    return max(1, (count - 1).bit_length())


class Driver(Frozen):
    """What every way to drive has: a name, its board, and its pins; its ``word`` and when it ``wins``, by which it is
    offered, its ``rank`` among the others, and how a lamp that it drives is ``at`` it in a line of words. What it
    refers to in the lists of ``spares`` it can do without; ``told_by`` names the field that says what a source
    gives, ``lamps_on`` and ``chips_on`` those that name the sources of lamps and of chips, where it has any but its
    board."""

    kind: str
    id: Id
    name: Name
    board_id: BoardId
    pins: Annotated[tuple[DriverPin, ...], Field(max_length=200)] = ()

    word: ClassVar[str] = ""
    at: ClassVar[str] = ""
    wins: ClassVar[str] = ""
    rank: ClassVar[int] = 200
    spares: ClassVar[tuple[str, ...]] = ()
    lamps_on: ClassVar[str] = ""
    chips_on: ClassVar[str] = ""
    told_by: ClassVar[Mapping[str, str]] = {}

    def without(self, ids: Collection[str]) -> Self | None:
        """The driver when what feeds something of it is gone; None when its board or a part of it is."""
        other = {each.identity for each in self.held if each.to != SOURCES and each.to not in self.spares}
        return None if other & set(ids) else revise(self, **unfed(self, ids))

    def fed_at_v(self, shelf: Shelf, parts: Sequence[Part]) -> dict[str, float]:
        """The voltage that each of its sources is to give, by the field that names the source; none where everything
        hangs on its board. [V]

        Args:
            shelf: the parts of its build.
            parts: the parts of what it drives.
        """
        return {}

    @classmethod
    def fits(cls, piece: Piece, part: Part) -> bool:
        """Whether it can drive a piece: lamps that light when a current flows one way, unless a way says otherwise.

        Args:
            piece: the piece.
            part: its part.
        """
        return plain_lamps(piece, part)

    @property
    def lamps_fed_by(self) -> FedBy | None:
        """What feeds its lamps: its board's pins, where it names nothing of its own."""
        named: FedBy | None = getattr(self, self.lamps_on) if self.lamps_on else FedBy(id=self.board_id, pin="logic")
        return named

    @property
    def parts_fed_by(self) -> FedBy | None:
        """What feeds its chips, coils or regulator: its board's pins, where it names nothing of its own."""
        named: FedBy | None = getattr(self, self.chips_on) if self.chips_on else FedBy(id=self.board_id, pin="logic")
        return named

    @classmethod
    def lamps_at(cls) -> str:
        """Where a lamp that it drives is, in a line of words."""
        return cls.at or f"on {cls.word}"

    def takes(self, field: str, channels: Sequence[Channel]) -> int:
        """How many it takes of the part that one of its fields names: one, unless a way says otherwise. [-]

        Args:
            field: the field's name.
            channels: its channels.
        """
        return 1

    def bill(self, channels: Sequence[Channel]) -> Iterator[BillLine]:
        """What it takes beside parts that it names, as lines of the bill; nothing, unless a way says otherwise.

        Args:
            channels: its channels.
        """
        yield from ()

    def behind_one_resistor(self, output: int) -> tuple[int, ...]:
        """The outputs whose lamps lie behind the resistor of one: only its own, unless a way says otherwise. [-]

        Args:
            output: the output. [-]
        """
        return (output,)

    @property
    def on_off(self) -> bool:
        """Whether it knows on and off only."""
        return True

    def steps_bits(self, pwm_bits: int) -> int:
        """How many bits it dims with where it dims.

        Args:
            pwm_bits: those of its board's pins. [-]
        """
        return pwm_bits

    def output_count(self, shelf: Shelf) -> int | None:
        """How many outputs it has; None where each lamp has pins of its own.

        Args:
            shelf: the parts of its build.
        """
        return None

    def needs(self, channels: Sequence[Channel]) -> Iterator[PinNeed]:
        """The pins that it needs: one for each output, unless a way says otherwise.

        Args:
            channels: its channels.
        """
        yield from (PinNeed(self.id, lamp_role(channel.output)) for channel in channels)


class Fed(Driver):
    """A way whose lamps hang on a supply of their own: what that is to give, and what it is."""

    told_by: ClassVar[Mapping[str, str]] = {"fed_by": "led_v"}
    lamps_on: ClassVar[str] = "fed_by"
    chips_on: ClassVar[str] = "fed_by"
    led_v: LedVolts = 5.0
    fed_by: FedBy | None = None

    def fed_at_v(self, shelf: Shelf, parts: Sequence[Part]) -> dict[str, float]:
        """The voltage of its lamps' supply. [V]

        Args:
            shelf: the parts of its build.
            parts: the parts of what it drives.
        """
        return {"fed_by": self.led_v}


class Steered(Driver):
    """A way each of whose inputs hangs on a pin of the board, or, with ``inputs_on``, on an output of that chain of
    registers: the first on its output ``inputs_from``, the others after it."""

    spares: ClassVar[tuple[str, ...]] = ("drivers",)
    inputs_on: DriverId | None = None
    inputs_from: Annotated[int, Field(ge=0, le=5000)] = 0

    def without(self, ids: Collection[str]) -> Self | None:
        """The driver on pins of its board when the chain that it hangs on is gone.

        Args:
            ids: the ids of what goes.
        """
        left = super().without(ids)
        return revise(left, inputs_on=None) if left is not None and left.inputs_on in ids else left

    def needs(self, channels: Sequence[Channel]) -> Iterator[PinNeed]:
        """The pins that it needs: none where a chain of registers controls it.

        Args:
            channels: its channels.
        """
        yield from super().needs(channels) if self.inputs_on is None else ()


class Dimmed(Driver):
    """A way that can dim. With a ``knob``, a reading sets its level; ``rest_off`` when the counts at rest are taken off
    the reading, ``levels_in`` the kind of whole number that the levels are worked out in."""

    knob: bool = False
    rest_off: bool = False
    levels_in: Literal["32 bits", "int"] = "32 bits"

    @property
    def on_off(self) -> bool:
        """Whether it knows on and off only."""
        return False
