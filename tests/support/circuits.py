"""Solved circuits of the reference: its netlist as the program's, the program's solution in its words."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from tiny_lantern.circuit.element import Element, Reading
from tiny_lantern.circuit.elements.conducting import Coil, CoilReading, Conducting, Contact
from tiny_lantern.circuit.elements.data_in import DataIn, DataReading
from tiny_lantern.circuit.elements.diodes import Diode, Led, LedReading
from tiny_lantern.circuit.elements.loads import HoldLamp, HoldReading, Load, Pixel, Ramp
from tiny_lantern.circuit.elements.outputs import Output, Sink
from tiny_lantern.circuit.elements.sources import Battery, Supply
from tiny_lantern.circuit.elements.stages import Converter, Regulator, StageReading
from tiny_lantern.circuit.elements.strip import Strip, StripReading, Tap
from tiny_lantern.circuit.elements.transistors import Bipolar, BipolarReading, ChannelReading, Mosfet
from tiny_lantern.circuit.netlist import Netlist, Solution, solve_netlist

Json = dict[str, Any]


def netlist_of(case: Json) -> Netlist:
    """The program's circuit of a case."""
    given = case["netlist"]
    elements = tuple(MAKE[each["kind"]](each, given["types"]) for each in given["elements"])
    return Netlist(elements, given["ground"], given["leak_ohm"])


def results_of(case: Json) -> Json:
    """The program's solution of a case, in the words of its ``results``."""
    return told(solve_netlist(netlist_of(case)))


def told(solution: Solution) -> Json:
    """A solution in the words of the reference."""
    readings = solution.readings
    sources = [element.id for element in solution.netlist.elements if isinstance(element, (Supply, Battery))]
    return {
        "node_V": solution.node_v,
        "elements": {name: _told(reading) for name, reading in readings.items()},
        "delivered_A": {name: readings[name].current_a for name in sources},
        "lit": [name for name, reading in readings.items() if isinstance(reading, LedReading) and reading.lit],
        "dropped_out": [name for name, each in readings.items() if isinstance(each, StageReading) and each.dropped_out],
        "leaks_W": solution.leaks_w,
    }


def _told(reading: Reading) -> Json:
    if isinstance(reading, DataReading):
        return {
            "level_V": reading.level_v,
            "vdd_V": reading.supply_v,
            "need_V": reading.needed_v,
            "margin_V": reading.margin_v,
            "ok": reading.holds,
        }
    found: Json = {"current_A": reading.current_a, "power_W": reading.power_w}
    if isinstance(reading, LedReading):
        found["lit"] = reading.lit
    elif isinstance(reading, CoilReading):
        found["pulls_in"] = reading.pulls_in
    elif isinstance(reading, BipolarReading):
        found |= {"base_A": reading.base_a, "state": reading.state}
    elif isinstance(reading, ChannelReading):
        found |= {"vgs_V": reading.gate_v, "rds_ohm": reading.ohm}
    elif isinstance(reading, StageReading):
        found |= {"in_A": reading.in_a, "dropped_out": reading.dropped_out}
    elif isinstance(reading, HoldReading):
        found["state"] = reading.state
    elif isinstance(reading, StripReading):
        found |= {
            "terminal_A": reading.terminal_a,
            "pixel_V": reading.pixel_v.tolist(),
            "lowest_V": reading.lowest_v,
            "lowest_pixel": reading.lowest_pixel,
        }
    return found


def _ramps(kind: Json, duty: list[float]) -> list[Ramp]:
    """A pixel's law as slopes."""
    found = [Ramp(kind.get("quiescent_A", 0.0), 0.0, 1.0)]
    for channel, share in zip(kind["channels"], duty, strict=True):
        if kind["type"] == "cc":
            low, high = channel["v_off_V"], channel["v_full_V"]
            found.append(Ramp(share * channel["full_current_A"] / (high - low), low, high))
        else:
            found.append(Ramp(share / channel["resistor_ohm"], channel["led_count"] * channel["led_forward_V"]))
    return found


def _conducting(each: Json, _: Json) -> Element:
    return Conducting(each["id"], each["a"], each["b"], each["ohm"], each["kind"])


