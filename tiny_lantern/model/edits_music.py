"""Edits of a show's song: its beats found, typed, tapped and nudged, and patterns laid on them."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from typing import Any, Literal

import numpy as np

from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_show import SHORTEST_S, lay_copies, lay_new
from tiny_lantern.model.effects import Effect
from tiny_lantern.model.errors import LanternError

Again = Literal["alike", "turned", "dealt"]
LEAST_BPM, MOST_BPM, LEAST_TAPS, LEAST_GAP_S = 20.0, 400.0, 4, 0.05
MOST_LAID, HAIR_S = 1000, 1e-3


def change_music(build: Build, **changes: Any) -> Build:
    """The build with some of its song's fields changed: the file, the beats of a bar, the first one.

    Raises:
        LanternError: a value cannot be.
    """
    return revise(build, music=revise(build.music, **changes))


def set_marks(build: Build, marks_s: Sequence[float]) -> Build:
    """The build with other beats, those beyond the show left out; bars begin with the first of them.

    Args:
        build: the build.
        marks_s: the times of the beats, rising, (n_beats,). [s]
    """
    inside = tuple(round(float(time_s), 4) for time_s in marks_s if 0 <= time_s <= build.show_s)
    return change_music(build, marks_s=inside, first=0)


def marks_by_tempo(build: Build, bpm: float, first_s: float = 0.0) -> Build:
    """The build with even beats to the end of its show.

    Args:
        build: the build.
        bpm: beats a minute. [1/min]
        first_s: the first beat. [s]

    Raises:
        LanternError: nobody counts so slowly or so fast.
    """
    if not LEAST_BPM <= bpm <= MOST_BPM:
        raise LanternError(f"{bpm:g} beats a minute", "tempo", f"{LEAST_BPM:g} to {MOST_BPM:g}")
    count = int((build.show_s - first_s) * bpm / 60 + 1e-9) + 1
    return set_marks(build, [first_s + number * 60 / bpm for number in range(count)])


def marks_from_taps(build: Build, taps_s: Sequence[float]) -> Build:
    """The build with even beats by what was tapped: the line through the taps that is nearest to all  (1), from the
    first tap to the end of the show; beats before the first tap stay.

    Args:
        build: the build.
        taps_s: when was tapped, rising, (n_taps,). [s]

    Raises:
        LanternError: there are too few taps to tell.

    Source: least squares of a straight line.
    """
    if len(taps_s) < LEAST_TAPS:
        raise LanternError(f"{len(taps_s)} taps tell no tempo", "taps", f"{LEAST_TAPS} taps or more")
    taps = np.asarray(taps_s, float)
    gap = float(np.median(np.diff(taps)))
    numbers = np.round((taps - taps[0]) / max(gap, LEAST_GAP_S))
    period, first = np.polyfit(numbers, taps, 1)  # (1)
    count = int((build.show_s - first) / period) + 1
    before = [time_s for time_s in build.music.marks_s if time_s < first - period / 2]
    return set_marks(build, [*before, *(max(0.0, first) + np.arange(count) * period)])


def nudge_mark(build: Build, mark: int, by_s: float) -> Build:
    """A beat moved, never past its neighbours.

    Args:
        build: the build.
        mark: its number, from 0. [-]
        by_s: by how much. [s]
    """
    marks = list(build.music.marks_s)
    low = marks[mark - 1] + LEAST_GAP_S if mark else 0.0
    high = marks[mark + 1] - LEAST_GAP_S if mark + 1 < len(marks) else build.show_s
    marks[mark] = round(min(max(marks[mark] + by_s, low), max(low, high)), 4)
    return change_music(build, marks_s=tuple(marks))


def add_mark(build: Build, time_s: float) -> Build:
    """A beat more.

    Args:
        build: the build.
        time_s: when. [s]

    Raises:
        LanternError: there is one already.
    """
    near = build.music.near(time_s)
    if near is not None and abs(build.music.marks_s[near] - time_s) < LEAST_GAP_S:
        raise LanternError("there is a beat already", "marks", f"{LEAST_GAP_S:g} s or more from the others")
    return change_music(build, marks_s=tuple(sorted((*build.music.marks_s, round(time_s, 4)))))


def remove_mark(build: Build, mark: int) -> Build:
    """A beat less.

    Args:
        build: the build.
        mark: its number, from 0. [-]
    """
    marks = build.music.marks_s
    first = min(build.music.first, max(0, len(marks) - 2))
    return change_music(build, marks_s=(*marks[:mark], *marks[mark + 1 :]), first=first)


def begin_bars_at(build: Build, mark: int) -> Build:
    """Bars that begin with a beat; those before it are an upbeat.

    Args:
        build: the build.
        mark: its number, from 0. [-]
    """
    return change_music(build, first=mark % build.music.per_bar)


def lay_on_beats(
    build: Build, kind: str, first_slot: int, last_slot: int, from_bar: int, to_bar: int, every: int = 1,
    again: Again = "alike", group_id: str | None = None,
) -> Build:  # fmt: skip
    """A look laid on every so many beats, each lasting to the next of them.

    Args:
        build: the build.
        kind: the kind of effect.
        first_slot: its first light. [-]
        last_slot: its last. [-]
        from_bar: the bar that it begins with, the first 1. [-]
        to_bar: the bar that it ends with. [-]
        every: on how many beats one comes. [-]
        again: how it comes again: alike, turned round by a light more each time, or dealt anew.
        group_id: the group that it follows, if any.

    Raises:
        LanternError: there are no such bars, or too many beats.
    """
    music = build.music
    if not 1 <= from_bar <= to_bar <= music.bar_count:
        raise LanternError(f"there are no bars {from_bar} to {to_bar}", "bars", f"1 to {music.bar_count}")
    marks = music.in_bars(from_bar, to_bar)[::every]
    if len(marks) > MOST_LAID:
        told = f"at most {MOST_LAID}: fewer bars, or every few beats"
        raise LanternError(f"{len(marks)} effects at once", "bars", told)
    chance = np.random.default_rng([first_slot, last_slot, from_bar, to_bar, every])
    spans = [(music.marks_s[mark], music.end_s(min(mark + every - 1, len(music.marks_s) - 1))) for mark in marks]
    spans = [(start_s, min(end_s, build.show_s)) for start_s, end_s in spans if start_s < build.show_s]
    model = lay_new(build, kind, first_slot, last_slot, 0.0, build.show_s, group_id).effects[-1]
    count = last_slot - first_slot + 1
    return lay_copies(build, model, [
        {"start_s": start_s, "length_s": max(SHORTEST_S, end_s - start_s)} | _again(model, again, number, count, chance)
        for number, (start_s, end_s) in enumerate(spans)
    ])  # fmt: skip


def _again(
    model: Effect, again: Again, number: int, count: int, chance: np.random.Generator
) -> dict[str, Any]:  # fmt: skip
    """What makes one of many effects another than the first: nothing where they are alike."""
    if again == "dealt" and model.look.values.get("seed") is not None:
        return {"look": revise(model.look, seed=int(chance.integers(1, 1000)))}
    if again == "alike":
        return {}
    return {"turned": number % count if again == "turned" else int(chance.integers(count))}


def empty_bars(build: Build) -> tuple[int, ...]:
    """The bars in which nothing begins, and nothing that is not longer than two bars goes on: they are still to be
    filled. [-]

    Args:
        build: the build.
    """
    music = build.music
    bars = [music.bar_s(bar) for bar in range(1, music.bar_count + 1)]
    begins = [begin_s for begin_s, _ in bars]
    longest_s = max((end_s - begin_s for begin_s, end_s in bars), default=0.0)
    filled: set[int] = set()
    for effect in build.effects:
        end_s = effect.start_s + effect.length_s if effect.length_s <= 2 * longest_s + HAIR_S else effect.start_s
        first = max(0, bisect_right(begins, effect.start_s + HAIR_S) - 1)
        last = max(first + 1, bisect_right(begins, end_s))
        filled.update(at for at in range(first, min(last, len(bars))) if _fills(effect, *bars[at]))
    return tuple(at + 1 for at in range(len(bars)) if at not in filled)


def _fills(effect: Effect, begin_s: float, end_s: float) -> bool:
    """Whether an effect begins in a bar, or goes on in it and is no longer than two."""
    if begin_s - HAIR_S <= effect.start_s < end_s - HAIR_S:
        return True
    goes_on = effect.start_s < end_s and effect.start_s + effect.length_s > begin_s + HAIR_S
    return goes_on and effect.length_s <= 2 * (end_s - begin_s) + HAIR_S
