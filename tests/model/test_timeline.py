"""The one place where times become frames."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tiny_lantern.model.timeline import Timeline


@pytest.mark.parametrize(
    ("tick_hz", "time_s", "tick"),
    [(40, 0.0, 0), (40, 0.0249, 0), (40, 0.025, 1), (30, 1 / 30, 1), (30, 0.1, 3), (30, 0.0999, 2), (30, 2.3, 69),
     (37.5, 0.08, 3), (0.5, 3.9, 1), (40, -1.0, 0), (40, 1e6, 399)],
)  # fmt: skip
def test_the_frame_on_show_is_the_one_that_has_begun(tick_hz: float, time_s: float, tick: int) -> None:
    assert Timeline(tick_hz, 10.0 if tick_hz > 1 else 100.0).on_show(time_s) == tick


def test_a_show_has_its_frames_and_one_at_least() -> None:
    assert Timeline(40.0, 60.0).count == 2400
    assert Timeline(30.0, 0.1).count == 3
    assert Timeline(0.01, 0.1).count == 1


def test_an_effect_covers_the_frames_nearest_to_its_ends_and_one_at_least() -> None:
    begin, end = Timeline(30.0, 10.0).covered(np.array([0.0, 0.05, 1.0, 2.0]), np.array([1.0, 0.05, 0.001, 0.5]))
    assert begin.tolist() == [0, 2, 30, 60]
    assert end.tolist() == [30, 3, 31, 75]


@given(st.floats(0.5, 400), st.integers(0, 5000))
def test_a_frame_is_on_show_when_it_begins_and_nearest_to_its_beginning(tick_hz: float, tick: int) -> None:
    line = Timeline(tick_hz, 5001 / tick_hz)
    begins = line.begins_s(tick)
    assert begins == pytest.approx(tick / tick_hz)
    assert line.on_show(begins) == tick
    assert line.all_on_show(np.array([begins, begins])).tolist() == [tick, tick]
    assert line.nearest(np.array([begins])).tolist() == [tick]
