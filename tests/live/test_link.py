"""A computer and a board at the two ends of a cable: the far end is the exported program, in C and in Python."""

from __future__ import annotations

import os
import select
import subprocess
import sys
from collections.abc import Iterator
from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest

from tests.support.cable import FarEnd, far_end
from tiny_lantern.code.board.at_pins import number_of
from tiny_lantern.live.link import BoardLink, refuse_other
from tiny_lantern.live.loaded import loaded_on, whole
from tiny_lantern.live.ports import SerialWire
from tiny_lantern.live.simulated import SimulatedBoard
from tiny_lantern.live.wire import ALIVE, FRAME, Identity, Message, encoded
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_drive import change_board
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.listening import Alone, Listening
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.store import load, save

DEMO = Path(__file__).parents[2] / "tiny_lantern" / "demo"
PATIENCE_S = 120.0


def listening(alone: Alone = "show", demo: str = "pier", alone_s: float = 0.5) -> Build:
    """A demo whose board listens."""
    build = load(DEMO / f"{demo}.lantern")
    listens = Listening(alone=alone, alone_s=alone_s)
    return change_board(build, build.boards[0].id, listens=listens)


def light_of(build: Build, seed: int = 1) -> np.ndarray:
    """Some light for every lamp, too little to meet a cap."""
    return np.random.default_rng(seed).integers(0, 60, (build.line.slot_count, 3), np.uint8)


@pytest.fixture(params=["c", "python"])
def language(request: pytest.FixtureRequest) -> str:
    """Both languages, one after the other."""
    return str(request.param)


class Both:
    """Both ends, run in step."""

    def __init__(self, build: Build, language: str, folder: Path) -> None:
        self.build = build
        self.board = far_end(build, "pier_board", language, folder)  # type: ignore[arg-type]
        self.loaded = loaded_on(build, build.boards[0].id)
        self.link = BoardLink(self.board, self.loaded.listens)

    def run(self, steps: int, deaf: bool = False) -> None:
        """Let both run for some steps."""
        for _ in range(steps):
            self.link.turn(self.board.now_s)
            self.board.run(1, deaf)
        self.link.turn(self.board.now_s)

    @property
    def sent_to_strip(self) -> bytes:
        """The last bytes that the deck's edge got."""
        return self.board.pixels


@pytest.fixture
def both(language: str, tmp_path: Path, request: pytest.FixtureRequest) -> Iterator[Both]:
    """The pier's board at the end of a cable; what it does by itself is the parameter, its own show without."""
    made = Both(listening(getattr(request, "param", "show")), language, tmp_path)
    yield made
    made.board.end()


def test_a_board_says_what_it_plays_and_nothing_else_goes_to_it(both: Both) -> None:
    both.run(50)
    assert both.board._out == b""
    both.link.ask(both.board.now_s)
    both.run(10)
    assert both.link.known == both.loaded.identity
    assert refuse_other(both.link.known, both.loaded.identity) == ""
    assert both.link.readings == ()
    assert both.link.sent == 0


def test_a_frame_reaches_strip_pins_and_chips_and_readings_come_back(both: Both) -> None:
    light = light_of(both.build)
    lighthouse = both.build.line.span("lamps").first
    light[lighthouse] = 255
    both.link.show(both.loaded.frame(light))
    both.run(40)
    span = both.build.line.span("strip")
    assert both.sent_to_strip == light[span.first : span.stop, [1, 0, 2]].tobytes()
    part = both.build.shelf.find(BoardPart, both.build.boards[0].part_id)
    assert both.board.level(number_of(part, "2")) == 1000
    assert both.link.readings == (321, 1)
    assert (both.link.sent, both.link.answered, both.link.lost, both.link.not_understood) == (1, 1, 0, 0)
    dark = both.loaded.frame(np.zeros_like(light))
    both.link.show(dark)
    both.run(40)
    assert set(both.sent_to_strip) == {0}
    assert both.board.level(number_of(part, "2")) == 0


def test_only_the_newest_frame_waits_for_an_answer(both: Both) -> None:
    for seed in range(6):
        both.link.show(both.loaded.frame(light_of(both.build, seed)))
    both.run(60)
    span = both.build.line.span("strip")
    assert both.sent_to_strip == light_of(both.build, 5)[span.first : span.stop, [1, 0, 2]].tobytes()
    assert (both.link.sent, both.link.left_out) == (1, 5)


@pytest.mark.parametrize("both", ["show", "dark", "hold"], indirect=True)
def test_a_board_that_hears_nothing_does_what_the_build_chose(both: Both) -> None:
    light = light_of(both.build)
    both.link.show(both.loaded.frame(light))
    both.run(40)
    shown = both.sent_to_strip
    both.run(300)  # signs of life keep it so
    assert both.sent_to_strip == shown
    before = len(both.board.events)
    both.board.run(300)  # the computer is killed: nobody says anything any more
    left = {"show": None, "dark": bytes(len(shown)), "hold": shown}[both.loaded.listens.alone]
    if left is None:
        assert both.sent_to_strip != shown
        assert len([one for one in both.board.events[before:] if one.kind == "P"]) > 8, "its own show goes on"
    else:
        assert both.sent_to_strip == left
    both.link.show(both.loaded.frame(light))
    both.run(300)
    assert both.sent_to_strip == shown, "and it hears a computer that comes back"


