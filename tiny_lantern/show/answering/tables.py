"""A build's inputs and rules as tables of whole numbers, which the state machine and the code for boards both read."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from tiny_lantern.electrical.memo import memoised_on
from tiny_lantern.model.build import Build
from tiny_lantern.model.deed import OnLights, Valued
from tiny_lantern.model.deeds.brightness import Brightness
from tiny_lantern.model.deeds.scene import GoToScene
from tiny_lantern.model.deeds.seen import Seen
from tiny_lantern.model.deeds.speed import Speed
from tiny_lantern.model.edits import item
from tiny_lantern.model.effects import Effect
from tiny_lantern.model.input import Input, Level, Volts
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.rule import Rule
from tiny_lantern.show.scenes import seen_until, windows_of

ALL_BITS, MOST_BITS, ONE, PACE_ONE, MOST = 14, 16, 65536, 4096, 65535
ALL_WAY = 1 << ALL_BITS
HELD_FROM, HELD_TO = ALL_WAY * 5 // 8, ALL_WAY * 3 // 8
SEEN_FROM = ONE // 2
WHOLE_SHOW, NEXT = 0, -1


@dataclass(frozen=True)
class Hears:
    """An input as numbers: what its pin reads at rest and fully moved, counts where it reads ``volts``, else 0 or 1; a
    reading counts that moved by more than ``dead`` counts, and after a change it is deaf for ``deaf`` frames."""

    input_id: str
    volts: bool
    rest: int
    full: int
    dead: int = 0
    deaf: int = 0


@dataclass(frozen=True)
class Answer:
    """A rule as numbers: its input and when. One that gives a value has it between ``low`` and ``high``, in ``steps``
    where it is pressed; one at a moment begins frame ``low``, the next scene where that is ``NEXT``, and with
    ``stays`` plays from there to before ``high`` over and over."""

    rule_id: str
    input: int
    when: str
    valued: bool
    low: int
    high: int
    steps: int = 2
    even: bool = False
    stays: bool = False


@dataclass(frozen=True)
class Shaded:
    """Lights from ``first`` to before ``stop`` that a rule's value dims, in red, green and blue or some of them."""

    answer: int
    first: int
    stop: int
    colours: tuple[bool, bool, bool]


@dataclass(frozen=True)
class Clock:
    """The clock of an effect of its own: the number of the effect, the frames from ``begin`` to before ``end`` in which
    it is seen, and after how many frames of its own it begins anew."""

    effect: int
    begin: int
    end: int
    length: int


@dataclass(frozen=True)
class Tables:
    """Everything that a build answers to: inputs, rules, what rules dim, the effects with clocks of their own, and
    which rule paces which clock, 0 the show's and n the n-th effect's; which rule says of which effect, by its number,
    whether it is seen; the first frame of each scene."""

    hears: tuple[Hears, ...]
    answers: tuple[Answer, ...]
    shaded: tuple[Shaded, ...]
    clocks: tuple[Clock, ...]
    paced: tuple[tuple[int, int], ...]
    gated: tuple[tuple[int, int], ...]
    scenes: tuple[int, ...]
    ticks: int
    plays: int
    repeats: bool

    @property
    def any(self) -> bool:
        """Whether anything answers at all."""
        return bool(self.answers)


@memoised_on("inputs", "rules", "boards", "parts", "pieces", "groups", "effects", "scenes", "tick_hz", "show_s",
             "after_end", "plays")  # fmt: skip
def tables_of(build: Build) -> Tables:
    """A build's inputs and rules as numbers.

    Args:
        build: the build.
    """
    numbers = {one.id: number for number, one in enumerate(build.inputs)}
    windows = windows_of(build)
    scenes = tuple(window.begin for window in windows)
    sped = _sped(build)
    order = sorted({number for _, some in sped for number in some if number is not None})
    at = {number: place for place, number in enumerate(order, 1)}
    paced = [(answer, at[number] if number is not None else WHOLE_SHOW) for answer, some in sped for number in some]
    return Tables(
        tuple(_hears(build, one) for one in build.inputs),
        tuple(_answer(build, rule, numbers[rule.input_id], scenes) for rule in build.rules),
        tuple(shade for number, rule in enumerate(build.rules) for shade in _shades(build, number, rule)),
        tuple(_clock(build, number) for number in order), tuple(paced),
        tuple(_gates(build)), scenes, build.timeline.count, build.plays,
        build.after_end == "repeat",
    )  # fmt: skip


