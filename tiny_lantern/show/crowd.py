"""One frame of many effects at once: those of a kind are worked out together, then laid in their order."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.effects.kind import Span
from tiny_lantern.effects.registry import effect_kinds
from tiny_lantern.kernel.arrays import Ready
from tiny_lantern.model.effects import Effect
from tiny_lantern.show.looks import look_numbers
from tiny_lantern.show.turning import turned_places

Ints = NDArray[Any]


@dataclass(frozen=True)
class Laid:
    """An effect with its place: lights from ``first`` to before ``stop``, frames from ``begin`` to before ``end``; of
    one that follows a group its slots in order, (n_slots,)."""

    effect: Effect
    first: int
    stop: int
    begin: int
    end: int
    slots: Ints | None = None

    @property
    def count(self) -> int:
        """How many lights it has. [-]"""
        return self.stop - self.first if self.slots is None else len(self.slots)


@dataclass(frozen=True)
class _Kind:
    """All effects of a kind that share their lists, light by light one after another: where their lights stand in the
    row of all effects' lights, and the program, ready but for the frame of each."""

    ready: Ready
    places: Ints
    forward: Ints | int
    from_tick: Ints | int


class Crowd:
    """Some effects, the lowest first, compiled for frames that show them all.

    Args:
        laid: the effects with their places.
        tick_hz: frames a second. [Hz]
    """

    def __init__(self, laid: list[Laid], tick_hz: float) -> None:
        counts = np.array([each.count for each in laid], np.int64)
        self._columns = np.concatenate(
            [np.arange(each.first, each.stop) if each.slots is None else each.slots for each in laid]
        )
        self._starts = np.concatenate([[0], np.cumsum(counts)])
        self._kinds = list(_by_kind(laid, counts, self._starts, tick_hz))
        self._layers = list(_disjoint(laid))

    def lay(self, below: Ints, tick: int, layered: Callable[[Ints, Ints, str], Ints]) -> None:
        """Lay one frame of them on what is below, (3, n_slots), 65536 for full. [-]

        Args:
            below: the light so far, (3, n_slots), changed. [-]
            tick: the frame. [-]
            layered: how one effect is laid on what is below it.
        """
        light = np.zeros((3, self._starts[-1]), np.int32)
        for kind in self._kinds:
            found = kind.ready({"tick": tick * kind.forward + kind.from_tick})
            for channel, value in zip(light, found, strict=True):
                channel[kind.places] = value
        for layer, first, stop in self._layers:
            part = slice(self._starts[first], self._starts[stop])
            columns = self._columns[part]
            below[:, columns] = layered(below[:, columns], light[:, part], layer)


def _runs(firsts: Ints, counts: Ints) -> Ints:
    """Whole numbers from each first on, so many of each, one run after another."""
    before = np.cumsum(counts) - counts
    return np.repeat(firsts - before, counts) + np.arange(counts.sum())


def _by_kind(laid: list[Laid], counts: Ints, starts: Ints, tick_hz: float) -> Iterator[_Kind]:
    given = [
        look_numbers(each.effect.look, Span(int(count), each.effect.length_s, tick_hz))
        for each, count in zip(laid, counts, strict=True)
    ]
    members: dict[tuple[object, ...], list[int]] = {}
    for number, (each, own) in enumerate(zip(laid, given, strict=True)):
        lists = tuple(value for value in own.values() if isinstance(value, tuple))
        members.setdefault((each.effect.look.kind, *lists), []).append(number)
    for (kind, *_), chosen in members.items():
        sizes = counts[chosen]
        rows = [given[number] for number in chosen]
        inputs = {
            **{name: _once_or_each([row[name] for row in rows], sizes) for name in rows[0]},
            "slot": np.concatenate(
                [
                    turned_places(laid[n].effect, np.arange(size), int(size))
                    for n, size in zip(chosen, sizes, strict=True)
                ]
            ),
            "count": _once_or_each(sizes.tolist(), sizes),
        }
        forward = _once_or_each([-1 if laid[number].effect.backward else 1 for number in chosen], sizes)
        from_tick = _once_or_each([_from_tick(laid[number]) for number in chosen], sizes)
        many = not (isinstance(forward, int) and isinstance(from_tick, int))
        ready = Ready(effect_kinds()[str(kind)].program, inputs, {"tick": many})
        yield _Kind(ready, _runs(starts[chosen], sizes), forward, from_tick)


def _from_tick(laid: Laid) -> int:
    """What is added to a frame of the show, or to its opposite, for the frame of the effect. [-]"""
    return laid.end - 1 if laid.effect.backward else -laid.begin


def _once_or_each(values: list[Any], sizes: Ints) -> Any:
    """A number or a list that all effects share, or each light's own number."""
    return values[0] if len(set(values)) == 1 else np.repeat(np.array(values, np.int64), sizes)


def _disjoint(laid: list[Laid]) -> Iterator[tuple[str, int, int]]:
    """Effects in their order, as many together as are laid alike and have no light in common: layer, first, stop."""
    begin, taken = 0, _Taken()
    for number, each in enumerate(laid):
        alike = each.effect.layer == laid[begin].effect.layer
        if number > begin and not (alike and taken.free(each)):
            yield laid[begin].effect.layer, begin, number
            begin, taken = number, _Taken()
        taken.add(each)
    if laid:
        yield laid[begin].effect.layer, begin, len(laid)


class _Taken:
    """Lights that some effects have, as one byte each."""

    def __init__(self) -> None:
        self._lights = bytearray()

    def free(self, laid: Laid) -> bool:
        """Whether none of an effect's lights is taken."""
        return not any(self._lights[laid.first : laid.stop])

    def add(self, laid: Laid) -> None:
        """Take an effect's lights."""
        if len(self._lights) < laid.stop:
            self._lights.extend(bytes(laid.stop - len(self._lights)))
        self._lights[laid.first : laid.stop] = b"\1" * (laid.stop - laid.first)
