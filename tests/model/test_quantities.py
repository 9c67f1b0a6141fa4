"""Quantities as people write them: what is taken, and what is refused with a reason."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.quantities import amps, clock, engineering, examples, metres, parse_quantity, significant

TAKEN: dict[str, dict[str, float]] = {
    "m": {
        "1.5 m": 1.5, "1,5 m": 1.5, "1.5": 1.5, "1.5m": 1.5, "120 cm": 1.2, "1 000 mm": 1.0, "1000 mm": 1.0,
        "12\u00a0000 mm": 12.0, "33.3mm": 0.0333, "0,125 m": 0.125, "2m50": 2.5, "0m9": 0.9, "½ m": 0.5, "1½ m": 1.5,
        "1/2 m": 0.5, "2 3/4 in": 0.06985, "5ft": 1.524, "5 ft": 1.524, "12 feet": 3.6576, "1 foot": 0.3048,
        "12 inch": 0.3048, "12 inches": 0.3048, "6in": 0.1524, '6"': 0.1524, "5'": 1.524, "5'6\"": 1.6764,
        "5 ft 6 in": 1.6764, "5ft6": 1.6764, "5’ 6”": 1.6764, "5 ft 6½ in": 1.6891, "3 yd": 2.7432, "−0.5 m": -0.5,
        "-30 cm": -0.3, "+2 m": 2.0, "1 km": 1000.0, ".5 m": 0.5, "5 metres": 5.0, "2 meters": 2.0, "40 MM": 0.04,
        "1e-3 m": 0.001, "12.345,6 mm": 12.3456, "1,234.5 mm": 1.2345, "-2.5 ft": -0.762,
    },
    "mm2": {
        "0.75 mm2": 0.75, "0,75 mm²": 0.75, "2.5mm^2": 2.5, "2.5 sq mm": 2.5, "1.5": 1.5, "1,5mmq": 1.5,
        "18 AWG": 0.8230, "AWG 18": 0.8230, "18awg": 0.8230, "18 ga": 0.8230, "#18": 0.8230, "4/0 AWG": 107.22,
        "0000 AWG": 107.22, "1/0 awg": 53.475, "0 AWG": 53.475,
    },
    "V": {
        "5": 5.0, "5V": 5.0, "4.98 V": 4.98, "4,98V": 4.98, "3700 mV": 3.7, "3V3": 3.3, "12V5": 12.5, "12 volts": 12.0,
        "5 v": 5.0, "1 kV": 1000.0, "-5 V": -5.0,
    },
    "A": {
        "20mA": 0.02, "20 mA": 0.02, "20 ma": 0.02, "1.2 A": 1.2, "1,2A": 1.2, "1A5": 1.5, "500 µA": 5e-4,
        "500 μA": 5e-4, "500uA": 5e-4, "2 amps": 2.0, "10": 10.0,
    },
    "ohm": {
        "220R": 220.0, "220": 220.0, "220 \u03a9": 220.0, "220 \u2126": 220.0, "4k7": 4700.0, "4K7": 4700.0, "2R2": 2.2,
        "R47": 0.47, "1M": 1e6, "1M5": 1.5e6, "1 Mohm": 1e6, "10 kΩ": 10_000.0, "10k": 10_000.0, "0.05 ohm": 0.05,
        "90 mohm": 0.09, "90 mΩ": 0.09, "4m7": 0.0047, "47 ohms": 47.0, "1 000 Ω": 1000.0,
    },
    "ohm/m": {
        "0.06 ohm/m": 0.06, "60 mohm/m": 0.06, "60 mΩ/m": 0.06, "20 Ω/km": 0.02, "20 ohm/km": 0.02, "19,5 Ω/km": 0.0195,
        "0.06": 0.06, "6.4 ohm/1000ft": 0.020997,
    },
    "s": {
        "2.5 s": 2.5, "250 ms": 0.25, "2 Hz": 0.5, "0.5 Hz": 2.0, "120 bpm": 0.5, "90/min": 2 / 3,
        "2 beats at 96": 1.25, "1 beat @ 120 bpm": 0.5, "1:30": 90.0, "1:02.5": 62.5, "1:00:00": 3600.0,
        "2 min": 120.0, "1 min 30 s": 90.0,
        "1m30": 90.0, "1 h": 3600.0, "80 µs": 8e-5, "0,5 s": 0.5, "3 seconds": 3.0, "2s5": 2.5,
    },
    "ratio": {"80 %": 0.8, "80%": 0.8, "0.8": 0.8, "0,8": 0.8, "12.5 percent": 0.125, "½": 0.5},
    "deg": {"45": 45.0, "-30 deg": -30.0, "−30°": -30.0, "90 degrees": 90.0},
    "px/m": {"30": 30.0, "60/m": 60.0, "60 per m": 60.0, "144 px/m": 144.0, "30 LEDs/m": 30.0},
    "Hz": {"40 Hz": 40.0, "1 kHz": 1000.0, "40 fps": 40.0, "16 MHz": 16e6},
    "W": {"5 W": 5.0, "250 mW": 0.25, "5W5": 5.5},
    "F": {"470 µF": 470e-6, "100n": 100e-9, "4n7": 4.7e-9, "1000uF": 1e-3},
    "": {"12": 12.0, "1 000": 1000.0, "12 px": 12.0},
}  # fmt: skip
REFUSED = [
    ("m", ""), ("m", "five"), ("m", "5 M"), ("m", "5 V"), ("m", "-5 ft 3 in"), ("m", "1,000 mm"), ("m", "12,500 mm"),
    ("m", "1e400"), ("m", "9" * 5000), ("m", "1 2 3 m"), ("m", "nan"), ("m", "inf"), ("m", "1/0 m"), ("m", "1e9 km"),
    ("mm2", "99 AWG"), ("mm2", "5/0 AWG"), ("mm2", "00000 AWG"), ("mm2", "-1 AWG"), ("V", "5 A"), ("V", "5 MV"),
    ("A", "20 MA"), ("A", "2000"), ("A", "5 V"), ("ohm", "4k7V"), ("ohm", "k47x"), ("ohm", "4x7"), ("ohm/m", "5 ohm"),
    ("s", "1:75x"), ("s", "0 Hz"), ("s", "-3 bpm"),
    ("s", "2 beats"), ("s", "5 M"), ("ratio", "80 m"), ("deg", "45 m"), ("px/m", "30 V"), ("W", "3 GW"), ("", "1,000"),
]  # fmt: skip


def spellings() -> list[tuple[str, str, float]]:
    """Every spelling that is taken."""
    return [(unit, text, value) for unit, table in TAKEN.items() for text, value in table.items()]


@pytest.mark.parametrize(("unit", "text", "value"), spellings())
def test_a_spelling_that_people_use_is_taken(unit: str, text: str, value: float) -> None:
    assert parse_quantity(text, unit) == pytest.approx(value, rel=1e-4)


@pytest.mark.parametrize(("unit", "text"), REFUSED)
def test_what_is_not_understood_is_refused_in_one_line_with_what_would_be(unit: str, text: str) -> None:
    with pytest.raises(LanternError) as refused:
        parse_quantity(text, unit, "field")
    assert refused.value.accepted
    assert "\n" not in refused.value.sentence()
    assert len(refused.value.sentence()) <= 200


def test_there_are_at_least_a_hundred_and_twenty_spellings() -> None:
    assert len(spellings()) + len(REFUSED) >= 150


def test_what_can_be_read_in_two_ways_is_refused_with_both() -> None:
    with pytest.raises(LanternError, match=r"1 mm or as 1000 mm"):
        parse_quantity("1,000 mm", "m")
    with pytest.raises(LanternError, match="20 mA"):
        parse_quantity("20 MA", "A")
    with pytest.raises(LanternError, match="4/0 to 40 AWG"):
        parse_quantity("99 AWG", "mm2")


@given(st.text(max_size=80), st.sampled_from([*TAKEN]))
def test_any_text_is_either_a_finite_number_or_a_refusal(text: str, unit: str) -> None:
    try:
        assert math.isfinite(parse_quantity(text, unit))
    except LanternError as refused:
        assert len(refused.sentence()) <= 200


@given(st.floats(1e-9, 1e6))
def test_what_is_written_is_read_back(value: float) -> None:
    assert parse_quantity(engineering(value, "ohm", 6), "ohm") == pytest.approx(value, rel=1e-4)


def test_figures_are_written_with_prefix_and_tabular_decimals() -> None:
    assert engineering(0.0124, "A") == "12.4 mA"
    assert engineering(2200, "ohm") == "2.20 kΩ"
    assert engineering(999.96, "V") == "1.00 kV"
    assert engineering(0, "V") == "0 V"
    assert significant(0.09996, 3) == "0.100"
    assert metres(0.03) == "30 mm"
    assert amps(0.02) == "20.0 mA"
    assert clock(75.26) == "1:15.3"
    assert "18 AWG" in examples("mm2")
