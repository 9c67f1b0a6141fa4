"""The worst that a short does near each feed."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tiny_lantern.electrical.network import snap_node
from tiny_lantern.electrical.shorts.study import CLEARED, DANGER, WEAK_SPOT, Sweep
from tiny_lantern.model.build import Build, OnStrip


@dataclass(frozen=True)
class NearShort:
    """The worst short among the places that lie nearest to a feed: how bad, how it ends, what is left in it. [A]"""

    severity: str
    how: str
    short_a: float

    @property
    def words(self) -> str:
        """In few words for a table."""
        if self.severity == CLEARED:
            return "cleared"
        return f"{self.short_a:.1f} A stand" if self.how == "standing" else "supply stops"


def shorts_by_feed(build: Build, sweep: Sweep) -> dict[str, NearShort]:
    """The worst short near each feed that is soldered to a strip, by feed id; of ones as bad the one that leaves
    most."""
    strips = {run.strip.id: (number, run.strip) for number, run in enumerate(sweep.network.runs)}
    edges = np.searchsorted(sweep.run, np.arange(len(strips) + 1))
    grades = np.select([sweep.severity == DANGER, sweep.severity == WEAK_SPOT], [0, 1], 2)
    on_run: dict[int, list[tuple[int, str]]] = {}
    for feed in build.feeds:
        if isinstance(feed.attach, OnStrip):
            run, strip = strips[feed.attach.strip_id]
            on_run.setdefault(run, []).append((snap_node(strip, feed.attach.position_m), feed.id))
    found: dict[str, NearShort] = {}
    for run, feeds in on_run.items():
        rows = np.arange(edges[run], edges[run + 1])
        taps = np.array([node for node, _ in feeds])
        nearest = np.abs(sweep.node[rows][:, None] - taps).argmin(axis=1)
        for number, (node, feed_id) in enumerate(feeds):
            own = rows[nearest == number]
            own = own if len(own) else rows[sweep.node[rows] == node]
            worst = own[np.lexsort((-sweep.short_a[own], grades[own]))[0]]
            found[feed_id] = NearShort(str(sweep.severity[worst]), str(sweep.how[worst]), float(sweep.short_a[worst]))
    return found
