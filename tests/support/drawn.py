"""Where drawings are drawn: every point of an SVG and whether it lies on its sheet."""

from __future__ import annotations

import re
import xml.etree.ElementTree as ElementTree
from collections.abc import Iterator

Point = tuple[float, float]
STEPS = {"M": 2, "L": 2, "H": 1, "V": 1, "C": 6, "Q": 4, "A": 7, "Z": 0}
ENDS = {"line": (("x1", "y1"), ("x2", "y2")), "text": (("x", "y"),), "image": (("x", "y"),)}


def points_of(svg: str) -> list[Point]:
    """Every point that lines, shapes, paths and words of an SVG have."""
    found: list[Point] = []
    for element in ElementTree.fromstring(svg).iter():
        kind, of = element.tag.rpartition("}")[2], element.attrib

        def at(name: str, of: dict[str, str] = of) -> float:
            return float(of.get(name, 0.0))

        found += [(at(x), at(y)) for x, y in ENDS.get(kind, ())]
        if kind == "rect" and not of.get("width", "").endswith("%"):
            found += [(at("x"), at("y")), (at("x") + at("width"), at("y") + at("height"))]
        elif kind == "circle":
            found += [(at("cx") - at("r"), at("cy") - at("r")), (at("cx") + at("r"), at("cy") + at("r"))]
        elif kind in ("polyline", "polygon"):
            numbers = [float(each) for each in re.split(r"[\s,]+", of["points"].strip())]
            found += list(zip(numbers[::2], numbers[1::2], strict=True))
        elif kind == "path":
            found += _path(of["d"])
    return found


def _path(words: str) -> Iterator[Point]:
    x = y = 0.0
    for letter, numbers in re.findall(r"([a-zA-Z])([^a-zA-Z]*)", words):
        values = [float(each) for each in re.findall(r"-?\d*\.?\d+", numbers)]
        size, relative = STEPS[letter.upper()], letter.islower()
        for first in range(0, len(values), max(1, size)):
            step = values[first : first + size]
            if letter.upper() == "H":
                x = step[0] + (x if relative else 0.0)
            elif letter.upper() == "V":
                y = step[0] + (y if relative else 0.0)
            else:
                x, y = step[-2] + (x if relative else 0.0), step[-1] + (y if relative else 0.0)
            yield x, y


def off_sheet(svg: str, by: float = 1.0) -> list[Point]:
    """The points of an SVG that lie outside its sheet by more than so much."""
    of = ElementTree.fromstring(svg).attrib
    sheet = of.get("viewBox", f"0 0 {of.get('width')} {of.get('height')}")
    left, top, width, height = (float(each) for each in sheet.split())
    return [
        (x, y)
        for x, y in points_of(svg)
        if not (left - by <= x <= left + width + by and top - by <= y <= top + height + by)
    ]
