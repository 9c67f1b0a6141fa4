"""The next reading: where the two probes go, what the meter should say, and what it says."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QComboBox, QCompleter, QLineEdit, QVBoxLayout, QWidget

from tiny_lantern.bench.order import Asked, band_in_words
from tiny_lantern.bench.sheet import BenchSheet, Place
from tiny_lantern.model.bench import MeterKind
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.quantities import parse_quantity
from tiny_lantern.ui.widgets.fields import (
    PlainLabel,
    Rows,
    button,
    combo,
    faint,
    heading,
    quiet,
    set_choice,
    side_by_side,
)

KINDS: tuple[tuple[str, MeterKind], ...] = (("volts", "V"), ("ohms, supply off", "ohm"), ("amperes", "A"))
UNITS: dict[str, str] = {"V": "V", "ohm": "ohm", "A": "A"}
EXPECTED_NOTHING = "What it should say cannot be told: see the snags."
FEW = 60


def searched(name: str) -> QComboBox:
    """A choice among very many, found by typing any part of one.

    Args:
        name: what it is, for screen readers.
    """
    box = QComboBox()
    box.setEditable(True)
    box.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
    box.setAccessibleName(name)
    box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
    box.setMinimumContentsLength(14)
    completer = box.completer()
    if isinstance(completer, QCompleter):
        completer.setFilterMode(Qt.MatchFlag.MatchContains)
        completer.setCompletionMode(QCompleter.CompletionMode.PopupCompletion)
        completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
    return box


class BenchCard(QWidget):
    """Where one reads, and the field for what is read."""

    asked_changed = Signal(object)
    entered = Signal(object, object)
    read_simulated = Signal(object)
    shown = Signal(bool)
    refused = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.asked = Asked("V")
        self.practising = False
        self._place: Place | None = None
        self.kind = combo(list(KINDS), "What is read", lambda _: self._choose())
        self.red, self.black = searched("The red probe on"), searched("The black probe on")
        self.lead = searched("The current through")
        self.pattern = combo([("all dark", "dark")], "The pattern that is shown", lambda _: self._choose())
        self.show_it = button("Show", None, "small", "Line, picture and a board that is sent to show it")
        self.show_it.setCheckable(True)
        self.show_it.toggled.connect(self.shown.emit)
        for box in (self.red, self.black, self.lead):
            box.activated.connect(lambda _: self._choose())
        self.expect = PlainLabel()
        self.expect.setWordWrap(True)
        self.caution = faint()
        self.value = QLineEdit()
        self.value.setAccessibleName("What the meter says")
        self.value.setPlaceholderText("reading …")
        self.value.setFixedWidth(104)
        self.value.returnPressed.connect(self.enter)
        self.open = button("open", self.enter_open, "small", "The meter says that nothing passes")
        self.take = button("Enter", self.enter, "primary", "Keep the reading; one step, undo takes it back")
        self.simulated = button("Read it", self._read_simulated, "primary", "The simulated meter of the practice reads")
        self.simulated.hide()
        rows = Rows()
        rows.add("read", self.kind)
        self._red_word = rows.add("red on", self.red)
        self._black_word = rows.add("black on", self.black)
        self._lead_word = rows.add("through", self.lead)
        both = QWidget()
        both.setLayout(side_by_side(self.pattern, self.show_it))
        rows.add("pattern", both)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(heading("Reading"))
        column.addLayout(rows.grid)
        column.addWidget(self.expect)
        column.addWidget(self.caution)
        column.addStretch(1)
        line = side_by_side(self.value, self.open, self.take, self.simulated)
        column.addLayout(line)
        self._show_fields()

    def show_sheet(self, sheet: BenchSheet) -> None:
        """Offer the terminals, conductors and patterns of a build."""
        with quiet(self.red, self.black, self.lead, self.pattern):
            for box, names in ((self.red, sheet.terminals), (self.black, sheet.terminals),
                               (self.lead, sheet.conductors)):  # fmt: skip
                _offer(box, names)
            self.pattern.clear()
            for each in sheet.patterns:
                self.pattern.addItem(each.name, each.key)
        self.ask(self.asked)

    def ask(self, asked: Asked, chosen: bool = False) -> None:
        """Show where one reads.

        Args:
            asked: where.
            chosen: whether a person chose it, which is told on.
        """
        self.asked = asked
        with quiet(self.kind, self.red, self.black, self.lead, self.pattern):
            set_choice(self.kind, asked.kind)
            for box, key in ((self.red, asked.plus), (self.black, asked.minus), (self.lead, asked.conductor)):
                box.setCurrentIndex(box.findData(key))
            if self.pattern.findData(asked.pattern) >= 0:
                set_choice(self.pattern, asked.pattern)
        self._show_fields()
        if chosen:
            self.asked_changed.emit(asked)

    def _choose(self) -> None:
        kind = self.kind.currentData()
        plus, minus, lead = (box.currentData() or "" for box in (self.red, self.black, self.lead))
        pattern = self.pattern.currentData() or "dark"
        asked = Asked("A", conductor=lead, pattern=pattern) if kind == "A" else Asked(kind, plus, minus, "", pattern)
        self.ask(asked, chosen=True)

    def put_red(self, terminal: str, zero: str) -> None:
        """Put the red probe on a terminal; the black one stays, or goes to 0 V."""
        kind: MeterKind = "ohm" if self.asked.kind == "ohm" else "V"
        asked = replace(self.asked, kind=kind, plus=terminal, minus=self.asked.minus or zero, conductor="")
        self.ask(asked, chosen=True)

    def show_place(self, place: Place | None) -> None:
        """Show what is to be said of the place."""
        self._place = place
        if place is None:
            self.expect.setText("")
            self.caution.setText("")
        else:
            band = band_in_words(place.asked.kind, place.expected) if place.expected is not None else EXPECTED_NOTHING
            self.expect.setText(f"should say {band}")
            self.caution.setText(place.caution)
        self.take.setEnabled(place is not None)
        self.simulated.setEnabled(place is not None)
        self.open.setEnabled(place is not None)

    def _show_fields(self) -> None:
        amperes = self.asked.kind == "A"
        for widget in (self.red, self._red_word, self.black, self._black_word):
            widget.setVisible(not amperes)
        for lead_widget in (self.lead, self._lead_word):
            lead_widget.setVisible(amperes)
        self.open.setVisible(self.asked.kind == "ohm" and not self.practising)
        self.value.setVisible(not self.practising)
        self.take.setVisible(not self.practising)
        self.simulated.setVisible(self.practising)

    def practise(self, on: bool) -> None:
        """Read by the simulated meter, or by one's own.

        Args:
            on: whether a fault is hidden.
        """
        self.practising = on
        self._show_fields()

    def _read_simulated(self) -> None:
        if self._place is not None:
            self.read_simulated.emit(self.asked)

    def enter(self) -> None:
        """Keep what is written as the reading; what is no such quantity is told, and stays to be mended."""
        if self._place is None:
            return
        try:
            value = parse_quantity(self.value.text(), UNITS[self.asked.kind], "reading")
        except LanternError as error:
            self.refused.emit(error)
            return
        self.value.clear()
        self.entered.emit(self.asked, value)

    def enter_open(self) -> None:
        """Keep that the meter says *open*."""
        if self._place is not None:
            self.entered.emit(self.asked, None)


def _offer(box: QComboBox, names: Mapping[str, str]) -> None:
    box.clear()
    for key, name in names.items():
        box.addItem(name[: FEW * 2], key)
