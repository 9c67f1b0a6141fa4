"""Driving cases turned into the program's own types and analyses; nothing is worked out here."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from tiny_lantern.effects import morse_code
from tiny_lantern.electrical.data_level import FirstPixel, data_level
from tiny_lantern.electrical.drive import bjt, demux, high_side, hold, mosfet, register, relay, scanned, sink
from tiny_lantern.electrical.inputs import knob, press
from tiny_lantern.electrical.lamp import loop, parallel, shared_return
from tiny_lantern.electrical.lamp.led import Led, string_of
from tiny_lantern.light import flicker, mixing, perception
from tiny_lantern.show import data_line, morse, notes_out

Values = dict[str, Any]


def results_of(case: Values) -> Values:
    """What the program says of a case."""
    return KINDS[case["group"], case["kind"]](case["inputs"])


def led_of(given: Values) -> Led:
    """An LED as the program holds it."""
    return Led(given["vf_test_V"], given["test_A"], given["rd_ohm"], given.get("count", 1))


# loops


def _loop(given: Values) -> loop.Loop:
    return loop.Loop(
        given["supply_V"], given["output_ohm"], string_of([led_of(each) for each in given["leds"]]),
        given.get("supply_tolerance", 0.0), given.get("vf_spread_V", 0.0), given.get("resistor_tolerance", 0.0),
    )  # fmt: skip


def _fit(found: loop.Fit) -> Values:
    return {
        "resistor_ohm": found.resistor_ohm, "current_A": found.current_a, "min_A": found.least_a,
        "max_A": found.most_a, "pin_V": found.pin_v, "led_string_V": found.led_v, "resistor_W": found.resistor_w,
        "resistor_worst_W": found.resistor_worst_w, "rating_min_W": found.rating_w,
    }  # fmt: skip


def _choose(given: Values) -> Values:
    found = loop.choose(_loop(given), given["wanted_A"])
    values: Values = {
        "led_string_at_wanted_V": found.led_at_wanted_v, "headroom_V": found.headroom_v,
        "supply_too_low": found.too_low, "resistor_ideal_ohm": found.ideal_ohm,
        "resistor_offered": found.series is not None, "e12": None, "e24": None, "fits": None,
    }  # fmt: skip
    if found.series is not None and found.fits is not None:
        for name, around in found.series.items():
            values[name] = {"up": around.up, "below": around.below, "nearest": around.nearest}
        values["fits"] = {name: _fit(each) for name, each in found.fits.items()}
    return values


def _solve(given: Values) -> Values:
    return _fit(loop.fit(_loop(given), given["resistor_ohm"]))


def _two_lead(given: Values) -> Values:
    pins = given["pin_high_ohm"] + given["pin_low_ohm"]
    ahead = loop.Loop(given["supply_V"], pins, string_of([led_of(given["die_a"])]))
    found = loop.two_lead(ahead, given["resistor_ohm"], led_of(given["die_b"]), given["alternate_Hz"])
    return {
        "forward_A": found.forward_a, "reverse_A": found.reverse_a, "reverse_voltage_on_b_V": found.across_b_v,
        "reverse_voltage_on_a_V": found.across_a_v, "mixed_average_A": list(found.average_a),
        "alternation_fast_enough": found.fast_enough,
    }  # fmt: skip


# groups and colour lamps


def _parallel(given: Values) -> Values:
    leds = [led_of(each) for each in given["leds"]]
    source = given["supply_V"], given["output_ohm"]
    values: Values = {}
    if given.get("common_resistor_ohm") is not None:
        one = parallel.on_one_resistor(*source, given["common_resistor_ohm"], leds)
        values["one_resistor"] = {**_side_by_side(one), "node_V": one.node_v, "resistor_W": float(one.resistor_w[0])}
    if given.get("own_resistor_ohm") is not None:
        own = parallel.on_own_resistors(*source, given["own_resistor_ohm"], leds)
        values["own_resistors"] = {**_side_by_side(own), "resistor_W": own.resistor_w.tolist()}
    return values


def _side_by_side(found: parallel.Parallel) -> Values:
    return {
        "led_A": found.led_a.tolist(), "share": None if found.share is None else found.share.tolist(),
        "total_A": found.total_a, "pin_V": found.pin_v, "lit_count": found.lit_count,
    }  # fmt: skip


def _shared_return(given: Values) -> Values:
    colours = {
        name: shared_return.Branch(led_of(each), each.get("own_ohm", 0.0)) for name, each in given["colours"].items()
    }
    lamp = shared_return.ColourLamp(
        given["common"], given["supply_V"], given["pin_ohm"], given["common_ohm"], colours, given.get("off_pin_V")
    )
    subsets = [
        {
            "on": list(each.on), "colour_A": each.colour_a, "common_A": each.common_a,
            "common_node_V": each.common_node_v,
        }
        for each in shared_return.all_subsets(lamp)
    ]  # fmt: skip
    return {"subsets": subsets, "all_on_over_alone": shared_return.all_on_over_alone(lamp)}


# transistors


def _load(given: Values) -> bjt.StringLoad:
    led = led_of(given["led"]) if given.get("led") is not None else None
    return bjt.StringLoad(given["supply_V"], given["resistor_ohm"], led, given.get("strings", 1))


def _bjt(given: Values) -> Values:
    transistor = bjt.Bjt(
        given["pin_V"], given["pin_ohm"], given["forced_beta"], given["vbe_V"], given["vce_sat_V"], given["duty"],
        given["ambient_C"], given["theta_ja_K_per_W"], given["limit_C"], given["pin_recommended_A"],
        given["pin_absolute_A"], given.get("base_limit_A", bjt.Bjt.base_limit_a),
    )  # fmt: skip
    on = bjt.switched(transistor, _load(given["load"]))
    values: Values = {
        "collector_A": on.current_a, "transistor_W": on.heat_w, "junction_C": on.junction_c,
        "junction_over_limit": on.over_limit,
    }  # fmt: skip
    if given["base_resistor"] == "missing":
        bare = bjt.base_drive(transistor, on.current_a, 0.0)
        return {
            **values, "base_A": bare.base_a, "pin_over_recommended": bare.over_recommended,
            "pin_over_absolute": bare.over_absolute, "base_over_limit": bjt.base_over_limit(transistor, bare),
        }  # fmt: skip
    values["base_wanted_A"] = bjt.base_wanted_a(transistor, on.current_a)
    values["base_ideal_ohm"] = bjt.base_ideal_ohm(transistor, on.current_a)
    for name, drive in bjt.base_choices(transistor, on.current_a).items():
        values[name] = {
            "base_ohm": drive.base_ohm, "base_A": drive.base_a, "actual_beta": drive.actual_beta,
            "pin_V": drive.pin_v, "pin_over_recommended": drive.over_recommended,
            "pin_over_absolute": drive.over_absolute,
        }  # fmt: skip
    return values


def _mosfet(given: Values) -> Values:
    transistor = mosfet.Mosfet(
        [tuple(point) for point in given["rds_table"]], given["threshold_V"], given.get("rise_s", 0.0),
        given.get("fall_s", 0.0), given["theta_ja_K_per_W"], given["limit_C"],
    )  # fmt: skip
    drive = mosfet.GateDrive(given["pin_V"], given["pin_ohm"], given["gate_series_ohm"], given.get("gate_pull_ohm"))
    load = given["load"]
    carried = load["current_A"] if load["kind"] == "current" else _load(load)
    on = mosfet.switched_by_gate(
        transistor, drive, carried, load["supply_V"], given["duty"], given["pwm_Hz"], given["ambient_C"]
    )
    return {
        "gate_V": on.gate_v, "barely_on": on.barely_on, "rds_on_ohm": on.rds_ohm, "drain_A": on.current_a,
        "drain_V": on.drain_v, "conduction_W": on.conduction_w, "switching_W": on.switching_w, "total_W": on.heat_w,
        "junction_C": on.junction_c, "junction_over_limit": on.over_limit,
    }  # fmt: skip


def _high_side(given: Values) -> Values:
    found = high_side.high_side(
        high_side.HighSide(
            given["supply_V"], given["pin_high_V"], given["threshold_abs_V"], given["gate_pull_ohm"],
            given["gate_series_ohm"],
        )
    )  # fmt: skip
    return {
        "source_gate_off_V": found.off_v, "source_gate_on_V": found.on_v, "turns_off": found.turns_off,
        "needs_driver": found.needs_driver,
    }  # fmt: skip


# sinks, matrices, registers


def _chip(given: Values) -> sink.SinkChip:
    return sink.SinkChip(
        given["k_V"], given["rext_ohm"], given["vcc_V"], given["icc_A"], given["theta_ja_K_per_W"], given["limit_C"]
    )


def _held(state: sink.SinkState) -> list[bool | None]:
    return [bool(ok) if on else None for ok, on in zip(state.in_compliance, state.lit, strict=True)]


def _uniform(given: Values) -> Values:
    chip = _chip(given)
    outputs = [sink.SinkOutput(led_of(given["led"]), given["series_ohm"])] * given["outputs"]
    states = sink.by_number_lit(chip, outputs, given["led_supply_V"], given["common_ohm"], given["ambient_C"])
    dark = [not state.lit.any() for state in states]
    return {
        "set_A": chip.set_a, "v_out_min_V": sink.least_output_v(chip.set_a),
        "lit": [int(state.lit.sum()) for state in states],
        "output_A": [float(state.output_a[0]) for state in states],
        "output_V": [None if none else float(state.output_v[0]) for state, none in zip(states, dark, strict=True)],
        "node_V": [state.node_v for state in states], "total_A": [state.total_a for state in states],
        "chip_W": [state.chip_w for state in states], "junction_C": [state.junction_c for state in states],
        "in_compliance": [_held(state)[0] for state in states],
        "most_lit_in_compliance": sink.most_lit_in_compliance(states),
        "over_limit": [state.over_limit for state in states],
        "best_led_supply_V": sink.best_led_supply_v(chip, outputs, given["vf_spread_V"]),
    }  # fmt: skip


def _mixed(given: Values) -> Values:
    chip = _chip(given)
    outputs = [sink.SinkOutput(led_of(each["led"]), each["series_ohm"]) for each in given["outputs"]]
    patterns = []
    for pattern in given["patterns"]:
        lit = scanned.pattern_of([pattern])[0]
        state = sink.sink_state(chip, outputs, lit, given["led_supply_V"], given["common_ohm"], given["ambient_C"])
        patterns.append(
            {
                "pattern": pattern, "output_A": state.output_a.tolist(),
                "output_V": [float(v) if on else None for v, on in zip(state.output_v, state.lit, strict=True)],
                "node_V": state.node_v, "total_A": state.total_a, "chip_W": state.chip_w,
                "junction_C": state.junction_c, "in_compliance": _held(state), "over_limit": state.over_limit,
            }
        )  # fmt: skip
    return {
        "set_A": chip.set_a, "v_out_min_V": sink.least_output_v(chip.set_a), "patterns": patterns,
        "best_led_supply_V": sink.best_led_supply_v(chip, outputs, given["vf_spread_V"]),
    }  # fmt: skip


def _rext(given: Values) -> Values:
    ideal, series = sink.settings_for(given["k_V"], given["wanted_A"])

    def told(ohm: float) -> Values:
        found = sink.setting(given["k_V"], ohm)
        return {"rext_ohm": found.rext_ohm, "set_A": found.set_a, "v_out_min_V": found.least_v}

    return {
        "rext_ideal_ohm": ideal,
        **{
            name: {side: told(getattr(around, side)) for side in ("up", "below", "nearest")}
            for name, around in series.items()
        },
    }


def _matrix(given: Values) -> Values:
    lit = scanned.pattern_of(given["pattern"])
    scan = scanned.Scan(
        given["supply_V"], given["row_switch_ohm"], np.array(given["column_ohm"], float), given["column_sink_ohm"],
        given["row_rate_Hz"], given["blank_s"],
    )  # fmt: skip
    by_row, by_column = given.get("led_by_row"), given.get("led_by_column")

    def led_at(row: int, column: int) -> Led:
        return led_of(by_row[row] if by_row else by_column[column] if by_column else given["led"])

    found = scanned.scanned(scan, lit, led_at)
    rows, refresh_hz = lit.shape[0], scan.refresh_hz(lit.shape[0])
    limits = scanned.ScanLimits(given["led_pulse_limit_A"], given["row_limit_A"], given["column_limit_A"])
    wanted_a = given.get("wanted_average_A")
    wanted_peak_a = None if wanted_a is None else scan.peak_for(wanted_a, rows)
    values = scanned.row_bytes(lit)
    return {
        "duty": scan.duty(rows), "refresh_Hz": refresh_hz,
        "refresh_ok_still": scanned.steady_enough(refresh_hz, False),
        "refresh_ok_moving": scanned.steady_enough(refresh_hz, True),
        "peak_A": found.peak_a.tolist(), "average_A": found.average_a.tolist(),
        "row_node_V": found.row_node_v.tolist(), "row_line_A": found.row_line_a.tolist(),
        "column_line_max_A": found.column_line_a.tolist(), "largest_row_line_A": float(found.row_line_a.max()),
        "largest_peak_A": float(found.peak_a.max()), "dimmest_over_brightest": found.dimmest_over_brightest,
        "peak_over_pulse_limit": limits.peak_over(found), "row_over_limit": limits.row_over(found),
        "column_over_limit": limits.column_over(found), "wanted_peak_A": wanted_peak_a,
        "wanted_peak_over_pulse_limit": None if wanted_peak_a is None else limits.pulse_over(wanted_peak_a),
        "row_bytes": values, "row_bytes_active_low": None if values is None else scanned.active_low(values),
    }  # fmt: skip


def _currents(given: Values) -> Values:
    outputs = [
        None if each is None else register.RegisterOutput(led_of(each["led"]), each["resistor_ohm"])
        for each in given["outputs"]
    ]
    stage = register.RegisterStage(
        given["supply_V"], given["supply_ohm"], given["out_ohm"], given["output_limit_A"], given["chip_limit_A"]
    )
    lit = [scanned.pattern_of([pattern])[0] for pattern in given["frames"]]
    frames = [register.register_frame(stage, outputs, each) for each in lit]
    all_on = register.register_frame(stage, outputs, register.all_lit(outputs))
    largest_a = register.largest_output_a([*frames, all_on])
    return {
        "frames": [
            {"pattern": pattern, "output_A": frame.output_a.tolist(), "chip_A": frame.chip_a.tolist()}
            for pattern, frame in zip(given["frames"], frames, strict=True)
        ],
        "all_on": {"output_A": all_on.output_a.tolist(), "chip_A": all_on.chip_a.tolist()},
        "worst": [
            {
                "chip": worst.chip, "frame": worst.frame, "chip_A": worst.chip_a, "chip_over_limit": worst.over_limit,
                "all_on_A": worst.all_on_a, "all_on_over_limit": worst.all_on_over_limit,
            }
            for worst in register.worst_frames(stage, frames, all_on)
        ],
        "largest_output_A": largest_a,
        "output_over_limit": stage.output_over(largest_a),
    }  # fmt: skip


def _chain(given: Values) -> Values:
    send = []
    for wanted in given["outputs_wanted"]:
        lit = scanned.pattern_of([wanted])[0]
        told: Values = {"outputs": wanted}
        for order in ("msb_first", "lsb_first"):
            told[order] = register.bytes_to_send(lit, order)  # type: ignore[arg-type]
            told[f"{order}_hex"] = [register.in_hex(value) for value in told[order]]
        send.append(told)
    arrive = [
        {
            "bytes": each["bytes"], "order": each["order"],
            "outputs": register.in_marks(register.outputs_after(each["bytes"], each["order"])),
        }
        for each in given.get("bytes_sent", [])
    ]  # fmt: skip
    return {"send": send, "arrive": arrive}


def _timing(given: Values) -> Values:
    found = register.chain_timing(given["chips"], given["shift_Hz"], given["latch_s"])
    return {
        "bits": found.bits, "frame_s": found.frame_s, "frames_per_s": found.frames_per_s, "pins_used": found.pins,
        "bit_angle": [
            {"bits": bits, "cycle_s": found.cycle_s(bits), "refresh_Hz": found.refresh_hz(bits)}
            for bits in given["pwm_bits"]
        ],
    }  # fmt: skip


def _demux(given: Values) -> Values:
    found = demux.one_at_a_time(given["ways"], given["dwell_s"])
    return {"duty": found.duty, "flicker_Hz": found.flicker_hz}


# inputs


def _knob(given: Values) -> Values:
    turned = knob.Knob(
        given["adc_bits"], given["offset_counts"], given["full_scale_counts"], given["out_bits"],
        given.get("dead_band_counts"),
    )  # fmt: skip
    held = {} if turned.dead_band_counts is None else {"held_readings": turned.held(given["readings"])}
    return {
        **held, "outputs": turned.levels(given["readings"]), "offset_fraction": turned.offset_fraction,
        "offset_lightness": float(perception.lightness(turned.offset_fraction)),
    }  # fmt: skip


def _press(given: Values) -> Values:
    sensor = press.PressSensor(
        given["rest_ohm"], given["pressed_ohm"], given["supply_V"], given["sensor_to"], given["adc_reference_V"],
        given["adc_bits"], given.get("adc_input_ohm"),
    )  # fmt: skip
    ideal, bought = press.fixed_ohm(sensor), press.fixed_e24_ohm(sensor)

    def told(fixed: float) -> Values:
        found = press.divider(sensor, fixed)
        return {
            "rest_V": found.rest_v, "pressed_V": found.pressed_v, "swing_V": found.swing_v,
            "threshold_V": found.threshold_v, "hysteresis_V": found.hysteresis_v, "press_at_V": found.press_at_v,
            "release_at_V": found.release_at_v, "rises_when_pressed": found.rises,
            "rest_counts": found.counts(found.rest_v), "pressed_counts": found.counts(found.pressed_v),
            "threshold_counts": found.counts(found.threshold_v), "press_at_counts": found.counts(found.press_at_v),
            "release_at_counts": found.counts(found.release_at_v),
        }  # fmt: skip

    return {"fixed_ideal_ohm": ideal, "fixed_e24_ohm": bought, "ideal": told(ideal), "e24": told(bought)}


# colour and perception


def _primaries(given: Values) -> list[mixing.LampPrimary]:
    return [
        mixing.LampPrimary(each["x"], each["y"], each["cd"], each["test_A"], each["current_A"])
        for each in given["primaries"].values()
    ]


def _numbers(write: Values, duties: np.ndarray) -> list[int]:
    table = write.get("table")
    if table is None and (write.get("how") == "table" or "law" in write):
        table = perception.duty_table(write["law"], write["entries"], write["bits"])
    return mixing.numbers_of(duties, write["bits"], None if table is None else np.asarray(table)).tolist()


def _mix(given: Values) -> Values:
    colours = []
    for wanted in given["wanted_srgb"]:
        found = mixing.mix(_primaries(given), mixing.xyz_of_srgb(wanted), given["level"])
        told: Values = {
            "srgb": wanted, "wanted_xyz": found.wanted_xyz.tolist(),
            "amounts_over_largest": None if found.amounts is None else found.amounts.tolist(),
            "inside": found.inside, "duties": found.duties.tolist(),
            "shown_xy": None if found.shown_xy is None else found.shown_xy.tolist(), "delta_uv": found.delta_uv,
            "clip_fraction": found.clip_fraction,
        }  # fmt: skip
        if given.get("write") is not None:
            told["numbers"] = _numbers(given["write"], found.duties)
        colours.append(told)
    return {"colours": colours}


def _rgbw(given: Values) -> Values:
    colours = []
    for wanted in given["wanted_srgb"]:
        found = mixing.mix(_primaries(given), mixing.xyz_of_srgb(wanted), given["level"])
        colours.append(
            {
                "srgb": wanted, "inside": found.inside, "duties": found.duties.tolist(),
                "shown_xy": None if found.shown_xy is None else found.shown_xy.tolist(),
                "shown_luminance_cd": found.luminance_cd, "delta_uv": found.delta_uv,
            }
        )  # fmt: skip
    return {"colours": colours}


def _white_balance(given: Values) -> Values:
    found = mixing.white_balance(_primaries(given))
    return {
        "white_duties": found.duties.tolist(), "white_currents_A": found.currents_a.tolist(),
        "white_luminance_cd": found.luminance_cd, "equal_duty_xy": found.equal_xy.tolist(),
        "equal_duty_luminance_cd": found.equal_luminance_cd, "equal_duty_delta_uv_from_d65": found.equal_delta_uv,
    }  # fmt: skip


def _match(given: Values) -> Values:
    lamps = given["lamps"]
    own_cd = mixing.intensities_cd([(each["cd"], each["test_A"], each["current_A"]) for each in lamps])
    found = mixing.match(own_cd, np.array([each["current_A"] for each in lamps]))
    return {
        "luminous_intensity_cd": found.own_cd.tolist(), "matched_cd": found.matched_cd,
        "duties": found.duties.tolist(), "currents_A": found.currents_a.tolist(),
    }  # fmt: skip


def _steps(given: Values) -> Values:
    seen = perception.dimming_steps(given["bits"])
    return {
        "first_step": seen.first, "largest_step": seen.largest, "last_step": seen.last,
        "steps_above_1": seen.above_visible, "below_this_duty": seen.below_duty,
        "below_this_lightness": seen.below_lightness,
        "lightness_at_duties": {str(duty): seen.lightness_at(duty) for duty in given["at_duties"]},
    }  # fmt: skip


def _table(given: Values) -> Values:
    table = perception.duty_table(given["law"], given["entries"], given["bits"])
    return {
        "table": table.tolist(), "distinct": len(set(table.tolist())),
        "largest_step_lightness": perception.largest_step(table, given["bits"]),
        "first_nonzero_index": perception.first_lit(table),
    }  # fmt: skip


def _pwm(given: Values) -> Values:
    rates = flicker.by_bits(given["clock_Hz"], given["prescale"], given["bits"])
    return {
        "by_bits": [
            {
                "bits": bits, "pwm_Hz": hz, "flicker": flicker.flicker(hz),
                "first_step": perception.dimming_steps(bits).first,
            }
            for bits, hz in rates.items()
        ],
        "most_bits_low_risk": flicker.most_bits(rates, "low_risk"),
        "most_bits_no_effect": flicker.most_bits(rates, "no_observable_effect"),
    }  # fmt: skip


def _flicker(given: Values) -> Values:
    found = []
    for hz in given["frequencies_Hz"]:
        told: Values = {"frequency_Hz": hz, "flicker": flicker.flicker(hz)}
        if given.get("exposure_s") is not None:
            told["banding"] = flicker.banding(hz, given["exposure_s"])
        found.append(told)
    return {"by_frequency": found}


# hold rails and relays


def _rail(given: Values) -> Values:
    lamps = hold.HoldLamps(
        given["lamps"], given["hold_lamp_A"], given["full_lamp_A"], given["lead_ohm"], given["segment_ohm"],
        given["v_hold_V"], given["hold_spread_V"], given["v_dark_V"], given["dark_spread_V"],
    )  # fmt: skip
    of, full = given["hold"], given["full"]
    source = hold.HoldSource(
        of["v_out_V"], of["tolerance"], of["diode_V"], of["switch_ohm"], of["v_in_V"], of["v_in_droop_V"],
        of["dropout_V"], of["theta_ja_K_per_W"],
    )  # fmt: skip
    driven = hold.FullSource(full["supply_V"], full["switch_ohm"], full["theta_ja_K_per_W"])
    held, heat = hold.held_rail(lamps, source), hold.rail_heat(lamps, source, driven, given["ambient_C"])
    return {
        "window_V": list(lamps.window_v), "hold_lamp_V": held.lamp_v.tolist(), "low_margin_V": held.low_margin_v,
        "high_margin_V": held.high_margin_v, "holds": held.holds, "v_out_allowed_V": list(held.allowed_v),
        "window_exists": held.window_exists, "headroom_V": heat.headroom_v, "headroom_ok": heat.headroom_ok,
        "regulator_W": heat.regulator_w, "regulator_C": heat.regulator_c, "hold_A": heat.hold_a,
        "full_A": heat.full_a, "full_lamp_V": hold.full_rail(lamps, driven).tolist(), "switch_W": heat.switch_w,
        "switch_C": heat.switch_c, "pwm_average_A": hold.pulsed_a(lamps, given["pwm_duty"]),
        "pwm_in_range": hold.pulse_in_range(given["pwm_Hz"]),
    }  # fmt: skip


def _life(given: Values) -> Values:
    lives = [
        relay.contact_life(
            [tuple(run) for run in each["runs"]], each["rated_operations"], given["shows_per_night"],
            given["tick_Hz"], given["min_interval_s"],
        )
        for each in given["channels"]
    ]  # fmt: skip
    worn = relay.first_worn(lives)
    return {
        "channels": [
            {
                "operations_per_show": life.per_show, "operations_per_night": life.per_night,
                "shortest_on_s": life.shortest_on_s, "shortest_off_s": life.shortest_off_s,
                "too_short": life.too_short, "nights": life.nights,
            }
            for life in lives
        ],
        "first_worn_nights": None if worn is None else lives[worn].nights,
        "first_worn_channel": worn,
    }  # fmt: skip


def _coil(given: Values) -> Values:
    board = relay.CoilBoard(
        given["supply_V"], given["supply_ohm"], given["coil_ohm"], given["driver_drop_V"], given["must_operate_V"],
        given["supply_rated_A"],
    )  # fmt: skip
    found = relay.coils(board, given["relays_on"], given["other_load_A"])
    return {
        "coil_A": found.coil_a, "coil_V": found.coil_v, "coil_W": found.coil_w, "total_A": found.total_a,
        "supply_node_V": found.node_v, "pulls_in": found.pulls_in, "supply_over_rating": found.over_rating,
    }  # fmt: skip


# wires to other boards


def _frame(given: Values) -> Values:
    found = data_line.outputs_time(
        [(each["pixels"], each["channels"]) for each in given["outputs"]], given["outputs_run"] == "parallel",
        given["bit_s"], given["reset_s"], given["double_buffered"],
    )  # fmt: skip
    return {
        "output_frame_s": list(found.each_s), "frame_s": found.frame_s, "frames_per_s": found.frames_per_s,
        "whole_frames_per_s": found.whole_frames_per_s, "keeps_up": found.keeps_up(given["tick_Hz"]),
        "memory_bytes": found.memory_bytes, "memory_fits": found.fits(given["memory_bytes"]),
    }  # fmt: skip


def _level(given: Values) -> Values:
    found = data_level(
        FirstPixel(
            given["output_high_V"], given["supply_V"], given["feed_pos_ohm"], given["feed_neg_ohm"],
            given["rest_of_strip_A"], given["first_pixel_A"], given["first_pixel_diode_V"],
            given["pin_ohm"] + given["series_ohm"], given["input_ohm"],
        )
    )  # fmt: skip
    return {
        "first_pixel_V": found.pixel_v, "high_V": found.high_v, "needed_V": found.needed_v,
        "margin_V": found.margin_v, "ok": found.ok, "highest_supply_for_ok_V": found.highest_supply_v,
    }  # fmt: skip


def _notes(given: Values) -> Values:
    return {
        "message_s": notes_out.message_s(given["baud"]),
        "burst_s": notes_out.burst_s(given["baud"], given["messages"]),
        "messages_per_tick": notes_out.messages_per_tick(given["baud"], given["tick_Hz"]),
    }  # fmt: skip


def _morse(given: Values) -> Values:
    found, unit = morse.morse(given["text"]), morse_code.unit_s(given["wpm"])
    return {
        "units": list(found.units), "total_units": found.total_units,
        "total_with_word_gap_units": found.total_with_word_gap, "on_units": found.on_units, "unit_s": unit,
        "duration_s": found.duration_s(unit), "elements": found.marks,
    }  # fmt: skip


KINDS: dict[tuple[str, str], Callable[[Values], Values]] = {
    ("led_loop", "choose"): _choose, ("led_loop", "solve"): _solve, ("led_loop", "two_lead"): _two_lead,
    ("parallel_group", "parallel"): _parallel, ("shared_return", "lamp"): _shared_return, ("bjt", "bjt"): _bjt,
    ("bjt", "mosfet"): _mosfet, ("bjt", "high_side"): _high_side, ("sink_chip", "uniform"): _uniform,
    ("sink_chip", "mixed"): _mixed, ("sink_chip", "rext"): _rext, ("matrix", "matrix"): _matrix,
    ("register", "currents"): _currents, ("register", "chain"): _chain, ("register", "timing"): _timing,
    ("register", "demux"): _demux, ("knob", "knob"): _knob, ("knob", "press"): _press, ("colour", "mix"): _mix,
    ("colour", "rgbw"): _rgbw, ("colour", "white_balance"): _white_balance, ("colour", "match"): _match,
    ("perception", "steps"): _steps, ("perception", "table"): _table, ("perception", "pwm"): _pwm,
    ("perception", "flicker"): _flicker, ("hold_rail", "rail"): _rail, ("relay", "life"): _life,
    ("relay", "coil"): _coil, ("data_line", "frame"): _frame, ("data_line", "level"): _level,
    ("data_line", "notes"): _notes, ("morse", "morse"): _morse,
}  # fmt: skip
