"""The program's circuit agrees with solved ones, to a millionth."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from tests.support.circuits import Json, netlist_of, results_of
from tiny_lantern.circuit.netlist import solve_netlist

CASES: dict[str, Json] = {
    case["id"]: case
    for case in json.loads((Path(__file__).parent / "circuit-cases.json").read_text(encoding="utf-8"))["cases"]
}
SHARE, LEAST = 1e-6, 1e-3


def differences(ours: Any, theirs: Any, where: str = "") -> list[str]:
    """Where two results are not the same."""
    if isinstance(theirs, dict):
        if ours.keys() != theirs.keys():
            return [f"{where}: {sorted(ours.keys() ^ theirs.keys())}"]
        return [fault for key in theirs for fault in differences(ours[key], theirs[key], f"{where}.{key}")]
    if isinstance(theirs, list):
        if len(ours) != len(theirs):
            return [f"{where}: {ours} for {theirs}"]
        return [
            fault
            for n, pair in enumerate(zip(ours, theirs, strict=True))
            for fault in differences(*pair, f"{where}[{n}]")
        ]
    if isinstance(theirs, float):
        return [] if abs(ours - theirs) <= SHARE * max(abs(theirs), LEAST) else [f"{where}: {ours} for {theirs}"]
    return [] if ours == theirs else [f"{where}: {ours} for {theirs}"]


@pytest.mark.parametrize("name", CASES)
def test_a_solved_circuit_comes_out(name: str) -> None:
    assert differences(results_of(CASES[name]), CASES[name]["results"]) == []


@pytest.mark.parametrize("name", CASES)
def test_what_flows_into_all_elements_and_leaks_is_nothing(name: str) -> None:
    solution = solve_netlist(netlist_of(CASES[name]))
    flows = [reading.power_w for reading in solution.readings.values()]
    assert sum(flows) + solution.leaks_w == pytest.approx(0.0, abs=1e-9 * max(1e-3, *map(abs, flows)))
    assert any(flows)
