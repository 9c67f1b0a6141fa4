"""A second process for heavy analysis, so that the window keeps its interpreter to itself.

Tasks are functions of the core with arguments that can be sent; the helper is this program's own child and ends with
it.
"""

from __future__ import annotations

import os
import signal
import subprocess
import sys
from collections.abc import Callable
from functools import partial
from multiprocessing.connection import Connection, Pipe
from pathlib import Path
from typing import Any

from tiny_lantern.model.base import with_known_members
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import CancelledError, LanternError

Progress = Callable[[float], None]
Cancelled = Callable[[], bool]
LOOK_S = 0.02
MEEK = 5
ROOT = Path(__file__).parents[1]


class HelperGoneError(RuntimeError):
    """The helper ended before its task was done."""


class Helper:
    """One child process that does one task after another. Started when it is made.

    Raises:
        OSError: it cannot be started.
    """

    def __init__(self) -> None:
        self._pipe, far = Pipe()
        far_stop, self._stop = Pipe(duplex=False)
        script = f"from tiny_lantern.helper import serve; serve({far.fileno()}, {far_stop.fileno()})"
        path = os.pathsep.join(filter(None, (str(ROOT), os.environ.get("PYTHONPATH"))))
        self._process = subprocess.Popen(
            [sys.executable, "-c", script], pass_fds=(far.fileno(), far_stop.fileno()), stdin=subprocess.DEVNULL,
            env={**os.environ, "PYTHONPATH": path},
        )  # fmt: skip
        far.close()
        far_stop.close()
        self._tasks = 0

    def run(self, function: Callable[..., Any], args: tuple[Any, ...], progress: Progress, cancelled: Cancelled) -> Any:
        """Do a task there and wait for its result.

        Args:
            function: called with the arguments and then with ``progress`` and ``cancelled``.
            args: what can be pickled.
            progress: told the share done, 0 to 1.
            cancelled: asked all the while whether to stop.

        Raises:
            CancelledError: it was stopped.
            HelperGoneError: the helper ended.
        """
        try:
            self._tasks += 1
            self._pipe.send((self._tasks, function, args))
            asked = False
            while True:
                if not asked and cancelled():  # asked first: a task that tells much must not drown it
                    self._stop.send(self._tasks)
                    asked = True
                if self._pipe.poll(LOOK_S):
                    kind, value = self._pipe.recv()
                    if kind == "done":
                        return value
                    if kind == "failed":
                        raise value
                    progress(value)
        except (EOFError, OSError) as error:
            raise HelperGoneError("the helper process ended") from error

    def close(self) -> None:
        """End it, whatever it is doing; a task that waits for it is told so."""
        self._process.kill()
        self._process.wait()


class Stops:
    """Which task was last asked to stop; one may be asked before the child has even taken it up."""

    def __init__(self, pipe: Connection) -> None:
        self._pipe, self._latest = pipe, 0

    def told(self, number: int) -> bool:
        """Whether a task is to stop.

        Args:
            number: its number, counted from 1. [-]
        """
        while self._pipe.poll():
            self._latest = self._pipe.recv()
        return self._latest >= number


def serve(pipe_handle: int, stop_handle: int) -> None:
    """What the child does: tasks until the pipe closes.

    Args:
        pipe_handle: file descriptor of the pipe for tasks and results. [-]
        stop_handle: file descriptor of the pipe on which a running task is stopped. [-]
    """
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    os.nice(MEEK)
    pipe, stops = Connection(pipe_handle), Stops(Connection(stop_handle))
    known: Build | None = None

    def progress(share: float) -> None:
        pipe.send(("progress", share))

    while True:
        try:
            number, function, args = pipe.recv()
        except (EOFError, OSError):
            return
        args = tuple(with_known_members(arg, known) if isinstance(arg, Build) else arg for arg in args)
        known = next((arg for arg in args if isinstance(arg, Build)), known)
        _answer(pipe, partial(function, *args, progress, partial(stops.told, number)))


def _answer(pipe: Connection, task: Callable[[], Any]) -> None:
    try:
        answer = ("done", task())
    except (CancelledError, LanternError) as error:
        answer = ("failed", error)
    except Exception as error:  # noqa: BLE001 - a defect travels to the window, which logs and tells it
        answer = ("failed", error)
    try:
        pipe.send(answer)
    except (BrokenPipeError, OSError):
        return
