"""What an empty build greets with: a demo, a kind of build to start from, the first piece; and what a crash left."""

from __future__ import annotations

import time
from collections.abc import Callable
from functools import partial
from pathlib import Path

import numpy as np
from PySide6.QtCore import QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QColor, QImage, QPainter, QPainterPath, QPaintEvent
from PySide6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from tiny_lantern.catalogue.starters import KINDS, starter
from tiny_lantern.model.autosave import Draft, discard
from tiny_lantern.model.build import Build
from tiny_lantern.model.store import load
from tiny_lantern.ui import theme
from tiny_lantern.ui.files import DEMOS, Files, demo_build
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.widgets.fields import button, faint, heading, plain_tip, scrolled

CARD_HEIGHT = 440
PICTURE, SMALL, TINY = (170, 84), (118, 62), (90, 46)
ACROSS = 3
DRIVEN = (("Lamps on a register", "register"), ("A matrix sign", "matrix"), ("A wearable", "battery"),
          ("Mixed lamps", "mixed"))  # fmt: skip
LOOKED_AT_S = 11.0


@guarded
class PictureButton(QPushButton):
    """A start with a small picture of what it will glow like above its name."""

    def __init__(
        self, title: str, build: Callable[[], Build], act: Callable[[], object], size: tuple[int, int] = PICTURE
    ) -> None:  # fmt: skip
        super().__init__()
        self._title, self._build, self._size = title, build, size
        self._picture: QImage | None = None
        self.setFixedSize(size[0] + 8, size[1] + 30)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName(title)
        self.clicked.connect(lambda: act())

    @property
    def lit(self) -> bool:
        """Whether the picture is there."""
        return self._picture is not None

    def light(self) -> None:
        """Work the picture out; until then the ground is dark."""
        from tiny_lantern.sheets.moving import still  # loaded once the window is there

        build = self._build()
        build = build.model_copy(update={"supplies": (), "feeds": ()})  # only what glows is framed
        if build.pieces:
            pixels = still(build, min(LOOKED_AT_S, build.show_s / 2), *self._size)
        else:
            pixels = np.zeros((self._size[1], self._size[0], 3), np.uint8)
        height, width, _ = pixels.shape
        self._picture = QImage(pixels.data, width, height, 3 * width, QImage.Format.Format_RGB888).copy()
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        ink = self.palette().buttonText().color()
        box = QRectF(4, 4, *self._size)
        shape = QPainterPath()
        shape.addRoundedRect(box, 5, 5)
        painter.fillPath(shape, QColor(theme.NIGHT_GROUND))
        if self._picture is not None:
            painter.setClipPath(shape)
            painter.drawImage(box.topLeft(), self._picture)
            painter.setClipping(False)
        if self.hasFocus() or self.underMouse():
            painter.setPen(QColor(theme.AMBER))
            painter.drawPath(shape)
        painter.setPen(ink)
        painter.setFont(theme.font(10))
        name = QRectF(2, box.bottom() + 3, self.width() - 4, 20)
        painter.drawText(name, Qt.AlignmentFlag.AlignCenter, self._title)


