"""Starting the program: timing, defects told, the demo lit."""

import gc
import logging
import os
import signal
import subprocess
import sys
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PySide6.QtGui import QCloseEvent
from PySide6.QtWidgets import QWidget
from pytestqt.qtbot import QtBot

from tests.ui.conftest import Opened
from tiny_lantern.model.errors import LanternError
from tiny_lantern.ui import start, theme
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.shell import Shell
from tiny_lantern.ui.window import Window

ROOT = Path(__file__).parents[2]
PATIENCE_S = 120


def started(*arguments: str, home: Path) -> subprocess.CompletedProcess[str]:
    """The program in a process of its own, closed once it is solved."""
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "HOME": str(home)}
    environment.pop("XDG_STATE_HOME", None)
    command = [sys.executable, "-m", "tiny_lantern.cli", "open", "--timing", "--quit-after-paint", *arguments]
    return subprocess.run(
        command, capture_output=True, text=True, env=environment, cwd=ROOT, check=False, timeout=PATIENCE_S
    )


def test_the_demo_starts_paints_and_is_solved(tmp_path: Path) -> None:
    done = started("--demo", "footbridge", home=tmp_path)
    assert done.returncode == 0, done.stderr
    phases = [line.split("  ")[0] for line in done.stdout.splitlines()]
    assert phases == ["Qt", "first paint", "model and modules", "build painted", "solved curves", "longest pause"]


def test_the_bare_window_waits_for_nothing_but_qt() -> None:
    script = "import sys, tiny_lantern.ui.start; print(*sys.modules, sep='\\n')"
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, cwd=ROOT, check=True)
    loaded = set(done.stdout.splitlines())
    assert "tiny_lantern.ui.window" in loaded
    assert not loaded & {"numpy", "pydantic", "tiny_lantern.model.build", "tiny_lantern.ui.shell"}


@pytest.mark.parametrize(("spared", "read"), [(True, 0), (False, 1)])
def test_the_toolkit_reads_no_source_once_it_is_spared(spared: bool, read: int) -> None:
    script = (
        "import inspect, PySide6.QtCore; from tiny_lantern.ui.unread import spare_the_reading; read = []; "
        f"{'spare_the_reading(); ' if spared else ''}"
        "inspect.getsource = lambda module: read.append(module) or ''; import colorsys; print(len(read))"
    )
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, cwd=ROOT, check=True)
    assert int(done.stdout) == read


def test_the_bare_window_shows_both_surfaces(qtbot: QtBot) -> None:
    window = Window(theme.PAPER)
    qtbot.addWidget(window)
    picture = window.grab().toImage()
    heights = (10, theme.TITLE_HEIGHT + 10, picture.height() // 2, picture.height() - 10)
    seen = [picture.pixelColor(600, height).name() for height in heights]
    assert seen == [theme.PAPER.paper, theme.NIGHT_GROUND, theme.PAPER.paper, theme.NIGHT_GROUND]


def test_a_bare_window_says_what_it_waits_for_until_that_is_there(qtbot: QtBot) -> None:
    window = Window(theme.PAPER)
    qtbot.addWidget(window)
    bare = window.grab().toImage()
    window.say_loading("Loading the effects …")
    waiting = window.grab().toImage()
    assert waiting != bare
    list(window.furnish(QWidget(), iter(())))
    window.say_loading("")
    assert window.grab().toImage() != waiting


@pytest.mark.parametrize("willing", [True, False])
def test_the_window_asks_what_it_shows_before_it_closes(qtbot: QtBot, willing: bool) -> None:
    class Content(QWidget):
        def closeEvent(self, event: QCloseEvent) -> None:
            event.setAccepted(willing)

    window = Window(theme.PAPER)
    qtbot.addWidget(window)
    content = Content()
    assert list(window.furnish(content, iter(()))) == [None, None]
    window.show()
    assert window.close() is willing
    assert window.isVisible() is not willing


@pytest.mark.parametrize("leave", [lambda shell: shell.actions_by_id["quit"].trigger(), Shell.close_at_once])
def test_leaving_closes_the_whole_window(opened: Opened, leave: Callable[[Shell], None]) -> None:
    shell = opened(demo_build("cloak"))
    window = shell.window()
    assert isinstance(window, Window)
    assert window.isVisible()
    leave(shell)
    assert not window.isVisible()


def test_a_step_that_fails_ends_the_program(monkeypatch: pytest.MonkeyPatch) -> None:
    ended: list[int] = []
    monkeypatch.setattr(start.QCoreApplication, "exit", ended.append)

    def steps() -> Iterator[None]:
        raise ZeroDivisionError
        yield

    with pytest.raises(ZeroDivisionError):
        start.take_steps(steps())
    assert ended == [1]


def test_the_first_paint_waits_for_no_analysis() -> None:
    """SciPy takes longer to load than the whole window takes to paint."""
    script = (
        "import sys\n"
        "from tiny_lantern.ui.start import make_application\n"
        "from tiny_lantern.ui.files import demo_build\n"
        "from tiny_lantern.ui.session import Session\n"
        "from tiny_lantern.ui.opening import open_window\n"
        "application = make_application()\n"
        "window, shell = open_window(Session(demo_build('footbridge')))\n"
        "application.processEvents()\n"
        "print(*sys.modules, sep='\\n')\n"
    )
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, cwd=ROOT, check=True)
    loaded = set(done.stdout.splitlines())
    assert "tiny_lantern.ui.stations.power" in loaded
    assert "scipy" not in loaded


