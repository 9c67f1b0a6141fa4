"""Every kind of effect: what all keep to, that a board plays the same, and what each of them is."""

from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.compiled import by_c, by_python
from tiny_lantern.effects.kind import ColourParameter, Number, Span, TextParameter
from tiny_lantern.effects.registry import effect_kinds
from tiny_lantern.kernel.nodes import ONE
from tiny_lantern.model.effects import LOOKS, Look, look_of
from tiny_lantern.show.looks import look_light, look_numbers, sample_of

HZ = 1000.0
WORDS = {
    "text": ("A", "Pier 7", "SOS"),
    "curve": ("straight", "ease", "ease in", "ease out", "steps 3", "0 1 0.25 1"),
    "table": ("1", "10 x3\n01", "0 0.5 1", "0,128,255\n9,9,9", "x.\n.x", "50% 100%"),
    "picture": ("#ffffff", "#000000 #123456\n#ff0000 #00ff00"),
}


def rgb(look: Look, lights: int, times: list[float], length: float = 10.0) -> np.ndarray:
    """A look at some moments, shares of full light."""
    ticks = np.round(np.array(times) * HZ).astype(int)
    found = look_light(look, np.arange(lights), Span(lights, length, HZ), ticks)
    return np.stack([np.broadcast_to(channel, (len(ticks), lights)) for channel in found], axis=-1) / ONE


@st.composite
def looks(draw: st.DrawFn) -> Look:
    """Any look with any values that it takes."""
    kind = effect_kinds()[draw(st.sampled_from(sorted(effect_kinds())))]
    values: dict[str, object] = {}
    for parameter in kind.parameters:
        if isinstance(parameter, ColourParameter):
            values[parameter.name] = f"#{draw(st.integers(0, 0xFFFFFF)):06x}"
        elif isinstance(parameter, TextParameter):
            values[parameter.name] = draw(st.sampled_from(WORDS.get(parameter.name, (parameter.default,))))
        elif parameter.whole:
            values[parameter.name] = draw(st.integers(int(parameter.low), int(parameter.high)))
        else:
            values[parameter.name] = draw(st.floats(parameter.low, parameter.high))
    return look_of(kind.kind, **values)


@st.composite
def spans(draw: st.DrawFn) -> Span:
    """Any place that an effect may have."""
    return Span(draw(st.integers(1, 100_000)), draw(st.floats(0.025, 86_400)), draw(st.floats(0.01, 400)))


class TestEveryKind:
    """What every kind of effect must keep to."""

    @pytest.fixture(params=LOOKS, ids=lambda look: look.kind)
    def look(self, request: pytest.FixtureRequest) -> Look:
        return request.param

    def test_light_stays_between_none_and_full(self, look: Look) -> None:
        found = rgb(look, 30, np.arange(200) / 40, 5.0)
        assert found.shape == (200, 30, 3)
        assert found.min() >= 0
        assert found.max() <= 1
        assert found.max() > 0.1

    def test_a_part_of_the_lights_and_of_the_frames_shows_the_same_as_all_of_them(self, look: Look) -> None:
        span, lights, ticks = Span(30, 5.0, 40.0), np.arange(30), np.arange(200)
        whole = [np.broadcast_to(channel, (200, 30)) for channel in look_light(look, lights, span, ticks)]
        some = look_light(look, lights[10:20], span, ticks[77:79])
        for all_of_it, part in zip(whole, some, strict=True):
            assert (all_of_it[77:79, 10:20] == part).all()

    def test_it_says_what_it_is_and_its_sample_shows_something(self, look: Look) -> None:
        kind = effect_kinds()[look.kind]
        assert kind.help.endswith(".")
        sample = sample_of(look.kind, 14, 10, 2.0)
        assert (sample.shape, sample.max() > 60) == ((10, 14, 3), True)
        for parameter in kind.parameters:
            assert parameter.label
            if isinstance(parameter, Number):
                assert parameter.low <= parameter.default <= parameter.high
                assert len(parameter.words) in (0, parameter.high - parameter.low + 1)


