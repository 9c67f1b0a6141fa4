"""What is seen of a frame through the outputs that drive the lamps: how finely they dim, and in which hue."""

import numpy as np
import pytest

from tests.support.driven import driven, hold, lamps
from tiny_lantern.light.own import own_colours, shown_as
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_drive import change_driver
from tiny_lantern.sheets.moving import Seen
from tiny_lantern.show.as_driven import DrivenLook


def seen(build: Build, asked: list[list[int]]) -> np.ndarray:
    """A frame of bytes as it is seen, (n_slots, 3)."""
    own = own_colours(build)
    frame = np.array(asked) / 255.0
    return DrivenLook(build, own).seen(frame, shown_as(frame, own))


REDS = [[0, 0, 0], [100, 0, 0], [140, 0, 0], [255, 0, 0]]


@pytest.mark.parametrize(
    ("kind", "changes", "wanted"),
    [
        ("pin", {}, [0, 0, 1, 1]),
        ("register", {"levels_bits": 1}, [0, 0, 1, 1]),
        ("register", {"levels_bits": 2}, [0, 1 / 3, 2 / 3, 1]),
        ("register", {"levels_bits": 4}, [0, 6 / 15, 8 / 15, 1]),
        ("pwm", {}, [0, 100 / 255, 140 / 255, 1]),
        ("sink", {}, [0, 100 / 255, 140 / 255, 1]),
    ],
)
def test_light_comes_in_as_many_steps_as_outputs_have(kind: str, changes: dict[str, int], wanted: list[float]) -> None:
    build = driven(kind, **changes)
    red = seen(build, REDS)[:, 0]
    assert red == pytest.approx(wanted, abs=1 / 500)
    frame = np.array(REDS, np.uint8)
    assert Seen(build).frame(frame)[:, 0] == pytest.approx(wanted, abs=1 / 500)


def test_a_lamp_is_as_bright_in_its_hue_as_white_makes_it() -> None:
    build = driven("pwm")
    red, white, green, blue = seen(build, [[255, 0, 0], [255, 255, 255], [0, 255, 0], [0, 0, 255]])
    assert red == pytest.approx(white)
    assert green == pytest.approx(white)  # green is more luminous than all of its red
    assert 0.2 < blue[0] < 0.6
    assert blue[1:].max() < 0.2 * blue[0]


def test_lamps_without_outputs_are_seen_as_before() -> None:
    build = driven("pin")
    free = revise(build, channels=build.channels[:1])
    own = own_colours(free)
    frame = np.array(REDS) / 255.0
    shown = shown_as(frame, own)
    found = DrivenLook(free, own).seen(frame, shown)
    at = free.line.slot_of(free.channels[0].slots[0])
    others = [slot for slot in range(4) if slot != at]
    assert np.array_equal(found[others], shown[others])


def test_each_die_of_a_colour_lamp_has_its_steps() -> None:
    build = driven("register", lamps(2, "lamp-rgb-cathode"), levels_bits=1)
    assert seen(build, [[200, 20, 140], [100, 255, 0]]).tolist() == [[1, 0, 1], [0, 1, 0]]


def test_more_bits_show_at_once() -> None:
    build = driven("register", levels_bits=1)
    finer = change_driver(build, build.drivers[0].id, levels_bits=3)
    assert seen(build, REDS)[1, 0] == 0
    assert seen(finer, REDS)[1, 0] == pytest.approx(3 / 7)


def test_a_holding_rail_is_full_at_any_light() -> None:
    build = driven("hold", hold(3))
    for first, full in ((0, 0), (2, 1), (255, 1)):
        lit = seen(build, [[first] * 3, [0, 0, 0], [255, 255, 255]]).max(axis=1)
        assert lit.tolist() == pytest.approx([full] * 3), "one rail: the first of its lamps speaks for all"


def test_an_output_that_knows_on_and_off_is_on_from_half_up() -> None:
    for kind in ("pin", "register"):
        red = seen(driven(kind), [[0, 0, 0], [127, 0, 0], [128, 0, 0], [255, 0, 0]])[:, 0]
        assert red.tolist() == pytest.approx([0, 0, 1, 1])


@pytest.mark.parametrize("wired", ["series", "parallel", "branches"])
def test_lamps_on_one_wire_are_one_light_that_of_the_first(wired: str) -> None:
    build = driven("pwm", lamps(4, "led-red-5mm", wired=wired))
    asked = [[128, 0, 0], [0, 0, 0], [255, 0, 0], [0, 0, 0]]
    found = seen(build, asked)
    assert np.ptp(found, axis=0).max() == 0, "all alike"
    assert 0.4 < found[0].max() < 0.6
    apart = seen(driven("pwm", lamps(4, "led-red-5mm")), asked)
    assert apart[1].max() == 0
    assert apart[2].max() > 0.9
