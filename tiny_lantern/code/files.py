"""The files of a show for boards, and about how much memory each of them takes."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

from tiny_lantern.code.answers_of import answers_size
from tiny_lantern.code.board.c_io import io_source
from tiny_lantern.code.board.c_pins import PINS_HEADER, SETUP_LOOP, USUAL_BITS_PER_S, pins_header, setup_loop
from tiny_lantern.code.board.doings import Doings
from tiny_lantern.code.board.plan import doings_at, refuse_without_pins, signals_of, without_pins
from tiny_lantern.code.board.python_io import python_io
from tiny_lantern.code.board.python_pins import MAIN, PINS_MODULE, python_main, python_pins
from tiny_lantern.code.board.size import pins_size
from tiny_lantern.code.c_show import HEADER, alike_everywhere, c_header, c_source, effects_on, tables_of
from tiny_lantern.code.host import HOST, host_module
from tiny_lantern.code.lines import within_page
from tiny_lantern.code.programs import programs_of
from tiny_lantern.code.python_show import python_module
from tiny_lantern.code.score import Score, Slice, cap_rows, score_of
from tiny_lantern.kernel.tables import ENTRIES
from tiny_lantern.model.build import Build
from tiny_lantern.model.disk import write_atomically
from tiny_lantern.model.errors import CancelledError, LanternError
from tiny_lantern.model.parts.board import BoardPart

Language = Literal["c", "python"]
# as a compiler for 8 bits makes them: of a step, a number given, an effect, a row of lights, all that is always there
STEP_BYTES, CALL_BYTES, EFFECT_BYTES, RUN_BYTES, BASE_BYTES, WORD = 15, 14, 64, 13, 900, 4
LEVELS_BYTES, LEVEL_BYTES, SCENES_BYTES, SCENE_BYTES, CAPS_BYTES, CAP_BYTES = 450, 24, 500, 16, 900, 16
STACK_BYTES, LEVEL_RAM_BYTES, KEPT_BYTES, ON_BYTES, SHARE_BYTES = 220, 2, 16, 4, 8
LIST_BYTES = {"uint8_t": 1, "int16_t": 2, "uint16_t": 2, "int32_t": 4}


@dataclass(frozen=True)
class Size:
    """About how many bytes a board needs for its part of the show: while it runs, and to keep it. [-]"""

    ram_bytes: int
    flash_bytes: int


def save_code(files: dict[str, str], folder: Path) -> list[str]:
    """Write files into a folder, which is made where it is not there; their names.

    Args:
        files: the text of each by its name.
        folder: where they go.

    Raises:
        LanternError: the folder or a file cannot be written.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise LanternError(f"cannot be made: {error.strerror}", str(folder), "a folder that can be written") from None
    for name, text in files.items():
        write_atomically(folder / name, text.encode("utf-8"))
    return list(files)


def export_code(
    build: Build, language: Language, folder: Path, progress: Callable[[float], None], cancelled: Callable[[], bool]
) -> tuple[list[str], str, list[Size]]:
    """Write the show's code into a folder: the names of the files, the stamp, and the size of each board's part.

    Args:
        build: the build.
        language: what it is written in.
        folder: where it goes.
        progress: told the share done, 0 to 1.
        cancelled: asked before anything is written whether to stop.

    Raises:
        LanternError: there is no show to play, or the folder cannot be written.
        CancelledError: it was stopped; nothing was written.
    """
    refuse_without_pins(build)
    files = code_files(build, language)
    progress(0.8)
    score = score_of(build)
    sizes = [size for _, size in sizes_of(build, score)]
    if cancelled():
        raise CancelledError
    return save_code(files, folder), score.stamp, sizes


def sizes_of(build: Build, score: Score) -> list[tuple[Slice, Size]]:
    """About how much each board that plays needs for all of its program, what it does at its pins included.

    Args:
        build: the build.
        score: its show.
    """
    at_pins = {part.name: pins_size(doings) for part, doings in _boards(build, score)}
    found = []
    for part in score.playing:
        size, (ram, flash) = size_of(score, part), at_pins.get(part.name, (0, 0))
        found.append((part, Size(size.ram_bytes + ram, size.flash_bytes + flash)))
    return found