class Greeting(QWidget):
    """Three ways in, and a way back after a crash."""

    started = Signal(object, str)
    first_piece = Signal()
    other_piece = Signal()

    def __init__(self, files: Files) -> None:
        super().__init__()
        self._files = files
        self.pictures: list[PictureButton] = []
        self.setObjectName("surface")
        content = QWidget()
        outer = QVBoxLayout(content)
        outer.setContentsMargins(30, 12, 30, 12)
        around = QVBoxLayout(self)
        around.setContentsMargins(0, 0, 0, 0)
        around.addWidget(scrolled(content))
        self._banner = QVBoxLayout()
        outer.addLayout(self._banner)
        outer.addStretch(1)
        title = heading("What shall glow?")
        title.setStyleSheet("font-size: 24px;")
        title.setAlignment(Qt.AlignmentFlag.AlignHCenter)
        outer.addWidget(title)
        row = QHBoxLayout()
        row.setSpacing(18)
        row.addStretch(1)
        for card in (self._demos(), self._kinds(), self._first()):
            row.addWidget(card)
        row.addStretch(1)
        outer.addSpacing(14)
        outer.addLayout(row)
        outer.addStretch(2)
        self.offer_drafts()
        QTimer.singleShot(0, self, self._light_next)

    def _light_next(self) -> None:
        """Light one picture a turn, so that the window answers in between."""
        dark = [picture for picture in self.pictures if not picture.lit]
        if dark:
            dark[0].light()
            QTimer.singleShot(0, self, self._light_next)

    def _card(self, title: str, text: str, width: int) -> tuple[QFrame, QVBoxLayout]:
        frame = QFrame()
        frame.setObjectName("panel")
        frame.setFixedSize(width, CARD_HEIGHT)
        column = QVBoxLayout(frame)
        column.setContentsMargins(16, 14, 16, 14)
        column.addWidget(heading(title))
        column.addWidget(faint(text))
        column.addSpacing(4)
        return frame, column

    def _pictured(
        self, title: str, build: Callable[[], Build], act: Callable[[], object], size: tuple[int, int] = PICTURE
    ) -> PictureButton:  # fmt: skip
        made = PictureButton(title, build, act, size)
        self.pictures.append(made)
        return made

    def _demos(self) -> QFrame:
        frame, column = self._card("Look at one that exists", "A whole build with wires, snags and a show.", 214)
        for name, title in DEMOS:
            column.addWidget(self._pictured(title, partial(demo_build, name), partial(self._files.open_demo, name)))
        column.addStretch(1)
        return frame

    def _kinds(self) -> QFrame:
        frame, column = self._card("Start from a kind", "Small, fed or driven, and lit: change it as you like.", 420)
        grid = QGridLayout()
        offered = [(title, partial(starter, number)) for number, (title, *_) in enumerate(KINDS)]
        offered += [(title, partial(driven_starter, name)) for title, name in DRIVEN]
        for number, (title, build) in enumerate(offered):
            made = self._pictured(title, build, partial(self._start, title, build), SMALL)
            grid.addWidget(made, number // ACROSS, number % ACROSS)
        column.addLayout(grid)
        column.addStretch(1)
        return frame

    def _first(self) -> QFrame:
        frame, column = self._card(
            "Add the first piece", "Begin with an empty Line: a strip, lamps, a panel, a matrix.", 214
        )
        self.add_first = button("Add a strip", self.first_piece.emit, "primary")
        column.addWidget(self.add_first)
        self.other_kind = button(
            "Another kind …", self.other_piece.emit, "", "Lamps, panels, matrices and more: choose in Pieces"
        )
        column.addWidget(self.other_kind)
        column.addWidget(button("Open a file …", lambda: self._files.ask_open()))
        for path in self._files.recent[:5]:
            name = path.stem[:24].replace("&", "&&")
            column.addWidget(button(name, partial(self._files.open, path), "link", plain_tip(str(path))))
        column.addStretch(1)
        return frame

    def _start(self, title: str, build: Callable[[], Build]) -> None:
        self.started.emit(build(), title.lower())

    def _discard(self, draft: Draft, frame: QFrame) -> None:
        discard(draft)
        frame.hide()

    def offer_drafts(self) -> None:
        """Offer each build that a crash left behind, and the one that was set aside when the program was closed."""
        aside = self._files.set_aside()
        if aside is not None:
            self._offer_aside(aside)
        for draft in self._files.left_behind():
            frame = QFrame()
            frame.setObjectName("banner")
            row = QHBoxLayout(frame)
            origin = draft.source.name if draft.source else "a build that was never saved"
            row.addWidget(faint(f"The program stopped before this was saved: {origin}."), 1)
            row.addWidget(button("Recover it", partial(self._files.recover, draft), "primary"))
            row.addWidget(button("Discard", partial(self._discard, draft, frame)))
            self._banner.addWidget(frame)

    def _offer_aside(self, path: Path) -> None:
        """The build that was not saved at closing: its picture, when it was, and the way back to it."""
        frame = QFrame()
        frame.setObjectName("banner")
        row = QHBoxLayout(frame)
        when = time.strftime("%d %B %Y, %H:%M", time.localtime(path.stat().st_mtime)).lstrip("0")
        picture = self._pictured("", partial(load, path), partial(self._files.open, path), TINY)
        picture.setFixedHeight(TINY[1] + 8)
        picture.setAccessibleName("The build that was set aside")
        row.addWidget(picture)
        told = (
            f"“{path.stem}” was not saved when the program was closed on {when}. It was set aside, and nothing is lost."
        )
        row.addWidget(faint(told), 1)
        row.addWidget(button("Open it", partial(self._files.open, path), "primary", plain_tip(str(path))))
        row.addWidget(button("Not now", partial(self._forget_aside, frame)))
        self._banner.addWidget(frame)

    def _forget_aside(self, frame: QFrame) -> None:
        self._files.forget_aside()
        frame.hide()


def driven_starter(name: str) -> Build:
    """A small driven build to start from."""
    from tiny_lantern.plans.starters import DRIVEN as MADE  # loads what solves and assigns, once the window is there

    return MADE[name]()
