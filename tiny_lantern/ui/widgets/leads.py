"""A small drawing of a lamp's leads along the row, the longest longest."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from tiny_lantern.model.parts.lamp import LeadMap
from tiny_lantern.ui import theme
from tiny_lantern.ui.guarded import guarded

HEIGHT, TOP, SHORT, LONG = 42, 14, 17, 26
SHORT_NAMES = {"common": "com", "anode": "+", "cathode": "−", "plus": "+", "minus": "−", "data in": "in",
               "data out": "out"}  # fmt: skip


@guarded
class LeadPicture(QWidget):
    """Draws what is known of the leads; says it too."""

    def __init__(self) -> None:
        super().__init__()
        self._leads = LeadMap()
        self.setFixedHeight(HEIGHT)

    def sizeHint(self) -> QSize:
        return QSize(150, HEIGHT)

    def show_leads(self, leads: LeadMap) -> None:
        """Show which lead is which."""
        if leads == self._leads:
            return
        self._leads = leads
        longest = f"; the longest is {leads.longest}" if leads.longest else ""
        cup = f"; the cup side is {leads.cup}" if leads.cup else ""
        self.setAccessibleName(f"Leads along the row: {', '.join(leads.order)}{longest}{cup}")
        self.setToolTip(self.accessibleName())
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(theme.font(9))
        ink = self.palette().color(self.foregroundRole())
        step = min(38.0, self.width() / max(1, len(self._leads.order)))
        for number, lead in enumerate(self._leads.order):
            x = step * (number + 0.5)
            painter.setPen(ink)
            name = SHORT_NAMES.get(lead, lead)
            painter.drawText(QRectF(x - step / 2, 0, step, TOP - 2), Qt.AlignmentFlag.AlignCenter, name)
            length = LONG if lead == self._leads.longest else SHORT
            painter.setPen(QPen(QColor(theme.NIGHT_FAINT), 3))
            painter.drawLine(QPointF(x, TOP), QPointF(x, TOP + length))
            if lead == self._leads.cup:
                painter.drawLine(QPointF(x - 5, TOP + 1), QPointF(x + 5, TOP + 1))
