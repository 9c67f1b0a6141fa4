"""The order of the first power as a list: each step with its tick, what is expected in amber, what was read in teal."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import QModelIndex, QPersistentModelIndex, QPoint, QRect, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFontMetrics, QKeyEvent, QMouseEvent, QPainter, QPen, QResizeEvent
from PySide6.QtWidgets import QListWidget, QListWidgetItem, QStyle, QStyledItemDelegate, QStyleOptionViewItem

from tiny_lantern.ui import theme
from tiny_lantern.ui.guarded import guarded

BOX, EDGE, LINE, BESIDE = 15, 8, 16, 42
ACT_LINES = 3
ROLE = Qt.ItemDataRole.UserRole


@dataclass(frozen=True)
class StepRow:
    """A step as it is shown: its key, the part of the order that it begins, empty where it goes on, its words, what is
    expected and was read, whether that is out of its band, and whether it is done."""

    key: str
    head: str
    act: str
    expect: str
    read: str
    out: bool
    done: bool


@guarded
class StepList(QListWidget):
    """Steps; Space or a click on the box ticks."""

    ticked = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.palette_in_use = theme.PAPER
        self.setAccessibleName("Steps of the first power")
        self.setItemDelegate(StepDelegate(self))
        self.setVerticalScrollMode(QListWidget.ScrollMode.ScrollPerPixel)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFrameShape(QListWidget.Shape.NoFrame)
        self.setResizeMode(QListWidget.ResizeMode.Adjust)
        self.setStyleSheet("QListWidget { background: transparent; border: none; outline: none; }")

    def show_rows(self, rows: Sequence[StepRow]) -> None:
        """Show steps; the one that is chosen stays so."""
        chosen = self.key
        if [self.item(at).data(ROLE).key for at in range(self.count())] != [row.key for row in rows]:
            self.clear()
            for _ in rows:
                self.addItem(QListWidgetItem())
        for at, row in enumerate(rows):
            item = self.item(at)
            item.setData(ROLE, row)
            state = "done, " if row.done else ""
            item.setData(Qt.ItemDataRole.AccessibleTextRole, f"{state}{row.act} Expected: {row.expect} {row.read}")
            item.setToolTip(f"{row.act}\nExpected: {row.expect}")
            if row.key == chosen:
                self.setCurrentItem(item)
        self.scheduleDelayedItemsLayout()

    @property
    def key(self) -> str:
        """The key of the step that is chosen."""
        item = self.currentItem()
        row = item.data(ROLE) if item is not None else None
        return row.key if row is not None else ""

    def choose(self, key: str) -> None:
        """Choose a step."""
        for at in range(self.count()):
            if self.item(at).data(ROLE).key == key:
                self.setCurrentRow(at)
                self.scrollToItem(self.item(at))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.scheduleDelayedItemsLayout()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Space and self.key:
            self.ticked.emit(self.key)
            return
        super().keyPressEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        super().mouseReleaseEvent(event)
        item = self.itemAt(event.position().toPoint())
        if item is None:
            return
        row = item.data(ROLE)
        rect = self.visualItemRect(item)
        top = rect.top() + (LINE + 8 if row.head else 0)
        if QRect(rect.left(), top, BOX + 2 * EDGE, BOX + 2 * EDGE).contains(event.position().toPoint()):
            self.ticked.emit(row.key)


@guarded
class StepDelegate(QStyledItemDelegate):
    """Draws a step."""

    def __init__(self, steps: StepList) -> None:
        super().__init__(steps)
        self._list = steps

    def _lines(self, row: StepRow, width: int) -> int:
        metrics = QFontMetrics(theme.font(9.5))
        room = QRect(0, 0, width, 1000)
        high = metrics.boundingRect(room, int(Qt.TextFlag.TextWordWrap), row.act).height()
        return max(1, min(ACT_LINES, round(high / metrics.lineSpacing())))

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex) -> QSize:
        row = index.data(ROLE)
        if row is None:
            return QSize(100, 40)
        width = self._list.viewport().width()
        high = self._lines(row, width - BESIDE) * LINE + LINE + 10
        return QSize(width, high + (LINE + 8 if row.head else 0))

    def paint(
        self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:  # fmt: skip
        row, p = index.data(ROLE), self._list.palette_in_use
        if row is None:
            return
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        rect = QRect(option.rect)
        if row.head:
            painter.setFont(theme.font(10, theme.font().Weight.DemiBold))
            painter.setPen(QColor(p.ink))
            painter.drawText(rect.left() + 2, rect.top() + LINE, row.head)
            rect.setTop(rect.top() + LINE + 8)
        selected = bool(option.state & QStyle.StateFlag.State_Selected)
        if selected or row.out:
            ground = QColor(p.danger if row.out else p.amber)
            ground.setAlpha(34)
            painter.setBrush(ground)
            painter.setPen(QPen(QColor(p.danger if row.out else p.amber), 1.4 if selected else 0.0))
            painter.drawRoundedRect(rect.adjusted(0, 1, -2, -1), 4, 4)
        self._box(painter, rect.left() + EDGE, rect.top() + EDGE - 1, row)
        self._words(painter, rect, row)
        painter.restore()

    def _box(self, painter: QPainter, x: int, y: int, row: StepRow) -> None:
        p = self._list.palette_in_use
        painter.setBrush(QColor(p.teal) if row.done else Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(p.teal if row.done else p.faint), 1.2))
        painter.drawRoundedRect(x, y, BOX, BOX, 3, 3)
        if row.done:
            painter.setPen(QPen(QColor(p.panel), 1.8))
            painter.drawPolyline([QPoint(x + 3, y + 8), QPoint(x + 6, y + 11), QPoint(x + 12, y + 4)])

    def _words(self, painter: QPainter, rect: QRect, row: StepRow) -> None:
        p = self._list.palette_in_use
        left, right = rect.left() + BOX + 2 * EDGE, rect.right() - 6
        lines = self._lines(row, self._list.viewport().width() - BESIDE)
        painter.setFont(theme.font(9.5))
        painter.setPen(QColor(p.ink))
        act = QRect(left, rect.top() + 4, right - left, lines * LINE + 2)
        painter.drawText(act, int(Qt.TextFlag.TextWordWrap), row.act)
        foot = QRect(left, act.bottom() + 1, right - left, LINE)
        painter.setFont(theme.font(9))
        painter.setPen(QColor(p.danger if row.out else p.teal))
        read = theme.text_width(row.read, 9) if row.read else 0
        painter.drawText(foot, int(Qt.AlignmentFlag.AlignRight), row.read)
        painter.setPen(QColor(p.amber_text))
        metrics = QFontMetrics(theme.font(9))
        room = max(20, foot.width() - read - 6)
        painter.drawText(foot, int(Qt.AlignmentFlag.AlignLeft),
                         metrics.elidedText(row.expect, Qt.TextElideMode.ElideRight, room))  # fmt: skip
