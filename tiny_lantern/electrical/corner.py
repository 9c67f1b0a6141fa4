"""A build as it would be at its design corner: thinner copper, thirstier pixels, supplies at the low end."""

from __future__ import annotations

from typing import Any

from tiny_lantern.electrical.memo import memoised_on
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import NOMINAL_CORNER, Build, Conductor, Corner
from tiny_lantern.model.parts.connector import ConnectorPart
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.parts.strip import CcPixel, Pixel, StripPart
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.strip import PixelRun


@memoised_on("pieces", "joints", "buses", "supplies", "feeds", "parts", "corner")
def at_corner(build: Build) -> Build:
    """The build with every resistance, pixel current and set-point moved to its design corner.

    Places, counts and fuses stay, so that a solution of it stands beside the build's own.
    """
    corner = build.corner
    if corner == NOMINAL_CORNER:
        return build
    tolerances = {part.id: part.tolerance for part in build.shelf.of(SupplyPart)}
    return build.model_copy(
        update={
            "parts": tuple(_part(part, corner) for part in build.parts),
            "pieces": tuple(_piece(piece, corner) for piece in build.pieces),
            "joints": tuple(
                joint.model_copy(update=_scaled(joint, corner.wires, "pos_ohm", "neg_ohm")) for joint in build.joints
            ),
            "buses": tuple(
                bus.model_copy(
                    update=_scaled(bus, corner.wires, "pos_ohm_per_m", "neg_ohm_per_m", "tap_pos_ohm", "tap_neg_ohm")
                )
                for bus in build.buses
            ),
            "supplies": tuple(
                supply.model_copy(update={"set_v": supply.set_v * (1 - tolerances[supply.part_id] * corner.set_point)})
                for supply in build.supplies
            ),
            "feeds": tuple(
                feed.model_copy(
                    update={
                        "positive": _conductor(feed.positive, corner),
                        "negative": _conductor(feed.negative, corner),
                    }
                )
                for feed in build.feeds
            ),
        }
    )


def corner_name(corner: Corner) -> str:
    """What a plan was judged at, in words."""
    if corner == NOMINAL_CORNER:
        return "nominal"
    if corner == Corner():
        return "design corner"
    return "own corner"


def corner_words(corner: Corner) -> str:
    """A corner's figures: rails, wires, pixel current, set-point."""
    return (
        f"rails ×{corner.rails:g}, wires ×{corner.wires:g}, pixel current ×{corner.pixel_current:g}, "
        f"set-points {corner.set_point:.0%} of their tolerance low"
    )


def _scaled(thing: Any, factor: float, *fields: str) -> dict[str, float | None]:
    values = {field: getattr(thing, field) for field in fields}
    return {field: None if value is None else value * factor for field, value in values.items()}


def _conductor(conductor: Conductor, corner: Corner) -> Conductor:
    if conductor.measured_ohm is None:
        return conductor
    return conductor.model_copy(update={"measured_ohm": conductor.measured_ohm * corner.wires})


def _piece(piece: Piece, corner: Corner) -> Piece:
    if not isinstance(piece, PixelRun):
        return piece
    return piece.model_copy(update=_scaled(piece, corner.rails, "rail_pos_ohm_per_m", "rail_neg_ohm_per_m"))


def _part(part: Part, corner: Corner) -> Part:
    if isinstance(part, StripPart):
        return _strip_part(part, corner)
    copper = {FusePart: "cold_ohm", ConnectorPart: "contact_ohm", WirePart: "ohm_per_m"}.get(type(part))
    return part.model_copy(update=_scaled(part, corner.wires, copper)) if copper else part


def _strip_part(part: StripPart, corner: Corner) -> StripPart:
    rails = _scaled(part, corner.rails, "rail_pos_ohm_per_m", "rail_neg_ohm_per_m")
    return part.model_copy(update={**rails, "pixel": scaled_pixel(part.pixel, corner.pixel_current)})


def scaled_pixel(pixel: Pixel, factor: float) -> Pixel:
    """A pixel that draws so many times the current at every voltage. [-]"""
    quiescent = pixel.quiescent_a * factor
    if isinstance(pixel, CcPixel):
        held = tuple(revise(c, full_current_a=c.full_current_a * factor) for c in pixel.channels)
        return pixel.model_copy(update={"quiescent_a": quiescent, "channels": held})
    limited = tuple(revise(c, resistor_ohm=c.resistor_ohm / factor) for c in pixel.channels)
    return pixel.model_copy(update={"quiescent_a": quiescent, "channels": limited})
