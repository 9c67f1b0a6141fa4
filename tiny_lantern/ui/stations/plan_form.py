"""How places for feeds are judged: the corner, where one can reach, and where a supply's wires arrive."""

from __future__ import annotations

import re
from functools import partial

from PySide6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from tiny_lantern.model.build import NOMINAL_CORNER, Build, Corner
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_plan import change_corner, set_approach, set_reach
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.quantities import metres, parse_quantity
from tiny_lantern.model.strip import PixelRun
from tiny_lantern.plans.line import approaches_of, line_of, supplies_of
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import Rows, combo, heading, quiet, set_choice, show_text
from tiny_lantern.ui.widgets.in_view import InView
from tiny_lantern.ui.widgets.quantity import QuantityEdit

CORNERS: tuple[tuple[str, Corner | None], ...] = (
    ("design corner", Corner()), ("nominal", NOMINAL_CORNER), ("own corner", None),
)  # fmt: skip
FACTORS = (("rails ×", "rails"), ("wires ×", "wires"), ("pixels ×", "pixel_current"), ("set-points", "set_point"))


class PlanForm(QWidget):
    """What *Find feeds* goes by, for the build and for the selected strip."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 0)
        column.setSpacing(6)
        column.addWidget(heading("Find feeds goes by"))
        rows = Rows()
        self.corner = combo(list(CORNERS), "Judged at", self._set_corner)
        rows.add("judged at", self.corner)
        self._factors: dict[str, QuantityEdit] = {}
        self._labels: list[QWidget] = []
        for text, field in FACTORS:
            unit = "ratio" if field == "set_point" else ""
            shown = (lambda value: f"{value:.0%}") if field == "set_point" else (lambda value: f"{value:.2f}")
            self._factors[field] = QuantityEdit(text, unit, shown)
            self._factors[field].entered.connect(partial(self._set_factor, field))
            self._factors[field].faulty.connect(session.refused)
            self._labels.append(rows.add(text, self._factors[field]))
        self.reach = QLineEdit()
        self.reach.setPlaceholderText("everywhere")
        self.reach.setToolTip("Where the selected strip can be soldered, e.g. 0-0.4 m, 3.1-3.5 m; empty: everywhere")
        self.reach.editingFinished.connect(self._set_reach)
        rows.add("reach", self.reach)
        self.arrives = QuantityEdit("Where the supply's wires come to the strip", "m", metres)
        self.lead = QuantityEdit("Wire from the supply to there", "m", metres)
        for text, edit, which in (
            ("wires come at", self.arrives, "position_m"), ("lead to there", self.lead, "standoff_m"),
        ):  # fmt: skip
            rows.add(text, edit)
            edit.entered.connect(partial(self._set_approach, which))
            edit.faulty.connect(session.refused)
        column.addLayout(rows.grid)
        in_view = InView(self, self.refresh)
        session.build_changed.connect(in_view.refresh)
        session.selection_changed.connect(in_view.refresh)
        self.refresh()

    @property
    def _strip(self) -> PixelRun | None:
        return self._session.pixel_in_hand()[0]

    def refresh(self) -> None:
        """Show what holds now; a drag under way changes none of it."""
        if self._session.dragging:
            return
        build, strip = self._session.build, self._strip
        known = [corner for _, corner in CORNERS if corner == build.corner]
        with quiet(self.corner):
            set_choice(self.corner, known[0] if known else None)
        for field, edit in self._factors.items():
            edit.show_value(getattr(build.corner, field))
        for widget in (*self._factors.values(), *self._labels):
            widget.setVisible(not known)
        self.reach.setEnabled(strip is not None)
        show_text(self.reach, "" if strip is None else reach_text(strip))
        approach = self._approach(build)
        for edit in (self.arrives, self.lead):
            edit.setEnabled(approach is not None)
        if approach is not None:
            self.arrives.show_value(approach[2])
            self.lead.show_value(approach[3])

    def _approach(self, build: Build) -> tuple[str, str, float, float] | None:
        """The supply and strip, the place and the lead that a search would go by; None where there is none."""
        strip = self._strip
        if strip is None:
            return None
        try:
            line = line_of(build, strip.id)
            found = approaches_of(build, line, supplies_of(build, line))[0]
        except LanternError:
            return None
        return found.supply_id, found.strip_id, found.position_m, found.standoff_m

    def _set_corner(self, corner: object) -> None:
        if isinstance(corner, Corner):
            self._session.apply("Changed the design corner", partial(change_build, corner=corner))
        else:
            for widget in (*self._factors.values(), *self._labels):
                widget.setVisible(True)

    def _set_factor(self, field: str, value: float) -> None:
        self._session.apply("Changed the design corner", lambda build: change_corner(build, **{field: value}))

    def _set_reach(self) -> None:
        strip = self._strip
        if strip is None or self.reach.text().strip() == reach_text(strip):
            return
        try:
            spans = read_reach(self.reach.text())
        except LanternError as error:
            self._session.refused.emit(error)
            show_text(self.reach, reach_text(strip))
            return
        edit = partial(set_reach, strip_id=strip.id, spans_m=spans)
        if not self._session.apply(f"Changed where {strip.name} can be soldered", edit):
            self.refresh()

    def _set_approach(self, which: str, value: float) -> None:
        found = self._approach(self._session.build)
        if found is not None:
            given = {"position_m": found[2], "standoff_m": found[3], which: value}
            edit = partial(
                set_approach, supply_id=found[0], strip_id=found[1], position_m=given["position_m"],
                standoff_m=given["standoff_m"],
            )  # fmt: skip
            self._session.apply("Changed where the supply's wires come in", edit)


def reach_text(strip: PixelRun) -> str:
    """The spans of a strip within reach, as they are typed; empty for everywhere."""
    if strip.reach_m is None:
        return ""
    return ", ".join(f"{first:g}-{last:g} m" for first, last in strip.reach_m) or "ends only"


def read_reach(text: str) -> tuple[tuple[float, float], ...] | None:
    """Spans as people type them, ``0-0.4 m, 3.1-3.5 m``; nothing or ``everywhere`` is None, ``ends only`` no span.

    Raises:
        LanternError: it is none of these.
    """
    body = text.strip().lower()
    if body in ("", "everywhere", "all"):
        return None
    if body in ("ends only", "ends", "none"):
        return ()
    spans = []
    for part in re.split(r"[,;] *(?=[\d.])", text.strip()):
        ends = re.split(r" *(?:-|–|to|…|\.\.) *", part.strip(), maxsplit=1)
        if len(ends) != 2:
            raise LanternError(f"“{part[:30]}” is no span", "reach", "0-0.4 m, 3.1-3.5 m; ends only; or nothing")
        unit = re.sub(r"[\d.,\s]", "", ends[1])
        first = ends[0] if re.search(r"[a-zA-Z'\"]", ends[0]) else ends[0] + unit
        spans.append((parse_quantity(first, "m", "reach"), parse_quantity(ends[1], "m", "reach")))
    return tuple(spans)
