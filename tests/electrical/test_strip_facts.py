"""A strip's numbers from its watts, and from two voltages."""

import numpy as np
import pytest

from tests.support.builds import one_strip
from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.electrical.power import solve_power
from tiny_lantern.electrical.strip_facts import of_voltages, of_watts
from tiny_lantern.model.edits import change_parts
from tiny_lantern.model.edits_power import set_measured
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.strip import StripPart

STRIPS = shelf().of(StripPart)


@pytest.mark.parametrize("part", STRIPS, ids=lambda part: part.id)
def test_a_strip_of_so_many_watts_draws_them_when_solved(part: StripPart) -> None:
    made = of_watts(part, 6.0)
    lit = [1.0] * len(part.pixel.channels)
    from tiny_lantern.electrical.laws import laws_for  # the pixels' own law, apart from any build

    amps = laws_for((made.pixel,), (np.array([lit]),)).current_a(np.array([0.0, part.nominal_v, 0.0])).sum()
    assert amps * part.nominal_v / part.pitch_m == pytest.approx(6.0, rel=1e-9)


def test_fewer_watts_than_the_chips_take_are_refused() -> None:
    with pytest.raises(LanternError, match="more than"):
        of_watts(shelf().find(StripPart, "rgb-5v-60"), 0.1)


@pytest.mark.parametrize("part", STRIPS, ids=lambda part: part.id)
def test_rails_found_from_two_voltages_give_them_again(part: StripPart) -> None:
    """The voltages of a strip as it ships, measured by solving, lead back to its rails."""
    known = part.model_copy(update={"rail_pos_ohm_per_m": 0.09, "rail_neg_ohm_per_m": 0.09})
    build = change_parts(one_strip(40, part.id), known)
    feed = build.feeds[0]
    for side in ("positive", "negative"):
        build = set_measured(build, feed.id, side, 1e-5)  # type: ignore[arg-type]
    run = solve_power(build, (np.ones((40, len(part.pixel.channels))),)).runs[build.strips[0].id]
    near_v = run.rail_pos_v[0] - run.rail_neg_v[0]
    found = of_voltages(part, 40, float(near_v), float(run.pixel_v[-1]))
    assert found.rail_pos_ohm_per_m == found.rail_neg_ohm_per_m == pytest.approx(0.09, rel=1e-3)


MISFITS = [(60, 5.0, 5.0), (60, 5.0, 0.1), (1, 5.0, 4.0), (6000, 5.0, 4.0)]


@pytest.mark.parametrize(("pixels", "near_v", "far_v"), MISFITS)
def test_readings_that_fit_no_strip_are_refused(pixels: int, near_v: float, far_v: float) -> None:
    with pytest.raises(LanternError):
        of_voltages(shelf().find(StripPart, "rgb-5v-60"), pixels, near_v, far_v)
