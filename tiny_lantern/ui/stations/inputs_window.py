"""What the build answers to: its inputs, the pin and parts of each, and the rules in words, each with its form."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PySide6.QtWidgets import QAbstractItemView, QHBoxLayout, QLineEdit, QMenu, QStackedWidget, QVBoxLayout, QWidget

from tiny_lantern.catalogue.part_fields import plain_fields
from tiny_lantern.model.build import Build
from tiny_lantern.model.deed import OnLights
from tiny_lantern.model.deeds.brightness import Brightness
from tiny_lantern.model.deeds.registry import DEED_TYPES
from tiny_lantern.model.deeds.scene import GoToScene
from tiny_lantern.model.deeds.seen import Seen
from tiny_lantern.model.deeds.speed import Speed
from tiny_lantern.model.edits import item
from tiny_lantern.model.edits_inputs import (
    add_input,
    add_rule,
    change_deed,
    change_deed_kind,
    change_input,
    change_rule,
    put_on_pin,
    reads,
    remove_input,
    remove_rule,
    shift_rule,
)
from tiny_lantern.model.input import Input
from tiny_lantern.model.inputs.registry import INPUT_TYPES
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.pin_needs import pins_of
from tiny_lantern.model.rule import MOMENTS, VALUED, Rule
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import (
    Rows,
    button,
    combo,
    faint,
    heading,
    quiet,
    set_choice,
    show_text,
    side_by_side,
)
from tiny_lantern.ui.widgets.model_form import ModelForm
from tiny_lantern.ui.widgets.row_table import RowTable

ABOUT = (
    "Values of several rules on one thing are multiplied; of several scenes asked for in one frame the last in the "
    "list begins. Turn and press the inputs under the transport."
)
FASTER = (
    "Flashes are checked at the speed at which the show is laid. Faster, they may come more than three times a second, "
    "which can harm people who are sensitive to them: keep the upper end low where anything blinks."
)
WHEN = {"turned": "as it is turned", "held": "while it is held", "pressed": "with each press", "released": "let go"}
INPUT_LABELS = {
    "whole_ohm": "whole track", "deaf_s": "deaf after an edge", "dead_band": "dead band (share)",
    "pull_ohm": "pulled by",
    "to": "closes to", "rest_ohm": "at rest", "moved_ohm": "fully moved", "fixed_ohm": "fixed resistor",
    "sensor_to": "sensor to", "signal_v": "signal", "series_ohm": "in series", "quiet_v": "quiet room",
    "loud_v": "loudest", "off_word": "word for off", "on_word": "word for on", "lost": "when the link is lost",
}  # fmt: skip
DEED_LABELS = {"low": "from", "high": "to", "steps": "in steps", "even": "even to the eye", "stays": "over and over",
               "otherwise": "otherwise, while it is not"}  # fmt: skip
HIDDEN_INPUT = ("kind", "id", "name", "board_id", "pins")
HIDDEN_DEED = ("kind", "piece_id", "group_id", "effect_id", "scene_id")


class InputsWindow(QWidget):
    """Follows the build while it is open."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._rows: list[tuple[str, str]] = []
        self.table = RowTable(("input", "what follows", "pin"), (), stretched=1)
        self.table.setAccessibleName("Inputs and their rules")
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.currentCellChanged.connect(lambda *_: self._show_chosen())
        self.add = button("Add an input", tip="A knob, a button, a sensor, a signal of another circuit")
        menu = QMenu(self.add)
        for kind, of in INPUT_TYPES.items():
            menu.addAction(of.word[0].upper() + of.word[1:]).triggered.connect(partial(self._add, kind))
        self.add.setMenu(menu)
        self.rule = button("Add a rule", self._add_rule, tip="Another rule on the chosen input")
        self.earlier = button("Earlier", partial(self._shift, -1), "small", "The rule one place earlier in the list")
        self.later = button("Later", partial(self._shift, 1), "small", "The rule one place later in the list")
        self.remove = button("Remove", self._remove, "small", "The chosen input with its rules, or the chosen rule")
        self.forms = QStackedWidget()
        self.input_form, self.rule_form = InputForm(session), RuleForm(session)
        self.nothing = faint("Add an input: what it turns, presses or hears can change the show while it plays.")
        for form in (self.nothing, self.input_form, self.rule_form):
            self.forms.addWidget(form)
        left = QVBoxLayout()
        left.addWidget(self.table, 1)
        left.addLayout(side_by_side(self.add, self.rule, self.earlier, self.later, self.remove))
        left.addWidget(faint(ABOUT))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(14)
        row.addLayout(left, 3)
        row.addWidget(self.forms, 2)
        session.build_changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the build in hand."""
        if self._session.dragging:
            return
        build = self._session.build
        chosen = self.chosen
        self._rows = list(_rows_of(build))
        with quiet(self.table):
            self.table.show_rows(len(self._rows), lambda row: _texts(build, *self._rows[row]))
            if chosen in self._rows:
                self.table.setCurrentCell(self._rows.index(chosen), 1)
        self.table.fit_columns()
        self._show_chosen()

    @property
    def chosen(self) -> tuple[str, str] | None:
        """The list and the id of what is chosen: an input or a rule; the first when none is."""
        row = max(0, self.table.currentRow())
        return self._rows[min(row, len(self._rows) - 1)] if self._rows else None

    def choose(self, identity: str) -> None:
        """Choose an input or a rule.

        Args:
            identity: its id.
        """
        at = next((at for at, (_, each) in enumerate(self._rows) if each == identity), None)
        if at is not None:
            self.table.setCurrentCell(at, 1)

    def _show_chosen(self) -> None:
        chosen, build = self.chosen, self._session.build
        for each in (self.rule, self.remove):
            each.setEnabled(chosen is not None)
        for each in (self.earlier, self.later):
            each.setEnabled(chosen is not None and chosen[0] == "rules")
        if chosen is None:
            self.forms.setCurrentWidget(self.nothing)
        elif chosen[0] == "inputs":
            self.input_form.show_input(item(build.inputs, chosen[1], "input"))
            self.forms.setCurrentWidget(self.input_form)
        else:
            self.rule_form.show_rule(item(build.rules, chosen[1], "rule"))
            self.forms.setCurrentWidget(self.rule_form)

    def _input_id(self) -> str | None:
        """The chosen input, or that of the chosen rule."""
        chosen = self.chosen
        if chosen is None or chosen[0] == "inputs":
            return chosen[1] if chosen else None
        return item(self._session.build.rules, chosen[1], "rule").input_id

    def _add(self, kind: str) -> None:
        word = INPUT_TYPES[kind].word
        if self._session.apply(f"Added a {word}", partial(add_input, kind=kind)):
            self.choose(self._session.build.inputs[-1].id)

    def _add_rule(self) -> None:
        input_id = self._input_id()
        if input_id is not None and self._session.apply("Added a rule", partial(add_rule, input_id=input_id)):
            self.choose(self._session.build.rules[-1].id)

    def _shift(self, by: int) -> None:
        if self.chosen is not None and self.chosen[0] == "rules":
            self._session.apply("Moved a rule", partial(shift_rule, rule_id=self.chosen[1], by=by))

    def _remove(self) -> None:
        if self.chosen is None:
            return
        kind, identity = self.chosen
        if kind == "inputs":
            name = item(self._session.build.inputs, identity, "input").name
            self._session.apply(f"Removed {name} with its rules", partial(remove_input, input_id=identity))
        else:
            self._session.apply("Removed a rule", partial(remove_rule, rule_id=identity))


def _rows_of(build: Build) -> list[tuple[str, str]]:
    """Each input, and after it its rules in their order."""
    found: list[tuple[str, str]] = []
    for one in build.inputs:
        found.append(("inputs", one.id))
        found += [("rules", rule.id) for rule in build.rules if rule.input_id == one.id]
    return found


def _texts(build: Build, kind: str, identity: str) -> tuple[str, ...]:
    if kind == "rules":
        return "", item(build.rules, identity, "rule").told(build), ""
    one = item(build.inputs, identity, "input")
    if not one.wired:
        return one.name, one.word, "the cable"
    return one.name, one.word, one.pin.pin if one.pin is not None else "none yet"


class InputForm(QWidget):
    """Shows and changes one input."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._id = ""
        self.title, self.caution = heading(""), faint()
        self.name = QLineEdit()
        self.name.editingFinished.connect(self._rename)
        self.board = combo([], "The board that reads it", lambda board_id: self._change(board_id=str(board_id)))
        self.pin = combo([], "The pin that reads it", self._set_pin)
        self.fields = ModelForm(scrolls=False, labels=INPUT_LABELS)
        self.fields.entered.connect(lambda path, value: self._change(**{path: value}))
        self.fields.faulty.connect(session.refused)
        rows = Rows()
        rows.add("name", self.name)
        rows.add("board", self.board)
        self._pin_label = rows.add("pin", self.pin)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.title)
        column.addLayout(rows.grid)
        column.addWidget(self.fields)
        column.addWidget(self.caution)
        column.addStretch(1)

    def show_input(self, one: Input) -> None:
        """Show an input.

        Args:
            one: the input.
        """
        self._id = one.id
        build = self._session.build
        self.title.setText(one.word[0].upper() + one.word[1:])
        self.caution.setText(one.caution)
        self.caution.setVisible(bool(one.caution))
        show_text(self.name, one.name)
        for widget in (self.pin, self._pin_label):
            widget.setVisible(one.wired)
        board = item(build.boards, one.board_id, "board")
        part = build.shelf.find(BoardPart, board.part_id)
        taken = {pin.pin for key, pin in pins_of(build, board.id).items() if key[0] != one.id}
        taken |= {each.pin for each in board.reserved}
        with quiet(self.board, self.pin):
            self.board.clear()
            for each in build.boards:
                self.board.addItem(each.name, each.id)
            set_choice(self.board, one.board_id)
            self.pin.clear()
            if one.pin is None:
                self.pin.addItem("none yet", None)
            for pin in part.pins:
                if reads(one, pin) and pin.name not in taken:
                    self.pin.addItem(f"pin {pin.name}", pin.name)
            set_choice(self.pin, one.pin.pin if one.pin is not None else None)
        self.fields.show_fields(plain_fields(one, HIDDEN_INPUT))

    def _change(self, **changes: Any) -> None:
        self._session.apply("Changed an input", partial(change_input, input_id=self._id, **changes))
        self._refresh()

    def _set_pin(self, pin: object) -> None:
        if pin is not None:
            self._session.apply("Put an input on another pin", partial(put_on_pin, input_id=self._id, pin=str(pin)))
        self._refresh()

    def _rename(self) -> None:
        text = self.name.text().strip()
        one = next((each for each in self._session.build.inputs if each.id == self._id), None)
        if one is not None and text and text != one.name:
            self._change(name=text)

    def _refresh(self) -> None:
        """Show what it is after an edit that may have been refused."""
        one = next((each for each in self._session.build.inputs if each.id == self._id), None)
        if one is not None:
            self.show_input(one)


