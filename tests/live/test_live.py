"""What goes over the wire to a board, and the simulated board that decodes it."""

from __future__ import annotations

import os
from collections.abc import Iterator

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.builds import one_strip, part
from tests.support.far_end import heard, listen_until, lost
from tiny_lantern.live.output import Output
from tiny_lantern.live.simulated import SimulatedBoard
from tiny_lantern.live.wire import (
    LONGEST,
    MARK,
    Decoder,
    Message,
    WireRun,
    encoded,
    frame_message,
    frame_told,
    runs_told,
    wired_message,
)  # fmt: skip
from tiny_lantern.live.wiring import wire_runs
from tiny_lantern.model.edits_pieces import add_strip, change_strip
from tiny_lantern.model.errors import LanternError

ORDERS = st.sampled_from(["RGB", "GRB", "BGR", "GRBW", "WRGB"])
RUNS = st.lists(st.builds(WireRun, st.integers(1, 40), ORDERS), min_size=1, max_size=5)


@given(st.lists(st.binary(max_size=300), max_size=6), st.data())
def test_messages_come_out_as_they_went_in_however_the_wire_cuts_them(bodies: list[bytes], data: st.DataObject) -> None:
    sent = [Message(b"F", body) for body in bodies]
    wire = b"".join(map(encoded, sent))
    decoder, found, at = Decoder(), [], 0
    while at < len(wire):
        step = data.draw(st.integers(1, 50))
        found += decoder.feed(wire[at : at + step])
        at += step
    assert found == sent
    assert decoder.faults == 0


@given(st.binary(max_size=60), st.binary(min_size=1, max_size=60), st.integers(0, 10_000))
def test_a_message_after_noise_and_one_after_a_broken_one_are_found(noise: bytes, body: bytes, at: int) -> None:
    message = encoded(Message(b"F", body))
    broken = bytearray(message)
    broken[-1] ^= 0x40
    decoder = Decoder()
    room = bytes(LONGEST + 10)  # whatever length the noise may have told, it is over by then
    found = list(decoder.feed(noise + bytes(broken) + room + message + message))
    assert Message(b"F", body) in found
    assert decoder.faults > 0


def test_the_bytes_of_the_wire_are_as_they_are_written_down() -> None:
    assert encoded(Message(b"F", b"\x01\x02")).hex() == "d74c" + "46" + "0200" + "0102" + "f622"
    assert frame_message(np.array([[9, 5, 7]], np.uint8), (WireRun(1, "GRB"),)).body == bytes([5, 9, 7])
    assert frame_message(np.array([[9, 5, 7]], np.uint8), (WireRun(1, "GRBW"),)).body == bytes([0, 4, 2, 5])
    with pytest.raises(ValueError, match="at most 65535"):
        encoded(Message(b"F", bytes(LONGEST + 1)))


@given(RUNS, st.integers(0, 2**32))
def test_a_frame_is_the_same_light_after_the_wire_in_every_order_of_colours(runs: list[WireRun], seed: int) -> None:
    light = np.random.default_rng(seed).integers(0, 256, (sum(run.count for run in runs), 3), np.uint8)
    told = runs_told(wired_message(runs))
    assert list(told) == runs
    assert np.array_equal(frame_told(frame_message(light, runs), told), light)


@pytest.mark.parametrize("body", [b"\x01\x00RGX\0", b"\x01\x00RRG\0", b"\x01\x00\0\0\0\0", b"\x01"])
def test_a_wiring_that_cannot_be_is_refused(body: bytes) -> None:
    with pytest.raises(ValueError, match=r"run of lights|order of colours"):
        runs_told(Message(b"W", body))


@pytest.fixture
def board() -> Iterator[SimulatedBoard]:
    made = SimulatedBoard()
    yield made
    made.close()


