"""Small helpers for forms: rows with a label, panels, links."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from html import escape

from PySide6.QtCore import QObject, Qt
from PySide6.QtGui import QColor, QPaintEvent
from PySide6.QtWidgets import (
    QColorDialog,
    QComboBox,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLayout,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QScrollBar,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)  # fmt: skip

from tiny_lantern.ui.guarded import guarded


@contextmanager
def quiet(*widgets: QObject) -> Iterator[None]:
    """Let widgets be filled without telling anyone."""
    before = [widget.blockSignals(True) for widget in widgets]
    try:
        yield
    finally:
        for widget, was in zip(widgets, before, strict=True):
            widget.blockSignals(was)


@guarded
class PlainLabel(QLabel):
    """Text as it is, in the label and in its tip: nothing that a build says is ever read as markup."""

    def __init__(self, text: str = "") -> None:
        super().__init__()
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)

    def setToolTip(self, text: str) -> None:
        super().setToolTip(plain_tip(text))


def plain_tip(text: str) -> str:
    """A tool tip that shows text as it is, though a tip reads markup by itself."""
    return f"<qt>{escape(text)}</qt>".replace("\n", "<br>") if "<" in text else text


def heading(text: str) -> QLabel:
    """A title inside a panel; a long one wraps and never widens its panel."""
    label = PlainLabel(text)
    label.setObjectName("heading")
    label.setWordWrap(True)
    label.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
    return label


def faint(text: str = "") -> QLabel:
    """A quiet line of text that wraps."""
    label = PlainLabel(text)
    label.setObjectName("faint")
    label.setWordWrap(True)
    return label


def button(text: str, act: Callable[[], object] | None = None, name: str = "", tip: str = "") -> QPushButton:
    """A button; ``name`` picks its style (``primary`` or ``link``)."""
    made = QPushButton(text)
    made.setObjectName(name)
    made.setCursor(Qt.CursorShape.PointingHandCursor)
    made.setToolTip(plain_tip(tip))
    if act is not None:
        made.clicked.connect(lambda: act())
    return made


def panel(width: int | None = None) -> tuple[QFrame, QVBoxLayout]:
    """A paper card with a column layout."""
    frame = QFrame()
    frame.setObjectName("panel")
    if width:
        frame.setFixedWidth(width)
    column = QVBoxLayout(frame)
    column.setContentsMargins(12, 10, 12, 10)
    column.setSpacing(6)
    return frame, column


@guarded
class QuietBar(QScrollBar):
    """A scroll bar that keeps its room, and is seen only while there is something to scroll."""

    def paintEvent(self, event: QPaintEvent) -> None:
        if self.maximum() > self.minimum():
            super().paintEvent(event)


def scrolled(content: QWidget) -> QScrollArea:
    """Content that scrolls down when it is taller than its place.

    The bar's room is kept: words that wrap would be taller beside a bar than without it, and one that came and went
    with their height would never come to rest.
    """
    area = QScrollArea()
    area.setVerticalScrollBar(QuietBar())
    area.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)
    area.setWidgetResizable(True)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    content.setObjectName(content.objectName() or "scrolled")
    area.setWidget(content)
    area.viewport().setAutoFillBackground(False)
    return area


class Rows:
    """A two-column form: label left, field right."""

    def __init__(self) -> None:
        self.grid = QGridLayout()
        self.grid.setContentsMargins(0, 0, 0, 0)
        self.grid.setHorizontalSpacing(8)
        self.grid.setVerticalSpacing(5)
        self.grid.setColumnStretch(1, 1)

    def add(self, text: str, field: QWidget) -> QLabel:
        """One row; the label is tied to the field for the keyboard and for screen readers."""
        label = PlainLabel(text)
        label.setObjectName("faint")
        label.setBuddy(field)
        field.setMinimumWidth(48)
        if not field.accessibleName():
            field.setAccessibleName(text)
        row = self.grid.rowCount()
        self.grid.addWidget(label, row, 0)
        self.grid.addWidget(field, row, 1)
        return label

    def below(self, field: QWidget) -> None:
        """A field under the last one, with no label of its own."""
        self.grid.addWidget(field, self.grid.rowCount(), 1)


def combo(choices: Sequence[tuple[str, object]], name: str, chosen: Callable[[object], object]) -> QComboBox:
    """A list of choices with data; ``chosen`` is told the data when a person picks one."""
    box = QComboBox()
    box.setAccessibleName(name)
    box.setMinimumContentsLength(6)
    box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
    for text, data in choices:
        box.addItem(text, data)
    box.activated.connect(lambda index: chosen(box.itemData(index)))
    return box


def set_choice(box: QComboBox, data: object) -> None:
    """Show the choice that has this data."""
    for index in range(box.count()):
        if box.itemData(index) == data:
            box.setCurrentIndex(index)
            return


class ColourButton(QPushButton):
    """Shows a colour and asks for another; what is tried while it asks is shown where ``tried`` is given, and None
    says that it was given up."""

    def __init__(
        self, name: str, chosen: Callable[[str], object], tried: Callable[[str | None], object] | None = None
    ) -> None:
        super().__init__()
        self._chosen, self._tried = chosen, tried
        self._colour = "#ffffff"
        self.setAccessibleName(name)
        self.clicked.connect(self._ask)

    def show_colour(self, colour: str) -> None:
        """Show a colour written ``#rrggbb``."""
        if colour == self._colour and self.text():
            return
        self._colour = colour
        ink = "#000000" if QColor(colour).lightness() > 120 else "#ffffff"
        self.setText(colour)
        self.setStyleSheet(f"background: {colour}; color: {ink}; padding: 3px;")

    def _ask(self) -> None:
        dialog = QColorDialog(QColor(self._colour), self)
        dialog.setWindowTitle(self.accessibleName())
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.setModal(True)
        tried = self._tried
        if tried is not None:
            dialog.currentColorChanged.connect(lambda colour: tried(colour.name()))
            dialog.rejected.connect(lambda: tried(None))
        dialog.colorSelected.connect(lambda colour: self._chosen(colour.name()))
        dialog.open()


def emptied(column: QLayout) -> None:
    """Take every widget out of a layout and let it go."""
    while taken := column.takeAt(0):
        widget = taken.widget()
        if widget is not None:
            widget.hide()
            widget.deleteLater()


def side_by_side(*widgets: QWidget) -> QHBoxLayout:
    """Widgets in a row."""
    row = QHBoxLayout()
    row.setContentsMargins(0, 0, 0, 0)
    row.setSpacing(6)
    for widget in widgets:
        row.addWidget(widget)
    return row


def show_text(field: QLineEdit, text: str) -> None:
    """Show a text in a field unless a person is typing in it."""
    if field.text() != text and not (field.hasFocus() and field.isModified()):
        field.setText(text)
