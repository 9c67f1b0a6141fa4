"""Bitmaps as bytes and back, and small pieces of C that say what the program says."""

from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.compiled import run_c
from tiny_lantern.electrical.drive.scanned import active_low, pattern_of, row_bytes
from tiny_lantern.electrical.inputs.audio import AudioIn
from tiny_lantern.electrical.inputs.button import Button
from tiny_lantern.electrical.inputs.knob import Knob
from tiny_lantern.electrical.inputs.press import PressSensor, divider
from tiny_lantern.model.errors import LanternError
from tiny_lantern.show.bitmap import across_panels, byte_of, panel_by_panel, pattern_in_bytes, pattern_of_bytes
from tiny_lantern.show.morse import morse
from tiny_lantern.show.snippets import audio_c, button_c, knob_c, press_c, table_c

ROWS = st.lists(st.text("01", min_size=16, max_size=16), min_size=1, max_size=16)


@given(rows=ROWS, form=st.sampled_from(["hex", "decimal", "binary"]), low=st.booleans())
def test_a_bitmap_survives_being_written_as_bytes(rows: list[str], form: str, low: bool) -> None:
    values = row_bytes(pattern_of(rows))
    assert values is not None
    text = pattern_in_bytes(active_low(values) if low else values, form)  # type: ignore[arg-type]
    assert pattern_of_bytes(text, 16, low) == rows


@given(rows=st.lists(st.lists(st.integers(0, 255), min_size=3, max_size=3), min_size=1, max_size=7))
def test_rows_across_panels_come_back_from_one_panel_after_another(rows: list[list[int]]) -> None:
    one_by_one = ", ".join(str(value) for (value,) in panel_by_panel(rows))
    assert across_panels(one_by_one, 3) == ", ".join(str(value) for row in rows for value in row)


@pytest.mark.parametrize(("word", "value"), [("0x3C", 60), ("60", 60), ("0b00111100", 60), ("0xf", 15), ("0b1", 1)])
def test_bytes_are_read_as_people_write_them(word: str, value: int) -> None:
    assert byte_of(word) == value


@pytest.mark.parametrize("word", ["0b102", "0x1G", "256", "-1", "0x", "0b", "1.5", "x3C", "0x123", ""])
def test_what_is_no_byte_is_refused_with_what_would_be(word: str) -> None:
    with pytest.raises(LanternError) as caught:
        byte_of(word)
    assert caught.value.where == "bytes"
    assert "0b00111100" in caught.value.accepted


@pytest.mark.parametrize(("text", "columns", "where"), [("1, 2, 3", 16, "bytes"), ("1", 7, "bitmap"), ("", 8, "bytes")])
def test_bytes_that_make_no_rows_are_refused(text: str, columns: int, where: str) -> None:
    with pytest.raises(LanternError) as caught:
        pattern_of_bytes(text, columns)
    assert caught.value.where == where


def test_a_wide_bitmap_has_a_byte_for_every_eight_columns() -> None:
    rows = pattern_of_bytes(", ".join(str(value) for value in range(16)), 64)
    assert [len(row) for row in rows] == [64, 64]
    assert rows[1].endswith("00001111")


@pytest.mark.parametrize("rows", [["0101", "010"], ["01x1"]])
def test_a_ragged_bitmap_is_refused_with_its_row(rows: list[str]) -> None:
    with pytest.raises(LanternError) as caught:
        pattern_of(rows)
    assert caught.value.where.startswith("row ")


@pytest.mark.parametrize("knob", [Knob(12, 22, 4095, 8), Knob(16, 100, 65535, 16), Knob(10, 0, 1023, 12)])
def test_a_knob_in_c_says_what_the_program_says(knob: Knob, tmp_path: Path) -> None:
    readings = sorted({0, knob.offset_counts, knob.offset_counts + 1, knob.full_counts // 3, knob.full_counts - 1,
                       knob.full_counts})  # fmt: skip
    calls = "".join(f'printf("%u\\n", (unsigned)level_of({reading}u));' for reading in readings)
    head = "#include <stdint.h>\n#include <stdio.h>\nuint16_t level_of(uint16_t reading);\n"
    found = run_c(f"{head}{knob_c(knob)}\nint main(void) {{ {calls} return 0; }}\n", tmp_path)
    assert [int(line) for line in found.split()] == [knob.level(reading) for reading in readings]


