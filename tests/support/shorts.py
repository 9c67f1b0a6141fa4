"""A case of shorts as a build, and what the program says of it in the case's own keys."""

from __future__ import annotations

import math
from typing import Any

from tests.support.cases import LIGHT, _bus, _joint, attached
from tiny_lantern.electrical.network import node_name, snap_node
from tiny_lantern.electrical.shorts.sequence import FuseOpens
from tiny_lantern.electrical.shorts.study import BusPeak, Instant, Overload, RailPeak, ShortCourse, short_at
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, Conductor, Feed, Supply
from tiny_lantern.model.parts.connector import ConnectorPart
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.strip import CcChannel, CcPixel, StripPart
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.parts.wire import WirePart  # fmt: skip
from tiny_lantern.model.strip import Strip

PIXEL = CcPixel(
    quiescent_a=0.0,
    channels=(CcChannel(name="red", full_current_a=0.01, v_off_v=1.8, v_full_v=2.4, light=LIGHT),),
)


def results_of(case: dict[str, Any]) -> dict[str, Any]:
    """What the program finds for every short of a case."""
    build = build_of(case)
    return {"shorts": [_short(build, given) for given in case["inputs"]["shorts"]]}


def build_of(case: dict[str, Any]) -> Build:
    """The build of a case."""
    given = case["inputs"]
    feeds = list(enumerate(given["feeds"]))
    wires = [_wire(n, side, feed) for n, feed in feeds for side in ("out", "back")]
    return Build(
        name=case["id"],
        parts=(
            *(_strip_part(n, run) for n, run in enumerate(given["runs"])),
            *(_supply_part(n, item) for n, item in enumerate(given["supplies"])),
            *(
                FusePart(id=f"fuse-{n}", name=f"fuse {n}", rating_a=feed["fuse_A"], cold_ohm=0)
                for n, feed in feeds
                if feed["fuse_A"] is not None
            ),
            *(
                ConnectorPart(id=f"plug-{n}", name=f"plug {n}", contact_ohm=0, limit_a=feed["connector_limit_A"])
                for n, feed in feeds
            ),
            *wires,
        ),
        pieces=tuple(_strip(n, run) for n, run in enumerate(given["runs"])),
        joints=tuple(revise(_joint(n, item), limit_a=item["limit_A"]) for n, item in enumerate(given["joints"])),
        buses=tuple(
            revise(_bus(n, item), limit_a=item["limit_A"], tap_limit_a=item["tap_limit_A"])
            for n, item in enumerate(given["buses"])
        ),
        supplies=tuple(
            Supply(id=f"supply-{n}", name=f"supply {n}", part_id=f"source-{n}", set_v=item["open_circuit_V"])
            for n, item in enumerate(given["supplies"])
        ),
        feeds=tuple(_feed(n, feed) for n, feed in feeds),
    )


def _wire(number: int, side: str, feed: dict[str, Any]) -> WirePart:
    limit = feed[f"wire_{side}_limit_A"]
    return WirePart(id=f"{side}-{number}", name=f"{side} {number}", area_mm2=1, ohm_per_m=0.0195, limit_a=limit)


def _strip_part(number: int, run: dict[str, Any]) -> StripPart:
    return StripPart(
        id=f"part-{number}", name=f"part {number}", nominal_v=5, pitch_m=run["pitch_m"],
        rail_pos_ohm_per_m=run["rail_pos_ohm_per_m"], rail_neg_ohm_per_m=run["rail_neg_ohm_per_m"],
        rail_limit_a=run["rail_pos_limit_A"], return_limit_a=run["rail_neg_limit_A"], v_logic_min_v=3.7,
        colour_order="R", pixel=PIXEL,
    )  # fmt: skip


def _strip(number: int, run: dict[str, Any]) -> Strip:
    return Strip(
        id=f"run-{number}", name=f"run {number}", part_id=f"part-{number}", pixel_count=run["pixel_count"],
        pitch_m=run["pitch_m"], colour_order="R", cuts=tuple(run["positive_cut_before_pixel"]),
    )  # fmt: skip


def _supply_part(number: int, item: dict[str, Any]) -> SupplyPart:
    return SupplyPart(
        id=f"source-{number}", name=f"source {number}", source="bench", nominal_v=item["open_circuit_V"], rated_a=100,
        output_ohm=item["output_ohm"], sinks_current=item["sinks_current"], limit_kind=item["limit_kind"],
        limit_a=item["limit_a"],
    )  # fmt: skip