def size_of(score: Score, part: Slice) -> Size:
    """An estimate of its show alone for C on a small board: a step of a program is some instructions, a table its
    entries, and tables that are equal are there once.

    Args:
        score: the show.
        part: the board's part of it.
    """
    laid = effects_on(score, part)
    programs = programs_of(laid)
    tables = {name for program in programs.values() for name in program.tables}
    flash = BASE_BYTES + len(tables) * ENTRIES * WORD + (len(part.runs) + len(part.beside)) * RUN_BYTES
    flash += sum(len(program.steps) * STEP_BYTES for program in programs.values())
    for each in laid:
        program = programs[each.kind.kind]
        flash += EFFECT_BYTES + CALL_BYTES * len(program.inputs)
    flash += sum(LIST_BYTES[kind] * len(values) for kind, values in tables_of(laid, programs))
    for items, once, each_bytes in (
        (len(part.levels), LEVELS_BYTES, LEVEL_BYTES),
        (len(score.windows), SCENES_BYTES, SCENE_BYTES),
        (len(cap_rows(score, part)), CAPS_BYTES, CAP_BYTES * (len(part.runs) + len(part.beside))),
    ):
        flash += once + each_bytes * items if items else 0
    kept = sum(alike_everywhere(programs[each.kind.kind]) for each in laid)
    found = ON_BYTES * len(laid) + SHARE_BYTES * len(score.windows)
    ram = part.byte_count + LEVEL_RAM_BYTES * len(part.levels) + KEPT_BYTES * kept + found + STACK_BYTES
    more_ram, more_flash = answers_size(score.answers) if score.answers else (0, 0)
    return Size(ram + more_ram, flash + more_flash)


def code_files(build: Build, language: Language = "c") -> dict[str, str]:
    """The text of every file by its name: a header and a source for each board, or a module for each; and what it does
    at its pins, unless something has no pin yet.

    Args:
        build: the build.
        language: what they are written in.

    Raises:
        LanternError: there is no show to play.
    """
    score = score_of(build)
    if language == "python":
        modules = {f"lantern_{part.name}.py": python_module(score, part) for part in score.playing}
        return modules | _at_pins_in_python(build, score) | _host(build, score)
    sources = {f"lantern_{part.name}.c": c_source(score, part) for part in score.playing}
    files = {HEADER: c_header(score), **sources, **_at_pins(build, score)}
    return {name: within_page(text) for name, text in files.items()} | _host(build, score)


def _host(build: Build, score: Score) -> dict[str, str]:
    """The computer's side, where a board has something to be told."""
    for part in score.playing:
        signals = tuple(signals_of(build, part.board_id).values())
        if part.listens and signals:
            return {HOST: host_module(score.title, part.title, score.stamp, part.listens, signals)}
    return {}


def _boards(build: Build, score: Score) -> list[tuple[Slice, Doings]]:
    """What each board does at its pins, where everything on it has one."""
    pinned = [part for part in score.playing if part.board_id and not without_pins(build, part.board_id)]
    return [(part, doings_at(build, score, part)) for part in pinned]


def _at_pins_in_python(build: Build, score: Score) -> dict[str, str]:
    """The same in Python, with what runs each board."""
    boards = _boards(build, score)
    modules = {f"lantern_io_{part.name}.py": python_io(score, part, doings) for part, doings in boards}
    if not modules:
        return {}
    parts = (build.shelf.find(BoardPart, board.part_id) for board in build.boards)
    bits = max(part.adc_bits for part in parts)
    one = len(boards) == 1
    mains = {MAIN if one else f"main_{part.name}.py": python_main(part.name, part.title) for part, _ in boards}
    return {**modules, PINS_MODULE: python_pins(bits, _bits_per_s(score), len(score.playing) > 1), **mains}


def _at_pins(build: Build, score: Score) -> dict[str, str]:
    """What each board does at its pins, the functions that a person fills in, and those filled in for one way of
    calling pins; nothing of boards on which something has no pin yet."""
    boards = _boards(build, score)
    sources = {f"lantern_io_{part.name}.c": io_source(score, part, doings) for part, doings in boards}
    if not sources:
        return {}
    texts = tuple(sources.values())
    lines = setup_loop(texts, score.stamp, _bits_per_s(score))
    return {**sources, PINS_HEADER: pins_header(texts, score.stamp), SETUP_LOOP: lines}


def _bits_per_s(score: Score) -> int | None:
    """How quick the serial line is over which boards hand frames on, or one hears a computer; None where none is used.
    [bit/s]"""
    if len(score.playing) > 1:
        return USUAL_BITS_PER_S
    return next((part.listens.bits_per_s for part in score.playing if part.listens), None)
