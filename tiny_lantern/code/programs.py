"""The programs of a show's effects, one a kind, with the numbers put in that all effects of the kind have in common."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from tiny_lantern.code.score import Laid
from tiny_lantern.kernel.narrowed import narrowed
from tiny_lantern.kernel.program import Program


def programs_of(laid: Sequence[Laid]) -> dict[str, Program]:
    """The program of each kind among some effects, by the kind: what differs from one effect to another is still given,
    the rest is worked out already.

    Args:
        laid: the effects.
    """
    alike: dict[str, list[Laid]] = {}
    for each in laid:
        alike.setdefault(each.kind.kind, []).append(each)
    return {kind: narrowed(own[0].kind.program, frozenset(_known(own))) for kind, own in alike.items()}


def _known(alike: Sequence[Laid]) -> Iterator[tuple[str, int, int]]:
    """The lowest and the highest number of each input and list among effects of one kind."""
    program = alike[0].kind.program
    yield "slot", 0, max(each.count for each in alike) - 1
    yield "tick", 0, max(max(each.end, each.own_end) - each.begin for each in alike)
    for node in program.inputs:
        if node.name not in ("slot", "tick"):
            numbers = [each.number(node.name) for each in alike]
            yield node.name, min(numbers), max(numbers)
    for node in program.lists:
        lists = [each.list(node.name) for each in alike]
        yield node.name, min(map(min, lists)), max(map(max, lists))
