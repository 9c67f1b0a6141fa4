"""What each way to tie the shared leads of a group of lamps takes, and what its lamps lose by it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from tiny_lantern.circuit.drive import Wired, solve_lit, wired
from tiny_lantern.circuit.equations import NotSolvedError
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_pieces import change_piece
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.quantities import metres

DARK_A = 1e-6
TIES = {"star": "each from the rail", "along": "from lamp to lamp", "board": "from a board among them"}


@dataclass(frozen=True)
class Tied:
    """One way to tie a group: the metres of wire of its whole driver, their ends, how many go through passages, and
    what the lamp that gets least has of its current with wires of no resistance. [m] [-]"""

    tie: str
    wire_m: float
    ends: int
    through: int
    least_share: float

    def beside(self, now: Tied) -> str:
        """What it takes more or less than the way that is wired now.

        Args:
            now: that way.
        """
        if self == now:
            return f"{metres(self.wire_m)} of wire, {self.ends} ends"
        count = "{:.0f}".format
        words = [_more(self.wire_m - now.wire_m, metres, "of wire"), _more(self.ends - now.ends, count, "ends")]
        if self.through != now.through:
            words.append(_more(self.through - now.through, count, "through passages"))
        words.append(f"dimmest {self.least_share:.1%}")
        return ", ".join(words)


def _more(amount: float, told: Callable[[float], str], what: str) -> str:
    return f"{'+' if amount >= 0 else '−'}{told(abs(amount))} {what}"


def ties_of(
    build: Build, piece_id: str, progress: Callable[[float], None] = lambda _: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> tuple[Tied, ...]:  # fmt: skip
    """Every way to tie a group of lamps, each solved on its build; none of a piece that is not wired lamp by lamp, or
    whose circuit has no solution.

    Args:
        build: the build.
        piece_id: the group.
        progress: told how far it is. [-]
        cancelled: asked whether to stop.
    """
    if not can_be_tied(build, piece_id):
        return ()
    found = []
    for number, tie in enumerate(TIES):
        if cancelled():
            return ()
        tried = tie_piece(build, piece_id, tie)
        try:
            found.append(_tied(tried, wired(tried), piece_id, tie))
        except NotSolvedError:
            return ()
        progress((number + 1) / len(TIES))
    return tuple(found)


def can_be_tied(build: Build, piece_id: str) -> bool:
    """Whether a piece is several lamps whose shared leads are wired one by one.

    Args:
        build: the build.
        piece_id: the piece.
    """
    piece = build.line.piece(piece_id)
    driven = any(ref.piece_id == piece_id for channel in build.channels for ref in channel.slots)
    return driven and isinstance(piece, LampGroup) and piece.wired == "apart" and piece.lamp_count > 1


def tie_piece(build: Build, piece_id: str, tie: str) -> Build:
    """The build with a group of lamps tied in a way.

    Args:
        build: the build.
        piece_id: the group.
        tie: the way, one of ``TIES``.

    Raises:
        LanternError: there is no such way.
    """
    return change_piece(build, piece_id, tie=tie)


def _tied(build: Build, found: Wired, piece_id: str, tie: str) -> Tied:
    own = [channel for channel in build.channels if channel.slots[0].piece_id == piece_id]
    drivers = {channel.driver_id for channel in own}
    rows = [row for row in found.circuit.conductors if row.driver_id in drivers and not row.licensed]
    ideal_a = solve_lit(build, found.circuit, 0.0).channel_a
    outputs = [(channel.driver_id, channel.output) for channel in own]
    shares = [found.lit.channel_a[each] / ideal_a[each] for each in outputs if ideal_a.get(each, 0.0) > DARK_A]
    through = sum(bool(row.passage) for row in rows)
    return Tied(tie, sum(row.cut_m for row in rows), 2 * len(rows), through, min(shares, default=1.0))
