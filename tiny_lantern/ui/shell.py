"""What the window shows: title row, the Line, a station, Snags, the transport."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QSettings, Qt
from PySide6.QtGui import QAction, QCloseEvent, QDragEnterEvent, QDropEvent, QKeyEvent, QKeySequence
from PySide6.QtWidgets import (
    QApplication,
    QDialog,
    QHBoxLayout,
    QPushButton,
    QVBoxLayout,
    QWidget,
)  # fmt: skip
from shiboken6 import isValid

from tiny_lantern.electrical.first_feeds import feed_everything
from tiny_lantern.findings.registry import subject_of
from tiny_lantern.model.edits import item
from tiny_lantern.model.edits_pieces import duplicate_piece
from tiny_lantern.model.edits_show import duplicate_effect, lay_new
from tiny_lantern.model.errors import told_plainly
from tiny_lantern.model.place import Place
from tiny_lantern.model.store import SUFFIX
from tiny_lantern.ui import theme
from tiny_lantern.ui.axis import LineAxis
from tiny_lantern.ui.covered import Covered
from tiny_lantern.ui.declared.registry import commands, station_for, station_of
from tiny_lantern.ui.declared.station import ADD_LAMP, ADD_STRIP, DRIVE_ALL, FEED_ALL, LAY_EFFECT
from tiny_lantern.ui.files import Files
from tiny_lantern.ui.frames import FrameSource
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.long_work import LongWork
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.stations.stack import StationStack
from tiny_lantern.ui.widgets.first_step import FirstStepBar
from tiny_lantern.ui.widgets.input_panel import InputPanel
from tiny_lantern.ui.widgets.ruler import LineRuler
from tiny_lantern.ui.widgets.snags import Snags
from tiny_lantern.ui.widgets.title import TitleRow
from tiny_lantern.ui.widgets.transport import Transport
from tiny_lantern.ui.widgets.working_card import WorkingCard

if TYPE_CHECKING:
    from tiny_lantern.findings.finding import Finding, Fix
    from tiny_lantern.model.build import Build
    from tiny_lantern.model.working import Working
    from tiny_lantern.ui.stations.pieces import PiecesStation


@guarded
class Shell(QWidget):
    """Everything in the one window of the program.

    Args:
        session: the build in hand.
        drafts: folder of the drafts; the person's own when not given.
    """

    def __init__(self, session: Session, drafts: Path | None = None) -> None:
        super().__init__()
        self.setObjectName("shell")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.session: Session = session
        session.setParent(self)
        self.setAcceptDrops(True)
        self.setMinimumSize(*theme.SMALLEST)
        self.resize(*theme.USUAL)
        self.axis: LineAxis = LineAxis(self)
        self.frames = FrameSource(session)
        self.files: Files = Files(session, self, drafts)
        session.song.beside = lambda: self.files.path
        self.theme_in_use = theme.PAPER
        self.actions_by_id = self._actions()
        self._snag = -1
        self._closing = False
        self._alone: QWidget | None = None
        self._assemble()
        session.refused.connect(self.tell)
        session.build_changed.connect(self._on_build)
        session.opened.connect(self._on_opened)
        self.files.changed.connect(self.title.follow)
        self.files.changed.connect(self._name_window)
        self._station = "Power" if len(session.build.strips) == len(session.build.pieces) else "Pieces"

    def steps(self) -> Iterator[None]:
        """Make it whole, a short step at a time: between two of them the window may answer."""
        self._on_build()
        self._name_window()
        yield
        theme.dress(self.window(), self.theme_in_use)

    def _assemble(self) -> None:
        self.title = TitleRow(self.session, self.files, self.actions_by_id)
        self.title.station_chosen.connect(self.show_station)
        self.title.name_pressed.connect(self.show_build_fields)
        self.title.menu_opening.connect(self.refresh_actions)
        self.title.gauge.clicked.connect(lambda: self.actions_by_id["supply-working"].trigger())
        self.ruler = LineRuler(self.session, self.axis, self.frames)
        self.stack = StationStack(self.session, self.axis, self.frames, self.files)
        self.snags = Snags(self.session)
        self.transport: Transport = Transport(self.session)
        self.inputs = InputPanel(self.session)
        self.long_work: LongWork = LongWork(self.session, self.transport.work, self.tell, lambda: self.theme_in_use)
        self.stack.find_feeds.connect(lambda strip_id, guard: self.long_work.find_feeds((strip_id,), guard))
        self.stack.render_show.connect(self.long_work.render_show)
        self.stack.show_working.connect(lambda: self.actions_by_id["working"].trigger())
        self.stack.working.connect(self.show_working)
        self.stack.compare.connect(lambda: self.actions_by_id["compare-ways"].trigger())
        self.stack.board.connect(lambda: self.actions_by_id["board"].trigger())
        self.stack.what_if.connect(lambda: self.actions_by_id["what-if"].trigger())
        self.stack.boards.connect(lambda: self.actions_by_id["boards"].trigger())
        self.stack.started.connect(self._start_from)
        self.stack.first_piece.connect(self.add_strip)
        self.stack.other_piece.connect(self.pieces_hand)
        self.snags.jump.connect(self.jump_to)
        self.snags.mend.connect(self.mend)
        self.snags.show_working.connect(self.show_working)
        self.snags.about.connect(lambda finding: self.show_guide(line=finding.code))
        middle = QHBoxLayout()
        middle.setContentsMargins(theme.MARGIN, 12, theme.MARGIN, 12)
        middle.setSpacing(theme.MARGIN)
        surface = QVBoxLayout()
        surface.setSpacing(8)
        self.first_step = FirstStepBar(
            {
                ADD_STRIP: self.add_strip,
                ADD_LAMP: self.add_lamps,
                FEED_ALL: self.feed_all,
                LAY_EFFECT: self.lay_first_effect,
                DRIVE_ALL: self.drive_all,
            }
        )
        surface.addWidget(self.first_step)
        surface.addWidget(self.stack, 1)
        middle.addLayout(surface, 1)
        middle.addWidget(self.snags)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.title)
        column.addWidget(self.ruler)
        column.addLayout(middle, 1)
        column.addWidget(self.transport)
        column.addWidget(self.inputs)

    def _actions(self) -> dict[str, QAction]:
        made = {}
        for command in commands():
            action = QAction(command.title, self)
            action.setShortcut(QKeySequence(command.keys))
            action.setToolTip(command.help)
            action.triggered.connect(lambda _=False, command=command: command.when(self) and command.run(self))
            self.addAction(action)
            made[command.id] = action
        return made

    def refresh_actions(self) -> None:
        """Show which commands can be done, and what undo and redo would do."""
        for command in commands():
            self.actions_by_id[command.id].setEnabled(command.when(self))
        for name, label in (("undo", self.session.history.undo_label), ("redo", self.session.history.redo_label)):
            title = name.capitalize()
            self.actions_by_id[name].setText(f"{title}: {label}" if label else title)
        self._enable_shortcuts()

    def _enable_shortcuts(self) -> None:
        """A shortcut must work although its menu entry was grey when the menu was last open."""
        self.title.menu.aboutToHide.connect(self._enable_all, Qt.ConnectionType.SingleShotConnection)

    def _enable_all(self) -> None:
        for action in self.actions_by_id.values():
            action.setEnabled(True)

    @property
    def station(self) -> str:
        """The station shown."""
        return self._station

    def show_station(self, name: str) -> None:
        """Show a station; an empty build shows it too, so that the first piece can be added."""
        self._station = name
        self.stack.show_station(name)
        self.title.stations[name].setChecked(True)
        self._show_what_there_is()

    def _start_from(self, build: Build, kind: str) -> None:
        self.session.apply(f"Started from {kind}", lambda _: build)
        self.show_station("Power")

    def _on_build(self) -> None:
        empty = not self.session.build.pieces and self.session.history.undo_label is None
        if empty and not self.stack.greeting and not self.session.dragging:
            self.stack.greet()
        elif not empty and (self.stack.greeting or self.stack.count() == 0):
            self.show_station(self._station)
        if not self.session.dragging:
            self.title.follow()
            self._show_what_there_is()

    def _name_window(self) -> None:
        """The window is called after its build, with the desktop's mark while that is not saved."""
        window = self.window()
        window.setWindowTitle(f"{self.session.build.name}[*] — Tiny Lantern")
        window.setWindowModified(self.files.unsaved)

    def _show_what_there_is(self) -> None:
        """Snags and the transport appear when there is something to say or play; an unready station says what first."""
        build = self.session.build
        self.snags.setVisible(bool(build.pieces))
        self.transport.show_play(bool(build.pieces and build.effects))
        self.inputs.show_in("" if self.stack.greeting else self._station)
        self.first_step.show_step(None if self.stack.greeting else station_of(self._station).first_step(build))

    def _on_opened(self) -> None:
        """Another build: nothing of the last one goes on."""
        self.transport.stop()
        self.transport.say("")

    def feed_all(self) -> None:
        """Feed every strip that nothing feeds, with a supply of its voltage where none is there."""
        self.session.apply("Fed every strip", feed_everything)

    def drive_all(self) -> None:
        """Drive every piece in its usual way."""
        from tiny_lantern.plans.ways import drive_everything  # loaded by the warm-up

        self.session.apply("Drove every piece", drive_everything)

    def lay_first_effect(self) -> None:
        """Lay a breathing light over the whole Line and the whole show."""
        build = self.session.build
        edit = partial(
            lay_new, kind="breathe", first_slot=0, last_slot=build.line.slot_count - 1,
            start_s=0.0, length_s=build.show_s,
        )  # fmt: skip
        self.session.apply("Laid a breathing light", edit)

    def add_strip(self) -> None:
        """Show Pieces and add a strip there."""
        self.show_station("Pieces")
        self.stack.pieces().add_strip()

    def add_lamps(self) -> None:
        """Show Pieces and add single lamps there."""
        from tiny_lantern.catalogue.kinds import kind_of  # loaded by the warm-up

        self.pieces_hand().add(kind_of("single"))

    def pieces_hand(self) -> PiecesStation:
        """The Pieces station, shown."""
        self.show_station("Pieces")
        return self.stack.pieces()

    def tell(self, error: Exception) -> None:
        """The one place where a refusal is told, and a defect that work in the background ended with."""
        self.transport.say(told_plainly(error).sentence())
        self.transport.status.setStyleSheet("color: #ffb3a8;")
        QApplication.beep()
        self.session.said.connect(
            lambda _: self.transport.status.setStyleSheet(""), Qt.ConnectionType.SingleShotConnection
        )

    def jump_to(self, finding: Finding) -> None:
        """Select a finding's place in every station and show the station it belongs to."""
        build = self.session.build
        place = finding.place.within(build)
        on = _piece_of(build, place)
        self.session.select_place(replace(place.about("pieces", *on), time_s=None))
        if place.time_s is not None:
            self.session.set_time(place.time_s)
        if self.session.slot is not None:
            self.axis.reveal(self.axis.slot_place(self.session.slot))
        station = station_for(subject_of(finding.code))
        self.show_station(station.title)
        if station.show_snag is not None:
            station.show_snag(self, finding)

    def next_snag(self) -> None:
        """Jump to the next finding, round and round."""
        cards = self.snags.cards
        if cards:
            self._snag = (self._snag + 1) % len(cards)
            cards[self._snag].setFocus()
            self.jump_to(cards[self._snag].finding)

    def mend(self, finding: Finding, fix: Fix | None = None) -> None:
        """Do what a finding's button says.

        Args:
            finding: the finding.
            fix: the mend that was chosen; its first when None.
        """
        fix = fix or finding.fix
        if fix is None:
            return
        if fix.find_feeds_on:
            self.long_work.find_feeds(fix.find_feeds_on, fix.guard_shorts)
        elif fix.edit:
            self.session.apply(f"{fix.label} ({finding.title.split(':')[0]})", fix.edit)

    def open_finder(self) -> None:
        """Open the line to find things by a word."""
        from tiny_lantern.ui.find import choices_for  # loaded when first asked for
        from tiny_lantern.ui.widgets.finder import Finder

        Finder(choices_for(self), self).show()

    def show_working(self, working: Working) -> None:
        """Open a small window with a working."""
        WorkingCard(working, self).show()

    def show_build_fields(self) -> None:
        """Open the build's own fields: its name, where it stands, the show, the data line, notes."""
        from tiny_lantern.ui.stations.build_form import BuildForm  # loaded when first asked for

        self.show_beside("This build", BuildForm(self.session), 420, 340)

    def show_parts(self) -> None:
        """Open the parts that can be had and the drawer of one's own."""
        from tiny_lantern.ui.stations.parts_window import PartsWindow  # loaded when first asked for

        self.show_beside("Parts and stock", PartsWindow(self.session), 1040, 680)

    def show_guide(self, chapter: str = "", line: str = "") -> None:
        """Open the guide at a chapter, or at the line on a rule."""
        from tiny_lantern.ui.help_window import HelpWindow  # loaded when first asked for

        open_one = next(iter(self.window().findChildren(HelpWindow)), None)
        if open_one is None:
            open_one = HelpWindow()
            self.show_beside("Guide", open_one, 980, 680)
        else:
            open_one.window().raise_()
        if line:
            open_one.show_line(line)
        else:
            open_one.show_chapter(chapter)

    def show_beside(self, title: str, content: QWidget, width: int, height: int) -> None:
        """Open a small window of its own that goes when it is closed."""
        dialog = QDialog(self)
        dialog.setObjectName("surface")
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.setWindowTitle(title)
        dialog.resize(width, height)
        QVBoxLayout(dialog).addWidget(content)
        for each in content.findChildren(QPushButton):
            each.setAutoDefault(False)  # Return ends a field, and presses nothing
        dialog.show()

    def show_alone(self, window: QWidget) -> None:
        """Open a window on the whole screen; it goes with this one."""
        self._alone = window
        Covered(self, window)
        window.showFullScreen()

    @property
    def alone(self) -> QWidget | None:
        """The window that fills the screen, while there is one."""
        return self._alone if self._alone is not None and isValid(self._alone) else None

    def toggle_theme(self) -> None:
        """Change between paper and night."""
        self.set_theme(theme.NIGHT if self.theme_in_use is theme.PAPER else theme.PAPER)
        QSettings().setValue("night", self.theme_in_use is theme.NIGHT)

    def set_theme(self, palette: theme.Palette) -> None:
        """Dress the window in a palette."""
        self.theme_in_use = palette
        theme.dress(self.window(), palette)
        self.title.gauge.palette_in_use = palette
        self.title.gauge.update()
        self.stack.dress(palette)

    def zoom_place(self) -> float:
        """Where the keyboard zooms: the selected light, or the middle of the view."""
        slot = self.session.slot
        return self.axis.slot_place(slot) if slot is not None else (self.axis.left_m + self.axis.right_m) / 2

    def duplicate(self) -> None:
        """Copy the selected effect in Weave, elsewhere the selected strip."""
        chosen, build = self.session.selection, self.session.build
        effect_id, piece_id = chosen.one("effects"), chosen.one("pieces")
        if self.station == "Weave" and effect_id is not None:
            if self.session.apply("Duplicated an effect", partial(duplicate_effect, effect_id=effect_id)):
                self.session.select("effects", self.session.build.effects[-1].id)
        elif piece_id is not None:
            name = build.line.piece(piece_id).name
            self.session.apply(f"Duplicated {name}", partial(duplicate_piece, piece_id=piece_id))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Space plays and pauses wherever the focus has no use for it."""
        if event.key() == Qt.Key.Key_Space and not event.modifiers():
            self.transport.toggle()
        else:
            super().keyPressEvent(event)

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if any(url.toLocalFile().endswith(SUFFIX) for url in event.mimeData().urls()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        for url in event.mimeData().urls():
            if url.toLocalFile().endswith(SUFFIX):
                self.files.open(Path(url.toLocalFile()))
                return

    def closeEvent(self, event: QCloseEvent) -> None:
        self.transport.stop()
        if not self._closing and not self.files.close():
            event.ignore()
            return
        self._closing = True
        for window in filter(None, (self.alone, *self.window().findChildren(QDialog))):
            window.close()
        self.session.close()
        super().closeEvent(event)

    def close_at_once(self) -> None:
        """Close without asking, as when the session ends; what is not saved stays as a draft."""
        if not self._closing:
            self.files.close_at_once()
            self._closing = True
        self.window().close()


def _piece_of(build: Build, place: Place) -> tuple[str, ...]:
    """The piece that a place is on, that of its feed when it names no light."""
    feed_id = place.one("feeds")
    if place.piece_id is None and feed_id is not None:
        attach = item(build.feeds, feed_id, "feed").attach
        return (attach.strip_id,) if attach.to == "strip" else ()
    return (place.piece_id,) if place.piece_id is not None else ()
