"""Where things stand in Drive: bars under their lamps, boxes under their brackets, pins on the board, tails between."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF

from tiny_lantern.electrical.driven.contract import ChannelResult
from tiny_lantern.electrical.driven.solution import DriveSolution
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Board
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.pin_needs import pins_of
from tiny_lantern.model.steering import steered_by
from tiny_lantern.ui import theme
from tiny_lantern.ui.axis import LineAxis

Floats = NDArray[np.float64]
CHART_SHARE, CHART_TOP = 0.42, 26.0
BRACKET, BOX_HEIGHT, BOARD_HEIGHT = 22.0, 62.0, 78.0
BOX_LEAST, BOX_GAP = 82.0, 5.0
BAR_SHARE, BAR_MOST, BAR_LEAST = 0.78, 18.0, 1.0
PIN_LEAST, PIN_MOST = 17.0, 30.0
USUAL, NEAR = 0.9, 2.5
STEPS_A = (0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1.0)


@dataclass(frozen=True)
class Bar:
    """One channel's bar: which it is, where it stands, how wide it is, its current and its limits. [A]"""

    channel_id: str
    driver_id: str
    middle: float
    width: float
    on_a: float
    most_a: float
    absolute_a: float


@dataclass(frozen=True)
class DriverBox:
    """A driver below its bracket: from where to where its lamps lie, and its box."""

    driver_id: str
    left: float
    right: float
    box: QRectF


@dataclass(frozen=True)
class PinSpot:
    """A pin of the board: which it is, where, and what uses it."""

    name: str
    box: QRectF
    driver_id: str
    role: str
    reserved: str


@dataclass(frozen=True)
class DriveLayout:
    """All of it, in the canvas's own coordinates."""

    chart: QRectF
    most_a: float
    bars: tuple[Bar, ...]
    boxes: tuple[DriverBox, ...]
    board: QRectF
    board_id: str
    pins: tuple[PinSpot, ...]
    bars_of: dict[str, list[Bar]]
    controlled: tuple[tuple[str, str], ...] = ()

    def steps(self) -> list[float]:
        """The currents at which lines are drawn. [A]"""
        step = next((step for step in STEPS_A if self.most_a / step <= 6.01), self.most_a / 5)
        return [step * number for number in range(int(self.most_a / step + 1e-6) + 1)]

    def y_of(self, current_a: float) -> float:
        """Where a current stands in the chart."""
        return self.chart.bottom() - current_a / self.most_a * self.chart.height()

    def current_at(self, y: float) -> float:
        """The current at a height of the chart. [A]"""
        return max(0.0, (self.chart.bottom() - y) / self.chart.height() * self.most_a)

    def controls(self) -> list[tuple[QPointF, QPointF, str]]:
        """From the box of each chain to those that it controls: where it leaves, where it ends, and which that is."""
        boxes = {each.driver_id: each.box for each in self.boxes}
        return [
            (_foot(boxes[chain], 0.8), _foot(boxes[driver], 0.2), driver)
            for chain, driver in self.controlled
            if chain in boxes and driver in boxes
        ]

    def tails(self) -> list[tuple[QPointF, QPointF, PinSpot]]:
        """From each box to each of its pins: where it leaves, where it ends, and the pin."""
        boxes = {each.driver_id: each.box for each in self.boxes}
        found = []
        for driver_id, box in boxes.items():
            own = [pin for pin in self.pins if pin.driver_id == driver_id]
            for number, pin in enumerate(own):
                share = (number + 1) / (len(own) + 1)
                start = QPointF(box.left() + share * box.width(), box.bottom())
                found.append((start, QPointF(pin.box.center().x(), pin.box.top()), pin))
        return found


def _foot(box: QRectF, share: float) -> QPointF:
    """A place on the lower edge of a box."""
    return QPointF(box.left() + share * box.width(), box.bottom())


class KeptBars:
    """The bars of each driver, worked out again only where its result or the view has changed."""

    def __init__(self) -> None:
        self._kept: dict[str, tuple[tuple[object, ...], tuple[Floats, ...], list[Bar]]] = {}

    def of(self, build: Build, result: ChannelResult, axis: LineAxis, chart: QRectF) -> list[Bar]:
        """The bars of a driver."""
        shown = tuple((channel.id, channel.slots) for channel in result.case.channels)
        view = (chart.left(), chart.right(), axis.left_m, axis.right_m, build.line.wired, shown)
        known = self._kept.get(result.case.driver.id)
        figures = (result.on_a, result.most_a, result.absolute_a)
        if known is None or known[0] != view or not all(map(np.array_equal, known[1], figures)):
            known = self._kept[result.case.driver.id] = (view, figures, _bars(build, result, axis, chart))
        return known[2]


def layout_of(
    build: Build, solution: DriveSolution, axis: LineAxis, width: float, height: float, board: Board | None,
    kept: KeptBars,
) -> DriveLayout:  # fmt: skip
    """Lay everything out for a canvas of a size.

    Args:
        build: the build.
        solution: its drivers, solved.
        axis: the Line's axis.
        width: of the canvas. [screen pixels]
        height: of the canvas. [screen pixels]
        board: the board that is shown below.
        kept: the bars of before.
    """
    chart = QRectF(theme.GUTTER, CHART_TOP, max(1.0, width - theme.GUTTER - 2), height * CHART_SHARE - CHART_TOP)
    bars_of = {
        driver_id: kept.of(build, result, axis, chart) for driver_id, result in solution.by_driver.items()
    }  # fmt: skip
    bars = tuple(bar for own in bars_of.values() for bar in own)
    most_a = _round_up(_usual_most(bars) * 1.12)
    top = chart.bottom() + BRACKET
    pins_rect = QRectF(theme.GUTTER, height - BOARD_HEIGHT, chart.width(), BOARD_HEIGHT)
    boxes = _boxes(build, bars_of, chart, top)
    pins = _pins(build, board, pins_rect) if board is not None else ()
    controlled = tuple((chain.id, each.id) for chain in build.drivers for each in steered_by(build, chain))
    return DriveLayout(chart, most_a, bars, boxes, pins_rect, board.id if board else "", pins, bars_of, controlled)


