"""Figures that are equal but for the last digits of the arithmetic."""

import pytest

from tiny_lantern.electrical.nearly import at_least, at_most, same, whole


@pytest.mark.parametrize(("value", "below"), [
    (3.0 - 1e-12, 3), (3.0 + 1e-12, 3), (3.0, 3), (2.999, 2), (3.999, 3), (0.1 * 30, 3), (250.0 - 1e-11, 250), (0.0, 0),
])  # fmt: skip
def test_a_number_that_is_whole_but_for_its_last_digits_is_whole(value: float, below: int) -> None:
    assert whole(value) == below


def test_equal_meets_a_limit_from_both_sides_and_a_little_beyond_does_not() -> None:
    assert same(0.1 + 0.2, 0.3)
    assert not same(0.3, 0.3001)
    assert at_most(0.1 + 0.2, 0.3)
    assert not at_most(0.3001, 0.3)
    assert at_least(0.3, 0.1 + 0.2)
    assert not at_least(0.2999, 0.3)
