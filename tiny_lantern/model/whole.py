"""What a build holds, field by field; how it must hold together is said in ``build``."""

from __future__ import annotations

from collections.abc import Hashable
from functools import cached_property
from typing import Annotated, Literal

from pydantic import Field

from tiny_lantern.model.base import (
    Colour,
    Coordinate,
    Frozen,
    Id,
    Metres,
    Name,
    PositiveOhms,
    Ratio,
    Seconds,
    Text,
    Volts,
)  # fmt: skip
from tiny_lantern.model.bench import Bench
from tiny_lantern.model.drive import Board, Channel
from tiny_lantern.model.effects import Effect
from tiny_lantern.model.groups import Group
from tiny_lantern.model.inputs.registry import AnyInput
from tiny_lantern.model.line import Line, letters
from tiny_lantern.model.music import Music
from tiny_lantern.model.palette import Swatch
from tiny_lantern.model.parts.part import Shelf
from tiny_lantern.model.parts.registry import AnyPart
from tiny_lantern.model.photo import Photo
from tiny_lantern.model.piece import RunId
from tiny_lantern.model.pieces import AnyPiece
from tiny_lantern.model.plug import Plug
from tiny_lantern.model.rail import Rail
from tiny_lantern.model.refers import Refers
from tiny_lantern.model.room import Box, Passage
from tiny_lantern.model.rule import Rule
from tiny_lantern.model.scene import Scene
from tiny_lantern.model.strip import PixelRun
from tiny_lantern.model.timeline import Timeline
from tiny_lantern.model.ways.registry import AnyDriver
from tiny_lantern.model.wiring import ChosenWire, Wiring

FORMAT: Literal["tiny-lantern-build"] = "tiny-lantern-build"
VERSION: Literal[3] = 3
SupplyId = Annotated[Id, Refers("supplies")]
MAX_PIECES = 1000
MAX_PARTS = 5000
MAX_ALL_PIXELS = 100_000
MAX_ALL_TAPS = 50_000
MAX_EFFECT_S = 2e7


class Joint(Frozen):
    """The end of one strip soldered or plugged to the start of another."""

    id: Id
    from_strip_id: RunId
    to_strip_id: RunId
    pos_ohm: PositiveOhms = 0.008
    neg_ohm: PositiveOhms = 0.008
    limit_a: Annotated[float, Field(gt=0, le=1000)] = 10.0


class Bus(Frozen):
    """Two conductors beside a strip, tied to it at some pixels."""

    id: Id
    strip_id: RunId
    pos_ohm_per_m: Annotated[float, Field(ge=1e-6, le=1e4)]
    neg_ohm_per_m: Annotated[float, Field(ge=1e-6, le=1e4)]
    tap_pixels: Annotated[tuple[int, ...], Field(min_length=1, max_length=5000)]
    tap_pos_ohm: PositiveOhms = 0.015
    tap_neg_ohm: PositiveOhms = 0.015
    limit_a: Annotated[float, Field(gt=0, le=1000)] = 10.0
    tap_limit_a: Annotated[float, Field(gt=0, le=1000)] = 10.0


class Supply(Frozen):
    """One source in the build, at a place; ``sealed`` also stands for a box over 40 °C, ``joined`` says that its
    negative is joined to those of all others. The show is dimmed as a whole where it would draw more than
    ``show_cap_a``, with all that hangs on the supply."""

    id: Id
    name: Name
    part_id: Annotated[Id, Refers("parts.supply")]
    set_v: Annotated[float, Field(gt=0, le=60)]
    sealed: bool = False
    joined: bool = True
    show_cap_a: Annotated[float, Field(gt=0, le=1000)] | None = None
    x_m: Coordinate = 0.0
    y_m: Coordinate = 0.0

    @property
    def unplaced(self) -> tuple[Hashable, ...]:
        """All of it but where it stands in the picture, which no current sees."""
        return tuple(value for field, value in self if field not in ("x_m", "y_m"))


class OnStrip(Frozen):
    """A feed soldered to a strip; its place snaps to the nearest rail node."""

    to: Literal["strip"] = "strip"
    strip_id: RunId
    position_m: Metres


