"""A schematic: the ways of the current through some of a build's lamps, chips and boards, side by side."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field, replace

from tiny_lantern.circuit.paths import LAMP, Path, Sign
from tiny_lantern.model.build import Build
from tiny_lantern.model.quantities import volts
from tiny_lantern.sheets.signs import BOXED, DRAWN, FAINT, FONT, HALF, INK, Pen

TOP, EDGE, RIGHT, LEFT = 20.0, 8.0, 128.0, 44.0
BOX, LINE, GAP, WIRE = 100.0, 13.0, 13.0, 27.0
FLAG, LEG_WORDS, STEER, COIL = 84.0, 190.0, 27.0, 70.0
MOST, MOST_BETWEEN, NEARLY, ROUNDS = 40, 12, 1e-6, 4


@dataclass(frozen=True)
class Placed:
    """A sign and where its middle lies, with half of its height."""

    sign: Sign
    y: float
    half: float


@dataclass
class Column:
    """A way on the sheet: its place across, its signs down, and where it joins what stands before it: the column and
    the height there, of its upper end and its lower one."""

    path: Path
    x: float = 0.0
    left: float = LEFT
    signs: list[Sign] = field(default_factory=list)
    placed: list[Placed] = field(default_factory=list)
    joins_above: tuple[Column, str] | None = None
    joins_below: tuple[Column, str] | None = None

    def height_of(self, node: str) -> float | None:
        """Where a node lies on it, None where it does not."""
        for each in self.placed:
            if each.sign.above == node:
                return each.y - each.half - GAP / 2
        return next((each.y + each.half + GAP / 2 for each in self.placed if each.sign.below == node), None)


def of_output(paths: Iterable[Path], driver_id: str, output: int) -> list[Path]:
    """The ways of the lamps on one output.

    Args:
        paths: every way of a build.
        driver_id: the driver.
        output: the number of its output. [-]
    """
    return [path for path in paths if path.output == (driver_id, output)]


def schematic_svg(paths: Sequence[Path], ink: str = INK, faint: str = FAINT, wires: bool = True) -> str:
    """A schematic as a drawing; an empty sheet of no ways at all.

    Args:
        paths: what is drawn.
        ink: colour of lines and words.
        faint: colour of what is said less loudly.
        wires: whether each wire says how thick and how long it is, and what it loses, and what steers is drawn; else
            what steers is told in words, in little room.
    """
    columns, left_out, wide = laid_out(paths, wires)
    pen = Pen(ink, faint)
    shapes = [shape for column in columns for shape in _drawn(pen, column, wires)]
    shapes += _boxes(pen, columns)
    shapes += _joined(pen, columns)
    high = max((each.y + each.half for column in columns for each in column.placed), default=0.0) + 2 * EDGE
    if left_out:
        high += LINE
        shapes.append(pen.text(EDGE, high - EDGE, f"and {left_out} more alike", loud=False))
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {wide:g} {high:g}" width="{wide:g}" height="{high:g}" '
        f'font-family="{FONT}">{"".join(shapes)}</svg>'
    )


def laid_out(paths: Sequence[Path], wires: bool = True) -> tuple[list[Column], int, float]:
    """Where every way lies: the columns from the left, how many ways are left out, and how wide the sheet is.

    Args:
        paths: what is drawn.
        wires: see ``schematic_svg``.
    """
    columns, left_out = _columns(paths if wires else [_without_sides(path) for path in paths])
    for column in columns:
        _set_down(column, wires)
    for _ in range(ROUNDS * len(columns)):
        if not (_make_room(columns) or _lower(columns)):
            break
    _align(columns)
    return columns, left_out, _set_across(columns)


def _columns(paths: Sequence[Path]) -> tuple[list[Column], int]:
    """Each way cut where it meets one that stands before it; those left out that would only lie between two others."""
    columns: list[Column] = []
    at: dict[str, Column] = {}
    rails = {node for path in paths for sign in path.signs if sign.shape in ("rail", "zero")
             for node in (sign.above, sign.below)}  # fmt: skip
    zeros = {sign.above for path in paths for sign in path.signs if sign.shape == "zero"}
    between = 0
    for path in _by_their_tops(paths):
        column = Column(path, signs=list(path.signs))
        _cut_above(column, {node: other for node, other in at.items() if node not in zeros})
        _cut_below(column, at)
        _turn(column)
        joins = [join for join in (column.joins_above, column.joins_below) if join is not None]
        lies_between = len(joins) > 1 and not rails & {node for _, node in joins}
        between += lies_between
        apart = lies_between and joins[0][0] is not joins[1][0]
        crossing = apart and any(other.path.output != path.output for other, _ in joins)
        if len(columns) >= MOST or crossing or (between > MOST_BETWEEN and lies_between):
            continue
        columns.append(column)
        for sign in column.signs:
            for node in (sign.above, sign.below):
                at.setdefault(node, column)
        at.pop("", None)
    return columns, len(paths) - len(columns)


def _without_sides(path: Path) -> Path:
    """The same way with what steers its signs in words."""
    signs = (
        replace(sign, words=(*sign.words, *map(_in_words, sign.side)), side=((),) if sign.side else ())
        for sign in path.signs
    )
    return replace(path, signs=tuple(signs))


def _in_words(branch: Sequence[Sign]) -> str:
    return ", ".join(sign.words[1] if sign.shape == "flag" and sign.words[1:] else sign.words[0] for sign in branch)


def _by_their_tops(paths: Sequence[Path]) -> list[Path]:
    """Those that begin at one place side by side, so that no line across lies on another's."""
    first: dict[str, int] = {}
    for path in paths:
        first.setdefault(path.signs[0].below, len(first))
    return sorted(paths, key=lambda path: first[path.signs[0].below])


