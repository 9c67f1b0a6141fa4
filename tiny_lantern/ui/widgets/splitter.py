"""A splitter whose parts stay as large as the person left them, also in the next run."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QSettings, Qt
from PySide6.QtWidgets import QSplitter, QWidget


def remembered(key: str, parts: Sequence[QWidget], usual: Sequence[int]) -> QSplitter:
    """Parts one below the other, with bars between them that can be dragged.

    Args:
        key: under which their sizes are remembered.
        parts: from the top.
        usual: how high each is until the person drags a bar. [screen pixels]
    """
    made = QSplitter(Qt.Orientation.Vertical)
    made.setChildrenCollapsible(False)
    made.setHandleWidth(8)
    for part in parts:
        made.addWidget(part)
    made.setStretchFactor(len(parts) - 1, 1)
    stored = QSettings().value(f"splitters/{key}", None)
    sizes = [int(size) for size in stored] if isinstance(stored, list) and len(stored) == len(parts) else list(usual)
    made.setSizes(sizes)
    made.splitterMoved.connect(lambda *_: QSettings().setValue(f"splitters/{key}", made.sizes()))
    return made
