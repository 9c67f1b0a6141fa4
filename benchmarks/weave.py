"""The show as a whole: frames beside copying them, every frame solved for power, the weave panned and zoomed, and
played.

Run by hand: ``.venv/bin/python benchmarks/weave.py``. Needs no display.
"""

from __future__ import annotations

import os
import tempfile
import time
from collections.abc import Callable

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp()  # no draft among the person's own

import numpy as np
from PySide6.QtCore import QEvent, QObject, QPoint, QPointF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtWidgets import QApplication

from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.memory import keep_freed_memory
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_pieces import add_strip
from tiny_lantern.model.edits_power import add_feed, add_supply
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import LOOKS, Effect, look_of
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.show.draw import show_draw
from tiny_lantern.show.weave import BLOCK_TICKS, Show, blocks
from tiny_lantern.ui import theme
from tiny_lantern.ui.opening import open_window
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.shell import Shell
from tiny_lantern.ui.stations.night_window import NightWindow
from tiny_lantern.ui.widgets.picture import Picture
from tiny_lantern.ui.window import Window

FRAMES, STEPS, THROUGH = 256, 150, 30
SHOW_S = 600.0
WANTED_RATIO, WANTED_S, WANTED_MS = 20.0, 10.0, 16.0
WANTED_HZ, PLAYED_S = 40.0, 6.0


def strips(pixels: int, count: int, feeds: int, show_s: float) -> Build:
    """So many strips of so many pixels, fed at even distances."""
    parts = shelf()
    strip = next(part for part in parts.of(StripPart) if part.id == "rgb-5v-60")
    supply = next(part for part in parts.of(SupplyPart) if part.id == "mains-5v-60a")
    wire = next(part for part in parts.of(WirePart) if part.id == "mm2-2_5")
    build = add_supply(Build(name=f"{pixels * count} lights"), supply, "Supply")
    for number in range(count):
        build = add_strip(build, strip, pixels, f"Rail {number + 1}")
        length_m = build.strips[-1].length_m
        for share in np.linspace(0, 1, feeds):
            build = add_feed(build, "supply", build.strips[-1].id, share * length_m, wire, 1.0, parts.of(FusePart)[-1])
    return revise(build, show_s=show_s)


def seconds(work: Callable[[], object]) -> float:
    """How long some work takes. [s]"""
    begin = time.perf_counter()
    work()
    return time.perf_counter() - begin


def copying() -> None:
    """Chases, and dashes to and fro, on 10,000 lights beside copying the same bytes; afresh, and shown again."""
    for kind, values in (("chase", {"spacing_px": 40}), ("scanner", {})):
        build = strips(10_000, 1, 2, FRAMES / 40)
        for number in range(4):
            look = look_of(kind, **values, speed_px_per_s=20 + number)
            build = add_effect(build, look, number * 2500, number * 2500 + 2499, 0.0, build.show_s)
        frames = np.concatenate([block for _, block in blocks(build)])
        copied = min(seconds(lambda frames=frames: frames.copy()) for _ in range(9))
        shown = {
            word: min(seconds(lambda show=show, build=build: played(show or Show(build))) for _ in range(5))
            for word, show in (("afresh", None), ("again", Show(build)))
        }
        for word, took in shown.items():
            print(f"{kind:8} {len(frames)} frames of 10,000 lights {word}: {took * 1e3:.1f} ms, copying them "
                  f"{copied * 1e3:.1f} ms, ratio {took / copied:.1f}, wanted {WANTED_RATIO:g}")  # fmt: skip


def played(show: Show) -> None:
    """A show's frames, a block after the other."""
    for first in range(0, FRAMES, BLOCK_TICKS):
        show.render(np.arange(first, first + BLOCK_TICKS))


def proof() -> None:
    """500 lights for five minutes, every frame another, solved."""
    build = strips(250, 2, 4, 300.0)
    build = add_effect(build, look_of("twinkle"), 0, 499, 0.0, 300.0)
    build = add_effect(build, look_of("wheel", period_s=7.3), 0, 249, 0.0, 300.0)
    took = seconds(lambda: show_draw(build))
    print(f"{build.timeline.count} frames of 500 lights solved: {took:.1f} s, wanted {WANTED_S:g} s, "
          f"ratio {took / WANTED_S:.2f}")  # fmt: skip


