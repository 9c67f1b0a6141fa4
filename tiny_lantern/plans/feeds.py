"""Find feeds: plans that keep a line within its limits at the design corner, side by side, each an edit."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.catalogue.shelf import all_parts, fuses_by_rating
from tiny_lantern.electrical.corner import at_corner, corner_name
from tiny_lantern.electrical.feed.bound import Bound, bound_of
from tiny_lantern.electrical.feed.judge import detail_of, judge
from tiny_lantern.electrical.feed.local import snapped
from tiny_lantern.electrical.feed.search import NONE_MEETS, NOT_EVEN_RELAXED, Found, search
from tiny_lantern.electrical.fuses import FUSE_SHARE
from tiny_lantern.electrical.ohms import connector_of, wire_of
from tiny_lantern.electrical.power import solve_power
from tiny_lantern.electrical.power_tree import beside_strips_a
from tiny_lantern.electrical.shorts.study import DANGER, sweep_of
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Approach, Build, Conductor, Feed, FullWhite, Load, OnStrip
from tiny_lantern.model.edits import fresh_id, with_part
from tiny_lantern.model.errors import CancelledError, LanternError
from tiny_lantern.model.parts.connector import ConnectorPart
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.model.quantities import amps, metres, volts
from tiny_lantern.model.wording import feeds_in_words
from tiny_lantern.plans.line import Line, line_of, on_line
from tiny_lantern.plans.line_task import FeedOption, LineTask, Loads, line_task
from tiny_lantern.show.loads import duties_for, in_phase

DEFAULT_WIRE = "mm2-1_5"
MOST_MORE = 8
NO_LIMIT_A = 1e9
MOST_GUARDED = 16
Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Duties = tuple[Floats, ...]
Progress = Callable[[float], None]
Cancelled = Callable[[], bool]


@dataclass(frozen=True)
class FeedPlan:
    """Feeds for one line: what kind of plan, its feeds and parts, what it costs and leaves, and why it stands where it
    does. ``proven`` means that the bound rules out fewer feeds, ``tried`` that every plan with fewer was tried.
    ``supply_lacks_a`` is what the supplies could not give for long wherever the feeds are, zero where they can.
    ``worst_v`` and ``margin_v`` are at the corner; ``lows_v`` and ``corner_lows_v`` are each pixel's voltage along
    the line as it is and at the corner, (n_pixels,). [m] [V]"""

    kind: str
    line: Line
    feeds: tuple[Feed, ...]
    approaches: tuple[Approach, ...]
    parts: tuple[FusePart | WirePart | ConnectorPart, ...]
    fuse: FusePart
    wire_m: float
    worst_v: float
    margin_v: float
    bound: Bound
    proven: bool
    tried: bool
    guarded: bool
    verified: bool
    supply_lacks_a: float
    lows_v: Floats
    corner_lows_v: Floats
    why: str
    summary: str

    @property
    def count(self) -> int:
        """How many feeds. [-]"""
        return len(self.feeds)

    def apply(self, build: Build) -> Build:
        """The build with these feeds in place of those that the line had."""
        for part in self.parts:
            build = with_part(build, part)
        others = tuple(feed for feed in build.feeds if not on_line(feed, self.line))
        build = revise(build, feeds=(*others, *self.feeds))
        known = {(approach.supply_id, approach.strip_id) for approach in build.approaches}
        for approach in self.approaches:
            if (approach.supply_id, approach.strip_id) not in known:
                own = revise(approach, id=fresh_id(build, approach.id))
                build = revise(build, approaches=(*build.approaches, own))
        return build


def loads_for(build: Build, load: Load) -> Loads:
    """What a line is judged for: light in a load, fuses, wires and rails at full white, supplies in the load's moments
    when all lit channels are on together."""
    white = duties_for(build, FullWhite())
    if isinstance(load, FullWhite):
        return Loads(white, white, white)
    light = duties_for(build, load)
    return Loads(light, white, in_phase(light))


def plan_feeds(
    build: Build,
    strip_id: str,
    load: Load | None = None,
    progress: Progress = lambda share: None,
    cancelled: Cancelled = lambda: False,
    guard_shorts: bool = False,
    alternatives: bool = False,
) -> tuple[FeedPlan, ...]:
    """Plans for the line that a strip is part of, the one to take first.

    The first has the fewest feeds, of those the highest worst voltage at the build's design corner, and among plans
    within 20 mV of that the tidiest. Wire, connectors and where supplies' wires arrive are those of the feeds there
    are.

    Args:
        build: the build.
        strip_id: any strip of the line.
        load: the load whose light must be kept; full white when None.
        progress: told the share done, 0 to 1.
        cancelled: asked now and then whether to stop.
        guard_shorts: also leave no short anywhere on the line standing with copper over its limit.
        alternatives: also offer the most margin, even spacing, and ends with the middle.

    Raises:
        LanternError: no supply suits, or no plan meets the limits, with which of them forbids it.
        CancelledError: asked to stop.
    """
    planner = _Planner(build, strip_id, loads_for(build, load or FullWhite()), progress, cancelled)
    first = planner.guarded() if guard_shorts else planner.fewest()
    if not alternatives:
        return (first,)
    return (first, *planner.others(first))


class _Planner:
    def __init__(self, build: Build, strip_id: str, loads: Loads, progress: Progress, cancelled: Cancelled) -> None:
        self.build, self.strip_id, self.loads = build, strip_id, loads
        self.progress, self.cancelled = progress, cancelled
        self.line = line_of(build, strip_id)
        self.fuses = _fitting_fuses(build, self.line)
        self.lacking_a = 0.0

    def task(self, fuse: FusePart) -> LineTask:
        """The task with a fuse. Where the supplies cannot give the least current, no choice of places changes that:
        they are left out of the limits, and the plan says what they lack."""
        option = _option(self.build, self.line, fuse)
        asked = line_task(self.build, self.strip_id, option, self.loads)
        self.lacking_a = float(asked.least_a.sum() - asked.task.limits.supply_a.sum())
        if self.lacking_a <= 1e-9:
            return asked
        limits = replace(asked.task.limits, supply_a=np.full(len(asked.supplies), NO_LIMIT_A))
        return replace(asked, task=replace(asked.task, limits=limits))

    def fewest(self) -> FeedPlan:
        """Search with the largest fuse that wire and connectors allow, then with the one that the currents call for."""
        asked, bound, found = self._searched(self.fuses[-1], 1, tidy=False)
        if found.plan is None:
            raise self._refusal(asked, found)
        count = len(found.plan)
        fuse = self._smallest_for(float(detail_of(asked.task, found.plan).out_a.max()))
        for chosen in (fuse, self.fuses[-1]):
            if chosen is None:
                continue
            closer, _, again = self._searched(chosen, count, count)
            if again.plan is not None:
                return self._plan("fewest feeds", closer, bound, again.plan, found.tried_whole)
        return self._plan("fewest feeds", asked, bound, found.plan, found.tried_whole)

    def guarded(self) -> FeedPlan:
        """The fewest feeds, with the smallest fuse, that leave no dangerous short standing anywhere on the line.

        Raises:
            LanternError: none does with a reasonable number of feeds.
        """
        asked, bound, found = self._searched(self.fuses[-1], 1, tidy=False)
        if found.plan is None:
            raise self._refusal(asked, found)
        fewest = len(found.plan)
        for count in range(fewest, fewest + MOST_GUARDED):
            self.progress((count - fewest) / MOST_GUARDED)
            for fuse in self.fuses:
                closer, _, again = self._searched(fuse, count, count)
                if again.plan is None:
                    continue
                plan = self._plan("guarded", closer, bound, again.plan)
                if not self._dangerous_shorts(plan):
                    return replace(
                        plan, guarded=True, summary=f"{plan.summary}; no short is left standing in hot copper"
                    )
        raise LanternError(
            f"no plan of up to {fewest + MOST_GUARDED - 1} feeds leaves every short harmless", self.line.strips[0].name,
            "zone cuts, a thicker or shorter lead, or a higher strip voltage",
        )  # fmt: skip

    def others(self, first: FeedPlan) -> Iterator[FeedPlan]:
        """One feed more for margin, evenly spaced feeds, and both ends with the middle, where they meet the limits."""
        asked = self.task(first.fuse)
        taken = {self._places(first)}
        alike = {_figures(first)}
        for kind, nodes in (
            ("most margin", self._with_one_more(first, asked)),
            ("evenly spaced", self._spaced(first, asked, centred=True)),
            ("ends and middle", self._spaced(first, asked, centred=False)),
        ):
            if nodes is None:
                continue
            plan = self._plan(kind, asked, first.bound, nodes)
            if self._places(plan) not in taken and _figures(plan) not in alike:
                taken.add(self._places(plan))
                alike.add(_figures(plan))
                yield replace(plan, why=_compared(plan, first))

    @staticmethod
    def _places(plan: FeedPlan) -> tuple[tuple[str, float], ...]:
        return tuple((f.attach.strip_id, f.attach.position_m) for f in plan.feeds if isinstance(f.attach, OnStrip))

    def _searched(
        self, fuse: FusePart, at_least: int, most: int = 400, tidy: bool = True
    ) -> tuple[LineTask, Bound, Found]:
        asked = self.task(fuse)
        bound = bound_of(asked.task, asked.least_a)
        return asked, bound, search(asked.task, bound, self.progress, self.cancelled, at_least, most, tidy)

    def _with_one_more(self, first: FeedPlan, asked: LineTask) -> Ints | None:
        count = first.count + 1
        return search(asked.task, first.bound, self.progress, self.cancelled, count, count).plan

    def _spaced(self, first: FeedPlan, asked: LineTask, centred: bool) -> Ints | None:
        """The fewest evenly spaced feeds that meet the limits, at most some more than the fewest of all."""
        ladder = asked.task.ladder
        for count in range(max(1 if centred else 2, first.count), first.count + MOST_MORE + 1):
            if self.cancelled():
                raise CancelledError
            at = (np.arange(count) + 0.5) / count if centred else np.arange(count) / max(1, count - 1)
            wished = np.interp(at * ladder.place_m[-1], ladder.place_m, np.arange(ladder.size))
            nodes = snapped(asked.task, wished)
            if nodes is not None and judge(asked.task, nodes[None]).feasible[0]:
                return nodes
        return None

    def _smallest_for(self, current_a: float) -> FusePart | None:
        return next((fuse for fuse in self.fuses if FUSE_SHARE * fuse.rating_a >= current_a - 1e-9), None)

    def _dangerous_shorts(self, plan: FeedPlan) -> bool:
        sweep = sweep_of(plan.apply(self.build), cancelled=self.cancelled)
        own = [number for number, run in enumerate(sweep.network.runs) if run.strip.id in self.line.ids]
        return bool((np.isin(sweep.run, own) & (sweep.severity == DANGER)).any())

    def _refusal(self, asked: LineTask, found: Found) -> LanternError:
        name = self.line.strips[0].name
        if found.why == NOT_EVEN_RELAXED:
            return LanternError(
                "not even feeds without any resistance at every place within reach keep its pixels within the limits",
                name, "more places within reach, a higher strip voltage, or wider limits",
            )  # fmt: skip
        what = (
            "every choice of places was tried and none meets"
            if found.why == NONE_MEETS
            else "no plan was found that meets"
        )
        return LanternError(f"{what} the limits", name, "a thicker or shorter lead, zone cuts, or wider limits")

    def _plan(self, kind: str, asked: LineTask, bound: Bound, nodes: Ints, tried: bool = False) -> FeedPlan:
        detail, proven = detail_of(asked.task, nodes), len(nodes) == bound.fewest
        feeds = self._feeds(asked, nodes)
        option = asked.option
        parts = [option.fuse, option.wire_out, option.wire_back, option.connector_out, option.connector_back]
        draft = FeedPlan(
            kind, self.line, feeds, asked.approaches, tuple(part for part in parts if part is not None), option.fuse,
            detail.wire_m, detail.worst_v, detail.margin_v, bound, proven, tried, False, False, max(0.0,
            self.lacking_a), detail.pixel_v, detail.pixel_v, "", "",
        )  # fmt: skip
        lows, corner_lows = self._along(draft)
        limits = asked.task.limits.least_v[asked.task.ladder.pixel]
        return replace(
            draft,
            verified=bool((corner_lows >= limits - 1e-6).all()) and not draft.supply_lacks_a,
            lows_v=lows,
            corner_lows_v=corner_lows,
            why=_first_why(draft, self.build),
            summary=_summary(draft, self.build, _names(asked)),
        )  # fmt: skip

    def _along(self, plan: FeedPlan) -> tuple[Floats, Floats]:
        """Each pixel's voltage along the line in the whole build, as it is and at the corner. (n_pixels,) [V]"""
        applied = plan.apply(self.build)
        found = []
        beside_a = beside_strips_a(applied)
        for build in (applied, at_corner(applied)):
            solved = solve_power(build, self.loads.light, beside_a)
            found.append(np.concatenate([solved.runs[strip.id].pixel_v for strip in self.line.strips]))
        return found[0], found[1]

    def _feeds(self, asked: LineTask, nodes: Ints) -> tuple[Feed, ...]:
        ladder, option = asked.task.ladder, asked.option
        others = tuple(feed for feed in self.build.feeds if not on_line(feed, self.line))
        kept = self.build.model_copy(update={"feeds": others})
        feeds: list[Feed] = []
        for node in nodes:
            strip = self.line.strips[int(ladder.run[node])]
            length = round(float(asked.task.wire_m[node]), 3)
            place = float(ladder.place_m[node]) - self.line.start_m(strip.id)
            out = Conductor(wire_id=option.wire_out.id, length_m=length, connector_id=_id(option.connector_out))
            back = Conductor(wire_id=option.wire_back.id, length_m=length, connector_id=_id(option.connector_back))
            feeds.append(
                Feed(
                    id=fresh_id(kept.model_copy(update={"feeds": (*others, *feeds)}), "feed"),
                    supply_id=asked.supplies[int(ladder.supply[node])].id,
                    attach=OnStrip(strip_id=strip.id, position_m=min(max(place, 0.0), strip.length_m)),
                    positive=out, negative=back, fuse_id=option.fuse.id,
                )
            )  # fmt: skip
        return tuple(feeds)


