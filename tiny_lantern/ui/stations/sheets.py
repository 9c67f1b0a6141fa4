"""Sheets: what is bought, cut, soldered and taken along, as it will print."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, Signal
from PySide6.QtGui import QResizeEvent, QTextDocument
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QStackedWidget, QTextBrowser, QVBoxLayout, QWidget

from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.disk import short_name, write_atomically
from tiny_lantern.model.errors import told_plainly
from tiny_lantern.ui import theme
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session, is_big
from tiny_lantern.ui.widgets.fields import (
    button,
    combo,
    faint,
    heading,
    panel,
    quiet,
    scrolled,
    set_choice,
    side_by_side,
)
from tiny_lantern.ui.widgets.in_view import InView

if TYPE_CHECKING:
    from tiny_lantern.catalogue.drawer import Drawer
    from tiny_lantern.code.files import Language, Size
    from tiny_lantern.findings.evidence import Evidence
    from tiny_lantern.ui.printing import Page, SheetSource
    from tiny_lantern.ui.stations.wiring_view import WiringView


NARROWEST = 690
SHEET, STEPS = "sheet", "steps"
PREVIEW_ROWS = 60
SHOW_FILES = (
    (("GIF", "gif", "The picture, animated, in few colours"), ("APNG", "apng", "The same with all its colours"),
     ("Weave", "weave.png", "A column a light, a row a frame")),
    (("Table", "frames.csv", "Every frame as a row (CSV)"), ("Arrays", "npz", "Every frame as arrays (NPZ)"),
     ("Steps", "steps.svg", "When the light changes, as a drawing (SVG)")),
)  # fmt: skip
SHOWN = tuple(suffix for row in SHOW_FILES for _, suffix, _ in row)


@guarded
class SheetPreview(QTextBrowser):
    """The sheet laid out as wide as there is room, but never so narrow that words break; then it scrolls."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("The sheet as it will print")
        self.setPlaceholderText("The sheet is being laid out …")
        self.setStyleSheet("QTextBrowser { background: #ffffff; color: #1f2a33; padding: 12px; }")
        self.setLineWrapMode(QTextBrowser.LineWrapMode.FixedPixelWidth)

    def changeEvent(self, event: QEvent) -> None:
        """Paper stays paper: another theme lays nothing out anew."""
        if event.type() not in (QEvent.Type.FontChange, QEvent.Type.StyleChange, QEvent.Type.PaletteChange):
            super().changeEvent(event)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.setLineWrapColumnOrWidth(max(NARROWEST, self.viewport().width() - 2))