class OnBus(Frozen):
    """A feed at an end of a bus."""

    to: Literal["bus"] = "bus"
    bus_id: Annotated[Id, Refers("buses")]
    end: Literal["start", "end"] = "start"


Attach = Annotated[OnStrip | OnBus, Field(discriminator="to")]


class Conductor(Frozen):
    """One wire of a feed with its connector; ``measured_ohm`` stands for the whole of it when given."""

    wire_id: Annotated[Id, Refers("parts.wire")]
    length_m: Metres
    connector_id: Annotated[Id, Refers("parts.connector")] | None = None
    measured_ohm: Annotated[float, Field(ge=1e-6, le=1e6)] | None = None


class Feed(Frozen):
    """Where a supply meets copper: an outgoing and a return conductor, the fuse in the outgoing one. ``route_m`` are
    the corners of its way in the picture, which then says how long both are; None when that is typed. ``letter`` is
    what it is called by, for good; empty where it is counted from the order of the build."""

    id: Id
    supply_id: SupplyId
    attach: Attach
    positive: Conductor
    negative: Conductor
    fuse_id: Annotated[Id, Refers("parts.fuse")] | None = None
    route_m: Annotated[tuple[tuple[Coordinate, Coordinate], ...], Field(max_length=50)] | None = None
    letter: Annotated[str, Field(pattern=r"^[A-Z]{0,3}$")] = ""


class FullWhite(Frozen):
    """Every channel of every pixel fully on: nothing can surprise what is sized for it."""

    case: Literal["full_white"] = "full_white"


class LevelLoad(Frozen):
    """Every channel of every pixel at one duty."""

    case: Literal["level"] = "level"
    level: Ratio = 0.5


class ColourLoad(Frozen):
    """Every pixel at one colour; a white channel takes the common part of red, green and blue."""

    case: Literal["colour"] = "colour"
    colour: Colour = "#ffb648"


class FrameLoad(Frozen):
    """What the show sends at one moment."""

    case: Literal["frame"] = "frame"
    time_s: Seconds = 0.0


Load = Annotated[FullWhite | LevelLoad | ColourLoad | FrameLoad, Field(discriminator="case")]


class LoadCase(Frozen):
    """A load with a name the person gave it."""

    id: Id
    name: Name
    load: Load


class Limits(Frozen):
    """What every pixel must meet; ``v_min_v`` of None means what the part's chip needs."""

    v_min_v: Volts | None = None
    light_loss_max: Ratio = 0.10
    tint_max: Annotated[float, Field(gt=0, le=1)] = 0.010


STRICT = Limits(light_loss_max=0.05, tint_max=0.004)
STANDARD = Limits()
RELAXED = Limits(light_loss_max=0.25, tint_max=0.020)


class Corner(Frozen):
    """The design corner at which places for feeds are judged: factors on the strips' rails, on wires and connectors,
    and on the pixels' current, and the share of each supply's tolerance that its set-point is taken to lack."""

    rails: Annotated[float, Field(ge=0.5, le=3)] = 1.10
    wires: Annotated[float, Field(ge=0.5, le=3)] = 1.05
    pixel_current: Annotated[float, Field(ge=0.5, le=3)] = 1.05
    set_point: Annotated[float, Field(ge=0, le=3)] = 1.0


NOMINAL_CORNER = Corner(rails=1.0, wires=1.0, pixel_current=1.0, set_point=0.0)


class Approach(Frozen):
    """How a supply's wires come to a strip: the place where they arrive, and the wire from the supply to there. A feed
    elsewhere takes so much wire and the way along the line besides."""

    id: Id
    supply_id: SupplyId
    strip_id: RunId
    position_m: Metres
    standoff_m: Metres = 0.5


class DataLine(Frozen):
    """How frames reach the pixels; ``parallel`` means one output a strip, otherwise one after another; ``shifted``
    means that a level shifter stands before the first pixels."""

    bit_s: Annotated[float, Field(gt=0, le=1)] = 1.25e-6
    reset_s: Annotated[float, Field(ge=0, le=1)] = 80e-6
    parallel: bool = False
    shifted: bool = False


class Site(Frozen):
    """Where the build lives."""

    outdoor: bool = False


