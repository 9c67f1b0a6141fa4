"""Fuses and gauges follow from what flows: just inside a limit the thin wire stays, just outside it goes."""

from __future__ import annotations

import pytest

from tests.electrical.test_loose import loose
from tests.support.builds import part
from tests.support.driven import driven, flood, heavy, lamps, railed
from tiny_lantern.circuit.conductor import THIN, Conductor
from tiny_lantern.circuit.drive import solve_lit, whole_circuit, wired
from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import gather
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.edits import change_parts
from tiny_lantern.model.edits_drive import change_board
from tiny_lantern.model.edits_power import add_supply
from tiny_lantern.model.parts.supply import SupplyPart


def rows_of(build: Build) -> dict[str, Conductor]:
    return {row.key: row for row in whole_circuit(build).conductors}


@pytest.mark.parametrize(
    ("count", "fuse", "gauge"),
    [(24, "1 A", THIN), (26, "2 A", THIN), (49, "2 A", THIN), (51, "3 A", "22 AWG"), (120, "5 A", "20 AWG")],
)
def test_loose_lamps_get_the_next_fuse_and_wires_that_bear_it(count: int, fuse: str, gauge: str) -> None:
    """Each draws 30 mA with every die full: 25 of them are three quarters of 1 A, 50 of 2 A."""
    rows = rows_of(loose(count))
    assert rows["rail/5"].through == f"Blade fuse, {fuse}"
    chain = [row for key, row in rows.items() if key.startswith("loose/") and row.role != "data"]
    assert len(chain) == 2 * count
    assert {row.gauge for row in (rows["rail/5"], *chain)} == {gauge}
    assert {row.gauge for row in rows.values() if row.role == "data"} <= {THIN}


def test_what_a_source_cannot_overload_has_no_fuse() -> None:
    build = add_supply(driven("pin"), part("mains-5v-10a"), "Source")
    build = change_board(build, build.boards[0].id, supply_id=build.supplies[0].id)
    assert "fuse" in rows_of(build)["board/board/plus"].through
    thin_a = next(row.limit_a for row in rows_of(build).values() if row.gauge == THIN)
    weak = [change_parts(build, revise(build.shelf.of(SupplyPart)[0], rated_a=1.0, limit_a=amps))
            for amps in (thin_a, thin_a * 1.01)]  # fmt: skip
    assert ["fuse" in rows_of(each)["board/board/plus"].through for each in weak] == [False, True]


def test_a_regulator_that_limits_itself_has_its_fuse_before_it() -> None:
    build = railed()
    rows = rows_of(build)
    assert [key for key, row in rows.items() if "fuse" in row.through] == [f"regulated/{build.rails[0].id}/in"]


def test_what_nothing_fuses_carries_four_fifths_of_its_limit() -> None:
    """A floodlight of 12 V behind a relay: its return carries what it draws."""
    for watts, gauge in ((20.0, "24 AWG"), (20.4, "22 AWG")):
        build = driven("relay", flood())
        flooded = change_parts(
            build, revise(build.shelf.find(type(part("floodlight-12v")), "floodlight-12v"), power_w=watts)
        )
        circuit = whole_circuit(flooded)
        assert next(row.gauge for row in circuit.conductors if row.key.endswith("rail/12/0v")) == gauge


def test_no_conductor_carries_more_than_it_may() -> None:
    for build in (loose(120), driven("register", lamps(40, "led-white-5mm")), driven("switch", lamps(12), led_v=12.0)):
        carried = wired(build).lit.conductor_a
        assert max(carried.values()) > 0.1
        assert all(carried[row.key] <= row.limit_a for row in whole_circuit(build).conductors)


def test_thin_wires_take_volts_that_stiff_ones_do_not() -> None:
    build = driven("register", lamps(8, "led-white-5mm"))
    circuit = whole_circuit(build)
    real, ideal = (solve_lit(build, circuit, share).channel_a for share in (1.0, 0.0))
    assert all(real[output] < ideal[output] for output in ideal)


@pytest.mark.parametrize(
    ("amps", "said"), [(22.0, ""), (23.0, "No fuse"), (29.5, "No fuse"), (32.0, "2.00 A too"), (40.0, "10.00 A too")]
)
def test_what_no_fuse_or_no_wire_serves_is_a_danger(amps: float, said: str) -> None:
    """The largest fuse of 30 A carries 22.5 A for long, the thickest wire 30 A."""
    found = [each for each in check(gather(heavy(amps), FullWhite(), ())) if each.code == "wire-over"]
    assert bool(found) == bool(said)
    assert all(said in each.message or said in "".join(m.message for m in each.members) for each in found)
