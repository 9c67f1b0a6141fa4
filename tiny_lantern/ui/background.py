"""Work outside the window's thread: with progress, cancelled on request, superseded by newer work of its kind."""

from __future__ import annotations

import logging
import sys
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from threading import Event, Lock
from typing import Any

from PySide6.QtCore import QObject, Signal

from tiny_lantern.electrical.memo import Cache, remember_in
from tiny_lantern.helper import Helper, HelperGoneError
from tiny_lantern.model.errors import CancelledError, LanternError

Work = Callable[[Callable[[float], None], Callable[[], bool]], Any]
log = logging.getLogger(__name__)
THREADS = 2
HANDOVER_S = 0.0005  # the window waits for the interpreter no longer than this at each of its calls


class _Signals(QObject):
    """Only numbers cross the threads; results wait in the job itself."""

    progressed = Signal(int, float)
    ended = Signal(int)


class _Job:
    """One piece of work with what it came to; ``work`` is let go of once it ran, with all that it was given."""

    def __init__(self, number: int, kind: str, work: Work, cache: Cache, signals: _Signals) -> None:
        self.number, self.kind = number, kind
        self.cancel = Event()
        self.result: Any = None
        self.error: Exception | None = None
        self._work: Work | None = work
        self._cache, self._signals = cache, signals

    def run(self) -> None:
        """Do the work in a thread of its own."""
        work, self._work = self._work, None
        try:
            if self.cancel.is_set() or work is None:  # superseded while it waited for a thread
                raise CancelledError
            remember_in(self._cache)
            self.result = work(self._tell, self.cancel.is_set)
        except (CancelledError, LanternError) as error:
            self.error = error.with_traceback(None)  # whose frames would keep what was worked with
        except Exception as error:
            log.exception("defect in background work %s", self.kind)
            self.error = error.with_traceback(None)
        with suppress(RuntimeError):  # the window went while this ran
            self._signals.ended.emit(self.number)

    def _tell(self, share: float) -> None:
        try:
            self._signals.progressed.emit(self.number, share)
        except RuntimeError as error:  # the window went while this ran
            raise CancelledError from error


class Helpers:
    """Helper processes that are free, and all that were started; made when they are first needed."""

    def __init__(self) -> None:
        self._free: list[Helper] = []
        self._all: list[Helper] = []
        self._lock = Lock()

    def take(self) -> Helper | None:
        """One to use; None where no process can be started."""
        with self._lock:
            if self._free:
                return self._free.pop()
            try:
                self._all.append(Helper())
            except OSError:
                log.exception("no helper process")
                return None
            return self._all[-1]

    def give_back(self, helper: Helper) -> None:
        """It is free again."""
        with self._lock:
            self._free.append(helper)

    def drop(self, helper: Helper) -> None:
        """It has ended."""
        with self._lock:
            self._all = [other for other in self._all if other is not helper]
        helper.close()

    def close(self) -> None:
        """End them all."""
        with self._lock:
            for helper in self._all:
                helper.close()
            self._all, self._free = [], []


class Background(QObject):
    """Runs work by kind; a newer job of a kind cancels the one before, whose result is then dropped."""

    progressed = Signal(str, float)
    started = Signal(str)
    ended = Signal(str)

    def __init__(self, parent: QObject | None = None, cache: Cache | None = None) -> None:
        super().__init__(parent)
        self._cache = cache or Cache()
        sys.setswitchinterval(HANDOVER_S)
        self._pool = ThreadPoolExecutor(THREADS, "work")
        self._signals = _Signals(self)
        self._signals.progressed.connect(self._progress)
        self._signals.ended.connect(self._end)
        self._current: dict[str, _Job] = {}
        self._jobs: dict[int, tuple[_Job, Callable[[Any], None], Callable[[Exception], None]]] = {}
        self._count = 0
        self._closed = False
        self._helpers = Helpers()

    def start(self, kind: str, work: Work, done: Callable[[Any], None], failed: Callable[[Exception], None]) -> None:
        """Run work of a kind; ``done`` or ``failed`` is called in the window's thread unless it was superseded.

        Once closed, nothing is started any more.
        """
        if self._closed:
            return
        self.cancel(kind)
        self._count += 1
        job = _Job(self._count, kind, work, self._cache, self._signals)
        self._current[kind] = job
        self._jobs[job.number] = (job, done, failed)
        self.started.emit(kind)
        self._pool.submit(job.run)

    def start_task(
        self, kind: str, function: Callable[..., Any], args: tuple[Any, ...], heavy: bool,
        done: Callable[[Any], None], failed: Callable[[Exception], None],
    ) -> None:  # fmt: skip
        """Run a function of the core as ``start`` does; a heavy one in a process of its own.

        Args:
            kind: what newer work of it supersedes.
            function: called with the arguments, then with what it tells its progress and what it asks whether to stop.
            args: its arguments.
            heavy: whether it would slow the window down. A helper that is killed meanwhile is replaced once.
            done: called with its result.
            failed: called with what went wrong.
        """

        def here(progress: Callable[[float], None], cancelled: Callable[[], bool]) -> Any:
            return function(*args, progress, cancelled)

        def there(progress: Callable[[float], None], cancelled: Callable[[], bool]) -> Any:
            try:
                return self._helped(function, args, progress, cancelled)
            except HelperGoneError:
                log.warning("the helper process ended; %s begins anew in another one", kind)
                return self._helped(function, args, progress, cancelled)

        self.start(kind, there if heavy else here, done, failed)

    def _helped(
        self, function: Callable[..., Any], args: tuple[Any, ...],
        progress: Callable[[float], None], cancelled: Callable[[], bool],
    ) -> Any:  # fmt: skip
        """What a function gives in a helper; here where there can be none.

        Raises:
            HelperGoneError: the helper ended before it was done.
            CancelledError: nobody wants the result any more.
        """
        helper = self._helpers.take()
        if helper is None:
            return function(*args, progress, cancelled)
        try:
            result = helper.run(function, args, progress, cancelled)
        except HelperGoneError:
            self._helpers.drop(helper)
            if cancelled() or self._closed:
                raise CancelledError from None
            raise
        except BaseException:
            self._helpers.give_back(helper)
            raise
        self._helpers.give_back(helper)
        return result

    def cancel(self, kind: str) -> bool:
        """Ask the running work of a kind to stop; whether there was any."""
        job = self._current.pop(kind, None)
        if job is None:
            return False
        job.cancel.set()
        self.ended.emit(kind)
        return True

    def cancel_all(self) -> None:
        """Ask all running work to stop, but for what loads the program itself."""
        for kind in list(self._current):
            if kind != "warm-up":
                self.cancel(kind)

    def running(self, kind: str) -> bool:
        """Whether work of a kind is under way."""
        return kind in self._current

    def close(self) -> None:
        """Cancel everything and wait until the threads are free."""
        self._closed = True
        for kind in list(self._current):
            self.cancel(kind)
        self._helpers.close()
        self._pool.shutdown()

    def _end(self, number: int) -> None:
        job, done, failed = self._jobs.pop(number)
        if self._current.get(job.kind) is not job:
            return
        del self._current[job.kind]
        self.ended.emit(job.kind)
        if job.error is None:
            done(job.result)
        elif not isinstance(job.error, CancelledError):
            failed(job.error)

    def _progress(self, number: int, share: float) -> None:
        entry = self._jobs.get(number)
        if entry and self._current.get(entry[0].kind) is entry[0]:
            self.progressed.emit(entry[0].kind, share)
