"""What answers to inputs is the same in the program, in compiled C and in the Python module: equal bytes."""

from __future__ import annotations

import subprocess
from pathlib import Path

import numpy as np
import pytest

from tests.support.answering import answering_build, readings_of
from tests.support.compiled import CC
from tiny_lantern.code.files import code_files
from tiny_lantern.code.score import score_of, wire_orders
from tiny_lantern.model.build import Build
from tiny_lantern.show.answering.light import frame_of
from tiny_lantern.show.answering.machine import begin, step
from tiny_lantern.show.answering.tables import tables_of
from tiny_lantern.show.weave import show_of

FRAMES = 220
MAIN = """
#include <stdio.h>
#include "lantern.h"
static const uint16_t told[%(frames)d][%(inputs)d] = {%(rows)s};
static uint32_t now;
void lantern_write(const uint8_t *bytes, uint32_t count) { fwrite(bytes, 1, count, stdout); }
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
    tables, show = tables_of(build), show_of(build)
    orders = [order for piece in build.pieces for order in wire_orders(build, piece)]
    state, found = begin(tables, readings[0]), []
    for at in range(len(readings)):
        state = step(tables, state, readings[at]) if at else state
        frame = frame_of(show, tables, state, dark_after=build.after_end == "dark")
        found.append(np.stack([light[["RGB".index(letter) for letter in order]]
                               for light, order in zip(frame, orders, strict=True)]).tobytes())  # fmt: skip
    return found


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


def test_most_of_these_builds_answer_with_many_different_frames() -> None:
    told = [in_the_program(build := answering_build(seed), readings_of(build, FRAMES, seed)) for seed in range(12)]
    assert sum(len(set(frames)) > 20 for frames in told) >= 8
