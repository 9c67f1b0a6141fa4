"""Colour, what an eye sees of sagging pixels, and flashing."""

from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from tests.support.builds import part
from tests.support.effort import some
from tiny_lantern.light.colour import (
    LUMINANCE,
    channels_from_rgb,
    linear_from_srgb,
    linear_of,
    screen_bytes,
    srgb_from_linear,
    uv_of,
    xyz_from_linear,
    xyz_of,
)  # fmt: skip
from tiny_lantern.light.flash import Changes, FlashMeter, general_change
from tiny_lantern.light.lamps import lamp_luminance, part_weights
from tiny_lantern.light.restless import Restless
from tiny_lantern.light.seen import acceptable, least_voltage, screen_look, seen, voltage_floor
from tiny_lantern.model.build import RELAXED, STANDARD, STRICT, Limits
from tiny_lantern.model.parts.light import Primary

STRIP = part("rgb-5v-60")
WHITE = np.ones((1, 3))


@given(st.floats(0, 1))
def test_encoding_and_decoding_light_are_inverse(value: float) -> None:
    assert linear_from_srgb(srgb_from_linear(np.array(value))) == pytest.approx(value, abs=1e-9)


def test_published_colour_values() -> None:
    assert linear_of("#808080") == pytest.approx([0.2158605] * 3, abs=1e-6)
    assert screen_bytes(np.array([0.2158605, 0, 1])).tolist() == [128, 0, 255]
    d65 = xyz_of(Primary(x=0.3127, y=0.3290, intensity_cd=1))
    assert d65 == pytest.approx([0.9505, 1.0, 1.0891], abs=2e-4)
    assert uv_of(d65) == pytest.approx([0.1978, 0.4683], abs=2e-4)
    assert uv_of(np.zeros(3)).tolist() == [0, 0]


def test_equal_duty_of_the_default_primaries_is_bluish() -> None:
    together = sum(xyz_of(channel.light) for channel in STRIP.pixel.channels)
    assert together[0] / together.sum() == pytest.approx(0.271, abs=1e-3)
    assert together[1] / together.sum() == pytest.approx(0.232, abs=1e-3)


def test_a_white_channel_takes_what_the_colours_have_in_common() -> None:
    names = ("red", "green", "blue", "white")
    assert channels_from_rgb(np.array([0.9, 0.5, 0.2]), names) == pytest.approx([0.7, 0.3, 0.0, 0.2])
    assert channels_from_rgb(np.array([0.9, 0.5, 0.2]), names[:3]) == pytest.approx([0.9, 0.5, 0.2])


def test_a_pixel_at_its_voltage_loses_nothing() -> None:
    look = seen(STRIP, np.array([5.0]), WHITE)
    assert look.light_loss[0] == pytest.approx(0)
    assert look.tint_shift[0] == pytest.approx(0, abs=1e-12)
    assert screen_look(STRIP, np.array([5.0]), WHITE)[0] == pytest.approx([1, 1, 1])


def test_a_starved_white_turns_red_and_a_dark_one_has_no_tint() -> None:
    red = seen(STRIP, np.array([2.55]), WHITE)
    assert red.light_loss[0] > 0.6
    assert screen_look(STRIP, np.array([2.55]), WHITE)[0] == pytest.approx([1, 0, 0])
    dark = seen(STRIP, np.array([1.0]), WHITE)
    assert (dark.light_loss[0], dark.tint_shift[0]) == (1.0, 0.0)
    off = seen(STRIP, np.array([1.0]), np.zeros((1, 3)))
    assert off.light_loss[0] == 0


@given(st.floats(2, 5), st.floats(2, 5))
def test_more_voltage_never_loses_more_light(one: float, other: float) -> None:
    low, high = sorted((one, other))
    look = seen(STRIP, np.array([low, high]), np.ones((2, 3)))
    assert look.light_loss[0] >= look.light_loss[1] - 1e-12


@pytest.mark.parametrize("identity", ["rgb-5v-60", "rgbw-5v-60", "rgb-12v-seg20", "rgbw-24v-seg10"])
@pytest.mark.parametrize("limits", [STRICT, STANDARD, RELAXED])
def test_the_least_voltage_is_the_edge_of_what_is_accepted(identity: str, limits: Limits) -> None:
    strip = part(identity)
    duty = np.ones((1, len(strip.pixel.channels)))
    edge = least_voltage(strip, limits, duty)
    assert acceptable(strip, limits, duty, edge + 1e-6).all()
    assert not acceptable(strip, limits, duty, edge - 1e-6).any()
    assert edge[0] >= voltage_floor(strip, limits) - 1e-9


def test_an_own_voltage_limit_comes_before_the_parts() -> None:
    assert voltage_floor(STRIP, STANDARD) == 3.7
    assert voltage_floor(STRIP, Limits(v_min_v=4.5)) == 4.5
    assert np.isinf(least_voltage(STRIP, Limits(v_min_v=6), WHITE))


GREY = np.append(LUMINANCE, 0.0)[None]


