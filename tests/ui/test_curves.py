"""Curves on the Line: what is thinned, what is joined, what is read out, and what goes into an SVG."""

import re
from pathlib import Path

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.support.builds import one_strip, part
from tests.ui.conftest import Opened
from tests.ui.driving import power_of
from tiny_lantern.model.edits_pieces import add_strip
from tiny_lantern.ui.axis import LineAxis
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.stations import power_acts
from tiny_lantern.ui.widgets.curves import Curve, LineStore, between, drawn, thinned, unbroken


def curve_of(values: list[float], pieces: list[int] | None = None, apart: float = 1.0) -> Curve:
    """Values at even places."""
    count = len(values)
    return Curve(np.arange(count) * apart, np.array(pieces or [0] * count), np.array(values))


def same(values: np.ndarray) -> np.ndarray:
    """Places and values that are screen pixels already."""
    return values


@given(st.lists(st.tuples(st.floats(0, 10), st.integers(0, 3)), min_size=1, max_size=300), st.floats(0.01, 5))
def test_thinning_keeps_the_extremes_of_every_few_pixels_and_the_ends_of_wide_runs(
    rows: list[tuple[float, int]], apart: float
) -> None:
    values = np.array([value for value, _ in rows])
    runs = np.sort(np.array([run for _, run in rows]))
    x = np.arange(len(rows)) * apart
    kept = thinned(x, runs, values)
    assert list(kept) == sorted(set(kept))
    for bucket in range(int(x[-1] // 3) + 1):
        inside = [n for n in range(len(x)) if bucket * 3 <= x[n] < bucket * 3 + 3]
        if inside:
            shown = [values[n] for n in inside if n in set(kept)]
            assert (min(shown), max(shown)) == (values[inside].min(), values[inside].max())
    for run in set(runs):
        own = np.flatnonzero(runs == run)
        if x[own[-1]] - x[own[0]] > 3:
            assert {own[0], own[-1]} <= set(kept)


def test_many_values_in_few_pixels_become_few_points() -> None:
    values = np.sin(np.arange(50_000) / 900)
    assert len(thinned(np.linspace(0, 300, 50_000), np.zeros(50_000, int), values)) < 420


def test_a_gap_in_the_values_or_another_strip_breaks_the_line() -> None:
    curve = curve_of([1, 2, np.nan, 3, 4, 5], [0, 0, 0, 0, 0, 1], apart=10)
    assert list(unbroken(curve)) == [0, 0, 1, 2, 2, 3]
    points = drawn(curve, same, same)
    assert list(points.joined) == [True, False, True, False]
    assert len(points.segments()) == 3


def test_lines_of_one_store_are_those_last_written() -> None:
    store = LineStore()
    store.of(np.arange(400.0).reshape(100, 4))
    lines = store.of(np.array([[1.0, 2, 3, 4], [5, 6, 7, 8]]))
    assert [(line.p1().toTuple(), line.p2().toTuple()) for line in lines] == [((1, 2), (3, 4)), ((5, 6), (7, 8))]


def test_strips_closer_than_the_screen_can_show_are_drawn_as_one_shape() -> None:
    near, far = (drawn(curve_of([1, 2, 3, 4], [0, 0, 1, 1], apart), same, same) for apart in (3.5, 30))
    assert near.joined.all()
    assert list(far.joined) == [True, False, True]


def test_the_area_between_two_curves_has_the_points_of_both() -> None:
    points = drawn(curve_of([5, 6, 7, 8], [0, 0, 1, 1], apart=20), same, same)
    areas = between(points, np.array([1.0, 2.0, 3.0, 4.0]))
    assert [[point.toTuple() for point in area] for area in areas] == [
        [(0, 5), (20, 6), (20, 2), (0, 1)],
        [(40, 7), (60, 8), (60, 4), (40, 3)],
    ]


def test_columns_blend_the_lights_that_share_them() -> None:
    axis = LineAxis()
    axis.follow(one_strip(8))
    bytes_of = np.arange(8, dtype=np.uint8)[:, None] * 10
    assert axis.columns(4).blend(bytes_of).ravel().tolist() == [5, 25, 45, 65]
    assert axis.columns(8).blend(bytes_of).ravel().tolist() == bytes_of.ravel().tolist()
    assert axis.columns(16).blend(bytes_of).ravel().tolist() == np.repeat(bytes_of, 2).tolist()


def test_the_gap_between_strips_is_under_no_column() -> None:
    axis = LineAxis()
    axis.follow(add_strip(one_strip(50), part("rgb-5v-60"), 50, "Other"))
    columns = axis.columns(2000)
    dark = np.flatnonzero(columns.first < 0)
    middle = axis.to_screen((axis.spans[0].piece.length_m + axis.start_of(1)) / 2, 2000)
    assert dark.min() < middle < dark.max()
    assert np.diff(dark).max() == 1
    assert set(columns.first[columns.first >= 0]) == set(range(100))


def test_the_curves_go_out_as_a_vector_drawing(opened: Opened) -> None:
    shell = opened(one_strip(60))
    drawing = power_of(shell).svg().decode()
    assert drawing.startswith("<?xml")
    assert "volts at each light" in drawing
    assert len(re.findall(r"<(?:polyline|path|line)", drawing)) > 60


def test_the_curves_are_saved_as_a_drawing_and_a_refusal_is_told(opened: Opened, tmp_path: Path) -> None:
    shell = opened(demo_build("footbridge"))
    power_acts.save_curves(shell, tmp_path / "curves.svg")
    assert "volts at each light" in (tmp_path / "curves.svg").read_text(encoding="utf-8")
    assert "curves.svg" in shell.transport.status.toolTip()
    power_acts.save_curves(shell, tmp_path / "curves.svg" / "inside.svg")
    assert "inside.svg" in shell.transport.status.toolTip()
    assert "Wrote" not in shell.transport.status.toolTip()
