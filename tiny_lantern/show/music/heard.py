"""A song and its beats, as one task."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from tiny_lantern.show.music.beats import Beats, beats_of
from tiny_lantern.show.music.sound import Sound, read_sound


def heard(path: Path, progress: Callable[[float], None], cancelled: Callable[[], bool]) -> tuple[Sound, Beats]:
    """A song and its beats.

    Args:
        path: its file.
        progress: told the share done, 0 to 1.
        cancelled: asked now and then whether to stop.

    Raises:
        LanternError: it is no sound file, is cut off, or is longer than can be used.
        CancelledError: asked to stop.
    """
    sound = read_sound(path, progress, cancelled)
    return sound, beats_of(sound)
