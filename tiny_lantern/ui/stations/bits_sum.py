"""Frames of a matrix: drawn light by light, as rows of ones and zeros, and as bytes, each following the others."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QPlainTextEdit, QVBoxLayout, QWidget

from tiny_lantern.electrical.drive.scanned import active_low, pattern_of, row_bytes
from tiny_lantern.model.errors import LanternError
from tiny_lantern.show.bitmap import (
    across_panels,
    inverted,
    mirrored,
    panel_by_panel,
    pattern_in_bytes,
    pattern_of_bytes,
)
from tiny_lantern.ui.widgets.bit_grid import BitGrid
from tiny_lantern.ui.widgets.fields import Rows, button, combo, faint, quiet, set_choice, side_by_side

LIGHTHOUSE = "00011000\n00111100\n00011000\n00011000\n00111100\n00111100\n01111110\n11111111"
PANEL = 8


class BitsSum(QWidget):
    """A bitmap on one panel or two, as bytes and back."""

    def __init__(self) -> None:
        super().__init__()
        self.rows = QPlainTextEdit(LIGHTHOUSE)
        self.rows.setAccessibleName("Rows of ones and zeros, column 0 left")
        self.grid = BitGrid()
        self.grid.drawn.connect(self._show)
        self.bytes = QLineEdit()
        self.bytes.setAccessibleName("Bytes, as 0x3C, 60 or 0b00111100")
        self.form = combo([("hex", "hex"), ("decimal", "decimal"), ("binary", "binary")], "Written as",
                          lambda _: self.refresh())  # fmt: skip
        self.low = combo([("on when high", False), ("on when low", True)], "Level", lambda _: self.refresh())
        self.panels = combo([("one", 1), ("two side by side", 2)], "Panels", self._set_panels)
        self.order = combo([("row by row, across the panels", "rows"), ("panel by panel", "panels")], "Order of bytes",
                           lambda _: self.refresh())  # fmt: skip
        self.invert = button("Invert", lambda: self._turn(inverted), tip="Every light turned over")
        self.mirror = button("Mirror", lambda: self._turn(mirrored), tip="Left to right")
        self.clear = button("Clear", self._clear)
        self.told = faint()
        self.rows.textChanged.connect(self.refresh)
        self.bytes.editingFinished.connect(self._back)
        rows = Rows()
        rows.add("panels", self.panels)
        rows.add("order", self.order)
        rows.add("written as", self.form)
        rows.add("lines", self.low)
        rows.add("bytes", self.bytes)
        above = QHBoxLayout()
        above.addWidget(self.grid, 3)
        above.addWidget(self.rows, 2)
        column = QVBoxLayout(self)
        column.addWidget(faint("A row a line, 0 or 1 a column; the leftmost is the high bit of the first byte."))
        column.addLayout(above, 1)
        column.addLayout(side_by_side(self.invert, self.mirror, self.clear))
        column.addLayout(rows.grid)
        column.addWidget(self.told)
        self.refresh()

    @property
    def pattern(self) -> list[str]:
        """The rows as they are written."""
        return self.rows.toPlainText().split()

    def refresh(self) -> None:
        """Write the bitmap as bytes, and draw it."""
        try:
            lit = pattern_of(self.pattern)
            values = row_bytes(lit)
            if values is None:
                raise LanternError(f"{lit.shape[1]} columns make no whole bytes", "bitmap", "8, 16, 24 … columns")
            self.grid.show_rows(self.pattern)
            sent = active_low(values) if self.low.currentData() else values
            if self.order.currentData() == "panels":
                sent = panel_by_panel(sent)
            self.bytes.setText(pattern_in_bytes(sent, self.form.currentData()))
            with quiet(self.panels):
                set_choice(self.panels, min(2, lit.shape[1] // PANEL))
            self.told.setText(f"{lit.shape[0]} rows of {lit.shape[1]}")
        except LanternError as error:
            self.told.setText(error.sentence())

    def _back(self) -> None:
        if not self.bytes.isModified():
            return
        try:
            columns = len(self.pattern[0])
            text = self.bytes.text()
            if self.order.currentData() == "panels":
                text = across_panels(text, max(1, columns // PANEL))
            rows = pattern_of_bytes(text, columns, bool(self.low.currentData()))
        except LanternError as error:
            self.told.setText(error.sentence())
            return
        self._show(rows)

    def _show(self, rows: list[str]) -> None:
        self.rows.setPlainText("\n".join(rows))

    def _turn(self, turned: Callable[[list[str]], list[str]]) -> None:
        try:
            pattern_of(self.pattern)
        except LanternError as error:
            self.told.setText(error.sentence())
            return
        self._show(turned(self.pattern))

    def _clear(self) -> None:
        self._show(["0" * len(row) for row in self.pattern] or ["0" * PANEL] * PANEL)

    def _set_panels(self, count: object) -> None:
        """As many columns as the panels have; what is drawn stays where there is room for it."""
        wide = PANEL * int(str(count))
        self._show([row[:wide].ljust(wide, "0") for row in self.pattern] or ["0" * wide] * PANEL)
