"""Every kind of effect: what all keep to, that a board plays the same, and what each of them is."""

from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.compiled import by_c, by_python
from tiny_lantern.effects.kind import ColourParameter, Number, Span
from tiny_lantern.effects.registry import effect_kinds
from tiny_lantern.kernel.nodes import ONE
from tiny_lantern.model.effects import LOOKS, Look, look_of
from tiny_lantern.show.looks import look_light, look_numbers, sample_of

HZ = 1000.0


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
        assert sample_of(look.kind, 14, 10, 2.0).max() > 60
        for parameter in kind.parameters:
            assert parameter.label
            if isinstance(parameter, Number):
                assert parameter.low <= parameter.default <= parameter.high


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
            [{**numbers, "slot": s, "count": 37, "tick": t} for t in range(0, 300, 11) for s in range(0, 37, 5)]
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
