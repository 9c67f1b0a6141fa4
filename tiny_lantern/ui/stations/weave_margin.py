"""Beside the weave: time, and the current that the show draws, on the same axis."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, QSizeF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPixmap, QPolygonF
from PySide6.QtWidgets import QWidget

from tiny_lantern.electrical.network import supply_part
from tiny_lantern.electrical.supplies import allowed_share
from tiny_lantern.model.edits_music import empty_bars
from tiny_lantern.model.quantities import clock
from tiny_lantern.ui import theme
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.stations.time_axis import TimeAxis
from tiny_lantern.ui.widgets.layer import Layer

ROW = 2
LEFT, WIDTH = 2.0, theme.GUTTER - 10.0
LIMIT_SIZE, LIMIT_BELOW, LEAST_APART = 7.5, 15.0, 4.0
Floats = NDArray[np.float64]


class WeaveMargin:
    """Draws the margin; it stands still until the show's current, the supplies, the view or the size changes."""

    def __init__(self, session: Session, time: TimeAxis) -> None:
        self._session, self._time = session, time
        self._still = Layer()

    def picture(self, on: QWidget) -> QPixmap:
        """The margin, as high as the widget it will lie on."""
        build, height = self._session.build, on.height()
        allowed = sum(allowed_share(s) * supply_part(build, s.id).rated_a for s in build.supplies)

        def draw(painter: QPainter) -> None:
            self._outline(painter, height)
            self._current(painter, height, allowed)
            self._beats(painter, height)
            self._scale(painter, height, f"{allowed:.3g} A" if allowed and self._session.draw is not None else "")

        heard = (self._session.song.sound, build.music, build.effects)
        shows = (allowed, self._session.draw, self._time.top_s, self._time.bottom_s, *heard)
        return self._still.picture(on, QSizeF(theme.GUTTER, height), shows, draw)

    def drawn_a(self, time_s: float) -> float | None:
        """What the show draws at a time, where that is known. [A]"""
        draw = self._session.draw
        if draw is None or not len(draw.total_a):
            return None
        return float(draw.total_a[draw.timeline.on_show(time_s)])

    def _outline(self, painter: QPainter, height: int) -> None:
        """How loud the song is, on both sides of the margin's middle."""
        sound = self._session.song.sound
        if sound is None:
            return
        rows = np.arange(0, height + 1, ROW)
        times = np.array([self._time.to_time(float(y), height) for y in rows])
        starts = np.round(times * len(sound.outline) / sound.length_s).astype(np.int64)
        loud = row_peaks(sound.outline.astype(float), starts) * (times <= sound.length_s)
        painter.setPen(QPen(theme.with_alpha(theme.NIGHT_TEAL, 150), ROW))
        middle = theme.GUTTER / 2 - 3
        for y, share in zip(rows.tolist(), loud.tolist(), strict=True):
            reach = share * (theme.GUTTER / 2 - 6)
            painter.drawLine(QPointF(middle - reach, y), QPointF(middle + reach, y))

    def _beats(self, painter: QPainter, height: int) -> None:
        """The beats as short lines, the first of each bar longer; bars that are still empty are dotted."""
        build = self._session.build
        music = build.music
        apart = (music.marks_s[-1] - music.marks_s[0]) / max(1, len(music.marks_s) - 1) if music.marks_s else 1.0
        crowded = self._time.to_y(apart, height) - self._time.to_y(0.0, height) < LEAST_APART
        painter.setPen(QPen(QColor(theme.NIGHT_TEAL), 1))
        for number, time_s in enumerate(music.marks_s):
            begins = (number - music.first) % music.per_bar == 0 and number >= music.first
            if self._time.top_s <= time_s <= self._time.bottom_s and (begins or not crowded):
                y = self._time.to_y(time_s, height)
                painter.drawLine(QPointF(theme.GUTTER - (12 if begins else 5), y), QPointF(theme.GUTTER, y))
        painter.setPen(QPen(QColor(theme.NIGHT_TEAL), 2, Qt.PenStyle.DotLine))
        for bar in empty_bars(build) if music.marks_s else ():
            begin_s, end_s = music.bar_s(bar)
            if end_s > self._time.top_s and begin_s < self._time.bottom_s:
                top, bottom = (self._time.to_y(each, height) for each in (begin_s, end_s))
                painter.drawLine(QPointF(theme.GUTTER - 2, top + 1), QPointF(theme.GUTTER - 2, bottom - 1))

    def _scale(self, painter: QPainter, height: int, limit: str) -> None:
        painter.setFont(theme.font(8.5))
        step = self._time.step_s(height)
        number = int(self._time.top_s / step)
        while (time_s := number * step) <= self._time.bottom_s + 1e-9:
            y = self._time.to_y(time_s, height)
            painter.setPen(QColor("#4d5763"))
            painter.drawLine(QPointF(theme.GUTTER - 6, y), QPointF(theme.GUTTER, y))
            painter.setPen(QColor(theme.NIGHT_INK))
            text = clock(time_s) if step < 1 else clock(time_s)[:-2]
            top = min(max(y - 8, 0), height - 16)
            number += 1
            room = theme.GUTTER - 14 - theme.text_width(limit, LIMIT_SIZE) if top < LIMIT_BELOW else theme.GUTTER
            if theme.text_width(text, 8.5) > room:  # the supply's limit is written there
                continue
            painter.drawText(QRectF(2, top, theme.GUTTER - 10, 16), Qt.AlignmentFlag.AlignLeft, text)

    def _current(self, painter: QPainter, height: int, allowed: float) -> None:
        draw = self._session.draw
        if draw is None or not len(draw.total_a):
            return
        most = max(float(draw.total_a.max()), allowed, 1e-6) * 1.05
        rows = np.arange(0, height + 1, ROW)
        times = np.array([self._time.to_time(float(y), height) for y in rows])
        widths = LEFT + row_peaks(draw.total_a, draw.timeline.all_on_show(times)) / most * WIDTH
        outline = [QPointF(x, y) for x, y in zip(widths.tolist(), rows.tolist(), strict=True)]
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.with_alpha(theme.AMBER, 120))
        painter.drawPolygon(QPolygonF([QPointF(LEFT, 0), *outline, QPointF(LEFT, height)]))
        painter.setBrush(QColor(theme.AMBER))
        worst = QPointF(LEFT + float(draw.total_a.max()) / most * WIDTH, 0)
        worst.setY(self._time.to_y(draw.timeline.begins_s(draw.worst_tick), height))
        painter.drawEllipse(worst, 3, 3)
        if allowed:
            x = LEFT + allowed / most * WIDTH
            painter.setPen(QPen(QColor("#ff8d80"), 1, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(x, 0), QPointF(x, height))
            painter.setFont(theme.font(LIMIT_SIZE))
            flags = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop
            painter.drawText(QRectF(0, 1, theme.GUTTER - 8, LIMIT_BELOW - 1), flags, f"{allowed:.3g} A")


def row_peaks(values: Floats, starts: NDArray[np.int64]) -> Floats:
    """The largest value from each start up to before the next one, at least the value at the start itself.

    Args:
        values: what is looked at, (n_values,).
        starts: rising indices, (n_rows,); outside ones count as the nearest inside. [-]
    """
    inside = np.clip(starts, 0, len(values) - 1)
    return np.maximum.reduceat(values[: inside[-1] + 1], inside)