def _feed(number: int, feed: dict[str, Any]) -> Feed:
    sides = (
        Conductor(wire_id=f"{side}-{number}", length_m=0, connector_id=f"plug-{number}", measured_ohm=feed[ohm])
        for side, ohm in (("out", "pos_ohm"), ("back", "neg_ohm"))
    )
    positive, negative = sides
    fuse = None if feed["fuse_A"] is None else f"fuse-{number}"
    return Feed(
        id=f"feed-{number}", supply_id=f"supply-{feed['supply']}", attach=attached(feed["attach"]), positive=positive,
        negative=negative, fuse_id=fuse,
    )  # fmt: skip


def _short(build: Build, given: dict[str, Any]) -> dict[str, Any]:
    strip = build.strips[given["run"]]
    node = snap_node(strip, given["position_m"])
    course = short_at(build, strip.id, node, given["ohm"])
    other = short_at(build, strip.id, node, given["ohm"], fuses_first=True)
    differs = (other.how, other.severity) != (course.how, course.severity)
    return {
        "run": given["run"], "node": node_name(strip, node), "ohm": given["ohm"], "first": _instant(course.first),
        "steps": [
            {"event": _event(event), **_instant(after)}
            for event, after in zip(course.events, course.after, strict=True)
        ],
        **_end(build, course),
        "cleared": course.how != "standing", "largest": _largest(build, course),
        "if_fuses_first": _end(build, other) if differs else None,
    }  # fmt: skip


def _end(build: Build, course: ShortCourse) -> dict[str, Any]:
    return {
        "opened": list(course.opened), "shut_down": list(course.shut_down), "how": course.how,
        "severity": course.severity, "short_A": course.end.short_a,
        "over_limit": [_over(build, overload) for overload in course.over],
    }  # fmt: skip


def _number(value: float) -> float | None:
    return None if math.isnan(value) else value


def _instant(instant: Instant) -> dict[str, Any]:
    return {
        "feeds": [
            {"out_A": float(out), "back_A": float(back)}
            for out, back in zip(instant.out_a, instant.back_a, strict=True)
        ],
        "supplies": [
            {"current_A": float(current), "terminal_V": _number(float(v)), "state": answer.label}
            for current, v, answer in zip(instant.supply_a, instant.terminal_v, instant.answers, strict=True)
        ],
        "short_A": instant.short_a, "short_pos_V": _number(instant.short_pos_v),
        "short_neg_V": _number(instant.short_neg_v),
    }  # fmt: skip


def _event(event: Any) -> dict[str, Any]:
    if isinstance(event, FuseOpens):
        return {"kind": "fuse_opens", "feed": event.feed, "times_rating": event.times_rating}
    return {
        "kind": "supplies_shut_down", "supplies": list(event.supplies), "times_limit": list(event.times_limit),
    }  # fmt: skip


def _peak(peak: RailPeak, names: Any) -> dict[str, Any]:
    between = None if peak.between is None else [names(node) for node in peak.between]
    stretch = None if peak.stretch is None else [names(node) for node in peak.stretch]
    return {"A": peak.current_a, "between": between, "stretch": stretch}


def _bus_largest(bus: BusPeak) -> dict[str, Any]:
    positive, negative = (_peak(peak, str) for peak in bus.conductors)
    return {
        "positive": positive, "return": negative, "positive_tap_A": bus.taps_a[0], "return_tap_A": bus.taps_a[1],
    }  # fmt: skip


def _largest(build: Build, course: ShortCourse) -> dict[str, Any]:
    end = _instant(course.end)
    return {
        "feeds": [{key: abs(amps) for key, amps in feed.items()} for feed in end["feeds"]],
        "runs": [
            {
                name: _peak(peak, lambda node, strip=strip: node_name(strip, node))
                for name, peak in zip(("positive", "return"), peaks, strict=True)
            }
            for strip, peaks in zip(build.strips, course.rails, strict=True)
        ],
        "joints": [{"positive_A": pos, "return_A": neg} for pos, neg in course.joints_a],
        "buses": [_bus_largest(bus) for bus in course.buses],
    }


def _over(build: Build, overload: Overload) -> dict[str, Any]:
    copper = overload.copper
    where: list[str] | None = None
    if copper.kind == "run" and overload.where:
        where = [node_name(build.strips[copper.number], node) for node in overload.where]
    elif copper.kind == "tap" and overload.where:
        where = [f"pixel {pixel}" for pixel in overload.where]
    elif overload.where:
        where = [str(node) for node in overload.where]
    names = {"run": f"{copper.part} rail", "tap": f"{copper.part} tap"}
    kind = "bus" if copper.kind == "tap" else copper.kind
    return {
        "copper": f"{kind} {copper.number} {names.get(copper.kind, copper.part)}", "current_A": overload.current_a,
        "limit_A": overload.limit_a, "where": where,
    }  # fmt: skip