def _output(each: Json, _: Json) -> Element:
    return Output(
        each["id"], each["pin"], each["rail"], each["zero"], each["state"], each["high_drop_V"], each["high_ohm"],
        each["low_drop_V"], each["low_ohm"], each["both_ways"],
    )  # fmt: skip


def _bipolar(each: Json, _: Json) -> Element:
    return Bipolar(
        each["id"], each["b"], each["c"], each["e"], each["kind"], each["vbe_V"], each["base_ohm"],
        each["vce_sat_V"], each["gain"],
    )  # fmt: skip


def _mosfet(each: Json, _: Json) -> Element:
    volts, ohms = zip(*each["rds_table"], strict=True)
    return Mosfet(each["id"], each["g"], each["d"], each["s"], each["kind"], volts, ohms)


def _regulator(each: Json, _: Json) -> Element:
    return Regulator(
        each["id"], each["in"], each["out"], each["zero"], each["set_V"], each["dropout_V"], each["output_ohm"],
        each["quiescent_A"],
    )  # fmt: skip


def _converter(each: Json, _: Json) -> Element:
    least = {"headroom_v": each["headroom_V"]} if each["kind"] == "step_down" else {"least_in_v": each["min_in_V"]}
    return Converter(
        each["id"], each["in"], each["out"], each["zero"], each["set_V"], each["output_ohm"], each["efficiency"],
        each["idle_A"], **least,
    )  # fmt: skip


def _pixel(each: Json, types: Json) -> Element:
    return Pixel(each["id"], each["plus"], each["minus"], tuple(_ramps(types[each["type"]], each["duty"])))


def _strip(each: Json, types: Json) -> Element:
    count, duty = each["pixel_count"], each["duty"]
    duties = duty if isinstance(duty[0], list) else [duty] * count
    laws = [_ramps(types[each["type"]], mine) for mine in duties]
    return Strip(
        each["id"], each["start_plus"], each["start_minus"], each["end_plus"], each["end_minus"], count,
        each["pitch_m"], each["rail_pos_ohm_per_m"], each["rail_neg_ohm_per_m"],
        np.array([[ramp.siemens for ramp in law] for law in laws]).T,
        np.array([ramp.low_v for ramp in laws[0]]),
        np.array([ramp.high_v for ramp in laws[0]]),
        tuple(each["positive_cut_before_pixel"]),
        tuple(Tap(tap["pixel"], tap["plus"], tap["minus"]) for tap in each["taps"]),
    )  # fmt: skip


MAKE: dict[str, Callable[[Json, Json], Element]] = {
    **dict.fromkeys(("wire", "resistor", "fuse", "connector"), _conducting),
    "coil": lambda each, _: Coil(each["id"], each["a"], each["b"], each["ohm"], each["must_operate_V"]),
    "contact": lambda each, _: Contact(
        each["id"], each["a"], each["b"], each["ohm"], each["state"] == "closed", each.get("follows") or ""
    ),
    "supply": lambda each, _: Supply(each["id"], each["plus"], each["minus"], each["set_V"], each["output_ohm"]),
    "battery": lambda each, _: Battery(each["id"], each["plus"], each["minus"], each["emf_V"], each["ohm"]),
    "diode": lambda each, _: Diode(each["id"], each["a"], each["k"], each["vf_V"], each["ohm"]),
    "led": lambda each, _: Led(
        each["id"], each["a"], each["k"], each["vf_test_V"], each["test_A"], each["rd_ohm"], each["count"]
    ),
    "output": _output,
    "sink": lambda each, _: Sink(each["id"], each["out"], each["zero"], each["k_V"], each["rext_ohm"], each["on"]),
    **dict.fromkeys(("npn", "pnp"), _bipolar),
    **dict.fromkeys(("nmos", "pmos"), _mosfet),
    "regulator": _regulator,
    **dict.fromkeys(("step_down", "step_up"), _converter),
    "load": lambda each, _: Load(each["id"], each["plus"], each["minus"], each["current_A"]),
    "hold_lamp": lambda each, _: HoldLamp(
        each["id"], each["plus"], each["minus"], each["current_A"], each["v_hold_V"], each["v_dark_V"]
    ),
    "pixel": _pixel,
    "strip": _strip,
    "data_in": lambda each, _: DataIn(each["id"], each["data"], each["plus"], each["minus"]),
}
