"""The song of a show: its file, and the marks of its beats, gathered into bars."""

from __future__ import annotations

from bisect import bisect_left
from itertools import pairwise
from typing import Annotated, Self

from pydantic import Field, model_validator

from tiny_lantern.model.base import Frozen, Seconds, Text

Path = Annotated[Text, Field(max_length=1000)]
MOST_MARKS = 50_000


class Music(Frozen):
    """What a show goes with: a sound file by its path, empty without one; the times of its beats, rising; how many make
    a bar, and which of them the first bar begins with."""

    file: Path = ""
    marks_s: Annotated[tuple[Seconds, ...], Field(max_length=MOST_MARKS)] = ()
    per_bar: Annotated[int, Field(ge=1, le=64)] = 4
    first: Annotated[int, Field(ge=0, le=MOST_MARKS)] = 0

    @model_validator(mode="after")
    def _rise(self) -> Self:
        if any(later <= earlier for earlier, later in pairwise(self.marks_s)):
            raise ValueError("the marks of beats do not rise")
        return self

    @property
    def bar_count(self) -> int:
        """How many whole bars there are. [-]"""
        return max(0, len(self.marks_s) - self.first) // self.per_bar

    def bar_s(self, bar: int) -> tuple[float, float]:
        """When a bar begins and when it ends. [s]

        Args:
            bar: its number, the first 1. [-]
        """
        at = self.first + (bar - 1) * self.per_bar
        return self.marks_s[at], self.end_s(at + self.per_bar - 1)

    def end_s(self, mark: int) -> float:
        """When the beat of a mark ends: at the next, or after as long as the one before it lasted. [s]

        Args:
            mark: its number, from 0. [-]
        """
        if mark + 1 < len(self.marks_s):
            return self.marks_s[mark + 1]
        before = self.marks_s[mark - 1] if mark else max(0.0, self.marks_s[mark] - 0.5)
        return 2 * self.marks_s[mark] - before

    def in_bars(self, from_bar: int, to_bar: int) -> range:
        """The numbers of the marks from one bar to another, both included. [-]

        Args:
            from_bar: the first bar. [-]
            to_bar: the last. [-]
        """
        first = self.first + (from_bar - 1) * self.per_bar
        return range(first, min(self.first + to_bar * self.per_bar, len(self.marks_s)))

    def near(self, time_s: float) -> int | None:
        """The number of the mark nearest to a moment; None without marks. [-]

        Args:
            time_s: the moment. [s]
        """
        if not self.marks_s:
            return None
        at = bisect_left(self.marks_s, time_s)
        return min((each for each in (at - 1, at) if 0 <= each < len(self.marks_s)),
                   key=lambda each: abs(self.marks_s[each] - time_s))  # fmt: skip

    @property
    def bpm(self) -> float | None:
        """How fast the beats go on the whole; None with fewer than two. [1/min]"""
        if len(self.marks_s) < 2:
            return None
        gaps = sorted(later - earlier for earlier, later in pairwise(self.marks_s))
        return 60 / gaps[len(gaps) // 2]