def test_the_collector_passes_over_what_the_warm_up_loaded(monkeypatch: pytest.MonkeyPatch) -> None:
    froze: list[bool] = []
    monkeypatch.setattr(gc, "freeze", lambda: froze.append(True))
    start.keep_loaded("solve")
    assert not froze
    start.keep_loaded("warm-up")
    assert froze


def test_a_bad_file_opens_the_window_all_the_same(tmp_path: Path) -> None:
    (tmp_path / "bad.lantern").write_text("{")
    done = started(str(tmp_path / "bad.lantern"), home=tmp_path)
    assert done.returncode == 0, done.stderr
    assert "Traceback" not in done.stderr


def test_a_defect_is_logged_whole_and_told_plainly(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    monkeypatch.setattr(start, "user_log_path", lambda *_, **__: tmp_path / "log")
    monkeypatch.setattr(sys, "excepthook", sys.excepthook)
    told: list[LanternError] = []
    start.catch_defects(told.append)
    try:
        raise ZeroDivisionError("by nothing")
    except ZeroDivisionError as error:
        with caplog.at_level(logging.ERROR):
            sys.excepthook(type(error), error, error.__traceback__)
    assert "ZeroDivisionError: by nothing" in told[0].what
    assert "your build is kept" in told[0].accepted
    assert "test_start.py" in caplog.text


def test_ctrl_c_in_the_terminal_ends_the_program_in_good_order(tmp_path: Path) -> None:
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "HOME": str(tmp_path)}
    environment.pop("XDG_STATE_HOME", None)
    command = [sys.executable, "-u", "-m", "tiny_lantern.cli", "open", "--timing", "--demo", "footbridge"]
    with subprocess.Popen(
        command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, env=environment, cwd=ROOT
    ) as program:
        assert program.stdout is not None
        assert program.stderr is not None
        while not program.stdout.readline().startswith(b"solved"):
            assert program.poll() is None
        program.send_signal(signal.SIGINT)
        assert program.wait(PATIENCE_S) == 0
        assert [line for line in program.stderr.read().splitlines() if b"propagateSizeHints" not in line] == []


def test_the_window_with_its_title_fits_the_screen(qtbot: QtBot) -> None:
    window = Window(theme.PAPER)
    qtbot.addWidget(window)
    assert theme.SMALLEST[1] <= window.height() <= theme.USUAL[1]
    assert window.height() < window.screen().availableSize().height(), "its title has room above it"
