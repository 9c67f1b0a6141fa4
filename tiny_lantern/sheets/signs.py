"""The signs of a schematic as SVG: each about a point, its leads above and below where it has two."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from html import escape

INK, AMBER, FAINT = "#232d36", "#cc7d15", "#5a646d"
COLOURS = {"red": "#e0402c", "green": "#2f9e44", "blue": "#3a6fd8", "white": "#f2ead8", "amber": "#f0a63a"}
FONT = "Lato"


@dataclass(frozen=True)
class Pen:
    """What is drawn with: ink for lines and words, a fainter one for what is said less loudly."""

    ink: str = INK
    faint: str = FAINT

    def line(self, x1: float, y1: float, x2: float, y2: float, width: float = 1.6, dash: str = "") -> str:
        """A line.

        Args:
            x1: where it begins.
            y1: where it begins.
            x2: where it ends.
            y2: where it ends.
            width: how thick it is.
            dash: its dashes, if it has any.
        """
        dashed = f' stroke-dasharray="{dash}"' if dash else ""
        ends = f'x1="{x1:g}" y1="{y1:g}" x2="{x2:g}" y2="{y2:g}"'
        return f'<line {ends} stroke="{self.ink}" stroke-width="{width:g}" stroke-linecap="round"{dashed}/>'

    def text(self, x: float, y: float, words: str, size: float = 11, anchor: str = "start", loud: bool = True) -> str:
        """Words.

        Args:
            x: where they begin, or stand about.
            y: their foot.
            words: what is said.
            size: how large.
            anchor: ``start``, ``middle`` or ``end``.
            loud: whether in ink.
        """
        fill = self.ink if loud else self.faint
        how = f'font-size="{size:g}" text-anchor="{anchor}" fill="{fill}"'
        return f'<text x="{x:g}" y="{y:g}" {how}>{escape(words)}</text>'

    def box(self, x: float, y: float, wide: float, high: float, round_by: float = 3) -> str:
        """A box.

        Args:
            x: its left.
            y: its top.
            wide: how wide it is.
            high: how high it is.
            round_by: how round its corners are.
        """
        at = f'x="{x:g}" y="{y:g}" width="{wide:g}" height="{high:g}" rx="{round_by:g}"'
        return f'<rect {at} fill="none" stroke="{self.ink}" stroke-width="1.6"/>'


def led(pen: Pen, x: float, y: float, colour: str, way: int = 1) -> list[str]:
    """A light-emitting diode: the triangle points to the cathode.

    Args:
        pen: what is drawn with.
        x: its middle.
        y: its middle.
        colour: the name of its light.
        way: 1 where its cathode is below, -1 where it is above.
    """
    light, back, tip = COLOURS.get(colour, AMBER), y - 9 * way, y + 9 * way
    return [
        f'<polygon points="{x - 11:g},{back:g} {x + 11:g},{back:g} {x:g},{tip:g}" fill="{light}" '
        f'stroke="{pen.ink}" stroke-width="1.2"/>',
        pen.line(x - 11, tip, x + 11, tip, 2),
        *_rays(x, y),
    ]


def _rays(x: float, y: float) -> list[str]:
    """Two strokes of light, away to the right."""
    light = Pen(AMBER)
    return [light.line(x + 13, y + off, x + 19, y + off - 5, 1.4) for off in (-1, 6)]


def diode(pen: Pen, x: float, y: float, _: str, way: int = 1) -> list[str]:
    """A diode: see ``led``."""
    back, tip = y - 8 * way, y + 8 * way
    points = f"{x - 9:g},{back:g} {x + 9:g},{back:g} {x:g},{tip:g}"
    return [f'<polygon points="{points}" fill="{pen.ink}"/>', pen.line(x - 9, tip, x + 9, tip, 2)]


def resistor(pen: Pen, x: float, y: float, _: str) -> list[str]:
    """A resistor."""
    return [pen.box(x - 6.5, y - 14, 13, 28, 0)]


def fuse(pen: Pen, x: float, y: float, _: str) -> list[str]:
    """A fuse: its wire passes through."""
    return [pen.box(x - 5, y - 13, 10, 26, 0), pen.line(x, y - 13, x, y + 13, 1)]


def capacitor(pen: Pen, x: float, y: float, _: str) -> list[str]:
    """A capacitor."""
    return [pen.line(x - 10, y - 3, x + 10, y - 3, 2), pen.line(x - 10, y + 3, x + 10, y + 3, 2)]


def load(pen: Pen, x: float, y: float, colour: str) -> list[str]:
    """A lamp that is no bare diode."""
    fill = COLOURS.get(colour, "none")
    reach = 12 * math.sqrt(0.5)
    return [
        f'<circle cx="{x:g}" cy="{y:g}" r="12" fill="{fill}" fill-opacity="0.55" '
        f'stroke="{pen.ink}" stroke-width="1.6"/>',
        pen.line(x - reach, y - reach, x + reach, y + reach, 1.2),
        pen.line(x - reach, y + reach, x + reach, y - reach, 1.2),
    ]


def contact(pen: Pen, x: float, y: float, _: str) -> list[str]:
    """A switching contact."""
    return [pen.line(x, y - 14, x, y - 8), pen.line(x, y + 8, x + 11, y - 8, 2), pen.line(x, y + 8, x, y + 14)]


def coil(pen: Pen, x: float, y: float, _: str) -> list[str]:
    """The coil of a relay."""
    return [pen.box(x - 14, y - 8, 28, 16, 0), pen.line(x - 6, y + 8, x + 6, y - 8, 1.2)]


def bipolar(pen: Pen, x: float, y: float, p_first: bool) -> list[str]:
    """A bipolar transistor, its base to the left; the arrow is at the emitter, which of a pnp stands above and is
    pointed at the base.

    Args:
        pen: what is drawn with.
        x: its middle.
        y: its middle.
        p_first: whether it is a pnp.
    """
    bar = pen.line(x - 9, y - 11, x - 9, y + 11, 2.6)
    legs = [pen.line(x - 9, y - 5, x, y - 14), pen.line(x - 9, y + 5, x, y + 14), pen.line(x - 22, y, x - 9, y)]
    arrow = _arrow(pen, (x, y - 14), (x - 9, y - 5)) if p_first else _arrow(pen, (x - 9, y + 5), (x, y + 14))
    return [bar, *legs, arrow]


def mosfet(pen: Pen, x: float, y: float, p_channel: bool) -> list[str]:
    """A field-effect transistor, its gate to the left: three channel strokes, an arrow on the middle one that points at
    the channel of an n-channel and away from that of a p-channel.

    Args:
        pen: what is drawn with.
        x: its middle.
        y: its middle.
        p_channel: whether it is a p-channel.
    """
    gate = [pen.line(x - 22, y, x - 13, y), pen.line(x - 13, y - 10, x - 13, y + 10, 2)]
    channel = [pen.line(x - 9, y + off - 3, x - 9, y + off + 3, 2.2) for off in (-8, 0, 8)]
    legs = [
        pen.line(x - 9, y - 8, x, y - 8), pen.line(x, y - 8, x, y - 14), pen.line(x - 9, y + 8, x, y + 8),
        pen.line(x, y + 8, x, y + 14), pen.line(x - 9, y, x, y, 1.2),
        pen.line(x, y, x, y - 8 if p_channel else y + 8, 1.2),
    ]  # fmt: skip
    arrow = _arrow(pen, (x - 8, y), (x - 1, y)) if p_channel else _arrow(pen, (x - 1, y), (x - 8, y))
    return [*gate, *channel, *legs, arrow]


def _arrow(pen: Pen, start: tuple[float, float], end: tuple[float, float]) -> str:
    """An arrow's head at the end of a line."""
    length = math.dist(start, end)
    along = ((end[0] - start[0]) / length, (end[1] - start[1]) / length)
    foot = (end[0] - 6 * along[0], end[1] - 6 * along[1])
    one = (foot[0] - 3 * along[1], foot[1] + 3 * along[0])
    other = (foot[0] + 3 * along[1], foot[1] - 3 * along[0])
    points = " ".join(f"{px:.1f},{py:.1f}" for px, py in (end, one, other))
    return f'<polygon points="{points}" fill="{pen.ink}"/>'


