"""Which reading of strips next: the one that best tells the two leading causes apart."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from tiny_lantern.bench.strips.alter import SIDES
from tiny_lantern.bench.strips.fault import StripFault
from tiny_lantern.bench.strips.faults.pixels import shown_colour
from tiny_lantern.bench.strips.plan import COLOURS, OFF, ZONE, StripPlan
from tiny_lantern.bench.strips.probes import StripProbe, StripProbeKind, spread_of
from tiny_lantern.bench.strips.ranking import Foreseen, StripLook, world_of
from tiny_lantern.bench.verdict import LEAST_SIGMAS, SURE_TIMES, Hypothesis, Verdict, enough_sigmas

COLOUR_SIGMAS = 2.83
PLACES, FEW_PLACES = (0.0, 0.25, 0.5, 0.75, 1.0), (0.0, 0.5, 1.0)


@dataclass(frozen=True)
class StripCandidate:
    """A reading that may be taken, or a colour that may be sent and looked at; what each of two causes predicts, and by
    how many standard deviations these lie apart."""

    probe: StripProbe | None
    separation: float
    predicted: tuple[float, float] = (0.0, 0.0)
    sent: str = ""
    colours: tuple[str, str] = ("", "")


@dataclass(frozen=True)
class StripNext:
    """What to read next: the two causes that it tells apart, and how. ``decided`` where the first is a hundred times as
    probable as the second."""

    leader: Hypothesis[StripFault]
    other: Hypothesis[StripFault]
    enough: tuple[StripCandidate, ...]
    decided: bool

    @property
    def easiest(self) -> StripCandidate:
        """Of those that tell enough one that needs the least: a look before volts, volts before a clamp."""
        return min(self.enough, key=lambda each: (_effort(each), -each.separation))


def _effort(candidate: StripCandidate) -> int:
    if candidate.probe is None:
        return 0
    return 2 if candidate.probe.kind.endswith("_A") else 1


def candidates_of(plan: StripPlan) -> Iterator[StripProbe]:
    """Every reading that may be taken: supplies, feeds, and pads at some places of each strip.

    Args:
        plan: the strips.
    """
    for supply in range(len(plan.network.supplies)):
        yield StripProbe("supply_V", supply=supply)
        yield StripProbe("supply_V", supply=supply, pattern=OFF)
        yield StripProbe("supply_A", supply=supply)
    for feed in range(len(plan.network.feeds)):
        yield from _of_feed(plan, feed)
    for number, strip in enumerate(plan.strips):
        yield from _of_strip(number, strip.pixel_count, PLACES if len(plan.strips) == 1 else FEW_PLACES)


def _of_feed(plan: StripPlan, feed: int) -> Iterator[StripProbe]:
    kinds: tuple[StripProbeKind, ...] = ("feed_A", "feed_drop_V")
    for conductor in SIDES:
        for kind in kinds:
            yield StripProbe(kind, feed=feed, conductor=conductor)
    made = plan.made[feed] if plan.made else None
    if made is not None and made.fuse_ohm:
        yield StripProbe("fuse_V", feed=feed)
    if plan.zone_count > 1:
        for zone in range(plan.zone_count):
            yield StripProbe("feed_A", feed=feed, pattern=f"{ZONE}{zone}")


def _of_strip(number: int, count: int, shares: tuple[float, ...]) -> Iterator[StripProbe]:
    pixels = [min(int(share * count), count - 1) for share in shares]
    for pixel in pixels:
        yield StripProbe("pixel_V", run=number, pixel=pixel)
        for rail in SIDES:
            yield StripProbe("node_V", run=number, node=pixel, rail=rail)
    yield StripProbe("pixel_V", run=number, pixel=count - 1, pattern=OFF)
    for start, stop in pairwise(pixels):
        for rail in SIDES:
            yield StripProbe("rail_drop_V", run=number, rail=rail, start=start, stop=stop)


def next_strip_reading(look: StripLook, verdict: Verdict[StripFault]) -> StripNext | None:
    """The reading that best tells the two most probable kinds of cause apart; None where none does by half a standard
    deviation.

    Args:
        look: what the verdict was reached from.
        verdict: the verdict.
    """
    leader, other = (cause.places[0] for cause in verdict.causes[:2])
    probes = [probe for probe in dict.fromkeys(candidates_of(look.plan)) if not _taken(look, probe)]
    foreseen = Foreseen(look.plan, probes)
    one, two = (foreseen.shown(world_of(look.plan, each.best))[0] for each in (leader, other))
    share, always = (np.array([spread_of(probe.kind)[at] for probe in probes]) for at in (0, 1))
    apart = np.abs(one - two) / (share * np.abs(one + two) / 2 + always)
    found = [
        StripCandidate(probe, float(apart[at]), (float(one[at]), float(two[at]))) for at, probe in enumerate(probes)
    ]
    found += list(_colours(look, leader.best, other.best))
    best = max(each.separation for each in found)
    if best < LEAST_SIGMAS:
        return None
    enough = tuple(each for each in found if each.separation >= enough_sigmas(best))
    decided = verdict.causes[0].posterior > SURE_TIMES * verdict.causes[1].posterior
    return StripNext(leader, other, enough, decided)


def _taken(look: StripLook, probe: StripProbe) -> bool:
    return any(reading.probe == probe for reading in look.readings)


def _colours(look: StripLook, one: StripFault, other: StripFault) -> Iterator[StripCandidate]:
    """Colours that may be sent, where the sender sets an order."""
    if not look.plan.set_order:
        return
    for sent in COLOURS:
        if sent not in [tried for tried, _ in look.colours]:
            seen = (shown_colour(sent, one), shown_colour(sent, other))
            yield StripCandidate(None, COLOUR_SIGMAS if seen[0] != seen[1] else 0.0, sent=sent, colours=seen)