@pytest.mark.parametrize("both", ["dark"], indirect=True)
def test_an_end_is_acted_on_at_once(both: Both) -> None:
    both.link.show(both.loaded.frame(light_of(both.build)))
    both.run(40)
    assert set(both.sent_to_strip) != {0}
    both.link.end()
    both.board.run(5)
    assert set(both.sent_to_strip) == {0}
    assert both.board.closed
    assert not both.link.turn(both.board.now_s)


def test_its_own_show_plays_on_at_its_own_pace_and_makes_up_for_nothing(both: Both) -> None:
    both.board.run(100)
    both.link.show(both.loaded.frame(light_of(both.build)))
    both.run(100)
    both.link.end()
    before = len(both.board.events)
    both.board.run(100)
    sent = [one for one in both.board.events[before:] if one.kind == "P"]
    apart_ms = [(later.at_us - one.at_us) / 1000 for one, later in pairwise(sent)]
    assert len(apart_ms) > 5
    assert min(apart_ms) > 15
    assert sum(apart_ms) / len(apart_ms) == pytest.approx(25, abs=1)


def test_damaged_cut_and_strange_messages_change_nothing_and_are_counted(both: Both) -> None:
    light = light_of(both.build)
    both.link.show(both.loaded.frame(light))
    both.run(40)
    shown = both.sent_to_strip
    damaged = bytearray(encoded(both.loaded.frame(255 - light)))
    damaged[300] ^= 1
    for strange in (
        damaged, encoded(Message(FRAME, b"\x01\x02")), encoded(Message(b"Z", b"")), b"\xd7\xd7\x4c?", b"noise" * 9,
    ):  # fmt: skip
        both.board.write(bytes(strange))
        both.board.run(20)
        assert both.sent_to_strip == shown
    both.link.show(both.loaded.frame(light_of(both.build, 9)))
    both.run(300)
    assert both.link.not_understood >= 3
    assert both.sent_to_strip != shown


def test_a_frame_before_a_sign_of_life_is_not_taken_for_the_board_s_own_show_has_its_bytes(both: Both) -> None:
    light = light_of(both.build)
    both.board.write(encoded(both.loaded.frame(light)))
    both.board.run(60)
    span = both.build.line.span("strip")
    sent = {one.data for one in both.board.events if one.kind == "P"}
    assert light[span.first : span.stop, [1, 0, 2]].tobytes() not in sent
    both.board.write(encoded(Message(ALIVE, b"")))
    both.board.run(2)
    assert both.board.read()[2:3] == b"R"


def test_an_answer_that_is_lost_is_counted_and_the_next_frame_goes_all_the_same(both: Both) -> None:
    both.link.show(both.loaded.frame(light_of(both.build)))
    both.run(40)
    both.link.show(both.loaded.frame(light_of(both.build, 2)))
    both.run(200, deaf=True)
    assert both.link.lost == 1
    both.link.show(both.loaded.frame(light_of(both.build, 3)))
    both.run(200)
    span = both.build.line.span("strip")
    assert both.sent_to_strip == light_of(both.build, 3)[span.first : span.stop, [1, 0, 2]].tobytes()


def test_a_cap_holds_whatever_the_computer_sends(tmp_path: Path, language: str) -> None:
    build = listening()
    supply = build.supplies[0]
    build = revise(build, supplies=(revise(supply, show_cap_a=1.2), *build.supplies[1:]))
    ends = Both(build, language, tmp_path)
    ends.link.show(ends.loaded.frame(np.full((build.line.slot_count, 3), 255, np.uint8)))
    ends.run(40)
    assert 0 < max(ends.sent_to_strip) < 200
    ends.board.end()


def test_silence_is_told_after_a_while_and_a_question_is_repeated_until_then(both: Both) -> None:
    link = both.link
    link.ask(0.0)
    for step in range(140):
        link.turn(step / 20)
    assert link.silent
    assert both.board._out.count(b"\xd7\x4c?") > 8


def test_what_is_loaded_is_compared_by_lights_and_wiring_and_a_show_that_is_older_is_said() -> None:
    one = loaded_on(listening(), "pier-board").identity
    assert refuse_other(one, one) == ""
    older = Identity(one.stamp[:-2] + "zz", one.title, one.byte_count)
    assert "its own show has stamp" in refuse_other(older, one)
    for other in (
        Identity("0000" + one.stamp[4:], one.title, one.byte_count),
        Identity(one.stamp, "Another", one.byte_count),
        Identity(one.stamp, one.title, one.byte_count - 3),
    ):
        with pytest.raises(LanternError, match="this board plays"):
            refuse_other(other, one)


