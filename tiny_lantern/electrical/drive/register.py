"""Latch registers in a chain: the current of each chip, the bytes that go down the wire, and how fast."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.lamp.led import Led
from tiny_lantern.electrical.lamp.node import branch_currents, settled_v
from tiny_lantern.model.errors import LanternError

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]
BitOrder = Literal["msb_first", "lsb_first"]
EACH = 8
PINS = 3
TIE = 1e-9


@dataclass(frozen=True)
class RegisterOutput:
    """What hangs on one output: an LED behind a resistor."""

    led: Led
    resistor_ohm: float


@dataclass(frozen=True)
class RegisterStage:
    """Chips by the resistance of an output and of their supply or return lead, one a chip, and their limits. Outputs
    that source and those that sink are one circuit seen from either end."""

    supply_v: float
    supply_ohm: float
    out_ohm: float
    output_limit_a: float = 0.02
    chip_limit_a: float = 0.07

    def output_over(self, current_a: float) -> bool:
        """Whether a current is more than an output may carry.

        Args:
            current_a: the current. [A]
        """
        return current_a > self.output_limit_a


@dataclass(frozen=True)
class RegisterFrame:
    """One pattern, solved: current of each output, (n_outputs,), and of each chip, (n_chips,). [A]"""

    lit: Bools
    output_a: Floats
    chip_a: Floats


@dataclass(frozen=True)
class WorstFrame:
    """The frame in which a chip carries most, and what it would carry with everything lit."""

    chip: int
    frame: int
    chip_a: float
    over_limit: bool
    all_on_a: float
    all_on_over_limit: bool


def register_frame(stage: RegisterStage, outputs: Sequence[RegisterOutput | None], lit: Bools) -> RegisterFrame:
    """The currents of a pattern; the lead of a chip couples its outputs. An output that is not used carries nothing.

    Args:
        stage: the chips.
        outputs: what hangs on each output, eight a chip.
        lit: the pattern, (n_outputs,). [-]

    Source: nodal analysis of each chip's supply lead.
    """
    output_a = np.zeros(len(outputs))
    for first in range(0, len(outputs), EACH):
        on = [at for at in range(first, min(first + EACH, len(outputs))) if lit[at] and outputs[at] is not None]
        leds = [output for at in on if (output := outputs[at]) is not None]
        foot_v = np.array([output.led.foot_v for output in leds])
        ohm = np.array([output.led.series_ohm + output.resistor_ohm + stage.out_ohm for output in leds])
        node_v = settled_v(stage.supply_v, stage.supply_ohm, foot_v, ohm)
        output_a[on] = branch_currents(node_v, foot_v, ohm)
    return RegisterFrame(lit, output_a, np.add.reduceat(output_a, np.arange(0, len(outputs), EACH)))


def largest_output_a(frames: Sequence[RegisterFrame]) -> float:
    """The most that any output carries in some frames. [A]"""
    return max((float(frame.output_a.max()) for frame in frames), default=0.0)


def in_hex(value: int) -> str:
    """A byte as two hex digits."""
    return f"{value:02X}"


def in_marks(lit: Bools) -> str:
    """Outputs as ones and zeros, output 0 first.

    Args:
        lit: the outputs, (n_outputs,). [-]
    """
    return "".join("1" if on else "0" for on in lit)


def all_lit(outputs: Sequence[RegisterOutput | None]) -> Bools:
    """Every output that is used. (n_outputs,)"""
    return np.array([output is not None for output in outputs])


def worst_frames(stage: RegisterStage, frames: Sequence[RegisterFrame], all_on: RegisterFrame) -> list[WorstFrame]:
    """For each chip the first frame in which it carries most.

    Args:
        stage: the chips.
        frames: the frames of the show.
        all_on: everything lit.
    """
    found = []
    for chip, all_on_a in enumerate(all_on.chip_a):
        amps = np.array([frame.chip_a[chip] for frame in frames])
        most = float(amps.max())
        first = int(np.argmax(amps >= most * (1 - TIE)))
        found.append(
            WorstFrame(chip, first, float(amps[first]), most > stage.chip_limit_a, float(all_on_a),
                       float(all_on_a) > stage.chip_limit_a)
        )  # fmt: skip
    return found


def bytes_to_send(lit: Bools, order: BitOrder) -> list[int]:
    """The bytes that light a chain so, in the order of sending: the last chip's first.

    Chip 0 is the one that the board's data line enters; output 0 of a chip is its first stage, so the first bit shifted
    in ends at output 7 of the last chip.

    Args:
        lit: the outputs, (8·n_chips,). [-]
        order: which bit of a byte goes first.

    Raises:
        LanternError: the outputs do not fill whole chips.
    """
    chips = _chips(len(lit))
    bits = lit.reshape(chips, EACH)[::-1]
    weights = 1 << np.arange(EACH) if order == "msb_first" else 1 << np.arange(EACH)[::-1]
    return (bits * weights).sum(axis=1).tolist()  # type: ignore[no-any-return]


def outputs_after(sent: Sequence[int], order: BitOrder) -> Bools:
    """What a chain shows after some bytes were sent. (8·n_chips,)

    Args:
        sent: the bytes in the order of sending, a chip each.
        order: which bit of a byte goes first.

    Raises:
        LanternError: a value is no byte.
    """
    for number, value in enumerate(sent):
        if not 0 <= value <= 255:
            raise LanternError(f"{value} is no byte", f"byte {number + 1}", "0 to 255")
    bits = (np.array(sent[::-1], int)[:, None] >> np.arange(EACH)) & 1
    if order == "lsb_first":
        bits = bits[:, ::-1]
    return np.asarray(bits.reshape(-1) == 1)


def _chips(outputs: int) -> int:
    if outputs == 0 or outputs % EACH:
        raise LanternError(f"{outputs} outputs do not fill chips of {EACH}", "outputs", f"a multiple of {EACH}")
    return outputs // EACH


@dataclass(frozen=True)
class ChainTiming:
    """How fast a chain is: its bits, the time of a frame, and the cycles of soft dimming by their number of bits."""

    bits: int
    frame_s: float
    pins: int = PINS

    @property
    def frames_per_s(self) -> float:
        """Frames a second. [Hz]"""
        return 1 / self.frame_s

    def cycle_s(self, levels_bits: int) -> float:
        """One cycle of bit-angle dimming, the least bit lasting one frame: ``(2^b − 1) · t_frame``  (1). [s]

        Args:
            levels_bits: bits of dimming b. [-]

        Source: binary code (bit-angle) modulation.
        """
        return ((1 << levels_bits) - 1) * self.frame_s  # (1)

    def refresh_hz(self, levels_bits: int) -> float:
        """Cycles of dimming a second. [Hz]

        Args:
            levels_bits: bits of dimming. [-]
        """
        return 1 / self.cycle_s(levels_bits)


def chain_timing(chips: int, shift_hz: float, latch_s: float, outputs: int = EACH) -> ChainTiming:
    """The time of a frame: ``t = outputs · chips / f + t_latch``  (1).

    Args:
        chips: chips in the chain. [-]
        shift_hz: bits a second. [Hz]
        latch_s: time of the latch pulse. [s]
        outputs: those of a chip, a bit each. [-]

    Source: a latch register's data sheet.
    """
    bits = outputs * chips
    return ChainTiming(bits, bits / shift_hz + latch_s)  # (1)
