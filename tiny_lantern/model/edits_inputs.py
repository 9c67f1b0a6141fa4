"""Edits of inputs and of the rules on what they do."""

from __future__ import annotations

from typing import Any

from tiny_lantern.model.base import made, revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.deeds.registry import DEED_TYPES
from tiny_lantern.model.drive import DriverPin
from tiny_lantern.model.edits import fresh_id, item, numbered_name, replaced, shifted, without_all
from tiny_lantern.model.edits_drive import with_pins
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.input import READS, Input, When
from tiny_lantern.model.inputs.registry import INPUT_TYPES
from tiny_lantern.model.parts.board import BoardPart, BoardPin
from tiny_lantern.model.pin_needs import pins_of
from tiny_lantern.model.rule import MOMENTS, VALUED, Rule


def add_input(build: Build, kind: str, board_id: str | None = None, name: str = "") -> Build:
    """Add an input with the first free pin that can read it, and the rule that one begins with.

    Args:
        build: the build.
        kind: its kind.
        board_id: the board that reads it, the first one where None.
        name: what it is called, by its kind without.

    Raises:
        LanternError: there is no board to read it.
    """
    if not build.boards:
        raise LanternError("an input wants a board that reads it", "inputs", "a board first, in Drive")
    board_id = board_id or build.boards[0].id
    of = INPUT_TYPES[kind]
    taken = {each.name for each in build.inputs}
    plain = of.word[0].upper() + of.word[1:]
    called = name or (numbered_name(plain, taken) if plain in taken else plain)
    one = made(of, id=fresh_id(build, called), name=called, board_id=board_id)
    build = with_input_pin(revise(build, inputs=(*build.inputs, one)), one.id)
    return add_rule(build, one.id)


def with_input_pin(build: Build, input_id: str) -> Build:
    """The build with the first free pin of its board that can read an input, and spoils least else; as it is where
    there is none.

    Args:
        build: the build.
        input_id: the input.
    """
    one = item(build.inputs, input_id, "input")
    board = item(build.boards, one.board_id, "board")
    part = build.shelf.find(BoardPart, board.part_id)
    taken = {pin.pin for pin in pins_of(build, board.id).values()} | {each.pin for each in board.reserved}
    free = [pin for pin in part.pins if reads(one, pin) and pin.name not in taken]
    if one.pin is not None or not free or not one.wired:
        return build
    best = min(free, key=lambda pin: bool(pin.taken_by) + (0 if one.volts else bool(pin.adc) + bool(pin.compare)))
    return with_pins(build, board.id, {(one.id, READS): best.name} | _now(build, board.id))


def _now(build: Build, board_id: str) -> dict[tuple[str, str], str]:
    return {key: pin.pin for key, pin in pins_of(build, board_id).items()}


def reads(one: Input, pin: BoardPin) -> bool:
    """Whether a pin can read an input.

    Args:
        one: the input.
        pin: the pin.
    """
    return pin.adc if one.volts else pin.output or pin.adc


def change_input(build: Build, input_id: str, **changes: Any) -> Build:
    """An input with some of its fields changed; on another board it looks for a pin there.

    Args:
        build: the build.
        input_id: the input; beside it come the new values by field.

    Raises:
        LanternError: there is no such input, or a value cannot be.
    """
    old = item(build.inputs, input_id, "input")
    moved = changes.get("board_id", old.board_id) != old.board_id
    new = revise(old, **changes, **({"pins": ()} if moved else {}))
    build = revise(build, inputs=replaced(build.inputs, input_id, new))
    return with_input_pin(build, input_id) if moved else build


def put_on_pin(build: Build, input_id: str, pin: str) -> Build:
    """An input on a pin, where it stays when pins are assigned.

    Args:
        build: the build.
        input_id: the input.
        pin: the pin's name.

    Raises:
        LanternError: the board has no such pin, or it is used.
    """
    return change_input(build, input_id, pins=(DriverPin(role=READS, pin=pin, pinned=True),))


def remove_input(build: Build, input_id: str) -> Build:
    """The build without an input and its rules.

    Args:
        build: the build.
        input_id: the input.
    """
    item(build.inputs, input_id, "input")
    return without_all(build, input_id)


def add_rule(build: Build, input_id: str) -> Build:
    """Add the rule that an input of its kind begins with.

    Args:
        build: the build.
        input_id: the input.
    """
    when, kind = item(build.inputs, input_id, "input").first
    does = made(DEED_TYPES[kind])
    rule = made(Rule, id=fresh_id(build, "rule"), input_id=input_id, when=when, does=does)
    return revise(build, rules=(*build.rules, rule))


def change_rule(build: Build, rule_id: str, **changes: Any) -> Build:
    """A rule with some of its fields changed.

    Args:
        build: the build.
        rule_id: the rule; beside it come the new values by field.

    Raises:
        LanternError: there is no such rule, or a value cannot be.
    """
    new = revise(item(build.rules, rule_id, "rule"), **changes)
    return revise(build, rules=replaced(build.rules, rule_id, new))


def change_deed(build: Build, rule_id: str, **changes: Any) -> Build:
    """A rule whose deed has some of its fields changed.

    Args:
        build: the build.
        rule_id: the rule; beside it come the new values by field.

    Raises:
        LanternError: there is no such rule, or a value cannot be.
    """
    does = item(build.rules, rule_id, "rule").does
    return change_rule(build, rule_id, does=revise(does, **changes))


def change_deed_kind(build: Build, rule_id: str, kind: str) -> Build:
    """A rule that does something else, on the same lights where both have any.

    Args:
        build: the build.
        rule_id: the rule.
        kind: what it does then.
    """
    rule = item(build.rules, rule_id, "rule")
    of = DEED_TYPES[kind]
    kept = {name: value for name, value in rule.does if name in ("piece_id", "group_id") and name in of.model_fields}
    does = made(of, **kept)
    fitting = VALUED if does.follows else MOMENTS
    first: When = "turned" if does.follows and item(build.inputs, rule.input_id, "input").volts else "pressed"
    return change_rule(build, rule_id, does=does, when=rule.when if rule.when in fitting else first)


def remove_rule(build: Build, rule_id: str) -> Build:
    """The build without a rule.

    Args:
        build: the build.
        rule_id: the rule.
    """
    item(build.rules, rule_id, "rule")
    return without_all(build, rule_id)


def shift_rule(build: Build, rule_id: str, by: int) -> Build:
    """A rule moved in the list: of several moments in one frame the last counts.

    Args:
        build: the build.
        rule_id: the rule.
        by: by how many places, downward. [-]
    """
    return revise(build, rules=shifted(build.rules, rule_id, by))
