"""Rules on boards that listen to a computer."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from typing import get_args

from tiny_lantern.code.score import slices_of
from tiny_lantern.findings.driven import one_step
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.base import revise
from tiny_lantern.model.data_lines import boards_of_pieces
from tiny_lantern.model.edits import item
from tiny_lantern.model.edits_drive import change_board
from tiny_lantern.model.listening import BITS_A_BYTE, Listening, Rate
from tiny_lantern.model.place import Place
from tiny_lantern.model.quantities import engineering

FRAMING_BYTES, ANSWER_BYTES = 7, 9


@rule("listens-chained", "{n} boards cannot listen to a computer")
def listens_chained(evidence: Evidence) -> Iterator[Finding]:
    """Boards in a chain hand frames on over their serial lines: none of them can listen to a computer."""
    build = evidence.build
    playing = set(boards_of_pieces(build).values())
    for board in build.boards:
        if board.listens is None or len(playing) < 2:
            continue
        yield Finding(
            Severity.WONT_WORK, "listens-chained", Place.on("boards", board.id), f"{board.name} cannot listen",
            f"{len(playing)} boards play this show and hand its frames on over their serial lines, so that no line is "
            "left for a computer. One board for all lights can listen.",
            one_step("Boards that play", "", board.name, str(len(playing))),
            (Fix("Let it listen no more", partial(change_board, board_id=board.id, listens=None)),),
        )  # fmt: skip


@rule("signal-deaf", "{n} signals are never told")
def signal_deaf(evidence: Evidence) -> Iterator[Finding]:
    """A signal from a computer, or the link to one, on a board that does not listen."""
    build = evidence.build
    for one in build.inputs:
        board = item(build.boards, one.board_id, "board")
        if one.wired or board.listens is not None:
            continue
        yield Finding(
            Severity.WONT_WORK, "signal-deaf", Place.on("inputs", one.id), f"{one.name} is never told",
            f"It comes from a computer over the cable, and {board.name} does not listen: 0 of its words arrive.",
            one_step("Words that arrive", "", board.name, "0"),
            (Fix(f"Let {board.name} listen", partial(change_board, board_id=board.id, listens=Listening())),),
        )  # fmt: skip


@rule("cable-slow", "{n} cables carry fewer frames than are played")
def cable_slow(evidence: Evidence) -> Iterator[Finding]:
    """A frame and its answer take longer over the cable than a frame lasts: the computer's light comes less often."""
    build = evidence.build
    for board, part in zip(build.boards, slices_of(build), strict=False):
        if part.listens is None or not part.runs:
            continue
        answer = ANSWER_BYTES + 2 * sum(one.board_id == board.id for one in build.inputs)
        bits = (part.byte_count + FRAMING_BYTES + answer) * BITS_A_BYTE
        if bits / part.listens.bits_per_s <= 1 / build.tick_hz:
            continue
        frame_s = bits / part.listens.bits_per_s
        enough = next((rate for rate in get_args(Rate) if bits / rate <= 1 / build.tick_hz), None)
        quicker = revise(part.listens, bits_per_s=enough) if enough else None
        yield Finding(
            Severity.HINT, "cable-slow", Place.on("boards", board.id), f"The cable to {board.name} is slow",
            f"While a computer lights it, a frame of {part.byte_count} bytes and its answer take "
            f"{engineering(frame_s, 's')} at {part.listens.bits_per_s:,} bits a second, and the show has one every "
            f"{engineering(1 / build.tick_hz, 's')}: {1 / frame_s:.0f} of {build.tick_hz:g} a second are seen.",
            one_step("frame = 10 · bytes / rate", f"{bits} bit / {part.listens.bits_per_s} bit/s", "frame",
                     engineering(frame_s, "s")),
            (Fix(f"{enough:,} bits a second", partial(change_board, board_id=board.id, listens=quicker)),)
            if quicker else (),
        )  # fmt: skip
