"""Bitmaps as bytes and back, and small pieces of C that say what the program says."""

from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.compiled import run_c
from tiny_lantern.electrical.drive.scanned import active_low, pattern_of, row_bytes
from tiny_lantern.electrical.inputs.knob import Knob
from tiny_lantern.model.errors import LanternError
from tiny_lantern.show.bitmap import byte_of, pattern_in_bytes, pattern_of_bytes
from tiny_lantern.show.morse import morse
from tiny_lantern.show.snippets import knob_c, table_c

ROWS = st.lists(st.text("01", min_size=16, max_size=16), min_size=1, max_size=16)


@given(rows=ROWS, form=st.sampled_from(["hex", "decimal", "binary"]), low=st.booleans())
def test_a_bitmap_survives_being_written_as_bytes(rows: list[str], form: str, low: bool) -> None:
    values = row_bytes(pattern_of(rows))
    assert values is not None
    text = pattern_in_bytes(active_low(values) if low else values, form)  # type: ignore[arg-type]
    assert pattern_of_bytes(text, 16, low) == rows


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


def test_a_table_in_c_has_every_entry() -> None:
    text = table_c(list(range(300)), 12)
    assert text.startswith("static const uint16_t fade[300] = {")
    assert [int(word) for word in text.split("{")[1].split("}")[0].replace(",", " ").split()] == list(range(300))


@pytest.mark.parametrize("text", ["", "   ", "naïve", "a_b"])
def test_text_without_a_code_is_refused(text: str) -> None:
    with pytest.raises(LanternError):
        morse(text)
