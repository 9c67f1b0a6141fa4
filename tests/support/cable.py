"""A board's exported program at the far end of a cable, in a process of its own, run step by step: C or Python."""

from __future__ import annotations

import struct
import subprocess
import sys
from dataclasses import dataclass, field
from pathlib import Path

from tests.support.compiled import CC
from tests.support.recorder import Event, _events
from tiny_lantern.code.files import Language, code_files
from tiny_lantern.model.build import Build

STEP_US = 2_000
SIZE = struct.Struct("<I")
C_FAR_END = """
#include <stdio.h>
#include "lantern.h"
#include "lantern_pins.h"

static uint64_t now_ns;
static uint8_t heard[70000], told[400000];
static uint32_t heard_at, heard_count, told_count;

static void tell(uint8_t kind, uint8_t pin, uint16_t value, const uint8_t *bytes)
{
    uint32_t at;
    for (at = 0; at < 8; at++) { told[told_count++] = (uint8_t)(now_ns >> (8 * at)); }
    told[told_count++] = kind;
    told[told_count++] = pin;
    told[told_count++] = (uint8_t)value;
    told[told_count++] = (uint8_t)(value >> 8);
    told[told_count++] = 0;
    told[told_count++] = 0;
    for (at = 0; bytes != 0 && at < value; at++) { told[told_count++] = bytes[at]; }
}

void pin_output(uint8_t pin);
void pin_output(uint8_t pin) { (void)pin; }
void pin_input(uint8_t pin, uint8_t up);
void pin_input(uint8_t pin, uint8_t up) { (void)pin; (void)up; }
void pin_set(uint8_t pin, uint8_t high);
void pin_set(uint8_t pin, uint8_t high) { tell('S', pin, high, 0); }
void pin_dim(uint8_t pin, uint16_t level, uint16_t full);
void pin_dim(uint8_t pin, uint16_t level, uint16_t full) { tell('D', pin, (uint16_t)(level * 1000u / full), 0); }
uint16_t pin_counts(uint8_t pin);
uint16_t pin_counts(uint8_t pin) { (void)pin; return 321; }
uint8_t pin_read(uint8_t pin);
uint8_t pin_read(uint8_t pin) { (void)pin; return 1; }
void serial_send(uint8_t byte);
void serial_send(uint8_t byte) { tell('B', 0, byte, 0); }
int16_t serial_read(void);
int16_t serial_read(void)
{
    now_ns += 20000;
    return (heard_at < heard_count) ? (int16_t)heard[heard_at++] : (int16_t)-1;
}
void pixels_send(uint8_t pin, const uint8_t *bytes, uint32_t count);
void pixels_send(uint8_t pin, const uint8_t *bytes, uint32_t count) { tell('P', pin, (uint16_t)count, bytes); }
uint32_t now_us(void);
uint32_t now_us(void) { now_ns += 20000; return (uint32_t)(now_ns / 1000u); }

int main(void)
{
    uint32_t count;
    lantern_start();
    while (fread(&count, 4, 1, stdin) == 1) {
        const uint64_t until = now_ns + UINT64_C(%(step)d) * 1000u;
        heard_count -= heard_at;
        for (uint32_t at = 0; at < heard_count; at++) { heard[at] = heard[at + heard_at]; }
        heard_at = 0;
        if (count != 0 && fread(&heard[heard_count], 1, count, stdin) != count) { return 1; }
        heard_count += count;
        while (now_ns < until) { lantern_loop(); }
        fwrite(&told_count, 4, 1, stdout);
        fwrite(told, 1, told_count, stdout);
        fflush(stdout);
        told_count = 0;
    }
    return 0;
}
"""
PYTHON_FAR_END = """
import struct

clock = {"ns": 0}
told, heard = bytearray(), bytearray()


def tell(kind, pin, value, data=b""):
    told.extend(struct.pack("<QBBHH", clock["ns"], ord(kind), pin, value, 0) + data)


def pin_output(pin):
    pass


def pin_input(pin, pull_up):
    pass


def pin_set(pin, high):
    tell("S", pin, int(high))


def pin_dim(pin, level, full):
    tell("D", pin, level * 1000 // full)


def pin_counts(pin):
    return 321


def pin_read(pin):
    return 1


def pixels_send(pin, data):
    tell("P", pin, len(data), bytes(data))


def serial_send(byte):
    tell("B", 0, byte)


def serial_read():
    clock["ns"] += 20000
    return heard.pop(0) if heard else -1


def now_us():
    clock["ns"] += 20000
    return clock["ns"] // 1000 & (1 << 30) - 1
"""
PYTHON_STEPS = """
import struct
import sys

import lantern_io_{board} as board
import lantern_pins as pins

board.start()
while True:
    head = sys.stdin.buffer.read(4)
    if len(head) < 4:
        break
    pins.heard.extend(sys.stdin.buffer.read(struct.unpack("<I", head)[0]))
    until = pins.clock["ns"] + {step} * 1000
    while pins.clock["ns"] < until:
        board.loop()
    sys.stdout.buffer.write(struct.pack("<I", len(pins.told)) + bytes(pins.told))
    sys.stdout.buffer.flush()
    pins.told.clear()
"""


