"""The kinds of piece that a person can add: what each is, which parts it may be of, and a first one of it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import numbered_name
from tiny_lantern.model.edits_pieces import add_piece
from tiny_lantern.model.lamps import HoldGroup, Indicator, LampGroup, Matrix, SwitchedLoad
from tiny_lantern.model.layout import slot_places
from tiny_lantern.model.layouts import AlongLine, AsGrid
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.parts.load import LoadPart
from tiny_lantern.model.parts.part import Part, Shelf
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.pieces import ADDED_TYPES
from tiny_lantern.model.strip import Panel, Strip

FIRST_LENGTH_M = 2.0
BELOW_M = 0.15
MAINS = (
    "Mains strings and loads: have the wiring done by a licensed person, to local code, behind a relay or a ready-made "
    "switched socket rated for the load; nothing here says that mains work is fine."
)


@dataclass(frozen=True)
class StartKind:
    """A kind as it is offered: a word, a line of help, which parts fit, and how a first piece of it is made."""

    id: str
    word: str
    help: str
    fits: Callable[[Part], bool]
    make: Callable[[Part], Piece]

    def parts(self, shelf: Shelf) -> tuple[Part, ...]:
        """The parts on a shelf that it may be of."""
        return tuple(part for part in shelf if self.fits(part))


def _lamp(part: Part, body: str = "lamp") -> bool:
    return isinstance(part, LampPart) and part.body == body


def _plain(part: Part) -> bool:
    return isinstance(part, LampPart) and part.body == "lamp" and part.emitter == "level"


def _colour(part: Part, dies: Callable[[int], bool]) -> bool:
    return (
        isinstance(part, LampPart)
        and part.body == "lamp"
        and part.emitter == "colour"
        and not part.addressable
        and dies(len(part.dies))
    )


def _loose(part: Part) -> bool:
    return isinstance(part, LampPart) and part.addressable


def _strip(part: Part) -> Piece:
    assert isinstance(part, StripPart)
    return Strip(
        id="new", name="Strip", part_id=part.id, pixel_count=max(1, round(FIRST_LENGTH_M / part.pitch_m)),
        pitch_m=part.pitch_m, colour_order=part.colour_order,
    )  # fmt: skip


def _panel(part: Part) -> Piece:
    assert isinstance(part, StripPart)
    return Panel(
        id="new", name="Panel", part_id=part.id, rows=8, columns=8, pitch_m=part.pitch_m, cross_pitch_m=part.pitch_m,
        colour_order=part.colour_order,
    )  # fmt: skip


def _lamps(name: str, count: int, spacing_m: float = 0.1, **more: object) -> Callable[[Part], Piece]:
    return lambda part: LampGroup(
        id="new", name=name, part_id=part.id, lamp_count=count, spacing_m=spacing_m, **more,
    )  # fmt: skip


OFFERED: tuple[StartKind, ...] = (
    StartKind("strip", "strip", "Addressable strip, by length", lambda part: isinstance(part, StripPart), _strip),
    StartKind("panel", "panel", "Addressable pixels in rows and columns", lambda part: isinstance(part, StripPart),
              _panel),
    StartKind("loose", "loose pixels", "Addressable lamps on free wires, also of mixed colour orders", _loose,
              _lamps("Loose pixels", 12, 0.08, colour_order="RGB")),
    StartKind("single", "single lamps", "Lamps of one colour, each on its own", _plain, _lamps("Lamps", 1)),
    StartKind("series", "series string", "Lamps one after another in one current", _plain,
              _lamps("String", 3, wired="series")),
    StartKind("parallel", "parallel group", "Lamps side by side on one output, a resistor each", _plain,
              _lamps("Group", 3, wired="branches")),
    StartKind("colour", "colour lamps", "Lamps of three colours or more, with a common lead",
              lambda part: _colour(part, lambda dies: dies > 2), _lamps("Colour lamps", 6)),
    StartKind("two-colour", "two-colour", "Lamps of two colours, on two leads or three",
              lambda part: _colour(part, lambda dies: dies == 2), _lamps("Two-colour lamps", 2)),
    StartKind("matrix", "matrix", "A dot matrix, scanned row by row", lambda part: _lamp(part, "matrix"),
              lambda part: Matrix(id="new", name="Matrix", part_id=part.id, rows=8, columns=8)),
    StartKind("bar", "bar", "A bar of segments", lambda part: _lamp(part, "bar"),
              lambda part: Indicator(id="new", name="Bar", part_id=part.id, form="bar", count=10)),
    StartKind("figures", "figures", "Figures of seven segments and a point", lambda part: _lamp(part, "figure"),
              lambda part: Indicator(id="new", name="Figures", part_id=part.id, form="figures", count=2, pitch_m=0.02)),
    StartKind("hold", "self-changing", "Lamps with a colour programme of their own",
              lambda part: isinstance(part, LampPart) and part.emitter == "self_changing",
              lambda part: HoldGroup(id="new", name="Self-changing lamps", part_id=part.id, lamp_count=5)),
    StartKind("switched", "behind a relay", f"A filament string or a floodlight, on or off. {MAINS}",
              lambda part: isinstance(part, LoadPart),
              lambda part: SwitchedLoad(id="new", name="Switched lamp", part_id=part.id)),
)  # fmt: skip


ADDED = tuple(StartKind(kind, made.word, made.about, made.fits, made.first) for kind, made in ADDED_TYPES.items())
KINDS: tuple[StartKind, ...] = (*OFFERED, *ADDED)


def kind_of(kind_id: str) -> StartKind:
    """The kind with an id."""
    return next(kind for kind in KINDS if kind.id == kind_id)


def kind_for(piece: Piece, part: Part) -> StartKind:
    """The kind that a piece of a part was, or could have been, added as."""
    if isinstance(piece, LampGroup) and piece.wired != "apart":
        return kind_of("series" if piece.wired == "series" else "parallel")
    if isinstance(piece, Panel):
        return kind_of("panel")
    if piece.kind in ADDED_TYPES:
        return kind_of(piece.kind)
    return next((kind for kind in KINDS if kind.fits(part)), kind_of("single"))


def add_first(build: Build, kind: StartKind, part: Part) -> Build:
    """Add a first piece of a kind at the end of the Line, below what there is in the picture."""
    piece = kind.make(part)
    taken = {other.name for other in build.pieces}
    name = piece.name if piece.name not in taken else numbered_name(piece.name, taken)
    y_m = round(_lowest(build) - BELOW_M, 2) if build.pieces else 0.0
    laid: AlongLine | AsGrid = AsGrid(y_m=y_m) if piece.layout.shape == "grid" else AlongLine(y_m=y_m)
    return add_piece(build, part, piece.model_copy(update={"name": name, "layout": laid}))


def _lowest(build: Build) -> float:
    """The lowest light in the picture. [m]"""
    return min(float(slot_places(piece)[:, 1].min()) for piece in build.pieces)
