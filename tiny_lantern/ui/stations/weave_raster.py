"""The weave as images, one a strip, for the part of Line and time in view."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PySide6.QtCore import QRectF
from PySide6.QtGui import QImage

from tiny_lantern.model.build import Build
from tiny_lantern.show.weave import render, tick_count
from tiny_lantern.ui.axis import LineAxis
from tiny_lantern.ui.colours import image_of, screen_table
from tiny_lantern.ui.stations.time_axis import TimeAxis

ROW_PX = 2
ROW_PX_DRAGGED = 4


@dataclass(frozen=True)
class Panel:
    """One strip's part of the weave and where it goes."""

    image: QImage
    box: QRectF


class WeaveRaster:
    """Renders what is in view, and keeps it until the view or the effects change."""

    def __init__(self, axis: LineAxis, time: TimeAxis) -> None:
        self._axis, self._time = axis, time
        self._key: tuple = ()
        self._panels: list[Panel] = []

    def panels(self, build: Build, width: float, height: float, dragged: bool = False) -> list[Panel]:
        """The images in view, laid out for a surface of a size; coarser in time while something is dragged."""
        row_px = ROW_PX_DRAGGED if dragged else ROW_PX
        view = (self._axis.left_m, self._axis.right_m, self._time.top_s, self._time.bottom_s, width, height, row_px)
        read = (build.effects, build.strips, build.tick_hz, build.show_s)
        if self._key == (view, read):
            return self._panels
        self._panels = self._draw(build, width, height, row_px)
        self._key = (view, read)
        return self._panels

    def _draw(self, build: Build, width: float, height: float, row_px: int) -> list[Panel]:
        rows = max(1, int(height / row_px))
        times = self._time.to_time((np.arange(rows) + 0.5) * height / rows, height)  # type: ignore[arg-type]
        ticks = np.clip((np.asarray(times) * build.tick_hz).astype(np.int64), 0, tick_count(build) - 1)
        columns = [self._columns(number, width) for number in range(len(self._axis.spans))]
        wanted = [slots for slots, _ in columns if len(slots)]
        if not wanted:
            return []
        shown = screen_table()[render(build, ticks, np.concatenate(wanted))]
        panels, first = [], 0
        for slots, box in columns:
            if len(slots):
                picture = shown[:, first : first + len(slots)]
                panels.append(Panel(image_of(picture), QRectF(box.left(), 0, box.width(), height)))
                first += len(slots)
        return panels

    def _columns(self, number: int, width: float) -> tuple[np.ndarray, QRectF]:
        """Slots of one strip that are in view, thinned to what the screen can show, and the width they fill."""
        span = self._axis.spans[number]
        start, pitch = self._axis.start_of(number), span.strip.pitch_m
        first = int(np.clip(np.floor((self._axis.left_m - start) / pitch), 0, span.strip.pixel_count))
        stop = int(np.clip(np.ceil((self._axis.right_m - start) / pitch), 0, span.strip.pixel_count))
        left = float(self._axis.to_screen(start + first * pitch, width))
        right = float(self._axis.to_screen(start + stop * pitch, width))
        stride = max(1, int((stop - first) / max(right - left, 1.0)))
        return span.first + np.arange(first, stop, stride), QRectF(left, 0, right - left, 1)