def _middle(column: Column) -> int:
    """The number of the sign that the way is of."""
    own = (number for number, sign in enumerate(column.signs) if sign.owner == column.path.key)
    return next(own, len(column.signs) - 1)


def _cut_above(column: Column, at: dict[str, Column]) -> None:
    for number in range(_middle(column), 0, -1):
        node = column.signs[number].above
        if node in at:
            column.joins_above = at[node], node
            column.signs = column.signs[number:]
            return


def _cut_below(column: Column, at: dict[str, Column]) -> None:
    for number in range(_middle(column), len(column.signs) - 1):
        node = column.signs[number].below
        if node in at:
            column.joins_below = at[node], node
            column.signs = column.signs[: number + 1]
            return


def _turn(column: Column) -> None:
    """A way whose upper end joins another below where its lower end does runs upward there."""
    above, below = column.joins_above, column.joins_below
    if above is None or below is None or above[0] is not below[0]:
        return
    nodes = [node for sign in above[0].signs for node in (sign.above, sign.below)]
    if nodes.index(above[1]) > nodes.index(below[1]):
        column.signs = [sign.upside_down for sign in reversed(column.signs)]
        column.joins_above, column.joins_below = below, above


def _box_high(sign: Sign) -> float:
    return LINE * max(len(sign.words), len(sign.legs)) + 8


def _half(sign: Sign, wires: bool) -> float:
    if sign.shape in BOXED:
        return _box_high(sign) / 2
    if sign.shape == "wire":
        return WIRE / 2 - GAP / 2 if wires and sign.words else -GAP / 2
    return max(HALF[sign.shape], LINE * len(sign.words) / 2 - 2, STEER / 2 * len(sign.side))


def _set_down(column: Column, wires: bool) -> None:
    """Signs one below the other, from the top or from where the way joins another."""
    y = TOP
    if column.joins_above is not None:
        other, node = column.joins_above
        y = (other.height_of(node) or TOP) + GAP / 2
    for number, sign in enumerate(column.signs):
        half = 0.0 if sign.shape in ("rail", "zero", "open") else _half(sign, wires)
        y += half + (GAP if number or column.joins_above is not None else 0.0)
        column.placed.append(Placed(sign, y, half))
        y += half


