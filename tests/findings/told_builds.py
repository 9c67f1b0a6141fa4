"""Builds of which all that is told is written down: one that provokes each rule, every way to drive, the demos."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from tests.findings.test_findings import PROVOKED, disagreeing, jointed
from tests.support.builds import one_strip, part
from tests.support.driven import LARGE, ROUTED, driven, flood, hold, lamps, lit, matrix, railed
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, Load
from tiny_lantern.model.edits import change_build, change_parts
from tiny_lantern.model.edits_drive import feed_board
from tiny_lantern.model.edits_pieces import add_joint, add_strip, change_strip
from tiny_lantern.model.edits_power import add_supply, set_fuse
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.plans.rewire import change_way
from tiny_lantern.ui.files import demo_build


def _fed(build: Build, supply: str = "mains-5v-4a") -> Build:
    """A driven build whose board hangs on a supply, in a show that breathes."""
    build = add_supply(build, part(supply), "Box")
    build = feed_board(build, build.boards[0].id, build.supplies[0].id)
    return lit(build, kind="breathe", colour="#ffffff", period_s=2.0, length_s=4.0)


def _knobbed() -> Build:
    return change_way(driven("pwm"), "lamps-pwm", knob=True, rest_off=True)


WAYS: dict[str, Callable[[], Build]] = {
    "pin": partial(driven, "pin", lamps(3)),
    "pin, sinking": partial(driven, "pin", lamps(2), sink=True),
    "pwm": partial(driven, "pwm", lamps(3, "lamp-rgb-cathode")),
    "pwm, routed": partial(driven, "pwm", lamps(2), board=ROUTED),
    "pwm, knob": _knobbed,
    "switch, field effect": partial(driven, "switch", lamps(3, wired="series"), led_v=12.0),
    "switch, bipolar": partial(driven, "switch", lamps(2), transistor_id="bjt-small", base_ohm=470.0, led_v=12.0),
    "switch, high side": partial(driven, "switch", lamps(2), transistor_id="mosfet-high", led_v=5.0),
    "switch, load": partial(driven, "switch", flood()),
    "switch, parallel": partial(driven, "switch", lamps(3, wired="parallel")),
    "register": partial(driven, "register", lamps(12)),
    "register, dimming": partial(driven, "register", lamps(8, "lamp-rgb-anode"), sink=True, levels_bits=6),
    "sink": partial(driven, "sink", lamps(10), led_v=5.0),
    "sink, shared lead": partial(driven, "sink", lamps(10), led_v=5.0, common_ohm=20.0),
    "scanned by registers": partial(driven, "scanned", matrix(), rows_by="register"),
    "scanned by transistors": partial(driven, "scanned", matrix(), rows_by="transistor",
                                      row_transistor_id="mosfet-high", row_ohm=0.1),
    "demux": partial(driven, "demux", lamps(5)),
    "relay": partial(driven, "relay", flood()),
    "pair": partial(driven, "pair", lamps(2, "lamp-two-colour-2")),
    "hold": partial(driven, "hold", hold(), board=LARGE),
}  # fmt: skip
DRIVEN: dict[str, Callable[[], Build]] = {
    **{name: (lambda make=make: _fed(make())) for name, make in WAYS.items()},
    "rail": lambda: lit(railed(12, output_ohm=0.5), kind="blink"),
    "battery": lambda: _fed(driven("sink", lamps(8)), "battery-5v-3a"),
    **{f"demo {name}": partial(demo_build, name) for name in ("pier", "cloak")},
}
JUDGED: dict[str, Callable[[], tuple[Build, Load | None]]] = {
    **PROVOKED,
    **{f"way {name}": (lambda make=make: (make(), None)) for name, make in DRIVEN.items()},
    "demo footbridge": lambda: (demo_build("footbridge"), None),
}
POWERED: dict[str, Callable[[], Build]] = {
    "two ends": lambda: one_strip(120, feeds=(0.0, 1.0)),
    "disagreeing": disagreeing,
    "jointed": jointed,
    "cells": lambda: one_strip(60, supply="battery-5v-8a"),
    **{f"demo {name}": partial(demo_build, name) for name in ("footbridge", "pier", "cloak")},
}


def _wide(build: Build) -> Build:
    """The build with a supply that is never the limit."""
    return change_parts(build, revise(build.shelf.of(SupplyPart)[0], rated_a=900.0))


def _two_in_line() -> Build:
    return add_joint(add_strip(_wide(one_strip(150)), part("rgb-5v-60"), 90, "Next"), "strip", "next")


PLANNED: dict[str, Callable[[], tuple[Any, ...]]] = {
    **{f"{pixels} pixels": (lambda pixels=pixels: (one_strip(pixels), "strip")) for pixels in (40, 120, 250, 420)},
    "24 V": lambda: (one_strip(300, "rgb-24v-seg10"), "strip"),
    "four channels": lambda: (one_strip(160, "rgbw-5v-60"), "strip"),
    "cut": lambda: (_wide(change_strip(one_strip(260), "strip", cuts=(90, 180))), "strip"),
    "reach": lambda: (change_strip(one_strip(220), "strip", reach_m=((0.8, 1.3), (2.4, 2.9))), "strip"),
    "thin rails": lambda: (_wide(change_strip(one_strip(200), "strip", rail_pos_ohm_per_m=0.4,
                                              rail_neg_ohm_per_m=0.2)), "strip"),
    "small fuses": lambda: (set_fuse(_wide(one_strip(240)), "feed", part("fuse-3a")), "strip"),
    "two in line": lambda: (_two_in_line(), "next"),
    "tight": lambda: (change_build(_wide(one_strip(180)), limits=revise(one_strip(1).limits, light_loss_max=0.04,
                                                                        tint_max=0.004)), "strip"),
    "guarded": lambda: (demo_build("footbridge"), "east-rail", True),
}  # fmt: skip
