"""What the fullest supply gives against what it is rated for, with a mark at what is allowed for long."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from tiny_lantern.electrical.network import supply_part
from tiny_lantern.electrical.supplies import allowed_share
from tiny_lantern.ui import theme
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import plain_tip


@guarded
class SupplyGauge(QWidget):
    """A bar of load over rating, for the supply that gives most of what it may; the words tell of all."""

    clicked = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self._session = session
        self.palette_in_use = theme.PAPER
        self.setFixedSize(216, 30)
        self.setAccessibleName("Supply load")
        session.solved_changed.connect(self._follow)
        session.build_changed.connect(self._follow)
        self._load, self._rated, self._allowed = 0.0, 0.0, 0.0

    def _follow(self) -> None:
        solved, build = self._session.solved, self._session.build
        self._load = self._rated = self._allowed = 0.0
        loads: dict[str, float] = {}
        if solved and (solved.solution or not build.strips):
            from tiny_lantern.electrical.power_tree import lamp_loads_a  # loaded by the warm-up

            loads = lamp_loads_a(build, self._session.drive)
            for supply_id, given in solved.solution.supplies.items() if solved.solution else ():
                loads[supply_id] = loads.get(supply_id, 0.0) + given.current_a
        told, fullest = [], -1.0
        for supply in build.supplies:
            part, load_a = supply_part(build, supply.id), loads.get(supply.id, 0.0)
            allowed_a = allowed_share(supply) * part.rated_a
            name = f"{supply.name}: " if len(build.supplies) > 1 else ""
            told.append(f"{name}{load_a:.1f} A of {part.rated_a:g} A rated, {allowed_a:.1f} A allowed for long")
            if load_a / allowed_a > fullest:
                fullest = load_a / allowed_a
                self._load, self._rated, self._allowed = load_a, part.rated_a, allowed_a
                told.insert(0, told.pop())
        text = "; ".join(told) or "no supply yet"
        if text != self.accessibleDescription():
            self.setToolTip(plain_tip(f"{text}\nClick for the working (Ctrl+Shift+I)"))
            self.setAccessibleDescription(text)
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self.rect().contains(event.position().toPoint()):
            self.clicked.emit()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p = self.palette_in_use
        painter.setFont(theme.font(9))
        painter.setPen(QColor(p.faint))
        painter.drawText(QRectF(0, 0, 44, 30), Qt.AlignmentFlag.AlignVCenter, "Supply")
        bar = QRectF(46, 9, 88, 12)
        painter.setBrush(QColor(p.field))
        painter.setPen(QColor(p.rule))
        painter.drawRoundedRect(bar, 3, 3)
        painter.setFont(theme.font(10))
        painter.setPen(QColor(p.ink))
        if not self._rated:
            painter.drawText(QRectF(142, 0, 74, 30), Qt.AlignmentFlag.AlignVCenter, "none yet")
            return
        share = min(1.0, self._load / self._rated)
        over = self._load > self._allowed + 1e-9
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(p.danger if over else p.amber))
        painter.drawRoundedRect(
            QRectF(bar.left() + 1, bar.top() + 1, (bar.width() - 2) * share, bar.height() - 2), 2, 2
        )
        mark = bar.left() + bar.width() * self._allowed / self._rated
        painter.fillRect(QRectF(mark - 1, bar.top() - 4, 2, bar.height() + 8), QColor(p.ink))
        painter.setPen(QColor(p.danger if over else p.ink))
        text = f"{self._load:.1f} / {self._rated:g} A"
        painter.drawText(QRectF(140, 0, 76, 30), Qt.AlignmentFlag.AlignVCenter, text)
