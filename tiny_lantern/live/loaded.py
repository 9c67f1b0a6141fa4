"""What is loaded on a board, as far as who sends to it has to know: its stamp, its lights, how it listens."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.code.names import plain_text
from tiny_lantern.code.score import Run, runs_of, slices_of
from tiny_lantern.live.wire import LONGEST, Identity, Message, WireRun, frame_message
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import item
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.listening import Listening
from tiny_lantern.model.stamp import code_stamp_of

Bytes = NDArray[np.uint8]
EVERYTHING = "everything"


@dataclass(frozen=True)
class Loaded:
    """A board's program: its lights as runs, and of each light its number on the Line, in the order of the wire; how it
    listens, and its inputs by id. The stamp is worked out from ``build`` where it is asked for."""

    title: str
    runs: tuple[WireRun, ...]
    slots: tuple[int, ...]
    listens: Listening
    input_ids: tuple[str, ...]
    build: Build = field(compare=False, repr=False)

    @cached_property
    def stamp(self) -> str:
        """The stamp of its code."""
        return code_stamp_of(self.build)

    @cached_property
    def order(self) -> NDArray[np.int64]:
        """The lights in the order of the wire, by their numbers on the Line. (n_lights,) [-]"""
        return np.array(self.slots, np.int64)

    @property
    def byte_count(self) -> int:
        """How many bytes a frame has. [-]"""
        return sum(run.count * len(run.order) for run in self.runs)

    @property
    def identity(self) -> Identity:
        """What the board says of itself."""
        return Identity(self.stamp, plain_text(self.title), self.byte_count)

    def frame(self, light: Bytes) -> Message:
        """A frame for the board.

        Args:
            light: linear red, green and blue of every light of the build, (n_slots, 3). [-]

        Raises:
            LanternError: it has more lights than a message carries.
        """
        if self.byte_count > LONGEST:
            told = f"{self.byte_count} bytes a frame are too many for one board"
            raise LanternError(told, "live", f"at most {LONGEST}")
        return frame_message(light[self.order], self.runs)


def loaded_on(build: Build, board_id: str) -> Loaded:
    """What the code of a build makes a board play.

    Args:
        build: the build.
        board_id: the board.

    Raises:
        LanternError: the board does not listen, or has no lights.
    """
    board = item(build.boards, board_id, "board")
    part = next(part for part in slices_of(build) if part.board_id == board_id)
    if board.listens is None:
        raise LanternError(f"{board.name} does not listen to a computer", "live", "“listens” switched on, in Boards")
    if not part.runs:
        raise LanternError(f"{board.name} has no lights", "live", "a board that drives lamps or a data line")
    heard = tuple(one.id for one in build.inputs if one.board_id == board_id) if build.rules else ()
    return _loaded(build, board.name, part.runs, board.listens, heard)


def whole(build: Build) -> Loaded:
    """What a board would play that had all lights of a build on one wire, in the order of the Line.

    Args:
        build: the build.
    """
    return _loaded(build, EVERYTHING, tuple(runs_of(build, build.pieces)), Listening(), ())


def _loaded(build: Build, title: str, runs: Iterable[Run], listens: Listening, heard: tuple[str, ...]) -> Loaded:
    runs = tuple(runs)
    slots = tuple(slot for run in runs for slot in range(run.first, run.first + run.count))
    wired = tuple(WireRun(run.count, run.order) for run in runs)
    return Loaded(title, wired, slots, listens, heard, build)
