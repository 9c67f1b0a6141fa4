"""What Qt calls never ends the program: overrides are guarded, and no view keeps to what another build had."""

import logging
import sys
from importlib import import_module
from inspect import isclass
from pkgutil import walk_packages

import pytest
from PySide6.QtCore import QEvent, QObject, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

import tiny_lantern.ui
from tests.ui.conftest import Opened
from tests.ui.driving import power_of
from tiny_lantern.model.edits_pieces import remove_piece
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.guarded import guarded, is_guarded, overrides_of
from tiny_lantern.ui.start import catch_defects


def classes_of_the_window() -> list[type]:
    modules = [import_module(found.name) for found in walk_packages(tiny_lantern.ui.__path__, "tiny_lantern.ui.")]
    return [
        kind
        for module in modules
        for kind in vars(module).values()
        if isclass(kind) and kind.__module__ == module.__name__
    ]


def test_every_override_that_qt_calls_is_guarded() -> None:
    kinds = classes_of_the_window()
    bare = [
        f"{kind.__name__}.{name}" for kind in kinds for name in overrides_of(kind) if not is_guarded(vars(kind)[name])
    ]
    assert bare == []
    assert sum(len(overrides_of(kind)) for kind in kinds) > 80


@guarded
class Torn(QWidget):
    """Fails in whatever Qt asks of it."""

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor("red"))
        raise IndexError("torn while painting")

    def sizeHint(self) -> QSize:
        raise KeyError("torn while measured")

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        raise ValueError("torn while looking")


def test_an_error_in_an_override_is_logged_and_told_once_and_the_window_stays(
    qapp: QApplication, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    told: list[str] = []
    monkeypatch.setattr(sys, "excepthook", sys.excepthook)
    catch_defects(lambda error: told.append(error.sentence()))
    torn = Torn()
    other = QWidget(torn)
    other.installEventFilter(torn)
    with caplog.at_level(logging.ERROR):
        torn.show()
        assert torn.sizeHint() == QWidget().sizeHint()
        for _ in range(3):
            torn.repaint()
            QTest.keyClick(other, Qt.Key.Key_A)
        qapp.processEvents()
    torn.close()
    kinds = [record.exc_info[0] for record in caplog.records if record.exc_info]
    assert set(kinds) == {IndexError, KeyError, ValueError}
    assert len(kinds) == 3, "an error that comes again at the same place fills no log"
    assert any("torn while painting" in sentence for sentence in told)
    caplog.clear()


def test_a_new_build_after_a_look_at_power_shows_power(opened: Opened, qapp: QApplication) -> None:
    shell = opened(demo_build("footbridge"))
    power_of(shell)
    qapp.processEvents()
    for keys in ("Alt+1", "Ctrl+N", "Alt+2"):
        shell.actions_by_id[{"Alt+1": "station-1", "Ctrl+N": "new", "Alt+2": "station-2"}[keys]].trigger()
        qapp.processEvents()
    assert shell.session.build.pieces == ()
    assert power_of(shell).isVisible()


@pytest.mark.parametrize("all_of_them", [True, False])
def test_power_is_shown_after_its_strips_went_while_it_was_hidden(
    opened: Opened, qapp: QApplication, all_of_them: bool
) -> None:
    shell = opened(demo_build("footbridge"))
    power_of(shell)
    qapp.processEvents()
    shell.show_station("Pieces")
    strips = shell.session.build.strips if all_of_them else shell.session.build.strips[:1]
    for strip in strips:
        shell.session.apply("Removed", lambda build, strip=strip: remove_piece(build, strip.id))
    shell.window().resize(1300, 960)
    qapp.processEvents()
    table = power_of(shell).findChild(QWidget, "feedTable")
    qapp.processEvents()
    assert table is not None
    assert table.rowCount() == len(shell.session.build.feeds)  # type: ignore[attr-defined]
