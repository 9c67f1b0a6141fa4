"""Pixels: one shorted, others fitted than planned, colours in another order, data that stops."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import permutations

import numpy as np

from tiny_lantern.bench.fault import Sizes
from tiny_lantern.bench.strips.alter import with_bridge
from tiny_lantern.bench.strips.fault import Place, Size, StripFault, StripFaultKind, Sweep
from tiny_lantern.bench.strips.plan import Duties, StripPlan, World
from tiny_lantern.electrical.reach import fed_network
from tiny_lantern.model.edits import replaced
from tiny_lantern.model.parts.strip import CcPixel
from tiny_lantern.model.quantities import engineering
from tiny_lantern.model.strip import Strip

SHORT = Sizes(0.3, 30.0, 9, 48, by_ratio=True)
DENSITIES_PER_M = (30, 48, 60, 72, 96, 144)
KEEPS = ("dark", "old")


def _shorted(plan: StripPlan) -> Iterator[Sweep]:
    def world(place: Place, size: Size) -> World:
        number, pixel = int(place["run"]), int(place["pixel"])
        pos = int(plan.network.runs[plan.run(number)].pos_nodes[pixel + 1])

        def shown(sent: Duties) -> Duties:
            found = [duty.copy() for duty in sent]
            found[number][pixel] = 0.0
            return tuple(found)

        bridged = with_bridge(plan.network, pos, float(size["ohm"]))
        return World(bridged, shown, dead_pairs=(pos // 2,))

    for number, strip in enumerate(plan.strips):
        places: tuple[Place, ...] = tuple({"run": number, "pixel": at} for at in range(strip.pixel_count))
        yield Sweep("pixel_short", places, world, "ohm", SHORT, along="pixel")


def _density(plan: StripPlan) -> Iterator[Sweep]:
    if len(plan.strips) != 1 or not plan.holds_current or plan.build.buses or plan.strips[0].cuts:
        return
    planned = plan.strips[0]
    if not isinstance(planned, Strip):
        return

    def world(place: Place, size: Size) -> World:
        pitch_m = 1 / float(size["per_m"])
        count = round(planned.length_m / pitch_m)
        other = planned.model_copy(update={"pixel_count": count, "pitch_m": pitch_m})
        network = fed_network(plan.build.model_copy(update={"pieces": replaced(plan.build.pieces, planned.id, other)}))
        centre_m = (np.arange(planned.pixel_count) + 0.5) * planned.pitch_m
        nearest = np.clip(np.ceil(centre_m / pitch_m - 1 - 1e-6), 0, count - 1).astype(np.int64)

        def shown(sent: Duties) -> Duties:
            found = np.zeros((count, sent[0].shape[1]))
            lit = min(count, len(sent[0]))
            found[:lit] = sent[0][:lit]
            return (found,)

        return World(network, shown, stands_for=(nearest,))

    others: tuple[Size, ...] = tuple(
        {"per_m": each} for each in DENSITIES_PER_M if abs(each * planned.pitch_m - 1) > 1e-3
    )
    yield Sweep("strip_density", ({"run": 0},), world, singly=others)


def _order(plan: StripPlan) -> Iterator[Sweep]:
    if not plan.set_order:
        return

    def world(place: Place, size: Size) -> World:
        return World(plan.network, lambda sent: tuple(
            _permuted(plan, number, duty, str(size["real_order"])) for number, duty in enumerate(sent)
        ))  # fmt: skip

    orders = ("".join(order) for order in permutations("RGB"))
    others: tuple[Size, ...] = tuple(
        {"set_order": plan.set_order, "real_order": order} for order in orders if order != plan.set_order
    )
    yield Sweep("colour_order", ({},), world, singly=others)


def _permuted(plan: StripPlan, number: int, duty: np.ndarray, real_order: str) -> np.ndarray:
    """What is shown where each byte drives another colour."""
    found = duty.copy()
    for sent, driven in zip(plan.set_order, real_order, strict=True):
        found[:, plan.channel(number, driven)] = duty[:, plan.channel(number, sent)]
    return found


def shown_colour(sent: str, fault: StripFault | None) -> str:
    """The colour that is seen where one is sent, under a fault.

    Args:
        sent: the colour.
        fault: the fault, None without one.
    """
    if fault is None or fault.kind != "colour_order":
        return sent
    letter = str(fault.size["real_order"])[str(fault.size["set_order"]).index(sent[0].upper())]
    return {"R": "red", "G": "green", "B": "blue"}[letter]


def _broken(plan: StripPlan) -> Iterator[Sweep]:
    if not all(isinstance(pixel, CcPixel) for pixel in plan.network.pixels):
        return
    joined = {joint.from_strip_id: joint.to_strip_id for joint in plan.build.joints}
    numbers = {strip.id: number for number, strip in enumerate(plan.strips)}

    def after(number: int) -> Iterator[int]:
        following = joined.get(plan.strips[number].id)
        while following is not None:
            yield numbers[following]
            following = joined.get(following)

    def world(place: Place, size: Size) -> World:
        number, pixel = int(place["run"]), int(place["pixel"])

        def shown(sent: Duties) -> Duties:
            found = [duty.copy() for duty in sent]
            kept = plan.before if size["keeps"] == "old" else None
            for at, first in ((number, pixel), *((each, 0) for each in after(number))):
                found[at][first:] = kept[at][first:] if kept is not None else 0.0
            return tuple(found)

        return World(plan.network, shown)

    keeps: tuple[Size, ...] = tuple({"keeps": each} for each in KEEPS if each == "dark" or plan.before is not None)
    for number, strip in enumerate(plan.strips):
        places: tuple[Place, ...] = tuple({"run": number, "pixel": at} for at in range(strip.pixel_count))
        yield Sweep("data_broken", places, world, singly=keeps)


def _at(plan: StripPlan, fault: StripFault) -> str:
    return f"pixel {fault.place['pixel']} of “{plan.strips[int(fault.place['run'])].name}”"


def _short_words(plan: StripPlan, fault: StripFault) -> str:
    return f"{_at(plan, fault)} is shorted through {engineering(float(fault.size['ohm']), 'ohm')}"


def _broken_words(plan: StripPlan, fault: StripFault) -> str:
    shows = "show what was sent before" if fault.size["keeps"] == "old" else "stay dark"
    return f"no data reaches {_at(plan, fault)}: it and all after it {shows}"


KINDS = (
    StripFaultKind("pixel_short", _short_words, _shorted),
    StripFaultKind("strip_density",
                   lambda plan, fault: f"“{plan.strips[0].name}” has {fault.size['per_m']} pixels a metre", _density),
    StripFaultKind("colour_order", lambda plan, fault: f"the strip's own order is {fault.size['real_order']}, not "
                   f"{fault.size['set_order']}", _order),
    StripFaultKind("data_broken", _broken_words, _broken),
)  # fmt: skip
