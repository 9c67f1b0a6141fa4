"""The build's named colours as chips: a click gives one to the selected effect, and each can be renamed and changed."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QGridLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from tiny_lantern.model.edits_palette import add_swatch, change_swatch, remove_swatch, use_swatch
from tiny_lantern.model.palette import Swatch, colours_of
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import (
    ColourButton,
    Rows,
    button,
    emptied,
    heading,
    plain_tip,
    show_text,
    side_by_side,
)  # fmt: skip
from tiny_lantern.ui.widgets.in_view import InView

ACROSS, CHIP = 6, 24


class PaletteForm(QWidget):
    """Chips, and the fields of the one that was chosen last."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._chosen: str | None = None
        self._shown: tuple[Swatch, ...] | None = None
        self.chips: list[QPushButton] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addWidget(heading("Colours"))
        self._grid = QGridLayout()
        self._grid.setSpacing(4)
        column.addLayout(self._grid)
        self._body = QWidget()
        inside = QVBoxLayout(self._body)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(6)
        rows = Rows()
        self.name = QLineEdit()
        self.name.editingFinished.connect(self._rename)
        self.colour = ColourButton("Colour wherever it is used", self._change, self._try)
        rows.add("name", self.name)
        rows.add("colour", self.colour)
        inside.addLayout(rows.grid)
        column.addWidget(self._body)
        self.add = button("Keep colour", self._add, "small", "Give the selected effect's colour a name")
        self.let_go = button("Let go", self._remove, "small", "The name goes, effects keep the colour")
        column.addLayout(side_by_side(self.add, self.let_go))
        in_view = InView(self, self.refresh)
        session.build_changed.connect(in_view.refresh)
        session.selection_changed.connect(in_view.refresh)
        self.refresh()

    @property
    def swatch(self) -> Swatch | None:
        """The colour that was chosen last."""
        return next((one for one in self._session.build.palette if one.id == self._chosen), None)

    def refresh(self) -> None:
        """Show the palette as it is."""
        palette = self._session.build.palette
        if palette != self._shown:
            self._shown = palette
            self._lay_chips(palette)
        swatch = self.swatch
        self._body.setVisible(swatch is not None)
        self.let_go.setVisible(swatch is not None)
        self.add.setEnabled(self._own_colour() is not None)
        if swatch is not None:
            show_text(self.name, swatch.name)
            self.colour.show_colour(swatch.colour)

    def _lay_chips(self, palette: tuple[Swatch, ...]) -> None:
        emptied(self._grid)
        self.chips = []
        for number, swatch in enumerate(palette):
            chip = QPushButton()
            chip.setFixedSize(CHIP, CHIP)
            chip.setStyleSheet(f"background: {swatch.colour}; border: 1px solid #39434f; border-radius: 4px;")
            chip.setAccessibleName(swatch.name)
            chip.setToolTip(plain_tip(f"{swatch.name} {swatch.colour}: give it to the selected effect"))
            chip.clicked.connect(partial(self._use, swatch.id))
            self._grid.addWidget(chip, number // ACROSS, number % ACROSS)
            self.chips.append(chip)
        self._grid.setColumnStretch(ACROSS, 1)

    def _effect_id(self) -> str | None:
        return self._session.selection.one("effects")

    def _own_colour(self) -> str | None:
        """The first colour of the selected effect."""
        effect = next((one for one in self._session.build.effects if one.id == self._effect_id()), None)
        return next(iter(colours_of(effect.look).values()), None) if effect is not None else None

    def _use(self, swatch_id: str) -> None:
        self._chosen = swatch_id
        effect_id = self._effect_id()
        if effect_id is not None:
            name = next(one.name for one in self._session.build.palette if one.id == swatch_id)
            self._session.apply(f"Used {name}", partial(use_swatch, swatch_id=swatch_id, effect_id=effect_id))
        self.refresh()

    def _add(self) -> None:
        colour = self._own_colour()
        if colour is not None and self._session.apply("Named a colour", partial(add_swatch, colour=colour)):
            self._chosen = self._session.build.palette[-1].id
            self.refresh()

    def _rename(self) -> None:
        swatch, name = self.swatch, self.name.text().strip()
        if swatch is not None and name and name != swatch.name:
            self._session.apply(f"Renamed {swatch.name}", partial(change_swatch, swatch_id=swatch.id, name=name))

    def _change(self, colour: str) -> None:
        swatch = self.swatch
        if swatch is not None:
            edit = partial(change_swatch, swatch_id=swatch.id, colour=colour)
            self._session.apply(f"Changed {swatch.name} wherever it is used", edit)

    def _try(self, colour: str | None) -> None:
        swatch = self.swatch
        if swatch is None or colour is None:
            self._session.drop_preview()
        else:
            self._session.preview(partial(change_swatch, swatch_id=swatch.id, colour=colour))

    def _remove(self) -> None:
        swatch = self.swatch
        if swatch is not None:
            self._session.apply(f"Let {swatch.name} go", partial(remove_swatch, swatch_id=swatch.id))
