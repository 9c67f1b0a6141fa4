"""What every part on the shelf must keep to when it is built with."""

from dataclasses import replace

import numpy as np
import pytest

from tests.support.builds import one_strip, part, white
from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.electrical.feed.judge import detail_of
from tiny_lantern.electrical.laws import channel_share, laws_for, linear_above_v, ramps_of
from tiny_lantern.electrical.network import network_of, part_of
from tiny_lantern.electrical.ohms import conductor_ohm
from tiny_lantern.electrical.power import power_balance, solve_power
from tiny_lantern.light.seen import acceptable, least_voltage
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import NOMINAL_CORNER, STANDARD
from tiny_lantern.model.edits_power import add_feed, set_connector, set_fuse, set_wire
from tiny_lantern.model.parts.connector import ConnectorPart
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.strip import StripPart, nominal_currents_a
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.model.store import dumps, loads
from tiny_lantern.plans.line_task import FeedOption, LineTask, Loads, line_task


class TestEveryStrip:
    """Strip parts."""

    @pytest.fixture(params=shelf().of(StripPart), ids=lambda strip: strip.id)
    def strip(self, request: pytest.FixtureRequest) -> StripPart:
        return request.param

    def test_a_short_piece_is_bright_and_true_at_its_far_end(self, strip: StripPart) -> None:
        build = one_strip(20, strip.id)
        solution = solve_power(build, white(build))
        v = solution.runs["strip"].pixel_v
        assert acceptable(strip, STANDARD, white(build)[0], v).all()
        assert v.min() < v.max() <= strip.nominal_v

    def test_current_never_falls_with_voltage_and_stops_at_none(self, strip: StripPart) -> None:
        channels = len(strip.pixel.channels)
        grid = np.linspace(0, strip.nominal_v * 1.1, 400)
        laws = laws_for((strip.pixel,), (np.ones((len(grid), channels)),))
        padded = np.concatenate([[0.0], grid, [0.0]])
        current = laws.current_a(padded)[1:-1]
        assert (np.diff(current) >= -1e-12).all()
        assert current[0] == 0
        slope = np.diff(current) / np.diff(grid)
        conductance = laws.conductance_s(padded)[1:-1]
        within = (conductance[1:] == conductance[:-1]) & (grid[:-1] > 0)
        assert slope[within] == pytest.approx(conductance[1:][within], rel=1e-6, abs=1e-9)

    def test_nominal_share_is_one_at_the_nominal_voltage(self, strip: StripPart) -> None:
        share = channel_share(strip.pixel, np.array([strip.nominal_v]), nominal_currents_a(strip))
        assert share[0] == pytest.approx(np.ones(len(strip.pixel.channels)))

    def test_its_limits_can_be_met_below_the_nominal_voltage(self, strip: StripPart) -> None:
        duty = np.ones((1, len(strip.pixel.channels)))
        assert strip.v_logic_min_v - 1e-6 <= least_voltage(strip, STANDARD, duty)[0] < strip.nominal_v
        assert linear_above_v(strip) < strip.nominal_v

    def test_the_line_of_the_search_agrees_with_the_general_solve(self, strip: StripPart) -> None:
        build = revise(one_strip(24, strip.id, feeds=(0.0, 1.0)), corner=NOMINAL_CORNER)
        loads_white = Loads(*(white(build),) * 3)
        wire, fuse = build.shelf.of(WirePart)[0], build.shelf.of(FusePart)[0]
        asked = line_task(build, "strip", FeedOption(wire, wire, None, None, fuse), loads_white)
        asked = replace(asked, task=replace(asked.task, ladder=replace(asked.task.ladder, **_metre_leads(asked))))
        found = detail_of(asked.task, np.array([0, 25]))
        solution = solve_power(build, white(build))
        assert found.pixel_v == pytest.approx(solution.runs["strip"].pixel_v, abs=1e-6)
        assert found.out_a == pytest.approx([feed.pos_a for feed in solution.feeds.values()], abs=1e-6)

    def test_ramps_are_as_many_as_channels_and_the_chip(self, strip: StripPart) -> None:
        start, width, slope = ramps_of(strip.pixel)
        assert len(start) == len(width) == len(slope) == len(strip.pixel.channels) + 1
        assert (width > 0).all()


