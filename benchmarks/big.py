"""How long the window stands still, act by act, with very much in it: 500 strips with 500 feeds, and 5,000 effects.

A stall is the longest time between two turns of the event loop; ``whole`` is how long the act took to return.

Run by hand: ``.venv/bin/python benchmarks/big.py``. Needs no display.
"""

from __future__ import annotations

import os
import tempfile
import time
from collections.abc import Callable

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp()  # no draft among the person's own

from PySide6.QtWidgets import QApplication

from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_pieces import add_strip
from tiny_lantern.model.edits_power import add_feed, add_supply, move_feed
from tiny_lantern.model.effects import LOOKS, Effect
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.ui import theme
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.opening import open_window
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.shell import Shell

SETTLED_S = 60.0
STATIONS = ("Power", "Weave", "Sheets", "Pieces", "Power")


def many_strips(strips: int = 500, pixels: int = 100) -> Build:
    """So many strips, each on a feed of its own, a supply for every twenty-five."""
    parts = shelf()
    strip = next(part for part in parts.of(StripPart) if part.id == "rgb-5v-60")
    supply = next(part for part in parts.of(SupplyPart) if part.id == "mains-5v-20a")
    wire = next(part for part in parts.of(WirePart) if part.id == "mm2-1_5")
    build = Build(name=f"{strips} strips")
    for number in range(strips):
        build = add_strip(build, strip, pixels, f"Rail {number + 1}")
        if number % 25 == 0:
            build = add_supply(build, supply, f"Supply {number // 25 + 1}")
        build = add_feed(build, build.supplies[-1].id, build.strips[-1].id, 0.0, wire, 1.0, parts.of(FusePart)[0])
    return build


def many_effects(count: int = 5000) -> Build:
    """The footbridge with so many effects, each a second long."""
    build = demo_build("footbridge")
    slots = build.line.slot_count
    effects = tuple(
        Effect(
            id=f"laid-{number}",
            first=build.line.ref_at(number * 7 % (slots - 12)),
            last=build.line.ref_at(number * 7 % (slots - 12) + 11),
            start_s=number // 10 % 290,
            length_s=1.0,
            look=LOOKS[number % len(LOOKS)],
        )
        for number in range(count)
    )
    return revise(build, name=f"{count} effects", effects=effects, show_s=300.0)


def stall(application: QApplication, act: Callable[[], object], quiet_s: float = 1.0) -> tuple[float, float]:
    """The longest stall from an act until the window has been quiet for a while, and the act's own time. [s]"""
    begin = last = time.perf_counter()
    act()
    whole = longest = time.perf_counter() - begin
    while time.perf_counter() - begin < quiet_s:
        application.processEvents()
        now = time.perf_counter()
        longest, last = max(longest, now - last), now
        time.sleep(0.001)
    return longest, whole


def settle(application: QApplication, session: Session) -> float:
    """Wait until all is judged and every mend is tried; how long it took. [s]"""
    begin = time.perf_counter()
    while time.perf_counter() - begin < SETTLED_S:
        application.processEvents()
        time.sleep(0.002)
        if session.judged is session.build and not any(map(session.background.running, ("findings", "mends"))):
            break
    return time.perf_counter() - begin


def undo_many(session: Session, count: int = 30) -> Callable[[], None]:
    """So many undos in a row."""
    return lambda: [session.undo() for _ in range(count)] and None


def acts(shell: Shell, build: Build) -> list[tuple[str, Callable[[], object]]]:
    """What a person does, in order, by name."""
    session = shell.session
    feed = build.feeds[0].id
    moves = [lambda n=n: session.apply("Move a feed", lambda b: move_feed(b, feed, 0.1 + n / 60)) for n in range(30)]
    return [
        ("open", lambda: session.open(build)),
        *((f"show {name}", lambda name=name: shell.show_station(name)) for name in STATIONS),
        ("an edit", moves[0]),
        ("undo", session.undo),
        ("select a light", lambda: session.select_slot(40)),
        ("zoom", lambda: shell.axis.zoom(2.0, 400.0)),
        ("another theme", lambda: shell.set_theme(theme.NIGHT)),
        ("30 edits", lambda: [move() for move in moves]),
        ("30 undos", undo_many(session)),
    ]  # fmt: skip


def main() -> None:
    """Print every act's stall and its own time."""
    application = QApplication([])
    theme.use_fonts(application)
    for build in (many_strips(), many_effects()):
        _window, shell = open_window(Session())
        shell.session.warm_up()
        stall(application, lambda: None)
        print(build.name, f"{len(build.strips)} strips, {len(build.effects)} effects")
        for name, act in acts(shell, build):
            longest, whole = stall(application, act)
            print(f"  {name:16} stall {longest * 1000:6.0f} ms, whole {whole * 1000:6.0f} ms", flush=True)
        print(f"  judged and every mend tried after another {settle(application, shell.session):.1f} s")
        shell.close_at_once()


if __name__ == "__main__":
    main()
