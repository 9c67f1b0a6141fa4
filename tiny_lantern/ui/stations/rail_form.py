"""Rails and what feeds the boards, beside the sources."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtWidgets import QComboBox, QVBoxLayout, QWidget

from tiny_lantern.catalogue.drawer import offered
from tiny_lantern.catalogue.part_fields import plain_fields
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import with_part
from tiny_lantern.model.edits_drive import add_rail, change_rail, remove_rail
from tiny_lantern.model.edits_sources import hang_on
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.parts.regulator import RegulatorPart
from tiny_lantern.model.quantities import volts
from tiny_lantern.model.rail import Rail
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import Rows, button, combo, emptied, faint, heading, quiet, set_choice, side_by_side
from tiny_lantern.ui.widgets.model_form import ModelForm
from tiny_lantern.ui.widgets.source_list import show_sources

WIDE = 290
FIRST_V = 5.0
LABELS = {"target_v": "trimmed to", "low_v": "window from", "high_v": "window to", "trimmed": "trimmed while",
          "output_ohm": "output", "ambient_c": "air, °C"}  # fmt: skip
ABOUT = "A rail is trimmed to its voltage with nothing on it, or with everything lit; its load moves it from there."
NO_SUPPLY = "A rail begins with a supply: add one in Power."


class RailForm(QWidget):
    """The rails of the build in hand, one at a time, and the source of each board."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._boards_of: tuple[object, ...] | None = None
        self.setFixedWidth(WIDE)
        self.rail = combo([], "Which rail", lambda _: self.refresh())
        self.source = combo([], "What feeds it", self._set_source)
        self.regulator = combo([], "Its regulator", self._set_regulator)
        self.fields = ModelForm(scrolls=False, labels=LABELS)
        self.fields.entered.connect(self._change)
        self.fields.faulty.connect(session.refused)
        self.add = button("Add a rail", self._add, tip="A regulator on a supply, trimmed to a voltage")
        self.remove = button("Remove it", self._remove)
        self._about = faint(ABOUT)
        self._of_rail = QWidget()
        rows = Rows()
        rows.add("from", self.source)
        rows.add("regulator", self.regulator)
        inner = QVBoxLayout(self._of_rail)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.addLayout(rows.grid)
        inner.addWidget(self.fields)
        self._boards = QVBoxLayout()
        self.board_sources: dict[str, QComboBox] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(heading("Rails"))
        column.addWidget(self._about)
        column.addWidget(self.rail)
        column.addWidget(self._of_rail)
        column.addLayout(side_by_side(self.add, self.remove))
        column.addSpacing(10)
        self._boards_title = heading("What feeds the boards")
        column.addWidget(self._boards_title)
        column.addLayout(self._boards)
        column.addStretch(1)
        self.refresh()

    @property
    def chosen(self) -> Rail | None:
        """The rail shown."""
        rails = self._session.build.rails
        return next((rail for rail in rails if rail.id == self.rail.currentData()), rails[0] if rails else None)

    def pick(self, rail_id: str) -> None:
        """Show one of the rails."""
        set_choice(self.rail, rail_id)
        self.refresh()

    def refresh(self) -> None:
        """Show the build in hand."""
        build, chosen = self._session.build, self.chosen
        with quiet(self.rail, self.regulator):
            self.rail.clear()
            for rail in build.rails:
                self.rail.addItem(f"{rail.name}, {volts(rail.target_v)}", rail.id)
            if chosen is not None:
                set_choice(self.rail, chosen.id)
                self._show(build, chosen)
        there = chosen is not None
        for widget in (self.rail, self._of_rail, self.remove):
            widget.setVisible(there)
        self.add.setEnabled(bool(build.supplies))
        self._about.setText(ABOUT if build.supplies else NO_SUPPLY)
        self._boards_title.setVisible(bool(build.boards))
        self._show_boards(build)

    def _show(self, build: Build, rail: Rail) -> None:
        show_sources(self.source, build, rail.fed_by, none=None, without=rail.id)
        self.regulator.clear()
        for words, part in offered(self._session.parts.of(RegulatorPart), self._session.drawers.drawer):
            self.regulator.addItem(words, part.id)
        set_choice(self.regulator, rail.regulator_id)
        self.fields.show_fields(plain_fields(rail, ("id", "fed_by", "regulator_id")))

    def _show_boards(self, build: Build) -> None:
        """A list of sources for each board, made anew only where there are others."""
        of = (build.boards, build.supplies, build.rails)
        if of == self._boards_of:
            return
        self._boards_of = of
        emptied(self._boards)
        rows, holder, self.board_sources = Rows(), QWidget(), {}
        for board in build.boards:
            box = combo([], f"What feeds {board.name}", partial(self._feed, board.id))
            show_sources(box, build, board.fed_by, none="its own cable", without=board.id)
            rows.add(board.name, box)
            self.board_sources[board.id] = box
        holder.setLayout(rows.grid)
        self._boards.addWidget(holder)

    def _feed(self, thing_id: str, fed_by: object) -> None:
        chosen = fed_by if isinstance(fed_by, FedBy) else None
        edit = partial(hang_on, field="fed_by", thing_id=thing_id, fed_by=chosen)
        self._session.apply("Changed what feeds it", edit)

    def _add(self) -> None:
        part, supply = self._session.parts.of(RegulatorPart)[0], self._session.build.supplies[0]
        target_v = min(FIRST_V, max(part.least_v, supply.set_v - part.dropout_v))
        edit = partial(add_rail, part=part, supply_id=supply.id, target_v=round(target_v, 2))
        if self._session.apply("Added a rail", edit):
            set_choice(self.rail, self._session.build.rails[-1].id)
            self.refresh()

    def _remove(self) -> None:
        if self.chosen is not None:
            self._session.apply("Removed a rail", partial(remove_rail, rail_id=self.chosen.id))

    def _set_source(self, fed_by: object) -> None:
        if self.chosen is not None:
            self._feed(self.chosen.id, fed_by)
        self.refresh()

    def _set_regulator(self, part_id: object) -> None:
        rail = self.chosen
        part = self._session.parts.find(RegulatorPart, str(part_id))
        if rail is not None:

            def edit(build: Build) -> Build:
                return change_rail(with_part(build, part), rail.id, regulator_id=part.id)

            self._session.apply(f"Fitted {part.name}", edit)
        self.refresh()

    def _change(self, path: str, value: str | float | bool | None) -> None:
        rail = self.chosen
        if rail is not None:
            changes: dict[str, Any] = {path: value}
            edit = partial(change_rail, rail_id=rail.id, **changes)
            self._session.apply(f"Changed {LABELS.get(path, path)}", edit)
        self.refresh()