def _lower(columns: Sequence[Column]) -> bool:
    """Ways that join another above lie below that; gives whether any was moved."""
    moved = False
    for column in columns:
        if column.joins_above is not None and column.placed:
            other, node = column.joins_above
            first = column.placed[0]
            lower = (other.height_of(node) or 0.0) + GAP / 2 - (first.y - first.half)
            if lower > NEARLY:
                column.placed = [Placed(each.sign, each.y + lower, each.half) for each in column.placed]
                moved = True
    return moved


def _make_room(columns: Sequence[Column]) -> bool:
    """What lies below a node moves down until all ways that join there end above it; gives whether any was moved."""
    moved_any = False
    for column in reversed(columns):
        if column.joins_below is None or not column.placed:
            continue
        other, node = column.joins_below
        y, last = other.height_of(node), column.placed[-1]
        lower = last.y + last.half + GAP - (y if y is not None else float("inf"))
        if lower > NEARLY:
            moved_any = True
            first = 1 + next(number for number, each in enumerate(other.placed) if each.sign.below == node)
            moved = (Placed(each.sign, each.y + lower, each.half) for each in other.placed[first:])
            other.placed[first:] = moved
    return moved_any


def _align(columns: Sequence[Column]) -> None:
    """What the ways end at below lies on one level."""
    ending = [column for column in columns if column.joins_below is None and column.placed]
    lowest = max((column.placed[-1].y - column.placed[-1].half for column in ending), default=0.0)
    for column in ending:
        last = column.placed[-1]
        column.placed[-1] = Placed(last.sign, lowest + last.half, last.half)


def _set_across(columns: Sequence[Column]) -> float:
    """Columns one beside the other; gives how wide the sheet is."""
    x = EDGE
    for column in columns:
        column.left = max([LEFT, *(_left_of(each.sign) for each in column.placed)])
        column.x = x + column.left
        x = column.x + RIGHT
    return max(x, 2 * EDGE + RIGHT)


def _left_of(sign: Sign) -> float:
    if sign.legs:
        return BOX / 2 + LEG_WORDS
    if sign.shape in BOXED:
        return BOX / 2 + max((_branch_wide(branch) for branch in sign.side), default=0.0)
    return max((22 + _branch_wide(branch) for branch in sign.side), default=0.0)


def _branch_wide(branch: Sequence[Sign]) -> float:
    wide = {"flag": FLAG + 10, "coil": COIL} | dict.fromkeys(BOXED, FLAG + 10)
    return sum(wide.get(each.shape, 44.0) for each in branch)


def _drawn(pen: Pen, column: Column, wires: bool) -> Iterator[str]:
    x = column.x
    before: Placed | None = None
    for number, each in enumerate(column.placed):
        sign = each.sign
        if sign.shape == "wire":
            if wires and sign.words:
                yield from _words(pen, x + 8, each.y, sign.words, 9.5, loud=False)
            continue
        ends = number == 0 or number == len(column.placed) - 1
        yield from _sign(pen, x, each, whole=bool(sign.legs) or not ends)
        if before is not None:
            yield pen.line(x, before.y + _reach(before), x, each.y - _reach(each))
        at_v = _volts_below(column.placed[number:])
        if at_v is not None:
            yield pen.text(x - 5, each.y + each.half + 10, volts(at_v), 9.5, "end", loud=False)
        before = each


def _reach(placed: Placed) -> float:
    """How far a sign itself reaches from its middle, without its words."""
    return placed.half if placed.sign.shape in BOXED else float(HALF[placed.sign.shape])


def _volts_below(placed: Sequence[Placed]) -> float | None:
    """The volts just below a sign, none below the last one."""
    if len(placed) < 2 or placed[-1].sign is placed[0].sign:
        return None
    told = (each.sign.below_v for each in placed[:2] if each.sign.below_v is not None)
    return next(told, None)


