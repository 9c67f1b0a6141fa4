"""A line of joined strips at the design corner, and its voltages for many choices of feeds at once.

Where every lit channel conducts, a pixel draws a constant plus a slope times its voltage, so one choice of places is
one linear ladder. Many choices are solved together as one long band: two tridiagonal ones, positive and return apart,
where pixels hold their current and the rails do not feel each other, else one of two sub-diagonals.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.linalg.lapack import dpbsv, dptsv

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]


@dataclass(frozen=True)
class Draw:
    """What the pixels ask for: current ``slope_s · v + fixed_a`` at each rail node, zero where there is no pixel.
    Each (n_nodes,). [S] [A]"""

    slope_s: Floats
    fixed_a: Floats

    @cached_property
    def held(self) -> bool:
        """Whether no current depends on the voltage."""
        return not self.slope_s.any()


@dataclass(frozen=True)
class Ladder:
    """A line of runs joined end to start, every figure at the design corner.

    Nodes are the rail nodes of all runs in order: start, pixels, end. ``pos_ohm`` and ``neg_ohm`` lead from each node
    to the next, (n_nodes − 1,), infinite at a cut; ``out_ohm`` and ``back_ohm`` are the conductors of a feed at each
    node, (n_nodes,); ``supply`` is the supply that such a feed hangs on, ``open_v`` and ``output_ohm`` that supply's
    own, (n_supplies,). ``place_m`` is along the line. [ohm] [V] [m]
    """

    run: Ints
    node: Ints
    place_m: Floats
    pixel: Bools
    pos_ohm: Floats
    neg_ohm: Floats
    out_ohm: Floats
    back_ohm: Floats
    supply: Ints
    open_v: Floats
    output_ohm: Floats

    @property
    def size(self) -> int:
        """Rail nodes of one side. [-]"""
        return len(self.place_m)

    @cached_property
    def pos_s(self) -> Floats:
        """Conductance of the positive rail from each node to the next, zero at a cut. (n_nodes − 1,) [S]"""
        return 1 / self.pos_ohm

    @cached_property
    def neg_s(self) -> Floats:
        """Conductance of the return rail from each node to the next. (n_nodes − 1,) [S]"""
        return 1 / self.neg_ohm

    @cached_property
    def piece(self) -> Ints:
        """Which piece of positive rail each node is on, from 0. (n_nodes,)"""
        return np.concatenate([[0], np.cumsum(np.isinf(self.pos_ohm))]).astype(np.int64)

    @property
    def pieces(self) -> int:
        """Pieces of positive rail. [-]"""
        return int(self.piece[-1]) + 1

    def feeds_every_piece(self, plans: Ints) -> Bools:
        """Whether each plan, (n_plans, n_feeds) nodes rising, has a feed on every piece. (n_plans,)

        Args:
            plans: nodes of the ladder, rising along each row, (n_plans, n_feeds). [-]
        """
        piece = self.piece[plans]
        steps = np.diff(piece, axis=1)
        return np.asarray((piece[:, 0] == 0) & (piece[:, -1] == self.pieces - 1) & (steps <= 1).all(axis=1))

    def solve(self, plans: Ints, draw: Draw) -> tuple[Floats, Floats, Floats]:
        """Voltages of positive and return nodes, (n_plans, n_nodes) each, and terminals, (n_plans, n_supplies). [V]

        Args:
            plans: nodes to feed, rising along each row, every piece fed, (n_plans, n_feeds). [-]
            draw: what the pixels ask for.
        """
        soft = np.flatnonzero(self.output_ohm > 0)
        out_s, back_s = 1 / self.out_ohm[plans], 1 / self.back_ohm[plans]
        supply = self.supply[plans]
        stiff_v = np.where(self.output_ohm > 0, 0.0, self.open_v)
        shape = (len(plans), self.size)
        rows = np.arange(len(plans))[:, None]
        pos_right = np.zeros((1 + len(soft), *shape))
        neg_right = np.zeros((1 + len(soft), *shape))
        pos_right[0] = -draw.fixed_a
        neg_right[0] = draw.fixed_a
        pos_right[0, rows, plans] += out_s * stiff_v[supply]
        for column, number in enumerate(soft, 1):
            pos_right[column, rows, plans] = out_s * (supply == number)
        pos_diagonal, neg_diagonal = np.zeros(shape), np.zeros(shape)
        for diagonal, siemens in ((pos_diagonal, self.pos_s), (neg_diagonal, self.neg_s)):
            diagonal[:, :-1] += siemens
            diagonal[:, 1:] += siemens
        pos_diagonal[rows, plans] += out_s
        neg_diagonal[rows, plans] += back_s
        if draw.held:
            pos = _tridiagonal(pos_diagonal, self.pos_s, pos_right)
            neg = _tridiagonal(neg_diagonal, self.neg_s, neg_right[:1])
        else:
            pos, neg = self._coupled(pos_diagonal, neg_diagonal, pos_right, neg_right, draw)
        return self._with_terminals(plans, soft, out_s, supply, pos, neg)

    def _coupled(
        self, pos_diagonal: Floats, neg_diagonal: Floats, pos_right: Floats, neg_right: Floats, draw: Draw
    ) -> tuple[Floats, Floats]:
        """Both rails together where the pixels' currents depend on the voltage between them."""
        plans, size = pos_diagonal.shape
        band = np.zeros((3, plans, size, 2))
        band[0, :, :, 0] = pos_diagonal + draw.slope_s
        band[0, :, :, 1] = neg_diagonal + draw.slope_s
        band[1, :, :, 0] = -draw.slope_s
        band[2, :, :-1, 0] = -self.pos_s
        band[2, :, :-1, 1] = -self.neg_s
        right = np.stack([pos_right, neg_right], axis=-1).reshape(len(pos_right), -1)
        found = _positive(dpbsv(np.asfortranarray(band.reshape(3, -1)), right.T, lower=1, overwrite_ab=1))
        both = found.T.reshape(len(pos_right), plans, size, 2)
        return both[..., 0], both[..., 1]

    def _with_terminals(
        self, plans: Ints, soft: Ints, out_s: Floats, supply: Ints, pos: Floats, neg: Floats
    ) -> tuple[Floats, Floats, Floats]:
        """Find the terminals of supplies with an output resistance: ``T + R·I(T) = E``  (1)."""
        terminal = np.repeat(self.open_v[None], len(plans), axis=0)
        if not len(soft):
            return pos[0], neg[0], terminal
        rows = np.arange(len(plans))[:, None]
        matrix = np.zeros((len(plans), len(soft), len(soft)))
        right = np.repeat(self.open_v[soft][None], len(plans), axis=0)
        for row, number in enumerate(soft):
            own = out_s * (supply == number)
            matrix[:, row, row] = 1 + self.output_ohm[number] * own.sum(axis=1)
            right[:, row] += self.output_ohm[number] * (own * pos[0][rows, plans]).sum(axis=1)
            for column in range(len(soft)):
                reaction = (own * pos[1 + column][rows, plans]).sum(axis=1)
                matrix[:, row, column] -= self.output_ohm[number] * reaction
        found = np.linalg.solve(matrix, right[..., None])[..., 0]  # (1)
        terminal[:, soft] = found
        weights = found.T[:, :, None]
        pos_v = pos[0] + (weights * pos[1:]).sum(axis=0)
        neg_v = neg[0] + (weights * neg[1:]).sum(axis=0) if len(neg) > 1 else neg[0]
        return pos_v, neg_v, terminal


def _tridiagonal(diagonal: Floats, siemens: Floats, right: Floats) -> Floats:
    """Solve all plans' ladders of one rail as one; (n_right, n_plans, n_nodes) to the same."""
    plans, size = diagonal.shape
    beside = np.zeros((plans, size))
    beside[:, :-1] = -siemens
    found = _positive_pair(dptsv(diagonal.ravel(), beside.ravel()[:-1], right.reshape(len(right), -1).T))
    return found.T.reshape(right.shape)


def _positive_pair(solved: tuple[Floats, Floats, Floats, int]) -> Floats:
    *_, found, fault = solved
    if fault:
        raise ArithmeticError("a piece of the line floats")
    return found


def _positive(solved: tuple[Floats, Floats, int]) -> Floats:
    _, found, fault = solved
    if fault:
        raise ArithmeticError("a piece of the line floats")
    return found
