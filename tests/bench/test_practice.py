"""Practice: what is hidden can be told, the meter is as good as a hand meter, and a guess is judged fairly."""

from __future__ import annotations

import numpy as np
import pytest

from tests.bench.test_at_bench import all_on, fed
from tiny_lantern.bench.fault import Fault
from tiny_lantern.bench.of_build import AtBench, lamp_words
from tiny_lantern.bench.order import Asked
from tiny_lantern.bench.practice import EASY, Hidden, SimulatedMeter, first_lit, hide, judge_guess
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import LanternError


def hidden(build: Build, kind: str, place: str, seed: int = 1) -> Hidden:
    """A fault of one's own choice."""
    return Hidden(Fault(kind, place), seed, "what it is")


def test_what_is_hidden_is_of_the_difficulty_and_always_the_same_by_its_number() -> None:
    build = fed("register", 3)
    assert {hide(build, "easy", seed).fault.kind for seed in range(8)} <= set(EASY)
    assert hide(build, "hard", 7) == hide(build, "hard", 7)
    assert len({hide(build, "hard", seed).fault for seed in range(8)}) > 3


def test_a_build_without_anything_to_hide_is_refused() -> None:
    with pytest.raises(LanternError, match="hidden"):
        hide(Build(), "easy", 1)


def test_the_meter_reads_as_a_hand_meter_does_and_the_same_twice() -> None:
    build = fed("register", 3)
    bench = AtBench(build)
    plus = next(key for key, end in bench.ends.items() if end.terminal == "supply")
    asked = Asked("V", plus, bench.zero, pattern=first_lit(build).key)
    exact = bench.expected(all_on(build), bench.probe("V", plus))
    lamp = sorted(lamp_words(build))[0]
    read = [SimulatedMeter(build, hidden(build, "lamp_open", lamp, seed)).read(asked) for seed in range(200)]
    assert SimulatedMeter(build, hidden(build, "lamp_open", lamp, 3)).read(asked) == read[3]
    assert np.mean(read) == pytest.approx(exact, abs=0.01)
    assert 0.02 < np.std(read) < 0.04, "half a per cent and five millivolts, of five volts"


def test_lamps_show_the_fault_and_ohms_of_a_lamp_are_open() -> None:
    build = fed("register", 3)
    bench, lamp = AtBench(build), sorted(lamp_words(build))[1]
    meter = SimulatedMeter(build, hidden(build, "lamp_open", lamp))
    assert sorted(meter.look(all_on(build)).values()) == ["dark", "normal", "normal"]
    assert meter.look(all_on(build))[lamp] == "dark"
    row = [row for row in bench.rows.values() if row.what == "resistor"][1]
    assert meter.read(Asked("ohm", row.end.node, bench.zero)) is None
    with pytest.raises(LanternError, match="reads nothing"):
        meter.read(Asked("V", "nowhere", bench.zero))


def test_a_guess_is_right_as_good_as_right_or_wrong() -> None:
    build = fed("register", 3)
    one, other = sorted(lamp_words(build))[:2]
    truth = hidden(build, "lamp_open", one)
    told = {
        guess: judge_guess(build, truth, guess)
        for guess in (("lamp_open", one), ("lamp_reversed", one), ("lamp_open", other))
    }
    assert [(each.right, each.alike) for each in told.values()] == [(True, True), (False, True), (False, False)]
    assert told["lamp_open", one].fewest in (0, 1, 2)
