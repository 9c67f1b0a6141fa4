"""Snags: the findings, worst first, each jumping to its place and mending itself where an edit can."""

from __future__ import annotations

from collections import Counter
from functools import partial

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QBoxLayout, QFrame, QHBoxLayout, QMenu, QVBoxLayout, QWidget

from tiny_lantern.findings.finding import Finding, Severity
from tiny_lantern.ui import theme
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import PlainLabel, button, faint, heading, panel, plain_tip, scrolled, side_by_side

WIDEST_WORDS = 180
CARDS_AT_ONCE = 6
LISTED = 40
ROOM = theme.SNAGS - 46


@guarded
class SnagCard(QFrame):
    """One finding; a card is kept and shows one finding after another."""

    chosen = Signal(object)
    mend = Signal(object, object)
    show_working = Signal(object)
    about = Signal(object)

    def __init__(self, finding: Finding) -> None:
        super().__init__()
        self.finding = finding
        self.setObjectName("card")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self._mark, self._title, self._message = PlainLabel(), PlainLabel(), faint()
        self._mark.setObjectName("mark")
        self._title.setObjectName("cardTitle")
        self._title.setWordWrap(True)
        self._fix = button("", lambda: self.mend.emit(self.finding, self.finding.fix))
        self._also = button("", lambda: self.mend.emit(self.finding, self.finding.also))
        self._working = button(
            "working", lambda: self.show_working.emit(self.finding.working), "link", "Show how the figure came about"
        )
        self._buttons = QBoxLayout(QBoxLayout.Direction.LeftToRight)
        self._list = button("list", self._show_list, "link", "Every one that this card stands for")
        for each in (self._fix, self._also, self._working, self._list):
            self._buttons.addWidget(each, 0, Qt.AlignmentFlag.AlignLeft)
        self._buttons.addStretch(1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 8)
        column.setSpacing(2)
        head = QHBoxLayout()
        head.addWidget(self._mark, 1)
        asks = button("?", lambda: self.about.emit(self.finding), "link", "What this looks for: its line in the guide")
        asks.setAccessibleName("Its line in the guide")
        asks.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        head.addWidget(asks)
        column.addLayout(head)
        for label in (self._title, self._message):
            column.addWidget(label)
        column.addLayout(self._buttons)
        self.show_finding(finding)

    def show_finding(self, finding: Finding) -> None:
        """Show another finding."""
        self.finding = finding
        label = finding.severity.label
        self.setAccessibleName(f"{label}: {finding.title}")
        self._mark.setText(f"{finding.severity.sign} {label}")
        if self._mark.property("severity") != f"{finding.severity:d}":
            self._mark.setProperty("severity", f"{finding.severity:d}")
            self._mark.style().polish(self._mark)
        self._title.setText(finding.title)
        self._message.setText(finding.message)
        self._list.setVisible(bool(finding.members))
        if finding.members:
            self._list.setToolTip(plain_tip("\n".join(member.title for member in finding.members[:LISTED])))
        self._working.setVisible(finding.explain is not None)
        for shown, fix, before in ((self._fix, finding.fix, ""), (self._also, finding.also, "or ")):
            shown.setVisible(fix is not None)
            if fix is not None:
                words = before + fix.label
                shown.setText(shown.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, WIDEST_WORDS))
                shown.setToolTip(plain_tip(f"{fix.label}; it can be undone"))
        fits = finding.also is None and self._fix.sizeHint().width() + self._working.sizeHint().width() <= ROOM
        self._buttons.setDirection(QBoxLayout.Direction.LeftToRight if fits else QBoxLayout.Direction.TopToBottom)
        self._buttons.setSpacing(6 if fits else 2)

    def _show_list(self) -> None:
        """Every finding that the card stands for, each jumping to its place."""
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        for member in self.finding.members[:LISTED]:
            menu.addAction(member.title.replace("&", "&&"), partial(self.chosen.emit, member))
        if len(self.finding.members) > LISTED:
            menu.addAction(f"and {len(self.finding.members) - LISTED} more").setEnabled(False)
        menu.popup(self._list.mapToGlobal(self._list.rect().bottomLeft()))

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
    mend = Signal(object, object)
    show_working = Signal(object)
    about = Signal(object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.cards: list[SnagCard] = []
        self._more = QTimer(self)
        self._more.setSingleShot(True)
        self._more.timeout.connect(self._add_cards)
        self.setFixedWidth(theme.SNAGS)
        frame, column = panel()
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(frame)
        self._count = faint()
        self._count.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        column.addLayout(side_by_side(heading("Snags"), self._count))
        content = QWidget()
        self._list = QVBoxLayout(content)
        self._list.setContentsMargins(0, 0, 4, 0)
        self._list.setSpacing(0)
        self._none = faint()
        self._list.addWidget(self._none)
        self._list.addStretch(1)
        column.addWidget(scrolled(content), 1)
        session.findings_changed.connect(self.refresh)
        session.build_changed.connect(self._on_build)
        self.refresh()

    def refresh(self) -> None:
        """Show the session's findings on the cards there are; more are made a few at a time, fewer are let go."""
        findings = self._session.findings
        for card in self.cards[len(findings) :]:
            self._list.removeWidget(card)
            card.hide()
            card.deleteLater()
        del self.cards[len(findings) :]
        for card, finding in zip(self.cards, findings, strict=False):
            card.show_finding(finding)
        self._add_cards()
        self._none.setVisible(not findings)
        judged = self._session.judged is self._session.build
        nothing = "Nothing to mend." if judged else "checking …"
        self._none.setText(nothing if self._session.build.pieces else "Findings appear here.")
        self._count.setText(_counted(findings))
        counts = Counter(finding.severity.label for finding in findings)
        self._count.setToolTip(", ".join(f"{number} {label}" for label, number in counts.items()))

    def _add_cards(self) -> None:
        """Make the next few cards that are missing, and leave the rest to the next turn."""
        shown = len(self.cards)
        for finding in self._session.findings[shown : shown + CARDS_AT_ONCE]:
            card = SnagCard(finding)
            for mine, theirs in (
                (card.chosen, self.jump),
                (card.mend, self.mend),
                (card.show_working, self.show_working),
                (card.about, self.about),
            ):
                mine.connect(theirs)
            self._list.insertWidget(len(self.cards), card)
            self.cards.append(card)
        if len(self.cards) < len(self._session.findings):
            self._more.start(0)

    def _on_build(self) -> None:
        if self._session.dragging:
            return
        if self._session.findings:
            self._count.setText("checking …")
        elif self._session.build.pieces:
            self._none.setText("checking …")


def _counted(findings: list[Finding]) -> str:
    """How many of each severity, by sign."""
    counts = Counter(finding.severity for finding in findings)
    return "   ".join(f"{severity.sign} {counts[severity]}" for severity in Severity if counts[severity])
