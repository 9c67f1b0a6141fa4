"""Drive: each channel's current, brightness, heat and pin; how the current goes from the board to the lamp."""

from __future__ import annotations

from functools import partial

import numpy as np
from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from tiny_lantern.electrical.drive.register import EACH, bytes_to_send, chain_timing, in_hex
from tiny_lantern.electrical.driven.contract import ChannelResult
from tiny_lantern.electrical.driven.solution import DriveSolution, solve_drive
from tiny_lantern.findings.driven import pins_again, use_board
from tiny_lantern.model.base import same_members
from tiny_lantern.model.build import FrameLoad
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.quantities import engineering
from tiny_lantern.model.ways.register import RegisterChain
from tiny_lantern.plans.told import channel_working
from tiny_lantern.show.channels import channel_duties, frame_duties_of
from tiny_lantern.ui import theme
from tiny_lantern.ui.axis import LineAxis
from tiny_lantern.ui.frames import FrameSource
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.stations.drive_canvas import DriveCanvas
from tiny_lantern.ui.stations.drive_form import DriveForm
from tiny_lantern.ui.stations.drive_hand import DriveHand
from tiny_lantern.ui.widgets.fields import button, combo, faint, panel, quiet, scrolled, set_choice
from tiny_lantern.ui.widgets.in_view import InView

MOST_BYTES = 12


