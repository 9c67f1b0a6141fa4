"""Edits of effects on the weave."""

from __future__ import annotations

from typing import Any

from tiny_lantern.model.base import made, revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import fresh_id, item, replaced, shifted, without
from tiny_lantern.model.effects import Effect, Look

SHORTEST_S = 0.1


def add_effect(build: Build, look: Look, first_slot: int, last_slot: int, start_s: float, length_s: float) -> Build:
    """Lay an effect on lights ``first_slot`` to ``last_slot``, on top of the others.

    Args:
        build: the build.
        look: what it looks like.
        first_slot: its first light. [-]
        last_slot: its last light. [-]
        start_s: when it begins. [s]
        length_s: how long it lasts. [s]
    """
    effect = made(
        Effect,
        id=fresh_id(build, f"effect-{look.kind}"),
        first=build.line.ref_at(first_slot),
        last=build.line.ref_at(last_slot),
        start_s=max(0.0, start_s),
        length_s=max(SHORTEST_S, length_s),
        look=look,
    )
    return revise(build, effects=(*build.effects, effect))


def change_effect(build: Build, effect_id: str, **changes: Any) -> Build:
    """Change fields of an effect."""
    effect = item(build.effects, effect_id, "effect")
    return revise(build, effects=replaced(build.effects, effect_id, revise(effect, **changes)))


def change_look(build: Build, effect_id: str, **changes: Any) -> Build:
    """Change parameters of an effect's look."""
    effect = item(build.effects, effect_id, "effect")
    return change_effect(build, effect_id, look=revise(effect.look, **changes))


def place_effect(
    build: Build, effect_id: str, first_slot: int, stop_slot: int, start_s: float, length_s: float
) -> Build:
    """Put an effect at slots ``first_slot`` to ``stop_slot`` (not included) and a time, kept inside the weave.

    Args:
        build: the build.
        effect_id: the effect.
        first_slot: its first light. [-]
        stop_slot: the light after its last. [-]
        start_s: when it begins. [s]
        length_s: how long it lasts. [s]
    """
    total = build.line.slot_count
    width = max(1, min(stop_slot - first_slot, total))
    first = max(0, min(first_slot, total - width))
    length = min(max(SHORTEST_S, length_s), build.show_s)
    start = max(0.0, min(start_s, build.show_s - length))
    return change_effect(
        build,
        effect_id,
        first=build.line.ref_at(first),
        last=build.line.ref_at(first + width - 1),
        start_s=round(start, 3),
        length_s=round(length, 3),
    )


def nudge_effect(build: Build, effect_id: str, slots: int, seconds: float) -> Build:
    """Move an effect by some slots and some time."""
    effect = item(build.effects, effect_id, "effect")
    first, stop = build.line.covered(effect)
    return place_effect(build, effect_id, first + slots, stop + slots, effect.start_s + seconds, effect.length_s)


def duplicate_effect(build: Build, effect_id: str) -> Build:
    """A copy of an effect right after it in time."""
    effect = item(build.effects, effect_id, "effect")
    after = min(effect.start_s + effect.length_s, max(0.0, build.show_s - effect.length_s))
    copy = revise(effect, id=fresh_id(build, f"effect-{effect.look.kind}"), start_s=after)
    return revise(build, effects=(*build.effects, copy))


def raise_effect(build: Build, effect_id: str, by: int) -> Build:
    """Move an effect up or down in the order in which effects are laid."""
    return revise(build, effects=shifted(build.effects, effect_id, by))


def remove_effect(build: Build, effect_id: str) -> Build:
    """Take an effect off the weave."""
    item(build.effects, effect_id, "effect")
    return revise(build, effects=without(build.effects, effect_id))
