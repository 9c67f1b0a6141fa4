"""The real window for tests: opened on a build, solved, and gone without a trace afterwards."""

from __future__ import annotations

import gc
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PySide6.QtCore import QCoreApplication, QEvent, QSettings
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from tiny_lantern.model.build import Build
from tiny_lantern.ui import theme
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.shell import Shell

Opened = Callable[..., Shell]


@pytest.fixture(scope="session")
def qapp_cls() -> type[QApplication]:
    """The kind of application that pytest-qt makes."""
    return QApplication


@pytest.fixture(scope="session")
def what_was_there_before() -> Iterator[None]:
    """What the tests themselves are made of is not looked through each time a window is let go of."""
    gc.collect()
    gc.freeze()
    yield
    gc.unfreeze()


def _let_go(shell: Shell) -> None:
    shell.close()
    shell.deleteLater()


@pytest.fixture
def opened(qapp: QApplication, qtbot: QtBot, tmp_path: Path, what_was_there_before: None) -> Iterator[Opened]:
    """Opens windows; each is closed at the end and nothing of it may be left."""
    QSettings.setPath(QSettings.Format.NativeFormat, QSettings.Scope.UserScope, str(tmp_path / "settings"))
    QCoreApplication.setOrganizationName("tiny-lantern-tests")
    theme.use_fonts(qapp)
    shells: list[Shell] = []

    def open_window(build: Build | None = None, size: tuple[int, int] = (1280, 800), station: str = "Power") -> Shell:
        shell = Shell(Session(build, drawer_path=tmp_path / "parts.json"), drafts=tmp_path / "state" / "drafts")
        shells.append(shell)
        shell.resize(*size)
        shell.show()
        if build is not None:
            shell.show_station(station)
        shell.session.warm_up()
        qtbot.waitUntil(lambda: shell.session.solved is not None, timeout=20_000)
        return shell

    yield open_window
    while shells:
        _let_go(shells.pop())
    qapp.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    qapp.processEvents()
    for _ in range(3):
        if not qapp.topLevelWidgets():
            break
        gc.collect()
        qapp.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        qapp.processEvents()
    assert qapp.topLevelWidgets() == [], "a widget was left behind"
