"""Laying a reference photo under the picture: read from a file, made small, scaled by two points, moved."""

from __future__ import annotations

import base64
import io
import math
from pathlib import Path
from typing import Any

from PIL import Image

from tiny_lantern.model.base import made, revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.disk import read_bytes
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.photo import MOST_KEPT, Photo
from tiny_lantern.model.pixels import read_picture

MOST_READ = 50_000_000
MOST_PIXELS = 120_000_000
LONGEST = (1800, 1400, 1100, 800, 500, 300)
QUALITY = 82
LEAST_APART_M = 1e-6
ACCEPTED = "a photo as JPEG or PNG, at most 50 MB"
Point = tuple[float, float]


def photo_from(path: Path, x_m: float = 0.0, y_m: float = 0.0, width_m: float = 1.0) -> Photo:
    """A photo from a file, turned upright and made small enough to be kept.

    Args:
        path: the file.
        x_m: left edge in the build. [m]
        y_m: lower edge. [m]
        width_m: how wide it is laid. [m]

    Raises:
        LanternError: it is no picture, or too large.
    """
    upright = read_picture(read_bytes(path, MOST_READ), MOST_PIXELS, path.name, ACCEPTED)
    return _kept(upright, path.name, x_m, y_m, width_m)


def _kept(upright: Image.Image, name: str, x_m: float, y_m: float, width_m: float) -> Photo:
    for longest in LONGEST:
        small = upright.copy()
        small.thumbnail((longest, longest))
        buffer = io.BytesIO()
        small.save(buffer, "JPEG", quality=QUALITY)
        data = base64.b64encode(buffer.getvalue()).decode("ascii")
        if len(data) <= MOST_KEPT:
            return made(
                Photo, data=data, pixels_wide=small.width, pixels_high=small.height, x_m=x_m, y_m=y_m, width_m=width_m
            )
    raise LanternError("the photo cannot be made small enough", name, ACCEPTED)


def lay_photo(build: Build, photo: Photo | None) -> Build:
    """Lay a photo under the picture, or take it away."""
    return revise(build, photo=photo)


def change_photo(build: Build, **changes: Any) -> Build:
    """Change where the photo lies, how wide it is, or how strongly it shows.

    Raises:
        LanternError: there is none, or it cannot be so.
    """
    if build.photo is None:
        raise LanternError("there is no photo under the picture", "photo", "one that is laid under it first")
    return revise(build, photo=revise(build.photo, **changes))


def scale_photo(build: Build, first: Point, second: Point, apart_m: float) -> Build:
    """Make the photo so large that two of its points are so far apart as they really are; the first one stays.

    Args:
        build: the build.
        first: one point, where it lies now. [m]
        second: the other. [m]
        apart_m: how far apart they really are. [m]

    Raises:
        LanternError: there is no photo, or the points are the same.
    """
    now_m = math.dist(first, second)
    if now_m < LEAST_APART_M or apart_m <= 0:
        raise LanternError("the two points lie on each other", "photo", "two points a known distance apart")
    grown = apart_m / now_m
    photo = build.photo
    if photo is None:
        return change_photo(build)
    x_m, y_m = (point - (point - corner) * grown for point, corner in zip(first, (photo.x_m, photo.y_m), strict=True))
    return change_photo(build, x_m=x_m, y_m=y_m, width_m=photo.width_m * grown)
