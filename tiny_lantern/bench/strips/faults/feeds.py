"""Feeds: an open conductor, a blown fuse, a bad connector, another wire, another place."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from itertools import combinations

from tiny_lantern.bench.fault import Sizes
from tiny_lantern.bench.strips.alter import OPEN_OHM, tied_at, with_feed, with_feeds
from tiny_lantern.bench.strips.fault import Place, Size, StripFault, StripFaultKind, Sweep
from tiny_lantern.bench.strips.plan import StripPlan, World
from tiny_lantern.electrical.copper import solid_ohm_per_m
from tiny_lantern.electrical.network import FeedEnd, node_name
from tiny_lantern.model.quantities import engineering

BAD = Sizes(0.02, 5.0, 16, 96, by_ratio=True)
AREAS_MM2 = (0.14, 0.25, 0.34, 0.5, 0.75, 1.0, 1.5, 2.5, 4.0)
FAR_NODES = 4
CONDUCTORS = {"pos": "outgoing conductor", "neg": "return conductor"}


def _each(plan: StripPlan) -> range:
    return range(len(plan.network.feeds))


def _with_ohm(feed: FeedEnd, conductor: str, ohm: float) -> FeedEnd:
    """A feed with one of its conductors of another resistance. [ohm]"""
    return replace(feed, pos_ohm=ohm) if conductor == "pos" else replace(feed, neg_ohm=ohm)


def _open(kind: str, conductor: str, blown: bool = False) -> Callable[[StripPlan], Iterator[Sweep]]:
    def sweeps(plan: StripPlan) -> Iterator[Sweep]:
        def world(place: Place, size: Size) -> World:
            feed = int(place["feed"])
            end = _with_ohm(plan.network.feeds[feed], conductor, OPEN_OHM)
            return World(with_feed(plan.network, feed, end), blown=feed if blown else None)

        for feed in _each(plan):
            made = plan.made[feed] if plan.made else None
            if not blown or (made is not None and made.fuse_ohm):
                yield Sweep(kind, ({"feed": feed},), world)

    return sweeps


def _bad(plan: StripPlan) -> Iterator[Sweep]:
    def world(place: Place, size: Size) -> World:
        feed, conductor = int(place["feed"]), str(place["conductor"])
        end = plan.network.feeds[feed]
        ohm = (end.pos_ohm if conductor == "pos" else end.neg_ohm) + float(size["ohm"])
        return World(with_feed(plan.network, feed, _with_ohm(end, conductor, ohm)))

    for feed in _each(plan):
        for conductor in CONDUCTORS:
            yield Sweep("connector_resistance", ({"feed": feed, "conductor": conductor},), world, "ohm", BAD)


def _gauge(plan: StripPlan) -> Iterator[Sweep]:
    def world(place: Place, size: Size) -> World:
        feed = int(place["feed"])
        made, end = plan.made[feed], plan.network.feeds[feed]
        assert made is not None
        planned, fitted = (solid_ohm_per_m(area_mm2) for area_mm2 in (made.area_mm2, float(size["area_mm2"])))
        more = made.length_m * (fitted - planned)
        return World(
            with_feed(plan.network, feed, replace(end, pos_ohm=end.pos_ohm + more, neg_ohm=end.neg_ohm + more))
        )

    for feed, made in enumerate(plan.made):
        if made is not None and made.length_m:
            others: tuple[Size, ...] = tuple(
                {"area_mm2": area} for area in AREAS_MM2 if abs(area - made.area_mm2) > 1e-6
            )
            yield Sweep("wire_gauge", ({"feed": feed},), world, singly=others)


def _wrong_place(plan: StripPlan) -> Iterator[Sweep]:
    def world(place: Place, size: Size) -> World:
        run = plan.network.runs[plan.run(int(place["real_run"]))]
        node = place["real_node"]
        at = run.strip.pixel_count + 1 if node == "end" else 0 if node == "start" else int(node) + 1
        pos = run.first_node + 2 * at
        feed = int(place["feed"])
        planned = plan.network.feeds[feed]
        moved = with_feed(plan.network, feed, replace(planned, pos_node=pos, neg_node=pos + 1))
        return World(tied_at(moved, planned))

    for feed in _each(plan):
        planned = plan.network.feeds[feed].pos_node
        for number, strip in enumerate(plan.strips):
            first = plan.network.runs[plan.run(number)].first_node
            names = ["start", *range(strip.pixel_count), "end"]
            places: tuple[Place, ...] = tuple(
                {"feed": feed, "real_run": number, "real_node": name}
                for at, name in enumerate(names)
                if abs(first + 2 * at - planned) >= 2 * FAR_NODES
            )
            if places:
                yield Sweep("feed_wrong_place", places, world, along="real_node")


def _swapped(plan: StripPlan) -> Iterator[Sweep]:
    def world(place: Place, size: Size) -> World:
        one, other = (int(place[name]) for name in ("feed", "other"))
        feeds = list(plan.network.feeds)
        ends = {one: feeds[other], other: feeds[one]}
        there = ((feed, ends.get(at, feed)) for at, feed in enumerate(feeds))
        swapped = (replace(feed, pos_node=end.pos_node, neg_node=end.neg_node) for feed, end in there)
        return World(with_feeds(plan.network, tuple(swapped)))

    for one, other in combinations(_each(plan), 2):
        if _zone(plan, plan.network.feeds[one]) != _zone(plan, plan.network.feeds[other]):
            yield Sweep("feeds_swapped", ({"feed": one, "other": other},), world)


def _zone(plan: StripPlan, feed: FeedEnd) -> int | None:
    """The piece of positive copper that a feed is soldered to; None on a bus."""
    for number, strip in enumerate(plan.strips):
        at = (feed.pos_node - plan.network.runs[plan.run(number)].first_node) // 2
        if 0 <= at <= strip.pixel_count + 1:
            return plan.zone_at(number, min(max(at - 1, 0), strip.pixel_count - 1))
    return None


def feed_name(plan: StripPlan, number: int | str | float) -> str:
    """How a feed is called.

    Args:
        plan: the strips.
        number: which feed. [-]
    """
    return f"feed {plan.build.feeds[int(number)].letter or int(number) + 1}"


def _named(words: str) -> Callable[[StripPlan, StripFault], str]:
    return lambda plan, fault: words.format(feed=feed_name(plan, fault.place["feed"]))


def _bad_words(plan: StripPlan, fault: StripFault) -> str:
    conductor = CONDUCTORS[str(fault.place["conductor"])]
    ohm = engineering(float(fault.size["ohm"]), "ohm")
    return f"the {conductor} of {feed_name(plan, fault.place['feed'])} has a bad connector of {ohm}"


def _gauge_words(plan: StripPlan, fault: StripFault) -> str:
    return f"the wire of {feed_name(plan, fault.place['feed'])} is one of {fault.size['area_mm2']} mm²"


def _place_words(plan: StripPlan, fault: StripFault) -> str:
    strip, node = plan.strips[int(fault.place["real_run"])], fault.place["real_node"]
    at = 0 if node == "start" else strip.pixel_count + 1 if node == "end" else int(node) + 1
    return f"{feed_name(plan, fault.place['feed'])} is soldered to “{strip.name}” at {node_name(strip, at)}"


def _swapped_words(plan: StripPlan, fault: StripFault) -> str:
    one, other = (feed_name(plan, fault.place[name]) for name in ("feed", "other"))
    return f"{one} and {other} are exchanged"


KINDS = (
    StripFaultKind("feed_pos_open", _named("the outgoing conductor of {feed} is open"),
                   _open("feed_pos_open", "pos")),
    StripFaultKind("feed_neg_open", _named("the return conductor of {feed} is open"),
                   _open("feed_neg_open", "neg")),
    StripFaultKind("fuse_blown", _named("the fuse of {feed} is blown"), _open("fuse_blown", "pos", blown=True)),
    StripFaultKind("connector_resistance", _bad_words, _bad),
    StripFaultKind("wire_gauge", _gauge_words, _gauge),
    StripFaultKind("feed_wrong_place", _place_words, _wrong_place),
    StripFaultKind("feeds_swapped", _swapped_words, _swapped),
)  # fmt: skip