@given(looks(), spans(), st.integers(0, 2**31), st.integers(0, 86_400 * 400))
def test_any_values_give_light_and_printed_python_gives_the_same(look: Look, span: Span, at: int, tick: int) -> None:
    slot = at % span.count
    found = [int(light.ravel()[0]) for light in look_light(look, np.array([slot]), span, np.array([tick]))]
    assert all(0 <= light <= ONE for light in found)
    row = {**look_numbers(look, span), "slot": slot, "count": span.count, "tick": tick}
    assert by_python(effect_kinds()[look.kind].program, [row]) == [tuple(found)]


def test_every_kind_compiled_as_c_plays_the_same(tmp_path: Path) -> None:
    span, kinds = Span(37, 7.3, 40.0), list(effect_kinds().values())
    rows = []
    for kind in kinds:
        numbers = look_numbers(look_of(kind.kind, **kind.sample), span)
        rows.append(
            [{**numbers, "slot": s, "count": 37, "tick": t} for t in range(0, 300, 41) for s in range(0, 37, 7)]
        )
    told = by_c([kind.program for kind in kinds], rows, tmp_path)
    for kind, own, c in zip(kinds, rows, told, strict=True):
        at = np.array([[row["slot"], row["tick"]] for row in own])
        look = look_of(kind.kind, **kind.sample)
        light = look_light(look, np.arange(37), span, np.arange(300))
        here = [np.broadcast_to(channel, (300, 37))[at[:, 1], at[:, 0]].tolist() for channel in light]
        assert c == list(zip(*here, strict=True)), kind.kind


def test_a_fade_goes_from_one_colour_to_the_other() -> None:
    found = rgb(look_of("fade", colour="#000000", colour_to="#ffffff"), 2, [0, 5, 10])
    assert found[:, 0, 0] == pytest.approx([0, 0.5, 1], abs=1e-4)


def test_a_breath_is_lowest_at_its_start_and_full_half_a_period_later() -> None:
    found = rgb(look_of("breathe", colour="#ffffff", period_s=4, low=0.2), 1, [0, 2, 4])
    assert found[:, 0, 1] == pytest.approx([0.2, 1, 0.2], abs=1e-4)


def test_a_blink_is_lit_for_its_share_of_the_period() -> None:
    found = rgb(look_of("blink", colour="#ffffff", period_s=2, duty=0.25), 1, [0, 0.49, 0.5, 1.99, 2.0])
    assert found[:, 0, 0].tolist() == [1, 1, 0, 0, 1]


def test_a_chase_moves_at_its_speed_and_leaves_a_tail() -> None:
    chase = look_of("chase", colour="#ffffff", length_px=2, tail_px=3, spacing_px=20, speed_px_per_s=10)
    found = rgb(chase, 20, [1.0])[0, :, 0]
    assert found[9:11].tolist() == [1, 1]
    assert found[11:].max() == 0
    assert found[5:9] == pytest.approx([0, 0.25, 0.5, 0.75], abs=1e-4)
    back = rgb(
        look_of("chase", colour="#ffffff", length_px=2, tail_px=3, spacing_px=20, speed_px_per_s=-10), 20, [1.0]
    )[0, :, 0]
    assert back == pytest.approx(found[::-1])


def test_a_wheel_never_changes_its_total_light() -> None:
    found = rgb(look_of("wheel"), 12, [0, 0.3, 1.7])
    assert found.sum(axis=2) == pytest.approx(np.full((3, 12), 1.5), abs=5e-4)


@given(st.integers(1, 9), st.integers(0, 9), st.floats(0.1, 90), st.booleans(), st.integers(0, 50_000))
def test_a_chase_lights_exactly_its_length_at_full_and_its_tail_below(
    length: int, tail: int, speed: float, backward: bool, tick: int
) -> None:
    chase = look_of(
        "chase",
        colour="#ffffff",
        length_px=length,
        tail_px=tail,
        spacing_px=20,
        speed_px_per_s=-speed if backward else speed,
    )
    level = rgb(chase, 60, [tick / HZ])[0, :, 0]
    assert (level == 1).sum() == 3 * length
    assert ((level > 0) & (level < 1)).sum() == 3 * tail


