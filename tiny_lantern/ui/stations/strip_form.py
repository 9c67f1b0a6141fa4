"""The selected strip: its kind, size, copper, order, cuts, joint, and where it lies."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtWidgets import (
    QGridLayout,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)  # fmt: skip

from tiny_lantern.catalogue.shelf import all_parts, shelf
from tiny_lantern.electrical.network import part_of
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_pieces import (
    add_joint,
    add_strip,
    change_piece,
    change_strip,
    change_strip_part,
    duplicate_piece,
    move_piece,
    remove_joint,
    remove_piece,
)  # fmt: skip
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.quantities import engineering, metres, parse_quantity
from tiny_lantern.model.strip import PixelRun, Strip
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.stations.build_form import BuildForm
from tiny_lantern.ui.stations.layout_form import LayoutForm
from tiny_lantern.ui.widgets.fields import (
    Rows,
    button,
    combo,
    heading,
    quiet,
    set_choice,
    show_text,
    side_by_side,
)  # fmt: skip
from tiny_lantern.ui.widgets.in_view import InView
from tiny_lantern.ui.widgets.quantity import QuantityEdit

FIRST_LENGTH_M = 2.0


class StripForm(QWidget):
    """Adds, changes, duplicates, reorders and removes strips; below, what belongs to the whole build."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 12, 0)
        column.setSpacing(6)
        self._title = heading("Strip")
        column.addWidget(self._title)
        parts = [(part.name, part.id) for part in shelf().of(StripPart)]
        self.part = combo(parts, "Kind of strip", self._set_part)
        column.addWidget(self.part)
        self.add = button("Add strip", self.add_strip, "primary", "Add a strip of this kind to the end of the Line")
        column.addWidget(self.add)
        column.addLayout(self._own_fields())
        self.layout_form = LayoutForm(session)
        column.addWidget(self.layout_form)
        column.addLayout(self._order_buttons())
        column.addLayout(self._joint_fields())
        column.addWidget(BuildForm(session))
        column.addStretch(1)
        self._offered: list[tuple[str, str | None]] = []
        in_view = InView(self, self.refresh)
        session.build_changed.connect(in_view.refresh)
        session.selection_changed.connect(in_view.refresh)
        self.refresh()

    def _own_fields(self) -> QGridLayout:
        rows = Rows()
        self.name = QLineEdit()
        self.name.editingFinished.connect(self._set_name)
        self.pixels = QuantityEdit("Pixels", "", lambda value: f"{value:.0f}")
        self.pixels.entered.connect(self._set_pixels)
        self.length = QuantityEdit("Length", "m", metres)
        self.length.entered.connect(self._set_length)
        self.pitch = QuantityEdit("Pixels per metre", "px/m", lambda value: f"{value:g}/m")
        self.pitch.entered.connect(self._set_pitch)
        self.out_rail = QuantityEdit("Positive rail", "ohm/m", lambda value: engineering(value, "ohm/m"))
        self.out_rail.entered.connect(lambda v: self._change("Changed the positive rail", rail_pos_ohm_per_m=v))
        self.back_rail = QuantityEdit("Return rail", "ohm/m", lambda value: engineering(value, "ohm/m"))
        self.back_rail.entered.connect(lambda v: self._change("Changed the return rail", rail_neg_ohm_per_m=v))
        self.order = QLineEdit()
        self.order.setToolTip("The order in which colours are sent, e.g. GRB")
        self.order.editingFinished.connect(self._set_order)
        self.cuts = QLineEdit()
        self.cuts.setToolTip("Pixels before which the positive rail is cut, e.g. 72, 144")
        self.cuts.editingFinished.connect(self._set_cuts)
        self._fields = (self.name, self.pixels, self.length, self.pitch, self.out_rail, self.back_rail, self.order,
                        self.cuts)  # fmt: skip
        texts = ("name", "pixels", "length", "pitch", "+ rail", "− rail", "order", "cuts")
        for text, field in zip(texts, self._fields, strict=True):
            rows.add(text, field)
            if isinstance(field, QuantityEdit):
                field.faulty.connect(self._session.refused)
        return rows.grid

    def _order_buttons(self) -> QVBoxLayout:
        self._duplicate = button("Duplicate", self._duplicate_piece, tip="Ctrl+D")
        self._remove = button("Remove", self._remove_piece, tip="Del in the table; undo brings it back")
        self._earlier = button("◂ earlier", lambda: self._move(-1), tip="Nearer to the start of the Line")
        self._later = button("later ▸", lambda: self._move(1), tip="Nearer to the end of the Line")
        column = QVBoxLayout()
        column.addLayout(side_by_side(self._duplicate, self._remove))
        column.addLayout(side_by_side(self._earlier, self._later))
        return column

    def _joint_fields(self) -> QGridLayout:
        self.joint = combo([], "End joined to", self._set_joint)
        rows = Rows()
        rows.add("end joined to", self.joint)
        return rows.grid

    @property
    def strip(self) -> PixelRun | None:
        """The selected strip or panel, the first one when nothing is selected; None for a piece without rails."""
        build = self._session.build
        chosen = self._session.selection.one("pieces")
        if chosen is None:
            return build.strips[0] if build.strips else None
        return next((strip for strip in build.strips if strip.id == chosen), None)

    @property
    def piece(self) -> Piece | None:
        """The selected piece, the first strip when nothing is selected."""
        chosen = self._session.selection.one("pieces")
        return self._session.build.line.piece(chosen) if chosen else self.strip

    def refresh(self) -> None:
        """Show the selected strip and the build; of a piece of another kind its name, and what can be done to any."""
        build, strip, piece = self._session.build, self.strip, self.piece
        for widget in (*self._fields, self.joint, self.layout_form):
            widget.setEnabled(strip is not None)
        for act in (self._duplicate, self._remove, self._earlier, self._later):
            act.setEnabled(piece is not None)
        for counted in (self.pixels, self.length):
            counted.setEnabled(isinstance(strip, Strip))
        self.part.setEnabled(strip is None or isinstance(strip, Strip))  # it says too what is added next
        self.name.setEnabled(piece is not None)
        self._title.setText(piece.name if piece else "First strip")
        with quiet(self.name):
            show_text(self.name, piece.name if piece else "")
        self.layout_form.show_strip(strip)
        if strip is None:
            return
        part = part_of(build, strip)
        with quiet(self.part, *self._fields):
            if self.part.findData(part.id) < 0:
                self.part.addItem(part.name, part.id)
            set_choice(self.part, part.id)
            show_text(self.order, strip.colour_order)
            show_text(self.cuts, ", ".join(str(cut) for cut in strip.cuts))
        self.pixels.show_value(strip.pixel_count)
        self.length.show_value(strip.length_m)
        self.pitch.show_value(round(1 / strip.pitch_m, 3))
        self.out_rail.show_value(strip.rail_pos_ohm_per_m or part.rail_pos_ohm_per_m)
        self.back_rail.show_value(strip.rail_neg_ohm_per_m or part.rail_neg_ohm_per_m)
        self._show_joint(build, strip)

    def _show_joint(self, build: Build, strip: PixelRun) -> None:
        offered = [("nothing", None), *((other.name, other.id) for other in build.strips if other.id != strip.id)]
        with quiet(self.joint):
            if offered != self._offered:
                self._offered = offered
                self.joint.clear()
                for name, identity in offered:
                    self.joint.addItem(name, identity)
            joined = [joint.to_strip_id for joint in build.joints if joint.from_strip_id == strip.id]
            set_choice(self.joint, joined[0] if joined else None)

    def add_strip(self) -> None:
        """Add a strip of the kind shown; its length follows the selected one's, or 2 m."""
        part = self._strip_part(self.part.currentData())
        length = self.strip.length_m if self.strip else FIRST_LENGTH_M
        pixels = max(1, round(length / part.pitch_m))
        if self._session.apply(f"Added {part.name}", partial(add_strip, part=part, pixel_count=pixels)):
            self._session.select_slot(self._session.build.line.spans[-1].first)
            self.name.setFocus()
            self.name.selectAll()

    def _strip_part(self, part_id: object) -> StripPart:
        return all_parts(self._session.build).find(StripPart, str(part_id))

    def _change(self, label: str, **changes: Any) -> None:
        if self.strip:
            self._session.apply(
                f"{label} of {self.strip.name}", partial(change_strip, strip_id=self.strip.id, **changes)
            )
            self.refresh()

    def _set_part(self, part_id: object) -> None:
        strip = self.strip
        part = self._strip_part(part_id)
        if strip and strip.part_id != part_id:
            edit = partial(change_strip_part, strip_id=strip.id, part=part)
            self._session.apply(f"Made {strip.name} of {part.name}", edit)

    def _set_name(self) -> None:
        piece, name = self.piece, self.name.text().strip()
        if piece and name != piece.name:
            self._session.apply(f"Renamed {piece.name}", partial(change_piece, piece_id=piece.id, name=name))
            self.refresh()

    def _set_pixels(self, value: float) -> None:
        if value != int(value):
            self._session.refused.emit(LanternError(f"{value:g} is not a count", "pixels", "a whole number"))
            self.refresh()
            return
        self._change("Changed the pixels", pixel_count=int(value))

    def _set_pitch(self, per_metre: float) -> None:
        if per_metre <= 0:
            error = LanternError(f"{per_metre:g} pixels a metre", "pitch", "more than none, e.g. 60/m")
            self._session.refused.emit(error)
            self.refresh()
            return
        self._change("Changed the pitch", pitch_m=1 / per_metre)

    def _set_length(self, value: float) -> None:
        if self.strip:
            self._change("Changed the length", pixel_count=max(1, round(value / self.strip.pitch_m)))

    def _set_order(self) -> None:
        if self.strip and self.order.text().strip().upper() != self.strip.colour_order:
            self._change("Changed the colour order", colour_order=self.order.text().strip().upper())

    def _set_cuts(self) -> None:
        if self.strip is None:
            return
        words = self.cuts.text().replace(",", " ").split()
        try:
            cuts = tuple(sorted({int(parse_quantity(word, "", "cuts")) for word in words}))
        except LanternError as error:
            self._session.refused.emit(error)
            self.refresh()
            return
        if cuts != self.strip.cuts:
            self._change("Changed the cuts", cuts=cuts)

    def _set_joint(self, other_id: object) -> None:
        strip = self.strip
        if strip is None:
            return

        def edit(build: Build) -> Build:
            for joint in build.joints:
                if joint.from_strip_id == strip.id:
                    build = remove_joint(build, joint.id)
            return add_joint(build, strip.id, str(other_id)) if other_id else build

        self._session.apply(
            f"Joined the end of {strip.name}" if other_id else f"Opened the joint of {strip.name}", edit
        )

    def _duplicate_piece(self) -> None:
        if self.piece:
            self._session.apply(f"Duplicated {self.piece.name}", partial(duplicate_piece, piece_id=self.piece.id))

    def _remove_piece(self) -> None:
        if self.piece:
            self._session.apply(f"Removed {self.piece.name}", partial(remove_piece, piece_id=self.piece.id))

    def _move(self, by: int) -> None:
        if self.piece:
            self._session.apply(f"Moved {self.piece.name}", partial(move_piece, piece_id=self.piece.id, by=by))
