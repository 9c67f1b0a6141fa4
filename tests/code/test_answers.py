"""What answers to inputs is the same in the program, in compiled C and in the Python module: equal bytes."""

from __future__ import annotations

import subprocess
from pathlib import Path

import pytest

from tests.support.answering import (
    OF_INPUTS,
    answering,
    answering_build,
    frames_of,
    on_two_boards,
    readings_of,
    with_deed,
)
from tests.support.compiled import CC
from tests.support.recorder import run, run_python
from tiny_lantern.code.board.at_pins import number_of
from tiny_lantern.code.board.plan import refuse_without_pins
from tiny_lantern.code.files import code_files
from tiny_lantern.code.score import score_of, wire_orders
from tiny_lantern.live.tried.trial import Trial
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_inputs import add_input, change_input
from tiny_lantern.model.edits_scenes import add_scene
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.show.answering.tables import tables_of

FRAMES = 220
MAIN = """
#include <stdio.h>
#include "lantern.h"
static const uint16_t told[%(frames)d][%(inputs)d] = {%(rows)s};
static uint32_t now;
void lantern_write(const uint8_t *bytes, uint32_t count) { fwrite(bytes, 1, count, stdout); }
void lantern_levels(const uint16_t *levels, uint32_t count);
void lantern_levels(const uint16_t *levels, uint32_t count) { (void)levels; (void)count; }
uint16_t lantern_read(uint8_t input) { return told[now][input]; }
int main(void)
{
    lantern_frame(lantern_answer_begin());
    for (now = 1; now < %(frames)d; now++) lantern_frame(lantern_answer());
    return 0;
}
"""


def in_the_program(build: Build, readings: list[list[int]]) -> list[bytes]:
    """The program's own frames, in the order of the wire."""
    orders = [order for piece in build.pieces for order in wire_orders(build, piece)]
    columns = [3 * slot + "RGB".index(letter) for slot, order in enumerate(orders) for letter in order]
    frames = frames_of(build, readings)
    return [frame.ravel()[columns].tobytes() for frame in frames]


def in_c(build: Build, readings: list[list[int]], folder: Path) -> bytes:
    """What the exported C sends, compiled with every warning an error."""
    for name, text in code_files(build).items():
        (folder / name).write_text(text, encoding="utf-8")
    rows = ", ".join("{" + ", ".join(map(str, row)) + "}" for row in readings)
    (folder / "main.c").write_text(MAIN % {"frames": len(readings), "inputs": len(readings[0]), "rows": rows})
    sources = [str(folder / f"lantern_{score_of(build).playing[0].name}.c"), str(folder / "main.c")]
    subprocess.run([*CC, "-I", str(folder), *sources, "-o", str(folder / "program")], check=True)
    return subprocess.run([str(folder / "program")], check=True, capture_output=True).stdout


def in_python(build: Build, readings: list[list[int]]) -> list[bytes]:
    """What the exported Python module gives."""
    room: dict[str, object] = {}
    exec(code_files(build, "python")[f"lantern_{score_of(build).playing[0].name}.py"], room)
    found = []
    for at in range(len(readings)):
        tick = room["answer" if at else "answer_begin"](lambda number, at=at: readings[at][number])  # type: ignore[operator]
        found.append(bytes(room["frame"](tick)))  # type: ignore[operator]
    return found


@pytest.mark.parametrize("seed", range(12))
def test_recorded_readings_give_the_same_bytes_in_the_program_in_c_and_in_python(seed: int, tmp_path: Path) -> None:
    build = answering_build(seed)
    readings = readings_of(build, FRAMES, seed)
    program = in_the_program(build, readings)
    assert in_python(build, readings) == program
    assert in_c(build, readings, tmp_path) == b"".join(program)


def knob_and_button() -> Build:
    """A knob that sets how bright a strip is, and a button that goes on to the next scene."""
    build = add_input(add_scene(answering("knob"), 1.0), "button")
    return change_input(with_deed(build, "scene", "pressed"), build.inputs[1].id, deaf_s=0.0)


@pytest.mark.parametrize("language", ["C", "Python"])
def test_the_program_reads_each_input_at_the_pin_that_the_build_says(language: str, tmp_path: Path) -> None:
    build = knob_and_button()
    tables = tables_of(build)
    board = build.shelf.find(BoardPart, build.boards[0].part_id)
    pins = [number_of(board, one.pin.pin) for one in build.inputs if one.pin is not None]
    for counts, level in ((0, 1), (300, 1), (1023, 0)):
        readings = [[counts, level]] * 12
        told = (run if language == "C" else run_python)(
            build, "board", 0.29, tmp_path, reads=dict(zip(pins, (counts, level), strict=True))
        )
        sent = [event.data for event in told if event.kind == "P"][: len(readings)]
        assert len(sent) >= 10
        assert sent == in_the_program(build, readings)[: len(sent)]
        made = {event.pin: event.value for event in told if event.kind == "I"}
        assert made == {pins[0]: 0, pins[1]: 1}, "the button's pin is pulled up by the board"
    assert len(tables.hears) == 2


def test_the_program_tried_in_the_window_hears_what_is_turned_there() -> None:
    build = knob_and_button()
    trial = Trial(build, build.boards[0].id)
    frame_us = 25_000
    dark = trial.step(4 * frame_us).light
    lit = trial.step(4 * frame_us, {build.inputs[0].id: 1023}).light
    trial.close()
    assert dark.max() == 0
    assert lit.max() == 1


def test_an_input_that_what_plays_does_not_hear_is_refused_by_name() -> None:
    with pytest.raises(LanternError, match="not read by Board, which counts the frames"):
        refuse_without_pins(OF_INPUTS["input-elsewhere"]())


@pytest.mark.parametrize("seed", [0, 1, 2, 5, 9])
@pytest.mark.parametrize("language", ["C", "Python"])
def test_a_second_board_is_told_what_inputs_have_made_of_the_show(seed: int, language: str, tmp_path: Path) -> None:
    build = on_two_boards(seed)
    played = run if language == "C" else run_python
    first, second = (part.name for part in score_of(build).playing)
    board = build.shelf.find(BoardPart, build.boards[0].part_id)
    touched = {number_of(board, one.pin.pin): hears.full
               for one, hears in zip(build.inputs, tables_of(build).hears, strict=True) if one.pin}  # fmt: skip
    folders = [tmp_path / name for name in ("first", "second")]
    for folder in folders:
        folder.mkdir()
    told = played(build, first, 0.9, folders[0], reads=touched)
    said = bytes(int(event.value) for event in told if event.kind == "B")
    sent = [event.data for event in told if event.kind == "P"][:-1]  # the last is the dark of its end
    followed = played(build, second, 0.2, folders[1], heard=said)
    after = [event.data for event in followed if event.kind == "P"][1 : len(sent) + 1]  # its own first frame apart
    both = zip(build.inputs, tables_of(build).hears, strict=True)
    whole = in_the_program(build, [[hears.full if one.pin else hears.rest for one, hears in both]] * len(sent))
    size = len(sent[0])
    assert sent == [frame[:size] for frame in whole]
    assert len(after) > 20
    assert after == [frame[size:] for frame in whole[: len(after)]]


def test_most_of_these_builds_answer_with_many_different_frames() -> None:
    told = [in_the_program(build := answering_build(seed), readings_of(build, FRAMES, seed)) for seed in range(12)]
    assert sum(len(set(frames)) > 20 for frames in told) >= 8
