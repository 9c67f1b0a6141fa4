"""The window that people get, whole at once: for pictures, tests and benchmarks. ``start`` makes the same in steps."""

from __future__ import annotations

from pathlib import Path

from tiny_lantern.ui import theme
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.shell import Shell
from tiny_lantern.ui.window import Window


def open_window(
    session: Session, drafts: Path | None = None, size: tuple[int, int] = theme.USUAL
) -> tuple[Window, Shell]:
    """The program's window on a session, shown, and what is in it; it stays while the first of the two is kept.

    Args:
        session: the build in hand.
        drafts: folder of the drafts; the person's own when not given.
        size: width and height. [screen pixels]
    """
    window = Window(theme.PAPER)
    window.resize(*size)
    shell = Shell(session, drafts)
    for _ in window.furnish(shell, shell.steps()):
        pass
    window.show()
    return window, shell
