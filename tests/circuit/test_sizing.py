"""Fuses and gauges follow from what flows: just inside a limit the thin wire stays, just outside it goes."""

from __future__ import annotations

import pytest

from tests.electrical.test_loose import loose
from tests.findings.test_findings import LAST_ONE, far_on_thin_wire
from tests.support.builds import part
from tests.support.driven import driven, flood, heavy, lamps, railed
from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.circuit.conductor import THIN, Conductor
from tiny_lantern.circuit.drive import solve_lit, whole_circuit, wired
from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import gather
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.edits import change_parts
from tiny_lantern.model.edits_drive import feed_board
from tiny_lantern.model.edits_power import add_supply
from tiny_lantern.model.edits_wiring import choose_wire, take_wires
from tiny_lantern.model.layouts import AtSpots
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.model.stamp import stamp_of


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
    build = feed_board(build, build.boards[0].id, build.supplies[0].id)
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


@pytest.mark.parametrize(("away_m", "gauge"), [(100.0, THIN), (190.0, "22 AWG")])
def test_wires_whose_drop_takes_more_than_a_tenth_of_a_lamp_s_current_are_thicker(away_m: float, gauge: str) -> None:
    """One white lamp at 10 mA behind about 200 ohm: thin wire has 0.0842 ohm/m, there and back, and 22 ohm take a
    tenth."""
    build = driven("register", lamps(1, "led-white-5mm", layout=AtSpots(points_m=((away_m, 0.0),))))
    found = wired(build)
    assert found.drooping == ()
    assert {row.gauge for row in found.circuit.conductors if row.slot is not None} == {gauge}


@pytest.mark.parametrize(("past", "told"), [(-0.004, False), (0.004, True)])
def test_a_wire_of_one_s_own_that_takes_more_than_a_tenth_is_told(past: float, told: bool) -> None:
    build = far_on_thin_wire(past)
    found = [each for each in check(gather(build, FullWhite(), ())) if each.code == "lead-drop"]
    assert bool(found) is told
    assert rows_of(build)[LAST_ONE].gauge == "28 AWG", "what was chosen stays"
    if told:
        assert "0.4% too much" in found[0].message


def test_a_fuse_and_a_wire_of_one_s_own_are_taken_and_judged_together() -> None:
    build = loose(24)
    assert rows_of(build)["rail/5"].through == "Blade fuse, 1 A"
    fused = choose_wire(build, "rail/5", None, part("fuse-3a"))
    assert rows_of(fused)["rail/5"].through == "Blade fuse, 3 A"
    assert rows_of(fused)["loose/lamps/0/plus"].gauge == "22 AWG", "what lies behind bears the fuse"
    assert not codes(fused) & {"wire-over"}
    thin = choose_wire(fused, "loose/lamps/0/plus", part("awg-24"), None)
    assert "wire-over" in codes(thin)
    assert choose_wire(thin, "loose/lamps/0/plus", None, None) == revise(fused, parts=thin.parts)
    assert choose_wire(fused, "rail/5", part("awg-18"), part("fuse-5a")).wires[0].id == fused.wires[0].id


def codes(build: Build) -> set[str]:
    """What is told of a build."""
    return {finding.code for finding in check(gather(build, FullWhite(), ()))}


def test_wires_that_are_taken_first_are_used_where_they_serve_and_gauges_only_beyond_them() -> None:
    build = loose(24)
    metric = take_wires(build, [wire for wire in shelf().of(WirePart) if wire.name.endswith("mm²")])
    assert {row.gauge for row in rows_of(metric).values()} == {"0.5 mm²"}
    own = take_wires(build, [part("awg-22")])
    assert {row.gauge for row in rows_of(own).values()} == {"22 AWG"}, "thinner is not bought where this serves"
    many = take_wires(loose(200), [part("awg-22")])
    gauges = {row.gauge for row in rows_of(many).values()}
    assert "22 AWG" in gauges
    assert gauges - {"22 AWG"} <= {"20 AWG", "18 AWG", "16 AWG"}, "what it does not bear is thicker"
    assert len(gauges) > 1
    assert not codes(many) & {"wire-over"}
    assert take_wires(own, []) == revise(build, parts=own.parts)
    assert stamp_of(own) != stamp_of(build)


def test_lamps_get_more_through_wires_that_are_thicker() -> None:
    build = driven("register", lamps(3, spacing_m=0.5))
    thick = wired(take_wires(build, [part("mm2-1_5")])).lit.channel_a
    thin = wired(build).lit.channel_a
    assert all(thick[each] > thin[each] for each in thin)
