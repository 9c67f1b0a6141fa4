"""Bench: the order of the first power, the circuit with its readings, and why it reads otherwise."""

from __future__ import annotations

from functools import partial
from pathlib import Path as FilePath

from PySide6.QtCore import Qt
from PySide6.QtGui import QHideEvent, QShowEvent
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QScrollArea, QStackedWidget, QTabBar, QVBoxLayout, QWidget
from shiboken6 import isValid

from tiny_lantern.bench.journal import order_page
from tiny_lantern.bench.order import Asked, Step, asked_of, in_words
from tiny_lantern.bench.patterns import frame_of, pattern_of
from tiny_lantern.bench.sheet import BenchSheet, Place, places_at
from tiny_lantern.bench.strips.of_build import pattern_name, strips_frame
from tiny_lantern.circuit.paths import Path
from tiny_lantern.model.base import made
from tiny_lantern.model.bench import BenchReading
from tiny_lantern.model.build import Build
from tiny_lantern.model.disk import short_name, write_atomically
from tiny_lantern.model.edits_bench import take_reading, tick_step
from tiny_lantern.model.errors import LanternError
from tiny_lantern.sheets.schematic import of_subject, subjects
from tiny_lantern.ui import theme
from tiny_lantern.ui.analyses import BENCH
from tiny_lantern.ui.clock import now
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.stations.bench_card import BenchCard
from tiny_lantern.ui.stations.bench_log import LogPanel, SeenPanel
from tiny_lantern.ui.stations.fit_panel import FitPanel
from tiny_lantern.ui.stations.practice_panel import PracticePanel
from tiny_lantern.ui.stations.strip_seen import StripSeen
from tiny_lantern.ui.stations.why_panel import WhyPanel
from tiny_lantern.ui.widgets.bench_canvas import BenchCanvas, Pin
from tiny_lantern.ui.widgets.fields import button, combo, faint, heading, panel, quiet, set_choice, side_by_side
from tiny_lantern.ui.widgets.in_view import InView
from tiny_lantern.ui.widgets.step_list import StepList, StepRow

STEPS_WIDE, FOOT_HIGH, CARD_WIDE = 250, 268, 330
PAGES = ("Why?", "Seen", "Fit", "Log", "Practice")
FOLLOW = "what is read"
MOST_DRAWN = 12
WAITING = "Working out what the meter should say …"


