"""The frame under the caret, worked out once for everyone who shows it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.model.base import same_members
from tiny_lantern.model.effects import Effect
from tiny_lantern.model.piece import Piece
from tiny_lantern.show.weave import Show, show_of
from tiny_lantern.ui.session import Session


class FrameSource:
    """Linear bytes of every light at the caret, (n_slots, 3)."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self._of: tuple[object, ...] = ()
        self._show: Show | None = None
        self._frame = np.zeros((0, 3), np.uint8)
        self._seen: tuple[tuple[Piece, ...], tuple[Effect, ...], object] | None = None

    def frame(self) -> NDArray[np.uint8]:
        """The frame at the session's time; the same array as long as its bytes are the same."""
        build = self._session.build
        tick = build.timeline.on_show(self._session.time_s)
        seen = self._seen
        if seen and same_members(build.pieces, seen[0]) and same_members(build.effects, seen[1]):
            shape = seen[2]
        else:
            shape = (build.effects, build.line.wired)
            self._seen = (build.pieces, build.effects, shape)
        read = (shape, build.tick_hz, tick)
        if read != self._of:
            self._show = show_of(build, near=self._show)
            frame = self._show.render(np.array([tick]))[0]
            self._frame = self._frame if np.array_equal(frame, self._frame) else frame
            self._of = read
        return self._frame
