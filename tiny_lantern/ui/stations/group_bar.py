"""Above the list: a filter, and the groups with their orders."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QMenu, QPushButton, QWidget

from tiny_lantern.model.edits import numbered_name
from tiny_lantern.model.edits_names import add_group, order_group, remove_group
from tiny_lantern.model.effects import SlotRef
from tiny_lantern.model.groups import ORDERS
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import button, combo, quiet, set_choice
from tiny_lantern.ui.widgets.in_view import InView
from tiny_lantern.ui.widgets.picture_hand import PictureHand

NO_GROUP = "no group"


class GroupBar(QWidget):
    """Filters the list; names what is selected as a group, and puts a group in order."""

    filtered = Signal(str)
    room_wanted = Signal(str)

    def __init__(self, session: Session, hand: PictureHand) -> None:
        super().__init__()
        self._session, self._hand = session, hand
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        self.filter = QLineEdit()
        self.filter.setPlaceholderText("filter by name or part")
        self.filter.setAccessibleName("Filter the list")
        self.filter.setClearButtonEnabled(True)
        self.filter.textChanged.connect(self.filtered)
        self.groups = combo([(NO_GROUP, None)], "Group", self._choose)
        self.add = button("Group", self.group_selected, "small", "Name what is selected as a group")
        self.order = combo([(order, order) for order in ORDERS], "Order of the group", self._order)
        self.by_hand: QPushButton = button("By hand", self._toggle_by_hand, "small",
                                           "Click one light after the other in the picture")  # fmt: skip
        self.by_hand.setCheckable(True)
        self.remove = button("×", self._remove, "small", "Take the group away; its lights stay")
        self.remove.setAccessibleName("Remove the group")
        self.room = button("Box …", self._room_menu, "small", "A box, or a passage for wires")
        for widget, stretch in ((self.filter, 3), (self.groups, 2), (self.add, 0), (self.order, 2), (self.by_hand, 0),
                                (self.remove, 0), (self.room, 0)):  # fmt: skip
            row.addWidget(widget, stretch)
        self._offered: list[tuple[str, str | None]] = []
        in_view = InView(self, self.refresh)
        session.build_changed.connect(in_view.refresh)
        session.selection_changed.connect(in_view.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the groups there are, and the selected one."""
        build = self._session.build
        offered: list[tuple[str, str | None]] = [(NO_GROUP, None)]
        offered += [(f"{group.name} ({len(group.slots)})", group.id) for group in build.groups]
        chosen = self._session.selection.one("groups")
        with quiet(self.groups):
            if offered != self._offered:
                self._offered = offered
                self.groups.clear()
                for text, data in offered:
                    self.groups.addItem(text, data)
            set_choice(self.groups, chosen)
        for widget in (self.order, self.by_hand, self.remove):
            widget.setEnabled(chosen is not None)
        self.add.setEnabled(bool(self._session.selection.all("pieces")))
        self.by_hand.setChecked(self._hand.next_in_group is not None)

    def _room_menu(self) -> None:
        menu = QMenu(self)
        for text, kind in (("A box for supplies, boards or a battery", "boxes"), ("A passage for wires", "passages")):
            menu.addAction(text, partial(self.room_wanted.emit, kind))
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.popup(self.room.mapToGlobal(self.room.rect().topLeft()))

    def group_selected(self) -> None:
        """Make a group of all lights of the selected pieces."""
        build = self._session.build
        pieces = [piece for piece in build.pieces if piece.id in self._session.selection.all("pieces")]
        slots = [SlotRef(piece_id=piece.id, index=index) for piece in pieces for index in range(piece.slot_count)]
        name = pieces[0].name if len(pieces) == 1 else "Group"
        taken = {group.name for group in build.groups}
        name = numbered_name(name, taken) if name in taken else name
        if self._session.apply(f"Grouped {name}", partial(add_group, name=name, slots=slots)):
            self._session.select("groups", self._session.build.groups[-1].id)

    def _choose(self, group_id: object) -> None:
        self._hand.next_in_group = None
        self._session.select("groups", *([str(group_id)] if group_id else []))

    def _order(self, order: object) -> None:
        group_id = self._session.selection.one("groups")
        if group_id is not None:
            self._session.apply(f"Ordered a group {order}", partial(order_group, group_id=group_id, order=str(order)))

    def _toggle_by_hand(self) -> None:
        on = self._hand.next_in_group is None
        self._hand.next_in_group = 0 if on else None
        if on:
            self._session.say("Click one light after the other in the picture; Escape ends it.")
        self.refresh()

    def _remove(self) -> None:
        group_id = self._session.selection.one("groups")
        if group_id is not None:
            self._session.apply("Took a group away", partial(remove_group, group_id=group_id))
