"""Random mouse and keys all over the window: no defect, and undo all the way back to the start."""

import random
from functools import reduce

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

from tests.support.effort import SOAK
from tests.ui.conftest import Opened
from tests.ui.driving import LEFT, type_into
from tiny_lantern.model.edits_pieces import remove_piece
from tiny_lantern.ui.declared.registry import commands, stations
from tiny_lantern.ui.files import DEMOS, demo_build
from tiny_lantern.ui.history import MOST_STEPS
from tiny_lantern.ui.shell import Shell

KEYS = [
    Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Delete, Qt.Key.Key_Return,
    Qt.Key.Key_Escape, Qt.Key.Key_A, Qt.Key.Key_N, Qt.Key.Key_0, Qt.Key.Key_End, Qt.Key.Key_Insert,
]  # fmt: skip
HELD = [Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.AltModifier]
TEXTS = ["5ft", "18 AWG", "banana", "0", "1e9", "-3", "2 m / 3 m", "10, 20", "0-50", "25%", "", "none"]
ACTS = 125 * SOAK
LEAVE = {"close", "quit"}


def act(shell: Shell, chance: random.Random) -> None:
    """One thing that a person might do."""
    kind = chance.random()
    if kind < 0.06:
        shell.show_station(chance.choice(stations()).title)
    elif kind < 0.12:
        chance.choice([shell.session.undo, shell.session.redo])()
    elif kind < 0.16:
        another_build(shell, chance)
    elif kind < 0.18:
        shell.window().resize(chance.randrange(1024, 1500), chance.randrange(700, 1000))
    elif kind < 0.24:
        command = chance.choice([command for command in commands() if command.id not in LEAVE])
        shell.actions_by_id[command.id].trigger()
    else:
        touch(shell, chance)


def another_build(shell: Shell, chance: random.Random) -> None:
    """Another build, or this one with every piece, or only what is fed, taken out."""
    way = chance.randrange(4)
    if way == 0:
        shell.files.new()
    elif way == 1:
        shell.files.open_demo(chance.choice([name for name, _ in DEMOS]))
    elif shell.session.build.pieces:
        pieces = shell.session.build.pieces if way == 2 else shell.session.build.strips
        ids = tuple(piece.id for piece in pieces)
        shell.session.apply("Removed pieces", lambda build: reduce(remove_piece, ids, build))


def touch(shell: Shell, chance: random.Random) -> None:
    """A key, a click, a drag or typing somewhere in the window."""
    widgets = [
        w
        for w in shell.window().findChildren(QWidget)
        if w.isVisible() and w.isEnabled() and min(w.width(), w.height()) > 3
    ]
    widget = chance.choice([w for w in widgets if not isinstance(w, QToolButton)])
    place = QPoint(chance.randrange(widget.width()), chance.randrange(widget.height()))
    kind = chance.random()
    if kind < 0.2:
        type_into(chance.choice([w for w in widgets if isinstance(w, QLineEdit)] or [widget]), chance.choice(TEXTS))
    elif kind < 0.5:
        QTest.keyClick(widget, chance.choice(KEYS), chance.choice(HELD))
    elif isinstance(widget, QComboBox):
        if widget.count():
            widget.activated.emit(chance.randrange(widget.count()))
    else:
        QTest.mousePress(widget, LEFT, Qt.KeyboardModifier.NoModifier, place)
        QTest.mouseMove(widget, QPoint(chance.randrange(widget.width()), chance.randrange(widget.height())))
        QTest.mouseRelease(widget, LEFT, Qt.KeyboardModifier.NoModifier, place)


@pytest.mark.parametrize(
    ("seed", "demo"),
    [(2, "cloak"), (8, "cloak"), (3, "pier"), (5, "pier"), (1, "footbridge"), (6, "footbridge"), (4, None), (7, None)],
)
def test_random_acts_cause_no_defect_and_undo_returns_the_start(
    opened: Opened, qapp: QApplication, monkeypatch: pytest.MonkeyPatch, seed: int, demo: str | None
) -> None:
    for ask in ("getSaveFileName", "getOpenFileName"):
        monkeypatch.setattr(QFileDialog, ask, lambda *_, **__: ("", ""))
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_, **__: "")
    for ask, answer in (("getInt", (2, True)), ("getText", ("1 m", True)), ("getMultiLineText", ("x", True))):
        monkeypatch.setattr(QInputDialog, ask, lambda *_, answer=answer, **__: answer)
    monkeypatch.setattr(QColorDialog, "open", lambda self: self.reject())
    shell = opened(demo_build(demo) if demo else None)
    start = [shell.session.build]
    shell.session.opened.connect(lambda: start.append(shell.session.build))
    chance = random.Random(seed)
    for _ in range(ACTS):
        act(shell, chance)
        for dialog in shell.window().findChildren(QDialog):
            dialog.close()
        if shell.alone is not None:
            shell.alone.close()
        qapp.processEvents()
    shell.transport.stop()
    shell.long_work.stop()
    deep = shell.session.history.depth < MOST_STEPS
    while shell.session.history.undo_label:
        shell.session.undo()
    assert shell.session.build == start[-1] or not deep
