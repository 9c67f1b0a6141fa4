"""The fields of a model, made from the model itself."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QLineEdit, QVBoxLayout, QWidget

from tiny_lantern.catalogue.part_fields import PartField
from tiny_lantern.model.quantities import engineering
from tiny_lantern.ui.widgets.fields import Rows, combo, emptied, scrolled, set_choice
from tiny_lantern.ui.widgets.quantity import QuantityEdit

Value = str | float | bool | None


class ModelForm(QWidget):
    """Shows fields; ``entered`` tells which one a person changed to what, ``faulty`` what cannot be used.

    Args:
        scrolls: whether the fields scroll in a place of their own.
        labels: what some fields are called instead of by their names.
    """

    entered = Signal(str, object)
    faulty = Signal(object)

    def __init__(self, scrolls: bool = True, labels: Mapping[str, str] | None = None) -> None:
        super().__init__()
        self._scrolls, self._labels = scrolls, labels or {}
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self.fields: dict[str, QWidget] = {}

    def show_fields(self, shown: list[PartField], editable: bool = True) -> None:
        """Show some fields, which can be changed or not."""
        if list(self.fields) != [field.path for field in shown]:
            self._make(shown)
        for field in shown:
            self._show(field)
            self.fields[field.path].setEnabled(editable)

    def _make(self, shown: list[PartField]) -> None:
        emptied(self._column)
        rows, holder = Rows(), QWidget()
        self.fields = {}
        for field in shown:
            self.fields[field.path] = self._field(field)
            rows.add(self._labels.get(field.path, field.label), self.fields[field.path])
        column = QVBoxLayout(holder)
        column.setContentsMargins(0, 0, 12 if self._scrolls else 0, 0)
        column.addLayout(rows.grid)
        if self._scrolls:
            column.addStretch(1)
        self._column.addWidget(scrolled(holder) if self._scrolls else holder)

    def _field(self, field: PartField) -> QWidget:
        if field.choices:
            choices: list[tuple[str, object]] = [(_word(choice), choice) for choice in field.choices]
            if field.optional:
                choices.insert(0, ("not said", None))
            return combo(choices, field.label, partial(self._enter, field.path))
        if isinstance(field.value, int | float) or field.unit is not None:
            quantity = QuantityEdit(field.label, field.unit or "", _shown(field.unit))
            quantity.optional = field.optional
            quantity.entered.connect(partial(self._enter, field.path))
            quantity.emptied.connect(partial(self._enter, field.path, None))
            quantity.faulty.connect(self.faulty)
            return quantity
        line = QLineEdit()
        line.editingFinished.connect(lambda: self._enter_text(field.path, line))
        return line

    def _show(self, field: PartField) -> None:
        widget = self.fields[field.path]
        if isinstance(widget, QComboBox):
            set_choice(widget, field.value)
        elif isinstance(widget, QuantityEdit):
            if field.value is None:
                widget.show_nothing()
            else:
                widget.show_value(float(field.value))
        elif isinstance(widget, QLineEdit):
            text = "" if field.value is None else str(field.value)
            if text != widget.text():
                widget.setText(text)
                widget.setCursorPosition(0)

    def _enter_text(self, path: str, line: QLineEdit) -> None:
        if line.isModified():
            line.setModified(False)
            self._enter(path, line.text())

    def _enter(self, path: str, value: Value) -> None:
        self.entered.emit(path, _whole(value))


def _word(choice: str | bool) -> str:
    return {True: "yes", False: "no"}[choice] if isinstance(choice, bool) else str(choice).replace("_", " ")


def _whole(value: Value) -> Value:
    """A number without a fraction as the whole number it is, which counts want."""
    return int(value) if isinstance(value, float) and value == int(value) else value


def _shown(unit: str | None) -> Callable[[float], str]:
    if not unit:
        return "{:g}".format
    if unit == "mm2":
        return "{:g} mm²".format
    return partial(engineering, unit=unit, digits=4)
