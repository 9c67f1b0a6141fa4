"""Resistance of copper."""

import pytest

from tiny_lantern.electrical.copper import end_fed_drop, flexible_ohm_per_m, resistance_at, solid_ohm_per_m
from tiny_lantern.model.quantities import awg_area_mm2


def test_published_values() -> None:
    assert solid_ohm_per_m(awg_area_mm2(18)) * 1000 == pytest.approx(20.95, abs=0.01)
    assert flexible_ohm_per_m(1.5) == 0.0133
    assert flexible_ohm_per_m(3) == pytest.approx(1 / 58 / 3 * 1.08)
    assert resistance_at(1.0, 70) == pytest.approx(1.1965)
    assert end_fed_drop(60, 1 / 60, 0.16, 0.012) == pytest.approx(0.0576)


def test_impossible_copper_is_refused() -> None:
    with pytest.raises(ValueError, match="positive"):
        solid_ohm_per_m(0)
    with pytest.raises(ValueError, match="negative"):
        end_fed_drop(-1, 1, 1, 1)