@dataclass
class FarEnd:
    """A running program. Bytes that are written wait until it is let run; ``events`` is what it did at its pins."""

    process: subprocess.Popen[bytes]
    now_s: float = 0.0
    events: list[Event] = field(default_factory=list)
    closed: bool = False
    _out: bytes = b""
    _back: bytes = b""

    def run(self, steps: int = 1, deaf: bool = False) -> None:
        """Let the board run for some steps of two milliseconds.

        Args:
            steps: how many. [-]
            deaf: whether what waits for it is lost on the way.
        """
        assert self.process.stdin is not None and self.process.stdout is not None
        for _ in range(steps):
            sent, self._out = (b"" if deaf else self._out), b""
            self.process.stdin.write(SIZE.pack(len(sent)) + sent)
            self.process.stdin.flush()
            (size,) = SIZE.unpack(self.process.stdout.read(4))
            came = list(_events(self.process.stdout.read(size)))
            self._back += bytes(int(one.value) for one in came if one.kind == "B")
            self.events += [one for one in came if one.kind != "B"]
            self.now_s += STEP_US / 1e6

    def read(self) -> bytes:
        """What the board has sent."""
        came, self._back = self._back, b""
        return came

    def write(self, data: bytes) -> int:
        """Put bytes on the cable."""
        self._out += data
        return len(data)

    def close(self) -> None:
        """Nobody holds the near end any more; the board runs on."""
        self.closed = True

    def end(self) -> None:
        """End the board."""
        for pipe in (self.process.stdin, self.process.stdout):
            assert pipe is not None
            pipe.close()
        self.process.wait()

    @property
    def pixels(self) -> bytes:
        """The bytes that were sent last to addressable lamps."""
        return next((one.data for one in reversed(self.events) if one.kind == "P"), b"")

    def level(self, pin: int) -> float:
        """What a pin was set to last."""
        return next((one.value for one in reversed(self.events) if one.kind in "SD" and one.pin == pin), -1)


def far_end(build: Build, board: str, language: Language, folder: Path, compiler: tuple[str, ...] = CC) -> FarEnd:
    """A board's program, started.

    Args:
        build: the build.
        board: the board's name in the files.
        language: which of the two is run.
        folder: where it is put.
        compiler: how C is compiled.
    """
    for name, text in code_files(build, language).items():
        (folder / name).write_text(text, encoding="utf-8")
    if language == "c":
        (folder / "far_end.c").write_text(C_FAR_END % {"step": STEP_US})
        sources = [str(folder / name) for name in (f"lantern_{board}.c", f"lantern_io_{board}.c", "far_end.c")]
        subprocess.run([*compiler, "-I", str(folder), *sources, "-o", str(folder / "program")], check=True)
        command = [str(folder / "program")]
    else:
        (folder / "lantern_pins.py").write_text(PYTHON_FAR_END)
        (folder / "steps.py").write_text(PYTHON_STEPS.format(board=board, step=STEP_US))
        command = [sys.executable, "steps.py"]
    return FarEnd(subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, cwd=folder))