class RuleForm(QWidget):
    """Shows and changes one rule: when, what, on which lights, and from where to where."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._id = ""
        self.words = heading("")
        self.when = combo([], "When", lambda when: self._apply(partial(change_rule, rule_id=self._id, when=str(when))))
        kinds: list[tuple[str, object]] = [(of.word, kind) for kind, of in DEED_TYPES.items()]
        self.does = combo(kinds, "What follows", self._set_kind)
        self.on = combo([], "On which lights", self._set_on)
        self.fields = ModelForm(scrolls=False, labels=DEED_LABELS)
        self.fields.entered.connect(lambda path, value: self._deed(**{path: value}))
        self.fields.faulty.connect(session.refused)
        rows = Rows()
        rows.add("when", self.when)
        rows.add("changes", self.does)
        self._on_label = rows.add("of", self.on)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.caution = faint(FASTER)
        column.addWidget(self.words)
        column.addLayout(rows.grid)
        column.addWidget(self.fields)
        column.addWidget(self.caution)
        column.addStretch(1)

    def show_rule(self, rule: Rule) -> None:
        """Show a rule.

        Args:
            rule: the rule.
        """
        self._id = rule.id
        build = self._session.build
        self.words.setText(rule.told(build))
        self.caution.setVisible(isinstance(rule.does, Speed) and max(rule.does.low, rule.does.high) > 1)
        with quiet(self.when, self.does, self.on):
            self.when.clear()
            for when in VALUED if rule.does.follows else MOMENTS:
                self.when.addItem(WHEN[when], when)
            set_choice(self.when, rule.when)
            set_choice(self.does, rule.does.kind)
            self.on.clear()
            for words, what in _choices(build, rule):
                self.on.addItem(words, what)
            set_choice(self.on, _on(rule))
        self.fields.show_fields(_deed_fields(rule))

    def _apply(self, edit: Callable[[Build], Build]) -> None:
        self._session.apply("Changed a rule", edit)
        rule = next((each for each in self._session.build.rules if each.id == self._id), None)
        if rule is not None:
            self.show_rule(rule)

    def _set_kind(self, kind: object) -> None:
        self._apply(partial(change_deed_kind, rule_id=self._id, kind=str(kind)))

    def _deed(self, **changes: Any) -> None:
        self._apply(partial(change_deed, rule_id=self._id, **changes))

    def _set_on(self, what: object) -> None:
        rule = item(self._session.build.rules, self._id, "rule")
        field, identity = what if isinstance(what, tuple) else ("", None)
        names = [name for name in HIDDEN_DEED if name in type(rule.does).model_fields and name != "kind"]
        self._deed(**{name: identity if name == field else None for name in names})


def _choices(build: Build, rule: Rule) -> list[tuple[str, object]]:
    """What a rule may be about, in words, and the field and the id that say so."""
    if isinstance(rule.does, GoToScene):
        named: list[tuple[str, object]] = [(scene.name, ("scene_id", scene.id)) for scene in build.scenes]
        return [("the next scene" if build.scenes else "the show anew", ("", None)), *named]
    if isinstance(rule.does, Seen):
        return [("choose an effect", ("", None)), *_effects(build)]
    found: list[tuple[str, object]] = [("the show" if isinstance(rule.does, Speed) else "everything", ("", None))]
    found += [(piece.name, ("piece_id", piece.id)) for piece in build.pieces]
    found += [(group.name, ("group_id", group.id)) for group in build.groups]
    if isinstance(rule.does, Speed):
        found += _effects(build)
    return found


def _effects(build: Build) -> list[tuple[str, object]]:
    return [
        (f"{effect.look.word} on {build.line.piece(effect.first.piece_id).name}", ("effect_id", effect.id))
        for effect in build.effects
    ]


def _on(rule: Rule) -> tuple[str, str | None]:
    """The field and the id that say what a rule is about now."""
    for name in HIDDEN_DEED[1:]:
        identity = getattr(rule.does, name, None)
        if identity is not None:
            return name, identity
    return "", None


def _deed_fields(rule: Rule) -> list[Any]:
    """The fields that mean something as the rule is now."""
    idle: set[str] = set()
    if rule.when != "pressed":
        idle.add("steps")
    if isinstance(rule.does, Seen):
        idle |= {"low", "high", "even", "steps"}
    if isinstance(rule.does, Speed) or (isinstance(rule.does, Brightness) and rule.when == "held"):
        idle.add("even")
    if isinstance(rule.does, GoToScene) and rule.does.scene_id is None:
        idle.add("stays")
    hidden = HIDDEN_DEED if isinstance(rule.does, OnLights | GoToScene) else ("kind",)
    return [field for field in plain_fields(rule.does, hidden) if field.path not in idle]