def _id(part: ConnectorPart | None) -> str | None:
    return part.id if part else None


def _names(asked: LineTask) -> str:
    return " and ".join(supply.name for supply in asked.supplies[:3])


def _model_feed(build: Build, line: Line) -> Feed | None:
    """The line's shortest feed, whose wire and connectors a plan takes over."""
    own = [feed for feed in build.feeds if on_line(feed, line)]
    return min(own, key=lambda feed: feed.positive.length_m) if own else None


def _option(build: Build, line: Line, fuse: FusePart) -> FeedOption:
    feed = _model_feed(build, line)
    if feed is None:
        wire = next(wire for wire in all_parts(build).of(WirePart) if wire.id == DEFAULT_WIRE)
        return FeedOption(wire, wire, None, None, fuse)
    return FeedOption(
        wire_of(build, feed.positive), wire_of(build, feed.negative), connector_of(build, feed.positive),
        connector_of(build, feed.negative), fuse,
    )  # fmt: skip


def _fitting_fuses(build: Build, line: Line) -> list[FusePart]:
    """The fuses that the line's wires and connectors allow, the smallest first.

    Raises:
        LanternError: none is small enough.
    """
    fuses = fuses_by_rating(all_parts(build))
    option = _option(build, line, fuses[0])
    plugs = [c.limit_a for c in (option.connector_out, option.connector_back) if c]
    limit = min(option.wire_out.limit_a, option.wire_back.limit_a, *plugs)
    fitting = [fuse for fuse in fuses if fuse.rating_a <= limit + 1e-9]
    if not fitting:
        raise LanternError(f"no fuse is small enough for {option.wire_out.name}", "Find feeds", "a thicker wire")
    return fitting


