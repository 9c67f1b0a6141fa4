"""Loading what the first paint does not need, in a thread, while the window already answers."""

from __future__ import annotations

from collections.abc import Callable
from importlib import import_module

from tiny_lantern.ui.background import Background, Work

FOR_CURVES = ("scipy.linalg.lapack", "tiny_lantern.show.solved")
FOR_RESULTS = (
    "tiny_lantern.findings.judge",
    "tiny_lantern.plans.feeds",
    "tiny_lantern.show.glow",
    "tiny_lantern.light.spill",
    "tiny_lantern.plans.ways",
)
FOR_LATER = ("tiny_lantern.sheets.sheet", "tiny_lantern.sheets.moving")


def warm_up(
    background: Background,
    solvable: Callable[[], None],
    ready: Callable[[], None],
    failed: Callable[[Exception], None],
) -> None:
    """Load once, first what the curves need.

    Args:
        background: where it is loaded.
        solvable: called when the copper can be solved.
        ready: called when results can be worked out and drawn.
        failed: called with what went wrong.
    """

    def loaded(_: object) -> None:
        ready()
        background.start("warm-up", importing(FOR_LATER), lambda _: None, failed)

    def curves(_: object) -> None:
        solvable()
        background.start("warm-up", importing(FOR_RESULTS), loaded, failed)

    background.start("warm-up", importing(FOR_CURVES), curves, failed)


def importing(names: tuple[str, ...]) -> Work:
    """Work that imports modules for the time it takes."""

    def work(progress: Callable[[float], None], cancelled: Callable[[], bool]) -> None:
        for name in names:
            import_module(name)

    return work
