"""The simulated board: its lamps as they were decoded from what came over its wire."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QRectF, QSize, QTimer
from PySide6.QtGui import QColor, QHideEvent, QPainter, QPaintEvent, QShowEvent
from PySide6.QtWidgets import QVBoxLayout, QWidget

from tiny_lantern.ui import theme
from tiny_lantern.ui.colours import image_of, screen_table
from tiny_lantern.ui.frames import FrameSource
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.live import LiveBoard
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import faint

LARGEST, ROOM = 22.0, 3.0
COUNT_MS = 500
ABOUT = (
    "A stand-in for a board: a pseudo-terminal of this machine. What is shown here went over its wire and was decoded "
    "again, so what you tune, hold or play is seen as a board would get it. Closing the window makes it dark."
)


@guarded
class Lamps(QWidget):
    """The board's lamps in rows, in the order of the wire."""

    def __init__(self, live: LiveBoard) -> None:
        super().__init__()
        self._live = live
        self.setMinimumSize(240, 90)
        self.setAccessibleName("Lamps of the simulated board")

    def sizeHint(self) -> QSize:
        return QSize(560, 180)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(theme.NIGHT_GROUND))
        lamps = self._live.board.lamps
        if not len(lamps):
            return
        step = self._step(len(lamps))
        across = max(1, int((self.width() - 2 * ROOM) / step))
        down = -(-len(lamps) // across)
        cells = np.zeros((down * across, 3), np.uint8)
        cells[: len(lamps)] = screen_table()[lamps]
        image = image_of(cells.reshape(down, across, 3))
        if step < 6:
            painter.drawImage(QRectF(ROOM, ROOM, across * step, down * step), image)
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for number in range(len(lamps)):
            row, column = divmod(number, across)
            painter.setBrush(QColor(image.pixel(column, row)))
            painter.setPen(QColor("#39434f"))
            painter.drawEllipse(QRectF(ROOM + column * step, ROOM + row * step, step - ROOM, step - ROOM))

    def _step(self, count: int) -> float:
        """From lamp to lamp, so that all of them are seen. [screen pixels]"""
        step = LARGEST
        wide, high = self.width() - 2 * ROOM, self.height() - 2 * ROOM
        while step > 1 and int(wide / step) * int(high / step) < count:
            step -= 0.5
        return step


@guarded
class BoardWindow(QWidget):
    """Makes a board while it is shown, and tells what arrives."""

    def __init__(self, session: Session, frames: FrameSource) -> None:
        super().__init__()
        self.live = LiveBoard(session, frames, self)
        self.lamps = Lamps(self.live)
        self._word = faint()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.lamps, 1)
        column.addWidget(self._word)
        column.addWidget(faint(ABOUT))
        self.live.changed.connect(self.lamps.update)
        self._count = QTimer(self)
        self._count.timeout.connect(self.tell)

    def tell(self) -> None:
        """Say what arrived."""
        board, output = self.live.board, self.live.output
        orders = sorted({run.order for run in board.runs})
        wired = f"{len(board.lamps)} lamps, sent as {', '.join(orders)}" if orders else "nothing has come yet"
        self._word.setText(
            f"{board.port}: {wired}. {self.live.rate_hz:.0f} frames/s, {board.frames} in all, "
            f"{output.left_out} left out, {board.faults} not understood."
        )

    def showEvent(self, event: QShowEvent) -> None:
        """Shown again, it has a board again."""
        super().showEvent(event)
        self.live.switch_on()
        self._count.start(COUNT_MS)
        self.tell()

    def hideEvent(self, event: QHideEvent) -> None:
        """Nothing goes on being sent once it is closed."""
        self._count.stop()
        self.live.close()
        super().hideEvent(event)
