"""Agreement with circuits and figures solved elsewhere."""

import json
from pathlib import Path
from typing import Any

import pytest

from tests.support.driving import results_of

CASES = json.loads((Path(__file__).parent / "driving-cases.json").read_text(encoding="utf-8"))["cases"]
RELATIVE, SMALL, ABSOLUTE = 1e-6, 1e-3, 1e-9


def assert_agrees(found: Any, wanted: Any, where: str) -> None:
    """Numbers to a millionth, or a billionth where they are small; all else exactly."""
    if isinstance(wanted, dict):
        assert isinstance(found, dict), where
        assert sorted(found) == sorted(wanted), where
        for key, value in wanted.items():
            assert_agrees(found[key], value, f"{where}.{key}")
    elif isinstance(wanted, list):
        assert len(found) == len(wanted), where
        for number, value in enumerate(wanted):
            assert_agrees(found[number], value, f"{where}[{number}]")
    elif isinstance(wanted, float):
        off = abs(found - wanted)
        assert off <= (RELATIVE * abs(wanted) if abs(wanted) >= SMALL else ABSOLUTE), f"{where}: {found}, not {wanted}"
    else:
        assert found == wanted, f"{where}: {found}, not {wanted}"


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["id"])
def test_a_driven_lamp_agrees_with_what_was_solved_elsewhere(case: dict[str, Any]) -> None:
    assert_agrees(results_of(case), case["results"], case["id"])
