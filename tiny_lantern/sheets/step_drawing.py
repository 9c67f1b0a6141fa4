"""One wiring step as a drawing: the two things that it joins, both ends lit, what lies in the wire between."""

from __future__ import annotations

from dataclasses import dataclass
from html import escape

from tiny_lantern.circuit.conductor import LEAD, Conductor, End
from tiny_lantern.model.build import Build
from tiny_lantern.model.parts.chip import ChipPart

WIDTH, HEIGHT = 520, 400
CHIP_X, CHIP_Y, CHIP_WIDE, LEG, LEG_LONG = 92, 40, 150, 34, 22
THING_X, THING_Y = 400, 130
TOP, EDGE, ABOVE = 12.0, 16.0, 58
COLOURS = {"black": "#2b2b2b", "red": "#c63a2c", "orange": "#e87f21", "yellow": "#e0b416", "blue": "#3f8fd6",
           "green": "#34a853", "white": "#cfc8b8", "purple": "#8e62bd", "red and black": "#c63a2c"}  # fmt: skip
LIT, BODY, METAL, INK, FAINT = "#cc7d15", "#2a2f3a", "#b9b4a6", "#232d36", "#5a646d"


@dataclass(frozen=True)
class Spot:
    """Where a wire meets a thing; ``away`` when it looks away from the other end, and then which way round it goes."""

    x: float
    y: float
    away: bool = False
    round_x: float = 0.0
    under_y: float = 0.0


def step_svg(build: Build, row: Conductor, ink: str = INK, faint: str = FAINT) -> str:
    """A step's drawing.

    Args:
        build: the build.
        row: the conductor.
        ink: colour of words.
        faint: colour of what is said less loudly.
    """
    wire = COLOURS.get(row.colour, LIT)
    left, start = _thing(build, row.start, CHIP_X, ink, faint, mirrored=False)
    right, end = _thing(build, row.end, THING_X, ink, faint, mirrored=True)
    path, label = _way(start, end)
    bottom = max(_foot(build, end_of) for end_of in (row.start, row.end))
    shapes = [*left, *right, f'<path d="{path}" fill="none" stroke="{wire}" stroke-width="3.5"/>']
    if row.through:
        middle, y = label
        wide = 16 + 8 * len(row.through)
        if (
            start.y == end.y == THING_Y and wide > end.x - start.x
        ):  # there is no room between: above, with a line down to the wire
            shapes.append(f'<path d="M{middle:.0f} {y:.0f} v{-ABOVE}" stroke="{INK}"/>')
            y -= ABOVE
        shapes += [
            f'<rect x="{middle - wide / 2:.0f}" y="{y - 13:.0f}" width="{wide}" height="26" rx="3" fill="#fffdf8" '
            f'stroke="{INK}"/>',
            f'<text x="{middle:.0f}" y="{y + 5:.0f}" font-size="14" text-anchor="middle" fill="{INK}">'
            f"{escape(row.through)}</text>",
        ]
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 {TOP:.0f} {WIDTH} {bottom - TOP:.0f}" width="{WIDTH}" '
        f'height="{bottom - TOP:.0f}" '
        f'font-family="Lato">{"".join(shapes)}</svg>'
    )


def _chip_of(build: Build, end: End) -> ChipPart | None:
    """The chip that an end is a leg of."""
    chip = next((part for part in build.shelf.of(ChipPart) if part.id == end.chip_id), None)
    return chip if chip is not None and chip.legs and end.leg is not None else None


def _is_lamp(end: End) -> bool:
    words = ("anode", "cathode", "lead", "common", "leg", "red", "green", "blue")
    return end.takes == LEAD and any(word in end.terminal for word in words)


def _foot(build: Build, end: End) -> float:
    """How far down a thing reaches with its words, so that the drawing is cut to what is on it."""
    chip = _chip_of(build, end)
    if chip is not None:
        half = len(chip.legs) // 2
        return CHIP_Y + min(LEG, (HEIGHT - CHIP_Y - 60) / half) * half + 14 + 20 + EDGE
    return THING_Y + (24 + 60 + EDGE if _is_lamp(end) else 35 + EDGE + 20)


def _way(start: Spot, end: Spot) -> tuple[str, tuple[float, float]]:
    """The wire's way, led round a chip whose leg looks away from the other end, and where its label stands."""
    (x1, y1), (x2, y2) = (start.x, start.y), (end.x, end.y)
    head, tail = f"M{x1:.0f} {y1:.0f}", f"{x2:.0f} {y2:.0f}"
    from_x, from_y, to_x, to_y = x1, y1, x2, y2
    if start.away:
        from_x, from_y = start.round_x, start.under_y
        head += f" H{x1 - 22:.0f} V{from_y:.0f} H{from_x:.0f}"
    if end.away:
        to_x, to_y = end.round_x, end.under_y
        tail = f"{to_x:.0f} {to_y:.0f} H{x2 + 22:.0f} V{y2:.0f} H{x2:.0f}"
    middle = (from_x + to_x) / 2
    bend = f"C{middle:.0f} {from_y:.0f} {middle:.0f} {to_y:.0f}"
    return f"{head} {bend} {tail}", (middle, (from_y + to_y) / 2)


