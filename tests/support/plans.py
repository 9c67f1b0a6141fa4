"""A case of where to feed as a build, and what the program's search says of it in the case's own keys."""

from __future__ import annotations

from functools import partial
from typing import Any

import numpy as np

from tests.support.cases import LIGHT, _joint, _pixel
from tiny_lantern.electrical.feed.bound import bound_of
from tiny_lantern.electrical.feed.judge import detail_of
from tiny_lantern.electrical.feed.search import Found, search
from tiny_lantern.electrical.feed.tidy import RoundPlaces
from tiny_lantern.electrical.network import node_name
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Approach, Build, Corner, Limits, Supply
from tiny_lantern.model.parts.connector import ConnectorPart
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.light import Primary
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.model.strip import Strip
from tiny_lantern.plans.line_task import FeedOption, LineTask, Loads, line_task

OPEN_SHARE = 0.8


def results_of(case: dict[str, Any]) -> dict[str, Any]:
    """What the program finds for a case."""
    build, option = build_of(case)
    white = tuple(np.ones((strip.pixel_count, _channels(build, strip))) for strip in build.strips)
    asked = line_task(build, "run-0", option, Loads(white, white, white))
    bound = bound_of(asked.task, asked.least_a)
    small = "big" not in case["tags"]
    found = search(asked.task, bound, most_feeds=case["inputs"]["max_feeds"] if small else 400)
    name = partial(_name, asked)
    results: dict[str, Any] = {
        "candidates": len(asked.task.candidates), "possible": found.plan is not None,
        "lower_bound": _bound(asked, found),
    }  # fmt: skip
    if found.plan is None:
        return {**results, "why": found.why}
    results |= {
        "searched": [{"feeds": t.feeds, "plans": t.tried, "feasible": len(t.plans)} for t in found.levels],
        "fewest_feeds": len(found.plan), "proven_minimal": len(found.plan) == bound.fewest,
        "feeds_found": len(found.plan), "best_worst_V": found.best_worst_v, "plan": _plan(asked, found.plan),
    }  # fmt: skip
    if found.levels:
        level, rounds = found.levels[-1], RoundPlaces(asked.task.ladder)
        least = np.flatnonzero(np.round(level.wire_m, 9) == np.round(level.wire_m, 9).min())[0]
        strict = level.plans[level.worst_v >= found.best_worst_v - 1e-9]
        results |= {
            "least_wire_m": float(level.wire_m[least]), "least_wire_plan": [name(n) for n in level.plans[least]],
            "feasible_plans": len(level.plans), "strict_best": [[name(n) for n in plan] for plan in strict[:4]],
            "strict_best_count": len(strict), "tied_count": len(found.alike),
            "tied": [
                {"plan": [name(n) for n in plan], "worst_V": float(v), "wire_m": float(m),
                 "round": int(rounds.any[plan].sum())}
                for plan, v, m in zip(found.alike[:8], found.alike_v, found.alike_m, strict=False)
            ],
        }  # fmt: skip
    return results


def build_of(case: dict[str, Any]) -> tuple[Build, FeedOption]:
    """The build of a case and the kind of feed to place."""
    given = case["inputs"]
    feed = given["feed_option"]
    wires = [
        WirePart(id=side, name=side, area_mm2=1, ohm_per_m=feed[f"wire_{side}_ohm_per_m"],
                 limit_a=feed[f"wire_{side}_limit_A"])
        for side in ("out", "back")
    ]  # fmt: skip
    plug = ConnectorPart(id="plug", name="plug", contact_ohm=feed["connectors_ohm"], limit_a=feed["connector_limit_A"])
    fuse = FusePart(id="fuse", name="fuse", rating_a=feed["fuse_A"], cold_ohm=feed["fuse_ohm"])
    loss = given["limits"]["light_loss_max"]
    strips = tuple(_strip(n, run, given) for n, run in enumerate(given["runs"]))
    build = Build(
        name=case["id"],
        corner=Corner(**given["corner"]),
        limits=Limits(v_min_v=given["limits"]["v_min_V"], light_loss_max=1.0 if loss is None else loss, tint_max=1.0),
        parts=(
            *(_strip_part(n, run) for n, run in enumerate(given["runs"])),
            *(_supply_part(n, item) for n, item in enumerate(given["supplies"])),
            *wires, plug, fuse,
        ),
        pieces=strips,
        joints=tuple(revise(_joint(n, item), limit_a=item["limit_A"]) for n, item in enumerate(given["joints"])),
        supplies=tuple(
            Supply(id=f"supply-{n}", name=f"supply {n}", part_id=f"source-{n}", set_v=item["open_circuit_V"])
            for n, item in enumerate(given["supplies"])
        ),
        approaches=tuple(_approach(n, item, strips) for n, item in enumerate(given["supplies"])),
    )  # fmt: skip
    return build, FeedOption(*wires, plug, plug, fuse)


def _channels(build: Build, strip: Strip) -> int:
    return len(next(part for part in build.shelf.of(StripPart) if part.id == strip.part_id).pixel.channels)


