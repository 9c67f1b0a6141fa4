"""What the bench station shows of a build: steps, patterns, terminals, lamps, and what a meter should say anywhere."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np

from tiny_lantern.bench.of_build import AtBench, lamp_words
from tiny_lantern.bench.order import Asked, Expected, Order, Step
from tiny_lantern.bench.patterns import Pattern, patterns_of
from tiny_lantern.bench.seen import WORDS, words_of
from tiny_lantern.bench.strips.of_build import pattern_name, strip_patterns
from tiny_lantern.bench.where import where_words
from tiny_lantern.circuit.equations import NotSolvedError
from tiny_lantern.circuit.paths import Path, paths_of
from tiny_lantern.model.build import Build


@dataclass(frozen=True)
class BenchSheet:
    """Steps in their order, patterns that can be run, terminals and what carries current by their keys with what they
    are called, and the ways of the current that are drawn."""

    steps: tuple[Step, ...]
    patterns: tuple[Pattern, ...]
    terminals: Mapping[str, str]
    conductors: Mapping[str, str]
    paths: tuple[Path, ...]

    def step(self, key: str) -> Step | None:
        """A step by its key.

        Args:
            key: the key.
        """
        return next((step for step in self.steps if step.key == key), None)


@dataclass(frozen=True)
class Place:
    """Where a meter is put, in words, what it should say, None where that cannot be told, and what is to be minded."""

    asked: Asked
    words: str
    expected: Expected | None
    caution: str


@dataclass(frozen=True)
class LampSeen:
    """A lamp: its name in the circuit, what it is called, and the word for what it should do in a pattern."""

    lamp: str
    name: str
    word: str


def bench_sheet(build: Build, progress: Callable[[float], None], cancelled: Callable[[], bool]) -> BenchSheet:
    """All that is shown of a build before anything is read.

    Args:
        build: the build.
        progress: told how far it is. [-]
        cancelled: asked whether to stop.
    """
    bench = AtBench(build)
    try:
        paths = paths_of(build)
    except NotSolvedError:
        paths = ()
    order = Order(bench)
    terminals = {terminal.key: terminal.name for terminal in bench.terminals}
    conductors = {each: bench.words(each) for each in (*(supply.id for supply in build.supplies), *bench.rows)}
    patterns = patterns_of(build)
    if order.strips is not None:
        terminals |= order.strips.pads
        feeds = (row for row in bench.circuit.conductors if row.key.startswith("feed/"))
        conductors |= {row.key: row.words for row in feeds}
        patterns = (*patterns, *strip_patterns())
    return BenchSheet(order.steps(), patterns, terminals, conductors, paths)


def places_at(
    build: Build, asked: tuple[Asked, ...], progress: Callable[[float], None], cancelled: Callable[[], bool]
) -> dict[Asked, Place | None]:
    """What is to be said of places to read; None of what the build does not have.

    Args:
        build: the build.
        asked: where. (n_places,)
        progress: told how far it is. [-]
        cancelled: asked whether to stop.
    """
    bench = AtBench(build)
    order = Order(bench)
    return {each: _place(bench, order, each) for each in asked}


def _place(bench: AtBench, order: Order, asked: Asked) -> Place | None:
    known = {*bench.ends, *bench.rows, *(supply.id for supply in bench.build.supplies)}
    strips = pattern_name(asked.pattern) is not None
    if not strips and not {each for each in (asked.plus, asked.minus, asked.conductor) if each} <= known:
        return None
    expected = order.expected(asked)
    if strips and expected is None:
        return None
    return Place(asked, where_words(bench, asked), expected, _caution(asked))


def _caution(asked: Asked) -> str:
    if asked.kind == "ohm":
        return "Supply off and unplugged, cells out: ohms of anything that is on are wrong, and can harm the meter."
    if asked.kind == "A":
        return "Off before the lead is opened, the red plug in the A socket; back in V before the next volts."
    return "Range 20 V DC. One hand, and no probe may bridge two legs. Never on the mains side."


def lamps_seen(
    build: Build, pattern: Pattern, progress: Callable[[float], None], cancelled: Callable[[], bool]
) -> tuple[LampSeen, ...]:
    """Every lamp with the word for what it should do in a pattern.

    Args:
        build: the build.
        pattern: the pattern.
        progress: told how far it is. [-]
        cancelled: asked whether to stop.
    """
    bench = AtBench(build)
    plan = bench.plan(pattern)
    try:
        solution = bench.solution(pattern)
    except NotSolvedError:
        return ()
    numbers = {each.id: at for at, each in enumerate(plan.netlist.elements)}
    planned = np.array([solution.reading(numbers[lamp]).current_a for lamp in plan.lamps])
    words = words_of(planned[None], planned)[0] if len(planned) else []
    names = lamp_words(build)
    return tuple(
        LampSeen(lamp, names.get(lamp, lamp), WORDS[word]) for lamp, word in zip(plan.lamps, words, strict=True)
    )
