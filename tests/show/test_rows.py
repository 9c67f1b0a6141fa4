"""Frames as rows of bytes that are worked out once: the same as those laid light by light, and few of them."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.effects.test_effects import looks, spans
from tests.support.builds import one_strip
from tests.support.driven import lit
from tiny_lantern.effects.kind import Span
from tiny_lantern.effects.registry import effect_kinds
from tiny_lantern.kernel import arrays, program
from tiny_lantern.kernel import narrow as narrowing
from tiny_lantern.kernel.narrow import Rows, narrow
from tiny_lantern.kernel.nodes import given as an_input
from tiny_lantern.kernel.nodes import select
from tiny_lantern.kernel.program import Program
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_names import add_group
from tiny_lantern.model.edits_scenes import add_scene
from tiny_lantern.model.edits_show import add_effect, change_effect
from tiny_lantern.model.effects import Look, look_of
from tiny_lantern.model.errors import CancelledError
from tiny_lantern.show import effect_rows, weave
from tiny_lantern.show.effect_rows import LONG, EffectRows, Shades, alone_among
from tiny_lantern.show.looks import as_bytes, look_light, look_numbers
from tiny_lantern.show.weave import Show

KINDS = sorted(effect_kinds())


def laid(show: Show, ticks: np.ndarray, slots: np.ndarray | None = None) -> np.ndarray:
    """Frames with every effect laid light by light, whether it has its lights to itself or not."""
    return show.render(ticks, slots, light_of=lambda *asked: weave.light_anew(*asked))


def side_by_side(lights: int = 40) -> Build:
    """Every kind of effect on lights of its own, turned round in many ways, and two that meet."""
    build = one_strip(lights * len(KINDS) + 30)
    for number, kind in enumerate(KINDS):
        look = look_of(kind, **effect_kinds()[kind].sample)
        first = number * lights
        build = add_effect(build, look, first, first + lights - 1, 0.05 * (number % 7), 3.0)
        turned = {"mirrored": number % 2 == 1, "turned": number % 5 - 2, "backward": number % 3 == 2}
        layer = ("replace", "add", "lighten", "dim")[number % 4]
        build = change_effect(build, build.effects[-1].id, layer=layer, **turned)
    last = build.line.slot_count - 1
    for first, stop in ((last - 25, last - 5), (last - 10, last)):
        build = add_effect(build, look_of("chase", spacing_px=7), first, stop, 0.5, 2.0)
        build = change_effect(build, build.effects[-1].id, layer="add")
    return build


def test_rows_are_the_frames_laid_light_by_light_in_any_order_and_on_any_lights() -> None:
    show = Show(side_by_side())
    for ticks in (np.arange(0, 64), np.arange(64, 128), np.arange(20, 90, 3), np.array([131])):
        assert np.array_equal(show.render(ticks), laid(show, ticks))
        some = np.arange(5, show.slot_count, 11)
        assert np.array_equal(show.render(ticks, some), laid(show, ticks, some))
    one_by_one = [show.render(np.array([tick]))[0] for tick in range(0, 130, 13)]
    assert np.array_equal(one_by_one, laid(show, np.arange(0, 130, 13)))


@settings(max_examples=60, deadline=None)
@given(looks(), spans(), st.integers(0, 100_000))
def test_any_look_as_rows_is_the_look_itself(look: Look, span: Span, first: int) -> None:
    count = min(span.count, 60)
    place = np.arange(span.count - count, span.count)
    build = lit(one_strip(1))
    effect = change_effect(build, build.effects[0].id, look=look).effects[0]
    ticks = np.arange(first, first + 50)
    wanted = np.stack([np.broadcast_to(c, (50, count)) for c in look_light(look, place, span, ticks)], axis=-1)
    rows, found = EffectRows(effect, place, span, (0, first + 60)), np.zeros((50, count, 3), np.uint8)
    for at in (slice(20, 50), slice(0, 30)):
        rows.write(found[at], slice(None), ticks[at])
    assert np.array_equal(found, as_bytes(wanted))


@pytest.mark.parametrize(
    ("kind", "values", "unlike"),
    [
        ("chase", {"spacing_px": 40, "speed_px_per_s": 20}, 40),
        ("scanner", {"speed_px_per_s": 31}, 198),
        ("blink", {"period_s": 2.0}, 2),
        ("steady", {}, 1),
        ("wheel", {"period_s": 1.0}, 40),
    ],
)
def test_frames_that_are_alike_are_worked_out_once(
    kind: str, values: dict[str, Any], unlike: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    worked: list[int] = []
    plain = EffectRows._worked_out
    monkeypatch.setattr(EffectRows, "_worked_out", lambda own, ticks: (worked.extend(ticks), plain(own, ticks))[1])
    look = look_of(kind, **values)
    show = Show(add_effect(one_strip(100), look, 0, 99, 0.0, 30.0))
    for first in range(0, 1024, 64):
        show.render(np.arange(first, first + 64))
    assert len(worked) == unlike


def test_frames_that_never_come_again_are_not_kept_and_all_together_are_bounded(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    def kept(kind: str, ticks: int = 1600) -> int:
        show = Show(add_effect(one_strip(100), look_of(kind), 0, 99, 0.0, 60.0))
        for first in range(0, ticks, 64):
            show.render(np.arange(first, first + 64))
        return sum(rows.kept_bytes for _, rows in show._rows.values())

    assert kept("twinkle") == 0
    assert kept("candle", 320) > 0
    assert kept("candle") == 0, "it has had its chance"
    assert kept("chase") == 48 * 100 * 3
    monkeypatch.setattr(effect_rows, "MOST_ROW_BYTES", 40 * 100 * 3)
    assert kept("chase") <= 40 * 100 * 3
    rows = EffectRows(lit(one_strip(10), kind="chase").effects[0], np.arange(10), Span(10, 60.0, 40.0), (0, 2400))
    monkeypatch.setattr(effect_rows, "MOST_ROW_BYTES", 5 * 10 * 3)
    for count in (3, 4, 5, 9, 12):
        rows.write(np.zeros((count, 10, 3), np.uint8), slice(None), np.arange(count) * 7)
        assert rows.kept_bytes == min(count, 5) * 10 * 3
    monkeypatch.setattr(weave, "MOST_KEPT_BYTES", 1000)
    assert kept("chase") == 0


def test_effects_in_a_group_s_order_and_in_scenes_are_the_same_by_rows() -> None:
    build = one_strip(30)
    refs = tuple(build.line.ref_at(slot) for slot in (20, 3, 11, 12, 29, 0, 7))
    build = add_group(build, "Ring", refs)
    build = add_effect(build, look_of("chase", spacing_px=5), 0, 0, 0.0, 5.0, group_id=build.groups[0].id)
    build = add_effect(build, look_of("wheel", period_s=1.0), 0, 29, 2.0, 3.0)
    build = add_scene(build, 2.0)
    show = Show(build)
    for ticks in (np.arange(0, 60), np.arange(70, 130), np.arange(90, 150)):
        assert np.array_equal(show.render(ticks), laid(show, ticks))
        assert show.render(ticks).any()


def test_a_few_frames_of_a_few_lights_are_not_worth_a_beginning_but_known_rows_are_used() -> None:
    show = Show(add_effect(one_strip(100), look_of("chase"), 0, 99, 0.0, 30.0))
    few = show.render(np.arange(5))
    assert not show._rows
    many = show.render(np.arange(64))
    assert list(show._rows) == [(0, True)]
    assert np.array_equal(few, many[:5])
    kept = show._rows[0, True][1]
    kept._kept = {key: np.full_like(row, 7) for key, row in kept._kept.items()}
    assert (show.render(np.arange(5)) == 7).all()
    assert not (show.render(np.arange(5), np.arange(40)) == 7).all(), "of other lights nothing is known"
    show.render(np.arange(64), np.arange(90))
    assert show._rows[0, True][1] is kept, "what is shown whole is not let go of for a part"


def test_a_few_frames_at_a_time_are_those_of_many_whichever_lights_are_wanted() -> None:
    show, whole = Show(side_by_side()), Show(side_by_side()).render(np.arange(130))
    for first in (0, 60, 30, 60):
        ticks = np.arange(first, first + 6)
        assert np.array_equal(show.render(ticks), whole[ticks])
        for some in (np.arange(3, show.slot_count, 7), np.arange(5, show.slot_count, 11)):
            assert np.array_equal(show.render(ticks, some), whole[ticks][:, some])


@pytest.mark.parametrize("kind", KINDS)
def test_a_long_effect_of_which_more_is_worked_out_before_is_the_same(kind: str) -> None:
    build = add_effect(one_strip(LONG + 1), look_of(kind, **effect_kinds()[kind].sample), 0, LONG, 0.0, 3.0)
    show = Show(build)
    for ticks in (np.arange(0, 2), np.arange(60, 64), np.arange(118, 120)):
        assert np.array_equal(show.render(ticks), laid(show, ticks))


def test_stretches_that_meet_no_other_are_alone() -> None:
    def alone(*stretches: tuple[int, int]) -> list[bool]:
        first, stop = np.array(stretches, np.int64).reshape(-1, 2).T
        return alone_among(first, stop).tolist()

    assert alone((0, 5), (5, 9)) == [True, True]
    assert alone((0, 6), (5, 9), (9, 10)) == [False, False, True]
    assert alone((0, 9), (2, 3), (20, 21)) == [False, False, True]
    assert alone((4, 5), (4, 5)) == [False, False]
    assert alone() == []


def test_a_program_is_narrow_where_all_of_it_goes_through_one_number() -> None:
    slot, tick, wide = an_input("slot", 0, 99), an_input("tick", 0, 999), an_input("wide", 1, 50)
    front = tick.div(3).mod(wide)
    behind = front - slot
    program = Program("one", (select(behind < 0, behind + 5, behind), behind + 1))
    found = narrow(program)
    assert found.clock == (front,)
    assert found.waists[0] is behind
    assert found.comes_round
    assert not narrow(Program("two", (tick - slot,))).comes_round
    both = Program("three", (front - slot, front + slot))
    assert narrow(both).waists == ()
    rows = Rows(program, {"wide": 7}, np.arange(20))
    assert np.ravel(rows.keys(np.arange(0, 24, 3))).tolist() == [0, 1, 2, 3, 4, 5, 6, 0]
    for first in (0, 3, 15):
        numbers, lowest, (one, other) = rows.outcomes(np.array([first, first + 3]))
        plain = rows.results(np.array([first, first + 3]))
        assert np.array_equal(one[numbers - lowest], plain[0])
        assert np.array_equal(other[numbers - lowest], plain[1])


@pytest.mark.parametrize("lit", [(3, 5), (0, 1), (98, 100), (0, 0), (3, 70)])
def test_rows_of_which_few_are_lit_are_the_same_as_any(lit: tuple[int, int], monkeypatch: pytest.MonkeyPatch) -> None:
    values = [np.zeros(100, np.int32) for _ in range(3)]
    for channel, value in enumerate(values):
        value[slice(*lit)] = 65_536 // (channel + 1)
    numbers = 7 + (np.arange(50)[:, None] + np.arange(90)) % 100
    taken = []
    for few in (effect_rows.FEW_LIT, 1 << 30):
        monkeypatch.setattr(effect_rows, "FEW_LIT", few)
        rows = np.full((50, 90, 3), 9, np.uint8)
        Shades(values).fill(rows, numbers, 7)
        taken.append(rows)
    assert np.array_equal(taken[0], taken[1])
    assert sorted(set(taken[0].reshape(-1, 3)[:, 1].tolist())) == ([0, 128] if lit[0] < lit[1] else [0])
    assert (taken[0][..., 0] > 0).sum() == sum((numbers - 7 >= lit[0]).ravel() & (numbers - 7 < lit[1]).ravel())


def test_what_is_out_of_a_program_s_range_is_refused_by_rows_too() -> None:
    look = look_of("chase")
    numbers = {**look_numbers(look, Span(10, 1.0, 40.0)), "count": 10}
    program = effect_kinds()["chase"].program
    with pytest.raises(ValueError, match="slot is"):
        Rows(program, numbers, np.array([-1, 3]))
    with pytest.raises(ValueError, match="tick is"):
        Rows(program, numbers, np.arange(10)).keys(np.array([-5, 1]))
    with pytest.raises(KeyError):
        Rows(program, {"count": 10}, np.arange(10))


MADE_READY = (arrays._order, arrays.shortcuts_of, program.decided, narrowing.narrow, narrowing._part, look_numbers)


def made_ready() -> int:
    """How often something about a program had to be found anew."""
    return sum(each.cache_info().misses for each in MADE_READY)


def test_what_was_rehearsed_need_not_be_made_ready_when_it_is_seen() -> None:
    build = side_by_side()
    last = build.line.slot_count - 1
    for apart in (1, 0):
        build = add_effect(build, look_of("random_colour", apart=apart), last - 39, last, 4.0 + 4.0 * apart, 3.0)
    build = add_effect(build, look_of("chase", speed_px_per_s=-20), 0, 0, 11.0, 0.05)
    build = change_effect(build, build.effects[-1].id, backward=True)
    show, of_all = Show(build), build.line.slot_count
    for each in MADE_READY:
        each.cache_clear()
    show.rehearse()
    before = made_ready()
    assert before > 3 * len(KINDS)
    for slots in (np.arange(of_all), np.arange(0, of_all, 4)):
        for first in (0, 8, 60, 170, 330):
            show.render(np.arange(first, first + 10), slots)
            show.render(np.arange(first, first + 1), slots)
    assert made_ready() == before
    show.rehearse()
    assert made_ready() == before
    with pytest.raises(CancelledError):
        show.rehearse(lambda: True)