class DriveStation(QWidget):
    """Left the selected channel, right the canvas, below it the board's choices and the bytes of this frame."""

    show_working = Signal(object)
    ask_boards = Signal()

    def __init__(self, session: Session, axis: LineAxis, frames: FrameSource) -> None:
        super().__init__()
        self._session, self._frames = session, frames
        self._solution: DriveSolution | None = None
        self._followed: tuple[str, str] | None = None
        self.canvas = DriveCanvas(session, axis)
        self.hand = DriveHand(session, self.canvas, axis)
        self.form = DriveForm(session)
        self.form.show_working.connect(lambda result, at: self.show_working.emit(channel_working(result, at)))
        frame, column = panel(theme.LEFT_PANEL)
        column.addWidget(scrolled(self.form))
        right = QVBoxLayout()
        right.setSpacing(5)
        right.addWidget(self.canvas, 1)
        right.addLayout(self._foot())
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(theme.MARGIN)
        row.addWidget(frame)
        row.addLayout(right, 1)
        in_view = InView(self, self.refresh)
        session.build_changed.connect(in_view.refresh)
        session.load_changed.connect(in_view.refresh)
        session.drawers.changed.connect(in_view.refresh)
        in_wires = InView(self, self._judged)
        session.findings_changed.connect(in_wires.refresh)
        in_form = InView(self, self._selected)
        session.selection_changed.connect(in_form.refresh)
        in_bytes = InView(self, self._on_time)
        session.time_changed.connect(in_bytes.refresh)
        self.refresh()

    def _foot(self) -> QHBoxLayout:
        self._bytes = faint()
        self._bytes.setWordWrap(False)
        self.which = combo([], "Which board is shown", self._show_other)
        self.boards = button("Boards …", name="small", tip="More boards, their names, and their places in the chain")
        self.boards.clicked.connect(self.ask_boards)
        self.board = combo([], "Board", self._set_board)
        self.again = button("Assign pins", self.assign, "small", "Every need a pin; what is pinned down stays")
        row = QHBoxLayout()
        row.setContentsMargins(theme.GUTTER, 0, 0, 0)
        row.addWidget(self._bytes, 1)
        row.addWidget(self.which)
        row.addWidget(self.board)
        row.addWidget(self.boards)
        row.addWidget(self.again)
        return row

    @property
    def solution(self) -> DriveSolution | None:
        """What is shown."""
        return self._solution

    def dress(self, palette: theme.Palette) -> None:
        """Take the colours of a theme."""
        self.canvas.palette_in_use = self.form.palette_in_use = palette
        self.canvas.update()
        self.form.refresh()

    def _judged(self) -> None:
        """What lamps get through their wires is known by now."""
        if not isinstance(self._session.load, FrameLoad) and self._session.drive is not self._solution:
            self.refresh()

    def refresh(self) -> None:
        """Solve what changed and show it."""
        build = self._session.build
        if isinstance(self._session.load, FrameLoad):
            self._solution = solve_drive(build, frame_duties_of(build, self._frames.frame()), self._solution)
        else:
            self._solution = self._session.drive
        self.canvas.show_solution(self._solution)
        self.form.show_solution(self._solution)
        self._follow()
        self._show_board()
        self._show_bytes()

    def _selected(self) -> None:
        shown, build = self._solution, self._session.build
        if shown is not None and not same_members(shown.build.channels, build.channels):
            self.refresh()  # what was passed by while this was hidden: the form is shown with results of its own build
        self.form.refresh()
        self._follow()
        self._show_bytes()

    def _follow(self) -> None:
        """Show the board of the channel in the form once that is another."""
        channel = self.form.channel
        board_of = {driver.id: driver.board_id for driver in self._session.build.drivers}
        shown = (channel.id, board_of[channel.driver_id]) if channel is not None else None
        if shown is not None and shown != self._followed:
            self._show_other(shown[1])
        self._followed = shown

    def _on_time(self) -> None:
        if isinstance(self._session.load, FrameLoad):
            self.refresh()
        else:
            self._show_bytes()

    def _show_board(self) -> None:
        if self._session.dragging:
            return
        board, parts = self.canvas.board, self._session.parts.of(BoardPart)
        boards = self._session.build.boards
        self.which.setVisible(len(boards) > 1)
        self.form.board_id = None if board is None else board.id
        with quiet(self.board, self.which):
            self.which.clear()
            for each in boards:
                self.which.addItem(each.name, each.id)
            if board is not None:
                set_choice(self.which, board.id)
            self.board.clear()
            for part in parts:
                self.board.addItem(part.name, part.id)
            if board is not None:
                set_choice(self.board, board.part_id)
        for widget in (self.board, self.again):
            widget.setEnabled(board is not None)

    def _show_other(self, board_id: object) -> None:
        """Show a board's pins."""
        if self.canvas.board is None or board_id == self.canvas.board.id:
            return
        self.canvas.board_id = str(board_id)
        self.canvas.update()
        self._show_board()

    def _set_board(self, part_id: object) -> None:
        board = self.canvas.board
        part = next((part for part in self._session.parts.of(BoardPart) if part.id == part_id), None)
        if board is None or part is None:
            return
        if not self._session.apply(f"Used a {part.name}", partial(use_board, board_id=board.id, part=part)):
            self._show_board()

    def assign(self) -> None:
        """Give every need of the board a pin."""
        board = self.canvas.board
        if board is not None:
            self._session.apply("Assigned the pins", partial(pins_again, board_id=board.id))

    def _show_bytes(self) -> None:
        """The bytes that light the selected chain at the caret, in the order of sending."""
        result = self._chain()
        if result is None:
            self._bytes.setText("")
            return
        driver = result.case.driver
        assert isinstance(driver, RegisterChain)
        self._bytes.setText(bytes_words(result, self._lit(result)))
        self._bytes.setToolTip("The last chip's byte goes first; the first chip is the one on the board's data line")

    def _chain(self) -> ChannelResult | None:
        chosen = self._session.selection.one("drivers")
        if chosen is None:
            channel = self.form.channel
            chosen = channel.driver_id if channel is not None else None
        result = self._solution.by_driver.get(chosen) if self._solution and chosen else None
        if result is None or not isinstance(result.case.driver, RegisterChain):
            return None
        now = self._session.build.channels_of.get(result.case.driver.id, ())
        known = [channel.id for channel in result.case.channels] == [channel.id for channel in now]
        return result if known else None

    def _lit(self, result: ChannelResult) -> list[bool]:
        build = self._session.build
        if not build.effects:
            return [True] * len(result.case.channels)
        duties = channel_duties(build, result.case.driver, self._frames.frame()[None])[0]
        return [duty >= 0.5 for duty in duties]


def bytes_words(result: ChannelResult, lit: list[bool]) -> str:
    """The bytes that light a chain so: binary and hex, the order, and how fast they go."""
    driver = result.case.driver
    assert isinstance(driver, RegisterChain)
    outputs = np.zeros(driver.chips * EACH, bool)
    for channel, on in zip(result.case.channels, lit, strict=True):
        outputs[channel.output] = on
    sent = bytes_to_send(outputs, "msb_first" if driver.msb_first else "lsb_first")
    shown = " ".join(f"{value >> 4:04b} {value & 15:04b}" for value in sent[:3])
    hexes = " ".join(f"0x{in_hex(value)}" for value in sent[:MOST_BYTES])
    timing = chain_timing(driver.chips, driver.shift_hz, driver.latch_s)
    bit = "high" if driver.msb_first else "low"
    return f"send {shown} = {hexes}, last chip and {bit} bit first; {engineering(timing.frame_s, 's')} a frame"