def worst(levels: np.ndarray, tick_hz: float = 40.0, weights: np.ndarray = GREY) -> list:
    """The flash runs of one light that follows some levels, grey, or red when given three columns."""
    rgb = np.repeat(levels[:, None], 3, axis=1) if levels.ndim == 1 else levels
    meter = FlashMeter(weights, tick_hz)
    for block in np.array_split(rgb[:, None, :], 5):
        meter.feed(block)
    return meter.worst()


def square(rate_hz: float, low: float = 0.0, high: float = 1.0, seconds: float = 4.0) -> np.ndarray:
    """On and off at a rate, 40 frames a second."""
    time = np.arange(int(seconds * 40)) / 40
    return np.where((time * rate_hz) % 1 < 0.5, high, low)


@pytest.mark.parametrize(("rate", "dangerous"), [(1, False), (2, False), (3, False), (4, True), (5, True), (10, True)])
def test_more_than_three_flashes_in_a_second_are_found(rate: float, dangerous: bool) -> None:
    assert bool(worst(square(rate))) == dangerous


def test_flashes_of_a_second_that_is_over_are_not_counted_again_after_a_rest() -> None:
    burst = square(6, seconds=0.5)
    rest = np.zeros(50)
    assert not worst(np.concatenate([burst, rest, burst, rest, burst]))
    assert worst(np.concatenate([burst, rest[:5], burst]))


def test_the_light_is_told_whose_lamp_alone_flashes() -> None:
    weights = np.array([[*LUMINANCE, 0.0], [0.0, 0.0, 1.0, 0.0]])
    meter = FlashMeter(weights, 40.0)
    blue = square(5)[:, None, None] * np.array([0.0, 0.0, 1.0])
    meter.feed(np.repeat(blue, 2, axis=1))
    assert [(run.slot, run.red) for run in meter.worst()] == [(1, False)]


def test_small_or_bright_changes_and_fades_are_no_flashes() -> None:
    assert not worst(square(10, 0.50, 0.55))
    assert not worst(square(10, 0.85, 1.0))
    assert not worst(np.linspace(0, 1, 160))
    assert worst(square(10, 0.5, 0.65))


def test_a_run_names_its_second_and_its_light() -> None:
    levels = np.concatenate([np.zeros(80), square(8, seconds=1), np.zeros(40)])
    (run,) = worst(levels)
    assert run.flashes == 8
    assert 1.8 <= run.start_s <= 2.2
    assert not run.red


def test_saturated_red_counts_even_where_its_luminance_is_low() -> None:
    red = np.stack([square(8, 0, 0.3), np.zeros(160), np.zeros(160)], axis=1)
    assert [run.red for run in worst(red)] == [True]
    blue = red[:, [1, 2, 0]]
    assert not worst(blue)
    pinkish = np.stack([np.full(160, 0.3), square(8, 0.06, 0.09), np.zeros(160)], axis=1)
    assert not worst(pinkish), "a small move in colour is no red flash however saturated"
    to_white = np.stack([np.full(160, 0.1), square(8, 0, 0.1), square(8, 0, 0.1)], axis=1)
    assert [run.red for run in worst(to_white)] == [True]


def test_four_dips_of_a_lit_start_are_four_flashes_and_three_are_not_too_many() -> None:
    dips = np.ones(120)
    for dip in range(4):
        dips[5 + 8 * dip : 9 + 8 * dip] = 0
    (run,) = worst(dips)
    assert (run.flashes, run.red) == (4, False)
    dips[:10] = 1
    assert not worst(dips)


def test_the_lamps_own_luminance_counts_where_a_screens_is_small() -> None:
    blue = np.stack([np.zeros(160), np.zeros(160), square(8, 0, 1)], axis=1)
    assert not worst(blue)
    strong = np.array([[0.1, 0.2, 0.7, 0.0]])
    assert [run.flashes for run in worst(blue, weights=strong)] == [8]
    weights = part_weights(part("rgbw-5v-60"))
    assert lamp_luminance(np.ones((1, 3)), weights[None])[0] == pytest.approx(1.0)


