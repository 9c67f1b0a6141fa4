"""What an effect gives at some lights and frames, by its program: shares of linear light as integers."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.effects.kind import RGB, ColourParameter, Span
from tiny_lantern.effects.registry import effect_kinds
from tiny_lantern.kernel.arrays import evaluate
from tiny_lantern.kernel.nodes import HALF, ONE
from tiny_lantern.kernel.program import Program
from tiny_lantern.light.colour import linear_of
from tiny_lantern.model.effects import Look, look_of

Ints = NDArray[Any]
Bytes = NDArray[np.uint8]
FULL_BYTE = 255
MOST_KEPT = 10_000


def look_light(look: Look, place: Ints, span: Span, ticks: Ints) -> list[Ints]:
    """Red, green and blue of a look, linear, 65536 for full: three arrays that broadcast to (n_frames, n_places). [-]

    Args:
        look: the look with its parameters.
        place: number of each light within the effect, from 0, (n_places,). [-]
        span: where the effect lies.
        ticks: frames since the effect began, (n_frames,). [-]
    """
    numbers = {**look_numbers(look, span), "slot": place[None, :], "count": span.count, "tick": ticks[:, None]}
    return evaluate(effect_kinds()[look.kind].program, numbers)


@lru_cache(maxsize=MOST_KEPT)
def look_numbers(look: Look, span: Span) -> dict[str, int | tuple[int, ...]]:
    """The integers that a look's program is given, and its lists, by name. [-]

    Args:
        look: the look with its parameters.
        span: where the effect lies.
    """
    kind, values = effect_kinds()[look.kind], look.values
    numbers = dict(kind.numbers(values, span))
    for parameter in kind.parameters:
        if isinstance(parameter, ColourParameter):
            shares = np.round(linear_of(values[parameter.name]) * ONE).astype(int).tolist()
            numbers |= {f"{parameter.name}_{channel}": share for channel, share in zip(RGB, shares, strict=True)}
    return numbers


def switched(look: Look, span: Span) -> tuple[Program, tuple[bool, ...]]:
    """The program of a look, and which of its switches are on.

    Args:
        look: the look with its parameters.
        span: where the effect lies.
    """
    program, numbers = effect_kinds()[look.kind].program, look_numbers(look, span)
    return program, tuple(numbers[node.name] != 0 for node in program.switches if node.name in numbers)


def sample_of(kind: str, lights: int, frames: int, length_s: float) -> Bytes:
    """A small picture of a kind of effect: time downward, linear bytes, (n_frames, n_lights, 3).

    Args:
        kind: the kind.
        lights: lights across. [-]
        frames: moments down. [-]
        length_s: the time that they stand for. [s]
    """
    look = look_of(kind, **effect_kinds()[kind].sample)
    span = Span(lights, length_s, frames / length_s)
    found = look_light(look, np.arange(lights), span, np.arange(frames))
    return as_bytes(np.stack([np.broadcast_to(channel, (frames, lights)) for channel in found], axis=-1))


def as_bytes(light: Ints) -> Bytes:
    """Shares of linear light as bytes, any shape: 65536 to 255. [-]

    Args:
        light: the shares, any shape (…). [-]
    """
    return ((light * FULL_BYTE + HALF) >> 16).astype(np.uint8)
