"""Rules on lamps that limit their own current, share a resistor or lie in series."""

from typing import Any

import pytest

from tests.findings.test_drive_rules import verdict
from tests.findings.test_findings import found
from tests.support.builds import part
from tests.support.driven import driven, lamps, with_channel
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_parts
from tiny_lantern.model.edits_pieces import change_piece


def made_for(volts: float, kind: str, **changes: Any) -> Build:
    """Three lamps of 12 mA that limit it themselves, on no resistor."""
    piece = lamps(3, wired="parallel")
    red = part(piece.part_id)
    inside = revise(red, limited_by="itself", dies=(revise(red.dies[0], forward_v=volts, test_a=0.012),))
    build = change_parts(driven(kind, piece, **changes), inside)
    return with_channel(build, resistor_ohm=None)


@pytest.mark.parametrize("kind", ["pin", "pwm", "switch", "demux", "register"])
def test_lamps_that_limit_themselves_draw_their_own_current_each(kind: str) -> None:
    build = made_for(5.0, kind)
    (result,) = solve_drive(build).by_driver.values()
    assert result.on_a[0] == pytest.approx(0.036)
    assert result.intensity_cd[0] == pytest.approx(3 * result.case.lamps[0].die.light.intensity_cd)
    told = found(build)
    assert not {"lamp-current", "no-resistor", "shared-resistor", "supply-too-low"} & told.keys()
    assert ("output-current" in told) == (kind != "switch"), "36 mA are more than a pin or a chip should give"


def test_lamps_that_limit_themselves_need_the_voltage_that_they_are_made_for() -> None:
    assert verdict(made_for(5.0, "pin"), "supply-too-low") is None
    assert "It needs 5.01 V: 0.01 V too little" in verdict(made_for(5.01, "pin"), "supply-too-low").message
    assert verdict(made_for(12.0, "switch", led_v=12.0), "supply-too-low") is None
    assert "2.00 V too little" in verdict(made_for(12.0, "switch", led_v=10.0), "supply-too-low").message
    in_series = change_piece(made_for(5.0, "switch", led_v=12.0), "lamps", wired="series")
    assert "3.00 V too little" in verdict(in_series, "supply-too-low").message


@pytest.mark.parametrize("kind", ["pin", "register", "demux", "switch"])
def test_a_resistor_before_lamps_that_limit_themselves_starves_them_and_is_told(kind: str) -> None:
    starved = with_channel(made_for(5.0, kind), resistor_ohm=330.0)
    (result,) = solve_drive(starved).by_driver.values()
    assert result.on_a[0] < 5.0 / 330.0
    told = verdict(starved, "supply-too-low")
    assert "11.88 V too little. Take the resistor out." in told.message
    assert verdict(told.tries[0].edit(starved), "supply-too-low") is None
    assert verdict(with_channel(made_for(4.0, kind), resistor_ohm=20.0), "supply-too-low") is None
    assert made_for(5.0, kind).channels[0].resistor_ohm is None


def test_a_sink_gives_lamps_that_limit_themselves_no_more_than_they_take() -> None:
    (result,) = solve_drive(made_for(5.0, "sink", rext_ohm=300.0)).by_driver.values()
    assert 0.9 * 0.036 < result.on_a[0] < 0.036


def test_lamps_in_series_light_together() -> None:
    one, three = (driven("switch", lamps(count, wired="series"), led_v=12.0) for count in (1, 3))
    for build, count in ((one, 1), (three, 3)):
        (result,) = solve_drive(build).by_driver.values()
        own, die = result.on_a[0], result.case.lamps[0].die
        assert result.intensity_cd[0] == pytest.approx(count * die.light.intensity_cd * own / die.test_a)


@pytest.mark.parametrize("ohm", [56.0, 820.0])
def test_lamps_on_one_resistor_are_told_by_what_each_then_carries(ohm: float) -> None:
    build = with_channel(driven("pin", lamps(2, wired="parallel")), wanted_a=0.01, resistor_ohm=ohm)
    both_a = float(solve_drive(build).by_driver[build.drivers[0].id].on_a[0])
    told = verdict(build, "resistor-off")
    assert f"{abs(both_a / 0.01 - 1):.0%} {'more' if both_a > 0.01 else 'less'} than wanted" in told.title
    assert f"gives {both_a * 1000:.1f} mA; 10.0 mA are wanted" in told.message
    assert verdict(told.tries[0].edit(build), "resistor-off") is None
