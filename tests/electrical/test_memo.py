"""What is remembered: by what was read, in the cache in use, and never changed by whoever was given it."""

import numpy as np
import pytest

from tests.support.builds import one_strip, white
from tiny_lantern.electrical.memo import Cache, memoised_on, remember_in
from tiny_lantern.electrical.power import solve_power
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, FullWhite, LevelLoad
from tiny_lantern.model.edits_pieces import change_strip
from tiny_lantern.model.layouts import AlongLine
from tiny_lantern.show.loads import duties_for


@pytest.fixture(autouse=True)
def own_cache() -> Cache:
    """A cache that no other test has."""
    cache = Cache()
    remember_in(cache)
    return cache


def test_a_shared_result_cannot_be_changed() -> None:
    build = one_strip(5)
    solution = solve_power(build, duties_for(build, FullWhite()))
    for array in (*duties_for(build, LevelLoad(level=0.4)), solution.pair_v, solution.pair_a, *solution.rail_a):
        with pytest.raises(ValueError, match="read-only"):
            array[0] = 0.0
    assert duties_for(build, LevelLoad(level=0.4))[0].min() == 0.4


def test_equal_arrays_are_the_same_and_others_are_not() -> None:
    build = one_strip(5)
    one, other = white(build), white(build)
    assert one[0] is not other[0]
    assert solve_power(build, one) is solve_power(build, other)
    dimmed = (other[0] * np.linspace(1, 0.999, 5)[:, None],)
    assert solve_power(build, dimmed) is not solve_power(build, one)
    other[0][4] = 0.0
    assert solve_power(build, other).runs["strip"].pixel_a[4] < solve_power(build, one).runs["strip"].pixel_a[4]


def test_every_field_of_copper_that_is_changed_is_seen() -> None:
    calls: list[Build] = []
    fields = ("pieces", "joints", "buses", "supplies", "feeds", "parts")

    @memoised_on(*fields)
    def counted(build: Build) -> int:
        calls.append(build)
        return len(calls)

    build = one_strip(9)
    assert counted(build) == counted(revise(build, name="another name", show_s=3.0)) == 1
    assert counted(change_strip(build, "strip", layout=AlongLine(x_m=3.0))) == 1
    assert counted(change_strip(build, "strip", rail_pos_ohm_per_m=0.3)) == 2
    assert counted(revise(build, supplies=(revise(build.supplies[0], set_v=5.1),))) == 3
    assert counted(revise(build, feeds=())) == 4


def test_a_cache_is_used_by_whoever_has_it_and_lets_go_when_cleared(own_cache: Cache) -> None:
    build = one_strip(5)
    first = solve_power(build, white(build))
    remember_in(Cache())
    assert solve_power(build, white(build)) is not first
    remember_in(own_cache)
    assert solve_power(build, white(build)) is first
    own_cache.clear()
    assert solve_power(build, white(build)) is not first


def test_only_the_last_results_are_kept() -> None:
    calls = []

    @memoised_on(keep=2)
    def counted(number: int) -> int:
        calls.append(number)
        return number

    for number in (1, 2, 1, 3, 1, 2):
        counted(number)
    assert calls == [1, 2, 3, 2]
