"""A field that takes a quantity as people write it."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QLineEdit, QWidget

from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.quantities import examples, parse_quantity
from tiny_lantern.ui.guarded import guarded


@guarded
class QuantityEdit(QLineEdit):
    """Reads a quantity into SI units; what is not understood is told and stays to be mended.

    Args:
        name: what the field is, for messages and for screen readers.
        unit: the unit, as ``parse_quantity`` takes it.
        shown: writes a value for reading.
    """

    entered = Signal(float)
    faulty = Signal(object)
    emptied = Signal()

    def __init__(self, name: str, unit: str, shown: Callable[[float], str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._name, self._unit, self._shown = name, unit, shown
        self._value: float | None = None
        self.optional = False
        self.setAccessibleName(name)
        self.setToolTip(f"{name}: {examples(unit)}")
        self.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.editingFinished.connect(self._finish)

    @property
    def value(self) -> float | None:
        """The last value shown or entered."""
        return self._value

    def show_value(self, value: float) -> None:
        """Show a value; a field being typed in is left alone."""
        self._value = value
        if not (self.hasFocus() and self.isModified()):
            text = self._shown(value)
            if text != self.text():
                self.setText(text)
            self._mark(False)

    def show_nothing(self) -> None:
        """Show that nothing is known, unless a person is typing."""
        self._value = None
        if not (self.hasFocus() and self.isModified()):
            self.clear()
            self._mark(False)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape and self.isModified() and self._value is not None:
            self.setText(self._shown(self._value))
            self._mark(False)
            return
        super().keyPressEvent(event)

    def _finish(self) -> None:
        if not self.isModified():
            return
        if self.optional and not self.text().strip():
            self.setModified(False)
            self._mark(False)
            self._value = None
            self.emptied.emit()
            return
        try:
            value = parse_quantity(self.text(), self._unit, self._name)
        except LanternError as error:
            self._mark(True)
            self.faulty.emit(error)
            return
        self.setModified(False)
        self._mark(False)
        self._value = value
        self.setText(self._shown(value))
        self.entered.emit(value)

    def _mark(self, fault: bool) -> None:
        if bool(self.property("fault")) != fault:
            self.setProperty("fault", fault)
            self.style().unpolish(self)
            self.style().polish(self)