def _first_why(plan: FeedPlan, build: Build) -> str:
    corner = corner_name(build.corner)
    if plan.proven:
        proof = "No fewer will do"
    elif plan.tried:
        proof = f"The bound is {plan.bound.fewest}, and every plan with fewer than {plan.count} was tried"
    else:
        proof = f"At least {plan.bound.fewest} are needed; none with fewer than {plan.count} was found"
    return (
        f"{proof}; of plans with {plan.count}, this leaves the most at the worst pixel ({corner}) to within 20 mV, "
        "at the roundest places."
    )


def _figures(plan: FeedPlan) -> tuple[float, ...]:
    """What a person compares plans by, as fine as it is shown; one that differs in none of it is no choice."""
    return (plan.count, round(plan.worst_v, 2), round(plan.margin_v, 2), round(plan.wire_m, 2))


def _compared(plan: FeedPlan, first: FeedPlan) -> str:
    more, wire, volt = plan.count - first.count, plan.wire_m - first.wire_m, plan.worst_v - first.worst_v
    feeds = "the same number of feeds" if not more else feeds_in_words(more, "more feed")
    return (
        f"{feeds}, {abs(wire):.1f} m {'more' if wire >= 0 else 'less'} wire, {abs(volt):.2f} V "
        f"{'more' if volt >= 0 else 'less'} at the worst pixel."
    )


def _summary(plan: FeedPlan, build: Build, supplies: str) -> str:
    names = build.line.strip(plan.line.strips[0].id).name
    if len(plan.line.strips) > 1:
        names += f" and {len(plan.line.strips) - 1} joined to it"
    proof = "no fewer will do" if plan.proven else f"at least {plan.bound.fewest} are needed"
    if plan.tried and not plan.proven:
        proof += ", every plan with fewer was tried"
    text = (
        f"{feeds_in_words(plan.count)} on {names} ({proof}), {metres(plan.wire_m)} of wire, lowest "
        f"pixel {volts(plan.worst_v)} at the {corner_name(build.corner)}, {volts(plan.margin_v)} to spare"
    )
    if plan.supply_lacks_a:
        text += f"; but {supplies} may not give {amps(plan.supply_lacks_a)} of what it takes: a larger supply first"
    return text
