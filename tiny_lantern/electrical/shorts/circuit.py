"""Currents of a short at many places of one piece of positive copper, for given fuses and supplies.

The unknowns are the outgoing currents of the piece's own feeds, the supplies' terminals, and the piece's level. The
return side and other pieces between the same supplies are passive and stand in it as resistances. For one set of fuses
and states the equations are linear, so one factorisation serves every place that has come to that set: the current of
the short is the voltage across it while open over what the copper between shows (Thévenin's theorem).
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.batch import Batch
from tiny_lantern.electrical.shorts.flow import Flow
from tiny_lantern.electrical.shorts.sides import Places, Side
from tiny_lantern.electrical.shorts.sources import Answer, Source, consistent_states

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
LEVEL_S = 1.0


@dataclass(frozen=True)
class Wires:
    """The feeds of a build: supply, resistance out and back [ohm], and fuse rating (infinite without) [A].
    (n_feeds,)"""

    supply: Ints
    out_ohm: Floats
    back_ohm: Floats
    fuse_a: Floats
    piece: Ints

    @cached_property
    def by_piece(self) -> dict[int, Ints]:
        """Feeds of each piece of positive copper that has any."""
        order = np.argsort(self.piece, kind="stable")
        groups = np.split(order, np.flatnonzero(np.diff(self.piece[order])) + 1) if len(order) else []
        return {int(self.piece[group[0]]): group for group in groups}

    @cached_property
    def tying(self) -> Ints:
        """Feeds on pieces of positive copper that have feeds from two supplies or more."""
        groups = [group for group in self.by_piece.values() if len(np.unique(self.supply[group])) > 1]
        return np.sort(np.concatenate(groups)) if groups else np.zeros(0, np.int64)


class Circuit:
    """Everything about shorts on one piece of positive copper that does not depend on fuses and supplies.

    Args:
        sides: positive and return side of the copper.
        wires: the feeds.
        sources: the supplies.
        piece: number of the positive piece.
        run_of: of each place its run, (n_places,).
        nodes: of each place its rail node, (n_places,).
        short_ohm: resistance of the short. [ohm]
    """

    def __init__(
        self, sides: tuple[Side, Side], wires: Wires, sources: tuple[Source, ...], piece: int, run_of: Ints,
        nodes: Ints, short_ohm: float = 0.0,
    ) -> None:  # fmt: skip
        self.pos, self.neg = sides
        self.wires, self.sources, self.piece, self.short_ohm = wires, sources, piece, short_ohm
        self.run_of, self.nodes = run_of, nodes
        self.own, self.far, self.supplies = _relevant(wires, piece)
        self.places = _on_runs(self.pos, run_of, nodes)
        self.neg_places = _on_runs(self.neg, run_of, nodes)
        self.neg_piece = int(self.neg.piece[self.neg_places.left[0]])
        self.back = np.flatnonzero(self.neg.piece[self.neg.taps] == self.neg_piece)
        self.reach = self.pos.between(piece, self.pos.taps[self.own], self.places)
        self.own_ohm = self.pos.own(piece, self.places)
        self._return_side()

    @cached_property
    def columns(self) -> Ints:
        """The feeds whose outgoing current is followed: the piece's own, then those between its supplies."""
        return np.concatenate([self.own, self.far])

    @property
    def grounded(self) -> bool:
        """Whether the return copper has a way to the common negative."""
        return len(self.back) > 0

    @cached_property
    def likeness(self) -> tuple[object, ...] | None:
        """What two circuits share whose shorts go alike; None for one that hangs together with other pieces."""
        if len(self.far):
            return None
        arrays = (
            self.reach, self.own_ohm, self.back_share, self.return_ohm, self.wires.out_ohm[self.own],
            self.wires.fuse_a[self.own], self.supply_columns(self.own), self.places.stretch < 0,
        )  # fmt: skip
        return (tuple(self.sources[number] for number in self.supplies), *(array.tobytes() for array in arrays))

    def _return_side(self) -> None:
        """Share of the short's current in each return wire, (n_back, n), and what the return shows, (n,). [ohm]"""
        count = len(self.back)
        reach = self.neg.between(self.neg_piece, self.neg.taps[self.back], self.neg_places)
        own = self.neg.own(self.neg_piece, self.neg_places)
        matrix = np.zeros((count + 1, count + 1))
        local = self.neg.local[self.neg.taps[self.back]]
        matrix[:count, :count] = self.neg.ohms[self.neg_piece][np.ix_(local, local)]
        matrix[:count, :count] += np.diag(self.wires.back_ohm[self.back])
        matrix[:count, count] = -1.0
        matrix[count, :count] = 1.0
        if not count:
            self.back_share, self.return_ohm = np.zeros((0, len(self.nodes))), np.zeros(len(self.nodes))
            return
        right = np.vstack([reach, np.ones(len(self.nodes))])
        found = np.asarray(np.linalg.solve(matrix, right), np.float64)
        self.back_share = found[:count]
        self.return_ohm = own - (reach * self.back_share).sum(axis=0) + found[count]

    @cached_property
    def _far_groups(self) -> list[tuple[Ints, Ints]]:
        """Pieces between the supplies: positions of their feeds among ``far``, and those feeds."""
        pieces = self.pos.piece[self.pos.taps[self.far]]
        return [(np.flatnonzero(pieces == piece), self.far[pieces == piece]) for piece in np.unique(pieces)]

    def far_response(self, whole: Bools) -> Floats:
        """Current of each feed on other pieces for one volt at each supply's terminal. (n_far, n_supplies) [S]

        Args:
            whole: whether the fuse of each such feed is whole, (n_far,). [-]
        """
        found = np.zeros((len(self.far), len(self.supplies)))
        for positions, feeds in self._far_groups:
            kept = whole[positions]
            positions, feeds = positions[kept], feeds[kept]
            if not len(feeds):
                continue
            matrix, right = self._own_equations(feeds)
            found[positions] = np.linalg.solve(matrix, right)[: len(feeds)]
        return found

    def _own_equations(self, feeds: Ints) -> tuple[Floats, Floats]:
        """Equations of one piece's feeds and its level, ``R·i + Z·i + u = T, Σi = 0``, for unit terminals T."""
        count = len(feeds)
        taps = self.pos.taps[feeds]
        piece = int(self.pos.piece[taps[0]])
        local = self.pos.local[taps]
        matrix = np.zeros((count + 1, count + 1))
        matrix[:count, :count] = self.pos.ohms[piece][np.ix_(local, local)] + np.diag(self.wires.out_ohm[feeds])
        matrix[:count, count] = 1.0
        matrix[count, :count] = 1.0
        right = np.zeros((count + 1, len(self.supplies)))
        right[np.arange(count), self.supply_columns(feeds)] = 1.0
        return matrix, right

    def supply_columns(self, feeds: Ints) -> Ints:
        """Of each feed the place of its supply among the circuit's supplies.

        Args:
            feeds: numbers of feeds, (n_feeds,). [-]
        """
        return np.searchsorted(self.supplies, self.wires.supply[feeds])

    def flow(self, at: Ints, whole: Bools, stopped: Bools, limited: Bools, answers: NDArray[np.int8]) -> Flow:
        """Solve for some places that share fuses and stopped supplies, each with its own consistent answers.

        Args:
            at: the places, (n,). [-]
            whole: whether each followed feed's fuse is whole, (n_own + n_far,). [-]
            stopped: whether each supply has shut down, (n_supplies,). [-]
            limited: whether each supply keeps its limit, (n_supplies,). [-]
            answers: answers of the supplies to begin from, (n, n_supplies). [-]
        """
        sources = [self.sources[number] for number in self.supplies]
        return consistent_states(
            sources, stopped, limited, answers,
            lambda rows, chosen: self._solve(at[rows], whole, chosen),
        )  # fmt: skip

    def _solve(self, at: Ints, whole: Bools, answers: NDArray[np.int8]) -> Flow:
        """Solve for places that share everything; a floating supply's terminal makes it take its normal answer up."""
        count, supplies = len(self.own), len(self.supplies)
        size = count + supplies + 1
        own_whole, far_whole = whole[:count], whole[count:]
        far = self.far_response(far_whole)
        normal = answers == Answer.NORMAL
        parts = self._parts(own_whole, far_whole)
        fed = parts == parts[supplies]
        levelled = not (normal & fed[:supplies]).any()
        matrix, right = np.zeros((size, size)), np.zeros(size)
        level = size - 1
        local = self.pos.local[self.pos.taps[self.own]]
        ohms = self.pos.ohms[self.piece][np.ix_(local, local)]
        columns = self.supply_columns(self.own)
        feeds = np.arange(count)
        matrix[:count, :count] = np.where(
            own_whole[:, None], -ohms - np.diag(self.wires.out_ohm[self.own]), np.eye(count)
        )
        matrix[feeds, count + columns] = own_whole
        matrix[feeds, level] = -1.0 * own_whole
        given = np.zeros((supplies, size))
        np.add.at(given, (columns, feeds), 1.0)
        given[:, count : count + supplies] += self._far_currents(far)
        floating = np.zeros(supplies, bool)
        for number, source in enumerate(self.sources[s] for s in self.supplies):
            row = count + number
            if answers[number] == Answer.NORMAL:
                matrix[row] = source.output_ohm * given[number]
                matrix[row, count + number] += 1.0
                right[row] = source.open_v
            else:
                matrix[row] = given[number]
                right[row] = source.limit_a if answers[number] == Answer.HOLDING else 0.0
        for part in np.unique(parts[:supplies]):
            members = np.flatnonzero(parts[:supplies] == part)
            if part != parts[supplies] and not normal[members].any():
                floating[members] = True
                matrix[count + members[0]] = 0.0
                matrix[count + members[0], count + members[0]] = 1.0
                right[count + members[0]] = 0.0
        matrix[level, :count] = own_whole
        if levelled:
            matrix[level, level] = -LEVEL_S
        if levelled and not self.grounded:
            floating |= fed[:supplies]
        return self._at_places(at, matrix, right, own_whole, far, given, levelled, floating, answers)

    def _at_places(
        self, at: Ints, matrix: Floats, right: Floats, own_whole: Bools, far: Floats, given: Floats, levelled: bool,
        floating: Bools, answers: NDArray[np.int8],
    ) -> Flow:  # fmt: skip
        """Draw one ampere at each place, all of them at once; the short then carries ``I = V_open / R_seen``, the level
        found beside it."""
        count, supplies, level = len(self.own), len(self.supplies), len(right) - 1
        reach = self.reach[:, at] * own_whole[:, None]
        batch = Batch.dense(matrix, right)
        moved = batch.response(np.eye(len(right))[:, [*range(count), level]])
        rest, drawn, lift = batch.rest, moved[:, [count]] - moved[:, :count] @ reach, -moved[:, count]
        pos_rest = rest[level] + rest[:count] @ reach
        pos_drawn = drawn[level] + (drawn[:count] * reach).sum(axis=0) - self.own_ohm[at]
        pos_lift = lift[level] + lift[:count] @ reach
        seen = pos_drawn - self.return_ohm[at] - self.short_ohm
        short, raised = np.zeros(len(at)), np.zeros(len(at))
        if not self.grounded:
            if levelled and abs(1 - lift[level]) > 1e-9:
                raised[:] = rest[level] / (1 - lift[level])
        elif not levelled:
            short = -pos_rest / seen
        else:
            down, across = -drawn[level], 1 - lift[level]
            scale = seen * across - pos_lift * down
            short = (-pos_rest * across - pos_lift * rest[level]) / scale
            raised = (seen * rest[level] + down * pos_rest) / scale
        found = rest[:, None] + drawn * short + lift[:, None] * raised
        terminal = found[count : count + supplies].T
        tied = self.grounded or not levelled
        neg_v = self.return_ohm[at] * short if self.grounded else np.full(len(at), np.nan)
        pos_v = pos_rest + pos_drawn * short + pos_lift * raised
        if not tied:
            pos_v = np.full(len(at), np.nan)
        elif not self.grounded:
            neg_v = pos_v
        answered = np.where(answers == Answer.STOPPED, np.nan, np.where(answers == Answer.HOLDING, np.inf, -np.inf))
        return Flow(
            found[:count].T, terminal @ far.T, (self.back_share[:, at] * short).T, (given @ found).T,
            np.where(floating, answered, terminal), short, pos_v, neg_v, np.repeat(answers[None], len(at), axis=0),
        )  # fmt: skip

    def reached_by(self, whole: Bools, stopped: Bools) -> bool:
        """Whether a supply that has shut down still reaches the piece through whole fuses and other copper.

        Args:
            whole: whether each followed feed's fuse is whole, (n_own + n_far,). [-]
            stopped: whether each supply has shut down, (n_supplies,). [-]
        """
        parts = self._parts(whole[: len(self.own)], whole[len(self.own) :])
        return bool((stopped & (parts[:-1] == parts[-1])).any())

    def _far_currents(self, far: Floats) -> Floats:
        """What the feeds on other pieces take from each supply for one volt at each terminal. (n_supplies,
        n_supplies)"""
        found = np.zeros((len(self.supplies), len(self.supplies)))
        np.add.at(found, self.supply_columns(self.far), far)
        return found

    def _parts(self, own_whole: Bools, far_whole: Bools) -> Ints:
        """Which supplies, and last the piece itself, whole feeds tie together: the number of each one's part."""
        supplies = len(self.supplies)
        part = np.arange(supplies + 1)
        ties = [self.supply_columns(self.own[own_whole])]
        ties += [self.supply_columns(feeds[far_whole[positions]]) for positions, feeds in self._far_groups]
        for number, members in enumerate(ties):
            joined = np.unique(np.append(members, supplies) if number == 0 else members)
            if len(joined) > 1:
                names = np.unique(part[joined])
                part[np.isin(part, names)] = names[-1]
        return part


def _on_runs(side: Side, run_of: Ints, nodes: Ints) -> Places:
    """Places on several runs together."""
    found = [side.places(int(run), nodes[run_of == run]) for run in np.unique(run_of)]
    order = np.concatenate([np.flatnonzero(run_of == run) for run in np.unique(run_of)])
    back = np.argsort(order)
    names = ("left", "right", "share", "ohm", "stretch")
    return Places(*(np.concatenate([getattr(each, name) for each in found])[back] for name in names))


def _relevant(wires: Wires, piece: int) -> tuple[Ints, Ints, Ints]:
    """The piece's own feeds, the feeds on other pieces that lie between supplies it can reach, and those supplies."""
    own = wires.by_piece.get(piece, np.zeros(0, np.int64))
    reached = np.unique(wires.supply[own])
    others = wires.tying[wires.piece[wires.tying] != piece]
    far: Ints = np.zeros(0, np.int64)
    while len(others):
        touched = np.unique(wires.piece[others[np.isin(wires.supply[others], reached)]])
        far = others[np.isin(wires.piece[others], touched)]
        wider = np.union1d(reached, wires.supply[far])
        if len(wider) == len(reached):
            break
        reached = wider
    return own, far, reached