class Whole(Frozen):
    """The fields of a build, and what is worked out from them alone."""

    format: Literal["tiny-lantern-build"] = FORMAT
    version: Literal[3] = VERSION
    name: Name = "Untitled build"
    notes: Text = ""
    site: Site = Site()
    limits: Limits = STANDARD
    corner: Corner = Corner()
    data: DataLine = DataLine()
    tick_hz: Annotated[float, Field(ge=0.01, le=400)] = 40.0
    show_s: Annotated[float, Field(ge=0.1, le=3600)] = 60.0
    after_end: Literal["repeat", "hold", "dark"] = "repeat"
    plays: Annotated[int, Field(ge=1, le=1000)] = 1
    parts: Annotated[tuple[AnyPart, ...], Field(max_length=MAX_PARTS)] = ()
    pieces: Annotated[tuple[AnyPiece, ...], Field(max_length=MAX_PIECES)] = ()
    joints: Annotated[tuple[Joint, ...], Field(max_length=2000)] = ()
    buses: Annotated[tuple[Bus, ...], Field(max_length=500)] = ()
    supplies: Annotated[tuple[Supply, ...], Field(max_length=100)] = ()
    rails: Annotated[tuple[Rail, ...], Field(max_length=100)] = ()
    feeds: Annotated[tuple[Feed, ...], Field(max_length=5000)] = ()
    approaches: Annotated[tuple[Approach, ...], Field(max_length=5000)] = ()
    effects: Annotated[tuple[Effect, ...], Field(max_length=5000)] = ()
    palette: Annotated[tuple[Swatch, ...], Field(max_length=200)] = ()
    scenes: Annotated[tuple[Scene, ...], Field(max_length=100)] = ()
    load_cases: Annotated[tuple[LoadCase, ...], Field(max_length=100)] = ()
    groups: Annotated[tuple[Group, ...], Field(max_length=500)] = ()
    boards: Annotated[tuple[Board, ...], Field(max_length=50)] = ()
    drivers: Annotated[tuple[AnyDriver, ...], Field(max_length=500)] = ()
    channels: Annotated[tuple[Channel, ...], Field(max_length=20_000)] = ()
    passages: Annotated[tuple[Passage, ...], Field(max_length=200)] = ()
    boxes: Annotated[tuple[Box, ...], Field(max_length=200)] = ()
    wires: Annotated[tuple[ChosenWire, ...], Field(max_length=2000)] = ()
    plugs: Annotated[tuple[Plug, ...], Field(max_length=100)] = ()
    inputs: Annotated[tuple[AnyInput, ...], Field(max_length=50)] = ()
    rules: Annotated[tuple[Rule, ...], Field(max_length=200)] = ()
    wiring: Wiring = Wiring()
    photo: Photo | None = None
    music: Music = Music()
    bench: Bench = Bench()

    @cached_property
    def line(self) -> Line:
        """The Line, compiled once."""
        return Line(self.pieces)

    @property
    def timeline(self) -> Timeline:
        """The frames of its show."""
        return Timeline(self.tick_hz, self.show_s)

    @cached_property
    def strips(self) -> tuple[PixelRun, ...]:
        """The pieces with copper of their own, in order: strips and panels."""
        return tuple(piece for piece in self.pieces if isinstance(piece, PixelRun))

    @cached_property
    def shelf(self) -> Shelf:
        """The parts that it keeps, by kind and by id."""
        return Shelf(self.parts)

    @cached_property
    def channels_of(self) -> dict[str, tuple[Channel, ...]]:
        """The channels of each driver, by its id, in the order of its outputs."""
        found: dict[str, list[Channel]] = {driver.id: [] for driver in self.drivers}
        for channel in self.channels:
            found[channel.driver_id].append(channel)
        return {key: tuple(sorted(of, key=lambda channel: channel.output)) for key, of in found.items()}

    @cached_property
    def feed_letters(self) -> dict[str, str]:
        """The letter of each feed, by id: its own, else the next that is free, in the order of the build."""
        taken = {feed.letter for feed in self.feeds}
        free = (letter for letter in letters() if letter not in taken)
        return {feed.id: feed.letter or next(free) for feed in self.feeds}