def _thing(build: Build, end: End, x: int, ink: str, faint: str, mirrored: bool) -> tuple[list[str], Spot]:
    """A thing with one of its terminals lit, and where the wire meets it."""
    chip = _chip_of(build, end)
    if chip is not None:
        return _chip(chip, end, x if not mirrored else x - 90, faint, mirrored)
    if _is_lamp(end):
        return _lamp(end, x, ink, faint)
    return _box(end, x, ink, faint, mirrored)


def _chip(chip: ChipPart, end: End, x: int, faint: str, mirrored: bool) -> tuple[list[str], Spot]:
    """A chip from above, its legs numbered from the notch, down the left and up the right."""
    half = len(chip.legs) // 2
    step = min(LEG, (HEIGHT - CHIP_Y - 60) / half)
    high = step * half + 14
    shapes = [
        f'<text x="{x}" y="{CHIP_Y - 12}" font-size="14" fill="{faint}">{escape(end.on)}: count from the notch</text>',
        f'<rect x="{x}" y="{CHIP_Y}" width="{CHIP_WIDE}" height="{high:.0f}" rx="5" fill="{BODY}"/>',
        f'<path d="M{x + CHIP_WIDE / 2 - 14} {CHIP_Y} a14 14 0 0 0 28 0 z" fill="#fcf8ef"/>',
    ]
    meets = Spot(float(x), float(CHIP_Y))
    for number, name in enumerate(chip.legs, 1):
        left = number <= half
        row = number - 1 if left else len(chip.legs) - number
        y = CHIP_Y + 14 + step * (row + 0.35)
        lit = number == end.leg
        leg_x = x - LEG_LONG if left else x + CHIP_WIDE
        shapes.append(
            f'<rect x="{leg_x}" y="{y - 6:.0f}" width="{LEG_LONG}" height="12" rx="2" fill="{LIT if lit else METAL}"/>'
        )
        anchor, at = ("start", x + 7) if left else ("end", x + CHIP_WIDE - 7)
        text = f"{number}  {name}" if left else f"{name}  {number}"
        words_ink = "#ffd9a0" if lit else "#c9c4b8"
        shapes.append(
            f'<text x="{at}" y="{y + 4:.0f}" font-size="14" text-anchor="{anchor}" fill="{words_ink}">'
            f"{escape(text)}</text>"
        )
        if lit:
            round_x = x - 10.0 if mirrored else x + CHIP_WIDE + 34.0
            meets = Spot(leg_x if left else leg_x + LEG_LONG, y, left != mirrored, round_x, CHIP_Y + high + 20)
    return shapes, meets


def _lamp(end: End, x: int, ink: str, faint: str) -> tuple[list[str], Spot]:
    """A lamp with the named lead lit; the long one is drawn long."""
    long, y = "long leg" in end.terminal, THING_Y
    leads = ((x - 8, 60 if long else 42), (x + 8, 42 if long else 60))
    shapes = [
        f'<circle cx="{x}" cy="{y}" r="52" fill="#ffe9b8" opacity="0.55"/>',
        f'<rect x="{x - 24}" y="{y - 38}" width="48" height="62" rx="22" fill="#fbe0a8" stroke="{LIT}"/>',
    ]
    for number, (lead_x, length) in enumerate(leads):
        colour = LIT if number == 0 else METAL
        shapes.append(f'<rect x="{lead_x - 2}" y="{y + 24}" width="4" height="{length}" fill="{colour}"/>')
    words = [word for word in (end.on, end.terminal, f"shows {end.more}" if end.more else "") if word]
    first = y - 62 - 18 * (len(words) - 1)  # above it, where no wire passes
    for number, word in enumerate(words):
        shapes.append(
            f'<text x="{x}" y="{first + 18 * number}" font-size="{16 if number == 0 else 14}" text-anchor="middle" '
            f'fill="{ink if number == 0 else faint}">{escape(word)}</text>'
        )
    return shapes, Spot(leads[0][0], y + 24 + leads[0][1])


def _box(end: End, x: int, ink: str, faint: str, mirrored: bool) -> tuple[list[str], Spot]:
    """Anything else: a board's pin, a rail, a transistor."""
    y, wide, high = THING_Y, 176, 74
    size = _fits(end.on, wide)
    least = min(size, _fits(end.terminal, wide))
    left = x - wide / 2 + (40 if not mirrored else -20)
    shapes = [
        f'<rect x="{left}" y="{y - high / 2}" width="{wide}" height="{high}" rx="5" fill="#fffdf8" stroke="{INK}"/>',
        f'<text x="{left + wide / 2}" y="{y - 6}" font-size="{size}" text-anchor="middle" fill="{INK}">'
        f"{escape(end.on)}</text>",
        f'<text x="{left + wide / 2}" y="{y + 16}" font-size="{least}" text-anchor="middle" '
        f'fill="{LIT}">{escape(end.terminal)}</text>',
    ]
    return shapes, Spot(left if mirrored else left + wide, y)


def _fits(words: str, wide: float) -> int:
    """A size of type in which words fit a box."""
    return int(max(9.0, min(16.0, (wide - 12) / (0.5 * max(len(words), 1)))))
