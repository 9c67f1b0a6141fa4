"""The frame under the caret, worked out once for everyone who shows it."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.light.colour import linear_from_srgb
from tiny_lantern.light.own import as_bytes, at_rest, own_colours, shown_as, shows_all
from tiny_lantern.model.base import same_members
from tiny_lantern.model.build import FrameLoad
from tiny_lantern.model.effects import Effect
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.piece import Piece
from tiny_lantern.show.as_driven import DrivenLook
from tiny_lantern.show.capping import caps_of
from tiny_lantern.show.weave import Show, show_of
from tiny_lantern.ui.session import SOLVE_HERE_SLOTS, Session

Floats = NDArray[np.float64]
Bytes = NDArray[np.uint8]
MOST_SPILLED_AT_ONCE = 2000


if TYPE_CHECKING:
    from scipy.sparse import csr_array


class FrameSource:
    """What every light shows at the caret: as the show sends it, and as its own lamp is seen."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self._of: tuple[object, ...] = ()
        self._show: Show | None = None
        self._frame = np.zeros((0, 3), np.uint8)
        self._shown: tuple[Bytes, bool, Bytes] | None = None
        self._own: tuple[tuple[tuple[str, int], ...], tuple[Part, ...], Floats] | None = None
        self._driven: tuple[tuple[object, ...], DrivenLook] | None = None
        self._spill: tuple[tuple[Piece, ...], csr_array | None] | None = None
        self._lit: tuple[Bytes, Bytes] | None = None
        self._sagged: tuple[Bytes, object, Bytes] | None = None
        self._seen: tuple[tuple[Piece, ...], tuple[Effect, ...], object] | None = None

    def seen(self) -> Bytes:
        """Linear bytes of every light as it is seen, (n_slots, 3); of a build without a show, each lamp lit.

        The same array as long as its bytes are the same.
        """
        build, frame = self._session.build, self.frame()
        made_of = tuple((piece.part_id, piece.slot_count) for piece in build.pieces)
        if self._own is None or made_of != self._own[0] or not same_members(build.parts, self._own[1]):
            self._own = (made_of, build.parts, own_colours(build))
            self._shown = self._driven = None
        ways = (build.drivers, build.channels, build.boards)
        if self._driven is None or any(a is not b for a, b in zip(ways, self._driven[0], strict=True)):
            self._driven = (ways, DrivenLook(build, self._own[2]))
            self._shown = None
        asked = bool(build.effects) or self._session.pattern is not None
        if self._shown is None or self._shown[0] is not frame or self._shown[1] is not asked:
            own = self._own[2]
            seen = self._as_driven(frame, own) if asked else as_bytes(at_rest(own))
            self._shown = (frame, asked, seen)
        return self._sagging(self._shown[2])

    def _as_driven(self, frame: Bytes, own: Floats) -> Bytes:
        """A frame in the colours of its lamps, and in as many steps as their outputs have."""
        assert self._driven is not None
        if shows_all(own) and not self._session.build.channels:
            return frame
        asked = frame / 255.0
        return as_bytes(self._driven[1].seen(asked, shown_as(asked, own)))

    def _sagging(self, seen: Bytes) -> Bytes:
        """What is seen, strips as they look at their solved voltages while the load in hand is the frame under the
        caret; the same array as long as it is the same."""
        session, solved = self._session, self._session.solved
        free = session.held is None and session.pattern is None
        follows = isinstance(session.load, FrameLoad) and free
        if not follows or solved is None or solved.solution is None or solved.build is not session.build:
            return seen
        if session.build.line.slot_count > SOLVE_HERE_SLOTS:
            return seen  # solved elsewhere, and perhaps for a frame of before
        if self._sagged is None or self._sagged[0] is not seen or self._sagged[1] is not solved:
            found = seen.copy()
            for span in session.build.line.runs:
                looks = solved.looks[span.first : span.stop] / 255.0
                found[span.first : span.stop] = as_bytes(linear_from_srgb(looks))
            self._sagged = seen, solved, found
        return self._sagged[2]

    def lit(self) -> Bytes:
        """What is seen, with what lamps spill onto their neighbours' covers; the same array as long as it is the same.

        Of very many lamps the spill of before is kept amid a drag.
        """
        build, seen = self._session.build, self.seen()
        if not self._session.warm or all(piece.mount.cover == "none" for piece in build.pieces):
            return seen
        from tiny_lantern.light.spill import spill_of, spilled  # loaded by the warm-up

        late = self._session.dragging and len(seen) > MOST_SPILLED_AT_ONCE
        if self._spill is None or not (late or same_members(build.pieces, self._spill[0])):
            self._spill = (build.pieces, spill_of(build))
            self._lit = None
        spill = self._spill[1]
        if spill is None or spill.shape[0] != len(seen):
            return seen
        if self._lit is None or self._lit[0] is not seen:
            self._lit = (seen, as_bytes(spilled(seen / 255.0, spill)))
        return self._lit[1]

    def frame(self) -> Bytes:
        """The frame at the session's time; the same array as long as its bytes are the same."""
        build, pattern = self._session.build, self._session.pattern
        if pattern is not None and len(pattern) == build.line.slot_count:
            return pattern
        tick = build.timeline.on_show(self._session.time_s)
        ended = build.after_end == "dark" and self._session.time_s >= build.show_s
        seen = self._seen
        if seen and same_members(build.pieces, seen[0]) and same_members(build.effects, seen[1]):
            shape = seen[2]
        else:
            shape = (build.effects, build.line.wired)
            self._seen = (build.pieces, build.effects, shape)
        answerer = self._session.answerer
        state = answerer.state if answerer.on else None
        held = self._session.held
        read = (shape, build.scenes, build.groups, caps_of(build), build.tick_hz, tick, ended, held, state)
        if read != self._of:
            self._show = show_of(build, near=self._show)
            frame = answerer.frame(self._show) if state is not None else self._show.render(np.array([tick]))[0]
            frame = np.zeros_like(frame) if ended else frame
            if held is not None:
                frame[held.first : held.stop] = held.rgb
            self._frame = self._frame if np.array_equal(frame, self._frame) else frame
            self._of = read
        return self._frame
