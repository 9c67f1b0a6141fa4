"""How long the real window takes to follow one step of a drag: edit, solve, and redraw.

A feed is dragged on the demo and on 5,000 pixels, an effect and a strip on the demo.

Run by hand: ``.venv/bin/python benchmarks/drag.py``. Needs no display.
"""

from __future__ import annotations

import os
import tempfile
import time

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp()  # no draft among the person's own

import numpy as np
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_pieces import change_strip
from tiny_lantern.model.edits_power import add_feed
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.ui import theme
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.opening import open_window
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.shell import Shell
from tiny_lantern.ui.shots import wait_until
from tiny_lantern.ui.start import keep_loaded
from tiny_lantern.ui.stations.pieces import PiecesStation
from tiny_lantern.ui.stations.power import PowerStation
from tiny_lantern.ui.stations.weave import WeaveStation

STEPS = 120


def long_build(pixels: int) -> Build:
    """The footbridge with both rails long enough for so many pixels together, fed every few metres."""
    build = demo_build("footbridge")
    wire, fuse = build.shelf.of(WirePart)[0], build.shelf.of(FusePart)[0]
    for strip in build.strips:
        build = change_strip(build, strip.id, pixel_count=pixels // 2)
        length = pixels // 2 * strip.pitch_m
        for place in np.linspace(2, length, 15):
            build = add_feed(build, build.supplies[0].id, strip.id, float(place), wire, 3.0, fuse)
    return revise(build, name=f"{pixels} pixels")


def drag_steps(application: QApplication, widget: QWidget, start: QPoint, step: QPoint) -> np.ndarray:
    """Time of each step of a drag that is then given up: on the clock, and of this thread's work. (n_steps, 2) [ms]"""
    QTest.mousePress(widget, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start)
    times = []
    for number in range(STEPS):
        begin = time.perf_counter(), time.thread_time()
        QTest.mouseMove(widget, start + QPoint(20, 0) + step * number)
        application.processEvents()
        times.append((time.perf_counter() - begin[0], time.thread_time() - begin[1]))
    QTest.keyClick(widget, Qt.Key.Key_Escape)
    QTest.mouseRelease(widget, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start)
    return np.array(times) * 1000


def feed_grip(shell: Shell) -> tuple[QWidget, QPoint]:
    """The first feed's post."""
    station = shell.stack.currentWidget()
    assert isinstance(station, PowerStation)
    return station.posts, QPoint(round(station.posts.feed_x(shell.session.build.feeds[0]) or 0) + 3, 60)


def effect_grip(shell: Shell) -> tuple[QWidget, QPoint]:
    """The middle of the second effect."""
    station = shell.stack.currentWidget()
    assert isinstance(station, WeaveStation)
    return station.canvas, station.canvas.effect_box(shell.session.build.effects[1]).center().toPoint()


def strip_grip(shell: Shell) -> tuple[QWidget, QPoint]:
    """The first strip in the picture, on its thirtieth light."""
    station = shell.stack.currentWidget()
    assert isinstance(station, PiecesStation)
    return station.picture, station.picture.spot_of(30).toPoint()


DRAGS = (
    ("feed", "Power", feed_grip, QPoint(1, 0), "footbridge", 16),
    ("effect", "Weave", effect_grip, QPoint(2, 2), "footbridge", 16),
    ("strip", "Pieces", strip_grip, QPoint(1, 1), "footbridge", 16),
    ("feed", "Power", feed_grip, QPoint(1, 0), "5000 pixels", 50),
)


def main() -> None:
    """Print median and 95th percentile of each drag; where others use the machine, the thread's own work tells more."""
    application = QApplication([])
    theme.use_fonts(application)
    for what, station, grip, step, name, wanted in DRAGS:
        _window, shell = open_window(Session(long_build(5000) if name == "5000 pixels" else demo_build(name)))
        shell.session.background.ended.connect(keep_loaded)
        shell.session.warm_up()
        wait_until(application, lambda shell=shell: shell.session.draw is not None and bool(shell.session.findings))
        shell.show_station(station)
        application.processEvents()
        times = drag_steps(application, *grip(shell), step)
        clock, work = np.percentile(times, 95, axis=0)
        print(
            f"{what:<6} on {name:<12} median {np.median(times[:, 0]):5.1f} ms, 95th percentile {clock:5.1f} ms, "
            f"wanted {wanted} ms, ratio {clock / wanted:.2f} (its own work {work:5.1f} ms, ratio {work / wanted:.2f})"
        )
        shell.close_at_once()


if __name__ == "__main__":
    main()
