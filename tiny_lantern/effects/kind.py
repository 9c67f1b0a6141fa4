"""What makes a kind of effect: its parameters with units and ranges, and one program that everything plays it from."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Literal

from tiny_lantern.kernel.nodes import ONE, Node, Type, given
from tiny_lantern.kernel.program import Program

MOST_LIGHTS = 100_000
MOST_TICKS = 86_400 * 400
RGB = ("red", "green", "blue")
Light = tuple[Node, Node, Node]


@dataclass(frozen=True)
class ColourParameter:
    """A colour that a person chooses; the program is given its three shares of linear light."""

    name: str
    label: str
    default: str


@dataclass(frozen=True)
class Number:
    """A number that a person chooses. ``unit`` is a quantity's, ``ratio`` for a share, or empty for a count; where
    there are ``words``, each whole number from the lowest up has one and is chosen by it."""

    name: str
    label: str
    default: float
    low: float
    high: float
    unit: str = ""
    whole: bool = False
    words: tuple[str, ...] = ()

    def within(self, lights: int, length_s: float) -> tuple[float, float]:
        """The range that makes sense for so many lights and so long a time; more can be typed.

        Args:
            lights: how many it lies on. [-]
            length_s: how long it lasts. [s]
        """
        high = self.high
        if self.name.endswith("_px"):
            high = max(float(lights), self.low + 1)
        elif self.name.endswith("_px_per_s"):
            high = max(4.0 * lights, 10.0)
        elif self.unit == "s":
            high = max(length_s, 4 * self.low, 1.0)
        high = min(high, self.high)
        return (max(self.low, -high) if self.low < 0 else self.low), high


@dataclass(frozen=True)
class TextParameter:
    """Words that a person writes. ``read`` refuses what cannot be used with a ValueError that says what can; ``shape``
    tells whether it is one line, several, a picture as rows of colours, or a curve, which can be drawn as well: what is
    read is then its levels as Q16; ``hint`` says what to write."""

    name: str
    label: str
    default: str
    read: Callable[[str], object]
    hint: str
    shape: Literal["line", "lines", "picture", "curve"] = "line"
    most: int = 400


Parameter = ColourParameter | Number | TextParameter


@dataclass(frozen=True)
class Span:
    """Where an effect lies: on so many lights, for a time, at so many frames a second."""

    count: int
    length_s: float
    tick_hz: float

    @property
    def length_ticks(self) -> float:
        """How long it lasts. [frames]"""
        return self.length_s * self.tick_hz


Value = int | tuple[int, ...]
Numbers = Callable[[Mapping[str, Any], Span], Mapping[str, Value]]


def _none(values: Mapping[str, Any], span: Span) -> dict[str, Value]:
    return {}


@dataclass(frozen=True)
class EffectKind:
    """One kind of effect.

    ``light`` builds its program: linear red, green and blue, Q16 from 0 to 1, of the inputs that this module offers.
    ``numbers`` makes the program's own integers from the values chosen and from where the effect lies. ``sample`` are
    values with which a small picture of it tells most; ``fresh`` are those that a new one is given where older builds,
    which do not say them, keep the look that they had; ``rank`` is its place among the others.
    """

    kind: str
    help: str
    rank: int
    parameters: tuple[Parameter, ...]
    light: Callable[[], Light]
    numbers: Numbers = _none
    sample: Mapping[str, Any] = field(default_factory=dict)
    fresh: Mapping[str, Any] = field(default_factory=dict)

    @cached_property
    def program(self) -> Program:
        """Its program, built once."""
        return Program(f"effect_{self.kind}", self.light())


def slot() -> Node:
    """The number of a light within the effect, from 0."""
    return given("slot", 0, MOST_LIGHTS - 1)


def count() -> Node:
    """How many lights the effect covers."""
    return given("count", 1, MOST_LIGHTS)


def tick() -> Node:
    """Frames since the effect began, from 0."""
    return given("tick", 0, MOST_TICKS)


def colour(name: str) -> Light:
    """The linear red, green and blue of a colour parameter, Q16."""
    red, green, blue = (given(f"{name}_{channel}", 0, ONE, Type.Q16) for channel in RGB)
    return red, green, blue


def ratio(name: str) -> Node:
    """A share that ``numbers`` gives, Q16 from 0 to 1."""
    return given(name, 0, ONE, Type.Q16)


def whole(name: str, low: int, high: int) -> Node:
    """A whole number that ``numbers`` gives."""
    return given(name, low, high)


def at_level(light: Light, level: Node) -> Light:
    """A colour at a level from 0 to 1.

    Args:
        light: its red, green and blue, Q16, (3,). [-]
        level: Q16. [-]
    """
    red, green, blue = light
    level = level.called("level")
    return red * level, green * level, blue * level
