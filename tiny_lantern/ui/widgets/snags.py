"""Snags: the findings, worst first, each jumping to its place and mending itself where an edit can."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QBoxLayout, QFrame, QLabel, QVBoxLayout, QWidget

from tiny_lantern.findings.finding import Finding, Severity
from tiny_lantern.ui import theme
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import button, emptied, faint, heading, panel, scrolled, side_by_side

WIDEST_WORDS = 180
ROOM = theme.SNAGS - 46


class SnagCard(QFrame):
    """One finding."""

    chosen = Signal(object)

    def __init__(self, finding: Finding, palette: theme.Palette, fix: Callable, working: Callable) -> None:
        super().__init__()
        self.finding = finding
        self.setObjectName("card")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName(f"{finding.severity.label}: {finding.title}")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 8)
        column.setSpacing(2)
        colour = theme.severity_colour(palette, finding.severity)
        mark = QLabel(f"{finding.severity.sign} {finding.severity.label}")
        mark.setStyleSheet(f"color: {colour}; font-size: 12px; font-weight: 600;")
        title = QLabel(finding.title)
        title.setWordWrap(True)
        title.setStyleSheet("font-weight: 600;")
        column.addWidget(mark)
        column.addWidget(title)
        column.addWidget(faint(finding.message))
        column.addLayout(self._buttons(finding, fix, working))
        self.setStyleSheet(f"#card {{ border-top: 1px solid {palette.rule}; background: transparent; }}"
                           f"#card:focus {{ border-top: 2px solid {palette.amber}; }}")  # fmt: skip

    def _buttons(self, finding: Finding, fix: Callable, working: Callable) -> QBoxLayout:
        """What can be done about it, in a row, or in a column where the words are long."""
        made = []
        if finding.fix:
            words = self.fontMetrics().elidedText(finding.fix.label, Qt.TextElideMode.ElideRight, WIDEST_WORDS)
            made.append(button(words, lambda: fix(finding), tip=f"{finding.fix.label}; it can be undone"))
        if finding.working:
            made.append(button("working", lambda: working(finding.working), "link", "Show how the figure came about"))
        fits = sum(each.sizeHint().width() for each in made) <= ROOM
        line = QBoxLayout(QBoxLayout.Direction.LeftToRight if fits else QBoxLayout.Direction.TopToBottom)
        line.setSpacing(6 if fits else 2)
        for each in made:
            line.addWidget(each, 0, Qt.AlignmentFlag.AlignLeft)
        if fits:
            line.addStretch(1)
        return line

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.chosen.emit(self.finding)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.chosen.emit(self.finding)
        else:
            super().keyPressEvent(event)


class Snags(QWidget):
    """The list of findings beside every station."""

    jump = Signal(object)
    mend = Signal(object)
    show_working = Signal(object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.palette_in_use = theme.PAPER
        self.setFixedWidth(theme.SNAGS)
        frame, column = panel()
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(frame)
        self._count = faint()
        self._count.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        column.addLayout(side_by_side(heading("Snags"), self._count))
        self._list = QWidget()
        self._cards = QVBoxLayout(self._list)
        self._cards.setContentsMargins(0, 0, 4, 0)
        self._cards.setSpacing(0)
        column.addWidget(scrolled(self._list), 1)
        session.findings_changed.connect(self.refresh)
        session.build_changed.connect(self._on_build)
        self.refresh()

    @property
    def cards(self) -> list[SnagCard]:
        """The cards shown, worst first."""
        items = (self._cards.itemAt(at) for at in range(self._cards.count()))
        return [card for item in items if item and isinstance(card := item.widget(), SnagCard)]

    def refresh(self) -> None:
        """Show the session's findings."""
        emptied(self._cards)
        for finding in self._session.findings:
            card = SnagCard(finding, self.palette_in_use, self.mend.emit, self.show_working.emit)
            card.chosen.connect(self.jump)
            self._cards.addWidget(card)
        if not self._session.findings:
            self._cards.addWidget(faint("Nothing to mend." if self._session.build.strips else "Findings appear here."))
        self._cards.addStretch(1)
        self._count.setText(_counted(self._session.findings))
        counts = Counter(finding.severity.label for finding in self._session.findings)
        self._count.setToolTip(", ".join(f"{number} {label}" for label, number in counts.items()))

    def _on_build(self) -> None:
        if not self._session.dragging and self._session.findings:
            self._count.setText("checking …")


def _counted(findings: list[Finding]) -> str:
    """How many of each severity, by sign."""
    counts = Counter(finding.severity for finding in findings)
    return "   ".join(f"{severity.sign} {counts[severity]}" for severity in Severity if counts[severity])
