"""Find feeds: from a strip in a build to the edit that feeds it within the limits."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.catalogue.shelf import fuses_by_rating, merged, shelf
from tiny_lantern.electrical.bare_run import BareRun, FeedKind, linear_above_v
from tiny_lantern.electrical.fuses import FAULT_RATIO, FUSE_SHARE, fuse_for
from tiny_lantern.electrical.network import connector_of, node_position_m, part_of, snap_node, supply_part, wire_of
from tiny_lantern.electrical.power import Duties, solve_power
from tiny_lantern.electrical.search import MOST_FEEDS, FeedLimits, SearchResult, find_feeds, lower_bound
from tiny_lantern.electrical.supplies import fitting_supply
from tiny_lantern.light.seen import acceptable, least_voltage
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, Conductor, Feed, OnStrip, Strip, Supply
from tiny_lantern.model.edits import fresh_id, item, with_part
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.line import find_strip
from tiny_lantern.model.parts import FusePart, StripPart, WirePart, nominal_currents_a
from tiny_lantern.model.quantities import metres, volts

DEFAULT_WIRE = "mm2-1_5"
MOST_GUARDED = 12
Floats = NDArray[np.float64]
Progress = Callable[[float], None]
Cancelled = Callable[[], bool]


@dataclass(frozen=True)
class FeedPlan:
    """The feeds found for a strip, what was proven, whether the whole build's solve agrees, and a sentence."""

    strip_id: str
    feeds: tuple[Feed, ...]
    fuse: FusePart
    wire: WirePart
    result: SearchResult
    verified: bool
    summary: str

    def apply(self, build: Build) -> Build:
        """The build with these feeds in place of those the strip had."""
        build = with_part(with_part(build, self.fuse), self.wire)
        others = tuple(feed for feed in build.feeds if not _on(feed, self.strip_id))
        return revise(build, feeds=(*others, *self.feeds))


@dataclass(frozen=True)
class _Lead:
    """What the strip's present feeds tell: supply, wire, connectors, and where the nearest lead arrives."""

    supply: Supply
    wire: WirePart
    positive: Conductor
    negative: Conductor
    base_m: float
    at_m: float


def plan_feeds(
    build: Build,
    strip_id: str,
    duties: Duties,
    progress: Progress = lambda share: None,
    cancelled: Cancelled = lambda: False,
    guard_shorts: bool = False,
) -> FeedPlan:
    """Find the fewest feeds for one strip, then the least wire, then the highest worst voltage.

    The supply, the wire and the place where its lead arrives are those of the strip's shortest feed; from there
    wire is taken to run along the strip. Pixels are kept where they hold their current, or the limits if higher.

    Args:
        build: the build.
        strip_id: the strip to feed.
        duties: the load, one array a strip. [-]
        progress: told the share done, 0 to 1.
        cancelled: asked now and then whether to stop.
        guard_shorts: also make a short at the far end of each feed blow its fuse, which takes more feeds.

    Raises:
        LanternError: no supply, or no placement meets the limits.
        CancelledError: asked to stop.
    """
    strip = find_strip(build, strip_id)
    lead = _lead(build, strip)
    task = _Task(build, strip, part_of(build, strip), lead, duties, progress, cancelled)
    fuse, result = _with_shorts_guarded(task) if guard_shorts else _with_fewest(task)
    return _plan(build, strip, lead, fuse, result, duties)


