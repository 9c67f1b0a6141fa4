"""The selected passage or box: its sizes, what goes through it or sits in it."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PySide6.QtCore import QSignalBlocker, Qt
from PySide6.QtWidgets import QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from tiny_lantern.electrical.room_behind import conductors_m, contents_of, needed_diameter_m
from tiny_lantern.model.base import made, revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_room import change_box, change_passage, remove_room
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.quantities import engineering, parse_quantity
from tiny_lantern.model.room import Box, Content, Passage
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import PlainLabel, Rows, button, faint, heading, show_text, side_by_side
from tiny_lantern.ui.widgets.in_view import InView
from tiny_lantern.ui.widgets.quantity import QuantityEdit

SIZES = (("diameter_m", "hole", "Diameter of the hole"), ("width_m", "width inside", "As wide as in the picture"),
         ("height_m", "height inside", "As high as in the picture"), ("depth_m", "depth inside", "How deep"),
         ("x_m", "x", "From the left"), ("y_m", "y", "Up"))  # fmt: skip
HOW_TO_LEAD = "Lead a feed's wires through it in the picture: both conductors are counted."


class RoomForm(QWidget):
    """Shows and changes what is selected of the two."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.fields: dict[str, QWidget] = {}
        self._labels: dict[str, PlainLabel] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 12, 0)
        self._title = heading("")
        self.name = QLineEdit()
        self.name.setAccessibleName("Name")
        self.name.editingFinished.connect(self._rename)
        column.addWidget(self._title)
        column.addWidget(self.name)
        rows = Rows()
        for field, label, tip in SIZES:
            self._quantity(rows, field, label, tip, "m", _size)
        self._quantity(rows, "others", "other conductors", "Further conductors through it", "", "{:.0f}".format)
        self._quantity(rows, "other_outer_m", "each of them", "How thick each of them is outside", "m", _size)
        column.addLayout(rows.grid)
        self.held = QListWidget()
        self.held.setAccessibleName("What sits in the box")
        self.held.setMaximumHeight(130)
        self.held.itemChanged.connect(self._tick)
        column.addWidget(self.held)
        self.thing = QLineEdit()
        self.thing.setPlaceholderText("board 60 x 30 x 15 mm")
        self.thing.setAccessibleName("Another thing in the box, with its sizes")
        self.thing.returnPressed.connect(self._put_in)
        column.addWidget(self.thing)
        self.words = faint()
        column.addWidget(self.words)
        column.addLayout(side_by_side(button("Remove", self._remove, tip="Del in the picture; undo brings it back")))
        column.addStretch(1)
        in_view = InView(self, self.refresh)
        session.build_changed.connect(in_view.refresh)
        session.selection_changed.connect(in_view.refresh)

    def _quantity(self, rows: Rows, field: str, label: str, tip: str, unit: str, shown: Callable[[float], str]) -> None:
        edit = QuantityEdit(tip, unit, shown)
        edit.entered.connect(partial(self._change, field))
        edit.faulty.connect(self._session.refused)
        self.fields[field] = edit
        self._labels[field] = rows.add(label, edit)  # type: ignore[assignment]

    @property
    def room(self) -> Passage | Box | None:
        """What is selected."""
        build, chosen = self._session.build, self._session.selection
        ids = (chosen.one("passages"), chosen.one("boxes"))
        found: list[Passage | Box] = [*build.passages, *build.boxes]
        return next((room for room in found if room.id in ids), None)

    def refresh(self) -> None:
        """Show what is selected."""
        room = self.room
        if room is None:
            return
        is_box = isinstance(room, Box)
        self._title.setText("Box" if is_box else "Passage for wires")
        show_text(self.name, room.name)
        for field, edit in self.fields.items():
            there = hasattr(room, field)
            edit.setVisible(there)
            self._labels[field].setVisible(there)
            if there:
                assert isinstance(edit, QuantityEdit)
                edit.show_value(getattr(room, field))
        self.held.setVisible(is_box)
        self.thing.setVisible(is_box)
        if isinstance(room, Box):
            self._show_held(room)
        else:
            outer = conductors_m(self._session.build, room)
            self.words.setText(f"{len(outer)} conductors; they need {_size(needed_diameter_m(outer))}. {HOW_TO_LEAD}")

    def _show_held(self, box: Box) -> None:
        build = self._session.build
        blocked = QSignalBlocker(self.held)
        self.held.clear()
        for supply in build.supplies:
            entry = QListWidgetItem(supply.name, self.held)
            entry.setData(Qt.ItemDataRole.UserRole, supply.id)
            entry.setCheckState(Qt.CheckState.Checked if supply.id in box.supply_ids else Qt.CheckState.Unchecked)
        for content in box.contents:
            sizes = " × ".join(f"{side * 1000:.0f}" for side in content.sizes_m)
            entry = QListWidgetItem(f"{content.name}, {sizes} mm", self.held)
            entry.setCheckState(Qt.CheckState.Checked)
        blocked.unblock()
        fills = sum(a * b * c for _, (a, b, c) in contents_of(build, box)) / (box.width_m * box.height_m * box.depth_m)
        self.words.setText(f"Filled {fills:.0%}. Leave air around what gets warm; mains parts need a closed box.")

    def _tick(self, entry: QListWidgetItem) -> None:
        box = self.room
        if not isinstance(box, Box):
            return
        row, ticked = self.held.row(entry), entry.checkState() == Qt.CheckState.Checked
        supplies = [supply.id for supply in self._session.build.supplies]
        if row < len(supplies):
            held = tuple(each for each in supplies if (ticked if each == supplies[row] else each in box.supply_ids))
            self._apply(f"Changed what is in {box.name}", lambda b: _only_in(b, box.id, held))
        else:
            left = tuple(each for number, each in enumerate(box.contents) if number != row - len(supplies))
            self._apply(f"Took a thing out of {box.name}", partial(change_box, box_id=box.id, contents=left))

    def _put_in(self) -> None:
        box = self.room
        if not isinstance(box, Box):
            return
        try:
            content = content_of(self.thing.text())
        except LanternError as error:
            self._session.refused.emit(error)
            return
        edit = partial(change_box, box_id=box.id, contents=(*box.contents, content))
        if self._apply(f"Put {content.name} into {box.name}", edit):
            self.thing.clear()

    def _change(self, field: str, value: float) -> None:
        room = self.room
        if room is None:
            return
        whole = int(value) if field == "others" and value == int(value) else value
        self._apply(f"Changed {room.name}", _edit_of(room, **{field: whole}))

    def _rename(self) -> None:
        room = self.room
        if room is not None and self.name.isModified():
            self.name.setModified(False)
            self._apply(f"Renamed {room.name}", _edit_of(room, name=self.name.text().strip()))

    def _remove(self) -> None:
        room = self.room
        if room is not None:
            self._apply(f"Removed {room.name}", partial(remove_room, identity=room.id))

    def _apply(self, label: str, edit: Callable[[Build], Build]) -> bool:
        done = self._session.apply(label, edit)
        self.refresh()
        return done


