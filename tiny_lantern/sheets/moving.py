"""The show as files: an animated picture, a still, or a table of frames."""

from __future__ import annotations

import io
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import BinaryIO

import numpy as np
from numpy.typing import NDArray
from PIL import GifImagePlugin, Image

from tiny_lantern.light.own import own_colours, shown_as
from tiny_lantern.light.spill import spill_of, spilled
from tiny_lantern.model.build import Build
from tiny_lantern.model.disk import stream_atomically, write_atomically
from tiny_lantern.model.errors import CancelledError, LanternError
from tiny_lantern.model.layout import all_places, bounds
from tiny_lantern.show.as_driven import DrivenLook
from tiny_lantern.show.glow import Glow, fit, spot_sizes, to_screen
from tiny_lantern.show.weave import blocks, render

GIF_RATE_HZ = 20.0
SAMPLED, SAMPLED_ROWS = 12, 400
Progress = Callable[[float], None]
Cancelled = Callable[[], bool]


def glow_of(build: Build, width: int, height: int) -> Glow:
    """A build's lights fitted into a picture of a size.

    Raises:
        LanternError: there is nothing to show.
    """
    if not build.pieces:
        raise LanternError("there is nothing to show yet", "pieces", "at least one piece")
    placed = fit(bounds(build), width, height)
    return Glow(to_screen(all_places(build), placed), width, height, spot_sizes(build.pieces, placed[0]))


class Seen:
    """Frames as a build's lamps are seen: in the colours that they can show, in as many steps as their outputs
    have, with what they spill onto covers."""

    def __init__(self, build: Build) -> None:
        self._own, self._spill = own_colours(build), spill_of(build)
        self._driven = DrivenLook(build, self._own)

    def frame(self, frame: NDArray[np.uint8]) -> NDArray[np.float64]:
        """One frame as it is seen, linear, (n_slots, 3).

        Args:
            frame: as the show sends it, linear bytes, (n_slots, 3). [-]
        """
        asked = frame / 255.0
        seen = self._driven.seen(asked, shown_as(asked, self._own))
        return np.minimum(spilled(seen, self._spill), 1.0)


def still(build: Build, time_s: float, width: int = 960, height: int = 540) -> NDArray[np.uint8]:
    """The picture at one moment of the show. (height, width, 3)

    Args:
        build: the build.
        time_s: the moment. [s]
        width: of the picture. [screen pixels]
        height: of the picture. [screen pixels]
    """
    frame = render(build, np.array([build.timeline.on_show(time_s)]))[0]
    return glow_of(build, width, height).picture(Seen(build).frame(frame))


def save_still(build: Build, time_s: float, path: Path, width: int = 960, height: int = 540) -> None:
    """Write one moment of the show as PNG.

    Args:
        build: the build.
        time_s: the moment. [s]
        path: the file.
        width: of the picture. [screen pixels]
        height: of the picture. [screen pixels]
    """
    buffer = io.BytesIO()
    Image.fromarray(still(build, time_s, width, height)).save(buffer, "PNG")
    write_atomically(path, buffer.getvalue())


def save_gif(
    build: Build,
    path: Path,
    width: int = 480,
    height: int = 270,
    progress: Progress = lambda share: None,
    cancelled: Cancelled = lambda: False,
) -> None:
    """Write the whole show as an animated picture at 20 pictures a second, which is what viewers keep up with.

    Raises:
        LanternError: there is nothing to show, or the folder cannot be written.
        CancelledError: asked to stop; nothing is written then.
    """
    glow, seen = glow_of(build, width, height), Seen(build)
    ticks = np.unique(build.timeline.all_on_show(np.arange(0, build.show_s, 1 / GIF_RATE_HZ)))
    each_ms = round(1000 / min(GIF_RATE_HZ, build.tick_hz))

    def pictures() -> Iterator[Image.Image]:
        for number, tick in enumerate(ticks):
            if cancelled():
                raise CancelledError
            frame = render(build, np.array([tick]))[0]
            progress(number / len(ticks))
            yield Image.fromarray(glow.picture(seen.frame(frame))).quantize(64)

    stream_atomically(path, lambda file: _write_gif(file, pictures(), each_ms))


