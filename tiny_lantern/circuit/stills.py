"""The stills that a build's drivers can reach: everything lit that can be lit at once, in as many turns as it takes."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.circuit.fitted import Still
from tiny_lantern.circuit.wires.registry import turn_of
from tiny_lantern.model.build import Build

Output = tuple[str, int]


def all_lit(build: Build, stiff: bool = False) -> Iterator[tuple[Still, frozenset[Output]]]:
    """Stills in which together every output is lit, each with the outputs that are lit in it for the first time: rows
    of a matrix, dies of a two-lead lamp and ways of a demultiplexer take turns, all else is lit in every one.

    Args:
        build: the build.
        stiff: whether sources hold their voltage whatever they give.
    """
    turns: dict[int, set[Output]] = {0: set()}
    always: set[Output] = set()
    for driver in build.drivers:
        for channel in build.channels_of[driver.id]:
            turn = turn_of(driver, channel.output)
            (always if turn is None else turns.setdefault(turn, set())).add((driver.id, channel.output))
    for turn, own in sorted(turns.items()):
        yield Still(frozenset(own | always), stiff), frozenset(own | (always if turn == 0 else set()))
