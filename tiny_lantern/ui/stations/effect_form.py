"""The selected effect's place, time, layer and parameters."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PySide6.QtWidgets import QCheckBox, QComboBox, QGridLayout, QLineEdit, QVBoxLayout, QWidget

from tiny_lantern.effects.curve import curve_points
from tiny_lantern.effects.kind import ColourParameter, Number, Parameter, TextParameter
from tiny_lantern.effects.registry import effect_kinds
from tiny_lantern.kernel.nodes import ONE
from tiny_lantern.model.edits_show import (
    change_effect,
    change_look,
    deal_again,
    duplicate_effect,
    follow_group,
    place_effect,
    raise_effect,
    remove_effect,
    repeat_effect,
    split_effect,
)  # fmt: skip
from tiny_lantern.model.effects import Effect
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.quantities import clock, parse_quantity
from tiny_lantern.show.pictures import PICTURES, TABLES, picture_words, table_words
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.curve_pad import CurvePad
from tiny_lantern.ui.widgets.fields import (
    ColourButton,
    Rows,
    button,
    combo,
    emptied,
    faint,
    heading,
    plain_tip,
    quiet,
    set_choice,
    side_by_side,
)  # fmt: skip
from tiny_lantern.ui.widgets.in_view import InView
from tiny_lantern.ui.widgets.quantity import QuantityEdit
from tiny_lantern.ui.widgets.tuner import Tuner
from tiny_lantern.ui.widgets.words import WordsEdit

LAYERS = (("replace", "replace"), ("add", "add"), ("lighten", "lighten"), ("dim", "dim"))


class EffectForm(QWidget):
    """Shows and changes one effect."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._kind = ""
        self.tuners: dict[str, Tuner] = {}
        self.pads: dict[str, CurvePad] = {}
        self._looks: dict[str, ColourButton | QuantityEdit | QComboBox | WordsEdit] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self._title = heading("Effect")
        column.addWidget(self._title)
        self._hint = faint("Pick a look below, then draw it on the weave. Click an effect to change it.")
        column.addWidget(self._hint)
        self._body = QWidget()
        self._column = QVBoxLayout(self._body)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(6)
        column.addWidget(self._body)
        self._column.addLayout(self._place_fields())
        self._parameters = QVBoxLayout()
        self._column.addLayout(self._parameters)
        self._column.addLayout(self._buttons())
        in_view = InView(self, self.refresh)
        session.build_changed.connect(in_view.refresh)
        session.selection_changed.connect(in_view.refresh)
        self.refresh()

    def _place_fields(self) -> QGridLayout:
        rows = Rows()
        self.lights = QLineEdit()
        self.lights.setToolTip("First and last light on the Line, e.g. 0-215")
        self.lights.editingFinished.connect(self._set_lights)
        self.start = QuantityEdit("From", "s", clock)
        self.start.entered.connect(lambda value: self._place(start_s=value))
        self.length = QuantityEdit("For", "s", lambda value: f"{value:g} s")
        self.length.entered.connect(lambda value: self._place(length_s=value))
        self.follows = combo([], "What order of lights it follows", self._follow)
        self.layer = combo(list(LAYERS), "How it is laid on what is below", self._set_layer)
        for text, field in (
            ("lights", self.lights),
            ("follows", self.follows),
            ("from", self.start),
            ("for", self.length),
            ("lay it", self.layer),
        ):
            rows.add(text, field)
        for field in (self.start, self.length):
            field.faulty.connect(self._session.refused)
        return rows.grid

    def _buttons(self) -> QVBoxLayout:
        column = QVBoxLayout()
        self._order = faint()
        column.addWidget(self._order)
        column.addLayout(
            side_by_side(button("Lower", lambda: self._raise(-1), tip="Below the others"),
                         button("Raise", lambda: self._raise(1), tip="Above the others"))
        )  # fmt: skip
        column.addLayout(side_by_side(button("Duplicate", self._duplicate), button("Remove", self._remove, tip="Del")))
        self.mirrored = QCheckBox("mirrored on its lights")
        self.mirrored.setToolTip("M")
        self.mirrored.clicked.connect(lambda on: self._turn("Mirrored", mirrored=on))
        self.backward = QCheckBox("backward in time")
        self.backward.setToolTip("B")
        self.backward.clicked.connect(lambda on: self._turn("Turned in time", backward=on))
        self.turned = QuantityEdit("Moved round its lights by", "", "{:g}".format)
        self.turned.setToolTip("[ and ]")
        self.turned.entered.connect(lambda value: self._turn("Moved round its lights", turned=int(value)))
        self.every = QuantityEdit("Laid again every", "s", lambda value: f"{value:g} s")
        self.every.entered.connect(self._repeat)
        self.every.setPlaceholderText("5 s")
        for field in (self.turned, self.every):
            field.faulty.connect(self._session.refused)
        rows = Rows()
        rows.add("moved round", self.turned)
        rows.add("again every", self.every)
        self.deal = button("Deal again", self._deal, "small", "Draw what is left to chance anew")
        column.addWidget(self.mirrored)
        column.addWidget(self.backward)
        column.addLayout(rows.grid)
        column.addLayout(
            side_by_side(button("Split", self._split, "small", "Cut it in two at the caret: S"), self.deal)
        )
        return column

    @property
    def effect(self) -> Effect | None:
        """The selected effect."""
        chosen = self._session.selection.one("effects")
        return next((effect for effect in self._session.build.effects if effect.id == chosen), None)

    def refresh(self) -> None:
        """Show the selected effect."""
        effect = self.effect
        self._body.setVisible(effect is not None)
        self._hint.setVisible(effect is None)
        self._title.setText(effect.look.word.capitalize() if effect else "Effect")
        if effect is None:
            return
        build = self._session.build
        first, stop = build.line.covered(effect)
        text = f"{first}-{stop - 1}"
        if not (self.lights.hasFocus() and self.lights.isModified()) and self.lights.text() != text:
            self.lights.setText(text)
        self.lights.setToolTip(plain_tip(self._lights_in_words(effect)))
        self.start.show_value(effect.start_s)
        self.length.show_value(effect.length_s)
        self._show_groups(effect)
        with quiet(self.layer, self.mirrored, self.backward):
            set_choice(self.layer, effect.layer)
            self.mirrored.setChecked(effect.mirrored)
            self.backward.setChecked(effect.backward)
        self.turned.show_value(effect.turned)
        self.every.show_nothing()
        self.deal.setVisible("seed" in effect.look.values)
        at = build.effects.index(effect) + 1
        self._order.setText(f"laid {at} of {len(build.effects)}, later ones on top")
        self._show_look(effect)

    def _show_groups(self, effect: Effect) -> None:
        """Which order of lights it follows: the Line's, or that of a group."""
        wanted = [("the Line", None), *((group.name, group.id) for group in self._session.build.groups)]
        with quiet(self.follows):
            if wanted != [(self.follows.itemText(n), self.follows.itemData(n)) for n in range(self.follows.count())]:
                self.follows.clear()
                for name, identity in wanted:
                    self.follows.addItem(name, identity)
            set_choice(self.follows, effect.group_id)
        self.follows.setEnabled(len(wanted) > 1)
        self.follows.setToolTip(plain_tip("Groups are made in Pieces: Ctrl+G"))
        self.lights.setEnabled(effect.group_id is None)

    def _follow(self, group_id: object) -> None:
        if self.effect:
            chosen = None if group_id is None else str(group_id)
            edit = partial(follow_group, effect_id=self.effect.id, group_id=chosen)
            self._session.apply(f"Changed what {self._kind} follows", edit)
            self.refresh()

    def _lights_in_words(self, effect: Effect) -> str:
        build = self._session.build
        ends = [build.line.piece(ref.piece_id).spoken(ref.index) for ref in (effect.first, effect.last)]
        return f"{ends[0]} to {ends[1]}; first and last light on the Line, e.g. 0-215"

    def _show_look(self, effect: Effect) -> None:
        if effect.look.word != self._kind:
            self._kind = effect.look.word
            self._make_look(effect)
        first, stop = self._session.build.line.covered(effect)
        for parameter in effect_kinds()[effect.look.kind].parameters:
            if isinstance(parameter, Number) and parameter.name in self.tuners:
                self.tuners[parameter.name].range_over(*parameter.within(stop - first, effect.length_s))
        for name, field in self._looks.items():
            value = getattr(effect.look, name)
            if isinstance(field, ColourButton):
                field.show_colour(value)
            elif isinstance(field, WordsEdit):
                field.show_words(value)
                if name in self.pads:
                    self.pads[name].show_levels([level / ONE for level in curve_points(value)])
            elif isinstance(field, QComboBox):
                with quiet(field):
                    set_choice(field, value)
            else:
                field.show_value(value)
                if name in self.tuners:
                    self.tuners[name].show_value(value)

    def _make_look(self, effect: Effect) -> None:
        emptied(self._parameters)
        holder, rows = QWidget(), Rows()
        holder.setLayout(rows.grid)
        self._looks, self.tuners, self.pads = {}, {}, {}
        for parameter in effect_kinds()[effect.look.kind].parameters:
            set_look = partial(self._set_look, parameter)
            field: ColourButton | QuantityEdit | QComboBox | WordsEdit
            if isinstance(parameter, ColourParameter):
                field = ColourButton(parameter.label, set_look, partial(self._try_colour, parameter))
            elif isinstance(parameter, TextParameter):
                field = self._words(parameter)
                field.entered.connect(set_look)
                field.faulty.connect(self._session.refused)
            elif parameter.words:
                choices = [(word, number) for number, word in enumerate(parameter.words, int(parameter.low))]
                field = combo(choices, parameter.label, set_look)
            else:
                field = QuantityEdit(parameter.label, parameter.unit, _shown(parameter.unit))
                field.entered.connect(set_look)
                field.faulty.connect(self._session.refused)
            self._looks[parameter.name] = field
            rows.add(parameter.label, field)
            if isinstance(parameter, Number) and not parameter.words and parameter.name != "seed":
                rows.below(self._tuner(parameter))
            if isinstance(parameter, TextParameter) and parameter.shape == "curve":
                rows.below(self._pad(parameter))
        self._parameters.addWidget(holder)

    def _tuner(self, parameter: Number) -> Tuner:
        """A slider that is followed at once."""
        tuner = Tuner(parameter.label, parameter.low, parameter.high, parameter.whole)
        tuner.tried.connect(partial(self._try, parameter))
        tuner.kept.connect(partial(self._set_look, parameter))
        tuner.given_up.connect(self._session.drop_preview)
        self.tuners[parameter.name] = tuner
        return tuner

    def _pad(self, parameter: TextParameter) -> CurvePad:
        """A pad to draw the curve on, followed at once."""
        pad = CurvePad(parameter.label)
        pad.tried.connect(partial(self._try, parameter))
        pad.kept.connect(partial(self._set_look, parameter))
        pad.given_up.connect(self._session.drop_preview)
        self.pads[parameter.name] = pad
        return pad

    def _try(self, parameter: Parameter, value: Any) -> None:
        """Show a value without making it a step yet."""
        if self.effect:
            self._session.preview(partial(change_look, effect_id=self.effect.id, **_change(parameter, value)))

    def _try_colour(self, parameter: Parameter, colour: str | None) -> None:
        if colour is None:
            self._session.drop_preview()
        else:
            self._try(parameter, colour)

    def _words(self, parameter: TextParameter) -> WordsEdit:
        from_file, files = {
            "lines": (table_words, TABLES), "picture": (self._picture_words, PICTURES),
        }.get(parameter.shape, (None, ""))  # fmt: skip
        many = parameter.shape in ("lines", "picture")
        return WordsEdit(parameter.label, parameter.hint, parameter.read, many, from_file, files)

    def _picture_words(self, path: str) -> str:
        """A picture's file as rows of colours for the lights of the selected effect."""
        assert self.effect is not None
        first, stop = self._session.build.line.covered(self.effect)
        return picture_words(path, self.effect.look.values.get("rows", 1), stop - first)

    def _set_look(self, parameter: Parameter, value: Any) -> None:
        if self.effect:
            edit = partial(change_look, effect_id=self.effect.id, **_change(parameter, value))
            self._session.apply(f"Changed the {parameter.label} of {self._kind}", edit)
            self.refresh()

    def _set_lights(self) -> None:
        effect = self.effect
        if effect is None or not self.lights.isModified():
            return
        self.lights.setModified(False)
        words = self.lights.text().replace("–", "-").split("-")
        last = self._session.build.line.slot_count - 1
        try:
            ends = sorted(int(parse_quantity(word, "", "lights")) for word in words)
            if len(ends) != 2 or ends[0] < 0 or ends[1] > last:
                raise LanternError(f"“{self.lights.text()}” is not a span of lights", "lights", f"two of 0-{last}")
        except LanternError as error:
            self._session.refused.emit(LanternError(error.what, "lights", f"first-last, within 0-{last}"))
            self.refresh()
            return
        self._place(first_slot=ends[0], stop_slot=ends[1] + 1)

    def _place(self, **changes: float) -> None:
        effect = self.effect
        if effect is None:
            return
        first, stop = self._session.build.line.covered(effect)
        place = {
            "first_slot": first,
            "stop_slot": stop,
            "start_s": effect.start_s,
            "length_s": effect.length_s,
            **changes,
        }
        edit = partial(place_effect, effect_id=effect.id, **place)  # type: ignore[arg-type]
        self._session.apply(f"Placed {self._kind}", edit)
        self.refresh()

    def _set_layer(self, layer: object) -> None:
        if self.effect:
            edit = partial(change_effect, effect_id=self.effect.id, layer=layer)
            self._session.apply(f"Changed how {self._kind} is laid", edit)

    def _turn(self, label: str, **changes: Any) -> None:
        if self.effect:
            self._session.apply(f"{label}: {self._kind}", partial(change_effect, effect_id=self.effect.id, **changes))
            self.refresh()

    def _repeat(self, every_s: float) -> None:
        """Lay it again every so often, up to the end of the show."""
        if self.effect:
            edit = partial(repeat_effect, effect_id=self.effect.id, every_s=every_s, until_s=self._session.build.show_s)
            self._session.apply(f"Laid {self._kind} every {every_s:g} s", edit)
            self.refresh()

    def _split(self) -> None:
        if self.effect:
            edit = partial(split_effect, effect_id=self.effect.id, time_s=self._session.time_s)
            self._session.apply(f"Split {self._kind}", edit)

    def _deal(self) -> None:
        if self.effect:
            self._session.apply(f"Dealt {self._kind} again", partial(deal_again, effect_id=self.effect.id))

    def _raise(self, by: int) -> None:
        if self.effect:
            label = f"{'Raised' if by > 0 else 'Lowered'} {self._kind}"
            self._session.apply(label, partial(raise_effect, effect_id=self.effect.id, by=by))

    def _duplicate(self) -> None:
        if self.effect and self._session.apply(
            f"Duplicated {self._kind}", partial(duplicate_effect, effect_id=self.effect.id)
        ):
            self._session.select("effects", self._session.build.effects[-1].id)

    def _remove(self) -> None:
        if self.effect:
            self._session.apply(f"Removed {self._kind}", partial(remove_effect, effect_id=self.effect.id))


def _change(parameter: Parameter, value: Any) -> dict[str, Any]:
    """A value of a parameter as a change of a look."""
    whole = isinstance(parameter, Number) and parameter.whole
    return {parameter.name: int(value) if whole else value}


def _shown(unit: str) -> Callable[[float], str]:
    if unit == "ratio":
        return lambda value: f"{value:.0%}"
    return lambda value: f"{value:g} {unit}".strip()


def whole_span(session: Session) -> tuple[int, int]:
    """The slots of the selected strip, or of the whole Line when none is selected."""
    for span in session.build.line.spans:
        if span.piece.id == session.selection.one("pieces"):
            return span.first, span.stop - 1
    return 0, session.build.line.slot_count - 1
