"""Starting the window."""

from __future__ import annotations

import gc
import logging
import os
import signal
import socket
import sys
from collections.abc import Callable, Iterator
from contextlib import suppress
from dataclasses import dataclass
from logging.handlers import RotatingFileHandler
from pathlib import Path
from traceback import walk_tb
from types import TracebackType

from platformdirs import user_log_path
from PySide6.QtCore import QCoreApplication, QSettings, QSocketNotifier, Qt, QTimer
from PySide6.QtWidgets import QApplication

from tiny_lantern.model.errors import LanternError, told_plainly
from tiny_lantern.stopwatch import Stopwatch
from tiny_lantern.ui import theme
from tiny_lantern.ui.loading import Loading
from tiny_lantern.ui.pauses import Pauses
from tiny_lantern.ui.unread import spare_the_reading
from tiny_lantern.ui.window import Window

DEMO_FROM_S = 9.0
STEP_MS = 1
SETTLED_MS, LONG_MS = 800, 1000
ENDING = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)
LOG_NAME, LOG_BYTES, LOGS_KEPT = "defects.log", 1_000_000, 3


def catch_defects(tell: Callable[[LanternError], None]) -> None:
    """A defect is logged whole and told plainly; the window and the build in it stay. What fails at one place time and
    again, such as painting, is logged there once.

    Args:
        tell: shows a message.
    """
    folder = user_log_path("tiny-lantern", appauthor=False)
    with suppress(OSError):
        folder.mkdir(parents=True, exist_ok=True)
        keep = RotatingFileHandler(folder / LOG_NAME, maxBytes=LOG_BYTES, backupCount=LOGS_KEPT, delay=True)
        logging.basicConfig(handlers=[keep], format="%(asctime)s %(name)s %(message)s")

    known: set[tuple[str, int]] = set()

    def hook(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        if issubclass(kind, KeyboardInterrupt):
            sys.__excepthook__(kind, error, trace)
            return
        if place_of(trace) not in known:
            known.add(place_of(trace))
            logging.getLogger("tiny_lantern").error("a defect", exc_info=(kind, error, trace))
        tell(told_plainly(error, f"logged in {folder / LOG_NAME}"))

    sys.excepthook = hook


def place_of(trace: TracebackType | None) -> tuple[str, int]:
    """The file and the line where an error arose."""
    frames = list(walk_tb(trace))
    return (frames[-1][0].f_code.co_filename, frames[-1][1]) if frames else ("", 0)


def close_on_signals(close: Callable[[], None]) -> Callable[[], None]:
    """Close in good order when the system, or Ctrl+C in the terminal, asks the program to end; gives what takes this
    back.

    Python handles a signal only between its own steps, so a socket wakes the event loop when one comes.

    Args:
        close: closes the window without asking.
    """
    ours, theirs = socket.socketpair()
    for side in (ours, theirs):
        side.setblocking(False)
    before = signal.set_wakeup_fd(theirs.fileno(), warn_on_full_buffer=False)
    kept = {number: signal.signal(number, lambda *_: None) for number in ENDING}
    notifier = QSocketNotifier(ours.fileno(), QSocketNotifier.Type.Read)

    def woken() -> None:
        names = ours.recv(64)
        if any(number in kept for number in names):
            close()

    notifier.activated.connect(woken)

    def end() -> None:
        notifier.setEnabled(False)
        signal.set_wakeup_fd(before)
        for number, handler in kept.items():
            signal.signal(number, handler)
        ours.close()
        theirs.close()

    return end


def keep_loaded(kind: str) -> None:
    """What a warm-up has loaded stays for good: passing over it saves the collector a pause that a drag would show."""
    if kind == "warm-up":
        gc.freeze()


def make_application() -> QApplication:
    """The application object with the shipped font.

    Raises:
        LanternError: there is no screen to show a window on.
    """
    running = QApplication.instance()
    if isinstance(running, QApplication):
        return running
    screenless = not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY"))
    if sys.platform == "linux" and screenless and not os.environ.get("QT_QPA_PLATFORM"):
        raise LanternError(
            "there is no screen here to open a window on", "DISPLAY",
            "a desktop session; or “xvfb-run -a make demo”; or the commands that need no window: tiny-lantern --help",
        )  # fmt: skip
    QCoreApplication.setOrganizationName("tiny-lantern")
    QCoreApplication.setApplicationName("tiny-lantern")
    return QApplication(sys.argv[:1])


@dataclass(frozen=True)
class Wanted:
    """What the program is asked to open, and how."""

    path: Path | None = None
    demo: str | None = None
    night: bool = False
    quit_after_paint: bool = False


def run(path: Path | None, demo: str | None, watch: Stopwatch, quit_after_paint: bool = False) -> int:
    """Open the window and stay until it closes; returns the exit status.

    The bare window is painted first; what it shows is loaded in a thread and made in short steps.
    """
    application = make_application()
    spare_the_reading()
    night = bool(QSettings().value("night", False, bool))
    window = Window(theme.NIGHT if night else theme.PAPER)
    window.show()
    application.processEvents()
    watch.mark("first paint")
    pauses = Pauses(window)
    theme.use_fonts(application)
    loading = Loading(window)
    QTimer.singleShot(LONG_MS, window, lambda: window.say_loading("Loading the parts, the effects and the stations …"))

    def loaded() -> None:
        if loading.fault is not None:
            application.exit(1)
            raise loading.fault
        watch.mark("model and modules")
        take_steps(furnish(window, Wanted(path, demo, night, quit_after_paint), watch, pauses))

    loading.finished.connect(loaded)
    loading.start()
    status = application.exec()
    loading.wait()
    return status


def take_steps(steps: Iterator[None]) -> None:
    """Take one step after the other, with room for the window to answer between; a bare window is not left behind."""

    def step() -> None:
        try:
            more = next(steps, steps) is None
        except Exception:
            QCoreApplication.exit(1)
            raise
        if more:
            QTimer.singleShot(STEP_MS, step)

    step()


def furnish(window: Window, wanted: Wanted, watch: Stopwatch, pauses: Pauses) -> Iterator[None]:
    """Make what the window shows, put it in and set the first analyses going.

    Yields:
        Between two short steps.
    """
    from tiny_lantern.ui.files import demo_build  # loaded in a thread by now, as are the next two
    from tiny_lantern.ui.session import Session
    from tiny_lantern.ui.shell import Shell

    session = Session(demo_build(wanted.demo) if wanted.demo else None)
    if wanted.demo:
        session.set_time(DEMO_FROM_S)
    shell = Shell(session)
    yield from window.furnish(shell, shell.steps())
    if wanted.night:
        shell.set_theme(theme.NIGHT)
    if wanted.path is not None and not shell.files.open(wanted.path):
        shell.stack.greet()
    yield
    QCoreApplication.processEvents()  # painted before the warm-up shares the interpreter with the painter
    watch.mark("build painted")
    gc.freeze()
    gc.enable()
    catch_defects(shell.tell)

    def solved() -> None:
        watch.mark("solved curves")
        if wanted.demo:
            shell.transport.play.setChecked(True)
        QTimer.singleShot(SETTLED_MS, settled)

    def settled() -> None:
        watch.tell("longest pause", pauses.longest_s)
        pauses.stop()
        if wanted.quit_after_paint:
            window.close()

    end = close_on_signals(shell.close_at_once)
    application = QCoreApplication.instance()
    assert application is not None
    application.aboutToQuit.connect(end)
    session.background.ended.connect(keep_loaded)
    QTimer.singleShot(0, session.warm_up)
    if session.build.pieces:
        QTimer.singleShot(0, shell.files.look_for_drafts)
    session.solved_changed.connect(solved, type=Qt.ConnectionType.SingleShotConnection)
