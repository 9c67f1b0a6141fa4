"""The window from its first moment: its two surfaces, bare until everything in it is there.

Needs nothing but Qt, so that it is seen before the model and the libraries below it are loaded.
"""

from __future__ import annotations

from collections.abc import Iterator

from PySide6.QtCore import QEvent, QRect, QSize, Qt
from PySide6.QtGui import QCloseEvent, QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QMainWindow, QWidget

from tiny_lantern.ui import theme
from tiny_lantern.ui.guarded import guarded

FRAME = QSize(4, 40)  # about what a desktop puts around a window, its title above all


@guarded
class Window(QMainWindow):
    """The one top-level window; what it shows is set into it and is asked before it closes."""

    def __init__(self, palette: theme.Palette) -> None:
        super().__init__()
        self._palette = palette
        self._loading = ""
        self.setWindowTitle("Tiny Lantern")
        self.setWindowIcon(theme.window_icon())
        self.setMinimumSize(*theme.SMALLEST)
        self.resize(QSize(*theme.USUAL).boundedTo(self.screen().availableSize() - FRAME))

    def furnish(self, shell: QWidget, steps: Iterator[None]) -> Iterator[None]:
        """Put in what the window shows, a short step at a time; it is painted once it is whole.

        Args:
            shell: what it shows.
            steps: make that whole.

        Yields:
            Between two short steps.
        """
        shell.setParent(self)  # before it is dressed: a change of parent would dress it all again
        yield
        yield from steps
        self.setCentralWidget(shell)
        shell.setFocus()
        yield

    def paintEvent(self, event: QPaintEvent) -> None:
        """The paper, and the night where the Line and the transport come."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(self._palette.paper))
        night = QColor(theme.NIGHT_GROUND)
        painter.fillRect(QRect(0, theme.TITLE_HEIGHT, self.width(), theme.RULER_HEIGHT), night)
        painter.fillRect(QRect(0, self.height() - theme.TRANSPORT_HEIGHT, self.width(), theme.TRANSPORT_HEIGHT), night)
        if self._loading and self.centralWidget() is None:
            painter.setPen(QColor(self._palette.faint))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, self._loading)
        painter.end()

    def say_loading(self, what: str) -> None:
        """Say in the bare window what it is waiting for, until what it shows is there.

        Args:
            what: in a few words.
        """
        self._loading = what
        self.update()

    def changeEvent(self, event: QEvent) -> None:
        """A window that comes to the front gives the keyboard to what it shows."""
        super().changeEvent(event)
        if event.type() == QEvent.Type.ActivationChange and self.isActiveWindow() and self.focusWidget() is None:
            shell = self.centralWidget()
            if shell is not None:
                shell.setFocus()

    def closeEvent(self, event: QCloseEvent) -> None:
        shell = self.centralWidget()
        if shell is not None and not shell.close():
            event.ignore()
            return
        super().closeEvent(event)
