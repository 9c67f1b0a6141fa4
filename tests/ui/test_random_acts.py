"""Random mouse and keys all over the window: no defect, and undo all the way back to the start."""

import random

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QApplication,
    QColorDialog,
    QComboBox,
    QDialog,
    QFileDialog,
    QInputDialog,
    QLineEdit,
    QToolButton,
    QWidget,
)

from tests.ui.conftest import Opened
from tests.ui.driving import LEFT, type_into
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.shell import Shell

KEYS = [
    Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Delete, Qt.Key.Key_Return,
    Qt.Key.Key_Escape, Qt.Key.Key_A, Qt.Key.Key_N, Qt.Key.Key_0, Qt.Key.Key_End, Qt.Key.Key_Insert,
]  # fmt: skip
HELD = [Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.AltModifier]
TEXTS = ["5ft", "18 AWG", "banana", "0", "1e9", "-3", "2 m / 3 m", "10, 20", "0-50", "25%", "", "none"]
ACTS = 120


def act(shell: Shell, chance: random.Random) -> None:
    """One thing that a person might do."""
    widgets = [w for w in shell.findChildren(QWidget) if w.isVisible() and w.isEnabled() and w.width() > 3]
    widget = chance.choice([w for w in widgets if not isinstance(w, QToolButton)])
    place = QPoint(chance.randrange(widget.width()), chance.randrange(widget.height()))
    kind = chance.random()
    if kind < 0.1:
        shell.show_station(chance.choice(["Pieces", "Power", "Drive", "Weave", "Sheets"]))
    elif kind < 0.2:
        chance.choice([shell.session.undo, shell.session.redo])()
    elif kind < 0.35:
        type_into(chance.choice([w for w in widgets if isinstance(w, QLineEdit)] or [widget]), chance.choice(TEXTS))
    elif kind < 0.65:
        QTest.keyClick(widget, chance.choice(KEYS), chance.choice(HELD))
    elif isinstance(widget, QComboBox):
        if widget.count():
            widget.activated.emit(chance.randrange(widget.count()))
    else:
        QTest.mousePress(widget, LEFT, Qt.KeyboardModifier.NoModifier, place)
        QTest.mouseMove(widget, QPoint(chance.randrange(widget.width()), chance.randrange(widget.height())))
        QTest.mouseRelease(widget, LEFT, Qt.KeyboardModifier.NoModifier, place)


@pytest.mark.parametrize(("seed", "demo"), [(2, "cloak"), (8, "cloak"), (3, "pier"), (5, "pier")])
def test_random_acts_cause_no_defect_and_undo_returns_the_start(
    opened: Opened, qapp: QApplication, monkeypatch: pytest.MonkeyPatch, seed: int, demo: str
) -> None:
    for ask in ("getSaveFileName", "getOpenFileName"):
        monkeypatch.setattr(QFileDialog, ask, lambda *_, **__: ("", ""))
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_, **__: "")
    for ask, answer in (("getInt", (2, True)), ("getText", ("1 m", True))):
        monkeypatch.setattr(QInputDialog, ask, lambda *_, answer=answer, **__: answer)
    monkeypatch.setattr(QColorDialog, "open", lambda self: self.reject())
    start = demo_build(demo)
    shell = opened(start)
    chance = random.Random(seed)
    for _ in range(ACTS):
        act(shell, chance)
        for dialog in shell.findChildren(QDialog):
            dialog.close()
        qapp.processEvents()
    shell.transport.stop()
    shell.long_work.stop()
    while shell.session.history.undo_label:
        shell.session.undo()
    assert shell.session.build == start
