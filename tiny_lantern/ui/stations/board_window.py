"""A board that is lit as the window shows it: the simulated one with its lamps, or a real one at a port."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import numpy as np
from PySide6.QtCore import QRectF, QSize, QTimer
from PySide6.QtGui import QColor, QHideEvent, QPainter, QPaintEvent, QShowEvent
from PySide6.QtWidgets import QVBoxLayout, QWidget

from tiny_lantern.live.link import BoardLink
from tiny_lantern.live.ports import ports
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Board
from tiny_lantern.model.edits_drive import change_board
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.listening import Listening
from tiny_lantern.ui import theme
from tiny_lantern.ui.colours import image_of, screen_table
from tiny_lantern.ui.frames import FrameSource
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.live import Doing, LiveBoard
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import button, combo, faint, quiet, set_choice, side_by_side

LARGEST, ROOM = 22.0, 3.0
COUNT_MS = 500
SIMULATED = "simulated board, in this machine"
ABOUT = (
    "A stand-in for a board: a pseudo-terminal of this machine. What is shown here went over its wire and was decoded "
    "again, so what you tune, hold or play is seen as a board would get it. Closing the window makes it dark."
)
REAL = (
    "A board with the code of this build on it, at the end of the cable that loads it. It is asked what it plays "
    "before anything else; what is wired otherwise is refused. Let it blink to see which it is, light one lamp, then "
    "all. When this window is closed, or the cable pulled, it does what was chosen in Boards. Set the supply's current "
    "limit first; light that flashes 3 to 60 times a second can hurt people who are sensitive to it."
)
ACTS: dict[Doing, tuple[str, str]] = {
    "ask": ("Ask", "What it plays, and whether that is this build"),
    "blink": ("Blink", "All of its lamps at a third, five times: which board is it?"),
    "one": ("One light", "The selected light alone, as long as this is down"),
    "all": ("Send everything", "All of it, as it is seen here, as long as this is down"),
}
STOP = "Stop"
HELD: tuple[Doing, ...] = ("one", "all")


@guarded
class Lamps(QWidget):
    """The board's lamps in rows, in the order of the wire."""

    def __init__(self, live: LiveBoard) -> None:
        super().__init__()
        self._live = live
        self.setMinimumSize(240, 90)
        self.setAccessibleName("Lamps of the board")

    def sizeHint(self) -> QSize:
        return QSize(560, 180)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(theme.NIGHT_GROUND))
        lamps = self._live.lamps
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
    """The simulated board while it is shown, or a real one at a port; tells what arrives."""

    def __init__(self, session: Session, frames: FrameSource) -> None:
        super().__init__()
        self._session = session
        self.live = LiveBoard(session, frames, self)
        self.lamps = Lamps(self.live)
        self.port = combo([], "Where the board is", self._choose)
        self.which = combo([], "Which board of the build it is", self._choose)
        self.again = button("Look again", self.refresh, "small", "For ports, after a board was plugged in")
        self.listen = button("Let it listen", self._let_listen, tip="Its code then hears a computer: load it anew")
        self.acts = {
            doing: button(title, partial(self._act, doing), tip=tip) for doing, (title, tip) in ACTS.items()
        }  # fmt: skip
        for doing in HELD:
            self.acts[doing].setCheckable(True)
        self._word, self._about = faint(), faint()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(side_by_side(self.port, self.which, self.again))
        column.addWidget(self.lamps, 1)
        column.addLayout(side_by_side(self.listen, *self.acts.values()))
        column.addWidget(self._word)
        column.addWidget(self._about)
        for words in (self._word, self._about):
            words.setWordWrap(True)
        self.live.changed.connect(self.tell)
        session.build_changed.connect(self._fill_boards)
        self._count = QTimer(self)
        self._count.timeout.connect(self.tell)
        self.refresh()

    def refresh(self) -> None:
        """Look which ports there are."""
        with quiet(self.port):
            self.port.clear()
            self.port.addItem(SIMULATED, "")
            for port in ports():
                self.port.addItem(f"{port.path}: {port.words}", port.path)
            set_choice(self.port, self.live.port)
        self._fill_boards()

    def _fill_boards(self) -> None:
        build = self._session.build
        with quiet(self.which):
            self.which.clear()
            if self.live.simulated:
                self.which.addItem("all lights as one", "")
            for board in build.boards:
                if board.listens or not self.live.simulated:
                    self.which.addItem(board.name, board.id)
            set_choice(self.which, self.live.board_id)
        if self.which.currentData() != self.live.board_id:
            self._choose()
        self.tell()

    def _choose(self, *_: object) -> None:
        port = self.port.currentData() or ""
        if port and not self.live.port:
            first = next((each for each in self._session.build.boards if each.listens), None)
            boards = self._session.build.boards
            board_id = first.id if first is not None else boards[0].id if boards else ""
        else:
            board_id = self.which.currentData() or ""
        if (port, board_id) != (self.live.port, self.live.board_id):
            self._run(lambda: self.live.choose(port, board_id))
            self._fill_boards()

    def _let_listen(self) -> None:
        board_id = self.live.board_id
        self._session.apply("Let a board listen", partial(change_board, board_id=board_id, listens=Listening()))

    def _act(self, doing: Doing) -> None:
        """What a button is for; one that is held ends it when it is pressed again."""
        ends = doing in HELD and self.live.doing == doing
        self._run(lambda: self.live.ask_for("nothing" if ends else doing))

    def _run(self, act: Callable[[], None]) -> None:
        try:
            act()
        except LanternError as error:
            self.live.said = error.what
            self._session.refused.emit(error)
        self.tell()

    def tell(self) -> None:
        """Say what arrived, and offer what can be asked for."""
        live, link = self.live, self.live.link
        boards = {board.id: board for board in self._session.build.boards}
        board = boards.get(live.board_id)
        deaf = not live.simulated and (board is None or board.listens is None)
        self.listen.setVisible(deaf and board is not None)
        for doing, act in self.acts.items():
            act.setVisible(not live.simulated)
            act.setEnabled(not deaf)
            if doing in HELD:
                act.setChecked(live.doing == doing)
                act.setText(STOP if live.doing == doing else ACTS[doing][0])
        self.lamps.update()
        self._word.setText(_told(live, link, board, self._session.build))
        self._about.setText(ABOUT if live.simulated else REAL)

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


def _told(live: LiveBoard, link: BoardLink | None, board: Board | None, build: Build) -> str:
    """What there is to say of a board."""
    said = f"{live.said[:1].upper()}{live.said[1:]}. " if live.said else ""
    if link is None:
        return said or "Nothing is sent until you ask for it."
    counts = (
        f"{live.rate_hz:.0f} frames/s, {link.answered} shown, {link.left_out} left out for a newer one, "
        f"{link.lost} lost, {link.not_understood} not understood."
    )
    if live.board is not None:
        orders = ", ".join(sorted({run.order for run in live.board.loaded.runs}))
        return f"{live.board.port}: {len(live.board.lamps)} lamps, sent as {orders}. {counts}"
    if board is None or board.listens is None:
        return f"{said}{counts}"
    names = {one.id: one.name for one in build.inputs}
    known = zip(live.loaded.input_ids, link.readings, strict=False)
    reads = "; ".join(f"{names[key]} reads {reading}" for key, reading in known if key in names)
    return f"{said}{counts} {reads}".strip()
