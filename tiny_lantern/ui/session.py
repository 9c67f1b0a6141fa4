"""The session: the build in hand, its history, what is selected, and the results worked out for it.

``apply`` is the one way to change the build; undo, autosave, analysis and redraw hang on its signal.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QObject, QTimer, Signal

from tiny_lantern.electrical.memo import Cache, remember_in
from tiny_lantern.model.base import with_known_members
from tiny_lantern.model.build import Build, FrameLoad, FullWhite, Load
from tiny_lantern.model.edits_bench import with_change
from tiny_lantern.model.errors import CancelledError, LanternError, told_plainly
from tiny_lantern.model.letters import keep_letters
from tiny_lantern.model.parts.part import Shelf
from tiny_lantern.model.place import Place
from tiny_lantern.model.strip import PixelRun
from tiny_lantern.ui.analyses import ANALYSES, DRAW, FINDINGS, FLASHES, MENDS, SOLVE, Analysis
from tiny_lantern.ui.answerer import Answerer
from tiny_lantern.ui.background import Background
from tiny_lantern.ui.clock import now
from tiny_lantern.ui.drawer import DrawerKeeper
from tiny_lantern.ui.history import History
from tiny_lantern.ui.song import Song
from tiny_lantern.ui.warm_up import warm_up

if TYPE_CHECKING:
    from tiny_lantern.electrical.driven.solution import DriveSolution
    from tiny_lantern.findings.evidence import Evidence
    from tiny_lantern.findings.finding import Finding, Fix
    from tiny_lantern.findings.judge import Judged
    from tiny_lantern.light.flash import FlashRun
    from tiny_lantern.show.draw import ShowDraw
    from tiny_lantern.show.solved import Solved

Bytes = NDArray[np.uint8]
Edit = Callable[[Build], Build]
SETTLE_MS = 150
SOLVE_HERE_SLOTS = 8000
FEW_EFFECTS = 300
FEW_CHANNELS = 250
FEW_LIGHT_TICKS = 5e6


@dataclass(frozen=True)
class ShortPlace:
    """Where a short is tried: a rail node of a strip, 0 start .. N + 1 end."""

    strip_id: str
    node: int


@dataclass(frozen=True)
class Held:
    """Lights from ``first`` to before ``stop`` that are held at a colour: linear red, green and blue, 0 to 255."""

    first: int
    stop: int
    rgb: tuple[int, int, int]


class Session(QObject):
    """One build being worked on."""

    build_changed = Signal()
    selection_changed = Signal()
    load_changed = Signal()
    time_changed = Signal()
    held_changed = Signal()
    loop_changed = Signal()
    solved_changed = Signal()
    warmed = Signal()
    findings_changed = Signal()
    draw_changed = Signal()
    short_changed = Signal()
    opened = Signal()
    said = Signal(str)
    refused = Signal(object)

    def __init__(
        self, build: Build | None = None, parent: QObject | None = None, drawer_path: Path | None = None
    ) -> None:
        super().__init__(parent)
        self.drawers = DrawerKeeper(self, drawer_path)
        self.drawers.refused.connect(self.refused)
        self.drawers.said.connect(self.said)
        self.history: History[Build] = History(build or Build())
        self.selection = Place()
        self.load: Load = FullWhite()
        self.short: ShortPlace | None = None
        self.time_s = 0.0
        self.held: Held | None = None
        self.pattern: Bytes | None = None
        self.loop_s: tuple[float, float] | None = None
        self.solved: Solved | None = None
        self.findings: list[Finding] = []
        self.evidence: Evidence | None = None
        self.judged: Build | None = None
        self.draw: ShowDraw | None = None
        self._drive: DriveSolution | None = None
        self.cache = Cache()
        remember_in(self.cache)
        self.background = Background(self, self.cache)
        self.song = Song(self, self)
        self._shown: Build | None = None
        self.warm, self._solvable = False, False
        self._flashes: tuple[Build, tuple[FlashRun, ...]] | None = None
        self.answerer = Answerer(self, self)
        self.answerer.changed.connect(self.held_changed)
        self._settle = QTimer(self)
        self._settle.setSingleShot(True)
        self._settle.setInterval(SETTLE_MS)
        self._settle.timeout.connect(self._judge)

    @property
    def build(self) -> Build:
        """The build as it stands, a drag under way included."""
        return self._shown or self.history.current

    @property
    def drive(self) -> DriveSolution:
        """Every driver with everything lit: with its wires once the build was judged, until then as with stiff rails,
        solved anew only where something changed."""
        from tiny_lantern.electrical.driven.solution import solve_drive  # loaded by the warm-up

        if self.evidence is not None and self.evidence.build is self.build:
            return self.evidence.drive
        if self._drive is None or self._drive.build is not self.build:
            self._drive = solve_drive(self.build, near=self._drive)
        return self._drive

    @property
    def parts(self) -> Shelf:
        """Every part that the build can be given."""
        return self.drawers.parts_for(self.build)

    @property
    def dragging(self) -> bool:
        """Whether a preview is shown that is not yet a step."""
        return self._shown is not None

    def open(self, build: Build) -> None:
        """Take up another build; its history begins anew."""
        self.background.cancel_all()
        self.cache.clear()
        self.history = History(build)
        self._shown = None
        self.selection = Place()
        self.short = None
        self.load = FullWhite()
        self.time_s = 0.0
        self.held = self.pattern = None
        self.loop_s = None
        self.draw = None
        self.solved = None
        self.evidence = None
        self.judged = None
        self.findings = []
        self.opened.emit()
        self.load_changed.emit()
        self.findings_changed.emit()
        self.time_changed.emit()
        self._changed()
        self.selection_changed.emit()

    def apply(self, label: str, edit: Edit) -> bool:
        """Make one undoable step; a refusal is told and changes nothing. Returns whether the build changed."""
        self._shown = None
        try:
            before = self.history.current
            build = with_change(before, keep_letters(before, edit(before)), label, now())
        except LanternError as error:
            self.refused.emit(error)
            self._changed()
            return False
        if build == self.history.current:
            self._changed()
            return False
        self.history.push(label, build)
        self._changed()
        self.said.emit(f"{label}. Ctrl+Z takes it back.")
        return True

    def apply_later(self, label: str, edit: Edit, done: Callable[[], None] = lambda: None) -> None:
        """Make one undoable step of an edit that may take long: it is worked out in the background, and made unless the
        build has changed meanwhile.

        Args:
            label: what the step is called.
            edit: can be sent to another process.
            done: called once the step is made.
        """
        before = self.history.current

        def take(after: Build) -> None:
            if self.history.current is not before or self.dragging:
                self.say("The build changed meanwhile; do it once more.")
            elif self.apply(label, lambda _: with_known_members(after, before)):
                done()

        self.background.start_task("edit", edited, (before, edit), is_big(before), take, self._defect)

    def preview(self, edit: Edit) -> None:
        """Show an edit without making it a step yet, as a drag does; what is judged meanwhile would be of no use."""
        for analysis in ANALYSES:
            if analysis is not SOLVE:
                self.background.cancel(analysis.name)
        try:
            self._shown = edit(self.history.current)
        except LanternError:
            return
        self._changed()

    def commit(self, label: str) -> None:
        """Make the preview one step."""
        shown = self._shown
        if shown is not None:
            self.apply(label, lambda _: shown)

    def drop_preview(self) -> None:
        """Go back to the build before the drag."""
        if self._shown is not None:
            self._shown = None
            self._changed()

    def undo(self) -> None:
        """Take the last step back."""
        self.drop_preview()
        label = self.history.undo()
        if label:
            self._changed()
            self.said.emit(f"Took back: {label}.")

    def redo(self) -> None:
        """Do the step again that was taken back."""
        self.drop_preview()
        label = self.history.redo()
        if label:
            self._changed()
            self.said.emit(f"Did again: {label}.")

    @property
    def slot(self) -> int | None:
        """The selected light's place among all, counted from 0."""
        first = self.selection.first
        return None if first is None else self.build.line.slot_of(first)

    def select_slot(self, slot: int | None) -> None:
        """Select a light and the piece that it is on; with None, no light and the piece all the same."""
        if slot is None:
            self.select_place(replace(self.selection, first=None, last=None))
        elif self.build.pieces and 0 <= slot < self.build.line.slot_count:
            ref = self.build.line.ref_at(slot)
            self.select_place(replace(self.selection, first=ref, last=None).about("pieces", ref.piece_id))

    def select(self, kind: str, *ids: str) -> None:
        """Select things of one kind, or none of it; what is selected of other kinds stays."""
        self.select_place(self.selection.about(kind, *ids))

    def select_place(self, selection: Place) -> None:
        """Select all that a place names, and nothing else."""
        selection = selection.within(self.build)
        if selection != self.selection:
            self.selection = selection
            self.selection_changed.emit()

    def pixel_in_hand(self) -> tuple[PixelRun | None, int]:
        """The strip or panel that holds the selected light, and the light's number on it; the start of the first one
        when what is selected has no rails, None when there is none at all."""
        build = self.build
        if self.slot is not None:
            span = build.line.span_at(self.slot)
            if isinstance(span.piece, PixelRun):
                return span.piece, self.slot - span.first
        chosen = next((run for run in build.strips if run.id == self.selection.one("pieces")), None)
        return chosen or next(iter(build.strips), None), 0

    def set_load(self, load: Load) -> None:
        """Solve for another load."""
        if load != self.load:
            self.load = load
            self.load_changed.emit()
            self._solve()
            self._settle.start()

    def set_time(self, time_s: float) -> None:
        """Move the caret in the show; the load follows when it is the frame under the caret."""
        time_s = max(0.0, min(time_s, self.build.show_s))
        if time_s == self.time_s:
            return
        self.time_s = time_s
        self.time_changed.emit()
        if isinstance(self.load, FrameLoad):
            self.load = FrameLoad(time_s=time_s)
            self._solve()
            self._settle.start()

    def set_loop(self, loop_s: tuple[float, float] | None) -> None:
        """Play a stretch of the show over and over, from one moment to another, or all of it; the build stays as it
        is."""
        if loop_s != self.loop_s:
            self.loop_s = loop_s
            self.loop_changed.emit()

    def hold(self, held: Held | None) -> None:
        """Show some lights in a colour, whatever the show says, or let go of them; the build stays as it is."""
        if held != self.held:
            self.held = held
            self.held_changed.emit()

    def show_pattern(self, pattern: Bytes | None) -> None:
        """Show a pattern in place of the show, linear bytes of every light, (n_slots, 3), or the show again; the build
        stays as it is."""
        if pattern is not self.pattern:
            self.pattern = pattern
            self.held_changed.emit()

    def try_short(self, place: ShortPlace | None) -> None:
        """Put a short on the Line to see what it does, move it, or take it off; the build stays as it is."""
        if place != self.short:
            self.short = place
            self.short_changed.emit()

    def warm_up(self) -> None:
        """Load what solving and its curves need, then solve: the first paint need not wait for it."""
        warm_up(self.background, self._can_solve, self._warmed, self._defect)

    def say(self, text: str) -> None:
        """Put a sentence into the status line."""
        self.said.emit(text)

    def close(self) -> None:
        """Stop all work."""
        self._settle.stop()
        self.background.close()

    def _can_solve(self) -> None:
        self._solvable = True
        self._solve()

    def _warmed(self) -> None:
        self.warm = True
        self._settle.start()
        self.warmed.emit()

    def _changed(self) -> None:
        self._keep_selection()
        self.build_changed.emit()
        self._solve()
        self._settle.start()

    def _keep_selection(self) -> None:
        """Let go of what is not in the build any more, all of it before anybody is told."""
        kept = self.selection.within(self.build)
        changed, self.selection = kept != self.selection, kept
        short = self.short
        if short is not None and not any(
            strip.id == short.strip_id and short.node <= strip.pixel_count + 1 for strip in self.build.strips
        ):
            self.try_short(None)
        if changed:
            self.selection_changed.emit()

    def _solve(self) -> None:
        if not self._solvable:
            return
        from tiny_lantern.show.solved import solve_for  # loaded by the warm-up

        build, load = self.build, self.load
        if build.line.slot_count <= SOLVE_HERE_SLOTS:
            near = self.solved.solution if self.solved else None
            self._take_solved(build, solve_for(build, load, near, self.drive))
        else:
            self._start(SOLVE, (build, load), partial(self._take_solved, build))

    def work_out(self, analysis: Analysis, done: Callable[[Any], None]) -> None:
        """Work something out about the build in hand, in the background; what is older is not told.

        Args:
            analysis: what; it asks for the build alone.
            done: called with the result.
        """
        build = self.build
        self._start(analysis, (build,), lambda found: done(found) if build is self.build else None)

    def _start(
        self, analysis: Analysis, args: tuple[Any, ...], done: Callable[[Any], None],
        failed: Callable[[Exception], None] | None = None, long: bool = False,
    ) -> None:  # fmt: skip
        """Run an analysis in the background, where the table says; ``long`` work always goes to the helper."""
        heavy = long or analysis.where == "helper" or is_big(self.build)
        self.background.start_task(analysis.name, analysis.run(), args, heavy, done, failed or self._defect)

    def _take_solved(self, build: Build, solved: Solved) -> None:
        if build is self.build:
            self.solved = replace(solved, build=build)
            self.solved_changed.emit()

    def _judge(self) -> None:
        if not self.warm or self.dragging:
            return
        build, load, flashes = self.build, self.load, self._flashes
        known = flashes[1] if flashes and FLASHES.same(flashes[0], build) else None
        self.background.cancel(MENDS.name)
        self._start(FINDINGS, (build, load, known), lambda judged: self._take_findings(build, judged.of(build)))
        self._measure_show(build)

    def _take_findings(self, build: Build, judged: Judged) -> None:
        evidence = judged.evidence
        if build is not self.build or evidence.load != self.load:
            return
        self.evidence, self.findings, self.judged = evidence, judged.findings, build
        self._flashes = (build, evidence.flashes)
        self.findings_changed.emit()
        self._try_mends(evidence)

    def _try_mends(self, evidence: Evidence) -> None:
        """Find out in the background which mends hold; cards get their buttons then."""
        build = evidence.build
        searched = any(mend.find_feeds_on for finding in self.findings for each in finding.each for mend in each.tries)
        args = (build, evidence.load, evidence.flashes)
        self._start(MENDS, args, partial(self._take_mends, evidence), long=searched)

    def _take_mends(self, evidence: Evidence, fixes: list[tuple[Fix | None, Fix | None]]) -> None:
        from tiny_lantern.findings.judge import with_fixes  # loaded by the warm-up

        if evidence is self.evidence and evidence.build is self.build:
            self.findings = with_fixes(self.findings, fixes, evidence.build)
            self.findings_changed.emit()

    def _measure_show(self, build: Build) -> None:
        if not build.effects:
            self._take_draw(build, None)
            return
        self._start(DRAW, (build,), partial(self._take_draw, build), partial(self._no_draw, build))

    def _no_draw(self, build: Build, error: Exception) -> None:
        """What cannot be solved draws nothing, and its finding says why; anything else is a defect."""
        self._take_draw(build, None)
        if not isinstance(error, LanternError):
            self._defect(error)

    def _take_draw(self, build: Build, draw: ShowDraw | None) -> None:
        if build is not self.build and not DRAW.same(build, self.build):
            return
        self.draw = draw
        self.draw_changed.emit()

    def _defect(self, error: Exception) -> None:
        self.refused.emit(told_plainly(error))


def edited(build: Build, edit: Edit, progress: Callable[[float], None], cancelled: Callable[[], bool]) -> Build:
    """A build after an edit; the task of ``Session.apply_later``.

    Raises:
        LanternError: the edit is refused.
        CancelledError: it was stopped.
    """
    after = edit(build)
    if cancelled():
        raise CancelledError
    return after


def is_big(build: Build) -> bool:
    """Whether judging a build takes so long that it would slow the window down if it ran beside it."""
    ticks = build.show_s * build.tick_hz if build.effects else 0.0
    return (
        build.line.slot_count > SOLVE_HERE_SLOTS
        or len(build.effects) > FEW_EFFECTS
        or len(build.channels) > FEW_CHANNELS
        or ticks * build.line.slot_count > FEW_LIGHT_TICKS
    )