def _sign(pen: Pen, x: float, each: Placed, whole: bool) -> Iterator[str]:
    sign, y = each.sign, each.y
    if sign.shape in BOXED:
        yield from _box(pen, x, each, whole)
    else:
        yield from DRAWN[sign.shape](pen, x, y, sign.colour)
        if sign.shape == "rail":
            yield pen.text(x - 16, y - 6, _short(sign.words[0], 26))
        elif sign.shape != "zero":
            yield from _words(pen, x + 22, y, sign.words)
    if sign.side and sign.shape == "contact":
        yield pen.line(x - 22, y, x + 3, y, 1.2, "3 3")
    for number, branch in enumerate(sorted(sign.side, key=_branch_wide, reverse=True)):
        yield from _branch(pen, x - (BOX / 2 if sign.shape in BOXED else 22), y, branch, number)


def _boxes(pen: Pen, columns: Sequence[Column]) -> Iterator[str]:
    """The boxes: one for all legs of a chip or pins of a board that lie side by side."""
    for last in (False, True):
        standing: list[tuple[Column, Placed]] = []
        for column in columns:
            each = column.placed[-1 if last else 0] if column.placed else None
            ends = each is not None and each.sign.shape in BOXED and not each.sign.legs
            if each is not None and ends and (not last or len(column.placed) > 1):
                if standing and not _one_box(standing[-1], (column, each)):
                    yield from _around(pen, standing)
                    standing = []
                standing.append((column, each))
            elif standing:
                yield from _around(pen, standing)
                standing = []
        if standing:
            yield from _around(pen, standing)


def _one_box(one: tuple[Column, Placed], other: tuple[Column, Placed]) -> bool:
    """Whether two ways end in one box."""
    same = one[1].sign.owner == other[1].sign.owner and one[1].y == other[1].y
    return same and not other[1].sign.side


def _around(pen: Pen, standing: Sequence[tuple[Column, Placed]]) -> Iterator[str]:
    """One box around what ends in it, its name once."""
    (first, each), (last, _) = standing[0], standing[-1]
    top = each.y - each.half
    yield pen.box(first.x - BOX / 2, top, last.x - first.x + BOX, 2 * each.half)
    yield pen.text((first.x + last.x) / 2, top + 15, _short(each.sign.words[0], 19), 11, "middle")


def _box(pen: Pen, x: float, each: Placed, whole: bool) -> Iterator[str]:
    """What stands in a box, and the box itself and its name where it is a ``whole`` one; the legs of a chip or a board
    to its left."""
    sign, high = each.sign, 2 * each.half
    top = each.y - each.half
    if whole:
        yield pen.box(x - BOX / 2, top, BOX, high)
    for number, word in enumerate(sign.words):
        if number or whole:
            yield pen.text(x, top + 15 + LINE * number, _short(word, 19), 10.5 if number else 11, "middle", not number)
    for number, leg in enumerate(sign.legs):
        y = top + 11 + LINE * number
        yield pen.line(x - BOX / 2 - 8, y, x - BOX / 2, y, 1.2)
        yield pen.text(x - BOX / 2 - 11, y + 3.5, _short(leg, 38), 9.5, "end")


def _branch(pen: Pen, x: float, y: float, branch: Sequence[Sign], number: int) -> Iterator[str]:
    """What steers a sign, outward to the left; further ones lie below the first."""
    at = y + STEER * number
    if not branch:
        yield pen.line(x - 12, y, x, y)
    if number:
        yield pen.line(x - 4, y, x - 4, at)
        yield f'<circle cx="{x - 4:g}" cy="{y:g}" r="2.2" fill="{pen.ink}"/>'
        yield pen.line(x - 4, at, x - 8, at)
    x -= 8 if number else 0
    for sign in branch:
        if sign.shape in ("flag", *BOXED):
            yield pen.line(x, at, x - 10, at)
            high = LINE * len(sign.words[:2]) + 3
            yield pen.box(x - 10 - FLAG, at - high / 2, FLAG, high, high / 4)
            for line, word in enumerate(_two(sign.words)):
                foot = at - high / 2 + 11.5 + LINE * line
                yield pen.text(x - 10 - FLAG / 2, foot, _short(word, 17), 9.5, "middle", line == 0)
            x -= FLAG + 10
        elif sign.shape == "coil":
            yield pen.line(x, at, x - COIL / 2 + 14, at, 1.2, "3 3")
            yield from DRAWN["coil"](pen, x - COIL / 2, at, "")
            yield pen.line(x - COIL / 2 - 14, at, x - COIL, at)
            for line, word in enumerate((*sign.words[0].split(", "), *sign.words[1:])):
                yield pen.text(x - COIL / 2, at + 19 + 11 * line, word, 9.5, "middle")
            x -= COIL
        else:
            yield pen.line(x, at, x - 8, at)
            yield pen.box(x - 36, at - 5.5, 28, 11, 0)
            yield pen.line(x - 36, at, x - 44, at)
            yield pen.text(x - 22, at - 8, sign.words[0], 9.5, "middle")
            x -= 44


