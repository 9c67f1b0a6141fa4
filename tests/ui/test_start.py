"""Starting the program: timing, defects told, the demo lit."""

import gc
import logging
import os
import subprocess
import sys
from pathlib import Path

import pytest

from tiny_lantern.model.errors import LanternError
from tiny_lantern.ui import start

ROOT = Path(__file__).parents[2]


def started(*arguments: str, home: Path) -> subprocess.CompletedProcess[str]:
    """The program in a process of its own, closed once it is solved."""
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "HOME": str(home)}
    environment.pop("XDG_STATE_HOME", None)
    command = [sys.executable, "-m", "tiny_lantern.cli", "open", "--timing", "--quit-after-paint", *arguments]
    return subprocess.run(command, capture_output=True, text=True, env=environment, cwd=ROOT, check=False, timeout=60)


def test_the_demo_starts_paints_and_is_solved(tmp_path: Path) -> None:
    done = started("--demo", "footbridge", home=tmp_path)
    assert done.returncode == 0, done.stderr
    phases = [line.split("  ")[0] for line in done.stdout.splitlines()]
    assert phases == [
        "libraries and the model", "application", "theme and fonts", "window's modules", "first paint", "solved curves"
    ]  # fmt: skip


def test_the_model_is_loaded_before_qt() -> None:
    """Qt's binding reads the source of whatever comes after it."""
    script = "import sys, tiny_lantern.ui.start; print(*sys.modules, sep='\\n')"
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, cwd=ROOT, check=True)
    loaded = done.stdout.splitlines()
    assert max(map(loaded.index, ("numpy", "pydantic", "tiny_lantern.model.build"))) < loaded.index("PySide6")


def test_the_first_paint_waits_for_no_analysis() -> None:
    """SciPy takes longer to load than the whole window takes to paint."""
    script = (
        "import sys\n"
        "from tiny_lantern.ui.start import make_application\n"
        "from tiny_lantern.ui.files import demo_build\n"
        "from tiny_lantern.ui.session import Session\n"
        "from tiny_lantern.ui.shell import Shell\n"
        "application = make_application()\n"
        "shell = Shell(Session(demo_build('footbridge')))\n"
        "shell.show()\n"
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