def content_of(text: str) -> Content:
    """A thing with its three sizes as a person writes it: ``board 60 x 30 x 15 mm``.

    Raises:
        LanternError: there is no name, or there are no three sizes.
    """
    accepted = "a name and three sizes, e.g. board 60 x 30 x 15 mm"
    words = text.replace("×", " x ").split()
    first = next((n for n, word in enumerate(words) if word[0].isdigit()), 0)
    sizes = " ".join(words[first:]).lower().split(" x ")
    if first == 0 or len(sizes) != 3:
        raise LanternError(f"“{text[:60]}” is no thing with three sizes", "box", accepted)
    unit = "".join(sizes[2].split()[1:]) or "mm"
    sides = [parse_quantity(size if size.split()[1:] else f"{size} {unit}", "m", "box") for size in sizes]
    return made(Content, name=" ".join(words[:first]).rstrip(","), sizes_m=tuple(sides))


def _edit_of(room: Passage | Box, **changes: Any) -> Callable[[Build], Build]:
    if isinstance(room, Box):
        return partial(change_box, box_id=room.id, **changes)
    return partial(change_passage, passage_id=room.id, **changes)


def _only_in(build: Build, box_id: str, held: tuple[str, ...]) -> Build:
    """A box holds these supplies, and no other box does."""
    boxes = tuple(
        revise(box, supply_ids=held if box.id == box_id else tuple(s for s in box.supply_ids if s not in held))
        for box in build.boxes
    )
    return revise(build, boxes=boxes)


def _size(value_m: float) -> str:
    return engineering(value_m, "m") if abs(value_m) < 1 else f"{value_m:.3f} m"
