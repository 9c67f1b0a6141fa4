"""Two ways to solve the nodal equations of a network whose pixels have some slope.

``BandedSystem`` keeps the strips as a symmetric band with two sub-diagonals and everything that is not a
neighbour (shared supplies, buses, far joints) as a small border, eliminated by its Schur complement.
``SparseSystem`` takes any network. Both give the same numbers; the banded one is several times cheaper.

SciPy is loaded by the first solve, not before the window is there: it takes as long to load as the window itself.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.batch import Solve
from tiny_lantern.electrical.network import GROUND, Network

if TYPE_CHECKING:
    from scipy.sparse import csc_array

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
WIDEST_BORDER = 48


class LinearSystem(Protocol):
    """Nodal equations ``(G + pixels) · x = b`` with the voltage of some nodes held."""

    def multiply(self, x: Floats) -> Floats:
        """``G · x`` of the copper alone. (n_nodes,) [A]

        Args:
            x: voltages of all nodes, (n_nodes,). [V]
        """
        ...

    def factor(self, pair_s: Floats) -> Solve:
        """A solver for given slopes of each pair of rail nodes [S]; from (n_nodes,) [A] to (n_nodes,) [V], or of many
        loads at once from (n_nodes, n_loads) to the same.

        Args:
            pair_s: slope of the law of each pair of rail nodes and of each element, (n_pairs + n_elements,). [S]
        """
        ...


def system_for(network: Network, held: Bools, supply_s: Floats) -> LinearSystem:
    """The cheaper system that fits the network.

    Args:
        network: the copper.
        held: whether each node's voltage is given, (n_nodes,). [-]
        supply_s: conductance from each node to a fixed voltage, (n_nodes,). [S]
    """
    border = _border(network)
    if np.count_nonzero(~held[border]) <= WIDEST_BORDER:
        return BandedSystem(network, held, supply_s, border)
    return SparseSystem(network, held, supply_s)


def _border(network: Network) -> Ints:
    """Nodes outside the band: buses, supplies, and the far end of a joint or an element between strips' nodes."""
    runs, links, elements = network.run_node_count, network.links, network.elements
    start, stop = np.concatenate([links.start, elements.neg]), np.concatenate([links.stop, elements.pos])
    between_runs = (start < runs) & (stop < runs) & (stop != GROUND) & (start != GROUND)
    beyond = np.arange(runs, network.node_count)
    return np.concatenate([np.unique(stop[between_runs]), beyond]) if between_runs.any() else beyond


class _Copper:
    """What both systems share: the copper's own matrix, applied branch by branch."""

    def __init__(self, network: Network, held: Bools, supply_s: Floats) -> None:
        self.count, self.runs = network.node_count, network.run_node_count
        self.held, self.supply_s = held, supply_s
        self.rail_s, self.pairs, self.elements = network.rail_s, network.pair_count, network.elements
        grounded = network.links.stop == GROUND
        self.start, self.stop = network.links.start[~grounded], network.links.stop[~grounded]
        self.siemens = network.links.siemens[~grounded]
        self._ground_s = supply_s.copy()
        np.add.at(self._ground_s, network.links.start[grounded], network.links.siemens[grounded])
        self.diagonal = self._ground_s.copy()
        self.diagonal[: self.runs - 2] += self.rail_s
        self.diagonal[2 : self.runs] += self.rail_s
        np.add.at(self.diagonal, self.start, self.siemens)
        np.add.at(self.diagonal, self.stop, self.siemens)

    def multiply(self, x: Floats) -> Floats:
        """``G · x``, summed from branch currents so that equal voltages cancel exactly. (n_nodes,) [A]

        Args:
            x: voltages of all nodes, (n_nodes,). [V]
        """
        found = self._ground_s * x
        flow = (x[: self.runs - 2] - x[2 : self.runs]) * self.rail_s
        found[: self.runs - 2] += flow
        found[2 : self.runs] -= flow
        flow = (x[self.start] - x[self.stop]) * self.siemens
        np.add.at(found, self.start, flow)
        np.subtract.at(found, self.stop, flow)
        return found


