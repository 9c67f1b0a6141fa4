"""The program tried out: its lamps are lit as models wired by the printed rows say, and put-in faults are seen."""

import numpy as np
import pytest

from tests.code.test_at_pins import DIMMED, ON_OFF, glowing, with_all_pins
from tests.support.at_pins import lamps_of, play, shares
from tests.support.builds import one_strip, part
from tests.support.driven import driven, lamps
from tests.support.recorder import Event
from tiny_lantern.code.files import code_files
from tiny_lantern.live.tried.board import TriedBoard, with_ends_swapped, without_row
from tiny_lantern.live.tried.decoded import bits_on, bytes_of
from tiny_lantern.live.tried.program import Edge, Program
from tiny_lantern.live.tried.trial import Trial
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_drive import add_board
from tiny_lantern.model.errors import LanternError

TIMES_US = [30_000, 60_000]


def tried(build: Build, changed=None) -> TriedBoard:  # type: ignore[no-untyped-def]
    """A board after its program ran for a while."""
    board = TriedBoard(build, build.boards[0].id) if changed is None else TriedBoard(build, build.boards[0].id, changed)
    program = Program(build, build.boards[0].id)
    try:
        board.act(program.advance(TIMES_US[0]))
        board.pass_to(TIMES_US[0])
        before = dict(board.lit_us)
        board.act(program.advance(TIMES_US[1]))
        board.pass_to(TIMES_US[1])
    finally:
        program.close()
    for key, began in before.items():
        board.lit_us[key] = (board.lit_us[key] - began) / (TIMES_US[1] - TIMES_US[0])
    return board


@pytest.mark.parametrize("name", [*ON_OFF, "sinks", "transistors", "gate drivers"])
def test_the_tried_board_lights_its_lamps_as_the_printed_rows_do(name: str) -> None:
    build = glowing(ON_OFF[name]() if name in ON_OFF else DIMMED[name][0]())
    program = Program(build, build.boards[0].id)
    edges = program.advance(TIMES_US[1])
    program.close()
    here = lamps_of(build, build.boards[0].name, code_files(build)["lantern_io_board.c"])
    events = [Event(edge.at_us, edge.kind, edge.pin, edge.level) for edge in edges]
    outside = shares(play(here, events, TIMES_US), TIMES_US)
    board = tried(build)
    assert board.forbidden == []
    for key, share in outside.items():
        assert board.lit_us[key] == pytest.approx(float(share[0]), abs=0.02), key
    assert max(board.lit_us.values()) > 0.01


def test_a_wire_that_is_off_leaves_its_lamp_dark_and_swapped_ones_light_each_other_s() -> None:
    build = glowing(driven("register", lamps(3)), ("#ffffff", "#000000", "#ffffff"))
    whole = [round(share) for share in tried(build).lit_us.values()]
    assert whole == [1, 0, 1]
    off = [round(share) for share in tried(build, without_row("lamps-register/0/lamp")).lit_us.values()]
    assert off == [0, 0, 1]
    swapped = with_ends_swapped("lamps-register/0/lamp", "lamps-register/1/lamp")
    assert [round(share) for share in tried(build, swapped).lit_us.values()] == [0, 1, 1]
    swapped = with_ends_swapped("lamps-register/1/lamp", "lamps-register/2/lamp")
    assert [round(share) for share in tried(build, swapped).lit_us.values()] == [1, 1, 0]
    no_latch = tried(build, without_row("lamps-register/0/latch"))
    assert set(no_latch.lit_us.values()) == {0.0}, "nobody knows what a chip shows that was never latched"


@pytest.mark.parametrize("name", ["matrix", "two dies", "demultiplexer", "registers"])
def test_a_lamp_that_is_fully_lit_is_seen_so_however_short_its_turns_are(name: str) -> None:
    build = glowing(ON_OFF[name](), ("#ffffff",))
    trial = Trial(build, build.boards[0].id)
    trial.step(10_000)
    moment = trial.step(40_000)
    trial.close()
    assert (moment.began_us, moment.ended_us) == (10_000, 50_000)
    assert moment.light.max(axis=1) == pytest.approx(np.ones(build.line.slot_count), abs=0.05)
    assert moment.forbidden == ()


def test_the_bytes_of_a_data_line_are_light_in_the_order_of_its_wire() -> None:
    build = with_all_pins(add_board(one_strip(3), part("board-8bit-large")))
    build = glowing(build, ("#ff0000", "#0000ff", "#ffffff"))
    trial = Trial(build, build.boards[0].id)
    light = trial.step(20_000).light
    trial.close()
    assert np.round(light).tolist() == [[1, 0, 0], [0, 0, 1], [1, 1, 1]]


def test_bits_are_read_at_the_rising_clock_and_make_bytes_the_first_highest() -> None:
    edges = []
    for at, bit in enumerate((1, 0, 1, 1, 0, 0, 0, 1, 1)):
        edges += [Edge(at * 3.0, "S", 1, bit), Edge(at * 3.0 + 1, "S", 2, 1), Edge(at * 3.0 + 2, "S", 2, 0)]
    bits = bits_on(edges, 1, 2)
    assert [bit.level for bit in bits] == [1, 0, 1, 1, 0, 0, 0, 1, 1]
    assert bytes_of(bits) == [(1.0, 0xB1)]


def test_a_program_that_cannot_be_run_is_refused_and_one_that_was_ended_says_so() -> None:
    with pytest.raises(LanternError, match="there is no show"):
        Program(driven("pin"), "board")
    build = glowing(driven("pin", lamps(1)))
    with pytest.raises(LanternError, match="no lights to play"):
        Program(build, "another")
    let_go = Program(build, "board")
    process, folder = let_go._process, let_go._folder
    del let_go
    assert process.poll() is not None, "a program that nobody holds any more ends"
    assert not folder.exists()
    program = Program(build, "board")
    assert np.isclose(program.advance(1000)[-1].at_us, 0, atol=1000)
    program.close()
    with pytest.raises(LanternError, match="has ended"):
        program.advance(2000)
    assert not program._folder.exists()
