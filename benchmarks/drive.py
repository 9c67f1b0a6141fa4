"""Any field of a build of 500 channels: from the edit to what is painted in Drive; a bar of the demo pier dragged; and
matching 60 lamps to pins.

Run by hand: ``.venv/bin/python benchmarks/drive.py``. Needs no display.
"""

from __future__ import annotations

import os
import tempfile
import time
from functools import partial
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Channel, PinNeed
from tiny_lantern.model.edits_drive import add_board, change_board, change_driver
from tiny_lantern.model.edits_pieces import add_piece
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.part import Part
from tiny_lantern.plans.pins import free_of, matched
from tiny_lantern.plans.ways import drive_piece, set_wanted
from tiny_lantern.ui import theme
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.opening import open_window
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.start import make_application

GROUPS, EACH, STEPS, WANTED_MS, MATCHED_MS, SETTLE_S = 10, 50, 60, 50.0, 200.0, 4.0
FRAME_MS = 1000 / 60


def large() -> Build:
    """Ten groups of fifty lamps on registers and sinks."""
    led = next(part for part in shelf() if part.id == "led-red-5mm")
    build = add_board(Build(), shelf().find(BoardPart, "board-8bit-large"))
    for number in range(GROUPS):
        piece = LampGroup(id=f"g{number}", name=f"Group {number}", part_id=led.id, lamp_count=EACH, spacing_m=0.02)
        build = add_piece(build, shelf().find(Part, led.id), piece)
        build = drive_piece(build, build.pieces[-1].id, "register" if number % 2 else "sink")
    return build


def bar_drag_ms() -> list[float]:
    """Each step of a drag of the pier's first bar, from the mouse to what is painted. [ms]"""
    _window, shell = open_window(Session(demo_build("pier"), drawer_path=Path(tempfile.mkdtemp()) / "parts.json"),
                  Path(tempfile.mkdtemp()))  # fmt: skip
    shell.session.warm_up()
    end = time.monotonic() + SETTLE_S
    while time.monotonic() < end:
        QApplication.processEvents()
    shell.show_station("Drive")
    QApplication.processEvents()
    canvas = shell.stack.drive().canvas
    layout = canvas.layout_now()
    assert layout is not None
    bar = layout.bars[1]
    start = QPoint(round(bar.middle), round(layout.y_of(bar.on_a)) + 2)
    QTest.mousePress(canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start)
    times = []
    for step in range(STEPS):
        began = time.perf_counter()
        QTest.mouseMove(canvas, start + QPoint(0, 6 + step % 40))
        QApplication.processEvents()
        times.append((time.perf_counter() - began) * 1000)
    moved = shell.session.dragging
    QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start)
    shell.close_at_once()
    assert moved, "the bar was not in the hand"
    return sorted(times)


def main() -> None:
    """Print the 95th percentile of each kind of edit, and the time of a matching."""
    application = make_application()
    theme.use_fonts(application)
    build = large()
    _window, shell = open_window(
        Session(build, drawer_path=Path(tempfile.mkdtemp()) / "parts.json"), Path(tempfile.mkdtemp())
    )
    shell.session.warm_up()
    end = time.monotonic() + SETTLE_S
    while time.monotonic() < end:
        application.processEvents()
    shell.show_station("Drive")
    application.processEvents()
    channel: Channel = build.channels[70]
    edits = {
        "wanted current": lambda n: partial(set_wanted, channel_id=channel.id, wanted_a=0.005 + n * 1e-5),
        "setting resistor": lambda n: partial(change_driver, driver_id=build.drivers[0].id, rext_ohm=1000.0 + n),
        "air around it": lambda n: partial(change_board, board_id=build.boards[0].id, ambient_c=20.0 + n / 10),
    }
    print(f"{len(build.channels)} channels")
    for name, edit in edits.items():
        times = []
        for step in range(STEPS):
            began = time.perf_counter()
            shell.session.apply(name, edit(step))
            while shell.stack.drive().solution.build is not shell.session.build:
                application.processEvents()
            application.processEvents()
            times.append((time.perf_counter() - began) * 1000)
        worst = sorted(times)[int(0.95 * STEPS)]
        print(f"{name:18} 95th percentile {worst:6.1f} ms, wanted {WANTED_MS:.0f} ms, ratio {worst / WANTED_MS:.2f}")
    shell.close_at_once()
    dragged = bar_drag_ms()[int(0.95 * STEPS)]
    ratio = dragged / FRAME_MS
    print(f"a bar of the pier  95th percentile {dragged:6.1f} ms, wanted {FRAME_MS:.1f} ms, ratio {ratio:.2f}")
    part = shelf().find(BoardPart, "board-8bit-large")
    needs = [PinNeed("a", f"dim {n}", True) for n in range(15)] + [PinNeed("b", f"lamp {n}") for n in range(45)]
    began = time.perf_counter()
    found = matched(needs, free_of(part, build.boards[0], {}, set()))
    took = (time.perf_counter() - began) * 1000
    print(
        f"60 lamps matched to pins {took:.0f} ms, wanted {MATCHED_MS:.0f} ms, ratio {took / MATCHED_MS:.2f}",
        bool(found),
    )


if __name__ == "__main__":
    main()
