"""The picture to scale as SVG: strips, feeds, supplies, and a ruler."""

from __future__ import annotations

from html import escape

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.light.colour import screen_bytes
from tiny_lantern.model.build import Build, OnStrip
from tiny_lantern.model.layout import all_places, bounds, clear_of_each_other, metre_step, places_along, spacing_of
from tiny_lantern.show.glow import NAME_ROOM, fit, spot_radius, to_screen

Floats = NDArray[np.float64]
MOST_DOTS = 4000
TEXT_SIZE = 12
INK, AMBER, NIGHT, FAINT = "#1f2a33", "#c97a14", "#11151c", "#8a929a"


def picture_svg(build: Build, rgb: Floats, width: int = 900, height: int = 320) -> str:
    """The build to scale with its lights in given colours.

    Args:
        build: the build.
        rgb: linear colour of every light, (n_slots, 3), 0 to 1. [-]
        width: width of the drawing. [px]
        height: height of the drawing. [px]
    """
    placed = fit(bounds(build), width, height - 34, NAME_ROOM)
    shapes = [f'<rect width="{width}" height="{height - 34}" rx="6" fill="{NIGHT}"/>']
    shapes += _lights(build, rgb, placed)
    shapes += _supplies(build, placed)
    shapes += _feeds(build, placed)
    shapes += _names(build, placed)
    shapes += _ruler(placed[0], width, height)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {height}" width="{width}" height="{height}" '
        f'font-family="Lato, sans-serif">{"".join(shapes)}</svg>'
    )


def _lights(build: Build, rgb: Floats, placed: tuple[float, float, float]) -> list[str]:
    places = to_screen(all_places(build), placed)
    colours = screen_bytes(rgb)
    shapes = []
    for span in build.line.spans:
        radius = spot_radius(placed[0], spacing_of(span.piece)) * 0.75
        step = max(1, len(places) // MOST_DOTS)
        for slot in range(span.first, span.stop, step):
            (x, y), (r, g, b) = places[slot], colours[slot]
            shapes.append(f'<circle cx="{x:.1f}" cy="{y:.1f}" r="{radius:.1f}" fill="#{r:02x}{g:02x}{b:02x}"/>')
    return shapes


def _names(build: Build, placed: tuple[float, float, float]) -> list[str]:
    """Names below supplies and at the starts of strips; one that would lie on another is left out."""
    names = []
    for supply in build.supplies:
        x, y = to_screen(np.array([[supply.x_m, supply.y_m]]), placed)[0]
        names.append((supply.name, x - _text_width(supply.name) / 2, y + 21, FAINT))
    places = to_screen(all_places(build), placed)
    for span in build.line.spans:
        x, y = places[span.first]
        names.append((span.piece.name, x, y - 12, "#d9d4c8"))
    boxes = [(x, y - TEXT_SIZE, x + _text_width(text), y + 3) for text, x, y, _ in names]
    return [
        f'<text x="{x:.1f}" y="{y:.1f}" font-size="{TEXT_SIZE}" fill="{colour}">{escape(text)}</text>'
        for (text, x, y, colour), free in zip(names, clear_of_each_other(boxes), strict=True)
        if free
    ]


def _text_width(text: str) -> float:
    """About what a text takes in the sheet's font. [px]"""
    return 0.54 * TEXT_SIZE * len(text)


def _supplies(build: Build, placed: tuple[float, float, float]) -> list[str]:
    shapes = []
    for supply in build.supplies:
        x, y = to_screen(np.array([[supply.x_m, supply.y_m]]), placed)[0]
        shapes.append(f'<rect x="{x - 9:.1f}" y="{y - 7:.1f}" width="18" height="14" rx="2" fill="{AMBER}"/>')
    return shapes


def _feeds(build: Build, placed: tuple[float, float, float]) -> list[str]:
    shapes = []
    letters = build.feed_letters
    for feed in build.feeds:
        if not isinstance(feed.attach, OnStrip):
            continue
        strip = build.line.strip(feed.attach.strip_id)
        x, y = to_screen(places_along(strip, np.array([feed.attach.position_m])), placed)[0]
        shapes.append(f'<circle cx="{x:.1f}" cy="{y + 16:.1f}" r="8" fill="{AMBER}"/>')
        shapes.append(
            f'<text x="{x:.1f}" y="{y + 20:.1f}" font-size="11" font-weight="bold" text-anchor="middle" '
            f'fill="#fff">{letters[feed.id]}</text>'
        )
    return shapes


def _ruler(scale: float, width: int, height: int) -> list[str]:
    step = metre_step(width / scale)
    y = height - 22
    ticks = int(width / scale / step)
    shapes = [f'<line x1="0" y1="{y}" x2="{ticks * step * scale:.1f}" y2="{y}" stroke="{INK}"/>']
    for tick in range(ticks + 1):
        x = tick * step * scale
        anchor = "start" if tick == 0 else "middle"
        shapes.append(f'<line x1="{x:.1f}" y1="{y}" x2="{x:.1f}" y2="{y + 5}" stroke="{INK}"/>')
        shapes.append(
            f'<text x="{x:.1f}" y="{y + 17}" font-size="11" text-anchor="{anchor}" fill="{INK}">'
            f"{tick * step:g} m</text>"
        )
    return shapes
