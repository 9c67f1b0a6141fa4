"""The real window for tests: opened on a build, solved, and gone without a trace afterwards."""

from __future__ import annotations

import gc
import math
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PySide6.QtCore import QCoreApplication, QEvent, QSettings
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot
from pytestqt.wait_signal import SignalBlocker

from tiny_lantern.model.build import Build
from tiny_lantern.ui import theme
from tiny_lantern.ui.opening import open_window as open_as_people_do
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.shell import Shell
from tiny_lantern.ui.widgets import calm, in_view
from tiny_lantern.ui.window import Window

PATIENCE_MS = 120_000  # against hanging only: nothing depends on how fast the machine is
Opened = Callable[..., Shell]


class PatientBot(QtBot):
    """Waits for what holds, not for time; its ceiling is only against hanging."""

    def waitUntil(self, callback: Callable[[], object], *, timeout: int = PATIENCE_MS) -> None:
        """Run the window until something holds."""
        super().waitUntil(callback, timeout=timeout)

    def waitSignal(self, signal: object, *, timeout: int = PATIENCE_MS, **more: object) -> SignalBlocker:
        """A block that ends once a signal came."""
        return super().waitSignal(signal, timeout=timeout, **more)


@pytest.fixture
def qtbot(qapp: QApplication, request: pytest.FixtureRequest) -> PatientBot:
    """The bot of pytest-qt with patience."""
    return PatientBot(request)


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


def _let_go(window: Window) -> None:
    window.close()
    window.deleteLater()


@pytest.fixture(autouse=True)
def never_slow(monkeypatch: pytest.MonkeyPatch) -> None:
    """What is put off while a window is slow depends on the machine: it is put off only where a test says so."""
    monkeypatch.setattr(in_view, "SLOW_S", math.inf)
    monkeypatch.setattr(calm, "SLOW_S", math.inf)


@pytest.fixture
def opened(qapp: QApplication, qtbot: QtBot, tmp_path: Path, what_was_there_before: None) -> Iterator[Opened]:
    """Opens windows; each is closed at the end and nothing of it may be left."""
    QSettings.setPath(QSettings.Format.NativeFormat, QSettings.Scope.UserScope, str(tmp_path / "settings"))
    QCoreApplication.setOrganizationName("tiny-lantern-tests")
    theme.use_fonts(qapp)
    windows: list[Window] = []

    def open_window(build: Build | None = None, size: tuple[int, int] = (1280, 800), station: str = "Power") -> Shell:
        session = Session(build, drawer_path=tmp_path / "parts.json")
        window, shell = open_as_people_do(session, tmp_path / "state" / "drafts", size)
        windows.append(window)
        qtbot.waitExposed(window, timeout=PATIENCE_MS)
        if build is not None:
            shell.show_station(station)
        shell.session.warm_up()
        qtbot.waitUntil(lambda: shell.session.solved is not None)
        qapp.processEvents()
        return shell

    yield open_window
    while windows:
        _let_go(windows.pop())
    qapp.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    qapp.processEvents()
    for _ in range(3):
        if not qapp.topLevelWidgets():
            break
        gc.collect()
        qapp.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        qapp.processEvents()
    assert qapp.topLevelWidgets() == [], "a widget was left behind"
