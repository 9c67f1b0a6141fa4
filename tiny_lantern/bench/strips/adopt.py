"""A fit made the build's own: rails, pixels, feeds and set-points as they were found to be."""

from __future__ import annotations

from collections.abc import Mapping

from tiny_lantern.bench.strips.fit import CURRENT, SCALES, number_of
from tiny_lantern.electrical.network import part_of
from tiny_lantern.electrical.ohms import conductor_ohm, fuse_of, rails_ohm_per_m
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_parts
from tiny_lantern.model.edits_pieces import change_strip
from tiny_lantern.model.edits_power import change_feed, change_supply
from tiny_lantern.model.parts.strip import CcPixel, Pixel, StripPart


def adopted(build: Build, values: Mapping[str, float]) -> Build:
    """The build with parameters of a fit as its own.

    Args:
        build: the build.
        values: parameters by their names, as ``fit.fit_names`` gives them.

    Raises:
        LanternError: a value is none that a build can have.
    """
    for name, value in values.items():
        if name in SCALES:
            build = _with_rails(build, SCALES[name], value)
        elif name == CURRENT:
            build = _with_pixels(build, value)
        elif name.endswith("_ohm"):
            build = _with_feed(build, number_of(name), value)
        else:
            supply = build.supplies[number_of(name)]
            build = change_supply(build, supply.id, set_v=round(value, 4))
    return build


def _with_rails(build: Build, rails: tuple[str, ...], scale: float) -> Build:
    for strip in build.strips:
        own = dict(zip(("pos", "neg"), rails_ohm_per_m(strip, part_of(build, strip)), strict=True))
        build = change_strip(build, strip.id, **{f"rail_{rail}_ohm_per_m": own[rail] * scale for rail in rails})
    return build


def _with_pixels(build: Build, scale: float) -> Build:
    for part_id in dict.fromkeys(strip.part_id for strip in build.strips):
        part = build.shelf.find(StripPart, part_id)
        build = change_parts(build, revise(part, pixel=_scaled(part.pixel, scale)))
    return build


def _scaled(pixel: Pixel, scale: float) -> Pixel:
    """A pixel that draws more at every voltage, or less."""
    if isinstance(pixel, CcPixel):
        held = tuple(revise(each, full_current_a=each.full_current_a * scale) for each in pixel.channels)
        return revise(pixel, quiescent_a=pixel.quiescent_a * scale, channels=held)
    limited = tuple(revise(each, resistor_ohm=each.resistor_ohm / scale) for each in pixel.channels)
    return revise(pixel, quiescent_a=pixel.quiescent_a * scale, channels=limited)


def _with_feed(build: Build, number: int, more_ohm: float) -> Build:
    """A feed with more resistance, half of it in each conductor."""
    feed = build.feeds[number]
    out_ohm = conductor_ohm(build, feed.positive, fuse_of(build, feed)) + more_ohm / 2
    back_ohm = conductor_ohm(build, feed.negative) + more_ohm / 2
    return change_feed(
        build, feed.id, positive=revise(feed.positive, measured_ohm=out_ohm),
        negative=revise(feed.negative, measured_ohm=back_ohm),
    )  # fmt: skip
