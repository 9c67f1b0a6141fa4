"""What draws current elsewhere than a pixel does: at a supply's terminals, or between any two nodes."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from tests.electrical.test_coarse import long_build
from tests.support.builds import one_strip, part, white
from tests.support.driven import LARGE
from tiny_lantern.electrical import linear
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.electrical.frames import FrameSolver
from tiny_lantern.electrical.laws import laws_for
from tiny_lantern.electrical.network import GROUND, Elements, Network
from tiny_lantern.electrical.newton import settle
from tiny_lantern.electrical.power import power_balance, solve_power
from tiny_lantern.electrical.power_tree import beside_strips_a, lamp_loads_a
from tiny_lantern.electrical.reach import fed_network
from tiny_lantern.electrical.workings import supply_working
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_drive import add_board, feed_board
from tiny_lantern.model.edits_pieces import add_piece
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.plans.ways import drive_piece


def soft(build: Build, ohm: float) -> Build:
    """The build with that much resistance in its supplies."""
    parts = tuple(revise(one, output_ohm=ohm) if isinstance(one, SupplyPart) else one for one in build.parts)
    return revise(build, parts=parts)


def test_what_hangs_beside_a_strip_pulls_its_supply_down() -> None:
    build = soft(one_strip(60), 0.1)
    alone, beside = solve_power(build, white(build)), solve_power(build, white(build), (1.5,))
    current = alone.supplies["supply"].current_a
    assert alone.supplies["supply"].terminal_v == pytest.approx(5 - 0.1 * current, abs=1e-9)
    assert beside.supplies["supply"].current_a == pytest.approx(current)  # held pixels draw what they drew
    assert beside.supplies["supply"].terminal_v == pytest.approx(5 - 0.1 * (current + 1.5), abs=1e-9)
    assert np.allclose(alone.pair_v - beside.pair_v, np.where(alone.pair_v > 0, 0.15, 0), atol=1e-9)
    balance = power_balance(beside)
    assert balance["beside"] == pytest.approx(1.5 * beside.supplies["supply"].terminal_v)
    assert balance.pop("sources") == pytest.approx(sum(balance.values()), rel=1e-9)


def test_a_frame_of_the_show_feels_it_like_any_load() -> None:
    build = soft(one_strip(60), 0.1)
    solver = FrameSolver(build, (1.5,))
    for level in (1.0, 0.3):
        duties = (np.full((60, 3), level),)
        found = solver.solve(tuple(duty[None] for duty in duties))
        whole = solve_power(build, duties, (1.5,))
        pixel_v = whole.runs["strip"].pixel_v
        assert found.lowest_v[0] == pytest.approx(pixel_v.min(), abs=1e-9)
        assert solver.pixel_of(int(found.lowest_pair[0])) == ("strip", int(pixel_v.argmin()))
        assert found.supply_a[0, 0] == pytest.approx(whole.supplies["supply"].current_a, abs=1e-9)
        assert found.feed_a[0].sum() == pytest.approx(found.supply_a[0, 0], abs=1e-9)


def with_elements(network: Network) -> tuple[Network, np.ndarray]:
    """The network with currents drawn between rails of two runs, along one rail, to ground and at a terminal."""
    first, second = network.runs[:2]
    pos = [first.pos_nodes[4], first.pos_nodes[40], second.pos_nodes[9] + 1, network.supplies[0].node]
    neg = [second.pos_nodes[30] + 1, first.pos_nodes[90], GROUND, GROUND]
    return replace(network, elements=Elements(np.array(pos), np.array(neg))), np.array([0.4, 0.01, 0.2, 0.9])


@pytest.mark.parametrize("pixels", [120, 1500])
def test_elements_between_any_nodes_are_solved_alike_by_both_systems(
    monkeypatch: pytest.MonkeyPatch, pixels: int
) -> None:
    build = soft(long_build(pixels), 0.02)
    network, drawn_a = with_elements(fed_network(build))
    laws = laws_for(network.pixels, tuple(np.ones((s.pixel_count, 3)) for s in build.strips)).beside(drawn_a)
    banded = settle(network, laws).node_v
    monkeypatch.setattr(linear, "WIDEST_BORDER", -1)
    general = settle(network, laws).node_v
    assert np.abs(banded - general).max() < 1e-8
    left = np.zeros(network.node_count)
    network.draw_from(left, -laws.current_a(network.across(banded)))
    for branch in network.branches:
        far_v = np.where(branch.stop == GROUND, 0.0, banded[branch.stop])
        flow = (banded[branch.start] - far_v) / branch.ohm
        np.add.at(left, branch.start, flow)
        np.subtract.at(left, branch.stop[branch.stop != GROUND], flow[branch.stop != GROUND])
    left[network.supplies[0].node] = 0.0
    assert np.abs(left).max() < 1e-8  # Kirchhoff's current law at every node but the source's


def test_the_voltage_across_an_element_is_from_its_one_end_to_the_other() -> None:
    network = fed_network(one_strip(20))
    ends = Elements(np.array([12, 9, 4]), np.array([5, GROUND, 10]))
    voltages = np.arange(network.node_count) * 1.0
    assert replace(network, elements=ends).across(voltages)[network.pair_count :].tolist() == [7.0, 9.0, -6.0]


def test_an_element_across_a_pixel_is_as_good_as_a_hungrier_pixel() -> None:
    build = one_strip(60, feeds=(0.0, 1.0))
    network = fed_network(build)
    node = int(network.runs[0].pos_nodes[21])
    laws = laws_for(network.pixels, white(build))
    slopes = laws.slope_s.copy()
    slopes[0, node // 2] += 0.35
    hungry = settle(network, replace(laws, slope_s=slopes)).node_v
    beside = settle(
        replace(network, elements=Elements(np.array([node]), np.array([node + 1]))), laws.beside(np.array([0.35]))
    ).node_v
    assert np.abs(hungry - beside).max() < 1e-9


def test_lamps_and_boards_of_a_build_are_drawn_from_its_supply() -> None:
    build = soft(one_strip(60), 0.2)
    build = feed_board(add_board(build, part(LARGE)), "board", "supply")
    lamps = LampGroup(id="lamps", name="Lamps", part_id="led-red-5mm", lamp_count=6)
    build = drive_piece(add_piece(build, part(lamps.part_id), lamps), "lamps", "pwm")
    loads = lamp_loads_a(build, solve_drive(build))["supply"]
    assert loads > 0.05
    assert beside_strips_a(build) == (pytest.approx(loads),)
    assert beside_strips_a(soft(build, 0.0)) == ()
    solved = solve_power(build, white(build), beside_strips_a(build))
    terminal = 5 - 0.2 * (solved.supplies["supply"].current_a + loads)
    assert solved.supplies["supply"].terminal_v == pytest.approx(terminal, abs=1e-9)
    told = supply_working(build, solved, "supply").steps[-1]
    assert told.formula == "V_terminal = V_set − R_out·I"
    assert "200 mΩ" in told.values


def test_a_supply_that_feeds_what_hangs_on_it_goes_on_delivering_though_its_feed_runs_backward() -> None:
    build = soft(one_strip(10, feeds=(0.0,)), 0.5)
    weak = revise(build.supplies[0], id="weak", name="Weak", set_v=4.9)
    attach = revise(build.feeds[0].attach, position_m=0.16)
    feed = revise(build.feeds[0], id="weak-feed", supply_id="weak", attach=attach)
    build = revise(build, supplies=(*build.supplies, weak), feeds=(*build.feeds, feed))
    solved = solve_power(build, (np.zeros((10, 3)),), (0.0, 1.0))
    feed_a, weak_v = solved.feeds["weak-feed"].pos_a, solved.supplies["weak"].terminal_v
    assert feed_a < -0.05  # the strong one helps out through the strip
    assert solved.supplies["weak"].delivering
    assert weak_v == pytest.approx(4.9 - 0.5 * (1.0 + feed_a), abs=1e-9)
