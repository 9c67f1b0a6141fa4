"""Loading what the first paint does not need, in a thread, while the window already answers."""

from __future__ import annotations

from collections.abc import Callable
from importlib import import_module

from tiny_lantern.ui.background import Background, Work

FOR_RESULTS = (
    "tiny_lantern.findings.judge",
    "tiny_lantern.show.solved",
    "tiny_lantern.plans.feeds",
    "tiny_lantern.show.glow",
    "tiny_lantern.light.spill",
    "tiny_lantern.plans.ways",
)
FOR_LATER = ("tiny_lantern.sheets.sheet", "tiny_lantern.sheets.moving")


def warm_up(background: Background, ready: Callable[[], None], failed: Callable[[Exception], None]) -> None:
    """Load once.

    Args:
        background: where it is loaded.
        ready: called when results can be worked out and drawn.
        failed: called with what went wrong.
    """

    def loaded(_: object) -> None:
        ready()
        background.start("warm-up", importing(FOR_LATER), lambda _: None, failed)

    background.start("warm-up", importing(FOR_RESULTS), loaded, failed)


def importing(names: tuple[str, ...]) -> Work:
    """Work that imports modules for the time it takes."""

    def work(progress: Callable[[float], None], cancelled: Callable[[], bool]) -> None:
        for name in names:
            import_module(name)

    return work