def _bars(build: Build, result: ChannelResult, axis: LineAxis, chart: QRectF) -> list[Bar]:
    """The bars of a driver: each under its lamp, the dies of one lamp side by side."""
    case = result.case
    if not case.channels:
        return []
    firsts = [build.line.slot_of(channel.slots[0]) for channel in case.channels]
    lasts = [first if len(channel.slots) == 1 else build.line.slot_of(channel.slots[-1])
             for first, channel in zip(firsts, case.channels, strict=True)]  # fmt: skip
    dies, seen = Counter(firsts), Counter[int]()
    places = (axis.slot_places[firsts] + axis.slot_places[lasts]) / 2
    middles = np.asarray(axis.to_screen(places, chart.width())) + chart.left()
    scale = chart.width() / (axis.right_m - axis.left_m)
    found = []
    for at, (channel, slot) in enumerate(zip(case.channels, firsts, strict=True)):
        number, seen[slot] = seen[slot], seen[slot] + 1
        room = case.lamps[at].piece.axis_pitch_m * scale * BAR_SHARE / dies[slot]
        width = min(max(room, BAR_LEAST), BAR_MOST)
        middle = float(middles[at]) + (number - (dies[slot] - 1) / 2) * min(room, BAR_MOST)
        found.append(
            Bar(channel.id, channel.driver_id, middle, width, float(result.on_a[at]), float(result.most_a[at]),
                float(result.absolute_a[at]))
        )  # fmt: skip
    return found


def _boxes(build: Build, bars_of: dict[str, list[Bar]], chart: QRectF, top: float) -> tuple[DriverBox, ...]:
    """Each driver's box under the middle of its lamps, pushed apart where they would lie on each other."""
    spans: list[tuple[float, float, str]] = []
    for driver in build.drivers:
        own = bars_of[driver.id] or [bar for each in steered_by(build, driver) for bar in bars_of[each.id]]
        if own:
            left = min(bar.middle - bar.width / 2 for bar in own)
            right = max(bar.middle + bar.width / 2 for bar in own)
            if right > chart.left() and left < chart.right():
                spans.append((max(left, chart.left()), min(right, chart.right()), driver.id))
    spans.sort()
    count = len(spans)
    if not count:
        return ()
    room = (chart.width() - BOX_GAP * (count - 1)) / count
    widths = [max(min(BOX_LEAST, room), min(right - left, room * 2.2)) for left, right, _ in spans]
    over = sum(widths) + BOX_GAP * (count - 1) - chart.width()
    if over > 0:
        least = min(BOX_LEAST, room)
        spare = sum(width - least for width in widths) or 1.0
        widths = [width - over * (width - least) / spare for width in widths]
    lefts = [(left + right) / 2 - width / 2 for (left, right, _), width in zip(spans, widths, strict=True)]
    edge = chart.left()
    for number in range(count):
        lefts[number] = edge = max(edge, lefts[number])
        edge += widths[number] + BOX_GAP
    edge = chart.right()
    for number in reversed(range(count)):
        lefts[number] = min(lefts[number], edge - widths[number])
        edge = lefts[number] - BOX_GAP
    return tuple(
        DriverBox(driver_id, left, right, QRectF(x, top, width, BOX_HEIGHT))
        for (left, right, driver_id), x, width in zip(spans, lefts, widths, strict=True)
    )


def _pins(build: Build, board: Board, area: QRectF) -> tuple[PinSpot, ...]:
    part = build.shelf.find(BoardPart, board.part_id)
    users = {pin.pin: key for key, pin in pins_of(build, board.id).items()}
    kept = {each.pin: each.what for each in board.reserved}
    rows = 1 if len(part.pins) * PIN_LEAST <= area.width() else 2
    each_row = -(-len(part.pins) // rows)
    step = min(PIN_MOST, (area.width() - 12) / each_row)
    start = area.left() + (area.width() - step * each_row) / 2
    spots = []
    for number, pin in enumerate(part.pins):
        row, column = divmod(number, each_row)
        box = QRectF(start + column * step + 1, area.top() + 7 + 21 * row, step - 2, 18)
        driver_id, role = users.get(pin.name, ("", ""))
        spots.append(PinSpot(pin.name, box, driver_id, role, kept.get(pin.name, "")))
    return tuple(spots)


def _usual_most(bars: tuple[Bar, ...]) -> float:
    """The current that a scale for most of the bars ends at: their limits count where they are near. [A]"""
    if not bars:
        return 0.02
    usual = float(np.quantile([bar.on_a for bar in bars], USUAL))
    limits = [bar.most_a for bar in bars if bar.most_a <= NEAR * usual]
    return max([usual, *limits])


def _round_up(current_a: float) -> float:
    """A current that ends a scale well. [A]"""
    for step in STEPS_A:
        if current_a <= step * 6:
            return step * -(-current_a // step)
    return current_a
