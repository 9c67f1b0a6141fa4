"""Work that takes a while: the feed search and writing the show; followed in the transport, stopped on request."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject

from tiny_lantern.model.errors import LanternError, told_plainly
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.ui import theme
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.transport import WorkBar

if TYPE_CHECKING:
    from tiny_lantern.model.build import Build
    from tiny_lantern.plans.feeds import FeedPlan
    from tiny_lantern.ui.widgets.plan_cards import PlanCards

FOLLOWED = {
    "find-feeds": "Searching feeds", "render": "Writing the show", "read-parts": "Reading parts",
    "export": "Writing the sheet", "code": "Writing the code", "edit": "Working on the build",
    "song": "Reading the song",
}  # fmt: skip
Progress = Callable[[float], None]
Cancelled = Callable[[], bool]


class LongWork(QObject):
    """Starts long work in the background and shows how far it is."""

    def __init__(
        self, session: Session, bar: WorkBar, tell: Callable[[LanternError], None], palette: Callable[[], theme.Palette]
    ) -> None:
        super().__init__(bar)
        self._session, self._bar, self._tell, self._palette = session, bar, tell, palette
        self.cards: PlanCards | None = None
        bar.stop.clicked.connect(self.stop)
        session.background.started.connect(self._started)
        session.background.progressed.connect(self._progressed)
        session.background.ended.connect(self._ended)

    @property
    def running(self) -> bool:
        """Whether any of it is under way."""
        return any(self._session.background.running(kind) for kind in FOLLOWED)

    def find_feeds(self, strip_ids: tuple[str, ...], guard_shorts: bool) -> None:
        """Search. Of one line plans are offered side by side; of several the first plan of each is taken, in one
        undoable step unless the build changed meanwhile."""
        from tiny_lantern.plans.all_lines import feed_lines  # loaded by the warm-up
        from tiny_lantern.plans.feeds import plan_feeds

        build, load = self._session.build, self._session.load
        if len(strip_ids) == 1:

            def offered(progress: Progress, cancelled: Cancelled) -> tuple[FeedPlan, ...]:
                return plan_feeds(build, strip_ids[0], load, progress, cancelled, guard_shorts, alternatives=True)

            self._session.background.start("find-feeds", offered, partial(self._offer, build), self._failed)
            return

        def all_lines(progress: Progress, cancelled: Cancelled) -> Build:
            return feed_lines(build, strip_ids, load, guard_shorts, progress, cancelled)

        self._session.background.start(
            "find-feeds", all_lines, partial(self._take_all, build, len(strip_ids)), self._failed
        )

    def render_show(self, path: Path) -> None:
        """Write the show as an animated picture, as arrays, or as a table of frames."""
        from tiny_lantern.sheets.moving import save_frames_csv, save_gif  # only when something is written
        from tiny_lantern.sheets.show_files import writer_for

        build = self._session.build

        def work(progress: Progress, cancelled: Cancelled) -> None:
            write = writer_for(path)
            if write is not None:
                write(build, path, progress, cancelled)
            elif path.suffix == ".gif":
                save_gif(build, path, progress=progress, cancelled=cancelled)
            else:
                save_frames_csv(build, path, progress, cancelled)

        self._session.background.start("render", work, lambda _: self._session.say(f"Wrote {path.name}."), self._failed)

    def stop(self) -> None:
        """Stop whatever is under way."""
        stopped = [self._session.background.cancel(kind) for kind in FOLLOWED]
        if any(stopped):
            self._session.say("Stopped; nothing was changed.")

    def _offer(self, build: Build, plans: tuple[FeedPlan, ...]) -> None:
        """Show the plans, for the build that they are of."""
        if self._session.build is not build:
            self._session.say("The build changed while feeds were searched; search again.")
            return
        from tiny_lantern.light.seen import voltage_floor  # loaded by the warm-up
        from tiny_lantern.ui.widgets.plan_cards import PlanCards

        part = next(part for part in build.shelf.of(StripPart) if part.id == plans[0].line.strips[0].part_id)
        window = self._bar.window()
        floor_v = max(voltage_floor(part, build.limits), plans[0].worst_v - plans[0].margin_v)
        self.cards = PlanCards(plans, build, floor_v, self._palette(), partial(self._take, build), window)
        self.cards.open()

    def _take(self, build: Build, plan: FeedPlan) -> None:
        if self._session.build is not build:
            self._session.say("The build changed while the plans were shown; search again.")
            return
        self._session.apply(f"Found {plan.summary}", plan.apply)

    def _take_all(self, build: Build, count: int, found: Build) -> None:
        if self._session.build is not build:
            self._session.say("The build changed while feeds were searched; search again.")
            return
        self._session.apply(f"Found feeds for {count} strips", lambda _: found)

    def _failed(self, error: Exception) -> None:
        self._tell(told_plainly(error))

    def _started(self, kind: str) -> None:
        if kind in FOLLOWED:
            self._bar.begin(FOLLOWED[kind])

    def _progressed(self, kind: str, share: float) -> None:
        if kind in FOLLOWED:
            self._bar.follow(share)

    def _ended(self, kind: str) -> None:
        if kind in FOLLOWED:
            self._bar.end()