def test_a_board_that_does_not_listen_is_told(tmp_path: Path) -> None:
    build = load(DEMO / "pier.lantern")
    with pytest.raises(LanternError, match="does not listen"):
        loaded_on(build, build.boards[0].id)


@pytest.fixture
def simulated() -> Iterator[SimulatedBoard]:
    """A simulated board that plays the pier, dark when it hears nothing."""
    made = SimulatedBoard(loaded_on(listening("dark"), "pier-board"))
    yield made
    made.close()


def until(board: SimulatedBoard, link: BoardLink, reached) -> None:  # type: ignore[no-untyped-def]
    """Let both ends of a pseudo-terminal talk until something is so."""
    while not reached():
        link.turn(0.0)
        select.select([board.handle], [], [], 0.01)
        board.listen(0.0)


def test_the_simulated_board_answers_as_the_exported_program_does(simulated: SimulatedBoard) -> None:
    wire = SerialWire(simulated.port, 115_200)
    link = BoardLink(wire, simulated.loaded.listens)
    simulated.readings = (7, 1)
    link.ask(0.0)
    until(simulated, link, lambda: link.known is not None)
    assert link.known == simulated.loaded.identity
    light = light_of(listening())
    link.show(simulated.loaded.frame(light))
    until(simulated, link, lambda: link.answered == 1)
    assert simulated.live
    assert np.array_equal(simulated.lamps, light[list(simulated.loaded.slots)])
    assert link.readings == (7, 1)
    assert simulated.listen(0.49) is False
    assert simulated.listen(0.5), "nothing was said for so long"
    assert simulated.lamps.max() == 0
    link.end()
    assert simulated.faults == 0


def test_a_port_that_is_none_busy_or_unplugged_is_one_message(simulated: SimulatedBoard, tmp_path: Path) -> None:
    with pytest.raises(LanternError, match="cannot be opened"):
        SerialWire(str(tmp_path / "none"), 115_200)
    (tmp_path / "file").write_text("")
    with pytest.raises(LanternError, match="cannot be opened"):
        SerialWire(str(tmp_path / "file"), 115_200)
    wire = SerialWire(simulated.port, 115_200)
    with pytest.raises(LanternError, match="busy"):
        SerialWire(simulated.port, 115_200)
    os.close(simulated._far)
    simulated._far = -1
    os.close(simulated.handle)
    simulated.handle = -1
    with pytest.raises(LanternError, match="the board is gone"):
        for _ in range(100):
            wire.write(b"?")
            wire.read()


KILLED = """
import sys, time
import numpy as np
from pathlib import Path
from tiny_lantern.live.link import BoardLink
from tiny_lantern.live.loaded import loaded_on
from tiny_lantern.live.ports import SerialWire
from tiny_lantern.model.store import load

build = load(Path(sys.argv[2]))
loaded = loaded_on(build, build.boards[0].id)
link = BoardLink(SerialWire(sys.argv[1], 115200), loaded.listens)
link.show(loaded.frame(np.full((build.line.slot_count, 3), 77, np.uint8)))
while True:
    link.turn(time.monotonic())
    time.sleep(0.01)
"""


def test_a_program_that_is_killed_leaves_a_board_that_does_what_the_build_chose(
    simulated: SimulatedBoard, tmp_path: Path
) -> None:
    save(listening("dark"), tmp_path / "x.lantern")
    command = [sys.executable, "-c", KILLED, simulated.port, str(tmp_path / "x.lantern")]
    program = subprocess.Popen(command, stdin=subprocess.DEVNULL)
    while not simulated.lamps.max():
        assert select.select([simulated.handle], [], [], PATIENCE_S)[0], "the program says nothing"
        simulated.listen(0.0)
    program.kill()
    program.wait()
    simulated.listen(0.1)
    assert simulated.live
    assert simulated.lamps.max() == 77
    simulated.listen(0.7)
    assert not simulated.live
    assert simulated.lamps.max() == 0


def test_a_board_that_reads_nothing_holds_nobody_up(simulated: SimulatedBoard) -> None:
    wire = SerialWire(simulated.port, 115_200)
    taken = [wire.write(bytes(10_000)) for _ in range(20)]
    assert taken[0] > 0
    assert taken[-1] == 0
    wire.close()


def test_everything_as_one_board_has_the_order_of_the_line() -> None:
    build = listening()
    assert whole(build).slots == tuple(range(build.line.slot_count))
    assert whole(build).frame(light_of(build)).sort == FRAME


def test_far_ends_are_ended(tmp_path: Path) -> None:
    end: FarEnd = far_end(listening(), "pier_board", "python", tmp_path)
    end.run(3)
    end.end()
    assert end.process.returncode == 0
