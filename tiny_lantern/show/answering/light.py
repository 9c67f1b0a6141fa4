"""The frame of a state: what the effects give by their own clocks, dimmed as the rules have it, within the caps."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.effects.kind import Span
from tiny_lantern.model.effects import Effect
from tiny_lantern.show.answering.machine import State, ended, shown_of
from tiny_lantern.show.answering.tables import ONE, SEEN_FROM, Tables
from tiny_lantern.show.limit import capped, scales_of
from tiny_lantern.show.weave import Show, light_anew

Bytes = NDArray[np.uint8]
Ints = NDArray[np.int64]
Light = NDArray[Any]


def frame_of(show: Show, tables: Tables, state: State, dark_after: bool = False) -> Bytes:
    """The frame of a state. (n_slots, 3), linear red, green, blue, 0 to 255

    Args:
        show: the show, compiled.
        tables: what it answers to.
        state: the state.
        dark_after: whether all is dark once the show is over.
    """
    if dark_after and ended(tables, state.frame):
        return np.zeros((show.slot_count, 3), np.uint8)
    own = {show.effects[clock.effect].id: frame for clock, (frame, _) in zip(tables.clocks, state.clocks, strict=True)}

    def light_of(effect: Effect, place: Ints, span: Span, ends: tuple[int, int], ticks: Ints) -> list[Light]:
        at = own.get(effect.id)
        return light_anew(effect, place, span, ends, ticks if at is None else np.full_like(ticks, ends[0] + at))

    tick = shown_of(tables, state.frame)
    asked = show.asked(tick, light_of if own else light_anew, hidden_of(tables, state))
    frame = shaded(asked, tables, state)
    if not show.caps:
        return frame
    scales = scales_of(frame[None], show.caps)
    return np.asarray(capped(frame[None], np.arange(show.slot_count), scales, show.caps)[0])


def hidden_of(tables: Tables, state: State) -> frozenset[int]:
    """The effects that rules have it are not seen, by their numbers; of several rules on one all must have it seen.

    Args:
        tables: what the build answers to.
        state: the state.
    """
    return frozenset(effect for answer, effect in tables.gated if state.values[answer] < SEEN_FROM)


def shaded(frame: Bytes, tables: Tables, state: State) -> Bytes:
    """A frame dimmed as the rules have it: their values, multiplied. (n_slots, 3) to the same

    Args:
        frame: the frame as it is asked for, (n_slots, 3). [-]
        tables: what the build answers to.
        state: the state.
    """
    if all(state.values[shade.answer] == ONE for shade in tables.shaded):
        return frame
    share = np.full(frame.shape, ONE, np.int64)
    for shade in tables.shaded:
        value = state.values[shade.answer]
        if value < ONE:
            part = share[shade.first : shade.stop]
            part[:, shade.colours] = part[:, shade.colours] * value >> 16
    return ((frame * share + ONE // 2) >> 16).astype(np.uint8)
