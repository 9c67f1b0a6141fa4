"""The exported program tried out: lamps as its pins light them, the pins' traces, and wires that may be put wrong."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize
from PySide6.QtGui import QColor, QHideEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QScrollArea, QVBoxLayout, QWidget
from shiboken6 import isValid

from tiny_lantern.circuit.conductor import CONTROL, LAMPS, Conductor
from tiny_lantern.live.tried.board import Wanted, as_wired, with_ends_swapped, without_row
from tiny_lantern.live.tried.trial import Moment, Trial
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Board
from tiny_lantern.model.layout import all_places
from tiny_lantern.model.ways.chain import Chain
from tiny_lantern.ui import theme
from tiny_lantern.ui.colours import screen_table
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import Rows, button, combo, faint, quiet, side_by_side
from tiny_lantern.ui.widgets.traces import Traces

SLICE_US, KEPT = 10_000, 5
LARGEST, LEAST, EDGE, FILLED = 15.0, 3.0, 12.0, 0.85
WORK = "trial"
ABOUT = (
    "The program that Save the code writes runs here in a process of its own, with a clock that its pins advance; "
    "chips and lamps are joined as the wiring steps say. Take a wire off, or swap two, and see what it does."
)


@guarded
class TriedLamps(QWidget):
    """The lamps where they lie, as bright as they were on the whole."""

    def __init__(self) -> None:
        super().__init__()
        self._places = np.zeros((0, 2))
        self._apart_m = np.zeros(0)
        self.light = np.zeros((0, 3))
        self.setMinimumSize(320, 150)
        self.setAccessibleName("Lamps as the program lights them")

    def sizeHint(self) -> QSize:
        return QSize(640, 220)

    def show_light(self, places: np.ndarray, light: np.ndarray) -> None:
        """Show some light.

        Args:
            places: where the lamps lie, (n_slots, 2). [m]
            light: linear, 0 to 1, (n_slots, 3). [-]
        """
        if not np.array_equal(places, self._places):
            self._places, self._apart_m = places, _apart_m(places)
        self.light = light
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(theme.NIGHT_GROUND))
        if not len(self._places) or len(self._places) != len(self.light):
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        low, high = self._places.min(axis=0), self._places.max(axis=0)
        span = np.maximum(high - low, 1e-6)
        scale = min((self.width() - 2 * EDGE) / span[0], (self.height() - 2 * EDGE) / span[1])
        middle = np.array([self.width() / 2, self.height() / 2])
        at = middle + (self._places - (low + high) / 2) * scale * np.array([1, -1])
        sizes = np.clip(FILLED * scale * self._apart_m, LEAST, LARGEST)
        shown = screen_table()[np.round(np.clip(self.light, 0, 1) * 255).astype(np.uint8)]
        painter.setPen(QColor("#39434f"))
        for (x, y), size, colour in zip(at, sizes, shown, strict=True):
            painter.setBrush(QColor(*map(int, colour)))
            painter.drawEllipse(QRectF(QPointF(x - size / 2, y - size / 2), QPointF(x + size / 2, y + size / 2)))


def _apart_m(places: np.ndarray) -> np.ndarray:
    """How far each lamp is from the one next to it. (n_slots,) [m]"""
    if len(places) < 2:
        return np.full(len(places), np.inf)
    from scipy.spatial import cKDTree  # loaded when it is first shown

    return np.asarray(cKDTree(places).query(places, k=2)[0][:, 1])


@guarded
class TriedWindow(QWidget):
    """Runs a board's program while it is shown; another build, another board or another wire begins it anew."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._trial: Trial | None = None
        self._moments: list[Moment] = []
        self._playing = False
        self._build: Build = session.build
        self.board = combo([], "The board whose program is run", lambda _: self.again())
        self.off = combo([], "A wire that is off", lambda _: self.again())
        self.swapped = combo([], "A wire whose far end is swapped with another's", lambda _: self.again())
        self.other = combo([], "The other one", lambda _: self.again())
        self.play = button("Play", self._toggle, "small", "Run it on, as fast as this machine can")
        self.one = button("One frame", self.step, "small", "Run it on for one frame of the show")
        self.anew = button("Begin again", self.again, "small", "Switched on again, at the moment under the caret")
        self.lamps, self.traces = TriedLamps(), Traces()
        self.traces.chosen.connect(self._tell_pin)
        self.state, self.pin_words = faint(), faint()
        rows = Rows()
        self._board_label = rows.add("board", self.board)
        rows.add("a wire is off", self.off)
        rows.add("swapped", self.swapped)
        rows.add("with", self.other)
        area = QScrollArea()
        area.setWidget(self.traces)
        area.setWidgetResizable(True)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(rows.grid)
        column.addWidget(self.lamps, 2)
        column.addLayout(side_by_side(self.play, self.one, self.anew))
        column.addWidget(area, 3)
        for label in (self.pin_words, self.state, faint(ABOUT)):
            column.addWidget(label)
        session.build_changed.connect(self._on_build)
        self._fill()
        self.again()

    def _on_build(self) -> None:
        if not self._session.dragging and self._session.build is not self._build:
            self._fill()
            self.again()

    def _fill(self) -> None:
        """The boards of the build in hand, with no wire put wrong; its wires follow with the program."""
        self._build = build = self._session.build
        self._rows: dict[str, Conductor] = {}
        with quiet(self.board, self.off, self.swapped, self.other):
            self.board.clear()
            for board in build.boards:
                self.board.addItem(board.name, board.id)
            for box in (self.off, self.swapped, self.other):
                box.clear()
                box.addItem("none", None)
        for widget in (self.board, self._board_label):
            widget.setVisible(len(build.boards) > 1)

    def _offer(self, rows: Sequence[Conductor]) -> None:
        """The wires that may be put wrong."""
        self._rows = {row.key: row for row in rows}
        chosen = [row for row in rows if row.group in (CONTROL, LAMPS) and not row.blocks]
        for box in (self.off, self.swapped, self.other):
            for row in chosen:
                box.addItem(row.words, row.key)

    @property
    def _own(self) -> Board | None:
        chosen = self.board.currentData()
        return next((board for board in self._build.boards if board.id == chosen), None)

    def _wanted(self) -> Wanted:
        """What is put wrong with the wires."""
        off, one, other = (box.currentData() for box in (self.off, self.swapped, self.other))
        changes: list[Wanted] = []
        if one is not None and other is not None and one != other:
            changes.append(with_ends_swapped(one, other))
        if off is not None:
            changes.append(without_row(off))
        if not changes:
            return as_wired

        def wanted(rows: Sequence[Conductor]) -> Sequence[Conductor]:
            for change in changes:
                rows = change(rows)
            return rows

        return wanted

    def again(self) -> None:
        """Begin anew, as the wires are now."""
        self._end()
        self._moments = []
        board = self._own
        if board is None:
            self.state.setText("There is no board yet: add one in Drive.")
            return
        self.state.setText("Starting the program …")
        begin = self._build.timeline.on_show(self._session.time_s)
        make = partial(Trial, self._build, board.id, self._wanted(), int(begin))
        self._work(lambda progress, cancelled: make(), self._begun)

    def _work(self, work: Callable[..., object], done: Callable[..., None]) -> None:
        self._session.background.start(WORK, work, partial(self._arrived, done), self._failed)

    def _arrived(self, done: Callable[..., None], result: object) -> None:
        if isValid(self):
            done(result)
        elif isinstance(result, Trial):
            result.close()

    def _begun(self, trial: Trial) -> None:
        self._end()
        if not self.isVisible():  # closed meanwhile
            trial.close()
            return
        self._trial = trial
        if not self._rows:
            self._offer(trial.board.rows)
        names = {end.terminal.removeprefix("pin "): number for number, end in trial.board.pins.items()}
        lanes, clocks = self._lanes(names)
        self.traces.show_lanes(lanes, clocks)
        self.step()

    def _lanes(self, numbers: dict[str, int]) -> tuple[list[tuple[int, str]], dict[int, int]]:
        """The pins by what they are for, and which clock belongs to which data line."""
        from tiny_lantern.model.pin_needs import owner_name, pins_of  # loaded when it is first shown

        assert self._trial is not None
        uses = pins_of(self._build, self._trial.board_id)
        lanes = [(numbers[pin.pin], f"{owner_name(self._build, owner)}, {role}") for (owner, role), pin in uses.items()]
        clocks = {}
        for driver in self._build.drivers:
            if isinstance(driver, Chain) and {(driver.id, "data"), (driver.id, "clock")} <= uses.keys():
                data, clock = (uses[driver.id, role].pin for role in ("data", "clock"))
                clocks[numbers[data]] = numbers[clock]
        return lanes, clocks

    def step(self) -> None:
        """Run it on for a frame."""
        trial = self._trial
        if trial is None or self._session.background.running(WORK):
            return
        span = min(round(1e6 / self._build.tick_hz), SLICE_US) if self._playing else round(1e6 / self._build.tick_hz)
        answerer = self._session.answerer
        reads = {one.input_id: answerer.reading(one) for one in answerer.tables.hears}
        self._work(lambda progress, cancelled: (trial, trial.step(span, reads)), self._stepped)

    def _stepped(self, told: tuple[Trial, Moment]) -> None:
        trial, moment = told
        if trial is not self._trial:
            return
        self._moments = [*self._moments[1 - KEPT :], moment]
        edges = [edge for each in self._moments for edge in each.edges]
        self.traces.show_edges(edges, self._moments[0].began_us, moment.ended_us)
        self.lamps.show_light(all_places(self._build), moment.light)
        wrong = f" Must not happen: {moment.forbidden[0]}." if moment.forbidden else ""
        self.state.setText(f"{moment.ended_us / 1000:.1f} ms, {len(moment.edges):,} edges in the last.{wrong}")
        if self._playing:
            self.step()

    def _toggle(self) -> None:
        self._playing = not self._playing
        self.play.setText("Pause" if self._playing else "Play")
        if self._playing:
            self.step()

    def _tell_pin(self, number: int) -> None:
        """Where a pin's wire leads, by its step."""
        if self._trial is None:
            return
        end = self._trial.board.pins[number]
        steps = list(self._rows)
        found = [
            f"step {steps.index(row.key) + 1}: {row.words}"
            for row in self._rows.values()
            if end.node in (row.start.node, row.end.node)
        ]
        self.pin_words.setText("; ".join(found) or f"No wire is on {end.words}.")

    def _failed(self, error: Exception) -> None:
        if isValid(self):
            self.state.setText(str(error))

    def _end(self) -> None:
        if self._trial is not None:
            self._trial.close()
            self._trial = None

    def hideEvent(self, event: QHideEvent) -> None:
        """Nothing goes on running once it is closed."""
        self._playing = False
        self.play.setText("Play")
        self._session.background.cancel(WORK)
        self._end()
        super().hideEvent(event)

    @property
    def running(self) -> bool:
        """Whether a program is there to be run on."""
        return self._trial is not None