def _metre_leads(asked: LineTask) -> dict[str, np.ndarray]:
    """Both conductors of a feed at any place as they are a metre from the supply."""
    at = asked.task.wire_m.argmin()
    ladder = asked.task.ladder
    return {name: np.full(ladder.size, getattr(ladder, name)[at]) for name in ("out_ohm", "back_ohm")}


class TestEverySupply:
    """Supply parts."""

    @pytest.fixture(params=shelf().of(SupplyPart), ids=lambda supply: supply.id)
    def supply(self, request: pytest.FixtureRequest) -> SupplyPart:
        return request.param

    def test_it_feeds_a_strip_and_its_output_resistance_costs_power(self, supply: SupplyPart) -> None:
        strip = {5: "rgb-5v-60", 12: "rgb-12v-seg20", 24: "rgb-24v-seg10"}[int(supply.nominal_v)]
        build = one_strip(10, strip, supply=supply.id)
        solution = solve_power(build, white(build))
        balance = power_balance(solution)
        assert balance["outputs"] == pytest.approx(
            supply.output_ohm * solution.supplies["supply"].current_a ** 2, rel=1e-9
        )
        assert 0 < solution.supplies["supply"].current_a < supply.rated_a

    def test_it_is_kept_with_the_build_and_comes_back(self, supply: SupplyPart) -> None:
        build = one_strip(3, supply=supply.id)
        assert loads(dumps(build)).shelf.of(SupplyPart) == (supply,)


class TestEveryLead:
    """Wires, fuses and connectors: each adds what it says to the loop."""

    @pytest.mark.parametrize("wire", shelf().of(WirePart), ids=lambda wire: wire.id)
    def test_a_wire_adds_its_length(self, wire: WirePart) -> None:
        build = set_fuse(set_wire(one_strip(), "feed", wire), "feed", None)
        assert conductor_ohm(build, build.feeds[0].positive) == pytest.approx(wire.ohm_per_m)
        assert network_of(build).feeds[0].neg_ohm == pytest.approx(wire.ohm_per_m)

    @pytest.mark.parametrize("fuse", shelf().of(FusePart), ids=lambda fuse: fuse.id)
    def test_a_fuse_adds_its_cold_resistance_on_the_way_out_only(self, fuse: FusePart) -> None:
        bare = network_of(set_fuse(one_strip(), "feed", None)).feeds[0]
        fused = network_of(set_fuse(one_strip(), "feed", fuse)).feeds[0]
        assert fused.pos_ohm - bare.pos_ohm == pytest.approx(fuse.cold_ohm)
        assert fused.neg_ohm == bare.neg_ohm

    @pytest.mark.parametrize("connector", shelf().of(ConnectorPart), ids=lambda connector: connector.id)
    def test_a_connector_adds_its_contact_on_both_ways(self, connector: ConnectorPart) -> None:
        bare, joined = (
            network_of(one_strip()).feeds[0],
            network_of(set_connector(one_strip(), "feed", connector)).feeds[0],
        )
        assert joined.pos_ohm - bare.pos_ohm == pytest.approx(connector.contact_ohm)
        assert joined.neg_ohm - bare.neg_ohm == pytest.approx(connector.contact_ohm)


def test_two_feeds_at_one_place_share_the_current() -> None:
    build = add_feed(one_strip(60), "supply", "strip", 0.0, part("mm2-1_5"), 1.0, part("fuse-10a"))
    feeds = list(solve_power(build, white(build)).feeds.values())
    assert feeds[0].pos_a == pytest.approx(feeds[1].pos_a)
    assert part_of(build, build.strips[0]).id == "rgb-5v-60"
