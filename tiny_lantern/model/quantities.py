"""Quantities as people write them, and as the program writes them back."""

from __future__ import annotations

import math
import re

from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.numerals import LONGEST, NUMBER, normal, number

_PREFIX = {"p": 1e-12, "n": 1e-9, "u": 1e-6, "µ": 1e-6, "m": 1e-3, "k": 1e3, "K": 1e3, "M": 1e6}
_FOOT, _INCH = 0.3048, 0.0254
_UNITS: dict[str, dict[str, float]] = {
    "m": {
        "": 1.0, "m": 1.0, "metre": 1.0, "metres": 1.0, "meter": 1.0, "meters": 1.0, "cm": 0.01, "mm": 0.001,
        "millimetres": 0.001, "centimetres": 0.01, "km": 1000.0, "ft": _FOOT, "foot": _FOOT, "feet": _FOOT, "'": _FOOT,
        "in": _INCH, "inch": _INCH, "inches": _INCH, '"': _INCH, "yd": 0.9144, "yard": 0.9144, "yards": 0.9144,
    },
    "mm2": {
        "": 1.0, "mm2": 1.0, "mm²": 1.0, "mm^2": 1.0, "sqmm": 1.0, "sq mm": 1.0, "mmq": 1.0, "qmm": 1.0,
        "square mm": 1.0, "square millimetres": 1.0,
    },
    "s": {
        "": 1.0, "s": 1.0, "sec": 1.0, "secs": 1.0, "second": 1.0, "seconds": 1.0, "min": 60.0, "mins": 60.0,
        "minute": 60.0, "minutes": 60.0, "h": 3600.0, "hour": 3600.0, "hours": 3600.0, "ms": 1e-3, "us": 1e-6,
        "µs": 1e-6, "ns": 1e-9,
    },
    "ratio": {"": 1.0, "%": 0.01, "percent": 0.01, "per cent": 0.01},
    "deg": {"": 1.0, "deg": 1.0, "°": 1.0, "degree": 1.0, "degrees": 1.0},
    "px/m": {
        "": 1.0, "px/m": 1.0, "/m": 1.0, "per m": 1.0, "pixels/m": 1.0, "leds/m": 1.0, "led/m": 1.0,
        "LEDs/m": 1.0, "per metre": 1.0,
        "px per m": 1.0,
    },
    "": {"": 1.0, "px": 1.0, "pixel": 1.0, "pixels": 1.0},
}  # fmt: skip
_PREFIXED: dict[str, dict[str, float]] = {
    "V": {"V": 1.0, "volt": 1.0, "volts": 1.0},
    "A": {"A": 1.0, "amp": 1.0, "amps": 1.0, "ampere": 1.0},
    "W": {"W": 1.0, "watt": 1.0, "watts": 1.0},
    "Hz": {"Hz": 1.0, "fps": 1.0, "/s": 1.0, "per second": 1.0},
    "F": {"F": 1.0},
    "ohm": {"ohm": 1.0, "ohms": 1.0, "Ω": 1.0, "R": 1.0, "r": 1.0},
    "ohm/m": {
        "ohm/m": 1.0, "Ω/m": 1.0, "ohm per m": 1.0, "ohms/m": 1.0, "ohm/km": 1e-3, "ohms/km": 1e-3, "Ω/km": 1e-3,
        "ohm per km": 1e-3, "ohm/ft": 1 / _FOOT, "Ω/ft": 1 / _FOOT, "ohm/1000ft": 1e-3 / _FOOT,
    },
}  # fmt: skip
_MOST = {"V": 1e4, "A": 1e3, "W": 1e6, "Hz": 1e9, "F": 10.0, "ohm": 1e9, "ohm/m": 1e4, "m": 1e5, "mm2": 1e4, "s": 1e6}
_CODE = {"V": "V", "A": "A", "W": "W", "F": "F", "m": "m", "s": "s", "ohm": "Rr"}
_EXAMPLES = {
    "m": "1.5 m, 120 cm, 5ft, 6in", "mm2": "0.75 mm2, 18 AWG", "s": "2.5 s, 250 ms, 1:30, 2 Hz, 120 bpm",
    "ratio": "0.8, 80 %", "V": "5, 4.98 V, 3700 mV", "A": "20mA, 1.2 A", "W": "5 W, 250 mW",
    "ohm": "220R, 4k7, 0.05 ohm", "ohm/m": "0.06 ohm/m, 60 mohm/m", "Hz": "40 Hz, 1 kHz", "deg": "45, -30 deg",
    "px/m": "30, 60/m", "": "a number",
}  # fmt: skip
THICKEST_GAUGE, THINNEST_GAUGE = -3, 40


