"""How the lights of a build are wired, as a board is told."""

from __future__ import annotations

from itertools import groupby

from tiny_lantern.code.score import wire_orders
from tiny_lantern.live.wire import WireRun
from tiny_lantern.model.build import Build


def wire_runs(build: Build) -> tuple[WireRun, ...]:
    """The lights of a build in the order of the Line, as runs whose colours are sent in one order."""
    orders = [order for piece in build.pieces for order in wire_orders(build, piece)]
    return tuple(WireRun(len(list(same)), order) for order, same in groupby(orders))