@pytest.mark.parametrize("look", LOOKS, ids=lambda look: look.kind)
def test_very_many_lights_at_once_shine_as_few_do(look: Look) -> None:
    """Much is looked up that little is worked out for."""
    span, lights, ticks = Span(300, 5.0, 40.0), np.arange(300), np.arange(150)
    many = [np.broadcast_to(channel, (150, 300)) for channel in look_light(look, lights, span, ticks)]
    for tick in (0, 77, 149):
        few = look_light(look, lights, span, ticks[tick : tick + 1])
        for whole, one in zip(many, few, strict=True):
            assert (whole[tick] == one).all()


def shares(kind: str, lights: int, times: list[float], **values: object) -> np.ndarray:
    """The red of a white look at some moments, shares of full light."""
    return rgb(look_of(kind, colour="#ffffff", **values), lights, times)[:, :, 0]


def test_a_scanner_visits_each_end_once_a_turn_and_every_other_light_twice() -> None:
    """Five lights have a way of eight places: 0 1 2 3 4 3 2 1, and 0 again."""
    found = shares("scanner", 5, np.arange(16) / 10 + 0.05, length_px=1, tail_px=0, speed_px_per_s=10)
    assert (found.sum(axis=1) == 1).all()
    assert found.argmax(axis=1).tolist() == [0, 1, 2, 3, 4, 3, 2, 1] * 2


def test_a_scanner_of_one_light_stays_on_it_and_its_tail_follows_it() -> None:
    assert (shares("scanner", 1, [0, 0.3, 2.7], length_px=1, tail_px=0, speed_px_per_s=10) == 1).all()
    found = shares("scanner", 8, [0.45], length_px=1, tail_px=3, speed_px_per_s=10)[0]
    assert found == pytest.approx([0, 0.25, 0.5, 0.75, 1, 0, 0, 0], abs=1e-4)


def test_two_pulses_stand_at_the_start_and_after_the_gap() -> None:
    found = shares("double_pulse", 1, [0.1, 0.35, 0.7], period_s=1.0, width=0.2, gap=0.25, second=0.5, low=0)
    assert found[:, 0] == pytest.approx([1, 0.5, 0], abs=1e-3)


def test_a_calm_candle_hardly_wavers_and_a_draughty_one_never_sinks_below_its_floor() -> None:
    times = np.arange(0, 9, 0.02)
    calm, draughty = (shares("candle", 3, times, draught=draught, low=0.3) for draught in (0.05, 1.0))
    assert calm.min() >= 0.95 - 1e-3
    assert 0.3 - 1e-3 <= draughty.min() < 0.31
    assert not (draughty[:, 0] == draughty[:, 1]).all(), "each wavers by itself"
    together = shares("candle", 3, times, apart=0)
    assert (together == together[:, :1]).all()
    other = shares("candle", 3, times, draught=1.0, low=0.3, seed=2)
    assert not (other == draughty).all(), "dealt anew"


def test_a_tank_fills_light_by_light_and_drains_again() -> None:
    found = shares("fill", 4, [0, 0.5, 1.0, 2.0, 3.0, 3.999], period_s=4.0, share=0.5)
    assert found.sum(axis=1) == pytest.approx([0, 1, 2, 4, 2, 0], abs=0.02)
    assert found[1].tolist() == [1, 0, 0, 0]
    assert shares("fill", 4, [0.5], period_s=4.0, share=0.5, backward=1)[0].tolist() == [0, 0, 0, 1]


def test_neighbours_take_turns() -> None:
    found = shares("alternate", 6, [0, 0.5], colour_to="#000000", interval_s=0.5, width_px=2)
    assert found.tolist() == [[1, 1, 0, 0, 1, 1], [0, 0, 1, 1, 0, 0]]


def test_lights_count_in_twos() -> None:
    found = shares("binary", 4, np.arange(20) + 0.5, colour_to="#000000", interval_s=1.0)
    assert ["".join(str(int(each)) for each in row) for row in found] == [f"{number % 16:04b}" for number in range(20)]