def _write_gif(file: BinaryIO, pictures: Iterator[Image.Image], each_ms: int) -> None:
    """Write pictures one after another as they come, each with its own colours; none is kept."""
    for number, picture in enumerate(pictures):
        if number == 0:
            for part in GifImagePlugin.getheader(picture, info={"loop": 0, "background": 0})[0]:
                file.write(part)
        for part in GifImagePlugin.getdata(picture, duration=each_ms, include_color_table=True):
            file.write(part)
    file.write(b";")


def save_frames_csv(
    build: Build, path: Path, progress: Progress = lambda share: None, cancelled: Cancelled = lambda: False
) -> None:
    """Write every tick as a row: its number, its time, and each light's red, green, blue as two hex digits each.

    Raises:
        LanternError: the folder cannot be written.
        CancelledError: asked to stop; nothing is written then.
    """

    def write(file: BinaryIO) -> None:
        for line in frame_lines(build, progress, cancelled):
            file.write(line.encode("ascii"))

    stream_atomically(path, write)


def frame_lines(
    build: Build, progress: Progress = lambda share: None, cancelled: Cancelled = lambda: False
) -> Iterator[str]:
    """The table of frames line by line, its heads first.

    Raises:
        CancelledError: asked to stop.
    """
    yield ",".join(["tick", "time_s", *(f"slot_{slot}" for slot in range(build.line.slot_count))]) + "\n"
    for first, block in blocks(build):
        if cancelled():
            raise CancelledError
        progress(first / build.timeline.count)
        for at, frame in enumerate(block):
            lights = frame.tobytes().hex(",", 3)
            yield f"{first + at},{build.timeline.begins_s(first + at):.4f},{lights}\n"


@dataclass(frozen=True)
class Estimate:
    """About how large an export will be and how long it will take. [B] [s]"""

    size_b: float
    time_s: float

    def words(self) -> str:
        """For reading before it starts."""
        size = f"{self.size_b / 1e6:.0f} MB" if self.size_b >= 1e6 else f"{max(1, self.size_b / 1e3):.0f} kB"
        time_s = f"{self.time_s / 60:.0f} min" if self.time_s >= 90 else f"{max(1, self.time_s):.0f} s"
        return f"about {size}, {time_s}"


def estimate(build: Build, suffix: str) -> Estimate:
    """What writing the show will cost, from a few of its frames.

    Args:
        build: the build.
        suffix: ``.gif`` or ``.csv``.

    Raises:
        LanternError: there is nothing to show.
    """
    total = build.timeline.count
    if suffix == ".gif":
        sample = np.linspace(0, total - 1, min(total, SAMPLED)).astype(np.int64)
        glow, seen, buffer = glow_of(build, 480, 270), Seen(build), io.BytesIO()

        def pictures() -> Iterator[Image.Image]:
            for tick in sample:
                frame = render(build, np.array([tick]))[0]
                yield Image.fromarray(glow.picture(seen.frame(frame))).quantize(64)

        _write_gif(io.BytesIO(), pictures(), 50)  # what is made ready once is no part of each frame's cost
        began = time.perf_counter()
        _write_gif(buffer, pictures(), 50)
        size, count = buffer.tell(), build.show_s * min(GIF_RATE_HZ, build.tick_hz)
    else:
        sample = np.arange(min(total, SAMPLED_ROWS))
        render(build, sample)
        began = time.perf_counter()
        size, count = sum(len(frame.tobytes().hex(",", 3)) + 12 for frame in render(build, sample)), float(total)
    spent = time.perf_counter() - began
    return Estimate(size / len(sample) * count, spent / len(sample) * count)