def examples(unit: str) -> str:
    """What a field of this unit accepts, as a few examples."""
    return _EXAMPLES.get(unit, f"a number in {unit}")


def parse_quantity(text: str, unit: str, where: str = "") -> float:
    """Read a typed quantity into SI units (mm² for a cross-section).

    Accepts engineering prefixes, a prefix or the unit in place of the decimal point (``4k7``, ``R47``, ``3V3``,
    ``2m50``), decimal comma or point, spaced thousands, fractions, feet with inches, AWG for a cross-section; for a
    time ``m:ss``, a rate (``2 Hz``, ``120 bpm``) or beats at a tempo (``2 beats at 96``). What can be
    read in two ways is refused with both.

    Args:
        text: what the person typed.
        unit: one of ``m mm2 s ratio V A W Hz F ohm ohm/m deg px/m`` or the empty string.
        where: name of the field, for the message.

    Raises:
        LanternError: the text is not a quantity of that unit.
    """
    body = normal(text)
    if not body:
        raise LanternError("nothing is typed", where, examples(unit))
    value = _read(body, unit, where) if len(body) <= LONGEST else None
    if value is None or not math.isfinite(value):
        raise LanternError(f"“{body[:40]}” is not understood", where, examples(unit))
    if abs(value) > _MOST.get(unit, math.inf):
        hint = f"; for thousandths write {body.replace('M', 'm', 1)}" if "M" in body else ""
        raise LanternError(
            f"“{body[:40]}” would be {value:.3g} {unit}, which nothing here can be{hint}", where, examples(unit)
        )
    return value


def _read(body: str, unit: str, where: str) -> float | None:
    special = {"s": _clock, "mm2": _gauge, "m": _feet_and_inches}.get(unit)
    value = special(body, where) if special else None
    if value is None:
        value = _coded(body, unit)
    if value is not None:
        return value
    plain = re.fullmatch(rf"({NUMBER}) ?(.*)", body)
    if plain is None:
        return None
    suffix = plain[2].strip()
    factor = _factor(suffix, unit)
    return None if factor is None else number(plain[1], where, suffix) * factor


def _clock(body: str, where: str) -> float | None:
    if clock := re.fullmatch(r"(?:(\d{1,3}):)?(\d{1,4}):(\d{1,2}(?:[.,]\d+)?)", body):
        return int(clock[1] or 0) * 3600 + int(clock[2]) * 60 + float(clock[3].replace(",", "."))
    if both := re.fullmatch(r"(\d{1,4}) ?(?:m|min) ?(\d{1,2}(?:[.,]\d+)?) ?(?:s|sec)?", body):
        return int(both[1]) * 60 + float(both[2].replace(",", "."))
    return _rate(body, where)


def _rate(body: str, where: str) -> float | None:
    """How long one takes of so many a second or a minute, or so many beats at a tempo."""
    rate = re.fullmatch(rf"({NUMBER}) ?(Hz|/s|per second|bpm|/min|per minute|a minute)", body, re.IGNORECASE)
    beats = re.fullmatch(rf"({NUMBER}) ?beats? (?:at|@) ?({NUMBER})(?: ?bpm)?", body, re.IGNORECASE)
    if rate is None and beats is None:
        return None
    often = number(rate[1], where) if rate else number(beats[2], where) if beats else 0.0
    if often <= 0:
        raise LanternError(f"“{body[:40]}” never comes round", where, "2 Hz, 120 bpm, 2 beats at 96")
    if beats is not None:
        return 60.0 * number(beats[1], where) / often
    assert rate is not None
    return (1.0 if rate[2].lower() in ("hz", "/s", "per second") else 60.0) / often


