"""The power tree of the build in hand, and its drawing as a file."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QByteArray, QRectF
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtSvg import QSvgRenderer
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from tiny_lantern.electrical.power_tree import power_tree
from tiny_lantern.model.disk import short_name, write_atomically
from tiny_lantern.model.errors import LanternError
from tiny_lantern.sheets.tree import tree_svg
from tiny_lantern.show.supply_draw import lives, supply_draws_a
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.stations.rail_form import RailForm
from tiny_lantern.ui.widgets.fields import button, faint, side_by_side
from tiny_lantern.ui.widgets.snug import snug

HOT = "Hot parts burn: the temperatures stand here so that no finger need feel them. Change wires with the supply off."


WIDEST, HIGHEST = 860, 560


@guarded
class _Drawing(QWidget):
    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Supplies, rails and loads")
        self._renderer = QSvgRenderer(self)

    def show_svg(self, text: str) -> None:
        self._renderer.load(QByteArray(text.encode("utf-8")))
        self.setFixedSize(self._renderer.defaultSize())
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        self._renderer.render(QPainter(self), QRectF(self.rect()))


class TreeWindow(QWidget):
    """Follows the build while it is open."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.svg = ""
        self._drawing = _Drawing()
        self._area = area = QScrollArea()
        area.setWidget(self._drawing)
        area.setSizeAdjustPolicy(QScrollArea.SizeAdjustPolicy.AdjustToContents)
        area.viewport().setAutoFillBackground(False)
        self._drawing.setAutoFillBackground(False)
        self.rails = RailForm(session)
        beside = QHBoxLayout()
        beside.setSpacing(14)
        beside.addWidget(self.rails)
        beside.addWidget(area, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(beside, 1)
        column.addWidget(faint(HOT))
        column.addLayout(side_by_side(button("Save the drawing …", self._ask, tip="As SVG")))
        session.build_changed.connect(self.refresh)
        session.findings_changed.connect(self.refresh)
        session.draw_changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Draw the build in hand."""
        session = self._session
        build, evidence = session.build, session.evidence
        white = evidence.white if evidence is not None and evidence.build is build else None
        known = None if session.dragging else lives(build, supply_draws_a(build, session.draw, session.drive))
        self.svg = tree_svg(power_tree(build, white, session.drive, known))
        self._drawing.show_svg(self.svg)
        drawn = self._drawing.size()
        self._area.setMinimumSize(min(drawn.width() + 4, WIDEST), min(drawn.height() + 4, HIGHEST))
        self.rails.refresh()
        snug(self)

    def _ask(self) -> None:
        name = f"{short_name(self._session.build.name)} power tree.svg"
        chosen, _ = QFileDialog.getSaveFileName(self, "Save the power tree", name, "Drawings (*.svg)")
        if chosen:
            self.save(Path(chosen))

    def save(self, path: Path) -> None:
        """Write the drawing; a refusal is told."""
        try:
            write_atomically(path, self.svg.encode("utf-8"))
        except LanternError as error:
            self._session.refused.emit(error)
        else:
            self._session.say(f"Wrote {path.name}.")
