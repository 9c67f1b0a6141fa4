"""The sources as a drawing: from wall or cell to lamp, a stream as wide as its current, its banks what it may carry."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from html import escape

from tiny_lantern.circuit.river import Bank, River, Stream
from tiny_lantern.model.quantities import amps, volts

CARD, MEETING, GAP, EDGE, STUB = 176.0, 24.0, 112.0, 12.0, 76.0
HIGH, ROOM, TOP = 45.0, 11.0, 20.0
WIDEST, LEAST, MOST_BANK = 44.0, 1.5, 26.0
BELOW = 64.0
PAST = 24  # points of a stream that are tried when a place is looked for


@dataclass(frozen=True)
class Inks:
    """The colours of a drawing."""

    ink: str = "#232d36"
    faint: str = "#5a646d"
    panel: str = "#fffdf8"
    rule: str = "#cfc5b0"
    bank: str = "#eadfca"
    flow: str = "#d99a38"
    danger: str = "#ab2118"
    chosen: str = "#14716f"


@dataclass(frozen=True)
class Spot:
    """Where a thing stands in the drawing."""

    x: float
    y: float
    wide: float
    high: float

    def holds(self, x: float, y: float) -> bool:
        """Whether a place is on it."""
        return self.x <= x <= self.x + self.wide and self.y <= y <= self.y + self.high


@dataclass(frozen=True)
class Course:
    """The way of a stream in the drawing, and how wide it and its banks are."""

    x0: float
    y0: float
    x1: float
    y1: float
    wide: float
    bank: float

    def at(self, share: float) -> tuple[float, float]:
        """A point of it, by the share of its way."""
        middle = (self.x0 + self.x1) / 2
        rest = 1 - share
        ways = rest**3, 3 * rest**2 * share, 3 * rest * share**2, share**3
        x = sum(way * each for way, each in zip(ways, (self.x0, middle, middle, self.x1), strict=True))
        y = sum(way * each for way, each in zip(ways, (self.y0, self.y0, self.y1, self.y1), strict=True))
        return x, y

    def path(self) -> str:
        """It as a path."""
        middle = (self.x0 + self.x1) / 2
        ends = ((middle, self.y0), (middle, self.y1), (self.x1, self.y1))
        return f"M{self.x0:.1f} {self.y0:.1f} C" + " ".join(f"{x:.1f} {y:.1f}" for x, y in ends)


@dataclass(frozen=True)
class Laid:
    """A river laid out: where each thing stands, by its key, the course of each stream, and how large all of it is."""

    river: River
    spots: Mapping[str, Spot]
    courses: tuple[Course, ...]
    wide: float
    high: float

    def thing_at(self, x: float, y: float) -> Bank | None:
        """The thing at a place of the drawing."""
        return next((bank for bank in self.river.banks if self.spots[bank.key].holds(x, y)), None)

    def stream_at(self, x: float, y: float) -> int | None:
        """The number of the stream at a place of the drawing."""
        for number, course in enumerate(self.courses):
            near = max(course.bank, course.wide, 10.0) / 2
            points = (course.at(step / PAST) for step in range(PAST + 1))
            if any(abs(x - px) < 8 and abs(y - py) <= near for px, py in points):
                return number
        return None


def laid_out(river: River) -> Laid:
    """A river laid out: sources left, what they feed right of them, beside each other what hangs on one."""
    levels = _levels(river)
    lefts = _lefts(river, levels)
    spots = _spots(river, levels, lefts)
    courses = tuple(_courses(river, spots))
    wide = max((spot.x + spot.wide for spot in spots.values()), default=CARD) + EDGE
    high = max((spot.y + spot.high for spot in spots.values()), default=0.0) + BELOW
    return Laid(river, spots, courses, wide, high)


def _levels(river: River) -> dict[str, int]:
    """How many streams lie before each thing, on the longest way. Rings are cut where they close."""
    levels = {bank.key: 0 for bank in river.banks}
    for _ in river.banks:
        moved = False
        for stream in river.streams:
            if levels[stream.end] < levels[stream.start] + 1 <= len(levels):
                levels[stream.end] = levels[stream.start] + 1
                moved = True
        if not moved:
            break
    unfed = {bank.key for bank in river.banks if bank.kind == "lamps"} - {stream.end for stream in river.streams}
    return levels | dict.fromkeys(unfed, 1)


def _lefts(river: River, levels: Mapping[str, int]) -> list[float]:
    """Where each column begins."""
    found, x = [], EDGE + (STUB if any(bank.on_mains for bank in river.banks) else 0.0)
    for level in range(1 + max(levels.values(), default=0)):
        kinds = {bank.kind for bank in river.banks if levels[bank.key] == level}
        found.append(x)
        x += GAP + (MEETING if kinds <= {"meeting", "missing"} else CARD)
    return found


def _spots(river: River, levels: Mapping[str, int], lefts: list[float]) -> dict[str, Spot]:
    banks = {bank.key: bank for bank in river.banks}
    parents: dict[str, str] = {}
    for stream in sorted(river.streams, key=lambda each: each.current_a):
        parents[stream.end] = stream.start
    children: defaultdict[str, list[str]] = defaultdict(list)
    for key in banks:
        if key in parents:
            children[parents[key]].append(key)
    spots: dict[str, Spot] = {}
    free: defaultdict[int, float] = defaultdict(lambda: TOP)

    def place(key: str, least: float) -> float:
        """Put a thing beside the middle of what it feeds; the height that it and those take."""
        bank, level = banks[key], levels[key]
        narrow = bank.kind in ("meeting", "missing")
        start = max(least, free[level])
        below = start
        for child in sorted(children[key], key=lambda each: (levels[each], list(banks).index(each))):
            below = place(child, below)
        own = [spots[child] for child in children[key]]
        middle = (own[0].y + own[-1].y + own[-1].high) / 2 if own else start + HIGH / 2
        high = max(HIGH, min(own[-1].y + own[-1].high - own[0].y, 2.4 * HIGH)) if narrow and own else HIGH
        y = max(start, middle - high / 2)
        spots[key] = Spot(lefts[level], y, MEETING if narrow else CARD, high)
        free[level] = y + high + ROOM + (TOP if bank.allowed_a is not None or narrow else 0.0)
        return max(below, y + high + ROOM)

    below = TOP
    for key in banks:
        if key not in parents:
            below = place(key, below)
    return spots


def _courses(river: River, spots: Mapping[str, Spot]) -> Iterator[Course]:
    """Every stream between the sides of its two things, one beside the other in the order of their other ends."""
    most_a = max((sum(s.current_a for s in river.streams if s.start == key) for key in spots), default=0.0)
    scale = WIDEST / most_a if most_a > 0 else 0.0
    wide = [max(LEAST, stream.current_a * scale) for stream in river.streams]
    bank = [max(each, min(stream.limit_a * scale, MOST_BANK)) for each, stream in zip(wide, river.streams, strict=True)]
    leaves = _heights(((s.start, spots[s.end].y) for s in river.streams), bank, spots)
    arrives = _heights(((s.end, spots[s.start].y) for s in river.streams), bank, spots)
    for number, stream in enumerate(river.streams):
        start, end = spots[stream.start], spots[stream.end]
        yield Course(start.x + start.wide, leaves[number], end.x, arrives[number], wide[number], bank[number])


def _heights(sides: Iterable[tuple[str, float]], bank: list[float], spots: Mapping[str, Spot]) -> dict[int, float]:
    """Where each stream touches one side of a thing: beside the others, in the order of where they lead."""
    own: defaultdict[str, list[tuple[float, int]]] = defaultdict(list)
    for number, (key, other_y) in enumerate(sides):
        own[key].append((other_y, number))
    found = {}
    for key, touching in own.items():
        spot, numbers = spots[key], [number for _, number in sorted(touching)]
        total = sum(bank[number] for number in numbers)
        squeeze = min(1.0, spot.high / total) if total else 1.0
        y = spot.y + spot.high / 2 - total * squeeze / 2
        for number in numbers:
            found[number] = y + bank[number] * squeeze / 2
            y += bank[number] * squeeze
    return found


def river_svg(laid: Laid, inks: Inks | None = None, chosen: str | int | None = None) -> str:
    """A river as a drawing.

    Args:
        laid: the river, laid out.
        inks: its colours.
        chosen: the key of a thing or the number of a stream that is picked out.
    """
    inks = inks or Inks()
    shapes: list[str] = []
    pairs = list(zip(laid.river.streams, laid.courses, strict=True))
    if isinstance(chosen, int):
        shapes.append(_band(laid.courses[chosen], inks.chosen, laid.courses[chosen].bank + 6))
    shapes += [_band(course, inks.bank, course.bank) for _, course in pairs]
    shapes += [_band(course, inks.danger if stream.over else inks.flow, course.wide) for stream, course in pairs]
    arriving = Counter(stream.end for stream in laid.river.streams)
    for stream, course in pairs:
        shapes += _words_of(stream, course, inks, in_one_line=arriving[stream.end] > 1)
    for stream, course in pairs:
        shapes += _fuse(*course.at(0.22), inks) if stream.fuse_a is not None else []
    for bank in laid.river.banks:
        shapes += _thing(bank, laid.spots[bank.key], inks, bank.key in laid.river.unfed, chosen == bank.key)
    shapes += _zero(laid, inks)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {laid.wide:.0f} {laid.high:.0f}" '
        f'width="{laid.wide:.0f}" height="{laid.high:.0f}" font-family="Lato">{"".join(shapes)}</svg>'
    )


def _band(course: Course, colour: str, wide: float) -> str:
    return f'<path d="{course.path()}" fill="none" stroke="{colour}" stroke-width="{wide:.1f}"/>'


def _words_of(stream: Stream, course: Course, inks: Inks, in_one_line: bool) -> list[str]:
    """What a stream carries, by what, and its fuse, in two lines before where it arrives, or in one."""
    x, y = course.x1 - 7, course.y1 - course.bank / 2 - 4
    ink = inks.danger if stream.over else inks.faint
    carries = amps(stream.current_a) + (f" of {amps(stream.limit_a)}" if stream.over else "")
    fuse = f"fuse {stream.fuse_a:g} A" if stream.fuse_a is not None else ""
    by = ", ".join(each for each in (stream.words, fuse) if each)
    lines = [f"{by} {carries}".strip()] if in_one_line or not by else [by, carries]
    shapes: list[str] = []
    for number, line in enumerate(reversed(lines)):
        shapes += _told(x, y - 12 * number, line, ink, inks)
    return shapes


def _told(x: float, y: float, words: str, ink: str, inks: Inks) -> list[str]:
    """Words that end at a place, on a ground of their own."""
    wide = 5.2 * len(words) + 6
    return [
        f'<rect x="{x - wide + 3:.1f}" y="{y - 9.5:.1f}" width="{wide:.1f}" height="12.5" fill="{inks.panel}" '
        'fill-opacity="0.85"/>',
        _text(x, y, words, 10, ink, "end"),
    ]


def _fuse(x: float, y: float, inks: Inks) -> list[str]:
    return [
        f'<rect x="{x - 11:.1f}" y="{y - 6:.1f}" width="22" height="12" rx="4" fill="{inks.panel}" '
        f'stroke="{inks.ink}"/>',
        f'<path d="M{x - 6:.1f} {y:.1f} q3 -5 6 0 q3 5 6 0" fill="none" stroke="{inks.ink}"/>',
    ]


def _thing(bank: Bank, spot: Spot, inks: Inks, unfed: bool, chosen: bool) -> list[str]:
    bad = unfed or bank.kind == "missing" or (bank.allowed_a is not None and bank.given_a > bank.allowed_a)
    edge = inks.chosen if chosen else inks.danger if bad else inks.ink
    shapes = [
        f'<rect x="{spot.x:.1f}" y="{spot.y:.1f}" width="{spot.wide}" height="{spot.high:.1f}" rx="5" '
        f'fill="{inks.panel}" stroke="{edge}" stroke-width="{2.5 if chosen else 1.2}"/>'
    ]
    told = volts(bank.volts) if bank.volts is not None else ""
    if bank.kind in ("meeting", "missing"):
        words = f"{bank.name}  {told}".strip()
        below = spot.y + spot.high + 14
        shapes.append(_text(spot.x + spot.wide / 2, below, words, 10.5, edge if bad else inks.ink, "middle"))
        return shapes
    about = "nothing feeds it yet" if unfed else bank.about
    shapes += [
        _text(spot.x + 9, spot.y + 19, _fits(bank.name, 18), 12, inks.ink),
        _text(spot.x + spot.wide - 9, spot.y + 19, told, 11.5, inks.ink, "end"),
        _text(spot.x + 9, spot.y + 33, _fits(about, 32), 10, inks.danger if unfed else inks.faint),
    ]
    if bank.allowed_a is not None:
        shapes += _load(bank, spot, inks)
    if bank.on_mains:
        shapes += _mains(spot, inks)
    return shapes


def _load(bank: Bank, spot: Spot, inks: Inks) -> list[str]:
    """How much a source gives of what it may."""
    assert bank.allowed_a is not None
    wide, share = spot.wide - 18, min(1.0, bank.given_a / bank.allowed_a)
    over = bank.given_a > bank.allowed_a
    colour, y = inks.danger if over else inks.flow, spot.y + spot.high - 7
    told = f"{amps(bank.given_a)} of {amps(bank.allowed_a)}"
    told += f", {amps(bank.idle_a)} idle" if bank.idle_a else ""
    fuses = [row.fuse_a for row in bank.rows if row.fuse_a is not None]
    told += f", fuse {fuses[0]:g} A" if fuses else ""
    return [
        f'<rect x="{spot.x + 9:.1f}" y="{y:.1f}" width="{wide:.1f}" height="4" fill="{inks.bank}"/>',
        f'<rect x="{spot.x + 9:.1f}" y="{y:.1f}" width="{wide * share:.1f}" height="4" fill="{colour}"/>',
        _text(spot.x, spot.y + spot.high + 12, told, 10, inks.danger if over else inks.faint),
    ]


def _mains(spot: Spot, inks: Inks) -> list[str]:
    """The mains side, which is told and no more."""
    left, y = spot.x - STUB + 8, spot.y + spot.high / 2
    return [
        f'<path d="M{left} {y - 5:.1f} H{spot.x}" stroke="{inks.ink}" stroke-width="2"/>',
        f'<path d="M{left} {y + 5:.1f} H{spot.x}" stroke="{inks.ink}" stroke-width="2" stroke-dasharray="7 4"/>',
        _text(left, y - 12, "mains", 10.5, inks.faint),
        _text(left, y + 20, "by a licensed", 9, inks.danger),
        _text(left, y + 31, "person, to", 9, inks.danger),
        _text(left, y + 42, "local code", 9, inks.danger),
    ]


def _zero(laid: Laid, inks: Inks) -> list[str]:
    if not laid.river.banks:
        return []
    y = laid.high - 22
    told = "0 V: all returns meet here; contacts of relays on the mains and the mains side are not part of it"
    return [
        f'<path d="M{EDGE} {y:.0f} H{laid.wide - EDGE:.0f}" stroke="{inks.ink}" stroke-width="3"/>',
        _text(EDGE, y - 8, told, 10.5, inks.faint),
    ]


def _text(x: float, y: float, words: str, size: float, ink: str, anchor: str = "start") -> str:
    return (
        f'<text x="{x:.1f}" y="{y:.1f}" font-size="{size}" text-anchor="{anchor}" fill="{ink}">{escape(words)}</text>'
    )


def _fits(words: str, most: int) -> str:
    return words if len(words) <= most else f"{words[: most - 1]}…"
