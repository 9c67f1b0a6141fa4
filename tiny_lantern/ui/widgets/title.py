"""The title row: the build's name, the stations, the load and the supply gauge, and the menu."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QAction, QMouseEvent
from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QMenu, QPushButton, QSizePolicy, QToolButton, QWidget

from tiny_lantern.ui import theme
from tiny_lantern.ui.declared.command import GROUPS
from tiny_lantern.ui.declared.registry import commands, stations
from tiny_lantern.ui.files import DEMOS, Files
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import PlainLabel, plain_tip
from tiny_lantern.ui.widgets.gauge import SupplyGauge
from tiny_lantern.ui.widgets.load_picker import LoadPicker


@guarded
class PressLabel(PlainLabel):
    """A text that can be clicked."""

    pressed = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.pressed.emit()


@guarded
class TitleRow(QWidget):
    """What stands above the Line."""

    station_chosen = Signal(str)
    menu_opening = Signal()
    name_pressed = Signal()

    def __init__(self, session: Session, files: Files, actions: dict[str, QAction]) -> None:
        super().__init__()
        self._session, self._files, self._actions = session, files, actions
        self.setObjectName("titleRow")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(theme.TITLE_HEIGHT)
        row = QHBoxLayout(self)
        row.setContentsMargins(theme.MARGIN - 4, 4, theme.MARGIN, 2)
        row.setSpacing(6)
        row.addWidget(self._menu_button())
        self.name, self.state = PressLabel(), PlainLabel()
        self.name.pressed.connect(self.name_pressed)
        self.name.setObjectName("buildName")
        self.name.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.name.setMinimumWidth(90)
        self.state.setObjectName("faint")
        row.addWidget(self.name, 3)
        row.addWidget(self.state)
        row.addStretch(1)
        self._group = QButtonGroup(self)
        self.stations: dict[str, QPushButton] = {}
        for number, title in ((station.number, station.title) for station in stations()):
            row.addWidget(self._station(number, title))
        row.addStretch(1)
        self.load = LoadPicker(session)
        self.gauge = SupplyGauge(session)
        row.addWidget(self.load)
        row.addWidget(self.gauge)

    def follow(self) -> None:
        """Show the build's name and whether it is saved."""
        name = self._session.build.name
        room = max(60, self.name.width())
        self.name.setText(self.name.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, room))
        self.name.setToolTip(
            f"{name}\n{self._files.path or 'not saved to a file yet'}\nIts own fields: click, or Ctrl+B"
        )
        self.state.setText("not saved" if self._files.unsaved else ("saved" if self._files.path else ""))

    def resizeEvent(self, event: object) -> None:
        super().resizeEvent(event)  # type: ignore[arg-type]
        self.follow()

    def _station(self, number: int, title: str) -> QPushButton:
        made = QPushButton(f"{number} {title}")
        made.setObjectName("station")
        made.setCheckable(True)
        made.setToolTip(f"Alt+{number}")
        made.clicked.connect(lambda: self.station_chosen.emit(title))
        self._group.addButton(made)
        self.stations[title] = made
        return made

    def _menu_button(self) -> QToolButton:
        made = QToolButton()
        made.setText("☰")
        made.setFont(theme.font(13))
        made.setAccessibleName("Menu (Alt+M)")
        made.setToolTip("Menu (Alt+M)")
        made.setShortcut("Alt+M")
        made.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.menu = QMenu(made)
        self.menu.setToolTipsVisible(True)
        self.menu.aboutToShow.connect(self._fill_menu)
        made.setMenu(self.menu)
        return made

    def _fill_menu(self) -> None:
        self.menu.clear()
        for group in GROUPS:
            own = [command for command in commands() if command.group == group]
            inner = self.menu.addMenu(group)
            inner.setToolTipsVisible(True)
            for command in own:
                inner.addAction(self._actions[command.id])
            if group == "Build":
                self._add_files(inner)
        self.menu_opening.emit()

    def _add_files(self, menu: QMenu) -> None:
        """What can be opened, behind the command that asks for a file."""
        save = self._actions["save"]
        recent, demos = QMenu("Recent", menu), QMenu("Demos", menu)
        for inner in (recent, demos):
            menu.insertMenu(save, inner)
        for path in self._files.recent:
            action = QAction(path.name, recent)
            action.setToolTip(plain_tip(str(path)))
            action.triggered.connect(lambda _=False, path=path: self._files.open(path))
            recent.addAction(action)
        for draft in self._files.left_behind():
            action = QAction(f"Recover {draft.source.name if draft.source else 'an unsaved build'}", recent)
            action.setToolTip("Kept when the program stopped before it was saved")
            action.triggered.connect(lambda _=False, draft=draft: self._files.recover(draft))
            recent.addAction(action)
        recent.setEnabled(bool(recent.actions()))
        for name, title in DEMOS:
            action = QAction(title, demos)
            action.triggered.connect(lambda _=False, name=name: self._files.open_demo(name))
            demos.addAction(action)
