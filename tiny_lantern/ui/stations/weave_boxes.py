"""The effects as boxes on the weave: where each lies, which is under the pointer, and what is drawn of very many."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRect, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPixmap

from tiny_lantern.model.base import same_members
from tiny_lantern.model.build import Build
from tiny_lantern.model.effects import Effect
from tiny_lantern.model.layout import one_of_each
from tiny_lantern.ui import theme
from tiny_lantern.ui.stations.time_axis import TimeAxis
from tiny_lantern.ui.stations.weave_axis import WeaveAxis

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
NAME_SIZE = 8.5
TAB = 18.0
TAB_HIGH = 17
NAME_ROOM = 30.0
LEAST_SEEN = 1.5
ASIDE = -1000.0


@dataclass(frozen=True, eq=False)
class Boxes:
    """Edges of every effect's box in the widget, (n_effects,) each, where the view lies on Line and show, and how far
    apart a metre and a second are. [screen pixels]"""

    left: Floats
    top: Floats
    right: Floats
    bottom: Floats
    origin: QPointF
    scale: tuple[float, float]

    def one(self, number: int) -> QRectF:
        """One of them."""
        left, top = float(self.left[number]), float(self.top[number])
        return QRectF(left, top, float(self.right[number]) - left, float(self.bottom[number]) - top)

    def at(self, point: QPointF, reach: float) -> int | None:
        """The topmost one at a point or within reach of it."""
        x, y = point.toTuple()
        inside = (self.left - reach <= x) & (x <= self.right + reach) & (self.top - reach <= y)
        found = np.flatnonzero(inside & (y <= self.bottom + reach))
        return int(found[-1]) if len(found) else None


class WeaveBoxes:
    """Knows where the effects of a build lie; worked out for all of them at once, and kept."""

    def __init__(self, axis: WeaveAxis, time: TimeAxis) -> None:
        self._axis, self._time = axis, time
        self._effects: tuple[Effect, ...] | None = None
        self._view: tuple[object, ...] = ()
        none = np.zeros(0)
        self._boxes = Boxes(none, none, none, none, QPointF(), (1.0, 1.0))
        self._covered: tuple[tuple[Effect, ...], object, Ints] = ((), None, np.zeros((0, 2), np.int64))
        self._times_of: tuple[Effect, ...] | None = None
        self._times = np.zeros((2, 0))

    def of(self, build: Build, width: float, height: float) -> Boxes:
        """The boxes of a build's effects on an axis of a width and a height. [screen pixels]"""
        axis, time = self._axis, self._time
        view = (axis.group_id, axis.left_m, axis.right_m, time.top_s, time.bottom_s, width, height, build.line.wired)
        if view != self._view or not same_members(build.effects, self._effects):
            self._view, self._effects = view, build.effects
            self._boxes = self._laid(build, width, height)
        return self._boxes

    def _laid(self, build: Build, width: float, height: float) -> Boxes:
        left, right = self._across(build, width)
        if build.effects is not self._times_of:
            start = np.array([effect.start_s for effect in build.effects])
            self._times = np.stack([start, start + [effect.length_s for effect in build.effects]])
            self._times_of = build.effects
        top, bottom = self._times - self._time.top_s
        down = height / (self._time.bottom_s - self._time.top_s)
        across = width / (self._axis.right_m - self._axis.left_m)
        origin = QPointF(self._axis.left_m * across, self._time.top_s * down)
        return Boxes(left, top * down, right, bottom * down, origin, (across, down))

    def _across(self, build: Build, width: float) -> tuple[Floats, Floats]:
        """Left and right edge of each effect; while a group is shown, those that follow it are as wide as it is, and
        the others are not in view."""
        if self._axis.group_id is not None:
            follows = np.array([effect.group_id == self._axis.group_id for effect in build.effects], bool)
            return np.where(follows, theme.GUTTER, ASIDE), np.where(follows, theme.GUTTER + width, ASIDE)
        effects, wired, covers = self._covered
        if wired != build.line.wired or not same_members(build.effects, effects):
            covers = build.line.all_covered(build.effects)
            self._covered = build.effects, build.line.wired, covers
        edges = self._axis.edges_of_spans(covers[:, 0], covers[:, 1] - 1)
        left, right = (theme.GUTTER + np.asarray(self._axis.to_screen(edge, width)) for edge in edges)
        return left, right


def draw_boxes(
    painter: QPainter, effects: tuple[Effect, ...], boxes: Boxes, chosen_ids: tuple[str, ...], area: QRectF
) -> None:
    """Draw the boxes in an area of an empty picture, the chosen ones last; of names in one place only the topmost
    effect's."""
    wide, high = boxes.right - boxes.left, boxes.bottom - boxes.top
    seen = (boxes.right >= area.left()) & (boxes.left <= area.right())
    seen &= (boxes.bottom >= area.top()) & (boxes.top <= area.bottom()) & (np.maximum(wide, high) >= LEAST_SEEN)
    wanted = set(chosen_ids)
    chosen = [number for number, effect in enumerate(effects) if effect.id in wanted] if wanted else []
    seen[chosen] = False
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(theme.with_alpha("#c9d0d6", 110), 1))
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)  # straight lines on whole pixels, much quicker
    painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Source)  # as is putting them over nothing
    edges = np.round(np.stack([boxes.left, boxes.top, boxes.right, boxes.bottom], axis=1)[seen]).astype(int).tolist()
    painter.drawRects([QRect(left, top, max(0, right - left - 1), max(0, bottom - top - 1))
                       for left, top, right, bottom in edges])  # fmt: skip
    painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceOver)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    roomy = np.flatnonzero(seen & (high > TAB) & (wide > NAME_ROOM))[::-1]
    corners = np.stack([boxes.left[roomy], np.maximum(boxes.top[roomy], 0.0)], axis=1)
    alone = one_of_each(corners + boxes.origin.toTuple(), TAB)
    high_up = corners[alone, 1]
    there = (high_up + TAB_HIGH >= area.top()) & (high_up <= area.bottom())
    for number in roomy[alone][there][::-1].tolist():
        draw_name(painter, effects[number], boxes.one(number), chosen=False)
    for number in chosen:
        painter.setPen(QPen(QColor(theme.AMBER), 2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(boxes.one(number).adjusted(0.5, 0.5, -0.5, -0.5))
        draw_name(painter, effects[number], boxes.one(number), chosen=True)


def draw_name(painter: QPainter, effect: Effect, box: QRectF, chosen: bool) -> None:
    """The tab with an effect's name, where there is room for it."""
    if box.height() <= TAB:
        return
    text = effect.look.word if effect.layer == "replace" else f"{effect.look.word} · {effect.layer}"
    width = theme.text_width(text, NAME_SIZE) + 12
    if box.width() > width:
        at = QPointF(round(box.left()), round(max(box.top(), 0.0)))
        painter.drawPixmap(at, _tab(text, math.ceil(width), chosen, painter.device().devicePixelRatioF()))


@lru_cache(maxsize=256)
def _tab(text: str, width: int, chosen: bool, scale: float) -> QPixmap:
    """A name's tab as a picture: many effects have the same one."""
    picture = QPixmap(round(width * scale), round(TAB_HIGH * scale))
    picture.setDevicePixelRatio(scale)
    picture.fill(QColor("#a3620c") if chosen else theme.with_alpha("#2a333f", 225))
    painter = QPainter(picture)
    painter.setFont(theme.font(NAME_SIZE))
    painter.setPen(QColor("#ffffff"))
    painter.drawText(QRectF(0, 0, width, TAB_HIGH), Qt.AlignmentFlag.AlignCenter, text)
    painter.end()
    return picture
