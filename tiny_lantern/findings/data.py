"""Rules on the data line."""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import partial

from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_drive import data_outputs
from tiny_lantern.model.place import Place
from tiny_lantern.model.quantities import engineering
from tiny_lantern.show.data_line import frame_time_working, frame_times

SLOWEST_HZ = 0.01


@rule("frame-time", "{n} data lines are too slow")
def frame_time_over_tick(evidence: Evidence) -> Iterator[Finding]:
    """A frame that takes longer on the wire than a tick makes the show stutter or run slow."""
    build = evidence.build
    tick_s = 1 / build.tick_hz
    for board_id, time_s in frame_times(build).items():
        if time_s <= tick_s:
            continue
        parallel = revise(build, data=revise(build.data, parallel=True))
        helps = not build.data.parallel and frame_times(parallel)[board_id] <= tick_s
        slower = slower_hz(time_s)
        fix = (
            Fix("One output a strip", _one_output_each)
            if helps
            else Fix(f"Run at {slower:g} frames a second", partial(change_build, tick_hz=slower))
        )
        whose = "A frame" if len(build.boards) < 2 else f"A frame of {_name(build, board_id)}"
        yield Finding(
            Severity.WONT_WORK, "frame-time", Place.on("boards", board_id) if board_id else Place(),
            f"{whose} takes {engineering(time_s, 's')}",
            f"At {build.tick_hz:g} frames a second there are {engineering(tick_s, 's')}: "
            f"{engineering(time_s - tick_s, 's')} too little.",
            partial(frame_time_working, build, board_id), (fix,),
        )  # fmt: skip


def _name(build: Build, board_id: str) -> str:
    return next(board.name for board in build.boards if board.id == board_id)


def _one_output_each(build: Build) -> Build:
    return data_outputs(build, parallel=True)


def slower_hz(time_s: float) -> float:
    """The highest rate that leaves a frame its time: whole frames a second, below one in hundredths. [Hz]

    Args:
        time_s: what a frame needs. [s]
    """
    rate = 1 / time_s
    return float(int(rate)) if rate >= 1 else max(SLOWEST_HZ, math.floor(rate * 100) / 100)