def test_a_simulated_board_shows_what_is_sent_and_is_dark_when_it_ends(board: SimulatedBoard) -> None:
    build = change_strip(add_strip(one_strip(7), part("rgb-5v-60"), 4, "Next"), "next", colour_order="BRG")
    output = Output(board.port)
    light = np.arange(33, dtype=np.uint8).reshape(11, 3)
    output.send(light, wire_runs(build))
    heard(board, 1)
    assert np.array_equal(board.lamps, light)
    assert [run.count for run in board.runs] == [7, 4]
    assert not board.listen()
    output.close()
    heard(board, 2)
    assert board.lamps.max() == 0
    assert (board.frames, board.faults) == (2, 0)
    assert not output.open


def test_a_board_that_does_not_listen_gets_the_newest_frames_and_never_holds_the_sender_up(
    board: SimulatedBoard,
) -> None:
    output, runs = Output(board.port), (WireRun(1000, "RGB"),)
    for level in range(200):
        output.send(np.full((1000, 3), level, np.uint8), runs)
    assert output.left_out > 0
    while board.lamps.min(initial=201) < 201 or not board.frames:
        heard(board, board.frames + 1)
        output.send(np.full((1000, 3), 201, np.uint8), runs)
    assert board.faults == 0
    assert board.lamps.max() == board.lamps.min() == 201
    output.close()


def test_what_is_no_message_is_counted_and_the_lamps_stay(board: SimulatedBoard) -> None:
    output = Output(board.port)
    output.send(np.full((2, 3), 9, np.uint8), (WireRun(2, "RGB"),))
    port = os.open(board.port, os.O_WRONLY | os.O_NOCTTY)
    os.write(port, b"noise" + encoded(Message(b"F", b"\x01")) + encoded(Message(b"?", b"")) + MARK)
    os.close(port)
    listen_until(board, lambda: board.faults >= 3)
    assert board.lamps.tolist() == [[9, 9, 9]] * 2
    assert board.faults == 3
    output.close()


def test_a_port_that_is_none_and_a_board_that_is_gone_are_told(board: SimulatedBoard, tmp_path) -> None:
    with pytest.raises(LanternError, match="cannot be opened"):
        Output(str(tmp_path / "none"))
    (tmp_path / "file").write_text("")
    with pytest.raises(LanternError, match="cannot be opened"):
        Output(str(tmp_path / "file"))
    output = Output(board.port)
    with pytest.raises(LanternError, match="too many for one board"):
        output.send(np.zeros((30_000, 3), np.uint8), (WireRun(30_000, "RGB"),))
    output.close()


def test_a_wiring_that_was_lost_is_told_again_until_it_is_answered(board: SimulatedBoard) -> None:
    output, runs = Output(board.port), (WireRun(3, "RGB"),)
    output.send(np.full((3, 3), 5, np.uint8), runs)
    assert lost(board) == [b"W", b"F"]
    for sent, level in enumerate((6, 7), 1):
        output.send(np.full((3, 3), level, np.uint8), runs)
        heard(board, sent)
    assert board.lamps.tolist() == [[7] * 3] * 3
    assert (board.frames, board.faults) == (2, 0)
    for _ in range(10_000):  # its answer is on its way
        output.send(np.full((3, 3), 8, np.uint8), runs)
        if (told := lost(board)) == [b"F"]:
            break
    assert told == [b"F"], "known by now: only the frame"
    output.send(np.full((2, 3), 9, np.uint8), (WireRun(2, "GRB"),))
    assert lost(board) == [b"W", b"F"], "new wiring is told anew"
    output.close()


@given(st.binary(min_size=1, max_size=80), st.data())
def test_a_damaged_message_counts_once_whatever_its_bytes_look_like(body: bytes, data: st.DataObject) -> None:
    damaged = bytearray(encoded(Message(b"F", body + MARK + body)))
    at = data.draw(st.integers(5, len(damaged) - 1))  # behind its mark, sort and length
    damaged[at] ^= data.draw(st.integers(1, 255))
    good = encoded(Message(b"F", b"good"))
    decoder = Decoder()
    found = list(decoder.feed(bytes(damaged) + good * 4 + bytes(LONGEST)))
    assert Message(b"F", b"good") in found
    assert decoder.faults <= 2, "the damaged one, and the noise behind"