def slow_count(states: list, level: Callable, counts: Callable, window: int) -> int:
    """Flashes in the worst second, change by change, as one would count by hand."""
    changed = [0] * len(states)
    low = high = states[0]
    way = None
    for tick, now in enumerate(states):
        if way != "up" and level(now) > level(low) and counts(low, now):
            changed[tick], way, low, high = 1, "up", now, now
        elif way != "down" and level(now) < level(high) and counts(high, now):
            changed[tick], way, low, high = 1, "down", now, now
        low = now if level(now) <= level(low) else low
        high = now if level(now) >= level(high) else high
    return max(sum(changed[max(0, tick + 1 - window) : tick + 1]) // 2 for tick in range(len(states)))


@some(40)
@given(
    arrays(float, (50, 3), elements=st.sampled_from([0.0, 0.05, 0.2, 0.5, 0.79, 0.85, 1.0])),
    st.sampled_from([9.0, 10.5]),
)
def test_random_signals_count_as_a_slow_plain_count_does(rgb: np.ndarray, tick_hz: float) -> None:
    window = int(np.ceil(tick_hz))
    brightness = [float(frame @ LUMINANCE) for frame in rgb]
    general = slow_count(
        brightness, lambda y: y, lambda one, two: abs(one - two) >= 0.1 - 1e-9 and min(one, two) < 0.8, window
    )
    uv = uv_of(xyz_from_linear(rgb))
    share = [frame[0] / frame.sum() if frame.sum() else 0.0 for frame in rgb]
    states = [(s, *pair) for s, pair in zip(share, uv, strict=True)]
    red = slow_count(
        states, lambda s: s[0],
        lambda one, two: max(one[0], two[0]) >= 0.8 - 1e-9 and np.hypot(one[1] - two[1], one[2] - two[2]) > 0.2, window,
    )  # fmt: skip
    found = {run.red: run.flashes for run in worst(rgb, tick_hz)}
    assert found.get(False, 0) == (general if general > 3 else 0)
    assert found.get(True, 0) == (red if red > 3 else 0)


@some(60)
@given(
    arrays(float, (60, 4, 3), elements=st.sampled_from([0.0, 0.05, 0.2, 0.5, 0.79, 0.85, 1.0])),
    st.sampled_from([9.0, 10.5, 20.0]),
    st.integers(1, 5),
)
def test_whatever_flashes_too_often_is_restless(rgb: np.ndarray, tick_hz: float, blocks: int) -> None:
    rgb[:, 3] = 0.5
    weights = np.array([[*LUMINANCE, 0.0], [0.7, 0.2, 0.1, 0.0], [0.1, 0.2, 0.7, 0.0], [*LUMINANCE, 0.0]])
    restless = Restless(weights, tick_hz)
    for block in np.array_split(rgb, blocks):
        restless.feed(block)
    for slot in range(4):
        meter = FlashMeter(weights[slot : slot + 1], tick_hz)
        meter.feed(rgb[:, slot : slot + 1])
        assert not meter.worst() or slot in restless.slots()
    assert 3 not in restless.slots()


def test_a_slow_wave_is_not_restless_and_a_fast_one_is() -> None:
    time = np.arange(400) / 40
    waves = np.stack([0.5 - 0.5 * np.cos(2 * np.pi * time * rate) for rate in (0.1, 0.2, 5.0)], axis=1)
    restless = Restless(np.repeat(GREY, 3, axis=0), 40)
    for block in np.array_split(np.repeat(waves[..., None], 3, axis=2), 7):
        restless.feed(block)
    assert list(restless.slots()) == [2]


def changes_of(levels: list[float]) -> list[bool]:
    """At which steps of one light's luminance a change counts."""
    follow = Changes(general_change)
    return [bool(follow.step(np.array([level]), np.array([[level]]))[0]) for level in levels]


def test_a_change_is_told_from_the_last_extreme_however_far_it_went_on() -> None:
    assert changes_of([0.0, 0.12, 0.3, 0.5, 0.38]) == [False, True, False, False, True]
    assert changes_of([0.5, 0.38, 0.2, 0.05, 0.16]) == [False, True, False, False, True]
    assert changes_of([0.3, 0.35, 0.39, 0.29]) == [False, False, False, True]
    assert changes_of([0.3, 0.25, 0.21, 0.31]) == [False, False, False, True]
    assert changes_of([0.3, 0.39, 0.3, 0.39]) == [False] * 4


@pytest.mark.parametrize("begins_s", [0.0, 2.0, 5.5])
def test_the_worst_second_is_told_by_when_it_starts(begins_s: float) -> None:
    meter = FlashMeter(np.array([[*LUMINANCE, 0.0]]), 40.0)
    times = np.arange(0, 8, 1 / 40)
    lit = (times >= begins_s) & (times < begins_s + 1.0) & ((times - begins_s) % 0.2 < 0.1 - 1e-9)
    meter.feed(np.repeat(lit.astype(float), 3).reshape(-1, 1, 3))
    (run,) = (run for run in meter.worst() if not run.red)
    assert run.flashes >= 4
    assert run.start_s == pytest.approx(begins_s, abs=0.15)


def test_the_least_voltage_is_not_where_all_is_dark() -> None:
    """Without light there is no tint; yet a limit on tint alone is no leave to go dark."""
    strip = part("rgb-12v-seg20")
    white_v = float(least_voltage(strip, Limits(v_min_v=2.0, light_loss_max=1.0, tint_max=0.01), np.ones((1, 3)))[0])
    assert 11.0 < white_v < 12.0
    above, below = (seen(strip, np.array([white_v + step]), np.ones((1, 3))).tint_shift[0] for step in (1e-6, -0.01))
    assert below > 0.01 >= above
    dark = least_voltage(strip, Limits(v_min_v=2.0, light_loss_max=1.0, tint_max=1.0), np.ones((1, 3)))
    assert dark[0] == pytest.approx(2.0)
