"""Edits of several effects at once, and effects as text for the clipboard."""

from __future__ import annotations

import json
from collections.abc import Callable, Collection
from typing import Annotated, Any, Literal

from pydantic import Field

from tiny_lantern.model.base import Frozen, made, revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import fresh_id
from tiny_lantern.model.edits_show import SHORTEST_S
from tiny_lantern.model.effects import AnyLook, Effect, Layer
from tiny_lantern.model.errors import LanternError

MOST_TEXT = 8_000_000
FORMAT = "tiny-lantern-effects"
Slots = Annotated[int, Field(ge=0, le=1_000_000)]


class Kept(Frozen):
    """An effect on the clipboard: so many lights and seconds after the first of those that are copied with it."""

    after: Slots
    count: Annotated[int, Field(ge=1, le=1_000_000)]
    after_s: Annotated[float, Field(ge=0, le=86_400)]
    length_s: Annotated[float, Field(ge=0.025, le=86_400)]
    layer: Layer
    mirrored: bool
    turned: int
    backward: bool
    look: AnyLook


class EffectClip(Frozen):
    """What lies on the clipboard."""

    format: Literal["tiny-lantern-effects"] = "tiny-lantern-effects"
    effects: Annotated[tuple[Kept, ...], Field(min_length=1, max_length=5000)]


def _chosen(build: Build, ids: Collection[str]) -> list[Effect]:
    found = [effect for effect in build.effects if effect.id in ids]
    if not found:
        raise LanternError("there is no effect selected", "effects", "one or more")
    return found


def change_effects(build: Build, ids: Collection[str], changes: Callable[[Effect], dict[str, Any]]) -> Build:
    """Change fields of several effects.

    Args:
        build: the build.
        ids: which effects.
        changes: what changes of each.

    Raises:
        LanternError: none is named, or a change cannot be.
    """
    new = {effect.id: revise(effect, **changes(effect)) for effect in _chosen(build, ids)}
    return revise(build, effects=tuple(new.get(effect.id, effect) for effect in build.effects))


def move_effects(build: Build, ids: Collection[str], slots: int, seconds: float) -> Build:
    """Move several effects together by lights and time, as far as all of them stay on the weave.

    Args:
        build: the build.
        ids: which effects.
        slots: by so many lights. [-]
        seconds: by so much time. [s]

    Raises:
        LanternError: none is named.
    """
    chosen = _chosen(build, ids)
    places = [build.line.covered(effect) for effect in chosen]
    room = build.line.slot_count - max(stop for _, stop in places)
    slots = max(-min(first for first, _ in places), min(slots, room))
    late_s = build.show_s - max(effect.start_s + effect.length_s for effect in chosen)
    seconds = max(-min(effect.start_s for effect in chosen), min(seconds, max(0.0, late_s)))
    moved = dict(zip((effect.id for effect in chosen), places, strict=True))

    def changes(effect: Effect) -> dict[str, Any]:
        first, stop = moved[effect.id]
        start_s = round(effect.start_s + seconds, 3)
        if effect.group_id is not None:
            return {"start_s": start_s}
        return {
            "first": build.line.ref_at(first + slots),
            "last": build.line.ref_at(stop - 1 + slots),
            "start_s": start_s,
        }

    return change_effects(build, ids, changes)


def remove_effects(build: Build, ids: Collection[str]) -> Build:
    """Take several effects off the weave."""
    return revise(build, effects=tuple(effect for effect in build.effects if effect.id not in ids))


def effects_text(build: Build, ids: Collection[str]) -> str:
    """Several effects as text, wherever they lie.

    Raises:
        LanternError: none is named.
    """
    chosen = _chosen(build, ids)
    places = [build.line.covered(effect) for effect in chosen]
    first = min(place[0] for place in places)
    start_s = min(effect.start_s for effect in chosen)
    kept = tuple(
        Kept(
            after=place[0] - first, count=place[1] - place[0], after_s=round(effect.start_s - start_s, 3),
            length_s=effect.length_s, layer=effect.layer, mirrored=effect.mirrored, turned=effect.turned,
            backward=effect.backward, look=effect.look,
        )
        for effect, place in zip(chosen, places, strict=True)
    )  # fmt: skip
    return EffectClip(effects=kept).model_dump_json(indent=1)


def is_effects_text(text: str) -> bool:
    """Whether a text is one of effects."""
    return FORMAT in text[:200]


def paste_effects(build: Build, text: str, first_slot: int, time_s: float) -> Build:
    """Lay effects of a text from a light and a moment on, on top of the others; what would lie off the weave is cut.

    Args:
        build: the build.
        text: effects as ``effects_text`` writes them.
        first_slot: the light at which the first begins. [-]
        time_s: the moment at which the first begins. [s]

    Raises:
        LanternError: the text is none, or none of it would lie on the weave.
    """
    try:
        clip = made(EffectClip, **json.loads(text[:MOST_TEXT]))
    except (json.JSONDecodeError, TypeError):
        raise LanternError("there are no effects on the clipboard", "paste", "effects that were copied here") from None
    last, effects = build.line.slot_count - 1, list(build.effects)
    for kept in clip.effects:
        first, start_s = first_slot + kept.after, round(time_s + kept.after_s, 3)
        length_s = min(kept.length_s, round(build.show_s - start_s, 3))
        if first > last or length_s < SHORTEST_S:
            continue
        known = build.model_copy(update={"effects": tuple(effects)})
        effects.append(
            made(
                Effect, id=fresh_id(known, f"effect-{kept.look.kind}"), first=build.line.ref_at(first),
                last=build.line.ref_at(min(last, first + kept.count - 1)), start_s=start_s, length_s=length_s,
                layer=kept.layer, mirrored=kept.mirrored, turned=kept.turned, backward=kept.backward, look=kept.look,
            )
        )  # fmt: skip
    if len(effects) == len(build.effects):
        raise LanternError("none of it would lie on the weave there", "paste", "a caret before the end of the show")
    return revise(build, effects=tuple(effects))
