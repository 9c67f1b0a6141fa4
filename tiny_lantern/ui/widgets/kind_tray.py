"""The kinds of piece that can be added, as little glowing pictures in a row."""

from __future__ import annotations

import math

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QRadialGradient
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QSizePolicy, QWidget

from tiny_lantern.catalogue.kinds import KINDS, StartKind
from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.model.layout import slot_places
from tiny_lantern.ui import theme
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.widgets.fields import plain_tip

CARD = QSize(57, 66)
Spot = tuple[float, float, str]
WARM, WHITE, RED, GREEN, BLUE, VIOLET = "#ffb648", "#fff1d8", "#ff5a3c", "#4fe08a", "#5aa7ff", "#b77bff"
WORDS = {"loose": "loose", "single": "single", "series": "series", "parallel": "parallel", "hold": "changing",
         "switched": "relay"}  # fmt: skip


def _row(count: int, y: float, colours: tuple[str, ...], left: float = 0.12) -> list[Spot]:
    step = (1 - 2 * left) / max(1, count - 1)
    return [(left + step * number, y, colours[number % len(colours)]) for number in range(count)]


SPOTS: dict[str, list[Spot]] = {
    "strip": _row(8, 0.5, (WARM,)),
    "panel": [(0.2 + 0.2 * x, 0.2 + 0.2 * y, WHITE) for x in range(4) for y in range(4)],
    "loose": [(x, 0.5 + 0.18 * math.sin(7 * x), c) for x, _, c in _row(5, 0.5, (RED, WARM, GREEN, BLUE, VIOLET))],
    "single": [(0.5, 0.5, WHITE)],
    "series": _row(3, 0.5, (WARM,), 0.22),
    "parallel": [(0.3, 0.3, WARM), (0.5, 0.5, WARM), (0.7, 0.7, WARM)],
    "colour": [(0.5, 0.28, RED), (0.32, 0.65, GREEN), (0.68, 0.65, BLUE)],
    "two-colour": [(0.35, 0.5, GREEN), (0.65, 0.5, RED)],
    "matrix": [(0.2 + 0.12 * x, 0.2 + 0.12 * y, RED) for x in range(6) for y in range(6) if (x + y) % 2 == 0],
    "bar": [],
    "figures": [],
    "hold": _row(3, 0.5, (VIOLET, BLUE, RED), 0.25),
    "switched": [(0.72, 0.3, WHITE)],
}


def spots_of(kind: StartKind) -> list[Spot]:
    """The lights of a first piece of a kind as spots on its card."""
    part = next(iter(kind.parts(shelf())), None)
    if part is None:
        return []
    places = slot_places(kind.make(part))
    middle, size = (places.max(axis=0) + places.min(axis=0)) / 2, max(float(np.ptp(places, axis=0).max()), 1e-9)
    return [(0.5 + 0.7 * x, 0.5 - 0.7 * y, WARM) for x, y in ((places - middle) / size).tolist()]


@guarded
class KindCard(QPushButton):
    """One kind: its picture, and a word."""

    def __init__(self, kind: StartKind) -> None:
        super().__init__()
        self.kind = kind
        self._spots = SPOTS[kind.id] if kind.id in SPOTS else spots_of(kind)
        self.setFixedHeight(CARD.height())
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setMinimumWidth(44)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName(f"Add {kind.word}")
        self.setToolTip(plain_tip(f"Add {kind.word}: {kind.help}"))

    def sizeHint(self) -> QSize:
        return CARD

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        lively = self.hasFocus() or self.underMouse()
        painter.setPen(QPen(QColor(theme.AMBER), 1.5) if lively else Qt.PenStyle.NoPen)
        painter.setBrush(QColor(theme.NIGHT_GROUND))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 4, 4)
        field = QRectF(2, 2, self.width() - 4, self.height() - 20)
        painter.setPen(Qt.PenStyle.NoPen)
        for x, y, colour in self._spots:
            _glow(painter, QPointF(field.x() + x * field.width(), field.y() + y * field.height()), colour, self.kind.id)
        self._shapes(painter, field)
        painter.setPen(QColor(theme.NIGHT_INK))
        painter.setFont(theme.font(8))
        word = WORDS.get(self.kind.id, self.kind.word.split(" ")[0])
        painter.drawText(QRectF(0, self.height() - 18, self.width(), 15), Qt.AlignmentFlag.AlignCenter, word)

    def _shapes(self, painter: QPainter, field: QRectF) -> None:
        """What is no spot: segments, and the box of a relay."""
        middle = field.center()
        if self.kind.id == "bar":
            for number in range(5):
                painter.setBrush(QColor(RED if number < 4 else "#472018"))
                painter.drawRect(QRectF(middle.x() - 17 + 7 * number, middle.y() - 11, 5, 22))
        elif self.kind.id == "figures":
            painter.setPen(QPen(QColor(RED), 2.5))
            x, y = middle.x(), middle.y()
            for a, b in (((-6, -13), (6, -13)), ((6, -13), (6, 0)), ((6, 0), (-6, 0)), ((-6, 0), (-6, 13)),
                         ((-6, 13), (6, 13))):  # fmt: skip
                painter.drawLine(QPointF(x + a[0], y + a[1]), QPointF(x + b[0], y + b[1]))
        elif self.kind.id == "switched":
            painter.setPen(QPen(QColor("#7d8894"), 1.2))
            painter.setBrush(QColor("#222a36"))
            painter.drawRoundedRect(QRectF(middle.x() - 17, middle.y() - 4, 22, 18), 2, 2)
            painter.drawLine(QPointF(middle.x() - 13, middle.y() + 8), QPointF(middle.x() - 1, middle.y() + 1))


def _glow(painter: QPainter, at: QPointF, colour: str, kind_id: str) -> None:
    small = kind_id in ("panel", "matrix", "strip")
    reach = 7.0 if small else 17.0 if kind_id in ("single", "switched") else 12.0
    light = QRadialGradient(at, reach)
    light.setColorAt(0, QColor("#ffffff"))
    light.setColorAt(0.16, QColor(colour))
    faded = QColor(colour)
    faded.setAlpha(0)
    light.setColorAt(1, faded)
    painter.setBrush(light)
    painter.drawEllipse(at, reach, reach)


class KindTray(QWidget):
    """All kinds, to add a first piece of one."""

    chosen = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(4)
        self.cards = {kind.id: KindCard(kind) for kind in KINDS}
        for card in self.cards.values():
            card.clicked.connect(lambda _=False, card=card: self.chosen.emit(card.kind))
            row.addWidget(card)