@dataclass(frozen=True)
class _Task:
    build: Build
    strip: Strip
    part: StripPart
    lead: _Lead
    duties: Duties
    progress: Progress
    cancelled: Cancelled

    def run(self, fuse: FusePart) -> BareRun:
        kind = _kind(self.build, self.lead, fuse, self._others_a())
        candidates = np.arange(self.strip.pixel_count + 2)
        return BareRun(self.strip, self.part, self._duty(), kind, candidates)

    def search(self, fuse: FusePart, short_a: float = 0.0, most: int = MOST_FEEDS) -> SearchResult:
        return find_feeds(self.run(fuse), self.limits(fuse, short_a), self.progress, self.cancelled, most)

    def lower_bound(self, fuse: FusePart) -> int:
        return lower_bound(self.run(fuse), self.limits(fuse, 0.0))

    def limits(self, fuse: FusePart, short_a: float) -> FeedLimits:
        least = np.maximum(least_voltage(self.part, self.build.limits, self._duty()), linear_above_v(self.part))
        if not np.isfinite(least).all():
            raise LanternError("this load's colour cannot be kept within the limits at any voltage", self.strip.name)
        return FeedLimits(FUSE_SHARE * fuse.rating_a, self.part.rail_limit_a, least, short_a)

    def _duty(self) -> Floats:
        return self.duties[self.build.strips.index(self.strip)]

    def _others_a(self) -> float:
        """What the other strips on the same supply draw when all their pixels have what they ask for. [A]"""
        fed = {
            feed.attach.strip_id
            for feed in self.build.feeds
            if feed.supply_id == self.lead.supply.id and isinstance(feed.attach, OnStrip)
        } - {self.strip.id}
        return sum(
            float((duty @ np.array(nominal_currents_a(part)) + part.pixel.quiescent_a).sum())
            for other, duty in zip(self.build.strips, self.duties, strict=True)
            if other.id in fed
            for part in (part_of(self.build, other),)
        )


def _with_fewest(task: _Task) -> tuple[FusePart, SearchResult]:
    """Search with the largest fuse the wire allows, then again with the one that the found currents call for."""
    largest = _largest_fuse(task.build, task.lead)
    result = task.search(largest)
    fuse = fuse_for(task.build, _carried_a(task.run(largest), result), largest.rating_a) or largest
    if fuse == largest:
        return largest, result
    closer = task.search(fuse)
    if len(closer.placement.nodes) != len(result.placement.nodes):
        return largest, result
    return fuse, SearchResult(closer.placement, result.proven, result.lower_bound)


def _with_shorts_guarded(task: _Task) -> tuple[FusePart, SearchResult]:
    """The fewest feeds over all fuse ratings whose far shorts blow them.

    Raises:
        LanternError: no rating works.
    """
    best: tuple[FusePart, SearchResult] | None = None
    most = MOST_GUARDED
    for fuse in reversed(_fitting_fuses(task.build, task.lead)):
        try:
            result = task.search(fuse, FAULT_RATIO * fuse.rating_a, most)
        except LanternError:
            continue
        count = len(result.placement.nodes)
        if best is None or _rank(result) < _rank(best[1]):
            best, most = (fuse, result), count
    if best is None:
        raise LanternError(
            f"no placement of up to {MOST_GUARDED} feeds lets a far short blow its fuse", task.strip.name,
            "zone cuts, a thicker or shorter lead, or a higher strip voltage",
        )  # fmt: skip
    fuse, result = best
    bound = task.lower_bound(_largest_fuse(task.build, task.lead))
    count = len(result.placement.nodes)
    return fuse, SearchResult(result.placement, count == bound, bound)


def _rank(result: SearchResult) -> tuple[int, float]:
    return len(result.placement.nodes), result.placement.wire_m


def _carried_a(run: BareRun, result: SearchResult) -> float:
    choice = np.searchsorted(run.candidates, np.array(result.placement.nodes))[None]
    return float(run.solve(choice).feed_a.max())


def _on(feed: Feed, strip_id: str) -> bool:
    return isinstance(feed.attach, OnStrip) and feed.attach.strip_id == strip_id


def _lead(build: Build, strip: Strip) -> _Lead:
    own = [feed for feed in build.feeds if _on(feed, strip.id)]
    if own:
        feed = min(own, key=lambda feed: feed.positive.length_m)
        assert isinstance(feed.attach, OnStrip)
        place = node_position_m(strip, snap_node(strip, feed.attach.position_m))
        supply = item(build.supplies, feed.supply_id, "supply")
        wire = wire_of(build, feed.positive)
        return _Lead(supply, wire, feed.positive, feed.negative, feed.positive.length_m, place)
    part = part_of(build, strip)
    fitting = fitting_supply(build, part)
    if fitting is None:
        what = f"there is no supply of {part.nominal_v:g} V to feed this strip from"
        raise LanternError(what, strip.name, "one added in Power")
    wire = next(wire for wire in merged(build.parts, shelf()).wires if wire.id == DEFAULT_WIRE)
    bare = Conductor(wire_id=wire.id, length_m=1.0)
    return _Lead(fitting, wire, bare, bare, 1.0, 0.0)


