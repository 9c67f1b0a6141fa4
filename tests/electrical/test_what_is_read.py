"""Every analysis sees every part of the copper that it reads: nothing that was changed is answered from memory."""

from collections.abc import Callable

import numpy as np
import pytest

from tests.support.builds import one_strip, part, white
from tiny_lantern.electrical.corner import at_corner
from tiny_lantern.electrical.frames import FrameSolver
from tiny_lantern.electrical.memo import Cache, remember_in
from tiny_lantern.electrical.network import network_of
from tiny_lantern.electrical.power import solve_power
from tiny_lantern.electrical.shorts.study import short_at, sweep_of
from tiny_lantern.electrical.supplies import reaching_supplies
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, Bus, Corner, OnBus
from tiny_lantern.model.edits import change_parts
from tiny_lantern.model.edits_pieces import add_joint, add_strip, change_strip
from tiny_lantern.model.edits_power import add_feed, add_supply
from tiny_lantern.model.parts.strip import StripPart


def everything() -> Build:
    """Two joined strips, one of them beside a bus, on two supplies."""
    build = add_strip(one_strip(20), part("rgb-5v-60"), 15, "Next")
    build = add_joint(build, "strip", "next")
    build = add_supply(build, part("mains-5v-10a"), "Other")
    build = add_feed(build, "other", "next", 0.2, part("mm2-1_5"), 2.0, part("fuse-5a"))
    bus = Bus(id="bus", strip_id="next", pos_ohm_per_m=0.02, neg_ohm_per_m=0.02, tap_pixels=(2, 9))
    build = revise(build, buses=(bus,))
    on_bus = revise(build.feeds[1], id="third", attach=OnBus(bus_id="bus"))
    return revise(build, feeds=(*build.feeds, on_bus))


def fed_first(build: Build, **changes: object) -> Build:
    """The build with its first feed changed."""
    return revise(build, feeds=(revise(build.feeds[0], **changes), *build.feeds[1:]))


CHANGES: dict[str, Callable[[Build], Build]] = {
    "strip": lambda b: change_strip(b, "next", pixel_count=9),
    "rail": lambda b: change_strip(b, "strip", rail_neg_ohm_per_m=0.5),
    "cut": lambda b: change_strip(b, "strip", cuts=(7,)),
    "joint": lambda b: revise(b, joints=(revise(b.joints[0], pos_ohm=0.9),)),
    "no joint": lambda b: revise(b, joints=()),
    "bus": lambda b: revise(b, buses=(revise(b.buses[0], pos_ohm_per_m=0.4),)),
    "tap": lambda b: revise(b, buses=(revise(b.buses[0], tap_pixels=(2, 12)),)),
    "set-point": lambda b: revise(b, supplies=(b.supplies[0], revise(b.supplies[1], set_v=5.2))),
    "supply": lambda b: revise(b, supplies=(b.supplies[0], revise(b.supplies[1], part_id="mains-5v-20a"))),
    "feed": lambda b: revise(b, feeds=b.feeds[1:]),
    "place": lambda b: fed_first(b, attach=revise(b.feeds[0].attach, position_m=0.2)),
    "length": lambda b: fed_first(b, positive=revise(b.feeds[0].positive, length_m=9.0)),
    "part": lambda b: change_parts(b, revise(b.shelf.of(StripPart)[0], rail_pos_ohm_per_m=0.7)),
}  # fmt: skip
ANALYSES: dict[str, Callable[[Build], object]] = {
    "solve": lambda b: np.concatenate([run.pixel_v for run in solve_power(b, white(b)).runs.values()]),
    "network": lambda b: (network_of(b).node_count, *(branch.siemens.sum() for branch in network_of(b).branches)),
    "corner": lambda b: [strip.rail_pos_ohm_per_m for strip in at_corner(b).strips]
    + [joint.pos_ohm for joint in at_corner(b).joints] + [supply.set_v for supply in at_corner(b).supplies],
    "sweep": lambda b: sweep_of(b).short_a,
    "short": lambda b: short_at(b, "strip", 5).first.short_a,
    "reach": lambda b: sorted(reaching_supplies(b).items()),
}  # fmt: skip


@pytest.mark.parametrize("change", CHANGES)
@pytest.mark.parametrize("analysis", ANALYSES)
def test_a_change_is_never_answered_from_memory(analysis: str, change: str) -> None:
    run = ANALYSES[analysis]
    build = everything()
    remember_in(Cache())
    run(build)
    remembered = run(CHANGES[change](build))
    remember_in(Cache())
    afresh = run(CHANGES[change](everything()))
    if isinstance(afresh, np.ndarray):
        assert np.array_equal(remembered, afresh)
    else:
        assert remembered == afresh


def test_another_corner_is_another_build() -> None:
    build = everything()
    assert at_corner(build).joints[0].pos_ohm == pytest.approx(1.05 * build.joints[0].pos_ohm)
    wider = revise(build, corner=Corner(wires=2.0))
    assert at_corner(wider).joints[0].pos_ohm == pytest.approx(2 * build.joints[0].pos_ohm)
    feed = build.feeds[0]
    measured = revise(feed, positive=revise(feed.positive, measured_ohm=0.031))
    conductor = at_corner(revise(wider, feeds=(measured, *build.feeds[1:]))).feeds[0].positive
    assert conductor.measured_ohm == pytest.approx(0.062)


def test_frames_take_nothing_back_into_a_supply_either() -> None:
    """A set-point above the other one's would feed it; a supply that takes nothing back must float, frame by frame."""
    build = one_strip(30, feeds=(0.0,))
    build = add_supply(build, part("mains-5v-20a"), "High")
    build = revise(build, supplies=(build.supplies[0], revise(build.supplies[1], set_v=5.4)))
    build = add_feed(build, "high", "strip", build.strips[0].length_m, part("mm2-1_5"), 1.0, None)
    duty = np.stack([np.zeros((30, 3)), np.full((30, 3), 0.02), np.ones((30, 3))])
    current = FrameSolver(build).solve((duty,)).supply_a
    for frame in range(3):
        alone = solve_power(build, (duty[frame],))
        wanted = [supply.current_a for supply in alone.supplies.values()]
        assert current[frame] == pytest.approx(wanted, abs=1e-9)
    assert current[0].min() >= 0
    assert current[0][0] == pytest.approx(0.0, abs=1e-9)


def test_the_order_of_joints_buses_feeds_and_supplies_matters_to_no_result() -> None:
    build = everything()
    turned = revise(
        build, feeds=build.feeds[::-1], supplies=build.supplies[::-1], parts=build.parts[::-1],
        pieces=build.pieces,
    )  # fmt: skip
    one, other = (solve_power(b, white(b)) for b in (build, turned))
    for strip in build.strips:
        assert one.runs[strip.id].pixel_v == pytest.approx(other.runs[strip.id].pixel_v, abs=1e-9)
    for supply in build.supplies:
        assert one.supplies[supply.id].current_a == pytest.approx(other.supplies[supply.id].current_a, abs=1e-9)
    assert sweep_of(build).short_a == pytest.approx(sweep_of(turned).short_a, rel=1e-9)
