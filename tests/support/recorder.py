"""The exported program compiled for this machine, its pins replaced by recorders whose clock they advance, and run."""

from __future__ import annotations

import struct
import subprocess
import sys
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path

from tests.support.compiled import CC
from tiny_lantern.code.files import code_files
from tiny_lantern.model.build import Build

RECORDER = """
#include <stdio.h>
#include <stdlib.h>
#include "lantern.h"
#include "lantern_pins.h"

static uint64_t now_ns = UINT64_C(%(start_us)d) * 1000u;
static FILE *told;

static void tell(uint8_t kind, uint8_t pin, uint16_t value, uint16_t full)
{
    const uint64_t at = now_ns - UINT64_C(%(start_us)d) * 1000u;
    fwrite(&at, 8, 1, told);
    fwrite(&kind, 1, 1, told);
    fwrite(&pin, 1, 1, told);
    fwrite(&value, 2, 1, told);
    fwrite(&full, 2, 1, told);
}

void pin_output(uint8_t pin);
void pin_output(uint8_t pin) { now_ns += %(pin_ns)d; tell('O', pin, 0, 0); }
void pin_input(uint8_t pin, uint8_t up);
void pin_input(uint8_t pin, uint8_t up) { now_ns += %(pin_ns)d; tell('I', pin, up, 0); }
void pin_set(uint8_t pin, uint8_t high);
void pin_set(uint8_t pin, uint8_t high) { now_ns += %(pin_ns)d; tell('S', pin, high, 0); }
void pin_dim(uint8_t pin, uint16_t level, uint16_t full);
void pin_dim(uint8_t pin, uint16_t level, uint16_t full) { now_ns += %(pin_ns)d; tell('D', pin, level, full); }
uint16_t pin_counts(uint8_t pin);
uint16_t pin_counts(uint8_t pin) { now_ns += 100000; switch (pin) { %(reads)s default: return %(counts)d; } }
uint8_t pin_read(uint8_t pin);
uint8_t pin_read(uint8_t pin) { now_ns += %(pin_ns)d; switch (pin) { %(levels)s default: return 1; } }
void serial_send(uint8_t byte);
void serial_send(uint8_t byte) { tell('B', 0, byte, 0); }
int16_t serial_read(void);
int16_t serial_read(void)
{
    static const int16_t heard[] = {%(heard)s -1};
    static uint32_t at;
    return (heard[at] < 0) ? (int16_t)-1 : heard[at++];
}
void pixels_send(uint8_t pin, const uint8_t *bytes, uint32_t count);
void pixels_send(uint8_t pin, const uint8_t *bytes, uint32_t count)
{
    now_ns += (uint64_t)count * 10000u;
    tell('P', pin, (uint16_t)count, 0);
    fwrite(bytes, 1, count, told);
}
uint32_t now_us(void);
uint32_t now_us(void) { now_ns += %(look_ns)d; return (uint32_t)(now_ns / 1000u); }

int main(void)
{
    const uint64_t until = now_ns + UINT64_C(%(run_us)d) * 1000u;
    told = fopen("told.bin", "wb");
    lantern_start();
    while (now_ns < until) {
        lantern_loop();
    }
    tell('E', 0, 0, 0);
    lantern_stop();
    fclose(told);
    return 0;
}
"""


@dataclass(frozen=True)
class Event:
    """What the program did: when, what (S set, D dim, O output, I input, P pixels, B byte, E end), the pin's number,
    and the value; of pixels the bytes."""

    at_us: float
    kind: str
    pin: int
    value: float
    data: bytes = b""


