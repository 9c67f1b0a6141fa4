"""The weave as an image, for the part of Line and time in view."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from itertools import zip_longest

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QRect, QRectF, QSize
from PySide6.QtGui import QColor, QImage, QPainter

from tiny_lantern.model.build import Build
from tiny_lantern.model.effects import Effect
from tiny_lantern.model.groups import Group
from tiny_lantern.model.scene import Scene
from tiny_lantern.model.timeline import Timeline
from tiny_lantern.show.capping import caps_of
from tiny_lantern.show.limit import Cap
from tiny_lantern.show.weave import KeptLight, LightOf, light_anew, show_of
from tiny_lantern.ui import theme
from tiny_lantern.ui.background import Background
from tiny_lantern.ui.colours import image_of_words, rgb_of, screen_table, screen_words
from tiny_lantern.ui.stations.time_axis import TimeAxis
from tiny_lantern.ui.stations.weave_axis import WeaveAxis
from tiny_lantern.ui.widgets.layer import WHOLE_PX, bands_around

Ints = NDArray[np.int64]
Floats = NDArray[np.float64]
ROW_PX = 2
ROW_PX_DRAGGED = 4
ROW_PX_PASSING = 6
MOST_ROWS = 1500
HERE_EFFECTS = 250
GROUND_COLUMN = -1


@dataclass(frozen=True, eq=False)
class Sight:
    """Which frames and lights are in view, all that the bytes shown depend on but the effects: frame of each row, the
    lights shown, and which of them each column shows, -1 for none."""

    strips: tuple[object, ...]
    tick_hz: float
    caps: tuple[Cap, ...]
    scenes: tuple[tuple[Scene, ...], tuple[Group, ...]]
    ticks: Ints
    slots: Ints
    columns: Ints

    def same_as(self, other: Sight) -> bool:
        """Whether bytes for one serve the other."""
        own, theirs = ((one.strips, one.tick_hz, one.caps, one.scenes) for one in (self, other))
        pairs = ((self.ticks, other.ticks), (self.slots, other.slots), (self.columns, other.columns))
        return own == theirs and all(np.array_equal(one, two) for one, two in pairs)


@dataclass(frozen=True, eq=False)
class Rendered:
    """What a sight shows under some effects, words of the screen (n_rows, n_slots + 1), the last one of each row the
    ground, and the same as an image."""

    sight: Sight
    effects: tuple[Effect, ...]
    shown: NDArray[np.uint32]
    image: QImage


@dataclass(frozen=True)
class View:
    """What part of the Line, or of which group, and of the show is in view. [m] [s]"""

    group_id: str | None
    left_m: float
    right_m: float
    top_s: float
    bottom_s: float

    def covers(self, other: View) -> bool:
        """Whether all of another view is in this one."""
        return (
            self.group_id == other.group_id
            and self.left_m <= other.left_m and other.right_m <= self.right_m
            and self.top_s <= other.top_s and other.bottom_s <= self.bottom_s
        )  # fmt: skip

    def within(self, other: View, size: QSize) -> QRectF:
        """Where it lies on a surface that shows another view; where that is on whole pixels, without a rest."""
        across, down = size.width() / (other.right_m - other.left_m), size.height() / (other.bottom_s - other.top_s)
        place = QRectF(
            (self.left_m - other.left_m) * across, (self.top_s - other.top_s) * down,
            (self.right_m - self.left_m) * across, (self.bottom_s - self.top_s) * down,
        )  # fmt: skip
        whole = place.toRect().toRectF()
        corners = place.topLeft() - whole.topLeft(), place.bottomRight() - whole.bottomRight()
        return whole if max(corner.manhattanLength() for corner in corners) < WHOLE_PX else place


@dataclass(frozen=True, eq=False)
class Passed:
    """The image of a view under what is shown of a build."""

    shown: tuple[object, ...]
    view: View
    image: QImage


class PassedRows:
    """Coarse rows of what was passed by, by where they lie in the show, so that the way back costs nothing."""

    def __init__(self) -> None:
        self._of: tuple[object, ...] = ()
        self._rows: dict[int, NDArray[np.uint32]] = {}

    def words(
        self, of: tuple[object, ...], wanted: range, rendered_of: Callable[[list[int]], NDArray[np.uint32]]
    ) -> NDArray[np.uint32]:
        """Words of the screen of some rows. (n_rows, n_columns)

        Args:
            of: all else that they depend on.
            wanted: their numbers, from the beginning of the show.
            rendered_of: renders those of some numbers, (n_missing, n_columns).
        """
        if of != self._of or len(self._rows) > MOST_ROWS:
            self._of, self._rows = of, {}
        missing = [number for number in wanted if number not in self._rows]
        if missing:
            self._rows.update(zip(missing, rendered_of(missing), strict=True))
        return np.stack([self._rows[number] for number in wanted])


def _shown(build: Build) -> tuple[object, ...]:
    """All of a build that the weave shows."""
    return (build.effects, build.line.wired, build.tick_hz, build.show_s, caps_of(build), build.scenes, build.groups)


class WeaveRaster:
    """Renders what is in view and keeps it until the view or the effects change.

    Very many effects are rendered in the background; until they are, what was last rendered is shown.

    Args:
        axis: the Line's axis.
        time: the time in view.
        background: where much is rendered; without one all of it is here.
        ready: called when that is done.
    """

    def __init__(
        self, axis: WeaveAxis, time: TimeAxis, background: Background | None = None,
        ready: Callable[[], object] = lambda: None,
    ) -> None:  # fmt: skip
        self._axis, self._time, self._background, self._ready = axis, time, background, ready
        self._key: tuple[object, ...] = ()
        self._kept_for: tuple[object, ...] = ()
        self._kept: Rendered | None = None
        self._passed: Passed | None = None
        self._rows = PassedRows()
        self._widest: Passed | None = None
        self._lights: KeptLight | None = None
        self._rehearsed: frozenset[str] = frozenset()

    def image(self, build: Build, width: float, height: float, dragged: bool = False) -> QImage | None:
        """The image of what is in view, to be stretched over a surface of a size; coarser in time while something is
        dragged. None when there is nothing yet."""
        row_px = ROW_PX_DRAGGED if dragged else ROW_PX
        view, shown = self._view(), _shown(build)
        key = (view, width, height, row_px, shown)
        if self._key != key:
            self._key = key
            rows = max(1, int(round(height) / row_px))
            y = (np.arange(rows) + 0.5) * round(height) / rows
            times_s = np.asarray(self._time.to_time(y, height))  # type: ignore[arg-type]
            self._follow(build, self._sight(build, width, times_s), key, dragged)
            self._rehearse(build)
        if self._kept is None:
            return None
        if self._kept_for != key:
            return self._kept.image  # as it was, until what is rendered in the background is there
        self._passed = Passed(shown, view, self._kept.image)
        if self._widest is None or self._widest.shown != shown or not self._widest.view.covers(view):
            self._widest = self._passed
        return self._kept.image

    def _view(self) -> View:
        axis, time = self._axis, self._time
        return View(axis.group_id, axis.left_m, axis.right_m, time.top_s, time.bottom_s)

    def passing(self, build: Build, width: float, height: float) -> QImage | None:
        """The image while the view itself moves: what is known of it where it lies now, and only what comes into view
        rendered, coarsely; while it is zoomed, taken from the widest image that is known. None when there is nothing
        yet."""
        before, view, shown = self._passed, self._view(), _shown(build)
        if before is None or before.shown != shown or before.view.group_id != view.group_id:
            return self.image(build, width, height)
        size = QSize(max(1, round(width)), max(1, round(height)))
        if before.view == view and before.image.size() == size:
            return before.image
        image, ground = QImage(size, QImage.Format.Format_RGB32), QColor(theme.NIGHT_GROUND)
        painter = QPainter(image)
        place = before.view.within(view, size)
        bands = bands_around(place, size)
        widest = self._widest
        zoomed = abs(place.width() - size.width()) > 1 or abs(place.height() - size.height()) > 1
        if zoomed:
            painter.fillRect(image.rect(), ground)
        if zoomed and widest and widest.view.covers(view):
            painter.drawImage(widest.view.within(view, size), widest.image)
            bands = []
        painter.drawImage(place, before.image)
        for band in bands:
            painter.setClipRect(band)
            painter.fillRect(band, ground)
            self._draw_passing(painter, build, shown, size, band)
        painter.end()
        self._passed = Passed(shown, view, image)
        return image

    @property
    def kept_image(self) -> QImage | None:
        """The image as it was last rendered."""
        return self._kept.image if self._kept else None

    def _draw_passing(
        self, painter: QPainter, build: Build, shown: tuple[object, ...], size: QSize, band: QRect
    ) -> None:  # fmt: skip
        """What comes into view, in rows that lie in the show where they lay before."""
        down = size.height() / (self._time.bottom_s - self._time.top_s)
        row_s, at = ROW_PX_PASSING / down, self._time.top_s * down
        first = math.floor((at + band.top()) / ROW_PX_PASSING)
        stop = math.ceil((at + band.top() + band.height()) / ROW_PX_PASSING)
        across = (self._axis.group_id, self._axis.left_m, self._axis.right_m, size.width())
        of = (shown, *across, band.left(), band.width(), f"{row_s:.9g}")

        def rendered_of(numbers: list[int]) -> NDArray[np.uint32]:
            sight = self._sight(build, size.width(), (np.array(numbers) + 0.5) * row_s, band)
            return _filled(build, sight, _ground_of(sight), np.ones(len(numbers), bool)).take(sight.columns, axis=1)

        words = self._rows.words(of, range(first, stop), rendered_of)
        top, high = first * ROW_PX_PASSING - at, len(words) * ROW_PX_PASSING
        painter.drawImage(QRectF(band.left(), top, band.width(), high), image_of_words(words))

    def _sight(self, build: Build, width: float, times_s: Floats, band: QRect | None = None) -> Sight:
        """What is seen at some times on a surface of a width, or in a band of it."""
        under = self._axis.columns(max(1, round(width)))
        middle = np.where(under.first < 0, -1, (under.first + under.stop - 1) // 2)
        if band is not None:
            middle = middle[band.left() : band.right() + 1]
        slots, number = np.unique(middle, return_inverse=True)
        columns = number - 1 if len(slots) and slots[0] < 0 else number
        return Sight(
            build.line.wired,
            build.tick_hz,
            caps_of(build),
            (build.scenes, build.groups),
            build.timeline.all_on_show(times_s),
            slots[slots >= 0],
            columns,
        )

    def _follow(self, build: Build, sight: Sight, key: tuple[object, ...], dragged: bool) -> None:
        """Render the frames in view, of the same view only those whose effects are no longer the same."""
        before = self._kept if self._kept and sight.same_as(self._kept.sight) else None
        stale = np.ones(len(sight.ticks), bool)
        if before:
            stale = changed_rows(before.effects, build.effects, sight.ticks, build.timeline)
            if build.scenes and stale.any():
                stale[:] = True  # an effect may go on while the next scene fades in
        if before is None or not dragged:
            self._lights = KeptLight(sight.ticks) if dragged else None
        many = len(show_of(build).under(sight.ticks[stale], sight.slots)) > HERE_EFFECTS
        if self._background is None or not many:
            self._kept = rendered(build, sight, before, stale, light_of=self._lights or light_anew)
            self._kept_for = key
            return

        def work(progress: Callable[[float], None], cancelled: Callable[[], bool]) -> object:
            return rendered(build, sight, before, stale, cancelled)

        self._background.start("weave-raster", work, lambda found: self._take(found, key), _no_raster)

    def _rehearse(self, build: Build) -> None:
        """Have every kind of effect that is new made ready in the background, before the view moves to it."""
        kinds, show = frozenset(effect.look.kind for effect in build.effects), show_of(build)
        if self._background is None or kinds <= self._rehearsed:
            return

        def work(progress: Callable[[float], None], cancelled: Callable[[], bool]) -> None:
            show.rehearse(cancelled)

        self._rehearsed |= kinds
        self._background.start("weave-rehearsal", work, lambda _: None, _no_raster)

    def _take(self, found: Rendered, key: tuple[object, ...]) -> None:
        if key == self._key:
            self._kept, self._kept_for = found, key
            self._ready()


def _no_raster(error: Exception) -> None:
    """A frame that cannot be rendered is a defect of the program, told as one."""
    raise error


def rendered(
    build: Build, sight: Sight, before: Rendered | None, stale: NDArray[np.bool_],
    cancelled: Callable[[], bool] = lambda: False, light_of: LightOf = light_anew,
) -> Rendered:  # fmt: skip
    """A sight of a build's weave, of which only the stale rows are rendered where the others are known.

    Args:
        build: the build.
        sight: what is in view.
        before: the same sight under other effects.
        stale: which rows may look different, (n_rows,).
        cancelled: asked now and then whether to stop.
        light_of: works out what an effect gives.

    Raises:
        CancelledError: asked to stop.
    """
    shown = _ground_of(sight) if before is None else before.shown.copy()
    _filled(build, sight, shown, stale, cancelled, light_of)
    return Rendered(sight, build.effects, shown, image_of_words(shown.take(sight.columns, axis=1)))


def _ground_of(sight: Sight) -> NDArray[np.uint32]:
    """Words for a sight of which nothing is rendered yet, the last of each row the ground."""
    shown = np.zeros((len(sight.ticks), len(sight.slots) + 1), np.uint32)
    shown[:, GROUND_COLUMN] = screen_words(np.array(rgb_of(theme.NIGHT_GROUND), np.uint8))
    return shown


def _filled(
    build: Build, sight: Sight, shown: NDArray[np.uint32], stale: NDArray[np.bool_],
    cancelled: Callable[[], bool] = lambda: False, light_of: LightOf = light_anew,
) -> NDArray[np.uint32]:  # fmt: skip
    """The words of a sight, the stale rows rendered into them."""
    frames = show_of(build).render(sight.ticks[stale], sight.slots, cancelled, light_of)
    shown[stale, :GROUND_COLUMN] = screen_words(screen_table()[frames])
    return shown


def changed_rows(
    before: tuple[Effect, ...], after: tuple[Effect, ...], ticks: Ints, timeline: Timeline
) -> NDArray[np.bool_]:
    """Which moments may look different under other effects. (n_rows,)

    Args:
        before, after: the effects, the lowest first.
        ticks: the moments as frame numbers, (n_rows,). [-]
        timeline: the frames of the show.
    """
    stale = np.zeros(len(ticks), bool)
    for one, other in zip_longest(before, after):
        if one is not other and one != other:
            for effect in filter(None, (one, other)):
                begin, end = timeline.covered(np.array([effect.start_s]), np.array([effect.length_s]))
                stale |= (ticks >= begin) & (ticks < end)
    return stale
