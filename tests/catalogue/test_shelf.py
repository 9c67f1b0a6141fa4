"""The parts that ship."""

import pytest

from tiny_lantern.catalogue.shelf import all_parts, fuses_by_rating, shelf, supplies_for, wire_by_text
from tiny_lantern.electrical.copper import flexible_ohm_per_m, solid_ohm_per_m
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.strip import StripPart, channel_letters, nominal_currents_a
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.model.quantities import awg_area_mm2

AWG_LIMITS_A = {28: 0.8, 26: 1.3, 24: 2.1, 22: 3.5, 20: 5, 18: 7, 16: 10, 14: 15, 12: 20, 10: 30}
METRIC_LIMITS_A = {0.5: 3, 0.75: 6, 1: 10, 1.5: 14, 2.5: 20, 4: 26, 6: 34, 10: 46}


def test_the_shelf_offers_what_builds_need() -> None:
    parts = shelf()
    assert {part.nominal_v for part in parts.of(StripPart)} == {5, 12, 24}
    assert {round(1 / part.pitch_m) for part in parts.of(StripPart)} >= {30, 60, 96, 144}
    assert {len(part.pixel.channels) for part in parts.of(StripPart)} == {3, 4}
    assert {part.pixel.law for part in parts.of(StripPart)} == {"cc", "rl"}
    assert len(parts.of(SupplyPart)) >= 6


@pytest.mark.parametrize("wire", [w for w in shelf().of(WirePart) if w.id.startswith("awg")], ids=lambda wire: wire.id)
def test_a_gauge_wire_follows_the_gauge_formula(wire: WirePart) -> None:
    gauge = int(wire.id.removeprefix("awg-"))
    assert wire.area_mm2 == pytest.approx(awg_area_mm2(gauge), rel=1e-5)
    assert wire.ohm_per_m == pytest.approx(solid_ohm_per_m(wire.area_mm2), rel=1e-5)
    assert wire.limit_a == AWG_LIMITS_A[gauge]


@pytest.mark.parametrize("wire", [w for w in shelf().of(WirePart) if w.id.startswith("mm2")], ids=lambda wire: wire.id)
def test_a_metric_wire_follows_the_standard_table(wire: WirePart) -> None:
    assert wire.ohm_per_m == pytest.approx(flexible_ohm_per_m(wire.area_mm2))
    assert wire.limit_a == METRIC_LIMITS_A[wire.area_mm2]


def test_every_strip_draws_something_at_its_nominal_voltage() -> None:
    for part in shelf().of(StripPart):
        assert min(nominal_currents_a(part)) > 0.001, part.id
        assert sorted(channel_letters(part)) == sorted(part.colour_order)


def test_a_wire_is_found_by_what_people_call_it() -> None:
    assert wire_by_text("18 AWG", shelf()).id == "awg-18"
    assert wire_by_text("0.75mm2", shelf()).id == "mm2-0_75"
    assert wire_by_text("1.5", shelf()).id == "mm2-1_5"
    with pytest.raises(LanternError, match="no wire of 3 mm²"):
        wire_by_text("3", shelf())


def test_a_build_keeps_its_own_version_of_a_part() -> None:
    mine = WirePart(id="awg-18", name="own", area_mm2=1, ohm_per_m=1, limit_a=1)
    build = Build(parts=(mine,))
    assert all_parts(build).find(WirePart, "awg-18").name == "own"
    assert all_parts(build).find(WirePart, "awg-20").name == "20 AWG"
    with pytest.raises(LanternError, match="awg-20"):
        build.shelf.find(WirePart, "awg-20")
    with pytest.raises(LanternError, match="awg-18"):
        build.shelf.find(StripPart, "awg-18")


def test_look_ups_are_in_rising_order() -> None:
    ratings = [fuse.rating_a for fuse in fuses_by_rating(shelf())]
    assert ratings == sorted(ratings)
    like = next(part for part in shelf().of(SupplyPart) if part.id == "mains-5v-10a")
    assert [part.rated_a for part in supplies_for(shelf(), like)] == [4, 10, 20, 40, 60]
