"""A drawing, within its width or as large as it is."""

from __future__ import annotations

from PySide6.QtCore import QByteArray, QRectF, QSize
from PySide6.QtGui import QPainter, QPaintEvent, QResizeEvent
from PySide6.QtSvg import QSvgRenderer
from PySide6.QtWidgets import QWidget

from tiny_lantern.ui.guarded import guarded

FADED = 0.4


@guarded
class DrawingView(QWidget):
    """Shows a drawing: within its width where it is ``scaled``, else as large as it is."""

    def __init__(self, scaled: bool = True) -> None:
        super().__init__()
        self._scaled = scaled
        self._renderer = QSvgRenderer(self)
        self._size = QSize(200, 60)
        self._faded = False

    def fade(self) -> None:
        """Show what is there as no longer true, until the next drawing comes."""
        self._faded = True
        self.update()

    def show_svg(self, text: str) -> None:
        """Show a drawing."""
        self._faded = False
        self._renderer.load(QByteArray(text.encode("utf-8")))
        self._size = self._renderer.defaultSize()
        self._fit()
        self.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._fit()

    def _share(self) -> float:
        """How much smaller it is shown than drawn, to lie within the width."""
        return min(1.0, self.width() / max(1, self._size.width())) if self._scaled else 1.0

    def _fit(self) -> None:
        if not self._scaled:
            self.setFixedSize(self._size)
            return
        self.setFixedHeight(round(self._size.height() * self._share()))

    def paintEvent(self, event: QPaintEvent) -> None:
        painter, share = QPainter(self), self._share()
        painter.setOpacity(FADED if self._faded else 1.0)
        self._renderer.render(painter, QRectF(0, 0, self._size.width() * share, self._size.height() * share))
