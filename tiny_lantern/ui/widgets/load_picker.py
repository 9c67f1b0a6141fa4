"""Which load the network is solved for: full white, a level, a colour, a named case, or the frame under the caret."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout, QLabel, QStackedWidget, QWidget

from tiny_lantern.model.build import ColourLoad, FrameLoad, FullWhite, LevelLoad, Load
from tiny_lantern.model.quantities import clock
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import ColourButton, combo, quiet
from tiny_lantern.ui.widgets.quantity import QuantityEdit

KINDS = (("full white", "full_white"), ("level", "level"), ("colour", "colour"), ("frame under caret", "frame"))


class LoadPicker(QWidget):
    """A list of loads with a field for the level or the colour."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        label = QLabel("Load")
        label.setObjectName("faint")
        self.choice = combo([], "Load case", self._chosen)
        self.choice.setMinimumWidth(132)
        label.setBuddy(self.choice)
        self.level = QuantityEdit("level", "ratio", lambda value: f"{value:.0%}")
        self.level.entered.connect(lambda value: session.set_load(LevelLoad(level=max(0.0, min(1.0, value)))))
        self.level.faulty.connect(session.refused)
        self.colour = ColourButton("Colour of the load", lambda colour: session.set_load(ColourLoad(colour=colour)))
        self._extra = QStackedWidget()
        for widget in (QWidget(), self.level, self.colour):
            self._extra.addWidget(widget)
        self._extra.setFixedWidth(76)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        for widget in (label, self.choice, self._extra):
            row.addWidget(widget)
        session.load_changed.connect(self._follow)
        session.build_changed.connect(self._fill)
        self._cases: tuple[object, ...] = ("unset",)
        self._fill()

    def _fill(self) -> None:
        cases = self._session.build.load_cases
        if cases == self._cases:
            return
        self._cases = cases
        with quiet(self.choice):
            self.choice.clear()
            for text, kind in KINDS:
                self.choice.addItem(text, kind)
            for case in cases:
                self.choice.addItem(f"“{case.name}”", case)
        self._follow()

    def _chosen(self, data: object) -> None:
        loads: dict[object, Load] = {
            "full_white": FullWhite(),
            "level": LevelLoad(),
            "colour": ColourLoad(),
            "frame": FrameLoad(time_s=self._session.time_s),
        }
        self._session.set_load(loads[data] if isinstance(data, str) else data.load)  # type: ignore[attr-defined]

    def _follow(self) -> None:
        load = self._session.load
        with quiet(self.choice):
            at = self.choice.currentData()
            if isinstance(at, str) or at is None or at.load != load:
                self.choice.setCurrentIndex([kind for _, kind in KINDS].index(load.case))
        if isinstance(load, LevelLoad):
            self.level.show_value(load.level)
            self._extra.setCurrentIndex(1)
        elif isinstance(load, ColourLoad):
            self.colour.show_colour(load.colour)
            self._extra.setCurrentIndex(2)
        else:
            self._extra.setCurrentIndex(0)
        self._extra.setVisible(self._extra.currentIndex() > 0)


def load_name(load: Load) -> str:
    """A load in words."""
    if isinstance(load, LevelLoad):
        return f"Level {load.level:.0%}"
    if isinstance(load, ColourLoad):
        return f"Colour {load.colour}"
    return f"Frame at {clock(load.time_s)}" if isinstance(load, FrameLoad) else "Full white"