class SheetsStation(QWidget):
    """The sheet as it will print, and the files it can be written to."""

    render_show = Signal(object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.preview = SheetPreview()
        frame, column = panel(theme.LEFT_PANEL)
        self.pages = combo([("the sheet", SHEET), ("wiring steps", STEPS)], "What is shown", self._show_page)
        column.addWidget(self.pages)
        files = QWidget()
        column.addWidget(scrolled(files))
        column = QVBoxLayout(files)
        column.setContentsMargins(0, 0, 10, 0)
        column.setSpacing(6)
        column.addWidget(heading("Sheet"))
        column.addWidget(faint("Figures are for full white; the picture shows what white looks like."))
        for text, suffix in (("Save PDF …", "pdf"), ("Save HTML …", "html"), ("Save feed list CSV …", "csv")):
            column.addWidget(button(text, partial(self._ask, suffix)))
        column.addSpacing(8)
        column.addWidget(heading("Wiring"))
        column.addWidget(faint("Every conductor in the order of the hands, and the way back by terminal."))
        for text, suffix in (("Save wiring PDF …", "wiring.pdf"), ("Save wiring HTML …", "wiring.html"),
                             ("Save wiring CSV …", "wiring.csv")):  # fmt: skip
            column.addWidget(button(text, partial(self._ask, suffix)))
        column.addSpacing(8)
        column.addWidget(heading("Show"))
        column.addWidget(faint("Saved to show around, or for other programs:"))
        for row_of in SHOW_FILES:
            column.addLayout(side_by_side(*(
                button(text, partial(self._ask, suffix), "small", tip) for text, suffix, tip in row_of)))  # fmt: skip
        self._cost = faint()
        column.addWidget(self._cost)
        column.addSpacing(8)
        column.addWidget(heading("Code"))
        self._code = faint("The very same frames on a board, with this stamp.")
        column.addWidget(self._code)
        column.addLayout(
            side_by_side(button("Save C …", partial(self.ask_code, "c"), tip="C99: a source for each board"),
                         button("Python …", partial(self.ask_code, "python"), tip="A module for small boards"))
        )  # fmt: skip
        column.addStretch(1)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(theme.MARGIN)
        row.addWidget(frame)
        self._shelf = QStackedWidget()
        self._shelf.addWidget(self.preview)
        self.wiring: WiringView | None = None
        row.addWidget(self._shelf, 1)
        self._shown: Evidence | None = None
        self._document: QTextDocument | None = None
        self._estimated: object = None
        self._in_view = InView(self, self.refresh)
        session.findings_changed.connect(self._in_view.refresh)
        session.drawers.changed.connect(self._forget_page)
        self._in_view.refresh()

    def refresh(self) -> None:
        """Lay the sheet out anew when there is news."""
        evidence = self._session.evidence
        if evidence is None or evidence is self._shown or evidence.build is not self._session.build:
            return
        self._estimate()
        self._shown = evidence
        drawer = self._session.drawers.drawer

        def work(progress: Callable[[float], None], cancelled: Callable[[], bool]) -> SheetSource:
            from tiny_lantern.ui.printing import sheet_source  # only this station needs it

            return sheet_source(evidence, most_rows=PREVIEW_ROWS, drawer=drawer)

        self._session.background.start("sheet", work, lambda source: self._lay_out(evidence, source), self._failed)

    def _lay_out(self, evidence: Evidence, source: SheetSource) -> None:
        """Show the page, when it is still that of the build in hand; a hidden one waits until it is seen."""
        if evidence is not self._session.evidence:
            return
        if not self.isVisible():
            self._shown = None
            self._in_view.refresh()
            return
        from tiny_lantern.ui.printing import sheet_document  # only this station needs it

        before, self._document = self._document, sheet_document(source, self)
        self.preview.setDocument(self._document)
        if before is not None:
            before.deleteLater()

    def _show_page(self, page: object) -> None:
        """Show the sheet, or one wiring step at a time."""
        if page == STEPS:
            self.steps()
        else:
            self._shelf.setCurrentWidget(self.preview)

    def steps(self) -> WiringView:
        """The wiring steps, shown."""
        if self.wiring is None:
            from tiny_lantern.ui.stations.wiring_view import WiringView  # loaded when first shown

            self.wiring = WiringView(self._session)
            self._shelf.addWidget(self.wiring)
        self._shelf.setCurrentWidget(self.wiring)
        with quiet(self.pages):
            set_choice(self.pages, STEPS)
        self.wiring.setFocus()
        return self.wiring

    def _forget_page(self) -> None:
        """What is owned has changed: lay the page out anew."""
        self._shown = None
        self._in_view.refresh()

    def _ask(self, suffix: str) -> None:
        name = f"{short_name(self._session.build.name)}.{suffix}"
        chosen, _ = QFileDialog.getSaveFileName(self, "Save", name, f"*.{suffix}")
        if chosen:
            self.save(Path(chosen), suffix)

    def save(self, path: Path, suffix: str) -> None:
        """Write one of the files from the build in hand, which is judged first if it was not yet; refusals are told."""
        if suffix in SHOWN:
            self.render_show.emit(path)
            return
        build, evidence, drawer = self._session.build, self._session.evidence, self._session.drawers.drawer

        def work(progress: Callable[[float], None], cancelled: Callable[[], bool]) -> Page | None:
            known = evidence if evidence is not None and evidence.build is build else None
            made = made_of(build, known, suffix, drawer, progress, cancelled)
            if isinstance(made, str):
                write_atomically(path, made.encode("utf-8"))
                return None
            return made

        self._session.background.start("export", work, partial(self._print, build, path, suffix), self._failed)

    def _print(self, build: Build, path: Path, suffix: str, page: Page | None) -> None:
        """Print what is printed, in a process of its own; a text is written by now."""
        if page is None:
            self._written(build, path, suffix)
            return
        from tiny_lantern.ui.printing import save_pdf  # only when something is printed

        done = partial(self._written, build, path, suffix)
        self._session.background.start_task("export", save_pdf, (page, path), True, lambda _: done(), self._failed)

    def _written(self, build: Build, path: Path, suffix: str) -> None:
        """Say so, and remember the stamp that a wiring sheet bears."""
        if not suffix.startswith("wiring."):
            self._session.say(f"Wrote {path.name}.")
            return
        from tiny_lantern.model.edits_wiring import stamp_printed  # only when something is written
        from tiny_lantern.model.stamp import stamp_of

        stamp = stamp_of(build)
        self._session.apply("Noted the stamp of the wiring sheet", partial(stamp_printed, stamp=stamp))
        self._session.say(f"Wrote {path.name}, stamp {stamp}.")

    def ask_code(self, language: Language) -> None:
        """Ask for a folder and write the show's code into it."""
        folder = QFileDialog.getExistingDirectory(self, "A folder for the code")
        if folder:
            self.save_code(language, Path(folder))

    def save_code(self, language: Language, folder: Path) -> None:
        """Write the show's code of the build in hand, in the background; a refusal is told."""
        from tiny_lantern.code.files import export_code  # only when something is written

        build = self._session.build
        args = (build, language, folder)
        self._session.background.start_task("code", export_code, args, is_big(build), self._tell_code, self._failed)

    def _tell_code(self, written: tuple[list[str], str, list[Size]]) -> None:
        names, stamp, sizes = written
        told = "; ".join(f"about {size.ram_bytes:,} B of memory, {size.flash_bytes:,} B of programme" for size in sizes)
        self._code.setText(f"Stamp {stamp}: {told}.")
        self._session.say(f"Wrote {', '.join(names)}, stamp {stamp}.")

    def _failed(self, error: Exception) -> None:
        self._session.refused.emit(told_plainly(error))

    def _estimate(self) -> None:
        """Say about how large the show's files will be and how long they take, before one asks for them."""
        build = self._session.build
        if not build.pieces or build is self._estimated:
            return
        self._estimated = build
        self._cost.setText("")  # what the last build would take says nothing of this one

        def work(progress: Callable[[float], None], cancelled: Callable[[], bool]) -> tuple[str, str]:
            from tiny_lantern.sheets.moving import estimate  # loaded by the warm-up

            return estimate(build, ".gif").words(), estimate(build, ".csv").words()

        def told(words: tuple[str, str]) -> None:
            if build is self._session.build:
                self._cost.setText(f"GIF {words[0]}; frames {words[1]}.")

        self._session.background.start("estimate", work, told, self._failed)


def made_of(
    build: Build, known: Evidence | None, suffix: str, drawer: Drawer,
    progress: Callable[[float], None], cancelled: Callable[[], bool],
) -> str | Page:  # fmt: skip
    """The text of a file, or the page to print, of a build.

    Args:
        build: the build.
        known: what is known of it; found out where it is not and needed.
        suffix: which file.
        drawer: what is owned.
        progress: told the share done, 0 to 1.
        cancelled: asked now and then whether to stop.
    """
    from tiny_lantern.findings.evidence import find_flashes, gather  # loaded by the warm-up
    from tiny_lantern.sheets.schedule import feeds_csv
    from tiny_lantern.sheets.sheet import sheet_html
    from tiny_lantern.sheets.wiring_sheet import wiring_csv, wiring_html
    from tiny_lantern.ui.printing import Page, sheet_page

    if suffix == "wiring.pdf":
        return Page(wiring_html(build), f"{build.name}: wiring")
    if suffix.startswith("wiring."):
        return wiring_csv(build) if suffix == "wiring.csv" else wiring_html(build)
    evidence = known or gather(build, FullWhite(), find_flashes(build, progress, cancelled), cancelled)
    if suffix == "pdf":
        return sheet_page(evidence, drawer)
    return feeds_csv(evidence) if suffix == "csv" else sheet_html(evidence, drawer=drawer)
