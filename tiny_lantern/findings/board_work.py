"""The rule on how long a board works on a frame before it can send it."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from tiny_lantern.code.board.plan import doings_at, without_pins
from tiny_lantern.code.board.work import Pace, hand_of, paces, with_sending
from tiny_lantern.code.score import Score, Slice, score_of
from tiny_lantern.code.work import Work, core_of, work_of
from tiny_lantern.findings.data import slower_hz
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.place import Place, Ref
from tiny_lantern.model.quantities import clock, engineering
from tiny_lantern.model.working import Step, Working
from tiny_lantern.show.data_line import frame_times


@rule("frame-work", "{n} boards work too long on a frame")
def frame_work(evidence: Evidence) -> Iterator[Finding]:
    """A board that is estimated to need longer than a tick to work a frame out and send it: the show runs slow."""
    build = evidence.build
    if not build.boards or not build.effects or not build.line.slot_count:
        return
    score, sent = score_of(build), frame_times(build)
    tick_s = 1 / build.tick_hz
    for board, part in zip(build.boards, score.slices, strict=True):
        kind, sent_s = build.shelf.find(BoardPart, board.part_id), sent.get(board.id, 0.0)
        work = work_of(score, part, core_of(kind.int_bits))
        alone_s = work.time_s(kind.clock_hz)
        work_s = with_sending(alone_s, work.lights, _sent(build, score, part, kind))
        if not part.runs or work_s + sent_s <= tick_s or sent_s > tick_s:
            continue
        needed_s, from_s = work_s + sent_s, build.timeline.begins_s(work.tick)
        slower = slower_hz(needed_s)
        yield Finding(
            Severity.WEAK_SPOT, "frame-work",
            Place(refs=(Ref("boards", board.id),), time_s=from_s),
            f"{board.name} needs about {engineering(work_s, 's')} to work a frame out",
            f"With {engineering(sent_s, 's')} to send it that is about {engineering(needed_s - tick_s, 's')} more "
            f"than the {engineering(tick_s, 's')} of a frame, from {clock(from_s)} on. Fewer "
            "frames a second, fewer lights for this board, or a quicker one.",
            partial(_working, work, kind.clock_hz, work_s, sent_s, tick_s),
            (Fix(f"Run at {slower:g} frames a second", partial(change_build, tick_hz=slower)),),
        )  # fmt: skip


def _meanwhile(alone_s: float, work_s: float) -> tuple[Step, ...]:
    """What is sent between lights, where anything is."""
    if work_s <= alone_s:
        return ()
    more = f"{engineering(alone_s, 's')} + {engineering(work_s - alone_s, 's')}"
    return (Step("t + what is dimmed and scanned meanwhile", more, engineering(work_s, "s")),)


def _sent(build: Build, score: Score, part: Slice, kind: BoardPart) -> list[Pace]:
    """What a board sends while it works on a frame."""
    if not part.board_id or not part.runs or without_pins(build, part.board_id):
        return []
    return paces(doings_at(build, score, part), hand_of(kind.int_bits), kind.clock_hz)


def _working(work: Work, clock_hz: float, work_s: float, sent_s: float, tick_s: float) -> Working:
    alone_s = work.time_s(clock_hz)
    return Working(
        "Work on a frame",
        (
            Step(
                "cycles ≈ lights · (one light + effects on it)",
                f"{work.lights} lights, {work.effects} effect{'' if work.effects == 1 else 's'} at once",
                f"{work.cycles:,}",
            ),
            Step("t = cycles / clock", f"{work.cycles:,} / {engineering(clock_hz, 'Hz')}", engineering(alone_s, "s")),
            *_meanwhile(alone_s, work_s),
            Step(
                "t + sending ≤ a frame",
                f"{engineering(work_s, 's')} + {engineering(sent_s, 's')}",
                f"{engineering(work_s + sent_s, 's')} of {engineering(tick_s, 's')}",
            ),
        ),
        "an estimate: the steps of each effect, with cycles fitted to compiled shows; it may be off by a half",
    )