def zero(pen: Pen, x: float, y: float, _: str) -> list[str]:
    """0 V."""
    return [pen.line(x - half, y + off, x + half, y + off, 1.8) for half, off in ((12, 0), (8, 5), (3, 10))]


def rail(pen: Pen, x: float, y: float, _: str) -> list[str]:
    """Where all that hangs on one voltage meets."""
    return [pen.line(x - 16, y, x + 16, y, 2.4)]


def unled(pen: Pen, x: float, y: float, _: str) -> list[str]:
    """An end that leads to nothing."""
    return [pen.line(x - 5, y - 5, x + 5, y + 5, 2), pen.line(x - 5, y + 5, x + 5, y - 5, 2)]


def nothing(pen: Pen, x: float, y: float, _: str) -> list[str]:
    """A wire and nothing else."""
    return []


Draw = Callable[[Pen, float, float, str], list[str]]
DRAWN: dict[str, Draw] = {
    "led": led, "diode": diode, "resistor": resistor, "fuse": fuse, "capacitor": capacitor, "load": load,
    "contact": contact, "coil": coil, "zero": zero, "rail": rail, "open": unled, "wire": nothing, "through": nothing,
    "led up": lambda pen, x, y, colour: led(pen, x, y, colour, way=-1),
    "diode up": lambda pen, x, y, colour: diode(pen, x, y, colour, way=-1),
    "npn": lambda pen, x, y, _: bipolar(pen, x, y, p_first=False),
    "pnp": lambda pen, x, y, _: bipolar(pen, x, y, p_first=True),
    "nmos": lambda pen, x, y, _: mosfet(pen, x, y, p_channel=False),
    "pmos": lambda pen, x, y, _: mosfet(pen, x, y, p_channel=True),
}  # fmt: skip
BOXED = ("box", "regulator", "supply")
HALF = {
    "led": 9, "led up": 9, "diode": 8, "diode up": 8, "resistor": 14, "fuse": 13, "capacitor": 3, "load": 12,
    "contact": 14, "coil": 8, "zero": 0, "rail": 0, "open": 0, "wire": 0, "through": 0, "npn": 14, "pnp": 14,
    "nmos": 14, "pmos": 14,
}  # fmt: skip
