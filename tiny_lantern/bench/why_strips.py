"""Why strips read otherwise than they should: their readings and looks put to the diagnosis of strips."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from tiny_lantern.bench.of_build import AtBench
from tiny_lantern.bench.order import Asked, in_words
from tiny_lantern.bench.strips.fault import StripFault
from tiny_lantern.bench.strips.next_reading import StripNext, next_strip_reading
from tiny_lantern.bench.strips.of_build import STRIPS, StripsAtBench, pad, pattern_name
from tiny_lantern.bench.strips.plan import TEST
from tiny_lantern.bench.strips.probes import StripProbe, StripReading, spread_of
from tiny_lantern.bench.strips.ranking import StripLook, diagnose_strips
from tiny_lantern.bench.strips.seen import SeenRange
from tiny_lantern.bench.told import LEAST_SHARE, MOST_CAUSES, ToldCause, ToldNext, Why, capital
from tiny_lantern.bench.where import where_words
from tiny_lantern.model.bench import BenchLook, BenchReading


def strip_look(bench: AtBench) -> tuple[StripsAtBench, str, StripLook] | None:
    """What was read and seen of strips: in the pattern that most was, which is the test, and readings in others; None
    where nothing was.

    Args:
        bench: the build at the bench.
    """
    build = bench.build
    if not (build.strips and build.feeds):
        return None
    strips = StripsAtBench(build)
    readings = [
        each for each in build.bench.readings if pattern_name(each.pattern) is not None and each.value is not None
    ]
    seen = [each for each in build.bench.looks if pattern_name(each.pattern) is not None]
    both: list[BenchReading | BenchLook] = [*readings, *seen]
    names = [pattern_name(each.pattern) or "" for each in both]
    if not names:
        return None
    test = max(dict.fromkeys(names), key=names.count)
    taken = tuple(each for reading in readings if (each := _strip_taken(strips, reading, test)) is not None)
    numbers = {strip.id: at for at, strip in enumerate(build.strips)}
    ranges = tuple(
        SeenRange(each.word, numbers[each.lamp], each.first, each.last) for each in seen
        if pattern_name(each.pattern) == test and each.lamp in numbers
        and each.first is not None and each.last is not None
    )  # fmt: skip
    return (strips, test, StripLook(strips.plan_in(test), taken, ranges)) if taken or seen else None


def _strip_taken(strips: StripsAtBench, reading: BenchReading, test: str) -> StripReading | None:
    name = pattern_name(reading.pattern) or ""
    try:
        probe = strips.probe(reading.kind, reading.plus, reading.minus, reading.conductor, name)
        off = strips.expected(probe)[1]
    except (KeyError, ValueError):
        return None
    share, always = spread_of(probe.kind)
    value = reading.value or 0.0
    sigma = float(np.hypot(share * abs(value) + always, off / 2))
    return StripReading(replace(probe, pattern=TEST if name == test else name), value, sigma)


def why_of_strips(
    bench: AtBench, given: tuple[StripsAtBench, str, StripLook], report: Callable[[float], None]
) -> Why:  # fmt: skip
    """The diagnosis of what was read and seen of strips.

    Args:
        bench: the build at the bench.
        given: its strips, the pattern that is the test, and the look at them.
        report: told how much is done; what it raises ends the work.
    """
    strips, test, look = given
    verdict = diagnose_strips(look, report)
    shown = [cause for cause in verdict.causes[:MOST_CAUSES] if cause.posterior >= LEAST_SHARE]
    causes = tuple(
        ToldCause(capital(strips.words(cause.best)), cause.posterior, cause.kind, _strip_of(strips, cause.best))
        for cause in shown
    )
    others = max(0.0, 1.0 - sum(cause.posterior for cause in shown))
    following = next_strip_reading(look, verdict)
    return Why(causes, others, len(look.readings), len(look.seen), _strip_next(bench, strips, test, following))


def _strip_of(strips: StripsAtBench, fault: StripFault) -> str:
    run = fault.place.get("run", fault.place.get("real_run"))
    return strips.build.strips[int(run)].id if run is not None else ""


def _strip_next(
    bench: AtBench, strips: StripsAtBench, test: str, following: StripNext | None
) -> ToldNext | None:  # fmt: skip
    """The reading of strips that tells most, by pads; None where none helps or it is no reading."""
    if following is None:
        return None
    for best in sorted(following.enough, key=lambda each: (each is not following.easiest, -each.separation)):
        asked = strip_asked(bench, strips, test, best.probe) if best.probe is not None else None
        if asked is not None:
            two = zip(best.predicted, (following.leader, following.other), strict=True)
            told = [f"{in_words(asked.kind, value)}: {capital(strips.words(each.best))}" for value, each in two]
            return ToldNext(asked, where_words(bench, asked), told[0], told[1], following.decided)
    return None


def strip_asked(bench: AtBench, strips: StripsAtBench, test: str, probe: StripProbe) -> Asked | None:
    """A probe of strips by pads and conductors; None of what has no pads.

    Args:
        bench: the build at the bench.
        strips: its strips.
        test: what the test sends.
        probe: the probe.
    """
    build = strips.build
    pattern = f"{STRIPS}{test if probe.pattern == TEST else probe.pattern}"
    if pattern_name(pattern) is None:
        return None
    if probe.kind in ("feed_A", "supply_A"):
        side = "out" if probe.conductor == "pos" else "back"
        supply = build.supplies[probe.supply].id if probe.kind == "supply_A" else ""
        return Asked("A", conductor=supply or f"feed/{build.feeds[probe.feed].id}/{side}", pattern=pattern)
    strip = build.strips[probe.run] if probe.run < len(build.strips) else None
    if strip is None or probe.kind not in ("pixel_V", "node_V", "rail_drop_V"):
        return None
    if probe.kind == "pixel_V":
        return Asked("V", pad(strip, probe.pixel, "pos"), pad(strip, probe.pixel, "neg"), pattern=pattern)
    if probe.kind == "node_V":
        return Asked("V", pad(strip, probe.node, probe.rail), bench.zero, pattern=pattern)
    return Asked("V", pad(strip, probe.start, probe.rail), pad(strip, probe.stop, probe.rail), pattern=pattern)
