"""Effects made of words: Morse, text of dots, pictures, step tables, and the curves that levels follow."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from tests.support.builds import one_strip, part
from tiny_lantern.effects.curve import curve_points
from tiny_lantern.effects.kind import Span
from tiny_lantern.effects.letters import letters, text_columns
from tiny_lantern.effects.picture import picture_rows
from tiny_lantern.effects.steps import table_rows
from tiny_lantern.kernel.nodes import ONE
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_pieces import add_piece
from tiny_lantern.model.edits_show import add_effect, change_look
from tiny_lantern.model.effects import Look, look_of
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.lamps import Matrix
from tiny_lantern.model.layout import slot_places
from tiny_lantern.model.strip import Panel
from tiny_lantern.show.looks import look_light
from tiny_lantern.show.pictures import picture_words, table_words
from tiny_lantern.show.weave import render

I_OF_DOTS = [".###.", "..#..", "..#..", "..#..", "..#..", ".###."]


def red(look: Look, lights: int, ticks: list[int], hz: float = 40.0) -> np.ndarray:
    """The red of a look, shares of full, (n_ticks, n_lights)."""
    light = look_light(look, np.arange(lights), Span(lights, 60.0, hz), np.array(ticks))[0]
    return np.broadcast_to(light, (len(ticks), lights)) / ONE


def dots(rows: np.ndarray) -> list[str]:
    """Rows of light as marks, dark rows and columns around them left out."""
    lit = rows > 0.5
    lit = lit[np.flatnonzero(lit.any(axis=1))[0] : np.flatnonzero(lit.any(axis=1))[-1] + 1]
    lit = lit[:, np.flatnonzero(lit.any(axis=0))[0] : np.flatnonzero(lit.any(axis=0))[-1] + 1]
    return ["".join(".#"[int(mark)] for mark in row) for row in lit]


def test_morse_sends_dots_and_dashes_with_their_gaps_and_begins_again_after_that_of_a_word() -> None:
    look = look_of("morse", text="sos", words_per_min=12, colour="#ffffff")  # a unit is a tenth of a second
    sent = red(look, 1, list(range(0, 40 * 5, 4)))[:, 0]  # four frames a unit
    marks = "".join("#" if level else "." for level in sent)
    word = "#.#.#...###.###.###...#.#.#" + "." * 7
    assert marks == (word * 2)[: len(marks)]


def test_letters_are_there_for_western_languages_and_stand_as_their_makers_drew_them() -> None:
    assert set("AZaz09äöüÄÖÜßéñ€"[:-1]) <= set(letters())
    rows = ["".join("#" if column >> bit & 1 else "." for column in letters()["I"]) for bit in range(7)]
    assert [row.strip(".") for row in rows[:6]] == [row.strip(".") for row in I_OF_DOTS]
    with pytest.raises(ValueError, match="no letter “☃”"):
        text_columns("pier ☃")


def panel_build(rows: int, columns: int, **wired: object) -> Build:
    """A panel of pixels wired in a way."""
    strip = part("rgb-5v-60")
    panel = Panel(id="sign", name="Sign", part_id=strip.id, rows=rows, columns=columns, pitch_m=0.02,
                  cross_pitch_m=0.02, colour_order="GRB", **wired)  # fmt: skip
    return add_piece(Build(), strip, panel)


@pytest.mark.parametrize("corner", ["top_left", "top_right", "bottom_left", "bottom_right"])
@pytest.mark.parametrize("columns_first", [False, True])
@pytest.mark.parametrize("serpentine", [False, True])
def test_text_reads_upright_however_the_panel_is_wired(corner: str, columns_first: bool, serpentine: bool) -> None:
    build = panel_build(9, 13, corner=corner, columns_first=columns_first, serpentine=serpentine)
    build = add_effect(build, look_of("text", text="7L", speed=0, colour="#ffffff"), 0, 116, 0, 10)
    frame = render(build, np.array([0]))[0, :, 0]
    places = (slot_places(build.pieces[0]) / 0.02).round().astype(int)
    seen = np.zeros((9, 13))
    seen[places[:, 1].max() - places[:, 1], places[:, 0] - places[:, 0].min()] = frame / 255
    assert dots(seen) == ["####.#...", "...#.#...", "..#..#...", "..#..#...", ".#...#...", ".#...####"]


def test_text_passes_by_from_right_to_left_at_its_speed_and_comes_again() -> None:
    look = look_of("text", text="I", speed=10, rows=7, colour="#ffffff")
    wide = len(text_columns("I"))
    frames = red(look, 7 * 8, [0, 4 * wide, 4 * 8, 4 * (8 + wide)]).reshape(4, 7, 8)
    assert frames[0].max() == 0  # all of it is yet to come
    assert dots(frames[1]) == ["###", ".#.", ".#.", ".#.", ".#.", "###"]
    assert frames[1][:, -wide:].any(axis=0).all()
    assert frames[2][:, :wide].any(axis=0).all()
    assert frames[3].max() == 0
    back = red(revise(look, speed=-10), 7 * 8, [4]).reshape(7, 8)
    assert back[:, 0].any()


def test_a_text_laid_on_a_matrix_takes_its_rows() -> None:
    build = add_piece(
        Build(), part("matrix-red-8x8"), Matrix(id="m", name="M", part_id="matrix-red-8x8", rows=5, columns=4)
    )
    laid = add_effect(build, look_of("text", rows=8), 0, 19, 0, 1).effects[0].look
    assert (laid.values["rows"], laid.values["way"]) == (5, 0)


def test_a_picture_stands_passes_and_plays_its_rows_on_one_row_of_lights() -> None:
    look = look_of("picture", picture="#ff0000 #000000\n#000000 #ff0000", speed=0, rows=2)
    assert red(look, 4, [0])[0].tolist() == [1, 0, 0, 1]
    staff = revise(look, rows=1, speed=10)
    assert red(staff, 2, [0, 3, 4, 8]).tolist() == [[1, 0], [1, 0], [0, 1], [1, 0]]
    moving = red(revise(look, speed=10), 4, [0, 4, 8, 12, 16]).reshape(5, 2, 2)
    assert moving[0].max() == 0
    assert moving[1].tolist() == [[0, 1], [0, 0]]
    assert moving[2].tolist() == [[1, 0], [0, 1]]
    grey = look_of("picture", picture="#808080", rows=1)
    assert red(grey, 1, [0])[0, 0] == pytest.approx(0.2159, abs=3e-3)  # the linear light of half an sRGB byte


@pytest.mark.parametrize(
    ("text", "rows"),
    [
        ("101\n010", [[255, 0, 255], [0, 255, 0]]),
        ("x.x\n.x. x2", [[255, 0, 255], [0, 255, 0], [0, 255, 0]]),
        ("0 0.5 1", [[0, 128, 255]]),
        ("0;128;255\n1;2;3", [[0, 128, 255], [1, 2, 3]]),
        ("50%, 100%\n0%, 25%", [[128, 255], [0, 64]]),
        ("1\t0\n0\t1", [[255, 0], [0, 255]]),
        ("1 1\n\n0 1\n", [[255, 255], [0, 255]]),
    ],
)
def test_step_tables_are_read_as_people_write_them(text: str, rows: list[list[int]]) -> None:
    assert [list(row) for row in table_rows(text)] == rows


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("101\n10", "row 2 has 2 levels and row 1 has 3"),
        ("1 2\n0 q", "“q” in row 2 is no level"),
        ("0 300", "“300” in row 1 is over 255"),
        ("0 120%", "over 100"),
        ("\n \n", "1 to 20000 levels"),
        ("1 " * 100 + "x1000", "1 to 20000 levels"),
    ],
)
def test_a_table_that_is_none_is_refused_with_its_row(text: str, told: str) -> None:
    with pytest.raises(ValueError, match=told):
        table_rows(text)


def test_steps_follow_one_another_and_go_on_along_the_lights() -> None:
    look = look_of("steps", table="100\n010 x2\n001", step_s=0.1, colour="#ffffff")
    frames = red(look, 5, [0, 3, 4, 11, 12, 16])
    assert frames.tolist() == [
        [1, 0, 0, 1, 0], [1, 0, 0, 1, 0], [0, 1, 0, 0, 1], [0, 1, 0, 0, 1], [0, 0, 1, 0, 0], [1, 0, 0, 1, 0],
    ]  # fmt: skip


def test_curves_ease_step_and_go_as_they_are_drawn() -> None:
    half = 32
    assert curve_points("straight") == tuple(range(0, ONE + 1, ONE // 64))
    assert curve_points("ease in")[half] == pytest.approx(ONE * 0.2929, abs=9)
    assert curve_points("ease out")[half] == pytest.approx(ONE * 0.7071, abs=9)
    assert curve_points("EASE")[16] == pytest.approx(ONE * 0.1464, abs=9)
    assert sorted(set(curve_points("steps 3"))) == [0, ONE // 2, ONE]
    assert curve_points("0, 1, 0.5")[half] == ONE
    for text in ("steps 1", "steps 99", "round", "0", "0 2"):
        with pytest.raises(ValueError, match="curve"):
            curve_points(text)


def test_a_fade_follows_its_curve() -> None:
    fade = look_of("fade", colour="#000000", colour_to="#ffffff", curve="0 1 0")
    light = look_light(fade, np.arange(1), Span(1, 10.0, 40.0), np.array([0, 100, 200, 300, 400]))[0]
    assert (np.ravel(light) / ONE).tolist() == pytest.approx([0, 0.5, 1, 0.5, 0], abs=1e-3)


LEVELS = {
    "breathe": {"low": 0}, "double_pulse": {"low": 0}, "chase": {}, "scanner": {}, "twinkle": {"low": 0},
    "lighthouse": {"low": 0}, "candle": {"low": 0, "draught": 1}, "welder": {"low": 0, "share": 1},
    "television": {"low": 0, "colour_to": "#ffffff", "interval_s": 0.1, "beat_s": 0.05},
    "steps": {"table": "0 .1 .2 .4 .45 .5 .6 .7 .8 .9 1", "step_s": 9},
}  # fmt: skip


@pytest.mark.parametrize("kind", LEVELS)
@pytest.mark.parametrize("lights", [20, 400])
def test_levels_follow_their_curve_for_few_lights_and_for_many(kind: str, lights: int) -> None:
    """A level is looked up on the curve: in three steps it has three values and nothing between them."""
    ticks = list(range(0, 60, 3))
    even, stepped, turned = (
        red(look_of(kind, colour="#ffffff", **LEVELS[kind], curve=curve), lights, ticks)
        for curve in ("straight", "steps 3", "1 0")
    )
    assert len(np.unique(even)) > 4
    assert set(np.unique(stepped)) <= {0.0, 0.5, 1.0}
    assert stepped[even < 0.32].max() == 0
    assert np.unique(stepped[(even > 0.35) & (even < 0.65)]).tolist() == [0.5]
    assert stepped[even > 0.68].min() == 1
    lit = even > 0 if kind not in ("candle", "steps", "welder", "television") else even >= 0
    assert turned[lit] == pytest.approx(1 - even[lit], abs=1e-4)


def test_embers_are_hot_or_cold_where_their_curve_has_two_steps() -> None:
    even, stepped = (
        red(look_of("embers", colour="#000000", colour_to="#ffffff", low=0.0, curve=curve), 50, [0, 10, 20])
        for curve in ("straight", "steps 2")
    )
    assert np.array_equal(stepped, even >= 0.125), "the cube of a half"


def test_a_bar_and_a_sweep_move_on_their_curves() -> None:
    bar = look_of("level_bar", colour="#ffffff", colour_to="#ffffff", low=0.0, high=1.0, period_s=2.0, curve="0 0 1")
    assert red(bar, 10, [0, 20, 30, 40]).sum(axis=1).tolist() == [0, 0, 7, 10]
    sweep = look_of("turn_signal", colour="#ffffff", period_s=1.0, sweep=1.0, lit=1.0, curve="0 1 1")
    assert red(sweep, 10, [5, 10, 20, 39]).sum(axis=1).tolist() == pytest.approx([3, 6, 10, 10], abs=0.5)


def test_a_tide_rises_on_its_curve() -> None:
    slow = look_of("fill", colour="#ffffff", period_s=4.0, share=0.5, curve="0 0 1")
    lit = red(slow, 10, [0, 20, 40, 60, 79, 100]).sum(axis=1)
    assert lit == pytest.approx([0, 0, 0, 5, 9.75, 5], abs=0.05)


def test_files_become_words_and_what_is_none_is_told(tmp_path: Path) -> None:
    from PIL import Image

    Image.fromarray(np.array([[[255, 0, 0, 255], [0, 255, 0, 0]]] * 2, np.uint8)).save(tmp_path / "two.png")
    assert picture_words(str(tmp_path / "two.png"), 2, 4) == "#ff0000 #000000\n#ff0000 #000000"
    assert len(picture_rows(picture_words(str(tmp_path / "two.png"), 1, 30))[0]) == 30
    Image.new("RGB", (5, 4), "blue").save(tmp_path / "five.png")
    rows = picture_rows(picture_words(str(tmp_path / "five.png"), 3, 90))
    assert [len(row) for row in rows] == [4, 4, 4], "3.75 across, by whole lights"
    Image.new("RGB", (30, 700), "blue").save(tmp_path / "tall.png")
    rows = picture_rows(picture_words(str(tmp_path / "tall.png"), 1, 30))
    assert (len(rows), len(rows[0])) == (133, 30), "no more than 4,000 colours"
    Image.new("1", (8000, 5001)).save(tmp_path / "large.png")
    with pytest.raises(LanternError, match="8000 × 5001"):
        picture_words(str(tmp_path / "large.png"), 2, 4)
    (tmp_path / "none.png").write_bytes(b"no picture")
    with pytest.raises(LanternError, match="no picture"):
        picture_words(str(tmp_path / "none.png"), 2, 4)
    (tmp_path / "table.csv").write_text("\ufeff1,0\n0,1\n", encoding="utf-8")
    assert table_rows(table_words(str(tmp_path / "table.csv"))) == ((255, 0), (0, 255))
    (tmp_path / "bytes.csv").write_bytes(b"\xff\xfe\x00")
    with pytest.raises(LanternError, match="no text"):
        table_words(str(tmp_path / "bytes.csv"))


def test_words_that_cannot_be_used_change_nothing_in_a_build() -> None:
    build = add_effect(panel_build(4, 4), look_of("steps"), 0, 15, 0, 1)
    with pytest.raises(LanternError, match="row 2 has 1 levels"):
        change_look(build, build.effects[0].id, table="10\n1")


def test_a_curve_that_is_none_is_told_once_with_its_place() -> None:
    build = add_effect(one_strip(4), look_of("fade"), 0, 3, 0.0, 1.0)
    with pytest.raises(LanternError) as refusal:
        change_look(build, build.effects[0].id, curve="steps 0")
    assert refusal.value.what == "“steps 0” is no curve"
    assert refusal.value.where.endswith("curve")
