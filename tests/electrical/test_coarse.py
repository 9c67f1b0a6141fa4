"""A long network solved with few of its nodes first: the same electricity, and a good place to begin."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.builds import one_strip
from tiny_lantern.electrical import coarse, newton
from tiny_lantern.electrical.coarse import coarsened
from tiny_lantern.electrical.laws import laws_for
from tiny_lantern.electrical.network import Network
from tiny_lantern.electrical.reach import fed_network
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, Bus, Joint
from tiny_lantern.model.strip import Strip

PIXELS = 1500


def long_build(pixels: int = PIXELS) -> Build:
    """Two joined runs with a cut, a bus beside the first, and feeds that do not suffice for full white."""
    build = one_strip(pixels, feeds=(0.2, 0.55, 0.9))
    strip = build.strips[0]
    assert isinstance(strip, Strip)
    first = revise(strip, cuts=(pixels // 3,))
    second = revise(strip, id="second", name="second", pixel_count=pixels // 2, cuts=())
    bus = Bus(id="bus", strip_id=strip.id, pos_ohm_per_m=0.01, neg_ohm_per_m=0.012, tap_pixels=(7, pixels // 2))
    joint = Joint(id="joint", from_strip_id=strip.id, to_strip_id="second", pos_ohm=0.02, neg_ohm=0.03)
    return revise(build, pieces=(first, second), buses=(bus,), joints=(joint,))


def solved(build: Build) -> tuple[Network, newton.Operating]:
    """The build's network settled at full white."""
    network = fed_network(build)
    duties = tuple(np.ones((strip.pixel_count, 3)) for strip in build.strips)
    return network, newton.settle(network, laws_for(network.pixels, duties))


def test_a_long_build_has_the_same_voltages_whichever_way_it_begins(monkeypatch: pytest.MonkeyPatch) -> None:
    build = long_build()
    _, quick = solved(build)
    monkeypatch.setattr(coarse, "WORTH_PAIRS", 10**9)
    network, plain = solved(build)
    sagging = plain.node_v[0 : network.run_node_count : 2] - plain.node_v[1 : network.run_node_count : 2]
    assert sagging.min() < 3.0  # there is something to find: pixels below their knee
    assert np.abs(quick.node_v - plain.node_v).max() < 1e-9
    assert quick.steps < plain.steps


def test_few_nodes_are_a_good_place_to_begin() -> None:
    build = long_build()
    network, whole = solved(build)
    laws = laws_for(network.pixels, tuple(np.ones((strip.pixel_count, 3)) for strip in build.strips))
    few = coarsened(network, laws)
    assert few is not None
    assert len(few.pairs) < network.run_node_count / 2 / 10
    held, supply_s, source_a, start = newton.boundary(network, [True])
    begun = newton._from_few(network, laws, held, supply_s, source_a, start)
    assert begun is not None
    assert np.abs(begun - whole.node_v).max() < 0.02


def test_few_nodes_have_all_the_copper_and_all_the_draw() -> None:
    network = fed_network(long_build())
    laws = laws_for(network.pixels, (np.full((PIXELS, 3), 0.3), np.full((PIXELS // 2, 3), 0.7)))
    few = coarsened(network, laws)
    assert few is not None
    assert few.laws.slope_s.sum(axis=1) == pytest.approx(laws.slope_s.sum(axis=1))
    for side in (0, 1):
        whole, kept = network.rail_s[side::2], few.network.rail_s[side::2]
        assert (1 / kept[kept > 0]).sum() == pytest.approx((1 / whole[whole > 0]).sum())
        assert np.count_nonzero(kept == 0) == np.count_nonzero(whole == 0)
    assert sorted(few.network.links.ohm) == sorted(network.links.ohm)
    ends = few.nodes[few.network.links.stop[few.network.links.stop >= 0]]
    assert np.array_equal(ends, network.links.stop[network.links.stop >= 0])


def test_a_short_network_is_solved_as_it_is() -> None:
    network = fed_network(one_strip(300, feeds=(0.5,)))
    assert coarsened(network, laws_for(network.pixels, (np.ones((300, 3)),))) is None