def run(
    build: Build, board: str, run_s: float, folder: Path, start_us: int = 0, counts: int = 65535, pin_ns: int = 20,
    heard: bytes = b"", look_ns: int = 300, compiler: tuple[str, ...] = CC, reads: Mapping[int, int] | None = None,
) -> list[Event]:  # fmt: skip
    """What a board's program does over some time.

    Args:
        build: the build.
        board: the board's name in the files.
        run_s: for how long. [s]
        folder: where it is compiled.
        start_us: what the clock shows at the start. [µs]
        counts: what every knob reads. [-]
        pin_ns: how long a pin takes to be set. [ns]
        heard: what the board before has sent.
        look_ns: how long a look at the clock takes. [ns]
        reads: what some pins read, by their numbers. [-]
        compiler: how it is compiled.
    """
    for name, text in code_files(build).items():
        (folder / name).write_text(text, encoding="utf-8")
    known = reads or {}
    values = {
        "start_us": start_us, "pin_ns": pin_ns, "counts": counts, "run_us": round(run_s * 1e6),
        "heard": "".join(f"{byte}, " for byte in heard), "look_ns": look_ns, "reads": _cases(known),
        "levels": _cases({pin: min(read, 1) for pin, read in known.items()}),
    }  # fmt: skip
    (folder / "recorder.c").write_text(RECORDER % values)
    sources = [str(folder / name) for name in (f"lantern_{board}.c", f"lantern_io_{board}.c", "recorder.c")]
    subprocess.run([*compiler, "-I", str(folder), *sources, "-o", str(folder / "program")], check=True)
    subprocess.run([str(folder / "program")], check=True, cwd=folder)
    return list(_events((folder / "told.bin").read_bytes()))


def _cases(reads: Mapping[int, int]) -> str:
    return " ".join(f"case {pin}: return {read};" for pin, read in reads.items())


PYTHON_RECORDER = """
import struct

clock = {"ns": START}
told = open("told.bin", "wb")


def tell(kind, pin, value, full=0, data=b""):
    told.write(struct.pack("<QBBHH", clock["ns"] - START, ord(kind), pin, value, full) + data)


def pin_output(pin):
    clock["ns"] += PIN
    tell("O", pin, 0)


def pin_input(pin, pull_up):
    tell("I", pin, pull_up)


def pin_set(pin, high):
    clock["ns"] += PIN
    tell("S", pin, int(high))


def pin_dim(pin, level, full):
    tell("D", pin, level, full)


def pin_counts(pin):
    return READS.get(pin, COUNTS)


def pin_read(pin):
    return READS.get(pin, 1)


def pixels_send(pin, data):
    clock["ns"] += len(data) * 10000
    tell("P", pin, len(data), 0, bytes(data))


def serial_send(byte):
    tell("B", 0, byte)


def serial_read():
    return HEARD.pop(0) if HEARD else -1


def now_us():
    clock["ns"] += LOOK
    return clock["ns"] // 1000 & (1 << 30) - 1
"""
PYTHON_RUN = """
import lantern_io_{board} as board
import lantern_pins as pins

board.start()
until = pins.START + {run_us} * 1000
while pins.clock["ns"] < until:
    board.loop()
pins.tell("E", 0, 0)
board.stop()
pins.told.close()
"""


def run_python(
    build: Build, board: str, run_s: float, folder: Path, start_us: int = 0, counts: int = 65535, pin_ns: int = 20,
    heard: bytes = b"", look_ns: int = 2000, reads: Mapping[int, int] | None = None,
) -> list[Event]:  # fmt: skip
    """The same of the board's program in Python, in a process of its own.

    Args:
        build: the build.
        board: the board's name in the files.
        run_s: for how long. [s]
        folder: where it is put.
        start_us: see ``run``. [µs]
        counts: see there. [-]
        pin_ns: see there. [ns]
        heard: see there.
        look_ns: see there. [ns]
        reads: see there. [-]
    """
    for name, text in code_files(build, "python").items():
        (folder / name).write_text(text, encoding="utf-8")
    values = (f"START, PIN, LOOK, COUNTS = {start_us * 1000}, {pin_ns}, {look_ns}, {counts}", f"HEARD = {list(heard)}",
              f"READS = {dict(reads or {})}")  # fmt: skip
    (folder / "lantern_pins.py").write_text("\n".join([*values, PYTHON_RECORDER]))
    (folder / "run.py").write_text(PYTHON_RUN.format(board=board, run_us=round(run_s * 1e6)))
    subprocess.run([sys.executable, "run.py"], check=True, cwd=folder)
    return list(_events((folder / "told.bin").read_bytes()))


def _events(told: bytes):  # type: ignore[no-untyped-def]
    at = 0
    while at < len(told):
        ns, kind, pin, value, full = struct.unpack_from("<QBBHH", told, at)
        at += 14
        data = b""
        if chr(kind) == "P":
            data = told[at : at + value]
            at += value
        yield Event(ns / 1000, chr(kind), pin, value / full if full else value, data)
