"""The show as files: an animated picture, a still, or a table of frames."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import CancelledError, LanternError
from tiny_lantern.model.layout import all_places, bounds
from tiny_lantern.model.store import write_atomically
from tiny_lantern.show.glow import Glow, fit, spot_radius, to_screen
from tiny_lantern.show.weave import blocks, render, tick_at, tick_count

GIF_RATE_HZ = 20.0
Progress = Callable[[float], None]
Cancelled = Callable[[], bool]


def glow_of(build: Build, width: int, height: int) -> Glow:
    """A build's lights fitted into a picture of a size.

    Raises:
        LanternError: there is nothing to show.
    """
    if not build.strips:
        raise LanternError("there is nothing to show yet", "strips", "at least one strip")
    placed = fit(bounds(build), width, height)
    pitch = min(strip.pitch_m for strip in build.strips)
    return Glow(to_screen(all_places(build), placed), width, height, spot_radius(placed[0], pitch))


def still(build: Build, time_s: float, width: int = 960, height: int = 540) -> NDArray[np.uint8]:
    """The picture at one moment of the show. (height, width, 3)"""
    frame = render(build, np.array([tick_at(build, time_s)]))[0]
    return glow_of(build, width, height).picture(frame / 255.0)


def save_still(build: Build, time_s: float, path: Path, width: int = 960, height: int = 540) -> None:
    """Write one moment of the show as PNG."""
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
    glow = glow_of(build, width, height)
    ticks = np.unique(np.round(np.arange(0, build.show_s, 1 / GIF_RATE_HZ) * build.tick_hz).astype(np.int64))
    ticks = ticks[ticks < tick_count(build)]
    pictures = []
    for number, tick in enumerate(ticks):
        if cancelled():
            raise CancelledError
        frame = render(build, np.array([tick]))[0]
        pictures.append(Image.fromarray(glow.picture(frame / 255.0)).quantize(64))
        progress(number / len(ticks))
    buffer = io.BytesIO()
    each_ms = round(1000 / min(GIF_RATE_HZ, build.tick_hz))
    pictures[0].save(buffer, "GIF", save_all=True, append_images=pictures[1:], duration=each_ms, loop=0)
    write_atomically(path, buffer.getvalue())


def frames_csv(build: Build, progress: Progress = lambda share: None, cancelled: Cancelled = lambda: False) -> str:
    """Every tick as a row: its number, its time, and each light's red, green, blue duty as two hex digits each.

    Raises:
        CancelledError: asked to stop.
    """
    text = io.StringIO()
    table = csv.writer(text, lineterminator="\n")
    slots = sum(strip.pixel_count for strip in build.strips)
    table.writerow(["tick", "time_s", *(f"slot_{slot}" for slot in range(slots))])
    for first, block in blocks(build):
        for at, frame in enumerate(block):
            tick = first + at
            table.writerow([tick, f"{tick / build.tick_hz:.4f}", *(light.tobytes().hex() for light in frame)])
        if cancelled():
            raise CancelledError
        progress(first / tick_count(build))
    return text.getvalue()
