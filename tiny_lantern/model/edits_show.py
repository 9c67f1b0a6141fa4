"""Edits of effects on the weave."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import count
from math import ceil
from typing import Any

from tiny_lantern.effects.chance import MOST_SEED
from tiny_lantern.effects.registry import effect_kinds
from tiny_lantern.model.base import made, revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import fresh, fresh_id, item, replaced, shifted, without
from tiny_lantern.model.effects import Effect, Look, SlotRef, look_of
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.lamps import Matrix
from tiny_lantern.model.references import all_ids
from tiny_lantern.model.strip import Panel

SHORTEST_S, MOST_REPEATS = 0.1, 1000


def add_effect(
    build: Build, look: Look, first_slot: int, last_slot: int, start_s: float, length_s: float,
    group_id: str | None = None,
) -> Build:  # fmt: skip
    """Lay an effect on lights ``first_slot`` to ``last_slot``, or on those of a group in its order, on top of the
    others.

    Args:
        build: the build.
        look: what it looks like.
        first_slot: its first light. [-]
        last_slot: its last light. [-]
        start_s: when it begins. [s]
        length_s: how long it lasts. [s]
        group_id: the group that it follows in place of the lights named.
    """
    effect = made(
        Effect,
        id=fresh_id(build, f"effect-{look.kind}"),
        first=build.line.ref_at(first_slot),
        last=build.line.ref_at(last_slot),
        start_s=max(0.0, start_s),
        length_s=max(SHORTEST_S, length_s),
        look=as_wired(build, look, build.line.ref_at(first_slot)),
    )
    laid = revise(build, effects=(*build.effects, effect))
    return laid if group_id is None else follow_group(laid, effect.id, group_id)


def as_wired(build: Build, look: Look, ref: SlotRef) -> Look:
    """A look made for rows and columns as the matrix or the panel that it is laid on has them.

    Args:
        build: the build.
        look: the look.
        ref: its first light.
    """
    piece = build.line.piece(ref.piece_id)
    if not {"rows", "way", "corner"} <= look.values.keys() or not isinstance(piece, Matrix | Panel):
        return look
    if isinstance(piece, Matrix):
        return revise(look, rows=piece.rows, way=0, corner=0)
    way = 2 * piece.columns_first + piece.serpentine
    corner = piece.corner.endswith("right") + 2 * piece.corner.startswith("bottom")
    return revise(look, rows=piece.rows, way=int(way), corner=int(corner))


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
    if item(build.effects, effect_id, "effect").group_id is not None:  # its lights are the group's, wherever they lie
        return change_effect(build, effect_id, start_s=round(start, 3), length_s=round(length, 3))
    return change_effect(
        build,
        effect_id,
        first=build.line.ref_at(first),
        last=build.line.ref_at(first + width - 1),
        start_s=round(start, 3),
        length_s=round(length, 3),
    )


def follow_group(build: Build, effect_id: str, group_id: str | None) -> Build:
    """Let an effect follow a group in its order, or its lights on the Line again.

    Raises:
        LanternError: there is no such group.
    """
    if group_id is None:
        return change_effect(build, effect_id, group_id=None)
    group = item(build.groups, group_id, "group")
    slots = sorted(build.line.slot_of(ref) for ref in group.slots)
    return change_effect(
        build, effect_id, group_id=group_id, first=build.line.ref_at(slots[0]), last=build.line.ref_at(slots[-1])
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


def split_effect(build: Build, effect_id: str, time_s: float) -> Build:
    """Cut an effect in two at a moment; the second part begins its look anew.

    Args:
        build: the build.
        effect_id: the effect.
        time_s: the moment of the show. [s]

    Raises:
        LanternError: the moment is not inside it.
    """
    effect = item(build.effects, effect_id, "effect")
    first_s = round(time_s - effect.start_s, 3)
    if not SHORTEST_S <= first_s <= effect.length_s - SHORTEST_S:
        inside = f"{effect.start_s + SHORTEST_S:g} to {effect.start_s + effect.length_s - SHORTEST_S:g} s"
        raise LanternError("the effect is not cut there", "time", inside)
    before = revise(effect, length_s=first_s)
    after = revise(
        effect, id=fresh_id(build, f"effect-{effect.look.kind}"), start_s=round(time_s, 3),
        length_s=round(effect.length_s - first_s, 3),
    )  # fmt: skip
    at = build.effects.index(effect)
    return revise(build, effects=(*build.effects[:at], before, after, *build.effects[at + 1 :]))


def repeat_effect(build: Build, effect_id: str, every_s: float, until_s: float) -> Build:
    """Lay an effect again every so often until a moment, above itself.

    Args:
        build: the build.
        effect_id: the effect.
        every_s: from one beginning to the next. [s]
        until_s: none begins at this moment or later. [s]

    Raises:
        LanternError: it would be laid too often, or not once more.
    """
    effect = item(build.effects, effect_id, "effect")
    if every_s < SHORTEST_S:
        raise LanternError(f"every {every_s:g} s is too often", "every", f"{SHORTEST_S:g} s or more")
    times = ceil((min(until_s, build.show_s) - effect.start_s) / every_s - 1e-9) - 1
    if not 1 <= times <= MOST_REPEATS:
        words = f"it would be laid {max(0, times):,} more times"
        raise LanternError(words, "every", f"1 to {MOST_REPEATS:,} times, up to {build.show_s:g} s")
    taken, copies = {identity for identity, _ in all_ids(build)}, []
    for number in range(1, times + 1):
        start_s = round(effect.start_s + number * every_s, 3)
        length_s = max(SHORTEST_S, min(effect.length_s, round(build.show_s - start_s, 3)))
        name = next(each for at in count(number) if (each := f"{effect.id}-again-{at}") not in taken)
        taken.add(name)
        copies.append(revise(effect, id=name, start_s=start_s, length_s=length_s))
    return revise(build, effects=(*build.effects, *copies))


def lay_new(
    build: Build, kind: str, first_slot: int, last_slot: int, start_s: float, length_s: float,
    group_id: str | None = None,
) -> Build:  # fmt: skip
    """Lay a new effect as its kind is laid today; one of chance with a seed of its own, so that no two are alike.

    Args:
        build: the build.
        kind: the kind of effect.
        first_slot: its first light. [-]
        last_slot: its last. [-]
        start_s: when it begins. [s]
        length_s: how long it lasts. [s]
        group_id: the group that it follows, if any.
    """
    known = effect_kinds()[kind]
    values = dict(known.fresh)
    if any(each.name == "seed" for each in known.parameters):
        taken = {effect.look.values.get("seed") for effect in build.effects}
        values["seed"] = next(seed for seed in count(1) if seed not in taken)
    return add_effect(build, look_of(kind, **values), first_slot, last_slot, start_s, length_s, group_id)


def lay_copies(build: Build, model: Effect, changes: Sequence[Mapping[str, Any]]) -> Build:
    """Effects like one, each with other values in some fields, laid on top of the others in one step, however many.

    Args:
        build: the build.
        model: what they are like.
        changes: the new values of each, by field.
    """
    taken = {identity for identity, _ in all_ids(build)}
    laid = []
    for values in changes:
        identity = fresh(f"effect-{model.look.kind}", taken)
        taken.add(identity)
        laid.append(revise(model, id=identity, **values))
    return revise(build, effects=(*build.effects, *laid))


def deal_again(build: Build, effect_id: str) -> Build:
    """Draw an effect's chances anew.

    Raises:
        LanternError: nothing of it is left to chance.
    """
    effect = item(build.effects, effect_id, "effect")
    seed = effect.look.values.get("seed")
    if seed is None:
        raise LanternError(f"nothing of a {effect.look.word} is left to chance", "deal", "candle, twinkle, embers …")
    return change_look(build, effect_id, seed=seed % MOST_SEED + 1)


def raise_effect(build: Build, effect_id: str, by: int) -> Build:
    """Move an effect up or down in the order in which effects are laid."""
    return revise(build, effects=shifted(build.effects, effect_id, by))


def remove_effect(build: Build, effect_id: str) -> Build:
    """Take an effect off the weave."""
    item(build.effects, effect_id, "effect")
    return revise(build, effects=without(build.effects, effect_id))
