"""Wiring steps: one connection at a time, both ends lit, ticked off; the place is kept in the build."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QByteArray, QRectF, Qt
from PySide6.QtGui import QKeyEvent, QPainter, QPaintEvent
from PySide6.QtSvg import QSvgRenderer
from PySide6.QtWidgets import (
    QHBoxLayout,
    QInputDialog,
    QListWidget,
    QListWidgetItem,
    QProgressBar,
    QWidget,
)

from tiny_lantern.circuit.conductor import GROUPS, Conductor
from tiny_lantern.model.edits_wiring import colour_lamps_by, colour_wires, tick_wire
from tiny_lantern.model.quantities import metres
from tiny_lantern.model.stamp import stamp_of
from tiny_lantern.model.wiring import State
from tiny_lantern.sheets.connections import connections, most_through, through_counts
from tiny_lantern.sheets.expected import meter_words
from tiny_lantern.sheets.step_drawing import step_svg
from tiny_lantern.ui.analyses import WIRES
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import button, combo, faint, heading, panel, quiet, set_choice
from tiny_lantern.ui.widgets.in_view import InView

A_STEP_MIN, FEW_CHANNELS = 1.5, 24
NOTHING = '<svg xmlns="http://www.w3.org/2000/svg" width="1" height="1"/>'
SIGNS = {"done": "✓", "skipped": "–", "wrong": "✗"}
CAREFUL = "With the supply off. The lamp supply comes last, so that a wrong wire meets no more than the logic supply."


@guarded
class StepPicture(QWidget):
    """Shows a step's drawing, as large as there is room."""

    def __init__(self) -> None:
        super().__init__()
        self._renderer = QSvgRenderer(self)
        self.setMinimumHeight(240)
        self.setAccessibleName("The two ends of this wire")

    def show_svg(self, text: str) -> None:
        """Show a drawing."""
        self._renderer.load(QByteArray(text.encode("utf-8")))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        drawn = self._renderer.viewBoxF()
        scale = min(self.width() / max(drawn.width(), 1), self.height() / max(drawn.height(), 1))
        wide, high = drawn.width() * scale, drawn.height() * scale
        box = QRectF((self.width() - wide) / 2, (self.height() - high) / 2, wide, high)
        self._renderer.render(QPainter(self), box)


