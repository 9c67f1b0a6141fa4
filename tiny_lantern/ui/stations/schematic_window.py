"""The schematic of the selected lamp, a chip, a board or a rail, in a window of its own."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from pathlib import Path as FilePath

from PySide6.QtWidgets import QFileDialog, QScrollArea, QVBoxLayout, QWidget
from shiboken6 import isValid

from tiny_lantern.circuit.paths import Path
from tiny_lantern.model.build import Build
from tiny_lantern.model.disk import short_name, write_atomically
from tiny_lantern.model.errors import LanternError
from tiny_lantern.sheets.schematic import of_output, of_subject, schematic_svg, subjects
from tiny_lantern.ui import theme
from tiny_lantern.ui.analyses import PATHS
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.stations.drive_form import DriveForm
from tiny_lantern.ui.widgets.drawing_view import DrawingView
from tiny_lantern.ui.widgets.fields import Rows, button, combo, faint, quiet, set_choice, side_by_side

HERE = replace(PATHS, name="paths of the schematic")
SELECTED = "the selected lamp"
ABOUT = (
    "Everything lit. Drawn from the wiring list alone: what is not wired is not here. Each wire says how thick and how "
    "long it is, and what it loses; volts are against 0 V."
)
WAITING, UNSOLVED, NONE = (
    "Working out what flows …",
    "The circuit has no solution: see the snags.",
    "Nothing is lit here.",
)


class SchematicWindow(QWidget):
    """Follows the build, and the selection while that is what is shown."""

    def __init__(self, session: Session, form: DriveForm, palette: theme.Palette) -> None:
        super().__init__()
        self._session, self._form, self._palette = session, form, palette
        self._paths: tuple[Path, ...] | None = ()
        self._text = ""
        self.subject = combo([(SELECTED, None)], "What is drawn", lambda _: self._draw())
        self.view = DrawingView(scaled=False)
        area = QScrollArea()
        area.setWidget(self.view)
        area.viewport().setAutoFillBackground(False)
        self.view.setAutoFillBackground(False)
        self.state = faint(WAITING)
        self.save = button("Save the drawing …", self._ask, tip="As SVG")
        rows = Rows()
        rows.add("of", self.subject)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(rows.grid)
        column.addWidget(area, 1)
        column.addWidget(self.state)
        column.addWidget(faint(ABOUT))
        column.addLayout(side_by_side(self.save))
        session.build_changed.connect(self._again)
        session.selection_changed.connect(self._draw)
        self._again()

    def _again(self) -> None:
        """Work it out anew; until then nothing is drawn that was true of another build."""
        if self._session.dragging:
            return
        self._paths = ()
        self.state.setText(WAITING)
        self.view.fade()
        self.save.setEnabled(False)
        self._session.work_out(HERE, partial(self._take, self._session.build))

    def _take(self, build: Build, paths: tuple[Path, ...] | None) -> None:
        if not isValid(self):
            return
        self._paths = paths
        chosen = self.subject.currentData()
        with quiet(self.subject):
            self.subject.clear()
            self.subject.addItem(SELECTED, None)
            for each in subjects(build, paths or ()):
                self.subject.addItem(each.name, each.key)
            set_choice(self.subject, chosen)
            if self.subject.currentIndex() < 0:
                self.subject.setCurrentIndex(0)
        self._draw()

    def _draw(self) -> None:
        """What is chosen, from the ways of the build in hand."""
        if self._paths is None:
            self.state.setText(UNSOLVED)
            return
        shown = self._shown()
        if self._paths:
            self.state.setText("" if shown else NONE)
        self.save.setEnabled(bool(shown))
        self._text = schematic_svg(shown)
        self.view.show_svg(schematic_svg(shown, self._palette.ink, self._palette.faint))

    def _shown(self) -> list[Path]:
        key, channel, paths = self.subject.currentData(), self._form.channel, self._paths or ()
        if key is not None:
            return of_subject(paths, key)
        return of_output(paths, channel.driver_id, channel.output) if channel is not None else []

    @property
    def name(self) -> str:
        """What is drawn, by its name."""
        return self._form.title if self.subject.currentData() is None else self.subject.currentText()

    def _ask(self) -> None:
        chosen, _ = QFileDialog.getSaveFileName(
            self, "Save the schematic", f"{short_name(self.name)} schematic.svg", "Drawings (*.svg)"
        )
        if chosen:
            self.save_to(FilePath(chosen))

    def save_to(self, path: FilePath) -> None:
        """Write the drawing, in ink; a refusal is told.

        Args:
            path: the file.
        """
        try:
            write_atomically(path, self._text.encode("utf-8"))
        except LanternError as error:
            self._session.refused.emit(error)
