"""The stations in one place of the window, each loaded and made when it is first shown."""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol, runtime_checkable

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QStackedWidget, QWidget

from tiny_lantern.ui import theme
from tiny_lantern.ui.axis import LineAxis
from tiny_lantern.ui.declared.registry import station_of
from tiny_lantern.ui.declared.station import Around
from tiny_lantern.ui.frames import FrameSource
from tiny_lantern.ui.session import Session

if TYPE_CHECKING:
    from tiny_lantern.ui.files import Files
    from tiny_lantern.ui.stations.bench import BenchStation
    from tiny_lantern.ui.stations.drive import DriveStation
    from tiny_lantern.ui.stations.pieces import PiecesStation
    from tiny_lantern.ui.stations.power import PowerStation
    from tiny_lantern.ui.stations.sheets import SheetsStation
    from tiny_lantern.ui.stations.weave import WeaveStation


@runtime_checkable
class Dressed(Protocol):
    """A station that draws in the theme's colours itself."""

    def dress(self, palette: theme.Palette) -> None:
        """Take the colours of a theme."""
        ...


class StationStack(QStackedWidget):
    """Shows one station, or the greeting of an empty build; passes on what stations ask of the window."""

    find_feeds = Signal(str, bool)
    show_working = Signal()
    working = Signal(object)
    compare = Signal()
    what_if = Signal()
    board = Signal()
    boards = Signal()
    render_show = Signal(object)
    started = Signal(object, str)
    first_piece = Signal()
    other_piece = Signal()

    def __init__(self, session: Session, axis: LineAxis, frames: FrameSource, files: Files) -> None:
        super().__init__()
        self._session, self._axis, self._frames, self._files = session, axis, frames, files
        self._palette = theme.PAPER
        self._made: dict[str, QWidget] = {}
        self._greeting: QWidget | None = None

    @property
    def greeting(self) -> bool:
        """Whether the greeting is what is shown."""
        return self._greeting is not None and self.currentWidget() is self._greeting

    def show_station(self, name: str) -> None:
        """Show a station."""
        self.setCurrentWidget(self._station(name))

    def greet(self) -> None:
        """Show the ways in, with the files as they are now."""
        from tiny_lantern.ui.widgets.greeting import Greeting  # only an empty build needs it

        if self._greeting is not None:
            self.removeWidget(self._greeting)
            self._greeting.deleteLater()
        greeting = Greeting(self._files)
        greeting.started.connect(self.started)
        greeting.first_piece.connect(self.first_piece)
        greeting.other_piece.connect(self.other_piece)
        self._greeting = greeting
        self.addWidget(greeting)
        self.setCurrentWidget(greeting)

    def pieces(self) -> PiecesStation:
        """The Pieces station, made if it was not yet."""
        from tiny_lantern.ui.stations.pieces import PiecesStation  # loaded when first shown

        station = self._station("Pieces")
        assert isinstance(station, PiecesStation)
        return station

    def drive(self) -> DriveStation:
        """The Drive station, made if it was not yet."""
        from tiny_lantern.ui.stations.drive import DriveStation  # loaded when first shown

        station = self._station("Drive")
        assert isinstance(station, DriveStation)
        return station

    def sheets(self) -> SheetsStation:
        """The Sheets station, made if it was not yet."""
        from tiny_lantern.ui.stations.sheets import SheetsStation  # loaded when first shown

        station = self._station("Sheets")
        assert isinstance(station, SheetsStation)
        return station

    def bench(self) -> BenchStation:
        """The Bench station, made if it was not yet."""
        from tiny_lantern.ui.stations.bench import BenchStation  # loaded when first shown

        station = self._station("Bench")
        assert isinstance(station, BenchStation)
        return station

    def weave(self) -> WeaveStation:
        """The Weave station, made if it was not yet."""
        from tiny_lantern.ui.stations.weave import WeaveStation  # loaded when first shown

        station = self._station("Weave")
        assert isinstance(station, WeaveStation)
        return station

    def power(self) -> PowerStation:
        """The Power station, made if it was not yet."""
        from tiny_lantern.ui.stations.power import PowerStation  # loaded when first shown

        station = self._station("Power")
        assert isinstance(station, PowerStation)
        return station

    def dress(self, palette: theme.Palette) -> None:
        """Take the colours of a theme."""
        self._palette = palette
        for station in self._made.values():
            if isinstance(station, Dressed):
                station.dress(palette)

    def _station(self, name: str) -> QWidget:
        if name not in self._made:
            made = station_of(name).make(Around(self._session, self._axis, self._frames, self))
            if isinstance(made, Dressed):
                made.dress(self._palette)
            self._made[name] = made
            self.addWidget(made)
        return self._made[name]