@guarded
class BenchStation(QWidget):
    """Steps left, the drawing in the middle, below it the reading and what it means."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.sheet: BenchSheet | None = None
        self._sheet_of: object = None
        self._places: dict[Asked, Place | None] = {}
        self.steps = StepList()
        self.steps.currentRowChanged.connect(lambda _: self._choose_step())
        self.steps.ticked.connect(self._tick)
        self.progress = faint(WAITING)
        self.canvas = BenchCanvas()
        self.canvas.picked.connect(self._pick)
        self.subject = combo([(FOLLOW, "")], "What is drawn", lambda _: self._draw())
        self.card = BenchCard()
        self.card.asked_changed.connect(self._ask)
        self.card.entered.connect(self.enter)
        self.card.refused.connect(session.refused)
        self.card.shown.connect(lambda _: self._show_frame())
        self.why, self.seen, self.log = WhyPanel(session), SeenPanel(session), LogPanel(session)
        self.practice, self.strips_seen = PracticePanel(session), StripSeen(session)
        self.fit = FitPanel(session)
        self.looks = QStackedWidget()
        for each in (self.seen, self.strips_seen):
            self.looks.addWidget(each)
        self.why.read_there.connect(self._read_there)
        self.why.guessed.connect(self._guess)
        self.seen.look_simulated.connect(lambda: self.practice.look(self.seen.pattern))
        self.card.read_simulated.connect(self.practice.take)
        self.practice.read.connect(self.enter)
        self.practice.looked.connect(self.seen.keep)
        self.practice.changed.connect(self._practise)
        self._lay_out()
        self._in_view = InView(self, self.refresh)
        session.build_changed.connect(self._in_view.refresh)
        self._in_view.refresh()

    def _lay_out(self) -> None:
        frame, left = panel(STEPS_WIDE)
        left.addWidget(heading("First power"))
        left.addWidget(self.progress)
        self.save = button("Save the order …", self._ask_order, "small", "As Markdown, to print and tick by hand")
        left.addWidget(self.steps, 1)
        left.addWidget(self.save)
        area = QScrollArea()
        area.setWidget(self.canvas)
        area.setAlignment(Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop)
        area.viewport().setAutoFillBackground(False)
        self.canvas.setAutoFillBackground(False)
        self.area = area
        drawing, column = panel()
        column.addLayout(side_by_side(heading("Circuit"), self.subject))
        column.addWidget(area, 1)
        card, card_column = panel(CARD_WIDE)
        card_column.addWidget(self.card)
        told, told_column = panel()
        self.tabs = QTabBar()
        self.tabs.setAccessibleName("What is shown beside the reading")
        self.tabs.setDrawBase(False)
        self.pages = QStackedWidget()
        for title, page in zip(PAGES, (self.why, self.looks, self.fit, self.log, self.practice), strict=True):
            self.tabs.addTab(title)
            self.pages.addWidget(page)
        self.tabs.currentChanged.connect(self._show_tab)
        told_column.addWidget(self.tabs)
        told_column.addWidget(self.pages, 1)
        foot = QHBoxLayout()
        foot.setSpacing(theme.MARGIN)
        foot.addWidget(card)
        foot.addWidget(told, 1)
        right = QVBoxLayout()
        right.setSpacing(theme.MARGIN)
        right.addWidget(drawing, 1)
        below = QWidget()
        below.setFixedHeight(FOOT_HIGH)
        foot.setContentsMargins(0, 0, 0, 0)
        below.setLayout(foot)
        right.addWidget(below)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(theme.MARGIN)
        row.addWidget(frame)
        row.addLayout(right, 1)

    def dress(self, palette: theme.Palette) -> None:
        """Take the colours of a theme."""
        self.steps.palette_in_use = palette
        self.steps.viewport().update()
        self.canvas.dress(palette)
        self.why.dress(palette)

    def _show_tab(self, number: int) -> None:
        self.pages.setCurrentIndex(number)
        if PAGES[number] == "Fit":
            self.fit.refresh()
        if PAGES[number] == "Seen":
            self._show_pattern(self.card.asked.pattern)

    def _show_frame(self) -> None:
        """Show the pattern in place of the show while that is asked for and the bench is in view."""
        build, key = self._session.build, self.card.asked.pattern
        name, pattern = pattern_name(key), pattern_of(build, key)
        if not self.card.show_it.isChecked() or not self.isVisible():
            self._session.show_pattern(None)
        elif name is not None:
            self._session.show_pattern(strips_frame(build, name))
        elif pattern is not None:
            self._session.show_pattern(frame_of(build, pattern))

    def hideEvent(self, event: QHideEvent) -> None:
        """Elsewhere the show is what is shown."""
        self._session.show_pattern(None)

    def showEvent(self, event: QShowEvent) -> None:
        """Back here, the pattern is shown again where it was."""
        self._show_frame()

    def _show_pattern(self, key: str) -> None:
        """What is seen in a pattern: of strips, or of lamps."""
        self._show_frame()
        of_strips = pattern_name(key) is not None
        self.looks.setCurrentWidget(self.strips_seen if of_strips else self.seen)
        if of_strips:
            self.strips_seen.show_pattern(key)
        else:
            self.seen.show_pattern(key)

    def show_page(self, title: str) -> None:
        """Show one of the pages beside the reading."""
        self.tabs.setCurrentIndex(PAGES.index(title))

    def refresh(self) -> None:
        """Show what was read; what a meter should say is worked out anew where the circuit is another one."""
        build = self._session.build
        if self._session.dragging:
            return
        if self.sheet is None or not BENCH.same(build, self._sheet_of):  # type: ignore[arg-type]
            self.sheet, self._sheet_of, self._places = None, build, {}
            self.progress.setText(WAITING)
            self._session.work_out(BENCH, partial(self._take_sheet, build))
        self._show()

    def _take_sheet(self, build: Build, sheet: BenchSheet) -> None:
        if not isValid(self):
            return
        self.sheet, self._sheet_of = sheet, build
        self.card.show_sheet(sheet)
        with quiet(self.subject):
            chosen = self.subject.currentData()
            self.subject.clear()
            self.subject.addItem(FOLLOW, "")
            for each in subjects(build, sheet.paths):
                self.subject.addItem(each.name, each.key)
            set_choice(self.subject, chosen)
            if self.subject.currentIndex() < 0:
                self.subject.setCurrentIndex(0)
        self._show()
        if not self.steps.key:
            self._choose_first()
        self._ask(self.card.asked)
        self._find_places(*([self.card.asked] if self.card.asked.plus or self.card.asked.conductor else []))

    def _choose_first(self) -> None:
        """The first step that is not done."""
        done = set(self._session.build.bench.done)
        steps = self.sheet.steps if self.sheet is not None else ()
        first = next((step.key for step in steps if step.key not in done), "")
        if first:
            self.steps.choose(first)

    def _reading_at(self, asked: Asked) -> BenchReading | None:
        return next((each for each in self._session.build.bench.readings if asked_of(each) == asked), None)

    def _show(self) -> None:
        """Steps with their ticks, pins with their readings."""
        if self.sheet is None:
            return
        done, part = set(self._session.build.bench.done), ""
        rows = []
        for step in self.sheet.steps:
            rows.append(self._row(step, step.part if step.part != part else "", step.key in done))
            part = step.part
        self.steps.show_rows(rows)
        ticked = sum(row.done for row in rows)
        off = sum(row.out for row in rows)
        told = f"{ticked} of {len(rows)} steps done"
        self.progress.setText(f"{told}; {off} out of band: stop there." if off else f"{told}.")
        self._draw()

    def _row(self, step: Step, head: str, done: bool) -> StepRow:
        reading = self._reading_at(step.asked) if step.asked is not None else None
        if reading is None or step.expected is None:
            return StepRow(step.key, head, step.act, step.expect, "", False, done)
        read = in_words(reading.kind, reading.value)
        return StepRow(step.key, head, step.act, step.expect, read, not step.expected.holds(reading.value), done)

    def _choose_step(self) -> None:
        step = self.sheet.step(self.steps.key) if self.sheet is not None else None
        if step is not None and step.asked is not None:
            self.card.ask(step.asked)
            self._ask(step.asked)
        if step is not None:
            self._session.say(f"Stop if {step.stop_if}.")

    def _tick(self, key: str) -> None:
        step = self.sheet.step(key) if self.sheet is not None else None
        if step is None:
            return
        done = key not in self._session.build.bench.done
        label = "Ticked a step" if done else "Took a tick away"
        self._session.apply(label, partial(tick_step, key=key, done=done, words=step.act, at=now()))

    def tick_chosen(self) -> None:
        """Tick the step that is chosen."""
        if self.steps.key:
            self._tick(self.steps.key)

    def _ask_order(self) -> None:
        name = f"{short_name(self._session.build.name)} first power.md"
        chosen, _ = QFileDialog.getSaveFileName(self, "Save the order", name, "Markdown (*.md)")
        if chosen:
            self.save_order(FilePath(chosen))

    def save_order(self, path: FilePath) -> None:
        """Write the order of the first power; a refusal is told.

        Args:
            path: the file.
        """
        if self.sheet is None:
            return
        text = order_page(self._session.build, self.sheet.steps)
        try:
            write_atomically(path, text.encode("utf-8"))
        except LanternError as error:
            self._session.refused.emit(error)
            return
        self._session.say(f"Wrote {path.name}.")

    def _pick(self, terminal: str) -> None:
        """Put the red probe on a terminal of the drawing."""
        zero = self._zero()
        self.card.put_red(terminal, zero)

    def _zero(self) -> str:
        """The terminal that volts are read against: what any step reads against."""
        steps = self.sheet.steps if self.sheet is not None else ()
        return next((step.asked.minus for step in steps if step.asked is not None and step.asked.minus), "")

    def _read_there(self, asked: Asked | None) -> None:
        if asked is not None:
            self.card.ask(asked)
            self._ask(asked)
            self.card.value.setFocus()
        self._draw()

    def _ask(self, asked: Asked) -> None:
        """Work out what is to be said of a place."""
        self._show_pattern(asked.pattern)
        if asked in self._places:
            self.card.show_place(self._places[asked])
        else:
            self.card.show_place(None)
            if self.sheet is not None and (asked.plus or asked.conductor):
                self._find_places(asked)
        self._draw()

    def _find_places(self, *more: Asked) -> None:
        """Work out what is to be said of places, and of those where something was read."""
        build = self._session.build
        read = (asked_of(reading) for reading in build.bench.readings)
        missing = tuple(dict.fromkeys(each for each in (*more, *read) if each not in self._places))
        if missing:
            take = partial(self._take_places, self._sheet_of)
            self._session.background.start_task("place", places_at, (build, missing), False, take,
                                                self._session.refused.emit)  # fmt: skip

    def _take_places(self, of: object, places: dict[Asked, Place | None]) -> None:
        if not isValid(self) or of is not self._sheet_of:
            return
        self._places |= places
        if self.card.asked in places:
            self.card.show_place(places[self.card.asked])
        self._draw()

    def enter(self, asked: Asked, value: float | None) -> None:
        """Keep a reading; one in its band ticks its step, one out of it opens the question why.

        Args:
            asked: where it was read.
            value: the reading, None for ohms that are open. [V], [A] or [ohm]
        """
        step = next((step for step in self.sheet.steps if step.asked == asked), None) if self.sheet else None
        place = self._places.get(asked)
        words = place.words if place is not None else "a reading"
        expected = place.expected if place is not None else None
        well = expected is None or expected.holds(value)
        told = f"{in_words(asked.kind, value)}, {words}" + ("" if well else ": out of its band")
        at = now()

        def edit(build: Build) -> Build:
            reading = made(
                BenchReading, id="reading", kind=asked.kind, plus=asked.plus, minus=asked.minus,
                conductor=asked.conductor, pattern=asked.pattern, value=value, step=step.key if step else "", at=at,
            )  # fmt: skip
            build = take_reading(build, reading, told)
            fresh = step is not None and well and step.key not in build.bench.done
            return tick_step(build, step.key, True, step.act, at) if step is not None and fresh else build

        if self._session.apply(f"Read {in_words(asked.kind, value)}", edit) and not well:
            self.show_page("Why?")
            self._session.say("Out of its band: switch off, stop here, and ask Why?")
        elif well and step is not None:
            self._choose_first()

    def _practise(self) -> None:
        """The simulated meter and lamps stand in for one's own while a fault is hidden."""
        on = self.practice.on
        self.why.practising = on
        self.card.practise(on)
        self.seen.practise(on)
        self.why.refresh()

    def _guess(self, kind: str, place: str) -> None:
        self.show_page("Practice")
        self.practice.guess(kind, place)

    def _pins(self) -> list[Pin]:
        found = []
        for reading in self._session.build.bench.readings:
            place = self._places.get(asked_of(reading))
            step = next((s for s in self.sheet.steps if s.asked == asked_of(reading)), None) if self.sheet else None
            expected = place.expected if place is not None else step.expected if step is not None else None
            if reading.kind != "A" and expected is not None:
                value = in_words(reading.kind, expected.value)
                off = not expected.holds(reading.value)
                found.append(Pin(reading.plus, value, in_words(reading.kind, reading.value), off))
        return found

    def _drawn(self) -> list[Path]:
        """The ways that are drawn: those of the subject, or those that touch what is read."""
        paths = self.sheet.paths if self.sheet is not None else ()
        key = self.subject.currentData()
        if key:
            return of_subject(paths, key)
        asked = self.card.asked
        wanted = {asked.plus} - {"", self._zero()} or {asked.minus} - {""}
        touching = [path for path in paths if _nodes(path) & wanted]
        if not touching and asked.conductor:
            touching = [path for path in paths if asked.conductor in path.rows or asked.conductor in path.key]
        return touching[:MOST_DRAWN] or list(paths[:1])

    def _draw(self) -> None:
        if self.sheet is None:
            return
        self.canvas.show_paths(self._drawn(), self.sheet.terminals)
        following = self.why.found.next if self.why.found is not None else None
        self.canvas.show_pins(self._pins(), following.asked.plus if following is not None else "", self.card.asked.plus)


def _nodes(path: Path) -> set[str]:
    """The terminals that a way passes."""
    return {node for sign in path.signs for node in (sign.above, sign.below)}