def turn(widget: object, at: QPointF, down: bool, zoom: bool) -> None:
    """One notch of the wheel over a widget."""
    keys = Qt.KeyboardModifier.ControlModifier if zoom else Qt.KeyboardModifier.NoModifier
    angle = QPoint(0, -120 if down else 120)
    event = QWheelEvent(at, at, QPoint(), angle, Qt.MouseButton.NoButton, keys, Qt.ScrollPhase.NoScrollPhase, False)
    QApplication.sendEvent(widget, event)


def opened(build: Build) -> tuple[QApplication, Window, Shell]:
    """The window on the weave of a build, with all that is worked out in the background done."""
    application = QApplication.instance() or QApplication([])
    assert isinstance(application, QApplication)
    theme.use_fonts(application)
    window, shell = open_window(Session(build))
    shell.show_station("Weave")
    shell.session.warm_up()
    end = time.perf_counter() + 20
    while time.perf_counter() < end and (shell.session.draw is None or shell.session.evidence is None):
        application.processEvents()
    return application, window, shell


def playing() -> None:
    """5,000 lights played for some seconds, on the station and by night: how many frames a second are drawn."""
    build = strips(1000, 5, 8, 30.0)
    for first, kind in ((0, "wheel"), (1000, "chase"), (2000, "twinkle"), (3000, "scanner"), (4000, "breathe")):
        build = add_effect(build, look_of(kind), first, first + 999, 0.0, 30.0)
    application, _window, shell = opened(build)
    for name in ("station", "night"):
        if name == "night":
            shell.actions_by_id["by-night"].trigger()
        alone = next((one for one in application.topLevelWidgets() if isinstance(one, NightWindow)), None)
        watched = alone.picture if alone else next(one for one in shell.findChildren(Picture) if one.isVisible())
        counter = Paints(watched)
        shell.transport.play.setChecked(True)
        end = time.perf_counter() + PLAYED_S
        while time.perf_counter() < end:
            application.processEvents()
            time.sleep(0.0005)
        shell.transport.play.setChecked(False)
        gaps = np.diff(counter.moments[5:])
        print(f"5,000 lights played, {name}: {1 / gaps.mean():.1f} frames a second, 95th percentile of the gaps "
              f"{np.percentile(gaps, 95) * 1e3:.1f} ms, longest {gaps.max() * 1e3:.0f} ms, "
              f"wanted {WANTED_HZ:g} a second")  # fmt: skip
    shell.close_at_once()


class Paints(QObject):
    """When a widget was drawn."""

    def __init__(self, watched: QObject) -> None:
        super().__init__(watched)
        self.moments: list[float] = []
        watched.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:  # noqa: N802
        if event.type() == QEvent.Type.Paint:
            self.moments.append(time.perf_counter())
        return False


def panning() -> None:
    """2,000 lights for ten minutes with 400 effects: the wheel turned to and fro, each redraw waited for."""
    build = strips(1000, 2, 8, SHOW_S)
    slots = build.line.slot_count
    effects = tuple(
        Effect(
            id=f"laid-{number}", first=build.line.ref_at(number * 37 % (slots - 200)),
            last=build.line.ref_at(number * 37 % (slots - 200) + 199), start_s=number * 1.5 % 590, length_s=10.0,
            look=LOOKS[number % len(LOOKS)],
        )
        for number in range(400)
    )  # fmt: skip
    application, _window, shell = opened(revise(build, effects=effects))
    canvas = shell.stack.weave().canvas
    at = QPointF(canvas.width() / 2, canvas.height() / 2)
    for _ in range(8):
        turn(canvas, at, False, True)
    shell.stack.weave().time.scroll(-SHOW_S)
    application.processEvents()
    ways = (("panned through, all of it new", True, False), ("panned to and fro", None, False), ("zoomed", None, True))
    for name, down, zoom in ways:
        times = []
        for number in range(STEPS if down is None else THROUGH):
            begin = time.perf_counter()
            turn(canvas, at, number // 10 % 2 == 0 if down is None else down, zoom)
            application.processEvents()
            times.append((time.perf_counter() - begin) * 1000)
        median, most = np.percentile(times, [50, 95])
        print(f"2,000 lights, 10 minutes, 400 effects, {name}: {median:.1f} ms, 95th percentile {most:.1f} ms, "
              f"wanted {WANTED_MS:g} ms, ratio {most / WANTED_MS:.2f}")  # fmt: skip
    shell.close_at_once()


def main() -> None:
    """Print times and ratios."""
    keep_freed_memory()  # as the program does
    copying()
    proof()
    panning()
    playing()


if __name__ == "__main__":
    main()
