"""What goes over the wire between a computer and a board."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tiny_lantern.code.names import plain_text
from tiny_lantern.live.wire import (
    LONGEST,
    MARK,
    Decoder,
    Identity,
    Message,
    WireRun,
    encoded,
    frame_message,
    frame_told,
    identity_message,
    identity_told,
    readings_message,
    readings_told,
)  # fmt: skip

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
    assert np.array_equal(frame_told(frame_message(light, runs), runs), light)


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


@given(st.integers(0, 70_000), st.lists(st.integers(0, 65_535), max_size=20))
def test_readings_come_back_as_they_were_sent(faults: int, readings: list[int]) -> None:
    assert readings_told(readings_message(faults, readings)) == (faults % 65_536, tuple(readings))


@given(st.text(max_size=30))
def test_a_board_says_what_it_is_whatever_it_is_called(title: str) -> None:
    told = identity_told(identity_message(Identity("12ab-34cd", title, 495)))
    assert (told.stamp, told.byte_count) == ("12ab-34cd", 495)
    assert told.title == plain_text(title)
    assert told.title.isascii()


@pytest.mark.parametrize("body", [b"", b"a\nb", b"a\nb\nc", b"a\nb\n1\n2", b"\xff\n\n-1"])
def test_an_identity_that_says_nothing_is_refused(body: bytes) -> None:
    with pytest.raises(ValueError, match="a board says"):
        identity_told(Message(b"I", body))
    with pytest.raises(ValueError, match="two bytes"):
        readings_told(Message(b"R", b"\x01\x02\x03"))
