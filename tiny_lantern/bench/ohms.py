"""What a meter reads in ohms with the supply off: only what conducts by its resistance counts."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import chain

import numpy as np
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.conducting import Coil, Conducting, Contact

Edge = tuple[str, str, float]
OPEN = 1e9


def passive(elements: Iterable[Element]) -> tuple[Edge, ...]:
    """Wires, resistors, fuses, connectors, coils and closed contacts: their two nodes and ohms. (n,)

    Args:
        elements: those of the circuit.
    """
    return tuple(
        (each.a, each.b, each.ohm)
        for each in elements
        if isinstance(each, (Conducting, Coil)) or (isinstance(each, Contact) and each.closed)
    )


def ohms_between(edges: tuple[Edge, ...], one: str, other: str) -> float:
    """The resistance between two nodes, 1e9 where no way leads from one to the other. [ohm]

    Args:
        edges: what conducts, from ``passive``.
        one: a node.
        other: another one.

    Source: nodal analysis; any circuits text.
    """
    if one == other:
        return 0.0
    number = {node: at for at, node in enumerate(dict.fromkeys(chain(*((a, b) for a, b, _ in edges))))}
    if one not in number or other not in number:
        return OPEN
    start = np.array([number[a] for a, _, _ in edges])
    end = np.array([number[b] for _, b, _ in edges])
    siemens = np.array([1 / ohm for _, _, ohm in edges])
    whole = coo_array((siemens, (start, end)), shape=(len(number), len(number)))
    _, part = connected_components(whole, directed=False)
    if part[number[one]] != part[number[other]]:
        return OPEN
    matrix = np.zeros(whole.shape)
    for row, column, sign in ((start, start, 1), (end, end, 1), (start, end, -1), (end, start, -1)):
        np.add.at(matrix, (row, column), sign * siemens)
    inside = np.flatnonzero(part == part[number[one]])
    inside = inside[inside != number[other]]
    injected = (inside == number[one]).astype(float)
    volts = np.linalg.solve(matrix[np.ix_(inside, inside)], injected)
    return float(volts @ injected)