def _strip_part(number: int, run: dict[str, Any]) -> StripPart:
    pixel = _pixel(run["pixel"])
    lights = {c["name"]: c.get("Y", 1.0) for c in run["pixel"]["channels"]}
    channels = tuple(
        revise(c, light=Primary(x=LIGHT.x, y=LIGHT.y, intensity_cd=lights[c.name])) for c in pixel.channels
    )
    return StripPart(
        id=f"part-{number}", name=f"part {number}", nominal_v=run["pixel"].get("nominal_V", 5.0),
        pitch_m=run["pitch_m"], rail_pos_ohm_per_m=run["rail_pos_ohm_per_m"],
        rail_neg_ohm_per_m=run["rail_neg_ohm_per_m"], rail_limit_a=run["rail_pos_limit_A"],
        return_limit_a=run["rail_neg_limit_A"], v_logic_min_v=3.7,
        colour_order="".join(c.name[0].upper() for c in channels), pixel=revise(pixel, channels=channels),
    )  # fmt: skip


def _strip(number: int, run: dict[str, Any], given: dict[str, Any]) -> Strip:
    starts = np.cumsum([0.0] + [r["pixel_count"] * r["pitch_m"] for r in given["runs"]])
    spans, length = given["reach_spans_m"], run["pixel_count"] * run["pitch_m"]
    reach = spans and [(a - starts[number], b - starts[number]) for a, b in spans]
    letters = "".join(c["name"][0].upper() for c in run["pixel"]["channels"])
    return Strip(
        id=f"run-{number}", name=f"run {number}", part_id=f"part-{number}", pixel_count=run["pixel_count"],
        pitch_m=run["pitch_m"], colour_order=letters, cuts=tuple(run["positive_cut_before_pixel"]),
        reach_m=None if spans is None else _own_spans(reach, length),
    )  # fmt: skip


def _own_spans(spans: list[tuple[float, float]], length_m: float) -> tuple[tuple[float, float], ...]:
    return tuple((max(first, 0.0), last) for first, last in spans if last >= -1e-9 and first <= length_m + 1e-9)


def _supply_part(number: int, item: dict[str, Any]) -> SupplyPart:
    return SupplyPart(
        id=f"source-{number}", name=f"source {number}", source="bench", nominal_v=item["open_circuit_V"],
        rated_a=item["rated_A"] * item["derate"] / OPEN_SHARE, output_ohm=item["output_ohm"],
        tolerance=item["tolerance"], sinks_current=True,
    )  # fmt: skip


def _approach(number: int, item: dict[str, Any], strips: tuple[Strip, ...]) -> Approach:
    place, strip = item["position_m"], strips[0]
    for strip in strips:
        if place <= strip.length_m + 1e-9 or strip is strips[-1]:
            break
        place -= strip.length_m
    return Approach(
        id=f"approach-{number}", supply_id=f"supply-{number}", strip_id=strip.id, position_m=max(place, 0.0),
        standoff_m=item["standoff_m"],
    )  # fmt: skip


def _name(asked: LineTask, node: int) -> str:
    ladder = asked.task.ladder
    run = int(ladder.run[node])
    return f"{run}:{node_name(asked.line.strips[run], int(ladder.node[node]))}"


def _place(asked: LineTask, node: int) -> dict[str, Any]:
    run, name = _name(asked, node).split(":")
    return {"run": int(run), "node": name, "x_m": float(asked.task.ladder.place_m[node])}


def _bound(asked: LineTask, found: Found) -> dict[str, Any]:
    bound = found.bound
    return {
        "voltage": bound.voltage, "voltage_greedy_places": [_place(asked, node) for node in bound.greedy],
        "least_current_A": bound.least_a, "one_feed_carries_A": bound.one_feed_a, "fuse": bound.fuse,
        "pieces_least_current_A": list(bound.pieces_a), "fuse_by_pieces": bound.fuse_by_pieces,
        "pieces": bound.pieces, "lower_bound": bound.fewest,
    }  # fmt: skip


def _plan(asked: LineTask, nodes: np.ndarray) -> dict[str, Any]:
    detail, ladder = detail_of(asked.task, nodes), asked.task.ladder
    rounds = RoundPlaces(ladder)
    worst = _place(asked, detail.worst_node)
    return {
        "feeds": [
            {**_place(asked, node), "supply": int(ladder.supply[node]), "length_m": float(asked.task.wire_m[node]),
             "round": rounds.word(node), "out_A": float(out), "back_A": float(back)}
            for node, out, back in zip(nodes, detail.out_a, detail.back_a, strict=True)
        ],
        "wire_m": detail.wire_m, "worst_V": detail.worst_v,
        "worst_pixel": {"run": worst["run"], "node": worst["node"]}, "margin_V": detail.margin_v,
        "supplies_A": detail.supply_a.tolist(), "largest_A": _largest(asked, detail),
    }  # fmt: skip


def _largest(asked: LineTask, detail: Any) -> dict[str, float]:
    run = asked.task.ladder.run
    found = {}
    for side, carried in (("positive", detail.pos_rail_a), ("return", detail.neg_rail_a)):
        for number in range(len(asked.line.strips)):
            own = (run[:-1] == number) & (run[1:] == number)
            found[f"run {number} {side} rail"] = float(np.abs(carried[own]).max())
        for number, element in enumerate(np.flatnonzero(np.diff(run))):
            found[f"joint {number} {side}"] = float(abs(carried[element]))
    return found
