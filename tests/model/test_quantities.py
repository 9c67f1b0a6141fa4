"""Quantities as people write them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.quantities import amps, awg_area_mm2, clock, engineering, metres, parse_quantity, significant


@pytest.mark.parametrize(
    ("text", "unit", "value"),
    [
        ("4k7", "ohm", 4700), ("220R", "ohm", 220), ("2R2", "ohm", 2.2), ("0R1", "ohm", 0.1), ("4k7Ω", "ohm", 4700),
        ("20mA", "A", 0.020), ("20 mA", "A", 0.020), ("1.2", "A", 1.2), ("20ma", "A", 0.020),
        ("1.5 m", "m", 1.5), ("1,5", "m", 1.5), ("20m", "m", 20), ("120 cm", "m", 1.2), ("5ft", "m", 1.524),
        ("5'6\"", "m", 1.6764), ("6in", "m", 0.1524), (".5", "m", 0.5), ("1e1", "m", 10),
        ("0.75mm2", "mm2", 0.75), ("0.75 mm²", "mm2", 0.75), ("80%", "ratio", 0.8), ("0.8", "ratio", 0.8),
        ("1:30", "s", 90), ("250 ms", "s", 0.25), ("2 min", "s", 120), ("0:12.4", "s", 12.4),
        ("3700 mV", "V", 3.7), ("4.98V", "V", 4.98), ("60 mohm/m", "ohm/m", 0.06), ("60/m", "px/m", 60),
        ("-30°", "deg", -30),
    ],
)  # fmt: skip
def test_a_quantity_is_read_as_people_write_it(text: str, unit: str, value: float) -> None:
    assert parse_quantity(text, unit) == pytest.approx(value, rel=1e-12)


@pytest.mark.parametrize(("gauge", "area"), [(18, 0.8230), (28, 0.0810), (10, 5.261), (0, 53.48), (-1, 67.43)])
def test_an_american_gauge_has_the_standard_cross_section(gauge: int, area: float) -> None:
    assert awg_area_mm2(gauge) == pytest.approx(area, rel=1e-3)


def test_zero_gauges_are_written_as_zeros() -> None:
    assert parse_quantity("00 AWG", "mm2") == pytest.approx(awg_area_mm2(-1))
    assert parse_quantity("AWG 18", "mm2") == pytest.approx(awg_area_mm2(18))


@pytest.mark.parametrize("text", ["", "  ", "abc", "5 kg", "4k7k", "--1", "1.2.3", "nan", "inf", "1e999"])
def test_what_is_not_a_voltage_is_refused_with_what_would_be_accepted(text: str) -> None:
    with pytest.raises(LanternError) as refusal:
        parse_quantity(text, "V", "set voltage")
    assert refusal.value.where == "set voltage"
    assert "3700 mV" in refusal.value.accepted


@given(st.floats(1e-8, 9e8))
def test_what_is_shown_with_a_prefix_reads_back_as_the_same_value(value: float) -> None:
    for unit in ("A", "V", "ohm"):
        assert parse_quantity(engineering(value, unit, 6), unit) == pytest.approx(value, rel=1e-5)


@given(st.floats(0, 5000))
def test_a_time_shown_reads_back_within_its_last_digit(seconds: float) -> None:
    assert parse_quantity(clock(seconds), "s") == pytest.approx(seconds, abs=0.051)


def test_figures_for_reading_keep_their_digits() -> None:
    assert engineering(0.0124, "A") == "12.4 mA"
    assert engineering(2200, "ohm") == "2.20 kΩ"
    assert engineering(999.9, "ohm") == "1.00 kΩ"
    assert engineering(0, "V") == "0 V"
    assert engineering(float("inf"), "V") == "— V"
    assert (amps(0.9996), amps(0.0124), amps(5.486)) == ("1.00 A", "12.4 mA", "5.49 A")
    assert (metres(0.05), metres(7.2)) == ("50 mm", "7.20 m")
    assert significant(-1234.5, 3) == "-1234"
