"""Builds that answer: random inputs and rules on a small build, and readings of their inputs over some frames."""

from __future__ import annotations

import random

from tests.support.builds import one_strip, part
from tests.support.driven import LARGE
from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_drive import add_board
from tiny_lantern.model.edits_inputs import add_input, add_rule, change_deed_kind, change_input, change_rule
from tiny_lantern.model.edits_pieces import add_strip
from tiny_lantern.model.edits_scenes import add_scene, change_scene
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import SlotRef, look_of
from tiny_lantern.model.groups import Group
from tiny_lantern.model.inputs.registry import INPUT_TYPES
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.show.answering.tables import tables_of

LOOKS = ("chase", "breathe", "twinkle", "wheel", "fade")


def answering_build(seed: int, scenes: bool = True) -> Build:
    """A build of two strips with a show of some scenes, inputs of any kinds and rules of any sort, all by chance.

    Args:
        seed: by which chance.
        scenes: whether it may have scenes.
    """
    chance = random.Random(seed)
    build = add_strip(one_strip(7), part("rgb-5v-60"), 5, "Far")
    build = add_board(build, shelf().find(BoardPart, LARGE))
    near, far = (piece.id for piece in build.pieces)
    after_end, plays = chance.choice(["repeat", "hold", "dark"]), chance.choice([1, 2])
    build = change_build(build, show_s=2.0, after_end=after_end, plays=plays)
    refs = [SlotRef(piece_id=piece_id, index=index) for piece_id, index in ((near, 1), (near, 2), (far, 0), (near, 5))]
    build = revise(build, groups=(Group(id="some", name="Some", slots=tuple(refs)),))
    for first, last in ((0, 6), (7, 11), (2, 9)):
        start_s = round(chance.uniform(0, 1.0), 2)
        length_s = round(chance.uniform(0.3, 2.0 - start_s), 2)
        look = look_of(chance.choice(LOOKS))
        build = add_effect(build, look, first, last, start_s, length_s, chance.choice([None, None, "some"]))
    if scenes and chance.random() < 0.6:
        build = add_scene(build, round(chance.uniform(0.4, 1.4), 2))
        build = change_scene(build, build.scenes[-1].id, fade_s=chance.choice([0.0, 0.2]))
    for kind in chance.choices(list(INPUT_TYPES), k=chance.randint(1, 4)):
        build = add_input(build, kind)
        if kind == "press" and chance.random() < 0.5:
            build = change_input(build, build.inputs[-1].id, sensor_to="ground")
    for one in chance.choices(build.inputs, k=chance.randint(1, 4)):
        build = add_rule(build, one.id)
    for rule in build.rules:
        build = _by_chance(build, rule.id, chance)
    return build


def _by_chance(build: Build, rule_id: str, chance: random.Random) -> Build:
    kind = chance.choice(["brightness", "speed", "scene"])
    build = change_deed_kind(build, rule_id, kind)
    deed = next(rule.does for rule in build.rules if rule.id == rule_id)
    if kind == "scene":
        wanted = chance.choice([None, *(scene.id for scene in build.scenes)])
        deed = revise(deed, scene_id=wanted, stays=chance.random() < 0.5)
        return change_rule(build, rule_id, does=deed, when=chance.choice(["pressed", "released"]))
    where = chance.choice([{}, {"piece_id": build.pieces[0].id}, {"group_id": "some"}])
    most = 1 if kind == "brightness" else 5
    ends = {end: round(chance.uniform(0, most), 3) for end in ("low", "high")}
    if kind == "brightness":
        where["colour"] = chance.choice(["all", "red", "green", "blue"])
    elif chance.random() < 0.4:
        where = {"effect_id": chance.choice(build.effects).id}
    deed = revise(deed, **where, **ends, steps=chance.randint(2, 5), even=chance.random() < 0.5)
    return change_rule(build, rule_id, does=deed, when=chance.choice(["turned", "held", "pressed"]))


def readings_of(build: Build, frames: int, seed: int) -> list[list[int]]:
    """What the inputs of a build read over some frames: levels that bounce now and then, counts that wander. [-]

    Args:
        build: the build.
        frames: how many. [-]
        seed: by which chance.
    """
    chance, found = random.Random(seed), []
    now = [one.rest for one in tables_of(build).hears]
    for _ in range(frames):
        for at, one in enumerate(tables_of(build).hears):
            if chance.random() > 0.25:
                continue
            if one.volts:
                low, high = sorted((one.rest, one.full))
                now[at] = chance.choice([one.rest, one.full, chance.randint(max(0, low - 5), high)])
            else:
                now[at] = 1 - now[at]
        found.append(list(now))
    return found
