"""Causes with their probabilities as bars, the most probable first."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QRect, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFontMetrics, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from tiny_lantern.bench.told import ToldCause
from tiny_lantern.ui import theme
from tiny_lantern.ui.guarded import guarded

LINE, GAP, SHARE_WIDE = 15, 9, 44


@guarded
class CauseBars(QWidget):
    """One bar a cause; a click, or the arrows, choose one."""

    chosen_changed = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.palette_in_use = theme.PAPER
        self._causes: tuple[ToldCause, ...] = ()
        self._others = 0.0
        self.chosen = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Causes")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)

    def show_causes(self, causes: Sequence[ToldCause], others: float) -> None:
        """Show causes, and how probable all others are together."""
        self._causes, self._others, self.chosen = tuple(causes), others, 0
        told = "; ".join(f"{cause.words} {cause.posterior:.0%}" for cause in causes)
        self.setAccessibleDescription(told)
        self.setMinimumHeight(self._heights()[-1] if self._causes else 0)
        self.updateGeometry()
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(200, self._heights()[-1] if self._causes else 10)

    def resizeEvent(self, event: object) -> None:
        self.setMinimumHeight(self._heights()[-1] if self._causes else 0)

    def _heights(self) -> list[int]:
        """Where each bar begins, and the end of the last."""
        metrics, y, found = QFontMetrics(theme.font(9.5)), 0, []
        room = QRect(0, 0, max(60, self.width() - SHARE_WIDE - 12), 1000)
        for cause in self._causes:
            found.append(y)
            high = metrics.boundingRect(room, int(Qt.TextFlag.TextWordWrap), cause.words).height()
            y += round(high / metrics.lineSpacing()) * LINE + GAP
        return [*found, y + LINE + 2]

    def paintEvent(self, event: QPaintEvent) -> None:
        painter, p = QPainter(self), self.palette_in_use
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        heights = self._heights()
        most = max((cause.posterior for cause in self._causes), default=1.0)
        for at, cause in enumerate(self._causes):
            high = (heights[at + 1] if at + 1 < len(self._causes) else heights[-1] - LINE - 2) - heights[at] - 4
            wide = (self.width() - SHARE_WIDE) * cause.posterior / max(most, 1e-9)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.with_alpha(theme.AMBER, 110 if at == self.chosen else 60))
            painter.drawRoundedRect(0, heights[at], max(4, round(wide)), high, 3, 3)
            if at == self.chosen:
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.setPen(QPen(QColor(p.amber), 1.2 if not self.hasFocus() else 2.0))
                painter.drawRoundedRect(1, heights[at], self.width() - 2, high, 3, 3)
            painter.setFont(theme.font(9.5))
            painter.setPen(QColor(p.ink))
            words = QRect(6, heights[at], self.width() - SHARE_WIDE - 12, high)
            painter.drawText(words, int(Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignVCenter), cause.words)
            share = QRect(self.width() - SHARE_WIDE, heights[at], SHARE_WIDE - 5, high)
            painter.drawText(share, int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter), _percent(cause))
        if self._causes:
            painter.setPen(QColor(p.faint))
            painter.setFont(theme.font(9))
            foot = QRect(6, heights[-1] - LINE, self.width() - 12, LINE)
            painter.drawText(foot, int(Qt.AlignmentFlag.AlignLeft), "all others together")
            painter.drawText(foot, int(Qt.AlignmentFlag.AlignRight), f"{self._others:.0%}")

    def choose(self, number: int) -> None:
        """Choose a cause."""
        if 0 <= number < len(self._causes) and number != self.chosen:
            self.chosen = number
            self.update()
            self.chosen_changed.emit(number)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        y = event.position().y()
        self.choose(max((at for at, top in enumerate(self._heights()[:-1]) if top <= y), default=0))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
        else:
            self.choose(self.chosen + step)


def _percent(cause: ToldCause) -> str:
    return f"{cause.posterior:.0%}" if cause.posterior >= 0.01 else "< 1 %"
