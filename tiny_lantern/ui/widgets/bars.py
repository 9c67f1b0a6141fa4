"""Figures of a table with a bar below each, all of a column to one scale."""

from __future__ import annotations

from PySide6.QtCore import QModelIndex, QObject, QPersistentModelIndex, QRectF
from PySide6.QtGui import QColor, QPainter
from PySide6.QtWidgets import QStyledItemDelegate, QStyleOptionViewItem

from tiny_lantern.ui import theme
from tiny_lantern.ui.guarded import guarded

HIGH, INSET = 3.0, 4.0


@guarded
class Bars(QStyledItemDelegate):
    """Draws cells as ever, and a bar along the foot of each that has a share.

    ``shares`` holds, for each row, the share of the widest bar by column. [-]
    """

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.shares: list[dict[int, float]] = []

    def paint(
        self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:  # fmt: skip
        super().paint(painter, option, index)
        row, column = index.row(), index.column()
        share = self.shares[row].get(column, 0.0) if row < len(self.shares) else 0.0
        if share <= 0:
            return
        cell = QRectF(option.rect)
        wide = (cell.width() - 2 * INSET) * min(share, 1.0)
        bar = QRectF(cell.right() - INSET - wide, cell.bottom() - HIGH - 1, wide, HIGH)
        painter.fillRect(bar, theme.with_alpha(QColor(theme.AMBER).name(), 150))
