"""The weave: what every light does at every tick, as bytes of linear light."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any, Protocol

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.effects.kind import Span
from tiny_lantern.electrical.memo import memoised_on
from tiny_lantern.kernel.nodes import HALF, ONE
from tiny_lantern.model.build import Build
from tiny_lantern.model.effects import Effect
from tiny_lantern.model.errors import CancelledError
from tiny_lantern.show.capping import caps_of
from tiny_lantern.show.crowd import Crowd, Laid
from tiny_lantern.show.effect_rows import EffectRows, alone_among
from tiny_lantern.show.limit import Cap, capped, scales_of
from tiny_lantern.show.looks import as_bytes, look_light, switched
from tiny_lantern.show.scenes import faded, scenes_of, seen_until, share_at, windows_of
from tiny_lantern.show.turning import turned_places, turned_ticks

Floats = NDArray[np.float64]
Bytes = NDArray[np.uint8]
Ints = NDArray[np.int64]
Light = NDArray[Any]
BLOCK_TICKS = 64
REHEARSED = 8
FEW, MOST_ALONE, SMALL = 4, 40, 4000
MOST_KEPT_NUMBERS, MOST_KEPT_BYTES = 8_000_000, 64_000_000


class LightOf(Protocol):
    """Works out what an effect gives."""

    def __call__(self, effect: Effect, place: Ints, span: Span, ends: tuple[int, int], ticks: Ints) -> list[Light]:
        """Its three channels at some of its places and at some frames of the show. (3, n_ticks, n_slots)"""
        ...


def light_anew(effect: Effect, place: Ints, span: Span, ends: tuple[int, int], ticks: Ints) -> list[Light]:
    """What an effect gives, three arrays that broadcast to (n_ticks, n_slots), 65536 for full. [-]

    Args:
        effect: the effect.
        place: number of each light within it, from 0, (n_slots,). [-]
        span: where it lies.
        ends: the frame that it begins with, and the one after its last. [-]
        ticks: frames of the show, (n_ticks,). [-]
    """
    return look_light(effect.look, turned_places(effect, place, span.count), span, turned_ticks(effect, ticks, *ends))


class KeptLight:
    """What effects give at some frames, each worked out once; amid a drag only one of them is another every time.

    Args:
        ticks: all the frames that will be asked for, never falling, (n_ticks,). [-]
    """

    def __init__(self, ticks: Ints) -> None:
        self._ticks = ticks
        self._kept: dict[str, tuple[tuple[object, ...], int, list[Light]]] = {}

    def __call__(self, effect: Effect, place: Ints, span: Span, ends: tuple[int, int], ticks: Ints) -> list[Light]:
        """As ``light_anew``.

        Args:
            effect: the effect.
            place: number of each light within it, from 0, (n_slots,). [-]
            span: where it lies.
            ends: the frame that it begins with, and the one after its last. [-]
            ticks: some of the frames of the show, (n_ticks,). [-]
        """
        turned = (effect.mirrored, effect.turned, effect.backward)
        made_of = (effect.look, turned, place.tobytes(), span, ends)
        known = self._kept.get(effect.id)
        if known is None or known[0] != made_of:
            first, stop = np.searchsorted(self._ticks, ends)
            light = light_anew(effect, place, span, ends, self._ticks[first:stop])
            known = (made_of, int(first), light)
            self._kept[effect.id] = known
            if sum(np.size(channel) for _, _, kept in self._kept.values() for channel in kept) > MOST_KEPT_NUMBERS:
                self._kept.clear()
        rows = np.searchsorted(self._ticks, ticks) - known[1]
        return [channel[rows] if channel.shape[0] > 1 else channel for channel in map(as_rows, known[2])]


def as_rows(light: Light) -> Light:
    """One channel of an effect as rows, a single one where all are alike. (n_ticks or 1, n_slots or 1) [-]

    Args:
        light: the channel, a shape (…) of at most two dimensions. [-]
    """
    return np.atleast_2d(np.asarray(light))


RowsByEffect = dict[tuple[int, bool], tuple[bytes, EffectRows]]


class Show:
    """The effects of a build, compiled once: where and when each lies as arrays, so that few are looked at for a frame.

    Args:
        build: the build.
        near: the show of a build like this one, of which only what differs is compiled anew; the result is the same.
    """

    def __init__(self, build: Build, near: Show | None = None) -> None:
        self.tick_hz, self.slot_count = build.tick_hz, build.line.slot_count
        self.caps, self.windows = caps_of(build), windows_of(build)
        self._scales: dict[int, Ints] = {}
        self.effects, self._wired = build.effects, build.line.wired
        self._crowd: tuple[bytes, Crowd] | None = None
        self._rows, self._few = RowsByEffect({}), RowsByEffect({})
        self._compile(build, near)
        self._order = _orders(build)
        for number, slots in self._order.items():
            self._first[number], self._stop[number] = slots.min(), slots.max() + 1
        self._scene = scenes_of(self.windows, self._begin)
        self._seen_end = seen_until(self.windows, self.effects, self._begin, self._end)

    def _compile(self, build: Build, near: Show | None) -> None:
        same = near is not None and (near.tick_hz, near._wired) == (self.tick_hz, self._wired)
        if near is None or not same or len(near.effects) != len(self.effects):
            self._begin, self._end, self._first, self._stop = _laid(build, build.effects)
            return
        other = [n for n, pair in enumerate(zip(self.effects, near.effects, strict=True)) if pair[0] is not pair[1]]
        fields = (near._begin, near._end, near._first, near._stop)
        self._begin, self._end, self._first, self._stop = (field.copy() for field in fields)
        found = _laid(build, tuple(self.effects[number] for number in other))
        for field, values in zip((self._begin, self._end, self._first, self._stop), found, strict=True):
            field[other] = values

    def rehearse(self, cancelled: Callable[[], bool] = lambda: False) -> None:
        """Work out the first moments of effects, one of each program and its switches: what has to be made ready for a
        program when it is first run is there when effects come into a view that moves.

        Args:
            cancelled: asked between effects whether to stop.

        Raises:
            CancelledError: asked to stop.
        """
        seen = set()
        for number, effect in enumerate(self.effects):
            begin, end, first, stop = self.place(number)
            count = stop - first if number not in self._order else len(self._order[number])
            span = Span(count, effect.length_s, self.tick_hz)
            like = switched(effect.look, span)
            if cancelled():
                raise CancelledError
            if like not in seen:
                seen.add(like)
                rows = EffectRows(effect, np.arange(count), span, (begin, end))
                for ticks in (np.arange(begin, max(begin + 1, min(begin + REHEARSED, end))), np.array([begin])):
                    rows.light(ticks)
                    rows.write(np.zeros((len(ticks), count, 3), np.uint8), slice(None), ticks)

    def place(self, number: int) -> tuple[int, int, int, int]:
        """First frame and the one after the last, first slot and the one after the last, of one effect. [-]

        Args:
            number: which one, the lowest 0. [-]
        """
        return int(self._begin[number]), int(self._end[number]), int(self._first[number]), int(self._stop[number])

    def seen(self, number: int) -> tuple[int, int]:
        """The scene that an effect belongs to, and the frame after the last in which it may be seen. [-]

        Args:
            number: which one, the lowest 0. [-]
        """
        return int(self._scene[number]), int(self._seen_end[number])

    def under(self, ticks: Ints, slots: Ints | None = None) -> Ints:
        """Numbers of the effects that may be seen at some ticks on some slots, the lowest first.

        Args:
            ticks: frame numbers, never falling, (n_ticks,). [-]
            slots: the slots wanted, rising, (n_slots,); all of them when None. [-]
        """
        if not len(ticks) or (slots is not None and not len(slots)):
            return np.zeros(0, np.int64)
        seen = (self._begin <= ticks[-1]) & (self._seen_end > ticks[0])
        if slots is not None:
            seen &= (self._first <= slots[-1]) & (self._stop > slots[0])
        numbers = np.flatnonzero(seen)
        return numbers[np.searchsorted(ticks, self._begin[numbers]) < np.searchsorted(ticks, self._seen_end[numbers])]

    def render(
        self, ticks: Ints, slots: Ints | None = None, cancelled: Callable[[], bool] = lambda: False,
        light_of: LightOf = light_anew,
    ) -> Bytes:  # fmt: skip
        """Frames at some ticks. (n_ticks, n_slots, 3), linear red, green, blue, 0 to 255

        Args:
            ticks: frame numbers, never falling, (n_ticks,). [-]
            slots: the slots wanted, rising, (n_slots,); all of them when None. [-]
            cancelled: asked between effects whether to stop.
            light_of: works out what an effect gives.

        Raises:
            CancelledError: asked to stop.
        """
        asked = self._asked(ticks, slots, cancelled, light_of)
        if not self.caps:
            return asked
        wanted = np.arange(self.slot_count) if slots is None else slots
        return capped(asked, wanted, self.scales(ticks, asked if slots is None else None, cancelled), self.caps)

    def asked(self, tick: int, light_of: LightOf = light_anew, hidden: frozenset[int] = frozenset()) -> Bytes:
        """One frame as the effects ask for it, before any cap. (n_slots, 3), linear red, green, blue, 0 to 255

        Args:
            tick: the frame. [-]
            light_of: works out what an effect gives.
            hidden: numbers of effects that are not seen. [-]
        """
        frame: Bytes = self._asked(np.array([tick]), None, lambda: False, light_of, hidden)[0]
        return frame

    def scales(self, ticks: Ints, whole: Bytes | None, cancelled: Callable[[], bool] = lambda: False) -> Ints:
        """By how much each frame is dimmed for each cap; worked out once a frame. (n_ticks, n_caps) [Q16]

        Args:
            ticks: frame numbers, never falling, (n_ticks,). [-]
            whole: the frames as they are asked for, (n_ticks, n_slots, 3), where they are known. [-]
            cancelled: asked now and then whether to stop.

        Raises:
            CancelledError: asked to stop.
        """
        missing = np.array([at for at, tick in enumerate(ticks.tolist()) if tick not in self._scales], np.int64)
        for first in range(0, len(missing), BLOCK_TICKS):
            some = missing[first : first + BLOCK_TICKS]
            frames = whole[some] if whole is not None else self._asked(ticks[some], None, cancelled, light_anew)
            for tick, scale in zip(ticks[some].tolist(), scales_of(frames, self.caps), strict=True):
                self._scales[tick] = scale
        return np.array([self._scales[tick] for tick in ticks.tolist()]).reshape(len(ticks), len(self.caps))

    def _asked(
        self, ticks: Ints, slots: Ints | None, cancelled: Callable[[], bool], light_of: LightOf,
        hidden: frozenset[int] = frozenset(),
    ) -> Bytes:  # fmt: skip
        """Frames as the effects ask for them, before any cap. (n_ticks, n_slots, 3)"""
        wanted = np.arange(self.slot_count) if slots is None else slots
        numbers, whole = self.under(ticks, wanted), slots is None
        if hidden:
            numbers = numbers[~np.isin(numbers, list(hidden))]
        scene = self._only_scene(ticks)
        if scene is None:
            return as_frames(self._scenes(numbers, ticks, wanted, whole, cancelled, light_of))
        numbers = numbers[self._scene[numbers] == scene]
        if light_of is not light_anew:
            return as_frames(self._layers(numbers, ticks, wanted, whole, cancelled, light_of))
        return self._by_rows(numbers, ticks, wanted, whole, cancelled)

    def _only_scene(self, ticks: Ints) -> int | None:
        """The one scene that is seen at some ticks; None where there are several, or one that fades in."""
        shares = [share_at(window, ticks) for window in self.windows]
        hidden = max((scene for scene, share in enumerate(shares) if (share == ONE).all()), default=None)
        if not self.windows:
            return 0
        return None if hidden is None or any(share.any() for share in shares[hidden + 1 :]) else hidden

    def _scenes(
        self, numbers: Ints, ticks: Ints, wanted: Ints, whole: bool, cancelled: Callable[[], bool], light_of: LightOf
    ) -> Light:  # fmt: skip
        """Scenes faded over those before them. (3, n_ticks, n_slots)"""
        found = np.zeros((3, len(ticks), len(wanted)), np.int64)
        shares = [share_at(window, ticks) for window in self.windows]
        hidden = max((scene for scene, share in enumerate(shares) if (share == ONE).all()), default=0)
        for scene, share in enumerate(shares):
            if scene >= hidden and share.any():
                own = numbers[self._scene[numbers] == scene]
                found = faded(found, self._layers(own, ticks, wanted, whole, cancelled, light_of), share)
        return found

    def _by_rows(
        self, numbers: Ints, ticks: Ints, wanted: Ints, whole: bool, cancelled: Callable[[], bool]
    ) -> Bytes:  # fmt: skip
        """Frames of one scene: effects that have their lights to themselves as rows of bytes, the others laid on one
        another. (n_ticks, n_slots, 3)"""
        alone = alone_among(self._first[numbers], self._stop[numbers])
        if len(ticks) == 1 and len(numbers) > MOST_ALONE:
            alone[:] = False
        elif len(ticks) * len(wanted) < SMALL * max(1, int(alone.sum())):
            alone[alone] = [self._knows(number, whole, wanted) for number in numbers[alone].tolist()]
        rest = numbers[~alone]
        if len(rest):
            found = as_frames(self._layers(rest, ticks, wanted, whole, cancelled, light_anew))
        else:
            found = np.zeros((len(ticks), len(wanted), 3), np.uint8)
        for number in numbers[alone].tolist():
            if cancelled():
                raise CancelledError
            rows = slice(*np.searchsorted(ticks, (self._begin[number], self._seen_end[number])))
            columns, places, count = self._lights(number, wanted)
            if len(places) and self.effects[number].layer != "dim":
                self._rows_of(self._rows, number, whole, places, count).write(found[rows], columns, ticks[rows])
        if sum(rows.kept_bytes for _, rows in tuple(self._rows.values())) > MOST_KEPT_BYTES:
            self._rows.clear()
        return found

    def _knows(self, number: int, whole: bool, wanted: Ints) -> bool:
        """Whether the rows of an effect on the lights wanted have been begun."""
        known = self._rows.get((number, whole))
        return known is not None and known[0] == self._lights(number, wanted)[1].tobytes()

    def _rows_of(self, among: RowsByEffect, number: int, whole: bool, places: Ints, count: int) -> EffectRows:
        """The rows of an effect: those of all its lights are kept, and those of the lights asked for last beside."""
        key, known = places.tobytes(), among.get((number, whole))
        if known is None or known[0] != key:
            effect = self.effects[number]
            ends = int(self._begin[number]), int(self._seen_end[number])
            known = (key, EffectRows(effect, places, Span(count, effect.length_s, self.tick_hz), ends))
            among[number, whole] = known
        return known[1]

    def _layers(
        self, numbers: Ints, ticks: Ints, wanted: Ints, whole: bool, cancelled: Callable[[], bool], light_of: LightOf
    ) -> Light:  # fmt: skip
        """Some effects laid on one another, the lowest first; ``whole`` where all lights are wanted.
        (3, n_ticks, n_slots)"""
        laid = np.zeros((3, len(ticks), len(wanted)), np.int32)
        if light_of is light_anew and whole and len(ticks) == 1 and len(numbers) > FEW:
            self._crowd_of(numbers).lay(laid[:, 0], int(ticks[0]), layered)
            return laid
        for number in numbers:
            if cancelled():
                raise CancelledError
            rows = slice(*np.searchsorted(ticks, (self._begin[number], self._seen_end[number])))
            columns, places, count = self._lights(number, wanted)
            if len(places):
                effect = self.effects[number]
                if light_of is light_anew and len(ticks) * len(places) < SMALL:
                    light = self._rows_of(self._few, int(number), whole, places, count).light(ticks[rows])
                else:
                    span = Span(count, effect.length_s, self.tick_hz)
                    ends = int(self._begin[number]), int(self._seen_end[number])
                    light = light_of(effect, places, span, ends, ticks[rows])
                for below, above in zip(laid[:, rows], light, strict=True):
                    below[:, columns] = layered(below[:, columns], above, effect.layer)
        return laid

    def lights(self, number: int) -> Ints | None:
        """The slots of an effect that follows a group, in its order; None for one that lies on the Line. (n_slots,)

        Args:
            number: which one, the lowest 0. [-]
        """
        return self._order.get(number)

    def _lights(self, number: int, wanted: Ints) -> tuple[slice | Ints, Ints, int]:
        """Which of the slots wanted, rising, an effect has, the place of each within it, and how many it has in all."""
        order = self._order.get(int(number))
        if order is None:
            first, stop = self._first[number], self._stop[number]
            columns = slice(*np.searchsorted(wanted, (first, stop)))
            return columns, wanted[columns] - first, int(stop - first)
        rising = np.argsort(order)
        at = np.minimum(np.searchsorted(order, wanted, sorter=rising), len(order) - 1)
        places = rising[at]
        has = np.flatnonzero(order[places] == wanted)
        return has, places[has], len(order)

    def _crowd_of(self, numbers: Ints) -> Crowd:
        """Some effects compiled together; frames one after another mostly show the same ones."""
        key = numbers.tobytes()
        if self._crowd is None or self._crowd[0] != key:
            laid = []
            for number in numbers.tolist():
                begin, end, first, stop = self.place(number)
                laid.append(Laid(self.effects[number], first, stop, begin, end, self._order.get(number)))
            self._crowd = key, Crowd(laid, self.tick_hz)
        return self._crowd[1]


def as_frames(light: Light) -> Bytes:
    """Channels of linear light, (3, n_ticks, n_slots), as frames of bytes, (n_ticks, n_slots, 3). [-]

    Args:
        light: the channels, (3, n_ticks, n_slots). [-]
    """
    return np.ascontiguousarray(np.moveaxis(as_bytes(light), 0, -1))


def _laid(build: Build, effects: tuple[Effect, ...]) -> tuple[Ints, Ints, Ints, Ints]:
    """First frame and the one after the last, first slot and the one after the last, of each effect. (n_effects,)"""
    starts_s = np.array([effect.start_s for effect in effects], float)
    begin, end = build.timeline.covered(starts_s, np.array([effect.length_s for effect in effects], float))
    first, stop = build.line.all_covered(effects).T
    return begin, end, first, stop


def show_of(build: Build, *, near: Show | None = None) -> Show:
    """A build's show, compiled.

    Args:
        build: the build.
        near: the show of a build like this one, which makes the work shorter.
    """
    return _show_of(build, caps_of(build), near=near)


def _orders(build: Build) -> dict[int, Ints]:
    """The slots, in their order, of each effect that follows a group, by its number."""
    groups = {group.id: group for group in build.groups}
    return {
        number: np.array([build.line.slot_of(ref) for ref in groups[effect.group_id].slots], np.int64)
        for number, effect in enumerate(build.effects)
        if effect.group_id is not None
    }


@memoised_on("effects", "scenes", "groups", "pieces", "tick_hz")
def _show_of(build: Build, caps: tuple[Cap, ...], *, near: Show | None = None) -> Show:
    return Show(build, near)


def render(build: Build, ticks: Ints, slots: Ints | None = None) -> Bytes:
    """Frames of a build at some ticks, see ``Show.render``. (n_ticks, n_slots, 3)

    Args:
        build: the build.
        ticks: frame numbers, never falling, (n_ticks,). [-]
        slots: the slots wanted, rising, (n_slots,); all of them when None. [-]
    """
    return show_of(build).render(ticks, slots)


def blocks(build: Build, size: int = BLOCK_TICKS, slots: Ints | None = None) -> Iterator[tuple[int, Bytes]]:
    """The whole show, some ticks at a time, with the number of the first tick of each block.

    Args:
        build: the build.
        size: ticks a block. [-]
        slots: the slots wanted, rising, (n_slots,); all of them when None. [-]
    """
    total, show = build.timeline.count, show_of(build)
    for first in range(0, total, size):
        yield first, show.render(np.arange(first, min(first + size, total)), slots)


def layered(below: Light, above: Light, layer: str) -> Light:
    """One effect laid on what is below it, any shapes that broadcast, 65536 for full. [-]

    Args:
        below: what is there, any shape (…). [-]
        above: what is laid on it, a shape (…) that broadcasts to the same. [-]
        layer: how it is laid.
    """
    if layer == "add":
        return np.asarray(np.minimum(below + above, ONE))
    if layer == "lighten":
        return np.maximum(below, above)
    if layer == "dim":
        return (below.astype(np.int64) * above + HALF) >> 16
    return above
