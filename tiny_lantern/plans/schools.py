"""Where practitioners disagree on how to drive: both sides, when each wins, and what this build says to it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tiny_lantern.model.build import Build
from tiny_lantern.model.lamps import Matrix
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.ways.pwm import PwmPin
from tiny_lantern.plans.compare import Compared


@dataclass(frozen=True)
class School:
    """A question with two answers, when each wins, and what speaks for which here."""

    question: str
    one: str
    other: str
    here: str


def schools(build: Build, rows: Sequence[Compared]) -> tuple[School, ...]:
    """The five questions that people argue about, answered with the ways compared for a piece.

    Args:
        build: the build.
        rows: every way that fits the piece, solved.
    """
    by_kind = {row.way.kind: row for row in rows if row.build is not None}
    return (
        School(
            "multiplexer or register", "A multiplexer needs few parts and lights one lamp in turn: for pointers and "
            "scales.", "A register keeps every lamp lit at full light: for anything that shines together.",
            _against(by_kind, "demux", "register"),
        ),
        School(
            "counter or two registers", "A stepping counter spares a chip and a latch; without a reset line its start "
            "is unknown.", "Two registers say which row is lit at every moment, and may skip rows.",
            _rows_by(build),
        ),
        School(
            "resistor each or chip", "Resistors are cheap, plain and mended on the spot; each lamp may have a current "
            "of its own.", "A sink chip sets one current for all, needs no resistors, and warms up.",
            _against(by_kind, "register", "sink"),
        ),
        School(
            "one output a lamp or one for two", "An output each lets every lamp do as it likes.",
            "One for two saves half the pins while their shows agree, and is a mirror once they do not.",
            _shared(build),
        ),
        School(
            "smallest board or the drawer's", "The smallest board that has the pins costs and draws least.",
            "The one in the drawer is paid for, and its spare pins take the next idea.",
            _board(build),
        ),
    )  # fmt: skip


def _against(by_kind: dict[str, Compared], one: str, other: str) -> str:
    """Two ways in figures, and which one is brighter for how many joints."""
    first, second = by_kind.get(one), by_kind.get(other)
    if first is None or second is None:
        missing = one if first is None else other
        return f"Here only one of them fits: {missing} does not."
    brighter = first if first.brightest_cd >= second.brightest_cd else second
    fewer = first if first.joints <= second.joints else second
    told = f"{_figures(first)}; {_figures(second)}."
    if brighter is fewer:
        return f"{told} More light and fewer joints here: {brighter.way.word}."
    return f"{told} More light here: {brighter.way.word}; fewer joints: {fewer.way.word}."


def _figures(row: Compared) -> str:
    return f"{row.way.word}: {row.pins} pins, {row.joints} joints, {row.cost:.2f}, {row.brightest_cd:.2f} cd"


def _rows_by(build: Build) -> str:
    driven = [piece for piece in build.pieces if isinstance(piece, Matrix)]
    if not driven:
        return "Here no matrix is scanned."
    counters = [each for each in build.drivers if getattr(each, "rows_by", "") == "counter"]
    unknown = [each for each in counters if not getattr(each, "starts_known", True)]
    if not counters:
        return "Here registers carry the rows, and the start is known."
    return f"Here a counter steps the rows, and its reset is {'not ' if unknown else ''}wired."


def _shared(build: Build) -> str:
    outputs, lamps = len(build.channels), sum(len(channel.slots) for channel in build.channels)
    compares: dict[tuple[str, str], int] = {}
    for driver in build.drivers:
        if isinstance(driver, PwmPin):
            part = build.shelf.find(BoardPart, next(b.part_id for b in build.boards if b.id == driver.board_id))
            for pin in driver.pins:
                there = part.pin(pin.pin)
                if there is not None and there.compare:
                    key = (driver.board_id, there.compare)
                    compares[key] = compares.get(key, 0) + 1
    mirrors = sum(count - 1 for count in compares.values())
    return f"Here {outputs} outputs drive {lamps} lamps; {mirrors} of them mirror another's duty."


def _board(build: Build) -> str:
    told = []
    for board in build.boards:
        part = build.shelf.find(BoardPart, board.part_id)
        used = sum(len(driver.pins) for driver in build.drivers if driver.board_id == board.id) + len(board.reserved)
        usable = sum(pin.output for pin in part.pins)
        told.append(f"{board.name} uses {used} of {usable} pins")
    return f"Here {', '.join(told)}." if told else "Here there is no board yet."