def _two(words: Sequence[str]) -> tuple[str, ...]:
    """At most two lines, the second of them the last two words together."""
    return (words[0], ", ".join(words[1:])) if len(words) > 1 else tuple(words)


def _words(pen: Pen, x: float, y: float, words: Sequence[str], size: float = 10.5, loud: bool = True) -> Iterator[str]:
    first = y + 4 - LINE / 2 * (len(words) - 1)
    for number, word in enumerate(words):
        yield pen.text(x, first + LINE * number, _short(word, 25), size, loud=loud and number == 0)


def _short(words: str, most: int) -> str:
    return words if len(words) <= most else f"{words[: most - 1]}…"


def _joined(pen: Pen, columns: Sequence[Column]) -> Iterator[str]:
    """Where ways meet others: a line across and a dot."""
    for column in columns:
        if column.joins_above is not None and column.placed:
            other, node = column.joins_above
            y = other.height_of(node)
            if y is not None:
                first = next((each for each in column.placed if each.sign.shape != "wire"), column.placed[-1])
                yield pen.line(column.x, y, column.x, first.y - _reach(first))
                yield from _across(pen, column.x, other.x, y)
        if column.joins_below is not None and column.placed:
            other, node = column.joins_below
            y = other.height_of(node)
            if y is not None:
                yield from _down_to(pen, column, other, y)


def _down_to(pen: Pen, column: Column, other: Column, y: float) -> Iterator[str]:
    """From the foot of a way to the height where it joins another."""
    last = next((each for each in reversed(column.placed) if each.sign.shape != "wire"), column.placed[-1])
    yield pen.line(column.x, last.y + _reach(last), column.x, y)
    yield from _across(pen, column.x, other.x, y)


def _across(pen: Pen, x: float, other_x: float, y: float) -> Iterator[str]:
    yield pen.line(x, y, other_x, y)
    yield f'<circle cx="{other_x:g}" cy="{y:g}" r="2.6" fill="{pen.ink}"/>'


@dataclass(frozen=True)
class Subject:
    """What a schematic can be of: its key among the terminals of a build, and its name."""

    key: str
    name: str


def subjects(build: Build, paths: Sequence[Path]) -> list[Subject]:
    """Everything that a schematic can be of beside a single lamp: all lamps of a driver, a chip, a board, a rail, a
    supply.

    Args:
        build: the build.
        paths: its ways.
    """
    driven = {path.output[0] for path in paths if path.output}
    drivers = [Subject(each.id, f"{each.name}, {each.lamps_at()}") for each in build.drivers if each.id in driven]
    rest = (path for path in paths if path.output is None and not path.key.startswith(LAMP))
    others = [Subject(path.key, path.name) for path in rest if not path.key.endswith(" return")]
    touched = {key for path in paths for key in path.touches}
    supplies = [Subject(each.id, each.name) for each in build.supplies if each.id in touched]
    return [*drivers, *others, *supplies]


def of_subject(paths: Sequence[Path], key: str) -> list[Path]:
    """The ways that belong to a subject: of a driver those of its lamps and of its chips, of a supply those on its
    rails, of others those that touch it.

    Args:
        paths: every way of a build.
        key: the subject's.
    """
    own = [path for path in paths if path.output and path.output[0] == key]
    if own:
        chips = [path for path in paths if path.key.startswith(f"{key} ")]
        return [*own, *chips]
    rails = {path.key for path in paths if key in path.touches and path.signs[-1].shape == "rail"}
    return [path for path in paths if key in path.touches or rails & path.touches]
