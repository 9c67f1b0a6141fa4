"""The feeds as a table: place, wire, length, fuse, and what each carries; the white cells take typing."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor
from PySide6.QtWidgets import QTableWidgetItem

from tiny_lantern.catalogue.shelf import fuses_by_rating, wire_by_text
from tiny_lantern.electrical.ohms import fuse_of, wire_of
from tiny_lantern.model.build import Build, Feed, OnStrip
from tiny_lantern.model.edits_power import move_feed, set_fuse, set_lengths, set_wires
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.quantities import amps, metres, parse_quantity
from tiny_lantern.ui import theme
from tiny_lantern.ui.session import Edit, Session
from tiny_lantern.ui.widgets.fields import quiet
from tiny_lantern.ui.widgets.in_view import InView
from tiny_lantern.ui.widgets.row_table import RowTable

HEADS = ("feed", "strip", "at", "wire", "length", "fuse", "out", "back", "a short")
STRIP, AT, WIRE, LENGTH, FUSE = 1, 2, 3, 4, 5
FIGURES = (AT, LENGTH, FUSE, 6, 7, 8)
FOLLOWED_FEEDS = 12
EDITED = (AT, WIRE, LENGTH, FUSE)


TIPS = {
    AT: "Place on the strip, e.g. 1.5 m. F2 or double click to type",
    WIRE: "Wire, e.g. 18 AWG or 1.5 mm2; out / back when they differ: 1.5 mm2 / 2.5 mm2",
    LENGTH: "Length of the wire, e.g. 3 m or 5ft; out / back when they differ: 3 m / 4 m",
    FUSE: "Fuse, e.g. 7.5 A, or none",
}


class FeedTable(RowTable):
    """One row a feed; typing into a cell is one undoable step."""

    def __init__(self, session: Session) -> None:
        super().__init__(HEADS, FIGURES, stretched=STRIP)
        self._session = session
        self._shorts: dict[str, str] = {}
        self._letters: dict[str, str] = {}
        self.palette_in_use = theme.PAPER
        self.setObjectName("feedTable")
        self.setAccessibleName("Feeds, wires and fuses")
        self.cellChanged.connect(self._typed)
        self.currentCellChanged.connect(self._chosen)
        self._in_view = InView(self, self.refresh)
        session.build_changed.connect(lambda: None if session.dragging else self._in_view.refresh())
        session.solved_changed.connect(self._follow_solved)
        session.selection_changed.connect(self._follow_selection)
        session.findings_changed.connect(self._in_view.refresh)
        self.refresh()

    def dress(self, palette: theme.Palette) -> None:
        """Take the colours of a theme."""
        self.palette_in_use = palette
        self.refresh()

    def _follow_solved(self) -> None:
        """A drag moves the figures of a few feeds at once; those of many are shown when it ends."""
        if not self._session.dragging or len(self._session.build.feeds) <= FOLLOWED_FEEDS:
            self._in_view.refresh()

    def refresh(self) -> None:
        """Show the build's feeds; a drag under way only moves the figures."""
        build = self._session.build
        letters = build.feed_letters
        self._shorts = self._short_words(build)
        self._letters = letters
        with quiet(self):
            self.show_rows(len(build.feeds), partial(self._row_texts, build))
        if not self._session.dragging:
            self.fit()
        self._follow_selection()

    def _short_words(self, build: Build) -> dict[str, str]:
        """How a short near each feed ends, as far as this build has been judged."""
        evidence = self._session.evidence
        if evidence is None or evidence.build is not build:
            return {}
        return {feed_id: near.words for feed_id, near in evidence.near_shorts.items()}

    def _row_texts(self, build: Build, row: int) -> list[str]:
        feed = build.feeds[row]
        return self._texts(build, feed, self._letters.get(feed.id, ""))

    def _texts(self, build: Build, feed: Feed, letter: str) -> list[str]:
        fuse = fuse_of(build, feed)
        solved = self._session.solved
        solution = solved.solution if solved and solved.build is build else None
        out = back = "—"
        short = self._shorts.get(feed.id, "—")
        if solution:
            out, back = amps(solution.feeds[feed.id].pos_a), amps(solution.feeds[feed.id].neg_a)
        on_strip = isinstance(feed.attach, OnStrip)
        place = build.line.strip(feed.attach.strip_id).name if isinstance(feed.attach, OnStrip) else "bus"
        at = metres(feed.attach.position_m) if on_strip else "—"  # type: ignore[union-attr]
        fused = f"{fuse.rating_a:g} A" if fuse else "none"
        wire = both(wire_of(build, feed.positive).name, wire_of(build, feed.negative).name)
        length = both(metres(feed.positive.length_m), metres(feed.negative.length_m))
        return [letter, place, at, wire, length, fused, out, back, short]

    def put(self, row: int, column: int, text: str) -> None:
        """Write one cell; those that take typing say what."""
        cell = self.item(row, column)
        if cell is None:
            cell = QTableWidgetItem()
            editable = Qt.ItemFlag.ItemIsEditable if column in EDITED else Qt.ItemFlag.NoItemFlags
            cell.setFlags(Qt.ItemFlag.ItemIsSelectable | Qt.ItemFlag.ItemIsEnabled | editable)
            cell.setTextAlignment(self.side_of(column))
            if column in EDITED:
                cell.setToolTip(TIPS[column])
            self.setItem(row, column, cell)
        self.write(cell, column, text)
        if column == FUSE:
            cell.setData(Qt.ItemDataRole.ForegroundRole, QColor(self.palette_in_use.danger) if text == "none" else None)

    def _typed(self, row: int, column: int) -> None:
        cell = self.item(row, column)
        if cell is None or row >= len(self._session.build.feeds):
            return
        feed = self._session.build.feeds[row]
        letter = self._session.build.feed_letters[feed.id]
        try:
            label, edit = self._edit(feed, column, cell.text())
        except LanternError as error:
            self._session.refused.emit(error)
            self.refresh()
            return
        self._session.apply(f"{label} of feed {letter}", edit)
        self.refresh()

    def _edit(self, feed: Feed, column: int, text: str) -> tuple[str, Edit]:
        parts = self._session.parts
        if column == AT:
            place = parse_quantity(text, "m", "place of the feed")
            return "Changed the place", partial(move_feed, feed_id=feed.id, position_m=place)
        if column == WIRE:
            out, back = (wire_by_text(side, parts) for side in out_and_back(text))
            return "Changed the wire", partial(set_wires, feed_id=feed.id, out=out, back=back)
        if column == LENGTH:
            out_m, back_m = (parse_quantity(side, "m", "length of the wire") for side in out_and_back(text))
            return "Changed the wire's length", partial(set_lengths, feed_id=feed.id, out_m=out_m, back_m=back_m)
        if text.strip().lower() in ("", "none", "0"):
            return "Took out the fuse", partial(set_fuse, feed_id=feed.id, fuse=None)
        rating = parse_quantity(text, "A", "fuse")
        fuses = fuses_by_rating(parts)
        for fuse in fuses:
            if abs(fuse.rating_a - rating) < 1e-6:
                return "Changed the fuse", partial(set_fuse, feed_id=feed.id, fuse=fuse)
        offered = ", ".join(f"{fuse.rating_a:g}" for fuse in fuses)
        raise LanternError(f"no fuse of {rating:g} A is on the shelf", "fuse", f"{offered} A, or none")

    def _chosen(self, row: int, column: int, *_: int) -> None:
        if 0 <= row < len(self._session.build.feeds):
            self._session.select("feeds", self._session.build.feeds[row].id)

    def _follow_selection(self) -> None:
        chosen = self._session.selection.one("feeds")
        for row, feed in enumerate(self._session.build.feeds):
            if feed.id == chosen and row != self.currentRow() and row < self.rowCount():
                with quiet(self):
                    self.setCurrentCell(row, max(0, self.currentColumn()))
                return
        if chosen is None:
            with quiet(self):
                self.clearSelection()


def both(out: str, back: str) -> str:
    """What stands for both conductors, or each of them."""
    return out if out == back else f"{out} / {back}"


def out_and_back(text: str) -> tuple[str, str]:
    """The two halves of what was typed, the same for both when there is no slash."""
    out, slash, back = text.partition("/")
    return out.strip(), back.strip() if slash else out.strip()
