"""Where a strip lies in the picture: its shape and that shape's figures."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from tiny_lantern.model.base import made, revise
from tiny_lantern.model.edits_pieces import change_strip
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.layout import slot_places
from tiny_lantern.model.layouts import AlongArc, AlongLine, AlongPath, AnyLayout, AroundRing
from tiny_lantern.model.quantities import metres, parse_quantity
from tiny_lantern.model.strip import PixelRun
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import Rows, combo, quiet, set_choice
from tiny_lantern.ui.widgets.quantity import QuantityEdit

SHAPES = (("straight", "line"), ("arc", "arc"), ("ring", "ring"), ("corners", "path"))
FIELDS = (
    ("x", "x_m", "m"), ("y", "y_m", "m"), ("angle", "angle_deg", "deg"), ("radius", "radius_m", "m"),
    ("start", "start_deg", "deg"),
)  # fmt: skip


class LayoutForm(QWidget):
    """Fields for the shape in use."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._strip: PixelRun | None = None
        self.shape = combo(list(SHAPES), "Shape in the picture", self._set_shape)
        self._labels: dict[str, QWidget] = {}
        self.fields: dict[str, QuantityEdit] = {}
        rows = Rows()
        rows.add("laid", self.shape)
        for text, field, unit in FIELDS:
            shown = metres if unit == "m" else (lambda value: f"{value:g}°")
            edit = QuantityEdit(f"{text} in the picture", unit, shown)
            edit.entered.connect(partial(self._set_field, field))
            edit.faulty.connect(session.refused)
            self.fields[field] = edit
            self._labels[field] = rows.add(text, edit)
        self.bend = combo([("left", False), ("right", True)], "Bends to", self._set_bend)
        self._labels["rightward"] = rows.add("bends", self.bend)
        self.corners = QLineEdit()
        self.corners.setToolTip("Corners in metres, e.g. 0,0  1.5,0  1.5,0.8")
        self.corners.editingFinished.connect(self._set_corners)
        self._labels["points_m"] = rows.add("corners", self.corners)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(rows.grid)

    def show_strip(self, strip: PixelRun | None) -> None:
        """Show where a strip lies."""
        self._strip = strip
        layout: AnyLayout = strip.layout if strip else AlongLine()
        with quiet(self.shape, self.bend, self.corners):
            set_choice(self.shape, layout.shape)
            widgets = {**self.fields, "rightward": self.bend, "points_m": self.corners}
            for field, widget in widgets.items():
                used = hasattr(layout, field)
                widget.setVisible(used)
                self._labels[field].setVisible(used)
                if used and isinstance(widget, QuantityEdit):
                    widget.show_value(getattr(layout, field))
            if isinstance(layout, AlongArc):
                set_choice(self.bend, layout.rightward)
            if isinstance(layout, AlongPath) and not self.corners.hasFocus():
                self.corners.setText("  ".join(f"{x:g},{y:g}" for x, y in layout.points_m))
                self.corners.setCursorPosition(0)

    def _change(self, layout: AnyLayout) -> None:
        if self._strip:
            edit = partial(change_strip, strip_id=self._strip.id, layout=layout)
            self._session.apply(f"Laid {self._strip.name}", edit)
            self.show_strip(self._strip if self._strip in self._session.build.strips else self._again())

    def _again(self) -> PixelRun | None:
        assert self._strip is not None
        return next((strip for strip in self._session.build.strips if strip.id == self._strip.id), None)

    def _set_field(self, field: str, value: float) -> None:
        if self._strip:
            try:
                layout = revise(self._strip.layout, **{field: value})
            except LanternError:
                self._session.refused.emit(LanternError(f"{value:g} is out of range", field, "a size that fits a site"))
                self.show_strip(self._strip)
                return
            self._change(layout)

    def _set_bend(self, rightward: object) -> None:
        if self._strip:
            self._change(revise(self._strip.layout, rightward=rightward))

    def _set_shape(self, shape: object) -> None:
        if self._strip is None or self._strip.layout.shape == shape:
            return
        places = slot_places(self._strip)
        x, y = (round(float(value), 3) for value in places[0])
        length = self._strip.length_m
        shapes: dict[object, AnyLayout] = {
            "line": AlongLine(x_m=x, y_m=y),
            "arc": AlongArc(x_m=x, y_m=y, radius_m=max(0.01, round(length, 2))),
            "ring": AroundRing(x_m=round(float(places[:, 0].mean()), 3), y_m=round(float(places[:, 1].mean()), 3)),
            "path": AlongPath(points_m=((x, y), (round(x + length / 2, 3), y), (round(x + length / 2, 3), y - 0.5))),
        }
        self._change(shapes[shape])

    def _set_corners(self) -> None:
        if self._strip is None or not self.corners.isModified():
            return
        try:
            points = tuple(_corner(word) for word in self.corners.text().replace(";", " ").split())
            layout = made(AlongPath, points_m=points)
        except LanternError as error:
            accepted = "at least two different points: 0,0  1.5,0.2"
            self._session.refused.emit(LanternError(error.what, "corners", accepted))
            return
        self.corners.setModified(False)
        self._change(layout)


def _corner(word: str) -> tuple[float, float]:
    x, comma, y = word.partition(",")
    if not comma:
        raise LanternError(f"“{word}” is not a point", "corners", "x,y in metres")
    return parse_quantity(x, "m", "corner x"), parse_quantity(y, "m", "corner y")
