"""The exported program in Python, run in a process of its own with a clock that its pins advance."""

from __future__ import annotations

import shutil
import struct
import subprocess
import sys
import tempfile
import weakref
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from pathlib import Path

from tiny_lantern.code.board.at_pins import number_of
from tiny_lantern.code.board.plan import refuse_without_pins
from tiny_lantern.code.files import code_files
from tiny_lantern.code.score import score_of
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import item
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.show.answering.tables import tables_of

HEAD = struct.Struct("<QcHHH")
SIZE = struct.Struct("<I")
RECORDER = """
import struct
import sys

clock = {"ns": 0}
told = bytearray()


def tell(kind, pin, value, full=0, data=b""):
    told.extend(struct.pack("<QcHHH", clock["ns"], kind, pin, value, full) + data)


def pin_output(pin):
    tell(b"O", pin, 0)


def pin_input(pin, pull_up):
    tell(b"I", pin, int(bool(pull_up)))


def pin_set(pin, high):
    clock["ns"] += PIN_NS
    tell(b"S", pin, int(high))


def pin_dim(pin, level, full):
    clock["ns"] += PIN_NS
    tell(b"D", pin, level, full)


reads = {}


def pin_counts(pin):
    return reads.get(pin, COUNTS)


def pin_read(pin):
    return reads.get(pin, 1)


def pixels_send(pin, data):
    clock["ns"] += len(data) * BYTE_NS
    tell(b"P", pin, len(data), 0, bytes(data))


def serial_send(byte):
    tell(b"B", 0, byte)


def serial_read():
    return -1


def now_us():
    clock["ns"] += LOOK_NS
    return clock["ns"] // 1000 & (1 << 30) - 1
"""
PLAYER = """
import struct
import sys

import lantern_io_{name} as board
import lantern_pins as pins

pins.reads.update({reads})
board.start()
if {begin}:
    board.state["frame"] = {begin}
    if hasattr(board.show, "answering"):
        board.show.answering["frame"] = {begin}
    board.show_frame({begin})
for line in sys.stdin:
    until, *told = line.split()
    pins.reads.update((int(pin), int(read)) for pin, read in (each.split("=") for each in told))
    until = int(until) * 1000
    while pins.clock["ns"] < until:
        board.loop()
    sys.stdout.buffer.write(struct.pack("<I", len(pins.told)) + bytes(pins.told))
    sys.stdout.buffer.flush()
    pins.told.clear()
"""
PACE = "PIN_NS, LOOK_NS, BYTE_NS, COUNTS = 50, 2000, 10000, 65535\n"


@dataclass(frozen=True)
class Edge:
    """What the program did at a pin: when, what (S set, D dim, O output, I input, P pixels, B a byte), the pin's
    number, the level, and the bytes. [µs]"""

    at_us: float
    kind: str
    pin: int
    level: float
    data: bytes = b""


class Program:
    """A board's program, running until ``close`` is called or nobody holds it any more.

    Args:
        build: the build.
        board_id: the board.
        begin: the frame with which it goes on once it has started. [-]

    Raises:
        LanternError: there is no show, no such board in it, or something has no pin yet.
    """

    def __init__(self, build: Build, board_id: str, begin: int = 0) -> None:
        refuse_without_pins(build)
        part = next((each for each in score_of(build).playing if each.board_id == board_id), None)
        if part is None:
            raise LanternError("this board has no lights to play", "board", "a board that drives lamps or a data line")
        self._folder = Path(tempfile.mkdtemp(prefix="tiny-lantern-"))
        for name, text in code_files(build, "python").items():
            (self._folder / name).write_text(text, encoding="utf-8")
        (self._folder / "lantern_pins.py").write_text(PACE + RECORDER, encoding="utf-8")
        played = PLAYER.format(name=part.name, begin=begin, reads=at_rest(build, board_id))
        (self._folder / "play.py").write_text(played, encoding="utf-8")
        self._process = subprocess.Popen(
            [sys.executable, "-I", "-c", f"import sys; sys.path.insert(0, {str(self._folder)!r}); import play"],
            stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL,
        )  # fmt: skip
        self.close = weakref.finalize(self, _end, self._process, self._folder)
        self.at_us = 0

    def advance(self, until_us: int, reads: Mapping[int, int] | None = None) -> list[Edge]:
        """Let it run until a moment of its clock; what it did at its pins.

        Args:
            until_us: the moment. [µs]
            reads: what pins read from now on, by their numbers. [-]

        Raises:
            LanternError: it has ended.
        """
        assert self._process.stdin is not None and self._process.stdout is not None
        try:
            told = "".join(f" {pin}={read}" for pin, read in (reads or {}).items())
            self._process.stdin.write(f"{until_us}{told}\n".encode())
            self._process.stdin.flush()
            (size,) = SIZE.unpack(self._process.stdout.read(SIZE.size))
            edges = self._process.stdout.read(size)
        except (OSError, ValueError, struct.error) as error:
            raise LanternError("the program has ended", "board", "open it again") from error
        self.at_us = until_us
        return list(_edges(edges))


def at_rest(build: Build, board_id: str) -> dict[int, int]:
    """What the pins of a board's inputs read while nobody touches them, by their numbers. [-]

    Args:
        build: the build.
        board_id: the board.
    """
    return at_pins(build, board_id, {one.input_id: one.rest for one in tables_of(build).hears})


def at_pins(build: Build, board_id: str, reads: Mapping[str, int]) -> dict[int, int]:
    """What inputs read, by the numbers of their pins on a board. [-]

    Args:
        build: the build.
        board_id: the board.
        reads: what each input reads, by its id. [-]
    """
    board = item(build.boards, board_id, "board")
    part = build.shelf.find(BoardPart, board.part_id)
    own = {one.id: one.pin.pin for one in build.inputs if one.board_id == board_id and one.pin is not None}
    return {number_of(part, own[key]): read for key, read in reads.items() if key in own}


def _end(process: subprocess.Popen[bytes], folder: Path) -> None:
    """End a program, and leave nothing of it behind."""
    process.kill()
    process.wait()
    for pipe in (process.stdin, process.stdout):
        if pipe is not None:
            pipe.close()
    shutil.rmtree(folder, ignore_errors=True)


def _edges(told: bytes) -> Iterator[Edge]:
    at = 0
    while at < len(told):
        at_ns, kind, pin, value, full = HEAD.unpack_from(told, at)
        at += HEAD.size
        data = told[at : at + value] if kind == b"P" else b""
        at += len(data)
        yield Edge(at_ns / 1000, kind.decode(), pin, value / full if full else float(value), data)