def test_a_beacon_shows_its_character_once_a_period() -> None:
    values = {"flashes": 3, "flash_s": 0.2, "gap_s": 0.3, "period_s": 4.0}
    found = shares("beacon", 1, np.arange(0, 8, 0.1) + 0.05, **values)[:, 0]
    assert np.flatnonzero(found[:40]).tolist() == [0, 1, 5, 6, 10, 11]
    assert (found[40:] == found[:40]).all()


def test_a_turn_signal_sweeps_its_way_stays_and_goes_dark() -> None:
    values = {"period_s": 1.0, "sweep": 0.4, "lit": 0.6}
    forward = shares("turn_signal", 5, [0.0, 0.2, 0.5, 0.7], way=0, **values)
    assert forward.sum(axis=1).tolist() == [1, 3, 5, 0]
    assert forward[0].argmax() == 0
    assert shares("turn_signal", 5, [0.0], way=1, **values)[0].argmax() == 4
    outward = shares("turn_signal", 5, [0.0, 0.5], way=2, **values)
    assert outward[0].tolist() == [0, 0, 1, 0, 0]
    assert outward[1].sum() == 5


def test_a_beam_passes_each_light_of_a_ring_once_a_turn() -> None:
    found = shares("lighthouse", 8, np.arange(8), period_s=8.0, width=0.1, low=0.0)
    assert found.argmax(axis=1).tolist() == list(range(8))
    assert found.max(axis=1) == pytest.approx(np.ones(8), abs=1e-3)


def test_traffic_lights_follow_one_another_and_are_never_dark() -> None:
    look = look_of("traffic", stop_s=2, ready_s=1, go_s=2, warn_s=1)
    lit = rgb(look, 3, [1, 2.5, 4, 5.5, 7]).max(axis=2) > 0
    assert lit.astype(int).tolist() == [[1, 0, 0], [1, 1, 0], [0, 0, 1], [0, 1, 0], [1, 0, 0]]


def test_a_bar_stands_as_high_as_it_should_with_its_top_in_its_own_colour() -> None:
    look = look_of("level_bar", colour="#00ff00", colour_to="#ff0000", period_s=2, low=0.2, high=1.0, top=0.8)
    found = rgb(look, 10, [0, 1.0])
    assert (found.max(axis=2) > 0).sum(axis=1).tolist() == [2, 10]
    assert (found[1, :, 0] > 0).tolist() == [False] * 8 + [True] * 2


def test_some_lights_glint_each_at_its_own_time() -> None:
    found = shares("twinkle", 400, np.arange(0, 10, 0.05), share=0.25, period_s=1.0)
    assert (found.max(axis=1) > 0).mean() > 0.15
    assert found.mean() == pytest.approx(0.125, abs=0.02), "a quarter of them, half lit on average"
    assert len({int(at) for at in found.argmax(axis=0)}) > 60
    assert shares("twinkle", 50, [0.0, 3.3], share=0.0).max() == 0


def test_a_hold_pulse_never_falls_to_nothing_but_where_it_begins_anew() -> None:
    held = shares("hold_pulse", 2, np.arange(0, 10, 0.1), period_s=2.0, full=0.5, hold=0.02)
    assert held.min() == pytest.approx(0.02, abs=1e-3)
    anew = shares("hold_pulse", 2, np.arange(0, 10, 0.1), period_s=2.0, full=0.5, hold=0.02, restart_s=0.3)
    assert (anew[:3] == 0).all()
    assert anew[3:].min() > 0


def test_random_hues_change_together_or_each_by_itself() -> None:
    own, one = (rgb(look_of("random_colour", apart=apart, interval_s=1.0), 30, [0.5, 0.9, 1.5]) for apart in (1, 0))
    assert (own[0] == own[1]).all()
    assert not (own[1] == own[2]).all()
    assert (one == one[:, :1]).all()
    assert len({tuple(each) for each in own[0]}) > 20
