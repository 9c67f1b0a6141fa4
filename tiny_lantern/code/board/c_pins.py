"""The functions that a person fills in, a line each, and those filled in for one widespread way of calling pins."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import dataclass

USUAL_BITS_PER_S = 115_200
PINS_HEADER, SETUP_LOOP = "lantern_pins.h", "lantern.ino"


@dataclass(frozen=True)
class Call:
    """One function: what it gives, its name, what it is given, what it does, and its line where ``setup`` and ``loop``
    are called by what the tools bring along; None where that needs a library of one's own choice."""

    gives: str
    name: str
    given: str
    does: str
    line: str | None


CALLS = (
    Call("void", "pin_output", "uint8_t pin", "Make a pin an output.", "pinMode(pin, OUTPUT);"),
    Call("void", "pin_input", "uint8_t pin, uint8_t pull_up", "Make a pin an input, open, or pulled up.",
         "pinMode(pin, pull_up ? INPUT_PULLUP : INPUT);"),
    Call("void", "pin_set", "uint8_t pin, uint8_t high", "Set a pin high or low.",
         "digitalWrite(pin, high ? HIGH : LOW);"),
    Call("uint8_t", "pin_read", "uint8_t pin", "Read a pin: 1 high, 0 low.", "return digitalRead(pin) == HIGH;"),
    Call("void", "pin_dim", "uint8_t pin, uint16_t level, uint16_t full",
         "Dim a pin: level of full steps, as many as its timer has.",
         "analogWrite(pin, (int)((uint32_t)level * 255u / full)); /* of 8 bits unless you set more */"),
    Call("uint16_t", "pin_counts", "uint8_t pin", "Read the counts of a pin that reads volts.",
         "return (uint16_t)analogRead(pin);"),
    Call("void", "pixels_send", "uint8_t pin, const uint8_t *bytes, uint32_t count",
         "Send bytes to addressable lamps on a pin, by the library of your choice.", None),
    Call("void", "serial_send", "uint8_t byte", "Send a byte over the serial line.",
         "Serial.write(byte);"),
    Call("int16_t", "serial_read", "void", "A byte that came over the serial line, -1 where there is none.",
         "return (int16_t)Serial.read();"),
    Call("uint32_t", "now_us", "void", "The time in microseconds; it may begin again at 0.", "return micros();"),
)  # fmt: skip


def used_calls(sources: Collection[str]) -> list[Call]:
    """Those functions that some sources call.

    Args:
        sources: the sources.
    """
    return [call for call in CALLS if any(f"{call.name}(" in source for source in sources)]


def pins_header(sources: Collection[str], stamp: str) -> str:
    """The header of the functions that a person fills in.

    Args:
        sources: the sources that call them.
        stamp: the stamp of the show.
    """
    return "\n".join([
        f"/* Yours: how your board's pins are called, a line each, stamp {stamp}. */",
        "#ifndef LANTERN_PINS_H", "#define LANTERN_PINS_H", "", "#include <stdint.h>", "",
        "#ifdef __cplusplus", 'extern "C" {', "#endif", "",
        *(line for call in used_calls(sources) for line in (f"/* {call.does} */", f"{_head(call)};", "")),
        "#ifdef __cplusplus", "}", "#endif", "", "#endif", "",
    ])  # fmt: skip


def _head(call: Call) -> str:
    return f"{call.gives} {call.name}({call.given})"


def setup_loop(sources: Collection[str], stamp: str, bits_per_s: int | None) -> str:
    """Those functions, filled in for tools that call ``setup`` once and ``loop`` over and over.

    Args:
        sources: the sources that call them.
        stamp: the stamp of the show.
        bits_per_s: how quick the serial line is over which boards hand frames on or hear a computer; None where
            neither does. [bit/s]
    """
    return "\n".join([
        f"/* The lines of {PINS_HEADER} for tools that call setup() and loop(), stamp {stamp}. Put this file, the",
        " * headers and the two sources of one board into a folder called lantern. */",
        '#include "lantern.h"', f'#include "{PINS_HEADER}"', "",
        *_lines(sources), "void setup(void)", "{", *_serial(bits_per_s),
        "    lantern_start();", "}", "", "void loop(void)", "{", "    lantern_loop();", "}", "",
    ])  # fmt: skip


def _serial(bits_per_s: int | None) -> Iterator[str]:
    """The serial line is opened for other boards or a computer, or where the loop is to tell what it does."""
    begin = f"    Serial.begin({bits_per_s or USUAL_BITS_PER_S});"
    yield from [begin] if bits_per_s else ["#ifdef LANTERN_TELL", begin, "#endif"]


def _lines(sources: Collection[str]) -> Iterator[str]:
    for call in used_calls(sources):
        yield _head(call)
        yield "{"
        if call.line is None:
            yield "#error Fill in this function: hand the bytes to the library that sends to your addressable lamps."
            yield "    (void)pin; (void)bytes; (void)count;"
        else:
            yield f"    {call.line}"
        yield "}\n"