@guarded
class WiringView(QWidget):
    """Left the groups, right the step."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.rows: tuple[Conductor, ...] = ()
        self._of: object = None
        left, column = panel(212)
        column.addWidget(heading("Wiring steps"))
        self._told = faint()
        self._bar = QProgressBar()
        self._bar.setTextVisible(False)
        self._bar.setFixedHeight(6)
        self.groups = QListWidget()
        self.groups.setAccessibleName("Groups of wires")
        self.groups.itemActivated.connect(self._to_group)
        self.groups.itemClicked.connect(self._to_group)
        self.colours = QListWidget()
        self.colours.setAccessibleName("Wire colours")
        self.colours.setMaximumHeight(150)
        self.colours.itemActivated.connect(self._ask_colour)
        self.lamps_by = combo(
            [("lamps' wires all alike", "role"), ("by the die that they light", "die"), ("lamp by lamp", "lamp")],
            "How the wires of lamps are coloured", self._colour_lamps,
        )  # fmt: skip
        for widget in (self._told, self._bar, self.groups, heading("Wire colours"), self.lamps_by, self.colours):
            column.addWidget(widget)
        frame, inside = panel()
        self._number, self._title, self._line = faint(), heading(""), faint()
        self.picture = StepPicture()
        self._meter = faint()
        self.done = button("Done", lambda: self.tick("done"), "primary", "Return: this wire is in")
        self.skip = button("Skip", lambda: self.tick("skipped"), tip="S: come back to it later")
        self.wrong = button("Not like this …", self._ask_wrong, tip="W: write down what was there instead")
        self.back = button("◂", partial(self.step, -1), tip="The step before")
        self.ahead = button("▸", partial(self.step, 1), tip="The next step")
        for act, name in ((self.back, "The step before"), (self.ahead, "The next step")):
            act.setAccessibleName(name)
        for widget in (self._number, self._title, self._line):
            inside.addWidget(widget)
        inside.addWidget(self.picture, 1)
        inside.addWidget(self._meter)
        inside.addWidget(faint(CAREFUL))
        acts = QHBoxLayout()
        acts.addWidget(self.back)
        acts.addWidget(self.ahead)
        acts.addStretch(1)
        for act in (self.skip, self.wrong, self.done):
            acts.addWidget(act)
        inside.addLayout(acts)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(left)
        row.addWidget(frame, 1)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        in_view = InView(self, self.refresh)
        session.build_changed.connect(in_view.refresh)
        session.findings_changed.connect(in_view.refresh)
        self.refresh()

    @property
    def at(self) -> int:
        """Which step is shown: the one that the build remembers, else the first that is open."""
        keys = [row.key for row in self.rows]
        wiring = self._session.build.wiring
        if wiring.at in keys:
            return keys.index(wiring.at)
        return next((number for number, key in enumerate(keys) if wiring.state_of(key) is None), 0)

    def refresh(self) -> None:
        """Show where one is."""
        build = self._session.build
        if self._session.dragging:
            return
        if build is not self._of:
            self._of = build
            if len(build.channels) > FEW_CHANNELS:
                self._session.work_out(WIRES, self._take_rows)
            else:
                self.rows = connections(build)
        self._show()

    def _take_rows(self, rows: tuple[Conductor, ...]) -> None:
        self.rows = rows
        self._show()

    def _show(self) -> None:
        build = self._session.build
        ticks = {tick.key: tick.state for tick in build.wiring.ticks}
        done = sum(ticks.get(row.key) == "done" for row in self.rows)
        left_min = (len(self.rows) - done) * A_STEP_MIN
        stamp = stamp_of(build)
        old = f"; the printed sheet {build.wiring.printed} is older" if build.wiring.printed not in ("", stamp) else ""
        hours = f"{int(left_min // 60)} h {int(left_min % 60):02d}"
        how_far = f"{done} of {len(self.rows)} done · about {hours} left · " if self.rows else ""
        self._told.setText(f"{how_far}stamp {stamp}{old}")
        self._bar.setMaximum(max(1, len(self.rows)))
        self._bar.setValue(done)
        self._show_groups(ticks)
        self._show_colours()
        self._show_step(ticks)

    def _show_groups(self, ticks: dict[str, State]) -> None:
        self.groups.clear()
        for group in GROUPS:
            own = [row for row in self.rows if row.group == group]
            if own:
                done = sum(ticks.get(row.key) == "done" for row in own)
                sign = "✓ " if done == len(own) else ""
                entry = QListWidgetItem(f"{sign}{group}   {done}/{len(own)}", self.groups)
                entry.setData(Qt.ItemDataRole.UserRole, own[0].key)
                if self.rows and self.rows[self.at].group == group:
                    self.groups.setCurrentItem(entry)

    def _colour_lamps(self, by: object) -> None:
        self._session.apply("Coloured the wires of lamps", partial(colour_lamps_by, by=str(by)))

    def _show_colours(self) -> None:
        self.colours.clear()
        wiring = self._session.build.wiring
        with quiet(self.lamps_by):
            set_choice(self.lamps_by, wiring.lamp_colours)
        for role in dict.fromkeys(row.role for row in self.rows):
            entry = QListWidgetItem(f"{role}: {wiring.colour_of(role)}", self.colours)
            entry.setData(Qt.ItemDataRole.UserRole, role)
            entry.setToolTip("Press Enter to use another colour")

    def _show_step(self, ticks: dict[str, State]) -> None:
        there = bool(self.rows)
        for widget in (self.picture, self.done, self.skip, self.wrong, self.back, self.ahead):
            widget.setEnabled(there)
        if not there:
            self._title.setText("Nothing to wire yet: feed a strip, or drive a lamp.")
            for words in (self._number, self._line, self._meter):
                words.setText("")
            self.picture.show_svg(NOTHING)
            return
        build, row, number = self._session.build, self.rows[self.at], self.at + 1
        state = ticks.get(row.key)
        self._number.setText(f"Step {number} of {len(self.rows)}" + (f" · {SIGNS[state]} {state}" if state else ""))
        self._title.setText(row.words)
        where = ""
        if row.passage:
            hole = next(hole for hole in build.passages if hole.name == row.passage)
            count = through_counts(build, self.rows)[row.passage]
            where = f" · through {row.passage} ({count} of {most_through(hole)} wires)"
        cut = f" · cut {metres(row.cut_m)}" if row.cut_m else ""
        self._line.setText(f"{row.wire_words}{cut} · labels {row.label}{where}")
        self.picture.show_svg(step_svg(build, row))
        self._meter.setText(meter_words(build, row))
        if row.slot is not None and self._session.slot != row.slot and self.isVisible():
            self._session.select_slot(row.slot)

    def tick(self, state: State, found: str = "") -> None:
        """Say what became of this step and go on to the next."""
        if not self.rows:
            return
        row = self.rows[self.at]
        then = self.rows[min(self.at + 1, len(self.rows) - 1)].key
        word = {"done": "done", "skipped": "skipped", "wrong": "not as drawn"}[state]
        edit = partial(tick_wire, key=row.key, state=state, found=found, then=then)
        self._session.apply(f"Step {self.at + 1} {word}", edit)

    def _ask_wrong(self) -> None:
        text, given = QInputDialog.getMultiLineText(self, "Not like this", "What is there instead?")
        if given:
            self.tick("wrong", text)

    def step(self, by: int) -> None:
        """Look at another step; nothing is ticked."""
        if self.rows:
            key = self.rows[min(max(self.at + by, 0), len(self.rows) - 1)].key
            self._look_at(key)

    def _to_group(self, entry: QListWidgetItem) -> None:
        self._look_at(str(entry.data(Qt.ItemDataRole.UserRole)))

    def _look_at(self, key: str) -> None:
        state = self._session.build.wiring.state_of(key)
        self._session.apply("Went to another step", partial(tick_wire, key=key, state=state, then=key))

    def _ask_colour(self, entry: QListWidgetItem) -> None:
        role = str(entry.data(Qt.ItemDataRole.UserRole))
        text, given = QInputDialog.getText(self, "Wire colour", f"Colour for {role}")
        if given and text.strip():
            self._session.apply(f"{role} wires are {text.strip()}", partial(colour_wires, role=role, colour=text))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        acts: dict[Qt.Key, Callable[[], object]] = {
            Qt.Key.Key_Return: partial(self.tick, "done"), Qt.Key.Key_Enter: partial(self.tick, "done"),
            Qt.Key.Key_S: partial(self.tick, "skipped"), Qt.Key.Key_W: self._ask_wrong,
            Qt.Key.Key_Left: partial(self.step, -1), Qt.Key.Key_Right: partial(self.step, 1),
        }  # fmt: skip
        act = acts.get(Qt.Key(event.key()))
        if act is not None:
            act()
        else:
            super().keyPressEvent(event)
