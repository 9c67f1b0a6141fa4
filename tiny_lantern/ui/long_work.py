"""Work that takes a while: the feed search and writing the show; followed in the transport, stopped on request."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject

from tiny_lantern.model.errors import LanternError
from tiny_lantern.ui.session import Session, as_lantern_error
from tiny_lantern.ui.widgets.transport import WorkBar

if TYPE_CHECKING:
    from tiny_lantern.findings.feed_plan import FeedPlan
    from tiny_lantern.model.build import Build

FOLLOWED = {"find-feeds": "Searching feeds", "render": "Writing the show"}
Progress = Callable[[float], None]
Cancelled = Callable[[], bool]


class LongWork(QObject):
    """Starts long work in the background and shows how far it is."""

    def __init__(self, session: Session, bar: WorkBar, tell: Callable[[LanternError], None]) -> None:
        super().__init__(bar)
        self._session, self._bar, self._tell = session, bar, tell
        bar.stop.clicked.connect(self.stop)
        session.background.started.connect(self._started)
        session.background.progressed.connect(self._progressed)
        session.background.ended.connect(self._ended)

    @property
    def running(self) -> bool:
        """Whether any of it is under way."""
        return any(self._session.background.running(kind) for kind in FOLLOWED)

    def find_feeds(self, strip_id: str, guard_shorts: bool) -> None:
        """Search; the outcome is one undoable step unless the build changed meanwhile."""
        from tiny_lantern.findings.feed_plan import plan_feeds  # loaded by the warm-up
        from tiny_lantern.show.loads import duties_for

        build, load = self._session.build, self._session.load

        def work(progress: Progress, cancelled: Cancelled) -> FeedPlan:
            return plan_feeds(build, strip_id, duties_for(build, load), progress, cancelled, guard_shorts)

        self._session.background.start("find-feeds", work, partial(self._found, build), self._failed)

    def render_show(self, path: Path) -> None:
        """Write the show as an animated picture or as a table of frames."""
        from tiny_lantern.model.store import write_atomically  # only when something is written
        from tiny_lantern.sheets.moving import frames_csv, save_gif

        build = self._session.build

        def work(progress: Progress, cancelled: Cancelled) -> None:
            if path.suffix == ".gif":
                save_gif(build, path, progress=progress, cancelled=cancelled)
            else:
                write_atomically(path, frames_csv(build, progress, cancelled).encode("utf-8"))

        self._session.background.start("render", work, lambda _: self._session.say(f"Wrote {path.name}."), self._failed)

    def stop(self) -> None:
        """Stop whatever is under way."""
        stopped = [self._session.background.cancel(kind) for kind in FOLLOWED]
        if any(stopped):
            self._session.say("Stopped; nothing was changed.")

    def _found(self, build: Build, plan: FeedPlan) -> None:
        if self._session.build is not build:
            self._session.say("The build changed while feeds were searched; search again.")
            return
        self._session.apply(f"Found {plan.summary}", plan.apply)

    def _failed(self, error: Exception) -> None:
        self._tell(as_lantern_error(error))

    def _started(self, kind: str) -> None:
        if kind in FOLLOWED:
            self._bar.begin(FOLLOWED[kind])

    def _progressed(self, kind: str, share: float) -> None:
        if kind in FOLLOWED:
            self._bar.follow(share)

    def _ended(self, kind: str) -> None:
        if kind in FOLLOWED:
            self._bar.end()