def _hears(build: Build, one: Input) -> Hears:
    """An input; readings of more than sixteen bits are read as sixteen."""
    part = build.shelf.find(BoardPart, item(build.boards, one.board_id, "board").part_id)
    rest, full = one.ends(part)
    if isinstance(one, Volts):
        less = max(0, part.adc_bits - MOST_BITS)
        rest, full = rest >> less, full >> less
        return Hears(one.id, True, rest, full if full != rest else rest + 1, round(one.dead_band * abs(full - rest)))
    assert isinstance(one, Level)
    return Hears(one.id, False, rest, full, 0, math.ceil(one.deaf_s * build.tick_hz - 1e-9))


def _answer(build: Build, rule: Rule, number: int, scenes: tuple[int, ...]) -> Answer:
    deed = rule.does
    if isinstance(deed, Seen):
        low, high = (ONE, 0) if deed.otherwise else (0, ONE)
        return Answer(rule.id, number, rule.when, True, low, high)
    if isinstance(deed, Valued):
        one = PACE_ONE if isinstance(deed, Speed) else ONE
        low, high = (min(round(value * one), MOST if one == PACE_ONE else ONE) for value in (deed.low, deed.high))
        return Answer(rule.id, number, rule.when, True, low, high, deed.steps, deed.even)
    assert isinstance(deed, GoToScene)
    if not scenes:
        return Answer(rule.id, number, rule.when, False, 0, 0)
    place = next((at for at, scene in enumerate(build.scenes) if scene.id == deed.scene_id), None)
    begin = NEXT if place is None else scenes[place]
    stop = 0 if place is None else scenes[place + 1] if place + 1 < len(scenes) else build.timeline.count
    return Answer(rule.id, number, rule.when, False, begin, stop, stays=deed.stays)


def _gates(build: Build) -> Iterator[tuple[int, int]]:
    """Which rule says of which effect whether it is seen."""
    numbers = {effect.id: number for number, effect in enumerate(build.effects)}
    for at, rule in enumerate(build.rules):
        if isinstance(rule.does, Seen) and rule.does.effect_id is not None:
            yield at, numbers[rule.does.effect_id]


def _shades(build: Build, number: int, rule: Rule) -> Iterator[Shaded]:
    deed = rule.does
    if isinstance(deed, Brightness):
        which = tuple(deed.colour in ("all", colour) for colour in ("red", "green", "blue"))
        for first, stop in _rows(build, deed):
            yield Shaded(number, first, stop, which)  # type: ignore[arg-type]


def _rows(build: Build, deed: OnLights) -> Iterator[tuple[int, int]]:
    """The lights that a deed is on, in rows: the first of each and the one after its last. [-]"""
    if deed.piece_id is not None:
        span = build.line.span(deed.piece_id)
        yield span.first, span.stop
    elif deed.group_id is not None:
        slots = sorted({build.line.slot_of(ref) for ref in item(build.groups, deed.group_id, "group").slots})
        starts = [at for at, slot in enumerate(slots) if not at or slots[at - 1] != slot - 1]
        for begin, end in zip(starts, [*starts[1:], len(slots)], strict=True):
            yield slots[begin], slots[end - 1] + 1
    else:
        yield 0, build.line.slot_count


def _sped(build: Build) -> list[tuple[int, list[int | None]]]:
    """The effects that each rule on speed is about, by their numbers; None stands for the whole show."""
    return [
        (number, list(_about(build, rule.does)))
        for number, rule in enumerate(build.rules)
        if isinstance(rule.does, Speed)
    ]


def _about(build: Build, deed: Speed) -> Iterator[int | None]:
    if deed.effect_id is None and deed.piece_id is None and deed.group_id is None:
        yield None
    for number, effect in enumerate(build.effects):
        if _is_about(deed, effect):
            yield number


def _is_about(deed: Any, effect: Effect) -> bool:
    """Whether it is the effect that a deed names, lies on its piece alone, or follows its group."""
    if deed.effect_id is not None:
        return bool(effect.id == deed.effect_id)
    if deed.group_id is not None:
        return bool(effect.group_id == deed.group_id)
    if deed.piece_id is None:
        return False
    return bool(effect.first.piece_id == effect.last.piece_id == deed.piece_id and effect.group_id is None)


def _clock(build: Build, number: int) -> Clock:
    starts_s, lengths_s = (np.array([getattr(effect, field) for effect in build.effects])
                           for field in ("start_s", "length_s"))  # fmt: skip
    begins, ends = build.timeline.covered(starts_s, lengths_s)
    seen = seen_until(windows_of(build), build.effects, begins, ends)
    return Clock(number, int(begins[number]), int(seen[number]), int(ends[number] - begins[number]))
