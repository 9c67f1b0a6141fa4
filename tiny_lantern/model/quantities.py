"""Quantities as people write them, and as the program writes them back."""

from __future__ import annotations

import math
import re

from tiny_lantern.model.errors import LanternError

_PREFIX = {"p": 1e-12, "n": 1e-9, "u": 1e-6, "µ": 1e-6, "μ": 1e-6, "m": 1e-3, "k": 1e3, "K": 1e3, "M": 1e6}
_NUMBER = r"[-+]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][-+]?\d+)?"
_UNITS: dict[str, dict[str, float]] = {
    "m": {
        "": 1.0, "m": 1.0, "cm": 0.01, "mm": 0.001, "km": 1000.0, "ft": 0.3048, "'": 0.3048,
        "in": 0.0254, '"': 0.0254, "yd": 0.9144,
    },
    "mm2": {"": 1.0, "mm2": 1.0, "mm²": 1.0, "sqmm": 1.0},
    "s": {"": 1.0, "s": 1.0, "sec": 1.0, "min": 60.0, "h": 3600.0},
    "ratio": {"": 1.0, "%": 0.01},
    "deg": {"": 1.0, "deg": 1.0, "°": 1.0},
    "px/m": {"": 1.0, "px/m": 1.0, "/m": 1.0},
    "": {"": 1.0, "px": 1.0},
}  # fmt: skip
_PREFIXED = {
    "V": ("V",), "A": ("A",), "W": ("W",), "Hz": ("Hz",), "F": ("F",),
    "ohm": ("ohm", "Ω", "Ω", "R", "r"),
    "ohm/m": ("ohm/m", "Ω/m", "Ω/m"),
}  # fmt: skip
_EXAMPLES = {
    "m": "1.5 m, 120 cm, 5ft, 6in", "mm2": "0.75 mm2, 18 AWG", "s": "2.5 s, 250 ms, 1:30",
    "ratio": "0.8, 80 %", "V": "5, 4.98 V, 3700 mV", "A": "20mA, 1.2 A", "W": "5 W, 250 mW",
    "ohm": "220R, 4k7, 0.05 ohm", "ohm/m": "0.06 ohm/m, 60 mohm/m", "Hz": "40 Hz, 1 kHz", "deg": "45, -30 deg",
    "px/m": "30, 60/m", "": "a number",
}  # fmt: skip


def examples(unit: str) -> str:
    """What a field of this unit accepts, as a few examples."""
    return _EXAMPLES.get(unit, f"a number in {unit}")


def parse_quantity(text: str, unit: str, where: str = "") -> float:
    """Read a typed quantity into SI units (mm² for a cross-section).

    Accepts engineering prefixes, a prefix or ``R`` in place of the decimal point (``4k7``, ``2R2``), a decimal
    comma, feet and inches, AWG for a cross-section and ``m:ss`` for a time.

    Args:
        text: what the person typed.
        unit: one of ``m mm2 s ratio V A W Hz F ohm ohm/m deg px/m`` or the empty string.
        where: name of the field, for the message.

    Raises:
        LanternError: the text is not a quantity of that unit.
    """
    body = text.strip()
    value = _read(body, unit)
    if value is None or not math.isfinite(value):
        what = "nothing is typed" if not body else f"“{body[:40]}” is not understood"
        raise LanternError(what, where, examples(unit))
    return value


