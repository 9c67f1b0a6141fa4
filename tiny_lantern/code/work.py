"""About how long a board works on one frame: an estimate from the steps of each effect's program."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.code.c_show import alike_everywhere, effects_on
from tiny_lantern.code.programs import programs_of
from tiny_lantern.code.score import Laid, Run, Score, Slice, cap_rows
from tiny_lantern.kernel.nodes import Node
from tiny_lantern.kernel.program import Program

Ints = NDArray[Any]
WIDE_INT = 32
FAR = ("div", "mod", "muldiv", "mulmod", "turn")


@dataclass(frozen=True)
class Core:
    """Clock cycles that a kind of processor takes: for a division, a hash, a product, any other step of a program; to
    look whether an effect lies on a run or a light; for a light itself; for a byte that a cap counts; for a channel's
    level. [-]

    The two that stand below were fitted to what compiled shows took on a simulated board of 8 bits, and to what data
    sheets say of cores of 32 bits; a figure of theirs may be off by a half.
    """

    division: int
    hash: int
    product: int
    step: int
    look: int
    light: int
    byte: int
    level: int


NARROW = Core(600, 800, 95, 19, 80, 540, 250, 1100)
WIDE = Core(14, 30, 8, 3, 12, 60, 20, 60)


@dataclass(frozen=True)
class Work:
    """The frame that is the most work for a board: when it begins to be, its cycles, and the lights and effects that
    make them. [frames], [-]"""

    tick: int
    cycles: int
    lights: int
    effects: int

    def time_s(self, clock_hz: float) -> float:
        """How long it takes. [s]

        Args:
            clock_hz: the processor's clock. [Hz]
        """
        return self.cycles / clock_hz


def core_of(int_bits: int) -> Core:
    """The kind of processor that a board with so wide an ``int`` has.

    Args:
        int_bits: the width. [bit]
    """
    return WIDE if int_bits >= WIDE_INT else NARROW


def cycles_of(program: Program, core: Core) -> int:
    """Clock cycles of one run of a program. [-]

    Args:
        program: the program.
        core: what runs it.
    """
    return sum(_cycles(node, core) for node in program.steps if node.args)


def _cycles(node: Node, core: Core) -> int:
    if node.op in FAR:
        by = node.args[-1]
        return core.step * 2 if by.op == "const" and by.value & (by.value - 1) == 0 else core.division
    return {"hash": core.hash, "mulq": core.product, "mul": core.product, "table": core.product * 2}.get(
        node.op, core.step
    )


def work_of(score: Score, part: Slice, core: Core) -> Work:
    """The frame that is the most work for a board.

    Args:
        score: the show.
        part: the board's part of it.
        core: what works on it.
    """
    laid = effects_on(score, part)
    caps = cap_rows(score, part)
    runs = (*part.runs, *(part.beside if caps else ()))
    lights = sum(run.count for run in runs)
    always = lights * core.light + len(laid) * core.look + len(part.levels) * core.level
    always += len(caps) * part.byte_count * core.byte
    programs = programs_of(laid)
    once = {kind: cycles_of(program, core) for kind, program in programs.items()}
    if not laid:
        return Work(0, always, lights, 0)
    each_own = [
        _looks(each, runs) * core.look + _own_cycles(each, programs, once, _covered(each, runs), core) for each in laid
    ]
    begins, ends = np.array([(each.begin, each.end) for each in laid]).T
    ticks = np.unique(begins)
    cycles = _until(begins, ticks, np.array(each_own)) - _until(ends, ticks, np.array(each_own))
    effects = _until(begins, ticks, np.ones(len(laid), int)) - _until(ends, ticks, np.ones(len(laid), int))
    at = int(cycles.argmax())
    return Work(int(ticks[at]), always + int(cycles[at]), lights, int(effects[at]))


def _until(frames: Ints, ticks: Ints, amounts: Ints) -> Ints:
    """At each of some ticks the sum of what has come by then. (n_ticks,)"""
    order = np.argsort(frames)
    return np.concatenate([[0], np.cumsum(amounts[order])])[np.searchsorted(frames[order], ticks, "right")]


def _looks(laid: Laid, runs: tuple[Run, ...]) -> int:
    """How often a board looks whether an effect lies somewhere: at each run, and at each light of those that it
    meets."""
    met = (run.count for run in runs if run.first < laid.stop and laid.first < run.first + run.count)
    return len(runs) + sum(met)


def _covered(laid: Laid, runs: tuple[Run, ...]) -> int:
    """How many of a board's lights lie between an effect's ends."""
    return sum(max(0, min(run.first + run.count, laid.stop) - max(run.first, laid.first)) for run in runs)


def _own_cycles(laid: Laid, programs: Mapping[str, Program], once: Mapping[str, int], lights: int, core: Core) -> int:
    """What an effect takes in a frame: its program for each light, or once and a copy for each."""
    cycles = once[laid.kind.kind]
    return cycles + lights * core.product if alike_everywhere(programs[laid.kind.kind]) else lights * cycles