class BandedSystem(_Copper):
    """A band of the strips with a dense border."""

    def __init__(self, network: Network, held: Bools, supply_s: Floats, border: Ints) -> None:
        super().__init__(network, held, supply_s)
        self.border = border[~held[border]]
        self.in_runs = border[border < self.runs]
        self.band = np.zeros((3, self.runs), order="F")
        self.band[0] = self.diagonal[: self.runs]
        self.band[2, :-2] = -self.rail_s
        self._couple()

    def _couple(self) -> None:
        """Fill the coupling of band to border, (n_band, n_border), and the border's own square."""
        number = self.number = np.full(self.count, -1)
        number[self.border] = np.arange(len(self.border))
        self.coupling = np.zeros((self.runs, len(self.border)), order="F")
        self.square = np.diag(self.diagonal[self.border])
        for node in self.in_runs:
            self._lift_out(int(node), int(number[node]))
        for one, other in ((self.start, self.stop), (self.stop, self.start)):
            row, column = number[one], number[other]
            both = (row >= 0) & (column >= 0)
            np.add.at(self.square, (row[both], column[both]), -self.siemens[both])
            mixed = (row >= 0) & (column < 0) & (other < self.runs)
            np.add.at(self.coupling, (other[mixed], row[mixed]), -self.siemens[mixed])

    def _lift_out(self, node: int, number: int) -> None:
        """Move one rail node from the band to the border, its neighbours' coupling with it."""
        for neighbour, rail in ((node - 2, node - 2), (node + 2, node)):
            if 0 <= rail < self.runs - 2 and self.rail_s[rail]:
                self.coupling[neighbour, number] -= self.rail_s[rail]
                self.band[2, rail] = 0.0
        self.band[0, node] = 1.0

    def factor(self, pair_s: Floats) -> Solve:
        """See ``LinearSystem``; Cholesky of the band, then the Schur complement of the border.

        Args:
            pair_s: slope of the law of each pair of rail nodes and of each element, (n_pairs + n_elements,). [S]
        """
        from scipy.linalg.lapack import dpbtrf, dpbtrs, dpotrf, dpotrs

        band, coupling, square = self._with_slopes(pair_s)
        cholesky = _positive(dpbtrf(band, lower=1, overwrite_ab=1))
        if not len(self.border):
            return lambda right: self._inside(cholesky, right)
        through = dpbtrs(cholesky, coupling, lower=1)[0]
        schur = _positive(dpotrf(square - coupling.T @ through, lower=1))

        def solve(right: Floats) -> Floats:
            found = self._inside(cholesky, right)
            ends = dpotrs(schur, right[self.border] - coupling.T @ found[: self.runs], lower=1)[0]
            found[: self.runs] -= through @ ends
            found[self.border] = ends
            return found

        return solve

    def _with_slopes(self, pair_s: Floats) -> tuple[Floats, Floats, Floats]:
        """Band, coupling and border's square with the slopes of all laws in them. [S]"""
        band, own = self.band.copy(order="F"), pair_s[: self.pairs]
        alone = [(pair, (2 * pair, 2 * pair + 1)) for pair in np.unique(self.in_runs // 2).tolist() if pair_s[pair]]
        elements = enumerate(zip(self.elements.pos.tolist(), self.elements.neg.tolist(), strict=True), self.pairs)
        alone += [(at, ends) for at, ends in elements if pair_s[at]]
        if len(self.in_runs):
            own = own.copy()
            own[self.in_runs // 2] = 0.0
        band[0, 0::2] += own
        band[0, 1::2] += own
        band[1, 0::2] -= own
        if not alone:
            return band, self.coupling, self.square
        coupling, square = self.coupling.copy(order="F"), self.square.copy()
        for at, ends in alone:
            self._put_element(band, coupling, square, [end for end in ends if end != GROUND], float(pair_s[at]))
        return band, coupling, square

    def _put_element(self, band: Floats, coupling: Floats, square: Floats, ends: list[int], siemens: float) -> None:
        """Add one slope whose ends do not both lie in the band."""
        places = [int(self.number[end]) for end in ends]
        for end, place in zip(ends, places, strict=True):
            if place >= 0:
                square[place, place] += siemens
            elif end < self.runs:
                band[0, end] += siemens
        if len(ends) == 2 and min(places) >= 0:
            square[places[0], places[1]] -= siemens
            square[places[1], places[0]] -= siemens
        elif len(ends) == 2 and max(places) >= 0:
            lone = places.index(min(places))
            if ends[lone] < self.runs:
                coupling[ends[lone], max(places)] -= siemens

    def _inside(self, cholesky: Floats, right: Floats) -> Floats:
        """The solution with the border held at zero. (n_nodes,) [V]"""
        from scipy.linalg.lapack import dpbtrs

        inside = right[: self.runs].copy(order="F")
        inside[self.in_runs] = 0
        found = np.zeros_like(right)
        found[: self.runs] = dpbtrs(cholesky, inside, lower=1, overwrite_b=1)[0]
        return found


def _positive(factored: tuple[Floats, int]) -> Floats:
    """A Cholesky factor, which a fed network always has."""
    factor, fault = factored
    if fault:
        raise ArithmeticError("the nodal matrix is singular: a piece of copper floats")
    return factor


class SparseSystem(_Copper):
    """The whole matrix, factored by a general sparse method."""

    def matrix(self, pair_s: Floats) -> csc_array:
        """The nodal matrix of the free nodes with the pixels' slopes in it. (n_free, n_free) [S]

        Args:
            pair_s: slope of the law of each pair of rail nodes and of each element, (n_pairs + n_elements,). [S]
        """
        from scipy.sparse import coo_array, csc_array

        nodes, rails = np.arange(self.count), np.arange(self.runs - 2)
        pos = np.concatenate([np.arange(0, self.runs, 2), self.elements.pos])
        neg = np.concatenate([np.arange(1, self.runs, 2), self.elements.neg])
        rows = np.concatenate([nodes, rails, rails + 2, self.start, self.stop, pos, neg, pos, neg])
        columns = np.concatenate([nodes, rails + 2, rails, self.stop, self.start, pos, neg, neg, pos])
        sides = [-self.rail_s, -self.rail_s, -self.siemens, -self.siemens, pair_s, pair_s, -pair_s, -pair_s]
        values = np.concatenate([self.diagonal, *sides])
        free = np.flatnonzero(~self.held)
        tied = (rows != GROUND) & (columns != GROUND)
        places = (rows[tied], columns[tied])
        whole = csc_array(coo_array((values[tied], places), shape=(self.count, self.count)))
        return csc_array(whole[free][:, free])

    def factor(self, pair_s: Floats) -> Solve:
        """See ``LinearSystem``; sparse LU of the nodes that are free.

        Args:
            pair_s: slope of the law of each pair of rail nodes and of each element, (n_pairs + n_elements,). [S]
        """
        from scipy.sparse.linalg import splu

        free = np.flatnonzero(~self.held)
        factors = splu(self.matrix(pair_s))

        def solve(right: Floats) -> Floats:
            found = np.zeros_like(right)
            found[free] = factors.solve(np.asfortranarray(right[free]))
            return found

        return solve
