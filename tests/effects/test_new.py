"""What a new effect is given, and that older ones keep the look that they had."""

import numpy as np
import pytest

from tests.support.builds import one_strip
from tiny_lantern.effects.curve import curve_points
from tiny_lantern.kernel.nodes import ONE
from tiny_lantern.model.edits_show import add_effect, change_effect, lay_new
from tiny_lantern.model.effects import look_of
from tiny_lantern.show.weave import render


@pytest.mark.parametrize("length_s", [0.1, 1.0, 7.3])
def test_a_new_fade_ends_on_its_colour_and_an_older_one_a_step_before(length_s: float) -> None:
    new = lay_new(one_strip(2), "fade", 0, 1, 0.0, length_s)
    old = add_effect(one_strip(2), look_of("fade"), 0, 1, 0.0, length_s)
    last = round(length_s * 40) - 1
    ends = [render(build, np.array([last]))[0, 0].tolist() for build in (new, old)]
    assert ends[0] == [255, 119, 17], "its colour to the byte"
    assert ends[1] != ends[0]
    dark = change_effect(new, new.effects[0].id, look=look_of("fade", colour="#ffffff", colour_to="#000000", arrives=1))
    assert render(dark, np.array([last]))[0, 0].tolist() == [0, 0, 0]


def test_new_effects_of_chance_have_seeds_of_their_own_and_the_others_none() -> None:
    build = one_strip(9)
    for kind in ("candle", "candle", "fade", "twinkle"):
        build = lay_new(build, kind, 0, 8, 0.0, 1.0)
    assert [effect.look.values.get("seed") for effect in build.effects] == [1, 2, None, 3]
    assert look_of("candle").values["seed"] == 1, "what a file does not say is as it was"


def test_even_to_the_eye_is_as_bright_as_far_along() -> None:
    """Half way L* 50 is 18.4 % of the light; a tenth of the way L* 10 is 1.13 %."""
    points = curve_points("even to the eye")
    assert points[32] / ONE == pytest.approx(0.1842, abs=2e-4)
    assert np.interp(0.1, np.linspace(0, 1, 65), points) / ONE == pytest.approx(0.0113, abs=3e-4)
    assert (points[0], points[-1]) == (0, ONE)
    assert (np.diff(points) > 0).all()


def test_a_new_breath_and_a_new_fade_are_even_to_the_eye() -> None:
    for kind in ("breathe", "fade"):
        assert lay_new(one_strip(2), kind, 0, 1, 0.0, 1.0).effects[0].look.values["curve"] == "even to the eye"
        assert look_of(kind).values["curve"] == "straight"
