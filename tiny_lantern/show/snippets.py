"""Small pieces of portable C: tables and knobs, in whole numbers that are right also where ``int`` has 16 bits."""

from __future__ import annotations

from collections.abc import Sequence

from tiny_lantern.electrical.inputs.knob import Knob

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
