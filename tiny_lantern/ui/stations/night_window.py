"""The picture alone, on a whole dark screen, with a count of the frames that are really drawn."""

from __future__ import annotations

import time
from collections import deque

from PySide6.QtCore import QEvent, QObject, QRectF, Qt, QTimer
from PySide6.QtGui import QColor, QKeyEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QVBoxLayout, QWidget

from tiny_lantern.ui import theme
from tiny_lantern.ui.frames import FrameSource
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.picture import Picture
from tiny_lantern.ui.widgets.transport import Transport

KEPT, PAUSE_S = 41, 0.6
KEYS = "Space plays and pauses, the arrows move the time, Esc leaves"


@guarded
class Counter(QWidget):
    """How many frames a second were drawn lately."""

    def __init__(self, watched: QWidget) -> None:
        super().__init__(watched)
        self._moments: deque[float] = deque(maxlen=KEPT)
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(round(PAUSE_S * 1000))
        self._rest.timeout.connect(self._begin_anew)
        self.setAccessibleName("Frames a second")
        self.resize(420, 20)
        self.move(10, 8)
        watched.installEventFilter(self)

    @property
    def rate_hz(self) -> float:
        """Frames a second over the last forty since it last stood still; zero while it does. [Hz]"""
        if len(self._moments) < 2:
            return 0.0
        return (len(self._moments) - 1) / max(1e-6, self._moments[-1] - self._moments[0])

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Paint:
            now = time.monotonic()
            if not self._moments or now - self._moments[-1] > 0.002:
                self._moments.append(now)
                self._rest.start()
        return super().eventFilter(watched, event)

    def _begin_anew(self) -> None:
        showed = self.rate_hz > 0
        self._moments.clear()
        if showed:
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setFont(theme.font(9))
        painter.setPen(QColor(theme.NIGHT_FAINT))
        told = f"{self.rate_hz:.0f} frames a second" if self.rate_hz else KEYS
        painter.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, told)


@guarded
class NightWindow(QWidget):
    """Space plays and stops, the arrows move the time, Escape leaves."""

    def __init__(self, session: Session, frames: FrameSource, transport: Transport) -> None:
        super().__init__(None, Qt.WindowType.Window)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle(f"{session.build.name} by night")
        self.setStyleSheet(f"background: {theme.NIGHT_GROUND};")
        self._session, self._transport = session, transport
        self.picture = Picture(session, frames, bare=True)
        self.picture.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.picture.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.picture)
        self.counter = Counter(self.picture)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        session.opened.connect(self.close)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Left: -1.0, Qt.Key.Key_Right: 1.0, Qt.Key.Key_Up: -0.1, Qt.Key.Key_Down: 0.1}
        if event.key() in (Qt.Key.Key_Escape, Qt.Key.Key_F11):
            self.close()
        elif event.key() == Qt.Key.Key_Space:
            self._transport.toggle()
        elif event.key() in steps:
            self._session.set_time(self._session.time_s + steps[Qt.Key(event.key())])
        else:
            super().keyPressEvent(event)
