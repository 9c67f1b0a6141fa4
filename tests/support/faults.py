"""Strips with a fault: a question of the reference put to the program, its verdict in the reference's words."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np

from tests.support.cases import build_from_case
from tiny_lantern.bench.strips.fault import StripFault
from tiny_lantern.bench.strips.fit import fit_strips
from tiny_lantern.bench.strips.next_reading import StripNext, next_strip_reading
from tiny_lantern.bench.strips.plan import Made, StripPlan
from tiny_lantern.bench.strips.probes import StripProbe, StripReading
from tiny_lantern.bench.strips.ranking import StripLook, diagnose_strips
from tiny_lantern.bench.strips.seen import SeenRange

Json = dict[str, Any]
NAMES = {"from": "start", "to": "stop"}
PLACES = {
    "pixel_V": ("run", "pixel"),
    "node_V": ("run", "rail", "node"),
    "rail_drop_V": ("run", "rail", "from", "to"),
    "supply_V": ("supply",),
    "supply_A": ("supply",),
    "feed_drop_V": ("feed", "conductor"),
    "fuse_V": ("feed",),
    "feed_A": ("feed", "conductor"),
}


def plan_of(question: Json) -> StripPlan:
    """The strips of a question, and what is sent to them."""
    build, _ = build_from_case(question)
    sent = tuple(np.array(duty, float) for duty in question["pattern"]["duty"])
    made = tuple(_made(feed) for feed in question["inputs"]["feeds"])
    plan = StripPlan(build, sent, None, question["set_order"] or "", made)
    before = question.get("previous_pattern")
    if before in (None, "off"):
        return plan
    duties = plan.pattern(before) if isinstance(before, str) else tuple(np.array(d, float) for d in before["duty"])
    return StripPlan(build, sent, duties, question["set_order"] or "", made)


def _made(feed: Json) -> Made | None:
    made = feed.get("made_of")
    return Made(made["length_m"], made["area_mm2"], made.get("fuse_ohm") or 0.0) if made else None


def look_of(question: Json) -> StripLook:
    """A question as the program's look at strips."""
    readings = tuple(
        StripReading(_probe(each["kind"], each["place"], each.get("pattern")), each["value"], each["sigma"])
        for each in question["readings"]
    )
    plan = plan_of(question)
    seen = tuple(each for said in question["seen"] for each in _ranges(plan, said))
    colours = tuple((each["sent"], each["seen"]) for each in question["colour_tests"])
    return StripLook(plan, readings, seen, colours)


def _ranges(plan: StripPlan, said: Json) -> Iterator[SeenRange]:
    """What was said of a range of pixels; without one it is said of all."""
    if said["word"] == "none":
        return
    if "run" in said:
        yield SeenRange(said["word"], said["run"], said["from"], said["to"])
        return
    for number, duty in enumerate(plan.sent):
        yield SeenRange(said["word"], number, 0, len(duty) - 1)


def _probe(kind: str, place: Json, pattern: str | None) -> StripProbe:
    fields = {NAMES.get(name, name): value for name, value in place.items()}
    return StripProbe(kind, **fields, pattern=pattern or "test")  # type: ignore[arg-type]


def verdict_of(question: Json) -> Json:
    """The program's verdict: causes and the next reading; a fit where parameters are ``free``."""
    look = look_of(question)
    if question.get("free"):
        return {"ranking": [], "next": None, "fit": _fit(look, question["free"])}
    verdict = diagnose_strips(look)
    ranking = [
        {"kind": each.kind, "place": _place(each.best), "size": each.best.size, "posterior": each.posterior}
        for each in verdict.causes
    ]
    return {"ranking": ranking, "next": _next(next_strip_reading(look, verdict)), "fit": None}


def _place(fault: StripFault) -> Json:
    if fault.kind == "feeds_swapped":
        return {"feeds": [fault.place["feed"], fault.place["other"]]}
    return dict(fault.place)


def _next(found: StripNext | None) -> Json | None:
    if found is None:
        return None
    between = [found.leader.best.kind, found.other.best.kind]
    easiest = found.easiest
    if easiest.probe is None:
        return {"between": between, "kind": "seen_colour", "place": {"sent": easiest.sent}}
    probe = easiest.probe
    place = {name: getattr(probe, NAMES.get(name, name)) for name in PLACES[probe.kind]}
    pattern = {} if probe.pattern == "test" else {"pattern": probe.pattern}
    return {"between": between, "kind": probe.kind, "place": place, **pattern}


def _fit(look: StripLook, free: list[str]) -> Json:
    found = fit_strips(look.plan, look.readings, free)
    pairs = [sorted(pair) for pair in found.inseparable]
    return {"estimate": dict(found.estimate), "sigma": dict(found.sigma), "inseparable": pairs}
