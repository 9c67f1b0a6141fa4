"""The weave as images, one a strip, for the part of Line and time in view."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import zip_longest

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QRectF
from PySide6.QtGui import QImage

from tiny_lantern.model.build import Build
from tiny_lantern.model.effects import Effect
from tiny_lantern.model.strip import Strip
from tiny_lantern.show.weave import effect_ticks, render, tick_count
from tiny_lantern.ui.axis import LineAxis
from tiny_lantern.ui.colours import image_of, screen_table
from tiny_lantern.ui.stations.time_axis import TimeAxis

Floats = NDArray[np.float64]
ROW_PX = 2
ROW_PX_DRAGGED = 4


@dataclass(frozen=True)
class Panel:
    """One strip's part of the weave and where it goes."""

    image: QImage
    box: QRectF


@dataclass(frozen=True)
class Sight:
    """Which frames and lights are in view, all that the bytes shown depend on but the effects."""

    strips: tuple[Strip, ...]
    tick_hz: float
    ticks: NDArray[np.int64]
    slots: NDArray[np.int64]

    def same_as(self, other: Sight) -> bool:
        """Whether bytes for one serve the other."""
        alike = (self.strips, self.tick_hz) == (other.strips, other.tick_hz)
        return alike and np.array_equal(self.ticks, other.ticks) and np.array_equal(self.slots, other.slots)


class WeaveRaster:
    """Renders what is in view, and keeps it until the view or the effects change."""

    def __init__(self, axis: LineAxis, time: TimeAxis) -> None:
        self._axis, self._time = axis, time
        self._key: tuple = ()
        self._panels: list[Panel] = []
        self._sight: Sight | None = None
        self._effects: tuple[Effect, ...] = ()
        self._shown = np.zeros((0, 0, 3), np.uint8)

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
        self._render(build, Sight(build.strips, build.tick_hz, ticks, np.concatenate(wanted)))
        panels, first = [], 0
        for slots, box in columns:
            if len(slots):
                picture = self._shown[:, first : first + len(slots)]
                panels.append(Panel(image_of(picture), QRectF(box.left(), 0, box.width(), height)))
                first += len(slots)
        return panels

    def _render(self, build: Build, sight: Sight) -> None:
        """Render the frames in view, of the same view only those whose effects are no longer the same."""
        if self._sight is not None and sight.same_as(self._sight):
            stale = changed_rows(self._effects, build.effects, sight.ticks, sight.tick_hz)
            self._shown[stale] = screen_table()[render(build, sight.ticks[stale], sight.slots)]
        else:
            self._shown = screen_table()[render(build, sight.ticks, sight.slots)]
        self._sight, self._effects = sight, build.effects

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


def changed_rows(
    before: tuple[Effect, ...], after: tuple[Effect, ...], ticks: NDArray[np.int64], tick_hz: float
) -> NDArray[np.bool_]:
    """Which moments may look different under other effects. (n_rows,)

    Args:
        before, after: the effects, the lowest first.
        ticks: the moments as frame numbers, (n_rows,). [-]
        tick_hz: frames a second. [Hz]
    """
    stale = np.zeros(len(ticks), bool)
    for pair in zip_longest(before, after):
        if pair[0] != pair[1]:
            for effect in filter(None, pair):
                begin, end = effect_ticks(effect, tick_hz)
                stale |= (ticks >= begin) & (ticks < end)
    return stale