def _gauge(body: str, where: str) -> float | None:
    found = re.fullmatch(r"(?i)(?:(?:awg|gauge|#) ?(\d{1,4}|[1-4]/0)|(\d{1,4}|[1-4]/0) ?(?:awg|ga|gauge))", body)
    if found is None:
        return None
    text = found[1] or found[2]
    gauge = 1 - int(text[0]) if "/" in text else 1 - len(text) if set(text) == {"0"} else int(text)
    if not THICKEST_GAUGE <= gauge <= THINNEST_GAUGE:
        raise LanternError(f"there is no wire gauge {text[:10]}", where, "4/0 to 40 AWG")
    return awg_area_mm2(gauge)


def _feet_and_inches(body: str, where: str) -> float | None:
    both = re.fullmatch(rf"({NUMBER}) ?(?:ft|feet|foot|')[ ,]?({NUMBER}) ?(?:inches|inch|in|\")?", body, re.IGNORECASE)
    if both is None:
        return None
    if "-" in body:
        raise LanternError(
            f"“{body[:40]}” can be read in two ways with a minus", where, "one unit with its sign, such as -5.25 ft"
        )
    return number(both[1], where) * _FOOT + number(both[2], where) * _INCH


def _coded(body: str, unit: str) -> float | None:
    """A number with a prefix or its unit in place of the decimal point: ``4k7``, ``R47``, ``3V3``, ``2m50``."""
    found = re.fullmatch(r"([-+]?)(\d{0,6})([A-Za-zµ])(\d{1,6}) ?(\S*)", body)
    if found is None:
        return None
    sign, whole, letter, rest, behind = found.groups()
    if letter in _CODE.get(unit, ""):
        factor = 1.0
    elif unit in _PREFIXED and letter in _PREFIX and whole:
        factor = _PREFIX[letter]
    else:
        return None
    if behind and behind not in _PREFIXED.get(unit, {}):
        return None
    return float(f"{sign}{whole or 0}.{rest}") * factor


def _factor(suffix: str, unit: str) -> float | None:
    """What a unit behind a number multiplies it by; letters of one size may be of the other but for ``m`` and ``M``."""
    names = _UNITS.get(unit) or _PREFIXED[unit]
    if suffix in names:
        return names[suffix]
    if suffix == "" or (unit in _PREFIXED and suffix in _PREFIX):
        return 1.0 if suffix == "" else _PREFIX[suffix]
    if len(suffix) > 1 or suffix.upper() != "M":
        for name, factor in names.items():
            if name and suffix in (name.lower(), name.upper()):
                return factor
    if unit in _PREFIXED and suffix[0] in _PREFIX:
        rest = suffix[1:].strip()
        for name, factor in names.items():
            if rest and rest.lower() == name.lower():
                return factor * _PREFIX[suffix[0]]
    return None


def awg_area_mm2(gauge: int) -> float:
    """Cross-section of an American wire gauge; 0, 00, 000 are 0, -1, -2. [mm²]

    ``d = 0.127 mm · 92^((36−n)/39)``  (1).

    Args:
        gauge: gauge number n. [-]

    Source: ASTM B258.
    """
    diameter_mm = 0.127 * 92 ** ((36 - gauge) / 39)  # (1)
    return float(math.pi / 4 * diameter_mm**2)


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
    return f"{value * 1000:z.0f} mm" if 0 < abs(value) < 0.1 else f"{value:.2f} m"


def volts(value: float) -> str:
    """A voltage for reading, two decimals as a bench meter shows it; never a zero below zero."""
    return f"{value:z.2f} V"


def amps(value: float) -> str:
    """A current for reading: amperes with two decimals, milliamperes below 1 A; never a zero below zero."""
    return f"{value * 1000:z.1f} mA" if abs(value) < 0.9995 else f"{value:.2f} A"


def clock(seconds: float) -> str:
    """A time in the show, ``m:ss.t``."""
    tenths = round(seconds * 10)
    return f"{tenths // 600}:{tenths % 600 // 10:02d}.{tenths % 10}"
