"""How long the real window takes to follow one step of a dragged feed: edit, solve, and redraw.

Run by hand: ``.venv/bin/python benchmarks/drag.py``. Needs no display.
"""

from __future__ import annotations

import os
import time

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_pieces import change_strip
from tiny_lantern.model.edits_power import add_feed
from tiny_lantern.ui import theme
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.shell import Shell
from tiny_lantern.ui.shots import wait_until
from tiny_lantern.ui.stations.power import PowerStation

STEPS = 120


def long_build(pixels: int) -> Build:
    """The footbridge with both rails long enough for so many pixels together, fed every few metres."""
    build = demo_build("footbridge")
    wire, fuse = build.parts.wires[0], build.parts.fuses[0]
    for strip in build.strips:
        build = change_strip(build, strip.id, pixel_count=pixels // 2)
        length = pixels // 2 * strip.pitch_m
        for place in np.linspace(2, length, 15):
            build = add_feed(build, build.supplies[0].id, strip.id, float(place), wire, 3.0, fuse)
    return revise(build, name=f"{pixels} pixels")


def drag_steps(application: QApplication, shell: Shell) -> np.ndarray:
    """Time of each step of a drag across half a strip. (n_steps,) [ms]"""
    station = shell.stack.currentWidget()
    assert isinstance(station, PowerStation)
    posts = station.posts
    start = QPoint(round(posts.feed_x(shell.session.build.feeds[0]) or 0) + 3, 60)
    QTest.mousePress(posts, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start)
    times = []
    for step in range(STEPS):
        begin = time.perf_counter()
        QTest.mouseMove(posts, start + QPoint(20 + step, 0))
        application.processEvents()
        times.append((time.perf_counter() - begin) * 1000)
    QTest.keyClick(posts, Qt.Key.Key_Escape)
    QTest.mouseRelease(posts, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start)
    return np.array(times)


def main() -> None:
    """Print median and 95th percentile for the demo and for 5,000 pixels."""
    application = QApplication([])
    theme.load_fonts()
    theme.apply_theme(application, theme.PAPER)
    for build, wanted in ((demo_build("footbridge"), 16), (long_build(5000), 50)):
        shell = Shell(Session(build))
        shell.show()
        shell.session.warm_up()
        wait_until(application, lambda shell=shell: shell.session.draw is not None and bool(shell.session.findings))
        times = drag_steps(application, shell)
        print(
            f"{build.name:<18} median {np.median(times):6.1f} ms, 95th percentile {np.percentile(times, 95):6.1f} ms, "
            f"wanted {wanted} ms, ratio {np.percentile(times, 95) / wanted:.2f}"
        )
        shell.files.close = lambda: None
        shell.close()


if __name__ == "__main__":
    main()
