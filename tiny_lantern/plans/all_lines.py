"""Feeds for several strips at once: the first plan of each line, one after another."""

from __future__ import annotations

from collections.abc import Callable

from tiny_lantern.model.build import Build, Load
from tiny_lantern.plans.feeds import plan_feeds
from tiny_lantern.plans.line import line_of


def feed_lines(
    build: Build,
    strip_ids: tuple[str, ...],
    load: Load,
    guard_shorts: bool = False,
    progress: Callable[[float], None] = lambda share: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> Build:
    """The build with the first plan for every line that any of some strips is on.

    Args:
        build: the build.
        strip_ids: the strips.
        load: the load in hand.
        guard_shorts: whether no short may be left standing.
        progress: told the share done, 0 to 1.
        cancelled: asked now and then whether to stop.

    Raises:
        LanternError: a line cannot be fed.
        CancelledError: asked to stop.
    """
    found, done = build, set[str]()
    for number, strip_id in enumerate(strip_ids):
        progress(number / len(strip_ids))
        if strip_id not in done:
            done |= line_of(build, strip_id).ids
            plans = plan_feeds(found, strip_id, load, cancelled=cancelled, guard_shorts=guard_shorts)
            found = plans[0].apply(found)
    return found
