"""How long one frame takes on the wire."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tiny_lantern.electrical.nearly import at_most, whole
from tiny_lantern.model.build import Build
from tiny_lantern.model.data_lines import on_data_lines, usual_order
from tiny_lantern.model.quantities import engineering
from tiny_lantern.model.working import Step, Working

BITS_PER_CHANNEL = 8


def frame_time(pixels: int, channels: int, bit_s: float, reset_s: float) -> float:
    """Time to send one frame down one wire. [s]

    ``t = N · 8 · channels · t_bit + t_reset``  (1).

    Args:
        pixels: pixels on the wire. [-]
        channels: channels of each. [-]
        bit_s: time of one bit. [s]
        reset_s: pause that latches the frame. [s]

    Source: the one-wire non-return-to-zero timing in addressable pixels' data sheets.
    """
    return pixels * BITS_PER_CHANNEL * channels * bit_s + reset_s  # (1)


@dataclass(frozen=True)
class OutputsTime:
    """Times of several outputs and of a whole frame, how many frames that makes, and the memory that they need."""

    each_s: tuple[float, ...]
    frame_s: float
    memory_bytes: int

    @property
    def frames_per_s(self) -> float:
        """Frames a second at most. [Hz]"""
        return 1 / self.frame_s

    @property
    def whole_frames_per_s(self) -> int:
        """Whole frames a second. [-]"""
        return whole(self.frames_per_s)

    def fits(self, memory_bytes: int) -> bool:
        """Whether a board's memory holds it.

        Args:
            memory_bytes: the memory. [B]
        """
        return self.memory_bytes <= memory_bytes

    def keeps_up(self, tick_hz: float) -> bool:
        """Whether a frame takes no longer than a tick.

        Args:
            tick_hz: ticks a second. [Hz]
        """
        return at_most(self.frame_s, 1 / tick_hz)


def outputs_time(
    outputs: Sequence[tuple[int, int]], parallel: bool, bit_s: float, reset_s: float, buffered_twice: bool = False
) -> OutputsTime:
    """Several outputs of a board, together or one after another, each with its own reset.

    Args:
        outputs: pixels and channels of each. [-]
        parallel: whether all run at once.
        bit_s: time of one bit. [s]
        reset_s: pause that latches a frame. [s]
        buffered_twice: whether the board keeps two frames.
    """
    each = tuple(frame_time(pixels, channels, bit_s, reset_s) for pixels, channels in outputs)
    memory = sum(pixels * channels for pixels, channels in outputs) * (2 if buffered_twice else 1)
    return OutputsTime(each, max(each) if parallel else sum(each), memory)


def frame_times(build: Build) -> dict[str, float]:
    """Time of one frame on the data lines of each board, by its id: the longest output, or all in turn when they share
    one; boards send at the same time. [s]"""
    return {board_id: _time_s(build, bits) for board_id, bits in _bits(build).items()}


def frame_time_working(build: Build, board_id: str) -> Working:
    """How the frame time of a board comes about.

    Args:
        build: the build.
        board_id: the board; of no name where there is none.
    """
    bits = _bits(build)[board_id]
    sent = (max(bits) if build.data.parallel else sum(bits)) if bits else 0
    how = "longest output" if build.data.parallel else "all strips in turn"
    time_s = _time_s(build, bits)
    steps = (
        Step(f"bits ({how}) = N·8·channels", " , ".join(str(b) for b in bits[:6]), f"{sent}"),
        Step(
            "t = bits·t_bit + t_reset",
            f"{sent}·{engineering(build.data.bit_s, 's')} + {engineering(build.data.reset_s, 's')}",
            engineering(time_s, "s"),
        ),
        Step("t_tick = 1/rate", f"1/{build.tick_hz:g}", engineering(1 / build.tick_hz, "s")),
    )
    return Working("Frame time", steps, "one-wire pixel data sheets")


def _time_s(build: Build, bits: Sequence[int]) -> float:
    if not bits:
        return 0.0
    return (max(bits) if build.data.parallel else sum(bits)) * build.data.bit_s + build.data.reset_s


def _bits(build: Build) -> dict[str, list[int]]:
    """The bits of a frame of each piece on a data line, by its board. [-]"""
    return {
        board_id: [piece.slot_count * BITS_PER_CHANNEL * len(usual_order(piece)) for piece in pieces]
        for board_id, pieces in on_data_lines(build).items()
    }
