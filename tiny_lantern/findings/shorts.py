"""Rules on shorts between the rails: what no fuse clears, and what hot copper it leaves."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np

from tiny_lantern.electrical.fuses import feed_limit_a, fuse_for
from tiny_lantern.electrical.network import node_name, node_position_m, supply_part
from tiny_lantern.electrical.ohms import fuse_of
from tiny_lantern.electrical.shorts.study import DANGER, SHUT_DOWN, STANDING, WEAK_SPOT, Sweep, short_at
from tiny_lantern.electrical.workings import copper_name, short_working
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_power import set_fuse
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.place import Place
from tiny_lantern.model.quantities import amps, metres
from tiny_lantern.model.strip import PixelRun
from tiny_lantern.model.wording import listed
from tiny_lantern.model.working import Working

NAMED = 3


def _rows(sweep: Sweep, severity: str, how: str) -> Iterator[tuple[PixelRun, np.ndarray]]:
    """Each strip on which a short ends so somewhere, in the order of the build's network, with those places."""
    rows = np.flatnonzero((sweep.severity == severity) & (sweep.how == how))
    if len(rows):
        for own in np.split(rows, np.flatnonzero(np.diff(sweep.run[rows])) + 1):
            yield sweep.network.runs[int(sweep.run[own[0]])].strip, own


def _pixel(strip: PixelRun, node: int) -> int:
    return min(max(node - 1, 0), strip.pixel_count - 1)


def _spread(strip: PixelRun, nodes: np.ndarray) -> str:
    """From where to where, and how many of all places."""
    first, last = (node_position_m(strip, int(node)) for node in (nodes.min(), nodes.max()))
    return f"from {first:.2f} to {last:.2f} m, at {len(nodes)} of {strip.pixel_count + 2} places"


@rule("short-stands", "On {n} strips a short would stand and cook copper")
def short_stands(evidence: Evidence) -> Iterator[Finding]:
    """A short that no fuse and no supply clears, with more current in some copper than it may carry."""
    sweep = evidence.sweep
    if sweep is None:
        return
    for strip, rows in _rows(sweep, DANGER, STANDING):
        worst = rows[(sweep.current_a[rows] / sweep.limit_a[rows]).argmax()]
        node = int(sweep.node[worst])
        place = node_position_m(strip, node)
        copper = copper_name(evidence.build, sweep.coppers.at(int(sweep.copper[worst])))
        yield Finding(
            Severity.DANGER, "short-stands", Place.at(strip.id, _pixel(strip, node)),
            f"A short on {strip.name} would stand and cook copper",
            f"At {metres(place)} {amps(float(sweep.short_a[worst]))} go on flowing: no fuse left in its way reaches "
            f"twice its rating. {copper[0].upper()}{copper[1:]} carries {amps(float(sweep.current_a[worst]))} and may "
            f"carry {amps(float(sweep.limit_a[worst]))}. It is so {_spread(strip, sweep.node[rows])}.",
            partial(_working_at, evidence.build, strip, node),
            (*_mends(evidence, strip), *_search(evidence, strip)),
        )  # fmt: skip


def _search(evidence: Evidence, strip: PixelRun) -> Iterator[Fix]:
    """More feeds, so that no short is left standing in hot copper."""
    if evidence.feeds_on:
        yield Fix("Find feeds that clear it", find_feeds_on=(strip.id,), guard_shorts=True)


def _working_at(build: Build, strip: PixelRun, node: int) -> Working:
    """The course of a short at one place."""
    return short_working(build, short_at(build, strip.id, node), f"{strip.name}, {node_name(strip, node)}")


def _mends(evidence: Evidence, strip: PixelRun) -> Iterator[Fix]:
    """Smaller fuses on the strip's own feeds where they carry full white."""
    smaller = _smaller_fuses(evidence, strip)
    if smaller:
        letters = evidence.build.feed_letters
        named = [f"{letters[feed_id]} at {fuse.rating_a:g} A" for feed_id, fuse in smaller]
        yield Fix(f"Fuse {listed(named, NAMED)}", partial(_refused, fuses=tuple(smaller)))


def _smaller_fuses(evidence: Evidence, strip: PixelRun) -> list[tuple[str, FusePart]]:
    """Feeds of a strip whose fuse can be smaller or is missing, with the smallest that carries their full white."""
    if evidence.white is None:
        return []
    found = []
    for feed in evidence.feeds_on.get(strip.id, ()):
        present = fuse_of(evidence.build, feed)
        most = feed_limit_a(evidence.build, feed)
        fuse = fuse_for(evidence.build, abs(evidence.white.feeds[feed.id].pos_a), most)
        if fuse and (present is None or fuse.rating_a < present.rating_a):
            found.append((feed.id, fuse))
    return found


def _refused(build: Build, fuses: tuple[tuple[str, FusePart], ...]) -> Build:
    for feed_id, fuse in fuses:
        build = set_fuse(build, feed_id, fuse)
    return build


@rule("short-lingers", "On {n} strips a short would stand unnoticed")
def short_lingers(evidence: Evidence) -> Iterator[Finding]:
    """A short that no fuse and no supply clears, though no copper is overloaded: it stands unnoticed."""
    sweep = evidence.sweep
    if sweep is None:
        return
    for strip, rows in _rows(sweep, WEAK_SPOT, STANDING):
        worst = rows[sweep.short_a[rows].argmax()]
        node = int(sweep.node[worst])
        yield Finding(
            Severity.WEAK_SPOT, "short-lingers", Place.at(strip.id, _pixel(strip, node)),
            f"A short on {strip.name} would stand unnoticed",
            f"At {metres(node_position_m(strip, node))} {amps(float(sweep.short_a[worst]))} go on flowing; no "
            f"copper is over its limit, but the place itself gets hot. It is so {_spread(strip, sweep.node[rows])}.",
            partial(_working_at, evidence.build, strip, node),
            tuple(_mends(evidence, strip)),
        )  # fmt: skip


@rule("short-by-supply", "{n} builds rely on their supply in a short")
def short_by_supply(evidence: Evidence) -> Iterator[Finding]:
    """A short that only a supply's own shut-down clears: switched on again, it feeds the short once more."""
    sweep = evidence.sweep
    if sweep is None:
        return
    rows = np.flatnonzero(sweep.how == SHUT_DOWN)
    if not len(rows):
        return
    names = [sweep.network.runs[run].strip.name for run in np.unique(sweep.run[rows])]
    first = sweep.network.runs[int(sweep.run[rows[0]])].strip
    node = int(sweep.node[rows[0]])
    course = short_at(evidence.build, first.id, node)
    supplies = [evidence.build.supplies[number] for number in course.shut_down[:NAMED]]
    stopped = " and ".join(supply.name for supply in supplies)
    limits = " and ".join(amps(supply_part(evidence.build, supply.id).fault_a) for supply in supplies)
    yield Finding(
        Severity.WEAK_SPOT, "short-by-supply", Place.at(first.id, _pixel(first, node)),
        f"Only {stopped} shutting down clears a short",
        f"On {listed(names, NAMED)}, at {len(rows)} of {len(sweep.node)} places: it stops at {limits}, before a "
        f"fuse opens; at {node_name(first, node)} that is at {amps(course.first.short_a)}. Switched on again, it "
        "feeds the short once more: find the short before you do.",
        partial(_working_at, evidence.build, first, node),
    )  # fmt: skip
