"""Solved networks as builds: the one way from a case to a build and its duties."""

from __future__ import annotations

import json
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np

from tiny_lantern.model.build import Build, Bus, Conductor, Feed, Joint, OnBus, OnStrip, Supply
from tiny_lantern.model.parts.light import Primary
from tiny_lantern.model.parts.strip import CcChannel, CcPixel, Pixel, RlChannel, RlPixel, StripPart
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.parts.wire import WirePart  # fmt: skip
from tiny_lantern.model.strip import Strip

CASES = Path(__file__).parents[1] / "electrical" / "network-cases.json"
LIGHT = Primary(x=0.3127, y=0.329, intensity_cd=1.0)
WIRE = WirePart(id="wire", name="measured lead", area_mm2=1.0, ohm_per_m=0.0195, limit_a=1000)


@cache
def cases() -> dict[str, dict[str, Any]]:
    """Every case by its id."""
    return {case["id"]: case for case in json.loads(CASES.read_text(encoding="utf-8"))["cases"]}


def build_from_case(case: dict[str, Any]) -> tuple[Build, tuple[np.ndarray, ...]]:
    """The build of a case and the duties of its strips."""
    given = case["inputs"]
    build = Build(
        name=case["id"],
        parts=(
            *(_strip_part(number, run) for number, run in enumerate(given["runs"])),
            *(_supply_part(number, item) for number, item in enumerate(given["supplies"])),
            WIRE,
        ),
        pieces=tuple(_strip(number, run) for number, run in enumerate(given["runs"])),
        joints=tuple(_joint(number, item) for number, item in enumerate(given["joints"])),
        buses=tuple(_bus(number, item) for number, item in enumerate(given["buses"])),
        supplies=tuple(
            Supply(id=f"supply-{n}", name=f"supply {n}", part_id=f"source-{n}", set_v=item["open_circuit_V"])
            for n, item in enumerate(given["supplies"])
        ),
        feeds=tuple(_feed(number, item) for number, item in enumerate(given["feeds"])),
    )
    return build, tuple(np.array(run["duty"], float) for run in given["runs"])


def _pixel(given: dict[str, Any]) -> Pixel:
    if given["type"] == "cc":
        held = tuple(
            CcChannel(
                name=c["name"], full_current_a=c["full_current_A"], v_off_v=c["v_off_V"],
                v_full_v=c["v_full_V"], light=LIGHT,
            )
            for c in given["channels"]
        )  # fmt: skip
        return CcPixel(quiescent_a=given["quiescent_A"], channels=held)
    limited = tuple(
        RlChannel(
            name=c["name"], led_count=c["led_count"], forward_v=c["led_forward_V"],
            resistor_ohm=c["resistor_ohm"], light=LIGHT,
        )
        for c in given["channels"]
    )  # fmt: skip
    return RlPixel(channels=limited)


def _strip_part(number: int, run: dict[str, Any]) -> StripPart:
    pixel = _pixel(run["pixel"])
    return StripPart(
        id=f"part-{number}", name=f"part {number}", nominal_v=12 if run["pixel"]["type"] == "rl" else 5,
        pitch_m=run["pitch_m"], rail_pos_ohm_per_m=run["rail_pos_ohm_per_m"],
        rail_neg_ohm_per_m=run["rail_neg_ohm_per_m"], rail_limit_a=5, v_logic_min_v=3.7,
        colour_order="".join(c.name[0].upper() for c in pixel.channels), pixel=pixel,
    )  # fmt: skip


def _supply_part(number: int, item: dict[str, Any]) -> SupplyPart:
    return SupplyPart(
        id=f"source-{number}", name=f"source {number}", source="bench", nominal_v=item["open_circuit_V"],
        rated_a=100, output_ohm=item["output_ohm"], sinks_current=True,
    )  # fmt: skip


def _strip(number: int, run: dict[str, Any]) -> Strip:
    letters = "".join(c["name"][0].upper() for c in run["pixel"]["channels"])
    return Strip(
        id=f"run-{number}", name=f"run {number}", part_id=f"part-{number}", pixel_count=run["pixel_count"],
        pitch_m=run["pitch_m"], colour_order=letters, cuts=tuple(run["positive_cut_before_pixel"]),
    )  # fmt: skip


def _joint(number: int, item: dict[str, Any]) -> Joint:
    return Joint(
        id=f"joint-{number}", from_strip_id=f"run-{item['from_run']}", to_strip_id=f"run-{item['to_run']}",
        pos_ohm=item["pos_ohm"], neg_ohm=item["neg_ohm"],
    )  # fmt: skip


def _bus(number: int, item: dict[str, Any]) -> Bus:
    return Bus(
        id=f"bus-{number}", strip_id=f"run-{item['run']}", pos_ohm_per_m=item["pos_ohm_per_m"],
        neg_ohm_per_m=item["neg_ohm_per_m"], tap_pixels=tuple(item["tap_pixels"]),
        tap_pos_ohm=item["tap_pos_ohm"], tap_neg_ohm=item["tap_neg_ohm"],
    )  # fmt: skip


def attached(to: dict[str, Any]) -> OnBus | OnStrip:
    """Where a feed of a case is soldered."""
    if to["kind"] == "bus":
        return OnBus(bus_id=f"bus-{to['bus']}", end=to["end"])
    return OnStrip(strip_id=f"run-{to['run']}", position_m=to["position_m"])


def _feed(number: int, item: dict[str, Any]) -> Feed:
    return Feed(
        id=f"feed-{number}", supply_id=f"supply-{item['supply']}", attach=attached(item["attach"]),
        positive=Conductor(wire_id="wire", length_m=0, measured_ohm=item["pos_ohm"]),
        negative=Conductor(wire_id="wire", length_m=0, measured_ohm=item["neg_ohm"]),
    )  # fmt: skip
