"""Parts and stock: every part that can be had, how many are owned, and the editor of one's own."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QAbstractItemView, QFileDialog, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from tiny_lantern.catalogue import drawer as drawers
from tiny_lantern.catalogue.drawer import Drawer, merged, with_own, with_stock, without_own
from tiny_lantern.catalogue.part_fields import fields_of, with_field
from tiny_lantern.catalogue.part_table import parts_csv, read_parts_csv
from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.model.disk import write_atomically
from tiny_lantern.model.edits import change_parts, fresh
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.stations.strip_facts import StripFacts
from tiny_lantern.ui.widgets.fields import Rows, button, faint, heading, panel, quiet, side_by_side
from tiny_lantern.ui.widgets.model_form import ModelForm
from tiny_lantern.ui.widgets.quantity import QuantityEdit
from tiny_lantern.ui.widgets.row_table import RowTable

HEADS = ("part", "kind", "whose", "owned", "paid")
FIGURES = (3, 4)
FORM_WIDTH = 380
FILES = "Parts (*.json *.csv)"


class PartsWindow(QWidget):
    """Left the list with a filter, right the chosen part."""

    refused = Signal(object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session, self._keeper = session, session.drawers
        self._chosen: str | None = None
        self._parts: list[Part] = []
        self._whose_ids: tuple[set[str], set[str]] = set(), set()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addLayout(self._left(), 1)
        row.addWidget(self._right())
        self._keeper.changed.connect(self.refresh)
        session.build_changed.connect(self.refresh)
        self.refused.connect(session.refused)
        self.refresh()

    def _left(self) -> QVBoxLayout:
        self.filter = QLineEdit()
        self.filter.setPlaceholderText("Filter by name, kind or whose: led, wire, own, owned …")
        self.filter.setAccessibleName("Filter the parts")
        self.filter.textChanged.connect(lambda _: self.refresh())
        self.table = RowTable(HEADS, FIGURES, stretched=0)
        self.table.setAccessibleName("Parts")
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.currentCellChanged.connect(self._choose)
        column = QVBoxLayout()
        column.addWidget(self.filter)
        column.addWidget(self.table, 1)
        self._undo = button("Undo", self._keeper.undo, tip="Take back the last change of parts or stock")
        self._redo = button("Redo", self._keeper.redo, tip="Do it again")
        self._undo.setShortcut("Ctrl+Z")
        self._redo.setShortcut("Ctrl+Shift+Z")
        read = button("Read in …", self._ask_read, tip="Add parts and stock from a JSON or CSV file")
        tip = "A .json file holds your own parts and stock; a .csv file the parts listed here"
        write = button("Write out …", self._ask_write, tip=tip)
        column.addLayout(side_by_side(read, write, self._undo, self._redo))
        return column

    def _right(self) -> QWidget:
        frame, column = panel(FORM_WIDTH)
        self._title, self._whose = heading(""), faint()
        rows = Rows()
        self.owned = QuantityEdit("How many you own", "", "{:g}".format)
        self.paid = QuantityEdit("What one cost", "", "{:g}".format)
        self.paid.optional = True
        self.owned.entered.connect(lambda value: self._set_stock(value, self.paid.value))
        self.paid.entered.connect(lambda value: self._set_stock(self.owned.value or 0.0, value))
        self.paid.emptied.connect(lambda: self._set_stock(self.owned.value or 0.0, None))
        for field in (self.owned, self.paid):
            field.faulty.connect(self.refused)
        rows.add("owned", self.owned)
        rows.add("paid each", self.paid)
        self.form = ModelForm()
        self.form.entered.connect(self._change)
        self.form.faulty.connect(self.refused)
        self.facts = StripFacts()
        self.facts.worked_out.connect(self._take)
        self.facts.faulty.connect(self.refused)
        self._copy = button("Copy as my own", self.copy_as_own, tip="A part of your own that starts as this one")
        self._delete = button("Remove", self.remove, tip="Take this part of your own out of the drawer")
        self._update = button("Update in this build", self.update_build,
                              tip="The build keeps its own copy of a part; give it this one")  # fmt: skip
        for widget in (self._title, self._whose):
            column.addWidget(widget)
        column.addLayout(rows.grid)
        column.addLayout(side_by_side(self._copy, self._delete, self._update))
        column.addWidget(self.form, 1)
        column.addWidget(self.facts)
        return frame

    @property
    def part(self) -> Part | None:
        """The chosen part."""
        return next((part for part in self._parts if part.id == self._chosen), None)

    @property
    def _own(self) -> bool:
        return any(part.id == self._chosen for part in self._keeper.drawer.parts)

    def refresh(self) -> None:
        """Show the parts and the chosen one."""
        drawer = self._keeper.drawer
        own = {part.id for part in drawer.parts}
        every = (*drawer.parts, *(part for part in self._session.parts if part.id not in own))
        self._whose_ids = own, {used.id for used in self._session.build.parts}
        word = self.filter.text().strip().casefold()
        self._parts = [part for part in every if word in self._words(part)]
        with quiet(self.table):
            self.table.show_rows(len(self._parts), self._row)
            if self.part is None and self._parts:
                self._chosen = self._parts[0].id
            row = next((n for n, part in enumerate(self._parts) if part.id == self._chosen), None)
            if row is not None and row != self.table.currentRow():
                self.table.setCurrentCell(row, 0)
        for act, label in ((self._undo, self._keeper.undo_label), (self._redo, self._keeper.redo_label)):
            act.setEnabled(label is not None)
        self.table.fit_columns()
        self._show_part()

    def _words(self, part: Part) -> str:
        owned = "owned" if self._keeper.drawer.stock_of(part.id).owned else ""
        return f"{part.name} {part.id} {part.kind} {self._whose_of(part)} {owned}".casefold()

    def _whose_of(self, part: Part) -> str:
        own, used = self._whose_ids
        return "own" if part.id in own else "this build" if part.id in used else "ships"

    def _row(self, row: int) -> tuple[str, ...]:
        part = self._parts[row]
        stock = self._keeper.drawer.stock_of(part.id)
        owned = f"{stock.owned:g}" if stock.owned else ""
        return part.name, part.kind, self._whose_of(part), owned, "" if stock.cost is None else f"{stock.cost:g}"

    def _show_part(self) -> None:
        part = self.part
        for widget in (self.owned, self.paid, self.form, self._copy):
            widget.setVisible(part is not None)
        self.facts.setVisible(isinstance(part, StripPart) and self._own)
        self._delete.setVisible(part is not None and self._own)
        self._update.setVisible(part is not None and self._differs(part))
        self._title.setText(part.name if part else "No part has these letters")
        if part is None:
            self._whose.setText("")
            return
        stock = self._keeper.drawer.stock_of(part.id)
        self.owned.show_value(stock.owned)
        if stock.cost is None:
            self.paid.show_nothing()
        else:
            self.paid.show_value(stock.cost)
        self._whose.setText("Your own: its fields can be changed." if self._own else
                            "Copy it as your own to change its fields.")  # fmt: skip
        self.form.show_fields(fields_of(part), self._own)
        if isinstance(part, StripPart):
            self.facts.show_part(part)

    def _differs(self, part: Part) -> bool:
        return any(used.id == part.id and used != part for used in self._session.build.parts)

    def _choose(self, row: int, *_: int) -> None:
        if 0 <= row < len(self._parts):
            self._chosen = self._parts[row].id
            self._show_part()

    def _set_stock(self, owned: float, cost: float | None) -> None:
        part = self.part
        if part is not None:
            edit = partial(with_stock, part_id=part.id, owned=owned, cost=cost)
            self._keeper.apply(f"You own {owned:g} of {part.name}", edit)
            self.refresh()

    def _change(self, path: str, value: str | float | bool | None) -> None:
        part = self.part
        if part is None:
            return
        try:
            changed = with_field(part, path, value)
        except LanternError as error:
            self.refused.emit(error)
        else:
            self._keeper.apply(f"Changed {part.name}", partial(with_own, part=changed))
        self.refresh()

    def _take(self, part: Part) -> None:
        self._keeper.apply(f"Worked out {part.name}", partial(with_own, part=part))

    def copy_as_own(self) -> None:
        """A part of one's own that starts as the chosen one."""
        part = self.part
        if part is None:
            return
        taken = {other.id for other in self._parts} | {other.id for other in self._keeper.drawer.parts}
        name = f"My {part.name}"[:120]
        new = part.model_copy(update={"id": fresh(f"own-{part.id}", taken), "name": name})
        if self._keeper.apply(f"Made {name}", partial(with_own, part=new)):
            self._chosen = new.id
            self.refresh()

    def remove(self) -> None:
        """Take the chosen part of one's own out of the drawer; builds that use it keep their copy."""
        part = self.part
        if part is not None and self._own:
            self._keeper.apply(f"Removed {part.name}", partial(without_own, part_id=part.id))

    def update_build(self) -> None:
        """Give the build in hand the chosen part in place of its own copy, as one step of the build."""
        part = self.part
        if part is not None:
            self._session.apply(f"Updated {part.name}", lambda build: change_parts(build, part))

    def _ask_read(self) -> None:
        chosen, _ = QFileDialog.getOpenFileName(self, "Read in parts", "", FILES)
        if chosen:
            self.read(Path(chosen))

    def _ask_write(self) -> None:
        chosen, _ = QFileDialog.getSaveFileName(self, "Write out parts", "parts.csv", FILES)
        if chosen:
            self.write(Path(chosen))

    def read(self, path: Path) -> None:
        """Add the parts and the stock of a file, in the background; one that cannot be used is told and changes
        nothing."""
        known = self._keeper.drawer.shelf.with_more(shelf())

        def work(progress: Callable[[float], None], cancelled: Callable[[], bool]) -> Drawer:
            text = drawers.text_of(path)
            if path.suffix.lower() == ".json":
                return drawers.loads(text, path.name)
            return read_parts_csv(text, known, path.name, progress, cancelled)

        self._session.background.start("read-parts", work, partial(self._add, path.name), self.refused.emit)

    def _add(self, name: str, found: Drawer) -> None:
        what = f"Read {len(found.parts)} parts and the stock of {len(found.stock)} from {name}"
        self._keeper.apply(what, lambda drawer: merged(drawer, found))

    def write(self, path: Path) -> None:
        """Write own parts and stock as JSON, or the parts listed as CSV; a refusal is told."""
        drawer = self._keeper.drawer
        json = path.suffix.lower() == ".json"
        text = drawers.dumps(drawer) if json else parts_csv(self._parts, drawer)
        try:
            write_atomically(path, text.encode("utf-8"))
        except LanternError as error:
            self.refused.emit(error)
            return
        self._session.say(f"Wrote {path.name}.")
