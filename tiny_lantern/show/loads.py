"""A load case as duties: what every channel of every pixel is asked for."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.memo import memoised_on, read_only
from tiny_lantern.electrical.network import part_of
from tiny_lantern.light.colour import channels_from_rgb, linear_of
from tiny_lantern.model.build import Build, ColourLoad, FullWhite, LevelLoad, Load
from tiny_lantern.model.strip import PixelRun
from tiny_lantern.show.weave import render

Floats = NDArray[np.float64]
Duties = tuple[Floats, ...]


def channel_names(build: Build, strip: PixelRun) -> tuple[str, ...]:
    """The channels of a strip's part, in its order."""
    return tuple(channel.name for channel in part_of(build, strip).pixel.channels)


def duties_for(build: Build, load: Load) -> Duties:
    """Duties of a load case, one array a strip, (n_pixels, n_channels), 0 to 1. [-]"""
    if isinstance(load, FullWhite):
        return _even(build, 1.0)
    if isinstance(load, LevelLoad):
        return _even(build, load.level)
    if isinstance(load, ColourLoad):
        rgb = linear_of(load.colour)
        return tuple(
            read_only(np.repeat(channels_from_rgb(rgb, channel_names(build, strip))[None], strip.pixel_count, axis=0))
            for strip in build.strips
        )
    frame = render(build, np.array([build.timeline.on_show(load.time_s)]))[0]
    return frame_duties(build, frame)


def in_phase(duties: Duties) -> Duties:
    """The same with every lit channel fully on: what copper sees while all PWM phases are on. [-]"""
    return tuple(read_only((duty > 0).astype(float)) for duty in duties)


@memoised_on("strips", "parts")
def _even(build: Build, level: float) -> Duties:
    counts = ((strip.pixel_count, len(channel_names(build, strip))) for strip in build.strips)
    return tuple(read_only(np.full(count, level)) for count in counts)


def frame_duties(build: Build, frame: NDArray[np.uint8]) -> Duties:
    """Duties of a frame of the weave or of many, one array a strip, (…, n_pixels, n_channels), 0 to 1. [-]

    Args:
        build: the build.
        frame: bytes of linear light, (…, n_slots, 3). [-]
    """
    return tuple(
        read_only(channels_from_rgb(frame[..., span.first : span.stop, :] / 255.0, channel_names(build, span.run)))
        for span in build.line.runs
    )
