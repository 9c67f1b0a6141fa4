"""What a build answers to, with its words, as the code for boards takes it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import LanternError
from tiny_lantern.show.answering.tables import tables_of


class Answers:
    """What a build answers to, with its words: tables, rules in words, and of each input its name and board.

    Args:
        build: the build.
    """

    def __init__(self, build: Build) -> None:
        self.tables = tables_of(build)
        self.words = tuple(rule.told(build) for rule in build.rules)
        self.names = tuple(one.name for one in build.inputs)
        self.boards = tuple(one.board_id for one in build.inputs)
        self.gates = tuple((rule, build.effects[effect].id) for rule, effect in self.tables.gated)
        self.effect_ids = tuple(build.effects[clock.effect].id for clock in self.tables.clocks)

    @property
    def any(self) -> bool:
        """Whether anything answers at all."""
        return self.tables.any


# as a compiler for 8 bits makes it: what hears, values, what dims, clocks, scenes; an input, a rule, a row of each
HEARING, VALUES, DIMMING, CLOCKS, SCENES, GATES = 910, 400, 210, 500, 120, 80
INPUT, RULE, SHADE, CLOCK, GATE = 60, 17, 10, 16, 3
MOST_STATE = 240
RAM, RAM_INPUT, RAM_RULE, RAM_CLOCK = 16, 9, 5, 6


def answers_size(answers: Answers) -> tuple[int, int]:
    """About how many bytes of memory, and of programme, it takes to answer. [-]

    Args:
        answers: what the build answers to.
    """
    tables = answers.tables
    if not tables.any:
        return 0, 0
    parts = ((VALUES, any(answer.valued for answer in tables.answers)), (DIMMING, bool(tables.shaded)),
             (CLOCKS, bool(tables.clocks)), (SCENES, bool(tables.scenes)), (GATES, bool(tables.gated)))  # fmt: skip
    rows = ((INPUT, RAM_INPUT, len(tables.hears)), (RULE, RAM_RULE, len(tables.answers)),
            (GATE, 0, len(tables.gated)), (SHADE, 0, len(tables.shaded)),
            (CLOCK, RAM_CLOCK, len(tables.clocks)))  # fmt: skip
    flash = HEARING + sum(size for size, there in parts if there) + sum(size * count for size, _, count in rows)
    return RAM + sum(ram * count for _, ram, count in rows), flash


def state_bytes(answers: Answers | None, boards: int) -> int:
    """How many bytes tell another board what inputs have made of the show: three for the value of each rule, four for
    each clock; none where nothing answers, or one board plays alone. [-]

    Args:
        answers: what the build answers to.
        boards: how many boards play. [-]
    """
    if answers is None or not answers.any or boards < 2:
        return 0
    return 3 * len(answers.tables.answers) + 4 * len(answers.tables.clocks)


def refuse_elsewhere(answers: Answers, board_ids: Sequence[str], titles: Mapping[str, str]) -> None:
    """Refuse inputs that nobody hears: those of a board that does not play first.

    Args:
        answers: what the build answers to.
        board_ids: the boards that play, in the order of the chain.
        titles: their names, by their ids.

    Raises:
        LanternError: there is such an input, or more rules than the boards can hand on.
    """
    if not answers.any or not board_ids:
        return
    for name, board_id in zip(answers.names, answers.boards, strict=True):
        if board_id != board_ids[0]:
            raise LanternError(
                f"{name} is not read by {titles[board_ids[0]]}, which counts the frames", "inputs", "the first board"
            )
    if state_bytes(answers, len(board_ids)) > MOST_STATE:
        raise LanternError("so many rules are too much to hand on", "rules", "fewer rules, or one board")
