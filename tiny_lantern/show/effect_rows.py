"""One effect's frames as bytes, each that is unlike the others worked out once: a chase has as many as its spacing.

Frames that hardly ever come again are kept no longer: once there are many, some must have been found again.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.effects.kind import Span, Value
from tiny_lantern.effects.registry import effect_kinds
from tiny_lantern.kernel.narrow import Rows
from tiny_lantern.kernel.narrowed import Known, narrowed
from tiny_lantern.kernel.program import Program
from tiny_lantern.model.effects import Effect
from tiny_lantern.show.looks import as_bytes, look_numbers
from tiny_lantern.show.turning import turned_places, turned_ticks

Bytes = NDArray[np.uint8]
Ints = NDArray[Any]
MOST_ROW_BYTES = 4_000_000
MANY, SELDOM = 500, 4
CLOSE = 1 << 17
FEW_LIT = 8  # of so many lights at most one is lit where it pays to leave the others dark
LONG = 2000  # lights from which on it pays to put into a program what is known of the effect


class EffectRows:
    """The frames of an effect on some of its lights.

    Args:
        effect: the effect.
        place: number of each light within it, from 0, (n_places,). [-]
        span: where it lies.
        ends: the frame of the show that it begins with, and the one after its last. [-]
    """

    def __init__(self, effect: Effect, place: Ints, span: Span, ends: tuple[int, int]) -> None:
        self._effect, self._ends, self._count = effect, ends, len(place)
        numbers = {**look_numbers(effect.look, span), "count": span.count}
        program = effect_kinds()[effect.look.kind].program
        if len(place) >= LONG:
            program = narrowed(program, _known(program, numbers, ends[1] - ends[0]))
        self._rows = Rows(program, numbers, turned_places(effect, place, span.count))
        self._kept: dict[bytes, Bytes] | None = {}
        self._found_again = 0
        self._shades: tuple[list[Ints], Shades] | None = None

    @property
    def kept_bytes(self) -> int:
        """How much memory the frames take that are kept. [B]"""
        return len(self._kept or ()) * self._count * 3

    def write(self, into: Bytes, columns: slice | Ints, ticks: Ints) -> None:
        """Put its frames at some ticks of the show into an image.

        Args:
            into: rows of the image, (n_ticks, n_slots, 3), changed. [-]
            columns: where its lights are among the slots, (n_places,). [-]
            ticks: frames of the show, (n_ticks,). [-]
        """
        own, kept = turned_ticks(self._effect, ticks, *self._ends), self._kept
        if kept is None or not self._rows.narrow.comes_round:
            into[:, columns] = self._worked_out(own)
            return
        keys = [key.tobytes() for key in np.ascontiguousarray(self._rows.keys(own))]
        first: dict[bytes, int] = {}
        for at, key in enumerate(keys):
            first.setdefault(key, at)
        new = [key for key in first if key not in kept]
        worked_out = self._worked_out(own[np.array([first[key] for key in new], np.intp)])
        found = dict(zip(new, worked_out, strict=True))
        if len(new) == len(keys):
            into[:, columns] = worked_out
        else:
            for row, key in zip(into, keys, strict=True):
                row[columns] = found[key] if key in found else kept[key]
        self._found_again += len(first) - len(new)
        if (len(kept) + len(found)) * self._count * 3 <= MOST_ROW_BYTES:
            self._kept = kept | found if self._found_again * SELDOM >= len(kept) - MANY else None

    def light(self, ticks: Ints) -> list[Ints]:
        """Its light at some ticks of the show, linear, 65536 for full: red, green and blue, arrays that broadcast to
        (n_ticks, n_places). [-]

        Args:
            ticks: frames of the show, (n_ticks,). [-]
        """
        return self._rows.few(turned_ticks(self._effect, ticks, *self._ends))

    def _worked_out(self, ticks: Ints) -> Bytes:
        """Frames of the effect, as many at a time as stay close to the processor. (n_ticks, n_places, 3)"""
        found, step = np.empty((len(ticks), self._count, 3), np.uint8), max(1, CLOSE // self._count)
        for at in range(0, len(ticks), step):
            self._fill(found[at : at + step], ticks[at : at + step])
        return found

    def _fill(self, into: Bytes, ticks: Ints) -> None:
        told = self._rows.outcomes(ticks)
        if told is None:
            for channel, light in enumerate(self._rows.results(ticks)):
                into[..., channel] = as_bytes(light)
            return
        numbers, first, values = told
        if self._shades is None or self._shades[0] is not values:
            self._shades = values, Shades(values)
        self._shades[1].fill(into, numbers, first)


class Shades:
    """The colour of every outcome.

    Args:
        values: linear red, green and blue of each, (n_outcomes,) each, 65536 for full. [-]
    """

    def __init__(self, values: list[Ints]) -> None:
        self._bytes = np.zeros((len(values[0]), 4), np.uint8)
        self._bytes[:, :3] = as_bytes(np.stack(values, axis=-1))
        self._words = self._bytes.view(np.uint32)[:, 0]
        lit = np.flatnonzero(self._words)
        self._lit = (int(lit[0]), int(lit[-1])) if len(lit) else (0, -1)

    def fill(self, into: Bytes, numbers: Ints, first: int) -> None:
        """Put the colours of some outcomes into rows: where few are lit only those.

        Args:
            into: the rows, (n_ticks, n_places, 3), without gaps between them, changed. [-]
            numbers: the number of the outcome of each, (n_ticks or 1, n_places or 1). [-]
            first: the number of the first outcome. [-]
        """
        low, high = self._lit[0] + first, self._lit[1] + first
        if numbers.shape == into.shape[:2] and (high - low) * FEW_LIT < numbers.size:
            lit = np.flatnonzero((numbers >= low) & (numbers <= high))
            if len(lit) * FEW_LIT < numbers.size:
                into[:] = 0
                into.reshape(-1, 3)[lit] = self._bytes[numbers.ravel()[lit] - first, :3]
                return
        which = np.subtract(numbers, first, dtype=np.intp)
        four = self._words.take(which, mode="clip").view(np.uint8).reshape(*np.shape(which), 4)
        for channel in range(3):  # much quicker than the three at once
            into[..., channel] = four[..., channel]


def _known(program: Program, numbers: Mapping[str, Value], ticks: int) -> Known:
    """What is known of the inputs of an effect that lasts so many frames."""
    whole = {name: value for name, value in numbers.items() if isinstance(value, int)}
    ends = {node.name: (whole[node.name],) * 2 for node in program.inputs if node.name in whole}
    ends |= {"slot": (0, whole["count"] - 1), "tick": (0, max(1, ticks))}
    return frozenset((name, low, high) for name, (low, high) in ends.items())


def alone_among(first: Ints, stop: Ints) -> NDArray[np.bool_]:
    """Which of some stretches of slots meet no other. (n_stretches,) [-]

    Args:
        first: the first slot of each, (n_stretches,). [-]
        stop: the one after its last, (n_stretches,). [-]
    """
    if not len(first):
        return np.zeros(0, bool)
    steps = np.zeros(int(stop.max()) + 1, np.int64)
    np.add.at(steps, first, 1)
    np.subtract.at(steps, stop, 1)
    shared = np.concatenate([[0], np.cumsum(np.cumsum(steps) > 1)])
    return np.asarray(shared[stop] == shared[first])
