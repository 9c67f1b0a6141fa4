"""Builds that answer: random inputs and rules on a small build, and readings of their inputs over some frames."""

from __future__ import annotations

import random
from collections.abc import Callable

import numpy as np

from tests.support.builds import one_strip, part
from tests.support.driven import LARGE
from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import DriverPin
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_drive import add_board, another_board, change_board
from tiny_lantern.model.edits_inputs import (
    add_input,
    add_rule,
    change_deed,
    change_deed_kind,
    change_input,
    change_rule,
    remove_rule,
)
from tiny_lantern.model.edits_pieces import add_strip, change_strip
from tiny_lantern.model.edits_scenes import add_scene, change_scene
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import SlotRef, look_of
from tiny_lantern.model.groups import Group
from tiny_lantern.model.inputs.registry import INPUT_TYPES
from tiny_lantern.model.listening import Listening
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.show.answering.light import frame_of
from tiny_lantern.show.answering.machine import begin, step
from tiny_lantern.show.answering.tables import tables_of
from tiny_lantern.show.weave import show_of

LOOKS = ("chase", "breathe", "twinkle", "wheel", "fade")


def answering(kind: str = "button", **show: object) -> Build:
    """Six pixels with a chase of two seconds, and one input of a kind with its first rule."""
    build = add_board(one_strip(6), shelf().find(BoardPart, LARGE))
    build = add_effect(change_build(build, show_s=2.0, **show), look_of("chase"), 0, 5, 0.0, 2.0)
    return add_input(build, kind)


def with_deed(build: Build, kind: str, when: str, **deed: object) -> Build:
    """The last rule of a build does something else."""
    rule_id = build.rules[-1].id
    build = change_rule(change_deed_kind(build, rule_id, kind), rule_id, when=when)
    return change_deed(build, rule_id, **deed)


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
    for first, last in ((0, 6), (7, 11), (2, 9), (0, 2), (4, 6), (8, 10))[: chance.choice([3, 6])]:
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
    kind = chance.choice(["brightness", "speed", "scene", "seen"])
    build = change_deed_kind(build, rule_id, kind)
    deed = next(rule.does for rule in build.rules if rule.id == rule_id)
    if kind == "scene":
        wanted = chance.choice([None, *(scene.id for scene in build.scenes)])
        deed = revise(deed, scene_id=wanted, stays=chance.random() < 0.5)
        return change_rule(build, rule_id, does=deed, when=chance.choice(["pressed", "released"]))
    if kind == "seen":
        deed = revise(deed, effect_id=chance.choice(build.effects).id, otherwise=chance.random() < 0.4)
        return change_rule(build, rule_id, does=deed, when=chance.choice(["turned", "held", "pressed"]))
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


def on_a_pin(build: Build, pin: str) -> Build:
    """The first input on a pin that nobody would give it."""
    return change_input(build, build.inputs[0].id, pins=(DriverPin(role="reads", pin=pin, pinned=True),))


def on_another_board() -> Build:
    """A button read by a second board, which drives nothing."""
    build = another_board(answering(), shelf().find(BoardPart, LARGE))
    return change_input(build, build.inputs[0].id, board_id=build.boards[1].id)


def on_two_boards(seed: int) -> Build:
    """A build by chance whose far strip hangs on a second board, its inputs on the first.

    Args:
        seed: by which chance.
    """
    build = another_board(answering_build(seed), shelf().find(BoardPart, LARGE))
    return change_strip(build, build.pieces[1].id, board_id=build.boards[1].id)


def in_two_minds() -> Build:
    """A button that asks for two scenes at once."""
    build = add_scene(add_scene(answering(), 0.5), 1.0)
    for scene in (build.scenes[1], build.scenes[2]):
        build = with_deed(add_rule(build, build.inputs[0].id), "scene", "pressed", scene_id=scene.id)
    return remove_rule(build, build.rules[0].id)


def listening(build: Build, **how: object) -> Build:
    """A build whose first board listens to a computer.

    Args:
        build: the build; beside it comes how it listens, by field.
    """
    return change_board(build, build.boards[0].id, listens=revise(Listening(), **how))


OF_INPUTS: dict[str, Callable[[], Build]] = {
    "input-idle": lambda: remove_rule(build := answering(), build.rules[0].id),
    "input-pin": lambda: on_a_pin(answering("knob"), "30"),
    "input-elsewhere": on_another_board,
    "rule-idle": lambda: with_deed(answering("knob"), "brightness", "turned", low=1.0, high=1.0),
    "rules-fight": in_two_minds,
    "sensor-swing": lambda: change_input(build := answering("press"), build.inputs[0].id, fixed_ohm=100.0),
    "signal-deaf": lambda: answering("told"),
    "listens-chained": lambda: listening(on_two_boards(3)),
    "cable-slow": lambda: listening(change_strip(answering(), "strip", pixel_count=60), bits_per_s=57_600),
    "coupler-current": lambda: change_input(build := answering("signal"), build.inputs[0].id, series_ohm=22e3),
}


def frames_of(build: Build, readings: list[list[int]]) -> np.ndarray:
    """The program's own frames under readings, one for each row of them. (n_frames, n_slots, 3)

    Args:
        build: the build.
        readings: what each input reads, frame after frame. [-]
    """
    tables, show, found = tables_of(build), show_of(build), []
    state = begin(tables, readings[0])
    for at, row in enumerate(readings):
        state = step(tables, state, row) if at else state
        found.append(frame_of(show, tables, state, dark_after=build.after_end == "dark"))
    return np.stack(found)