def replies(function: str, kinds: tuple[str, str], code: str, given: list[int], folder: Path) -> list[int]:
    """What a C function answers to readings, one after another."""
    calls = "".join(f'printf("%u\\n", (unsigned){function}({reading}u));' for reading in given)
    head = f"#include <stdint.h>\n#include <stdio.h>\n{kinds[0]} {function}({kinds[1]});\n"
    found = run_c(f"{head}{code}\nint main(void) {{ {calls} return 0; }}\n", folder)
    return [int(line) for line in found.split()]


@pytest.mark.parametrize(("to", "idle"), [("ground", 1), ("supply", 0)])
def test_a_button_in_c_answers_once_after_its_bounce(to: str, idle: int, tmp_path: Path) -> None:
    """At 100 readings a second 50 ms are five that agree; a bounce in between begins anew."""
    button = Button(to, 5.0, 10_000.0, 100.0)  # type: ignore[arg-type]
    assert (button.idle, button.debounce_ticks) == (idle, 5)
    assert button.pressed_a == pytest.approx(0.0005)
    down = 1 - idle
    readings = [idle] * 3 + [down] * 4 + [idle] + [down] * 7 + [idle] * 6
    answers = replies("pressed", ("uint8_t", "uint8_t pin"), button_c(button), readings, tmp_path)
    assert [at for at, answer in enumerate(answers) if answer] == [12]


@pytest.mark.parametrize("to", ["supply", "ground"])
def test_a_press_sensor_in_c_switches_where_the_sum_says(to: str, tmp_path: Path) -> None:
    sensor = PressSensor(100e3, 1e3, 5.0, to, 5.0, 10)  # type: ignore[arg-type]
    found = divider(sensor, 10e3)
    on, off = found.counts(found.press_at_v), found.counts(found.release_at_v)
    step = 1 if found.rises else -1
    readings = [off, on - step, on, on - step, off + step, off, on - step]
    answers = replies("touched", ("uint8_t", "uint16_t reading"), press_c(found), readings, tmp_path)
    assert answers == [0, 0, 1, 1, 1, 0, 0]


def test_sound_is_lifted_to_half_the_supply_and_its_loudness_falls_slowly(tmp_path: Path) -> None:
    """100 kohm twice and 0.1 uF: 50 kohm and 100 nF are 5 ms, 31.8 Hz."""
    audio = AudioIn(1.0, 5.0, 100e3, 1e-7, 5.0, 10)
    assert (audio.idle_counts, audio.peak_counts, audio.clips) == (512, 204, False)
    assert audio.low_hz == pytest.approx(31.831, rel=1e-4)
    assert not AudioIn(2.5, 5.0, 100e3, 1e-7, 5.0, 10).clips
    assert AudioIn(2.51, 5.0, 100e3, 1e-7, 5.0, 10).clips
    assert [AudioIn(peak, 5.0, 100e3, 1e-7, 10.0, 10).clips for peak in (2.5, 2.6)] == [False, True], "below 0 V"
    assert AudioIn(1.0, 5.0, 100e3, 1e-7, 3.3, 10).widest_v == pytest.approx(0.8)
    loud = replies("loudness", ("uint8_t", "uint16_t reading"), audio_c(audio), [512, 716, 308, *[512] * 200], tmp_path)
    assert loud[:3] == [0, 255, 255]
    assert loud[3:] == sorted(loud[3:], reverse=True)
    assert 100 < loud[14] < 160, "half of it is gone after eleven readings"
    assert loud[-1] == 0


def test_a_table_in_c_has_every_entry() -> None:
    text = table_c(list(range(300)), 12)
    assert text.startswith("static const uint16_t fade[300] = {")
    assert [int(word) for word in text.split("{")[1].split("}")[0].replace(",", " ").split()] == list(range(300))


@pytest.mark.parametrize("text", ["", "   ", "naïve", "a_b"])
def test_text_without_a_code_is_refused(text: str) -> None:
    with pytest.raises(LanternError):
        morse(text)
