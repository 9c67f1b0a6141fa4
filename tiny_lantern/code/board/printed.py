"""The kinds of doing in the order in which they are printed, in whatever language."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import takewhile
from typing import Any

from tiny_lantern.code.board.doings import Chain, Dimmed, Doing, Doings, Held, Matrix, Pair, Switched, Turns
from tiny_lantern.code.board.kinds import chains, dimmed, dimming, held, matrices, pairs, switched, turns
from tiny_lantern.code.board.text import Text


def _all(row: Any) -> bool:
    return True


def _switches(row: Any) -> bool:
    return not _dims(row)


def _dims(row: Any) -> bool:
    return isinstance(row, Chain) and row.bits > 1


LOW = {False: "HIGH_WHILE_LIT", True: "LOW_WHILE_LIT"}


@dataclass(frozen=True)
class Printed:
    """A kind of doing as it is printed: which rows are its, its texts, and what its table and functions are called."""

    kind: type[Any]
    text: Text
    name: str
    type: str
    takes: Callable[[Any], bool] = _all

    def rows(self, doings: Doings) -> list[Any]:
        """Its rows.

        Args:
            doings: what a board does.
        """
        return [row for row in doings.of(self.kind) if self.takes(row)]


PARTS = (
    Printed(Switched, switched.TEXT, "switched", "switched_t"),
    Printed(Dimmed, dimmed.TEXT, "dimmed", "dimmed_t"),
    Printed(Chain, chains.TEXT, "chains", "chain_t", _switches),
    Printed(Chain, dimming.TEXT, "dimming", "chain_t", _dims),
    Printed(Matrix, matrices.TEXT, "matrices", "matrix_t"), Printed(Turns, turns.TEXT, "turns", "turns_t"),
    Printed(Pair, pairs.TEXT, "pairs", "pair_t"), Printed(Held, held.TEXT, "held", "held_t"),
)  # fmt: skip


def outputs_before(row: Doing, all_chains: Sequence[Chain]) -> int:
    """How many outputs of the table of outputs belong to chains before one; none of what is no chain. [-]

    Args:
        row: the chain.
        all_chains: all of them, in the order of the table.
    """
    before = takewhile(lambda chain: chain is not row, all_chains)
    return sum(len(chain.outputs) for chain in before) if isinstance(row, Chain) else 0
