"""Dragging a piece, and many together, in the picture of a pier of sixty pieces, beside a redraw 60 times a second.

Run by hand: ``.venv/bin/python benchmarks/pieces.py``. Needs no display.
"""

from __future__ import annotations

import os
import statistics
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QEvent, QPointF, Qt
from PySide6.QtGui import QMouseEvent
from PySide6.QtWidgets import QApplication

from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_layout import make_copies
from tiny_lantern.ui import theme
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.opening import open_window
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.shell import Shell
from tiny_lantern.ui.start import make_application

PIECES, STEPS, WANTED_MS, SETTLE_S = 60, 100, 16.0, 4.0


def large_pier() -> Build:
    """The demo with its lamps copied until there are sixty pieces."""
    build = demo_build("pier")
    lamps = [piece.id for piece in build.pieces if piece.kind in ("lamps", "hold")]
    number = 0
    while len(build.pieces) < PIECES:
        at = 0.3 * (number % 6 + 1), -0.4 * (number // 6 + 1)
        build = make_copies(build, lamps[number % len(lamps)], 1, *at)
        number += 1
    return build


def dragged_ms(application: QApplication, shell: Shell, slot: int) -> list[float]:
    """Each step of a drag that no grid holds back, from the mouse to what is painted. [ms]"""
    picture = shell.stack.pieces().picture
    start = picture.spot_of(slot)

    def send(kind: QEvent.Type, at: QPointF) -> None:
        held = Qt.MouseButton.LeftButton
        event = QMouseEvent(kind, at, picture.mapToGlobal(at), held, held, Qt.KeyboardModifier.AltModifier)
        application.sendEvent(picture, event)

    times = []
    send(QEvent.Type.MouseButtonPress, start)
    for step in range(STEPS):
        began = time.perf_counter()
        send(QEvent.Type.MouseMove, start + QPointF(5 + step, 3 + step / 2))
        application.processEvents()
        times.append((time.perf_counter() - began) * 1000)
    send(QEvent.Type.MouseButtonRelease, start)
    return sorted(times)


def main() -> None:
    """Print the median and the 95th percentile of each drag."""
    application = make_application()
    theme.use_fonts(application)
    build = large_pier()
    _window, shell = open_window(Session(build), Path(tempfile.mkdtemp()))
    shell.session.warm_up()
    end = time.monotonic() + SETTLE_S
    while time.monotonic() < end:
        application.processEvents()
    print(f"{len(build.pieces)} pieces, {build.line.slot_count} lights")
    spans = build.line.spans
    for name, chosen in (("one piece", spans[20:21]), ("25 together", spans[15:40])):
        shell.session.select_slot(spans[20].first)
        shell.session.select("pieces", *(span.piece.id for span in chosen))
        application.processEvents()
        times = dragged_ms(application, shell, spans[20].first + 1)
        worst = times[int(0.95 * STEPS)]
        print(
            f"{name:<12} median {statistics.median(times):5.1f} ms, 95th percentile {worst:5.1f} ms, "
            f"wanted {WANTED_MS:g} ms, ratio {worst / WANTED_MS:.2f}"
        )
    shell.close_at_once()


if __name__ == "__main__":
    main()