def _read(body: str, unit: str) -> float | None:
    if unit == "s" and (clock := re.fullmatch(r"(\d+):(\d{1,2}(?:[.,]\d+)?)", body)):
        return int(clock[1]) * 60 + _number(clock[2])
    if unit == "mm2" and (gauge := re.fullmatch(r"(?i)(?:awg\s*(\d+)|(\d+)\s*awg)", body)):
        return awg_area_mm2(_gauge_number(gauge[1] or gauge[2]))
    if unit == "m" and (both := re.fullmatch(rf"({_NUMBER})\s*(?:ft|')\s*({_NUMBER})\s*(?:in|\")?", body)):
        return _number(both[1]) * 0.3048 + _number(both[2]) * 0.0254
    if unit in _PREFIXED and (split := re.fullmatch(r"(\d+)([pnuµμmkKMRr])(\d+)\s*(\S*)", body)):
        if split[4] and split[4] not in _PREFIXED[unit]:
            return None
        return float(f"{split[1]}.{split[3]}") * _PREFIX.get(split[2], 1.0)
    plain = re.fullmatch(rf"({_NUMBER})\s*(.*)", body)
    if plain is None:
        return None
    factor = _factor(plain[2].strip(), unit)
    return None if factor is None else _number(plain[1]) * factor


def _number(text: str) -> float:
    return float(text.replace(",", "."))


def _gauge_number(text: str) -> int:
    return 1 - len(text) if set(text) == {"0"} else int(text)


def _factor(suffix: str, unit: str) -> float | None:
    if unit in _UNITS:
        table = _UNITS[unit]
        if unit == "s" and suffix in ("ms", "us", "µs", "μs"):
            return _PREFIX[suffix[0]]
        return table.get(suffix, table.get(suffix.lower()))
    names = _PREFIXED[unit]
    if suffix in ("", *names):
        return 1.0
    if suffix in _PREFIX:
        return _PREFIX[suffix]
    for name in names:
        if suffix.lower() == name.lower():
            return 1.0
        if len(suffix) > len(name) and suffix[1:].lower() == name.lower():
            return _PREFIX.get(suffix[0])
    return None


def awg_area_mm2(gauge: int) -> float:
    """Cross-section of an American wire gauge; 0, 00, 000 are 0, -1, -2. [mm²]

    ``d = 0.127 mm · 92^((36−n)/39)``  (1).

    Args:
        gauge: gauge number n. [-]

    Source: ASTM B258.
    """
    diameter_mm = 0.127 * 92 ** ((36 - gauge) / 39)  # (1)
    return math.pi / 4 * diameter_mm**2


def engineering(value: float, unit: str, digits: int = 3) -> str:
    """A value with an engineering prefix, e.g. ``12.4 mA``, ``2.2 kΩ``."""
    shown = "Ω" if unit == "ohm" else unit.replace("ohm", "Ω")
    if not math.isfinite(value):
        return f"— {shown}".strip()
    magnitude = abs(value)
    if magnitude < 1e-12:
        return f"0 {shown}"
    for factor, prefix in ((1e6, "M"), (1e3, "k"), (1.0, ""), (1e-3, "m"), (1e-6, "µ"), (1e-9, "n")):
        if float(f"{magnitude:.{digits}g}") >= factor:
            return f"{significant(value / factor, digits)} {prefix}{shown}"
    return f"{significant(value / 1e-12, digits)} p{shown}"


def significant(value: float, digits: int = 3) -> str:
    """A number to so many significant digits, never in exponent form, trailing zeros kept."""
    if value == 0:
        return "0"
    exponent = math.floor(math.log10(abs(value)))
    if float(f"{abs(value):.{digits - 1}e}") >= 10 ** (exponent + 1):
        exponent += 1
    return f"{value:.{max(0, digits - 1 - exponent)}f}"


def metres(value: float) -> str:
    """A length for reading: metres with two decimals, millimetres below 10 cm."""
    return f"{value * 1000:.0f} mm" if 0 < abs(value) < 0.1 else f"{value:.2f} m"


def volts(value: float) -> str:
    """A voltage for reading, two decimals as a bench meter shows it."""
    return f"{value:.2f} V"


def amps(value: float) -> str:
    """A current for reading: amperes with two decimals, milliamperes below 1 A."""
    return f"{value * 1000:.1f} mA" if abs(value) < 0.9995 else f"{value:.2f} A"


def clock(seconds: float) -> str:
    """A time in the show, ``m:ss.t``."""
    tenths = round(seconds * 10)
    return f"{tenths // 600}:{tenths % 600 // 10:02d}.{tenths % 10}"
