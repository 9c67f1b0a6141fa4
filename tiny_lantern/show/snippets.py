"""Small pieces of portable C: tables and knobs, in whole numbers that are right also where ``int`` has 16 bits."""

from __future__ import annotations

from collections.abc import Sequence

from tiny_lantern.electrical.inputs.audio import AudioIn
from tiny_lantern.electrical.inputs.button import Button
from tiny_lantern.electrical.inputs.knob import Knob
from tiny_lantern.electrical.inputs.press import Divider

A_LINE = 12


def table_c(values: Sequence[int], bits: int) -> str:
    """A table of duties as a C array.

    Args:
        values: the duties.
        bits: bits of a duty. [-]
    """
    kind = "uint8_t" if bits <= 8 else "uint16_t"
    lines = [", ".join(str(value) for value in values[at : at + A_LINE]) for at in range(0, len(values), A_LINE)]
    body = ",\n    ".join(lines)
    return f"static const {kind} fade[{len(values)}] = {{\n    {body}\n}};"


def knob_c(knob: Knob) -> str:
    """A knob's level as a C function; its product is of 32 bits."""
    return (
        f"uint16_t level_of(uint16_t reading)\n{{\n"
        f"    if (reading <= {knob.offset_counts}u) return 0u;\n"
        f"    if (reading >= {knob.full_counts}u) return {knob.top}u;\n"
        f"    return (uint16_t)(((uint32_t)(reading - {knob.offset_counts}u) * {knob.top}uL) / "
        f"{knob.full_counts - knob.offset_counts}u);\n}}"
    )


def button_c(button: Button) -> str:
    """A button's reading as a C function: 1 once while it is pressed, when so many readings have agreed."""
    return (
        f"uint8_t pressed(uint8_t pin)\n{{\n"
        f"    static uint8_t held = {button.idle}u;\n"
        f"    static uint16_t same = 0u;\n"
        f"    if (pin == held) {{ same = 0u; return 0u; }}\n"
        f"    same = (uint16_t)(same + 1u);\n"
        f"    if (same < {button.debounce_ticks}u) return 0u;\n"
        f"    held = pin;\n"
        f"    same = 0u;\n"
        f"    return (uint8_t)(held != {button.idle}u);\n}}"
    )


def press_c(found: Divider) -> str:
    """A press sensor as a C function: 1 from where it counts as pressed to where it is let go."""
    on, off = found.counts(found.press_at_v), found.counts(found.release_at_v)
    beyond, back = (">=", "<=") if found.rises else ("<=", ">=")
    return (
        f"uint8_t touched(uint16_t reading)\n{{\n"
        f"    static uint8_t now = 0u;\n"
        f"    if (reading {beyond} {on}u) now = 1u;\n"
        f"    if (reading {back} {off}u) now = 0u;\n"
        f"    return now;\n}}"
    )


def audio_c(audio: AudioIn) -> str:
    """How loud it is as a C function, 0 to 255: up at once, down by a sixteenth a reading."""
    idle, top = audio.idle_counts, max(1, audio.peak_counts)
    return (
        f"uint8_t loudness(uint16_t reading)\n{{\n"
        f"    static uint16_t level = 0u;\n"
        f"    uint16_t away = (uint16_t)(reading > {idle}u ? reading - {idle}u : {idle}u - reading);\n"
        f"    if (away > {top}u) away = {top}u;\n"
        f"    if (away >= level) level = away;\n"
        f"    else level = (uint16_t)(level - (level + 15u) / 16u);\n"
        f"    return (uint8_t)(((uint32_t)level * 255uL) / {top}u);\n}}"
    )
