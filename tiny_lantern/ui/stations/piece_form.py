"""The selected pieces: what they are, where they lie, how they are made; and one lamp's own names."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PySide6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QInputDialog, QLabel, QLineEdit, QVBoxLayout, QWidget

from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_layout import make_copies, mirror_pieces
from tiny_lantern.model.edits_names import note_lamp
from tiny_lantern.model.edits_pieces import duplicate_piece, move_piece, remove_piece
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.layout import slot_places, spacing_of
from tiny_lantern.model.piece import Piece
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.stations.piece_specs import HOW, SPECS, WHAT, WHERE, Spec, lamp_part, specs_for, with_lamp_leads
from tiny_lantern.ui.widgets.fields import (
    Rows,
    button,
    combo,
    faint,
    heading,
    plain_tip,
    quiet,
    set_choice,
    show_text,
    side_by_side,
)
from tiny_lantern.ui.widgets.in_view import InView
from tiny_lantern.ui.widgets.leads import LeadPicture
from tiny_lantern.ui.widgets.quantity import QuantityEdit

VARIOUS = "various"
LAMP_FIELDS = ("place", "function", "own-order", "own-leads")
UNKNOWN_LEADS = "Which lead is which is not known: Bench will find it."


class PieceForm(QWidget):
    """Shows and changes the selected pieces; several at once in what they have in common."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.fields: dict[str, QWidget] = {}
        self._labels: dict[str, QLabel] = {}
        self._holders: dict[str, QWidget] = {}
        self._offered: dict[str, list[tuple[str, object]]] = {}
        self._all = False
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 12, 0)
        column.setSpacing(4)
        self.setObjectName("pieceForm")
        self._title, self._about = heading(""), faint()
        name = next(spec for spec in SPECS if spec.name == "name")
        self.fields["name"] = self._field(name)
        self.fields["name"].setObjectName("title")
        column.addWidget(self._title)
        column.addWidget(self.fields["name"])
        column.addWidget(self._about)
        self._heads: dict[str, QWidget] = {}
        for group in (WHAT, WHERE, HOW):
            self._heads[group] = _group_head(group)
            column.addWidget(self._heads[group])
            column.addLayout(self._group(group))
            if group == WHAT:
                column.addLayout(self._lamp_fields())
        self.leads = LeadPicture()
        self._unknown = faint(UNKNOWN_LEADS)
        column.addWidget(self.leads)
        column.addWidget(self._unknown)
        self._more = button("more …", self._toggle_all, "link")
        self._more.setAccessibleName("All of how it is made")
        column.addWidget(self._more)
        column.addLayout(self._buttons())
        column.addStretch(1)
        in_view = InView(self, self.refresh)
        session.build_changed.connect(in_view.refresh)
        session.selection_changed.connect(in_view.refresh)
        session.drawers.changed.connect(in_view.refresh)
        self.refresh()

    def _group(self, group: str) -> QGridLayout:
        rows = Rows()
        rows.grid.setVerticalSpacing(4)
        pairs: dict[str, QHBoxLayout] = {}
        for spec in SPECS:
            if spec.group != group or spec.name in self.fields:
                continue
            field = self._field(spec)
            self.fields[spec.name] = field
            if spec.row and spec.row in pairs:
                pairs[spec.row].addWidget(field, 1)
                field.setAccessibleName(spec.tip)
            elif spec.row:
                holder = self._holders[spec.row] = QWidget()
                pairs[spec.row] = _pair(holder, field)
                self._labels[spec.name] = rows.add(spec.row, holder)
            else:
                self._labels[spec.name] = rows.add(spec.label, field)
        return rows.grid

    def _field(self, spec: Spec) -> QWidget:
        if spec.choices is not None:
            field: QWidget = combo([], spec.tip, lambda data, spec=spec: self._enter(spec, data))  # type: ignore[misc]
        elif spec.unit is not None:
            quantity = QuantityEdit(spec.tip, spec.unit, spec.shown)
            quantity.entered.connect(partial(self._enter, spec))
            quantity.faulty.connect(self._session.refused)
            quantity.optional = spec.optional
            quantity.emptied.connect(partial(self._enter, spec, None))
            return quantity
        else:
            line = QLineEdit()
            line.editingFinished.connect(lambda: self._enter_text(spec, line))
            line.setAccessibleName(spec.tip)
            field = line
        field.setToolTip(plain_tip(spec.tip))
        return field

    def _lamp_fields(self) -> QGridLayout:
        rows = Rows()
        for name, label, tip in (
            ("place", "this lamp", "The name of its place, e.g. north quay 3"),
            ("function", "shows", "What it shows, e.g. ferry at berth"),
            ("own-order", "its order", "Its own colour order in a mixed chain, e.g. RGB; empty for the piece's"),
            ("own-leads", "its leads", "Its own leads along the row; empty for its part's"),
        ):
            line = QLineEdit()
            line.setToolTip(tip)
            line.editingFinished.connect(partial(self._enter_note, name, line))
            self.fields[name] = line
            self._labels[name] = rows.add(label, line)
        return rows.grid

    def _buttons(self) -> QVBoxLayout:
        self._copy = button("Copy", self.duplicate, tip="A copy of each right after it (Ctrl+D)")
        self._mirror = button("Mirror", self.mirror, tip="Left to right, about the middle of what is selected")
        self._make = button("Make n", self._ask_copies, tip="A row of copies")
        self._earlier = button("◂", lambda: self._move(-1), tip="Nearer to the start of the Line")
        self._later = button("▸", lambda: self._move(1), tip="Nearer to the end of the Line")
        self._remove = button("Remove", self.remove, tip="Del in the list or the picture; undo brings it back")
        self._earlier.setAccessibleName("Earlier on the Line")
        self._later.setAccessibleName("Later on the Line")
        column = QVBoxLayout()
        column.setSpacing(5)
        column.addLayout(side_by_side(self._copy, self._mirror, self._make))
        column.addLayout(side_by_side(self._earlier, self._later, self._remove))
        for each in (self._copy, self._mirror, self._make, self._earlier, self._later, self._remove):
            each.setObjectName("small")
            each.setFixedHeight(24)
        return column

    @property
    def pieces(self) -> list[Piece]:
        """The selected pieces in wiring order; the first one when nothing is selected."""
        build = self._session.build
        chosen = set(self._session.selection.all("pieces"))
        return [piece for piece in build.pieces if piece.id in chosen] or list(build.pieces[:1])

    @property
    def _ids(self) -> list[str]:
        return [piece.id for piece in self.pieces]

    def refresh(self) -> None:
        """Show the selected pieces."""
        pieces, build = self.pieces, self._session.build
        there = specs_for(build, pieces) if pieces else []
        self._more.setVisible(any(spec.more for spec in there))
        self._more.setText("less" if self._all else "more …")
        shown = {spec.name for spec in there if (spec.group != WHERE if self._all else not spec.more)}
        self._title.setText(_title(pieces))
        self._title.setVisible(len(pieces) != 1)
        self._about.setText(_about(build, pieces))
        for spec in SPECS:
            visible = spec.name in shown
            self.fields[spec.name].setVisible(visible)
            if spec.name in self._labels:
                row = any(other.row == spec.row and other.name in shown for other in SPECS) if spec.row else visible
                self._labels[spec.name].setVisible(row)
            if visible and (spec.group == WHERE or not self._session.dragging):
                self._show(spec, build, pieces)
        for pair, holder in self._holders.items():
            holder.setVisible(any(spec.row == pair and spec.name in shown for spec in SPECS))
        for group, head in self._heads.items():
            head.setVisible(any(spec.group == group and spec.name in shown for spec in SPECS))
        for act in (self._copy, self._mirror, self._make, self._earlier, self._later, self._remove):
            act.setVisible(bool(pieces))
        self._show_lamp(pieces)
        self._show_leads(build, pieces)

    def _toggle_all(self) -> None:
        """Show all of how it is made in place of where it lies, or that again."""
        self._all = not self._all
        self.refresh()

    def _show(self, spec: Spec, build: Build, pieces: list[Piece]) -> None:
        field, values = self.fields[spec.name], [spec.read(build, piece) for piece in pieces]
        same = all(value == values[0] for value in values)
        if isinstance(field, QComboBox):
            self._show_choice(spec, field, build, pieces, values[0] if same else VARIOUS)
        elif isinstance(field, QuantityEdit):
            field.setPlaceholderText("" if same else VARIOUS)
            if same and values[0] is None:
                field.show_nothing()
            elif same:
                field.show_value(values[0])
            elif not field.hasFocus():
                field.clear()
        elif isinstance(field, QLineEdit):
            field.setPlaceholderText("" if same else VARIOUS)
            with quiet(field):
                show_text(field, str(values[0]) if same else "")
                field.setCursorPosition(0)

    def _show_choice(self, spec: Spec, field: QComboBox, build: Build, pieces: list[Piece], value: object) -> None:
        assert spec.choices is not None
        offered = list(spec.choices(build, pieces[0], self._session.drawers.drawer))
        if value == VARIOUS and len(pieces) > 1:
            offered.insert(0, (VARIOUS, VARIOUS))
        with quiet(field):
            if offered != self._offered.get(spec.name):
                self._offered[spec.name] = offered
                field.clear()
                for text, data in offered:
                    field.addItem(text, data)
            set_choice(field, value)

    def _show_lamp(self, pieces: list[Piece]) -> None:
        """The names of the selected lamp, when it is on the piece shown."""
        first = self._session.selection.first
        piece = pieces[0] if len(pieces) == 1 else None
        there = piece is not None and first is not None and first.piece_id == piece.id
        loose = isinstance(piece, LampGroup) and piece.colour_order is not None
        for name in LAMP_FIELDS:
            self.fields[name].setVisible(there and (loose or not name.startswith("own-")))
            self._labels[name].setVisible(there and (loose or not name.startswith("own-")))
        if piece is None or first is None or not there:
            return
        self._labels["place"].setText(f"lamp {first.index}")
        self._labels["place"].setToolTip(f"Number {first.index} counted from 0, number {first.index + 1} from 1")
        note = piece.note_of.get(first.index)
        leads = ", ".join(note.leads.order) if note and note.leads else ""
        said = (note.place, note.function, note.colour_order or "", leads) if note else ("", "", "", "")
        for name, text in zip(LAMP_FIELDS, said, strict=True):
            field = self.fields[name]
            assert isinstance(field, QLineEdit)
            with quiet(field):
                show_text(field, text)
        place = self.fields["place"]
        assert isinstance(place, QLineEdit)
        place.setPlaceholderText(piece.place_name(first.index))

    def _show_leads(self, build: Build, pieces: list[Piece]) -> None:
        part = lamp_part(build, pieces[0]) if len(pieces) == 1 else None
        wired = part is not None and part.body == "lamp"
        known = part.leads if part is not None and part.leads is not None else None
        self.leads.setVisible(wired and known is not None and bool(known.order))
        self._unknown.setVisible(wired and (known is None or not known.order))
        if known is not None:
            self.leads.show_leads(known)
        for name in ("longest", "cup"):
            self.fields[name].setEnabled(known is not None and bool(known.order))

    def _enter(self, spec: Spec, value: Any) -> None:
        if value == VARIOUS:
            return
        pieces = self.pieces
        if all(spec.read(self._session.build, piece) == value for piece in pieces):
            return
        self._apply(f"Changed the {spec.label} of", lambda build, piece_id: spec.edit(build, piece_id, value))
        self.refresh()

    def _enter_text(self, spec: Spec, line: QLineEdit) -> None:
        if line.isModified():
            line.setModified(False)
            self._enter(spec, line.text())

    def _enter_note(self, name: str, line: QLineEdit) -> None:
        first = self._session.selection.first
        if not line.isModified() or first is None:
            return
        line.setModified(False)
        where = self._session.build.line.piece(first.piece_id).place_name(first.index)
        text = line.text().strip()
        if name == "own-order":
            said: dict[str, Any] = {"colour_order": text.upper() or None}
        elif name == "own-leads":
            said = {"leads": text}
        else:
            said = {name: text}
        edit = partial(with_lamp_leads if name == "own-leads" else note_lamp, ref=first, **said)
        self._session.apply(f"Named {where}" if name in said else f"Told {where} apart", edit)
        self.refresh()

    def _apply(self, label: str, edit: Callable[[Build, str], Build]) -> bool:
        """Do the same to each selected piece, as one step."""
        ids = self._ids

        def each(build: Build) -> Build:
            for piece_id in ids:
                build = edit(build, piece_id)
            return build

        return self._session.apply(f"{label} {_title(self.pieces)}", each)

    def duplicate(self) -> None:
        """A copy of each selected piece right after it."""
        self._apply("Duplicated", duplicate_piece)

    def mirror(self) -> None:
        """Mirror what is selected left to right."""
        if self.pieces:
            self._session.apply(f"Mirrored {_title(self.pieces)}", partial(mirror_pieces, piece_ids=self._ids))

    def remove(self) -> None:
        """Remove what is selected."""
        self._apply("Removed", remove_piece)

    def _move(self, by: int) -> None:
        self._apply("Moved", partial(move_piece, by=by))

    def _ask_copies(self) -> None:
        if self.pieces:
            count, wanted = QInputDialog.getInt(self, "Make n", "How many more?", 3, 1, 200)
            if wanted:
                self.make(count)

    def make(self, count: int) -> None:
        """A row of copies of the first selected piece, each clear of the one before."""
        piece = self.pieces[0]
        wide = float(slot_places(piece)[:, 0].max() - slot_places(piece)[:, 0].min())
        step_m = round(wide + max(spacing_of(piece), 0.02), 3)
        edit = partial(make_copies, piece_id=piece.id, count=count, dx_m=step_m, dy_m=0.0)
        self._session.apply(f"Made {count} more of {piece.name}", edit)


def _title(pieces: list[Piece]) -> str:
    if not pieces:
        return "Nothing here yet"
    return pieces[0].name if len(pieces) == 1 else f"{len(pieces)} pieces"


def _about(build: Build, pieces: list[Piece]) -> str:
    if not pieces:
        return "Add a piece below the picture."
    lights = sum(piece.slot_count for piece in pieces)
    if len(pieces) > 1:
        return f"{lights} lights"
    span = next(span for span in build.line.spans if span.piece.id == pieces[0].id)
    return f"{lights} light{'s' if lights > 1 else ''}, {span.first} to {span.stop - 1} on the Line"


def _group_head(text: str) -> QWidget:
    label = heading(text)
    label.setObjectName("groupHead")
    label.setIndent(0)
    return label


def _pair(holder: QWidget, field: QWidget) -> QHBoxLayout:
    """A holder for fields side by side."""
    row = QHBoxLayout(holder)
    row.setContentsMargins(0, 0, 0, 0)
    row.setSpacing(4)
    row.addWidget(field, 1)
    return row
