"""One shared node that a source feeds through a resistance and that several branches draw on.

Each branch draws nothing up to its foot, then rises with its resistance, and may be held at a most.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def branch_currents(node_v: float, foot_v: Floats, branch_ohm: Floats, most_a: Floats | float = np.inf) -> Floats:
    """Current of each branch at a node voltage: ``clip((u − foot) / R, 0, most)``  (1). (n,) [A]

    Args:
        node_v: voltage of the node. [V]
        foot_v: where each branch begins to draw, (n,). [V]
        branch_ohm: resistance of each branch, (n,). [ohm]
        most_a: what holds each branch's current, (n,) or one for all. [A]

    Source: piecewise linear circuit elements.
    """
    return np.clip((node_v - foot_v) / branch_ohm, 0.0, most_a)  # (1)


def settled_v(
    source_v: float, source_ohm: float, foot_v: Floats, branch_ohm: Floats, most_a: Floats | float = np.inf
) -> float:
    """The voltage at which a node settles between its source and its branches. [V]

    What the branches draw rises with the node's voltage in straight pieces, and what the source gives falls along a
    straight line; between two corners of the pieces both are straight and meet exactly:
    ``(V − u) / R = Σ I_j(u)``  (1).

    Args:
        source_v: open voltage of the source. [V]
        source_ohm: resistance between the source and the node. [ohm]
        foot_v: where each branch begins to draw, (n,). [V]
        branch_ohm: resistance of each branch, (n,). [ohm]
        most_a: what holds each branch's current, (n,) or one for all. [A]

    Source: nodal analysis; any circuits text.
    """
    if source_ohm <= 0 or not len(foot_v):
        return source_v
    held = np.broadcast_to(most_a, foot_v.shape)
    tops = (foot_v + branch_ohm * held)[np.isfinite(held)]
    corners = np.unique(np.concatenate([foot_v, tops, [source_v]]))
    corners = corners[corners <= source_v]
    over = [_excess(float(at), source_v, source_ohm, foot_v, branch_ohm, held) for at in corners]
    at = int(
        np.argmax(np.array(over) >= 0)
    )  # the source's own voltage is a corner, and there the excess is not below 0
    if at == 0:
        return source_v if len(corners) == 1 else float(corners[0])
    low_v, high_v, low, high = corners[at - 1], corners[at], over[at - 1], over[at]
    return float(low_v - low * (high_v - low_v) / (high - low))  # (1)


def _excess(at: float, source_v: float, source_ohm: float, foot_v: Floats, branch_ohm: Floats, held: Floats) -> float:
    """How much more the branches draw at a voltage than the source gives. [A]"""
    return float(branch_currents(at, foot_v, branch_ohm, held).sum()) - (source_v - at) / source_ohm
