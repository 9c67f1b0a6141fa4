"""What strips really are: figures fitted to what was read, and made the build's own."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QListWidget, QListWidgetItem, QVBoxLayout, QWidget
from shiboken6 import isValid

from tiny_lantern.bench.strips.adopt import adopted
from tiny_lantern.bench.strips.fitted import Fitted, fit_task, parameters
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_bench import log
from tiny_lantern.model.errors import told_plainly
from tiny_lantern.ui.clock import now
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import PlainLabel, button, faint, side_by_side

ABOUT = "Tick what may differ from the plan; all readings of strips are fitted by it."
NONE = "Read volts and amperes in a pattern of strips first: from them rails, pixels, feeds and supplies are found."
ROLE = Qt.ItemDataRole.UserRole


class FitPanel(QWidget):
    """Ticks, the fit, and Adopt."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.found: Fitted | None = None
        self._of: object = None
        self.list = QListWidget()
        self.list.setAccessibleName("What may differ from the plan")
        self.told = PlainLabel(NONE)
        self.told.setWordWrap(True)
        self.fit = button("Fit", self.start, "primary", "Least squares over all readings of strips")
        self.adopt = button("Adopt", self.make_own, "small", "One step; everything is solved with it from then on")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(faint(ABOUT))
        column.addWidget(self.list, 1)
        column.addWidget(self.told)
        column.addLayout(side_by_side(self.fit, self.adopt))
        session.build_changed.connect(self.refresh)

    def refresh(self) -> None:
        """Offer what may be fitted of the build in hand."""
        if not self.isVisible():
            return
        build = self._session.build
        offered = parameters(build)
        items = (self.list.item(at) for at in range(self.list.count()))
        if tuple((item.data(ROLE), item.text()) for item in items) != offered:
            self.list.clear()
            for name, words in offered:
                item = QListWidgetItem(words)
                item.setData(ROLE, name)
                item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
                item.setCheckState(Qt.CheckState.Unchecked)
                self.list.addItem(item)
        if self.found is not None and self._of != build.bench.readings:
            self.found = None
        if self.found is None:
            self.told.setText("" if offered else NONE)
        self.fit.setEnabled(bool(offered))
        self.adopt.setEnabled(self.found is not None and not self.found.inseparable)

    @property
    def free(self) -> tuple[str, ...]:
        """The parameters that are ticked."""
        items = (self.list.item(at) for at in range(self.list.count()))
        return tuple(item.data(ROLE) for item in items if item.checkState() == Qt.CheckState.Checked)

    def start(self) -> None:
        """Fit what is ticked."""
        build, free = self._session.build, self.free
        if free:
            take = partial(self._take, build)
            self._session.background.start_task("fit", fit_task, (build, free), False, take, self._failed)

    def _failed(self, error: Exception) -> None:
        if isValid(self):
            self._session.refused.emit(told_plainly(error))

    def _take(self, build: Build, found: Fitted) -> None:
        if not isValid(self):
            return
        self.found, self._of = found, build.bench.readings
        lines = [f"{row.words}: {row.found}, planned {row.planned}" for row in found.rows]
        lines += [f"The readings cannot tell {pair} apart: read elsewhere, or fix one." for pair in found.inseparable]
        lines.append(f"χ² {found.chi2:.1f} for {found.readings} readings.")
        self.told.setText("\n".join(lines))
        self.adopt.setEnabled(not found.inseparable)

    def make_own(self) -> None:
        """Make the fit the build's own."""
        found = self.found
        if found is None or found.inseparable:
            return
        values = {row.name: row.value for row in found.rows}
        words = "Adopted from readings: " + "; ".join(f"{row.words} {row.found}" for row in found.rows) + "."
        at = now()

        def edit(build: Build) -> Build:
            return log(adopted(build, values), "change", words, at)

        self._session.apply("Adopted what was found", edit)
