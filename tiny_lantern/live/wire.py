"""What goes over the cable between a computer and a board.

The computer asks what the board plays (``?``), says that it is there (``S``), sends a frame of bytes in the order of
the lights (``F``), and ends (``E``). The board answers the first with its stamp, its name and the bytes of a frame
(``I``), every other with how many messages it did not understand and what its inputs read (``R``); a frame is answered
once it is shown.

A message is a mark of two bytes, a letter for its sort, the length of what it carries, what it carries, and a check
over all of it but the mark; what does not check is passed over up to the next mark.
"""

from __future__ import annotations

import struct
from binascii import crc_hqx
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.code.board.kinds.listening import identity_of

Bytes = NDArray[np.uint8]
MARK = b"\xd7\x4c"
HEAD, CHECK = struct.Struct("<cH"), struct.Struct("<H")
ASK, ALIVE, FRAME, END, IDENTITY, READINGS = b"?", b"S", b"F", b"E", b"I", b"R"
LONGEST, IDENTITY_LINES, FRAMING = 65_535, 3, 7
LETTERS = "RGBW"


@dataclass(frozen=True)
class WireRun:
    """So many lights in a row whose colours are sent in one order, such as ``GRB``."""

    count: int
    order: str


@dataclass(frozen=True)
class Identity:
    """What a board says of itself: the stamp of its code, its name, how many bytes a frame has. [-]"""

    stamp: str
    title: str
    byte_count: int


@dataclass(frozen=True)
class Message:
    """One message: its sort, and what it carries."""

    sort: bytes
    body: bytes


def encoded(message: Message) -> bytes:
    """A message as the bytes of the wire.

    Raises:
        ValueError: it carries too much.
    """
    if len(message.body) > LONGEST:
        raise ValueError(f"a message carries at most {LONGEST} bytes, not {len(message.body)}")
    checked = HEAD.pack(message.sort, len(message.body)) + message.body
    return MARK + checked + CHECK.pack(crc_hqx(checked, 0))


class Decoder:
    """Finds the messages in what comes over a wire, in whatever pieces it comes; ``faults`` counts what was none, a
    message that was damaged once, whatever its bytes look like."""

    def __init__(self) -> None:
        self._waiting = bytearray()
        self._passed = self._torn_until = 0
        self.faults = 0

    def feed(self, piece: bytes) -> Iterator[Message]:
        """The messages that are whole now.

        Args:
            piece: what came.
        """
        self._waiting += piece
        while True:
            at = self._waiting.find(MARK)
            if at < 0:
                kept = 1 if self._waiting.endswith(MARK[:1]) else 0
                self._pass(len(self._waiting) - kept)
                return
            self._pass(at)
            begin = len(MARK)
            if len(self._waiting) < begin + HEAD.size:
                return
            sort, length = HEAD.unpack_from(self._waiting, begin)
            end = begin + HEAD.size + length
            if len(self._waiting) < end + CHECK.size:
                return
            (check,) = CHECK.unpack_from(self._waiting, end)
            if crc_hqx(bytes(self._waiting[begin:end]), 0) != check:
                torn_until = self._passed + end + CHECK.size
                self._pass(begin)
                self._torn_until = max(self._torn_until, torn_until)
                continue
            body = bytes(self._waiting[begin + HEAD.size : end])
            del self._waiting[: end + CHECK.size]
            self._passed += end + CHECK.size
            self._torn_until = 0
            yield Message(sort, body)

    def _pass(self, count: int) -> None:
        """Pass over bytes that are no message: a fault, unless they belong to a message that was counted already."""
        if count and self._passed >= self._torn_until:
            self.faults += 1
            self._torn_until = self._passed + count
        self._passed += count
        del self._waiting[:count]


def identity_message(who: Identity) -> Message:
    """What a board answers when it is asked what it plays.

    Args:
        who: what it says of itself.
    """
    return Message(IDENTITY, identity_of(who.stamp, who.title, who.byte_count).encode())


def identity_told(message: Message) -> Identity:
    """What such a message says.

    Raises:
        ValueError: it says nothing that can be.
    """
    lines = message.body.decode("utf-8", "replace").split("\n")
    if len(lines) != IDENTITY_LINES or not lines[-1].isdigit():
        raise ValueError("a board says its stamp, its name and how many bytes a frame has")
    return Identity(lines[0], lines[1], int(lines[2]))


def readings_message(faults: int, readings: Sequence[int]) -> Message:
    """What a board answers to a frame or a sign of life.

    Args:
        faults: how many messages it did not understand. [-]
        readings: what its inputs read, (n_inputs,). [-]
    """
    return Message(READINGS, struct.pack(f"<{1 + len(readings)}H", faults & 0xFFFF, *readings))


def readings_told(message: Message) -> tuple[int, tuple[int, ...]]:
    """What such a message says: how many messages the board did not understand, and what its inputs read. [-]

    Raises:
        ValueError: it says nothing that can be.
    """
    if len(message.body) % 2 or not message.body:
        raise ValueError("a reading takes two bytes")
    faults, *readings = struct.unpack(f"<{len(message.body) // 2}H", message.body)
    return faults, tuple(readings)


def frame_message(frame: Bytes, runs: Sequence[WireRun]) -> Message:
    """A frame as the bytes that a board sends to its lights; a white die takes what the three colours have in common.

    Args:
        frame: linear red, green and blue of every light, (n_lights, 3). [-]
        runs: how the lights are wired.
    """
    parts, first = [], 0
    for run in runs:
        own = frame[first : first + run.count]
        first += run.count
        white = own.min(axis=1) if "W" in run.order else np.zeros(len(own), np.uint8)
        four = np.concatenate([own - white[:, None], white[:, None]], axis=1)
        parts.append(four[:, [LETTERS.index(letter) for letter in run.order]].tobytes())
    return Message(FRAME, b"".join(parts))


def frame_told(message: Message, runs: Sequence[WireRun]) -> Bytes:
    """The light of a frame as it came, white among the three colours again. (n_lights, 3)

    Args:
        message: the frame.
        runs: how the lights are wired.

    Raises:
        ValueError: it has not as many bytes as the lights want.
    """
    wanted = sum(run.count * len(run.order) for run in runs)
    if len(message.body) != wanted:
        raise ValueError(f"a frame of {len(message.body)} bytes came, and the lights want {wanted}")
    parts, first = [], 0
    for run in runs:
        size = run.count * len(run.order)
        own = np.frombuffer(message.body, np.uint8, size, first).reshape(run.count, len(run.order))
        first += size
        four = np.zeros((run.count, 4), np.uint8)
        four[:, [LETTERS.index(letter) for letter in run.order]] = own
        parts.append(np.minimum(four[:, :3].astype(np.uint16) + four[:, 3:], 255).astype(np.uint8))
    return np.concatenate(parts) if parts else np.zeros((0, 3), np.uint8)
