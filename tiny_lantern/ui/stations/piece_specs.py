"""The fields of pieces: what each shows, which pieces have it, and the edit that it makes; the form is made from them.

What it is, where it lies, how it is made: three groups, in the order of the form.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

from tiny_lantern.catalogue.drawer import Drawer, offered
from tiny_lantern.catalogue.kinds import KINDS, kind_for
from tiny_lantern.catalogue.shelf import known_parts
from tiny_lantern.model.base import made, revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.data_lines import on_data_lines
from tiny_lantern.model.edits import change_parts, with_part
from tiny_lantern.model.edits_layout import laid_as
from tiny_lantern.model.edits_names import note_lamp
from tiny_lantern.model.edits_pieces import add_joint, change_piece, change_strip_part, remove_joint, rename_piece
from tiny_lantern.model.edits_plugs import add_plug, change_plug, plug_of, put_behind
from tiny_lantern.model.effects import SlotRef
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.handles import of_length, ring_radius
from tiny_lantern.model.lamps import HoldGroup, Indicator, LampGroup, Matrix
from tiny_lantern.model.layouts import AlongPath
from tiny_lantern.model.parts.connector import ConnectorPart
from tiny_lantern.model.parts.lamp import LampPart, LeadMap
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.quantities import engineering, metres, parse_quantity
from tiny_lantern.model.strip import Panel, PixelRun, Strip

NEW, USUAL_PLUG = "new", "plug-12way"
WHAT, WHERE, HOW = "What it is", "Where it lies", "How it is made"
Choices = Sequence[tuple[str, object]]
Lamps = LampGroup | HoldGroup


@dataclass(frozen=True)
class Spec:
    """One field: ``unit`` makes it a quantity, ``choices`` a list, neither a line of text. Fields of one ``row`` stand
    side by side under its label; ``alone`` ones are of one piece only; an ``optional`` quantity may be left empty;
    those of ``more`` are shown when asked for; one that is not ``needed`` by the build is not shown at all."""

    name: str
    group: str
    label: str
    tip: str
    fits: Callable[[Piece], bool]
    read: Callable[[Build, Piece], Any]
    edit: Callable[[Build, str, Any], Build]
    unit: str | None = None
    shown: Callable[[float], str] = "{:g}".format
    choices: Callable[[Build, Piece, Drawer], Choices] | None = None
    row: str = ""
    alone: bool = False
    optional: bool = False
    more: bool = False
    needed: Callable[[Build], bool] = lambda build: True


def _field(name: str) -> Callable[[Build, Piece], Any]:
    return lambda build, piece: getattr(piece, name)


def _set(name: str) -> Callable[[Build, str, Any], Build]:
    return lambda build, piece_id, value: change_piece(build, piece_id, **{name: value})


def _count(name: str, what: str) -> Callable[[Build, str, Any], Build]:
    def edit(build: Build, piece_id: str, value: float) -> Build:
        if value != int(value):
            raise LanternError(f"{value:g} is not a count", what, "a whole number")
        return change_piece(build, piece_id, **{name: int(value)})

    return edit


def _drivable(piece: Piece) -> bool:
    return not isinstance(piece, PixelRun)


def _behind(build: Build, piece: Piece) -> str | None:
    plug = plug_of(build, piece.id)
    return plug.id if plug is not None else None


def _set_behind(build: Build, piece_id: str, value: str | None) -> Build:
    if value != NEW:
        return put_behind(build, piece_id, value)
    return add_plug(build, known_parts(build, Drawer()).find(ConnectorPart, USUAL_PLUG), piece_id)


def _plugs(build: Build, piece: Piece, drawer: Drawer) -> Choices:
    own = ((plug.name, plug.id) for plug in build.plugs)
    return (("nothing", None), *own, ("a new connector", NEW))


def _plug_part(build: Build, piece: Piece) -> ConnectorPart | None:
    plug = plug_of(build, piece.id)
    return build.shelf.find(ConnectorPart, plug.part_id) if plug is not None else None


def _set_plug_part(build: Build, piece_id: str, part: ConnectorPart | None) -> Build:
    plug = plug_of(build, piece_id)
    return change_plug(build, plug.id, part) if plug is not None and part is not None else build


def _plug_parts(build: Build, piece: Piece, drawer: Drawer) -> Choices:
    if plug_of(build, piece.id) is None:
        return (("no connector", None),)
    return offered((part for part in known_parts(build, drawer).of(ConnectorPart) if part.ways > 1), drawer)


def _of(*kinds: type[Piece]) -> Callable[[Piece], bool]:
    return lambda piece: isinstance(piece, kinds)


def _whole(value: float) -> str:
    return f"{value:.0f}"


# What it is


def part_of_piece(build: Build, piece: Piece) -> Part:
    """The part that a piece is of."""
    return build.shelf.find(Part, piece.part_id)


def _part_choices(build: Build, piece: Piece, drawer: Drawer) -> Choices:
    own = part_of_piece(build, piece)
    kind = kind_for(piece, own)
    if isinstance(piece, LampGroup) and piece.wired == "apart":
        like = [each for each in KINDS if each.id in ("single", "colour", "two-colour", "loose")]
        fitting = [part for part in known_parts(build, drawer) if any(each.fits(part) for each in like)]
    else:
        fitting = list(kind.parts(known_parts(build, drawer)))
    return offered(fitting, drawer)


def _set_part(build: Build, piece_id: str, part: Any) -> Build:
    if isinstance(part, StripPart):
        return change_strip_part(build, piece_id, part)
    return change_piece(with_part(build, part), piece_id, part_id=part.id)


def _set_length(build: Build, piece_id: str, value: float) -> Build:
    return change_piece(build, piece_id, **of_length(build.line.piece(piece_id), value))


def _set_per_metre(build: Build, piece_id: str, value: float) -> Build:
    if value <= 0:
        raise LanternError(f"{value:g} pixels a metre", "pitch", "more than none, e.g. 60/m")
    return change_piece(build, piece_id, pitch_m=1 / value)


def _ordered(piece: Piece) -> bool:
    return isinstance(piece, PixelRun) or (isinstance(piece, LampGroup) and piece.colour_order is not None)


def _set_order(build: Build, piece_id: str, value: str) -> Build:
    return change_piece(build, piece_id, colour_order=value.strip().upper())


def _data_board(build: Build, piece: Piece) -> str:
    """The board whose line a piece hangs on; the first where it names none."""
    return next(board_id for board_id, pieces in on_data_lines(build).items() if piece in pieces)


def _boards(build: Build, piece: Piece, drawer: Drawer) -> Choices:
    return [(board.name, board.id) for board in build.boards]


def _wired(piece: Piece) -> bool:
    return isinstance(piece, LampGroup) and piece.colour_order is None and piece.lamp_count > 1


# Where it lies


def _shapes(build: Build, piece: Piece, drawer: Drawer) -> Choices:
    shapes = [("straight", "line"), ("arc", "arc"), ("ring", "ring"), ("corners", "path")]
    return [*shapes, ("each at its spot", "spots")] if isinstance(piece, Lamps) else shapes


def _set_shape(build: Build, piece_id: str, shape: Any) -> Build:
    piece = build.line.piece(piece_id)
    if piece.layout.shape == shape:
        return build
    return change_piece(build, piece_id, layout=laid_as(piece, str(shape)))


def _lies(*names: str) -> Callable[[Piece], bool]:
    return lambda piece: all(hasattr(piece.layout, name) for name in names)


def _at(name: str) -> Callable[[Build, Piece], Any]:
    return lambda build, piece: getattr(piece.layout, name)


def _lay(name: str) -> Callable[[Build, str, Any], Build]:
    def edit(build: Build, piece_id: str, value: Any) -> Build:
        layout = build.line.piece(piece_id).layout
        try:
            changed = revise(layout, **{name: value})
        except LanternError:
            raise LanternError(f"{value:g} is out of range", name.split("_")[0], "a size that fits a site") from None
        return change_piece(build, piece_id, layout=changed)

    return edit


def _set_across(build: Build, piece_id: str, value: float) -> Build:
    return _set_length(build, piece_id, math.pi * value)


def _corners_text(build: Build, piece: Piece) -> str:
    layout = piece.layout
    return "  ".join(f"{x:g},{y:g}" for x, y in layout.points_m) if isinstance(layout, AlongPath) else ""


def _set_corners(build: Build, piece_id: str, text: str) -> Build:
    try:
        points = tuple(_corner(word) for word in text.replace(";", " ").split())
        layout = made(AlongPath, points_m=points)
    except LanternError as error:
        raise LanternError(error.what, "corners", "at least two different points: 0,0  1.5,0.2") from None
    return change_piece(build, piece_id, layout=layout)


def _corner(word: str) -> tuple[float, float]:
    x, comma, y = word.partition(",")
    if not comma:
        raise LanternError(f"“{word}” is not a point", "corners", "x,y in metres")
    return parse_quantity(x, "m", "corner x"), parse_quantity(y, "m", "corner y")


# How it is made


def _rail(name: str) -> Callable[[Build, Piece], Any]:
    def read(build: Build, piece: Piece) -> Any:
        return getattr(piece, name) or getattr(part_of_piece(build, piece), name)

    return read


def _cuts_text(build: Build, piece: Piece) -> str:
    return ", ".join(str(cut) for cut in piece.cuts) if isinstance(piece, PixelRun) else ""


def _set_cuts(build: Build, piece_id: str, text: str) -> Build:
    words = text.replace(",", " ").split()
    cuts = tuple(sorted({int(parse_quantity(word, "", "cuts")) for word in words}))
    return change_piece(build, piece_id, cuts=cuts)


def _joint_choices(build: Build, piece: Piece, drawer: Drawer) -> Choices:
    return [("nothing", None), *((other.name, other.id) for other in build.strips if other.id != piece.id)]


def _joined(build: Build, piece: Piece) -> str | None:
    return next((joint.to_strip_id for joint in build.joints if joint.from_strip_id == piece.id), None)


def _set_joint(build: Build, piece_id: str, other_id: Any) -> Build:
    for joint in build.joints:
        if joint.from_strip_id == piece_id:
            build = remove_joint(build, joint.id)
    return add_joint(build, piece_id, str(other_id)) if other_id else build


COVERS = (("none", "none"), ("clear", "clear"), ("frosted", "frosted"))
CORNERS = (("top left", "top_left"), ("top right", "top_right"), ("bottom left", "bottom_left"),
           ("bottom right", "bottom_right"))  # fmt: skip
WAYS = (("rows, to and fro", (False, True)), ("rows, all one way", (False, False)),
        ("columns, to and fro", (True, True)), ("columns, all one way", (True, False)))  # fmt: skip


def _set_way(build: Build, piece_id: str, way: Any) -> Build:
    return change_piece(build, piece_id, columns_first=way[0], serpentine=way[1])


def lamp_part(build: Build, piece: Piece) -> LampPart | None:
    """The lamp that a piece is of; None for a strip or a load."""
    part = part_of_piece(build, piece)
    return part if isinstance(part, LampPart) else None


def _leads_text(build: Build, piece: Piece) -> str:
    part = lamp_part(build, piece)
    return ", ".join(part.leads.order) if part and part.leads else ""


def _change_leads(build: Build, piece_id: str, **changes: Any) -> Build:
    part = lamp_part(build, build.line.piece(piece_id))
    assert part is not None
    leads = revise(part.leads or LeadMap(), **changes)
    return change_parts(build, revise(part, leads=None if leads == LeadMap() else leads))


def _set_leads(build: Build, piece_id: str, text: str) -> Build:
    try:
        return _change_leads(build, piece_id, order=_lead_words(text))
    except LanternError:
        raise _no_leads(text) from None


def with_lamp_leads(build: Build, ref: SlotRef, leads: str) -> Build:
    """One lamp's own leads along the row, as a person writes them; nothing written for its part's.

    Raises:
        LanternError: a word is no lead.
    """
    try:
        own = made(LeadMap, order=_lead_words(leads))
    except LanternError:
        raise _no_leads(leads) from None
    return note_lamp(build, ref, leads=own if own.order else None)


def _lead_words(text: str) -> tuple[str, ...]:
    return tuple(word.strip().lower() for word in text.replace("-", "common").split(",") if word.strip())


def _no_leads(text: str) -> LanternError:
    accepted = "names with commas: red, common, green, blue; empty for unknown"
    return LanternError(f"“{text}” is no order of leads", "leads", accepted)


def _lead_choices(build: Build, piece: Piece, drawer: Drawer) -> Choices:
    part = lamp_part(build, piece)
    names: list[str] = list(dict.fromkeys(part.leads.order)) if part and part.leads else []
    return [("unknown", None), *((name, name) for name in names)]


def _lead(name: str) -> Callable[[Build, Piece], Any]:
    def read(build: Build, piece: Piece) -> Any:
        part = lamp_part(build, piece)
        return getattr(part.leads, name) if part and part.leads else None

    return read


def _set_lead(name: str) -> Callable[[Build, str, Any], Build]:
    return lambda build, piece_id, value: _change_leads(build, piece_id, **{name: value})


def _metre(value: float) -> str:
    return engineering(value, "m") if 0 < abs(value) < 0.1 else metres(value)


def _place(value: float) -> str:
    return f"{value:.3f}".rstrip("0").rstrip(".") + " m"


_ohm_per_m = partial(engineering, unit="ohm/m")
_degrees = "{:g}°".format
_strip_only, _run_only, _panel_only = _of(Strip), _of(PixelRun), _of(Panel)


def _mount(name: str) -> Callable[[Build, Piece], Any]:
    return lambda build, piece: getattr(piece.mount, name)


def _set_mount(name: str) -> Callable[[Build, str, Any], Build]:
    def edit(build: Build, piece_id: str, value: Any) -> Build:
        return change_piece(build, piece_id, mount=revise(build.line.piece(piece_id).mount, **{name: value}))

    return edit


def _lamps(piece: Piece) -> bool:
    return isinstance(piece, Lamps)


def _has_leads(piece: Piece) -> bool:
    return isinstance(piece, Lamps)


SPECS: tuple[Spec, ...] = (
    Spec("part", WHAT, "part", "What it is made of", lambda piece: True, part_of_piece, _set_part,
         choices=_part_choices),
    Spec("name", WHAT, "name", "What it is called everywhere", lambda piece: True, _field("name"),
         rename_piece, alone=True),
    Spec("pixels", WHAT, "pixels", "Pixels", _strip_only, _field("pixel_count"), _count("pixel_count", "pixels"),
         unit="", shown=_whole, row="size"),
    Spec("length", WHAT, "length", "Length", _strip_only, _field("length_m"), _set_length, unit="m", shown=metres,
         row="size"),
    Spec("lamps", WHAT, "lamps", "Lamps", _of(LampGroup, HoldGroup), _field("lamp_count"),
         _count("lamp_count", "lamps"), unit="", shown=_whole),
    Spec("rows", WHAT, "rows", "Rows", _of(Panel, Matrix), _field("rows"), _count("rows", "rows"), unit="",
         shown=_whole, row="rows, cols"),
    Spec("columns", WHAT, "columns", "Columns", _of(Panel, Matrix), _field("columns"), _count("columns", "columns"),
         unit="", shown=_whole, row="rows, cols"),
    Spec("count", WHAT, "count", "Segments of a bar, or figures", _of(Indicator), _field("count"),
         _count("count", "count"), unit="", shown=_whole),
    Spec("pitch", WHAT, "pitch", "Pixels per metre", _run_only, lambda build, piece: round(1 / _pitch(piece), 3),
         _set_per_metre, unit="px/m", shown="{:g}/m".format),
    Spec("order", WHAT, "order", "The order in which colours are sent, e.g. GRB", _ordered, _field("colour_order"),
         _set_order),
    Spec("board", WHAT, "data from", "The board whose data line it hangs on", _ordered, _data_board, _set("board_id"),
         choices=_boards, needed=lambda build: len(build.boards) > 1),
    Spec("wired", WHAT, "wired", "Each on its own, or together in one channel", _wired, _field("wired"), _set("wired"),
         choices=lambda *_: (("each apart", "apart"), ("in series", "series"), ("side by side", "parallel"),
                              ("side by side, a resistor each", "branches"))),
    Spec("behind", HOW, "behind", "A connector where the build comes apart, with this beyond it", _drivable,
         _behind, _set_behind, choices=_plugs, more=True),
    Spec("plug", HOW, "contacts", "The connector that it lies behind, by its contacts", _drivable, _plug_part,
         _set_plug_part, choices=_plug_parts, more=True, needed=lambda build: bool(build.plugs)),
    Spec("shape", WHERE, "laid", "Shape in the picture", lambda piece: piece.layout.shape != "grid",
         lambda build, piece: piece.layout.shape, _set_shape, choices=_shapes),
    Spec("x", WHERE, "x", "From the left", _lies("x_m"), _at("x_m"), _lay("x_m"), unit="m", shown=_place, row="x, y"),
    Spec("y", WHERE, "y", "Up", _lies("y_m"), _at("y_m"), _lay("y_m"), unit="m", shown=_place, row="x, y"),
    Spec("angle", WHERE, "angle", "Direction, counter-clockwise from east", _lies("angle_deg"), _at("angle_deg"),
         _lay("angle_deg"), unit="deg", shown=_degrees),
    Spec("radius", WHERE, "radius", "Radius of the arc", _lies("radius_m"), _at("radius_m"), _lay("radius_m"), unit="m",
         shown=_metre),
    Spec("bend", WHERE, "bends", "To which side the arc bends", _lies("rightward"), _at("rightward"),
         _lay("rightward"), choices=lambda *_: (("left", False), ("right", True))),
    Spec("across", WHERE, "across", "Diameter of the ring", _lies("start_deg"),
         lambda build, piece: 2 * ring_radius(piece), _set_across, unit="m", shown=_metre),
    Spec("start", WHERE, "first at", "Where on the ring the first light is, counter-clockwise from east",
         _lies("start_deg"), _at("start_deg"), _lay("start_deg"), unit="deg", shown=_degrees),
    Spec("corners", WHERE, "corners", "Corners in metres, e.g. 0,0  1.5,0  1.5,0.8",
         lambda piece: piece.layout.shape == "path", _corners_text, _set_corners, alone=True),
    Spec("spacing", HOW, "spacing", "From one lamp to the next",
         lambda piece: isinstance(piece, Lamps) and piece.layout.shape not in ("spots", "ring"), _field("spacing_m"),
         _set("spacing_m"), unit="m", shown=_metre),
    Spec("grid-pitch", HOW, "spacing", "From one light to the next", _of(Matrix, Indicator), _field("pitch_m"),
         _set("pitch_m"), unit="m", shown=_metre),
    Spec("cross-pitch", HOW, "row pitch", "From one row to the next", _panel_only, _field("cross_pitch_m"),
         _set("cross_pitch_m"), unit="m", shown=_metre),
    Spec("corner", HOW, "begins", "The corner where its wire begins", _panel_only, _field("corner"), _set("corner"),
         choices=lambda *_: CORNERS),
    Spec("way", HOW, "runs in", "How its wire runs", _panel_only,
         lambda build, piece: (piece.columns_first, piece.serpentine) if isinstance(piece, Panel) else None, _set_way,
         choices=lambda *_: WAYS),
    Spec("out-rail", HOW, "+ rail", "Positive rail", _run_only, _rail("rail_pos_ohm_per_m"),
         _set("rail_pos_ohm_per_m"), unit="ohm/m", shown=_ohm_per_m),
    Spec("back-rail", HOW, "− rail", "Return rail", _run_only, _rail("rail_neg_ohm_per_m"),
         _set("rail_neg_ohm_per_m"), unit="ohm/m", shown=_ohm_per_m),
    Spec("cuts", HOW, "cuts", "Pixels before which the positive rail is cut, e.g. 72, 144", _run_only, _cuts_text,
         _set_cuts, alone=True),
    Spec("joint", HOW, "end joined to", "The piece that its end is joined to", _run_only, _joined, _set_joint,
         choices=_joint_choices, alone=True),
    Spec("hole", HOW, "hole", "Diameter of the holes", _lamps, _mount("hole_m"), _set_mount("hole_m"), unit="m",
         shown=_metre, optional=True),
    Spec("wall", HOW, "wall", "Thickness of the wall that they sit in", _lamps, _mount("wall_m"), _set_mount("wall_m"),
         unit="m", shown=_metre, optional=True, more=True),
    Spec("spacer", HOW, "spacer", "Spacer between lamp and wall", _lamps, _mount("spacer_m"), _set_mount("spacer_m"),
         unit="m", shown=_metre, more=True),
    Spec("depth", HOW, "depth", "Room behind the wall", _lamps, _mount("depth_m"), _set_mount("depth_m"), unit="m",
         shown=_metre, optional=True, more=True),
    Spec("cover", HOW, "cover", "What covers them, seen in the glow", lambda piece: True, _mount("cover"),
         _set_mount("cover"), choices=lambda *_: COVERS),
    Spec("beam", HOW, "beam", "Angle of the beam", lambda piece: True, _mount("beam_deg"), _set_mount("beam_deg"),
         unit="deg", shown=_degrees, more=True),
    Spec("leads", HOW, "leads", "Leads along the row, the cup or flat side up, e.g. red, common, green, blue; empty "
         "when unknown", _has_leads, _leads_text, _set_leads),
    Spec("longest", HOW, "longest", "Which lead is the longest", _has_leads, _lead("longest"), _set_lead("longest"),
         choices=_lead_choices, more=True),
    Spec("cup", HOW, "cup side", "Which lead carries the cup, or stands on the flat side", _has_leads, _lead("cup"),
         _set_lead("cup"), choices=_lead_choices, more=True),
)  # fmt: skip


def _pitch(piece: Piece) -> float:
    return piece.pitch_m if isinstance(piece, PixelRun) else 1.0


def specs_for(build: Build, pieces: Sequence[Piece]) -> list[Spec]:
    """The fields that all of some pieces of a build have."""
    own = [spec for spec in SPECS if spec.needed(build) and not (spec.alone and len(pieces) > 1)]
    return [spec for spec in own if all(map(spec.fits, pieces))]
