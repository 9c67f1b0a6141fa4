"""Effects that follow a group: its lights in its own order, apart from how they are wired."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.code.test_code import played_in_c, played_in_python, wanted
from tests.support.builds import one_strip, part
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.clip import clip_text
from tiny_lantern.model.edits import change_build, without_all
from tiny_lantern.model.edits_many import move_effects
from tiny_lantern.model.edits_pieces import add_strip
from tiny_lantern.model.edits_show import add_effect, change_effect, follow_group, place_effect
from tiny_lantern.model.effects import SlotRef, look_of
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.groups import Group
from tiny_lantern.model.store import dumps, loads
from tiny_lantern.plans.paste import paste
from tiny_lantern.show.weave import Show, render

ORDER = (7, 2, 14, 3, 11)


def followed(kind: str = "chase", **values: object) -> Build:
    """A blue ground on two strips, and an effect that follows five lights of both in an order of their own."""
    build = change_build(add_strip(one_strip(10), part("rgb-5v-60"), 8, "Next"), show_s=10.0)
    group = Group(id="ring", name="Ring", slots=tuple(build.line.ref_at(slot) for slot in ORDER))
    build = revise(build, groups=(group,))
    build = add_effect(build, look_of("steady", colour="#0000ff"), 0, 17, 0.0, 10.0)
    build = add_effect(build, look_of(kind, **values), 0, 0, 1.0, 8.0)
    return follow_group(build, build.effects[1].id, "ring")


def one_at_a_time() -> Build:
    return followed("chase", colour="#ff0000", length_px=1, tail_px=0, spacing_px=5, speed_px_per_s=1)


def test_it_takes_the_groups_lights_in_their_order_and_leaves_the_others_alone() -> None:
    build = one_at_a_time()
    ticks = np.array([40 + 40 * second for second in range(5)])
    frames = render(build, ticks)
    red = [np.flatnonzero(frame[:, 0] == 255).tolist() for frame in frames]
    lit = [slots[0] for slots in red]
    assert all(len(slots) == 1 for slots in red)
    at = ORDER.index(lit[0])
    assert lit == [ORDER[(at + step) % 5] for step in range(5)]
    others = np.setdiff1d(np.arange(18), ORDER)
    assert (frames[:, others] == [0, 0, 255]).all()
    assert build.line.covered(build.effects[1]) == (2, 15)


@given(st.integers(0, 17), st.integers(1, 18), st.integers(0, 399))
def test_any_part_of_it_is_the_same_as_all_of_it(first: int, count: int, tick: int) -> None:
    build = followed("wheel", period_s=2)
    show = Show(build)
    slots = np.arange(first, min(18, first + count))
    whole = show.render(np.arange(400))
    assert np.array_equal(show.render(np.array([tick]), slots)[0], whole[tick][slots])
    crowded = build
    for number in range(5):
        crowded = add_effect(crowded, look_of("steady", colour="#00ff00"), number, number, 0.0, 10.0)
    many = Show(crowded)
    assert np.array_equal(many.render(np.array([tick]))[0], many.render(np.array([tick, tick]))[0])


def test_the_board_plays_it_in_the_same_order(tmp_path) -> None:
    build = followed("gradient", period_s=2, colour="#ff0000", colour_to="#00ff00")
    build = change_effect(build, build.effects[1].id, mirrored=True, turned=1, layer="add")
    ours = wanted(build, np.arange(400))
    (sent,) = played_in_c(build, 400, tmp_path)
    assert sent == ours.tobytes()
    some = list(range(0, 400, 37))
    assert b"".join(played_in_python(build, some)[0]) == ours[some].tobytes()


def test_it_moves_in_time_alone_and_follows_the_line_again_when_told_or_when_the_group_goes() -> None:
    build = one_at_a_time()
    follower = build.effects[1].id
    moved = move_effects(build, (follower,), 3, 0.5)
    assert moved.line.covered(moved.effects[1]) == (2, 15)
    assert moved.effects[1].start_s == 1.5
    placed = place_effect(build, follower, 0, 4, 2.0, 3.0)
    assert (placed.line.covered(placed.effects[1]), placed.effects[1].start_s) == ((2, 15), 2.0)
    free = follow_group(build, follower, None)
    assert free.effects[1].group_id is None
    left = without_all(build, "ring")
    assert left.effects[1].group_id is None
    assert len(left.effects) == 2
    with pytest.raises(LanternError, match="no group"):
        follow_group(build, follower, "none")
    assert loads(dumps(build)) == build


def test_it_is_copied_with_its_group_and_without_it_lies_on_the_line() -> None:
    build = one_at_a_time()
    twice = paste(build, clip_text(build, [piece.id for piece in build.pieces]))
    copy = twice.effects[-1]
    assert copy.group_id not in (None, "ring")
    assert {ref.piece_id for ref in twice.groups[-1].slots} == {piece.id for piece in twice.pieces[2:]}
    strip = build.pieces[0].id
    alone = follow_group(build, build.effects[0].id, "ring")
    inside = change_effect(
        alone, build.effects[0].id, first=SlotRef(piece_id=strip, index=0), last=SlotRef(piece_id=strip, index=3)
    )
    assert paste(inside, clip_text(inside, [strip])).effects[-1].group_id is None