def _fitting_fuses(build: Build, lead: _Lead) -> list[FusePart]:
    """The fuses that the lead's wire and connectors allow, the smallest first."""
    limit = lead.wire.limit_a
    for side in (lead.positive, lead.negative):
        connector = connector_of(build, side)
        if connector:
            limit = min(limit, connector.limit_a)
    fitting = [fuse for fuse in fuses_by_rating(merged(build.parts, shelf())) if fuse.rating_a <= limit]
    if not fitting:
        raise LanternError(f"no fuse is small enough for {lead.wire.name}", "Find feeds", "a thicker wire")
    return fitting


def _largest_fuse(build: Build, lead: _Lead) -> FusePart:
    return _fitting_fuses(build, lead)[-1]


def _kind(build: Build, lead: _Lead, fuse: FusePart, others_a: float) -> FeedKind:
    output_ohm = supply_part(build, lead.supply.id).output_ohm

    def contact(side: Conductor) -> float:
        connector = connector_of(build, side)
        return connector.contact_ohm if connector else 0.0

    return FeedKind(
        open_v=lead.supply.set_v - output_ohm * others_a,
        output_ohm=output_ohm,
        wire_ohm_per_m=lead.wire.ohm_per_m,
        pos_fixed_ohm=max(1e-6, contact(lead.positive) + fuse.cold_ohm),
        neg_fixed_ohm=max(1e-6, contact(lead.negative)),
        base_m=lead.base_m,
        at_m=lead.at_m,
    )


def _plan(build: Build, strip: Strip, lead: _Lead, fuse: FusePart, result: SearchResult, duties: Duties) -> FeedPlan:
    bare = revise(build, feeds=tuple(feed for feed in build.feeds if not _on(feed, strip.id)))
    feeds: list[Feed] = []
    for node in result.placement.nodes:
        place = node_position_m(strip, node)
        length = round(lead.base_m + abs(place - lead.at_m), 3)
        feed = Feed(
            id=fresh_id(revise(bare, feeds=(*bare.feeds, *feeds)), "feed"),
            supply_id=lead.supply.id,
            attach=OnStrip(strip_id=strip.id, position_m=place),
            positive=revise(lead.positive, wire_id=lead.wire.id, length_m=length, measured_ohm=None),
            negative=revise(lead.negative, wire_id=lead.wire.id, length_m=length, measured_ohm=None),
            fuse_id=fuse.id,
        )
        bare = with_part(with_part(bare, fuse), lead.wire)
        feeds.append(feed)
    draft = FeedPlan(strip.id, tuple(feeds), fuse, lead.wire, result, False, "")
    verified, worst = _verify(draft.apply(build), strip, duties)
    return FeedPlan(strip.id, tuple(feeds), fuse, lead.wire, result, verified, _summary(strip, result, worst, verified))


def _verify(build: Build, strip: Strip, duties: Duties) -> tuple[bool, float]:
    """Whether the strip is within limits when the whole build is solved, and its lowest voltage."""
    v = solve_power(build, duties).runs[strip.id].pixel_v
    duty = duties[[s.id for s in build.strips].index(strip.id)]
    return bool(acceptable(part_of(build, strip), build.limits, duty, v).all()), float(v.min())


def _summary(strip: Strip, result: SearchResult, worst: float, verified: bool) -> str:
    count = len(result.placement.nodes)
    proof = "no fewer will do" if result.proven else f"at least {result.lower_bound} are needed"
    text = f"{count} feed{'s' if count > 1 else ''} on {strip.name} ({proof}), {metres(result.placement.wire_m)} of "
    text += f"two-wire lead, lowest pixel {volts(worst)}"
    return text if verified else f"{text}; other load on the same supply still pulls some pixels below the limits"
