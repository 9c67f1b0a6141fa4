"""Edits of scenes: begun, named, faded, doubled, put in another order, and taken out with what plays in them."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import count
from typing import Any

from tiny_lantern.model.base import made, revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import fresh_id, item, replaced, without
from tiny_lantern.model.edits_show import split_effect
from tiny_lantern.model.effects import Effect
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.references import all_ids
from tiny_lantern.model.scene import Scene

SHORTEST_S, LONGEST_SHOW_S = 0.1, 3600.0


def scene_ends_s(build: Build) -> list[tuple[float, float]]:
    """When each scene begins and when the next does, the first with the show and the last to its end. [s]"""
    starts = [0.0, *(scene.start_s for scene in build.scenes[1:])]
    return list(zip(starts, [*starts[1:], max(build.show_s, starts[-1])], strict=True)) if build.scenes else []


def scene_at(build: Build, time_s: float) -> int | None:
    """The number of the scene that a moment belongs to; None where there are none.

    Args:
        build: the build.
        time_s: the moment of the show. [s]
    """
    ends = scene_ends_s(build)
    return next((at for at in reversed(range(len(ends))) if time_s >= ends[at][0]), 0) if ends else None


def effects_in(build: Build, number: int) -> list[Effect]:
    """The effects that begin in a scene.

    Args:
        build: the build.
        number: which scene, the first 0. [-]
    """
    return [effect for effect in build.effects if scene_at(build, effect.start_s) == number]


def add_scene(build: Build, start_s: float, name: str = "") -> Build:
    """Begin a scene at a moment; the first one made cuts the show in two, and effects that go on there are cut with it,
    since none is seen beyond its own scene.

    Args:
        build: the build.
        start_s: the moment. [s]
        name: what it is called, a number without.

    Raises:
        LanternError: a scene begins there already.
    """
    start_s = round(max(0.0, min(start_s, build.show_s - SHORTEST_S)), 3)
    scenes = list(build.scenes)
    if not scenes and start_s > 0:
        scenes.append(made(Scene, id=fresh_id(build, "scene"), name="Scene 1", start_s=0.0))
    if any(abs(scene.start_s - start_s) < SHORTEST_S for scene in scenes):
        raise LanternError("a scene begins there already", "time", f"{SHORTEST_S:g} s away from where others begin")
    for effect in build.effects:
        if start_s - effect.start_s >= SHORTEST_S and effect.start_s + effect.length_s - start_s >= SHORTEST_S:
            build = split_effect(build, effect.id, start_s)
    known = revise(build, scenes=tuple(scenes))
    new = made(Scene, id=fresh_id(known, "scene"), name=name or _free_name(known), start_s=start_s)
    return revise(build, scenes=tuple(sorted([*scenes, new], key=lambda scene: scene.start_s)))


def _free_name(build: Build) -> str:
    names = {scene.name for scene in build.scenes}
    return next(name for number in count(len(names) + 1) if (name := f"Scene {number}") not in names)


def change_scene(build: Build, scene_id: str, **changes: Any) -> Build:
    """Change a scene's name, beginning or transition; its effects stay where they are."""
    scene = item(build.scenes, scene_id, "scene")
    changed = replaced(build.scenes, scene_id, revise(scene, **changes))
    return revise(build, scenes=tuple(sorted(changed, key=lambda each: each.start_s)))


def join_scene(build: Build, scene_id: str) -> Build:
    """Make a scene one with that before it; a single scene is no longer one."""
    item(build.scenes, scene_id, "scene")
    left = without(build.scenes, scene_id)
    return revise(build, scenes=left if len(left) > 1 or (left and left[0].start_s > 0) else ())


def remove_scene(build: Build, scene_id: str) -> Build:
    """Take a scene out with the effects that begin in it; what comes after moves up.

    Raises:
        LanternError: it is the only one.
    """
    number = _number(build, scene_id)
    if len(build.scenes) == 1:
        raise LanternError("this is the only scene", "scene", "one of several")
    order = [at for at in range(len(build.scenes)) if at != number]
    return _in_order(build, order)


def double_scene(build: Build, scene_id: str) -> Build:
    """The same scene once more right after itself, its effects with it; the show becomes longer.

    Raises:
        LanternError: the show would become too long.
    """
    number = _number(build, scene_id)
    order = [*range(number + 1), number, *range(number + 1, len(build.scenes))]
    return _in_order(build, order)


def move_scene(build: Build, scene_id: str, by: int) -> Build:
    """Let a scene change places with the one before or after it, effects and all.

    Args:
        build: the build.
        scene_id: the scene.
        by: -1 for earlier, 1 for later. [-]
    """
    number = _number(build, scene_id)
    other = number + by
    if not 0 <= other < len(build.scenes):
        return build
    order = list(range(len(build.scenes)))
    order[number], order[other] = order[other], order[number]
    return _in_order(build, order)


def _number(build: Build, scene_id: str) -> int:
    return build.scenes.index(item(build.scenes, scene_id, "scene"))


def _in_order(build: Build, order: Sequence[int]) -> Build:
    """The scenes in another order, some left out or there twice, each with its effects in its time."""
    ends = scene_ends_s(build)
    show_s = sum(ends[number][1] - ends[number][0] for number in order)
    if show_s > LONGEST_SHOW_S:
        raise LanternError(f"the show would last {show_s:g} s", "scenes", f"at most {LONGEST_SHOW_S:g} s")
    taken = {identity for identity, _ in all_ids(build)}
    scenes: list[Scene] = []
    effects: list[tuple[int, Effect]] = []
    rank = {effect.id: at for at, effect in enumerate(build.effects)}
    at_s, seen = 0.0, set[int]()
    for number in order:
        begin_s, end_s = ends[number]
        again = number in seen
        seen.add(number)
        scene = build.scenes[number]
        new_id = _free(scene.id, taken) if again else scene.id
        name = f"{scene.name} again" if again else scene.name
        scenes.append(revise(scene, id=new_id, name=name, start_s=round(at_s, 3)))
        for effect in effects_in(build, number):
            moved_s = round(effect.start_s - begin_s + at_s, 3)
            identity = _free(effect.id, taken) if again else effect.id
            effects.append((rank[effect.id], revise(effect, id=identity, start_s=moved_s)))
        at_s += end_s - begin_s
    laid = tuple(effect for _, effect in sorted(effects, key=lambda pair: pair[0]))
    return revise(build, scenes=tuple(scenes), effects=laid, show_s=round(show_s, 3))


def _free(base: str, taken: set[str]) -> str:
    found = next(name for number in count(2) if (name := f"{base}-{number}") not in taken)
    taken.add(found)
    return found
