"""How long the window stands still, act by act, with very much in it: 500 strips with 500 feeds, and 5,000 effects.

A stall is the longest time between two turns of the event loop; ``whole`` is how long the act took to return.

Run by hand: ``.venv/bin/python benchmarks/big.py``. Needs no display.
"""

from __future__ import annotations

import os
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp()  # no draft among the person's own

from PySide6.QtWidgets import QApplication, QDialog, QFileDialog, QInputDialog

from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_drive import add_board
from tiny_lantern.model.edits_pieces import add_piece, add_strip
from tiny_lantern.model.edits_power import add_feed, add_supply, move_feed
from tiny_lantern.model.effects import LOOKS, Effect
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.plans.ways import drive_piece
from tiny_lantern.ui import theme
from tiny_lantern.ui.declared.registry import commands
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
    moves = [lambda n=n: session.apply("Renamed", lambda b: change_build(b, name=f"B {n}")) for n in range(30)]
    if build.feeds:
        feed = build.feeds[0].id
        moves = [lambda n=n: session.apply("Moved", lambda b: move_feed(b, feed, 0.1 + n / 60)) for n in range(30)]
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
        *every_command(shell),
    ]  # fmt: skip


LEAVE = ("close", "quit", "new", "open", "save", "save-as")


def every_command(shell: Shell) -> list[tuple[str, Callable[[], object]]]:
    """Every command of the window on the first piece; what asks for a file gets one in a scratch folder."""
    session, aside = shell.session, Path(tempfile.mkdtemp())

    def run(identity: str) -> None:
        if session.build.pieces:
            session.select("pieces", session.build.pieces[0].id)
        shell.actions_by_id[identity].trigger()

    names = [command.id for command in commands() if command.id not in LEAVE]
    saved = [(f"save {suffix}", lambda suffix=suffix: shell.stack.sheets().save(aside / f"x.{suffix}", suffix))
             for suffix in ("pdf", "html", "csv", "wiring.pdf", "wiring.csv")]  # fmt: skip
    saved.append(("save code", lambda: shell.stack.sheets().save_code("c", aside / "code")))
    return [*((name, lambda name=name: run(name)) for name in names), *saved]


def no_dialogs(aside: Path) -> None:
    """Whatever asks the person is answered at once."""
    QFileDialog.getSaveFileName = staticmethod(lambda *_, **__: (str(aside / "saved"), ""))
    QFileDialog.getOpenFileName = staticmethod(lambda *_, **__: ("", ""))
    QFileDialog.getExistingDirectory = staticmethod(lambda *_, **__: str(aside))
    QInputDialog.getText = staticmethod(lambda *_, **__: ("1 m", True))


def many_lamps(count: int = 2000, each: int = 500) -> Build:
    """So many lamps on registers, in groups."""
    red = shelf().find(LampPart, "led-red-5mm")
    build = add_board(Build(name=f"{count} lamps"), shelf().find(BoardPart, "board-routed-3v3"))
    for number in range(count // each):
        group = LampGroup(id="lamps", name=f"Lamps {number + 1}", part_id=red.id, lamp_count=each)
        build = add_piece(build, red, group)
        build = drive_piece(build, build.pieces[-1].id, "register")
    return build


def main() -> None:
    """Print every act's stall and its own time."""
    application = QApplication([])
    theme.use_fonts(application)
    no_dialogs(Path(tempfile.mkdtemp()))
    for build in (many_strips(), many_effects(), many_lamps()):
        _window, shell = open_window(Session())
        shell.session.warm_up()
        stall(application, lambda: None)
        print(build.name, f"{len(build.strips)} strips, {len(build.effects)} effects")
        for name, act in acts(shell, build):
            longest, whole = stall(application, act)
            for dialog in shell.window().findChildren(QDialog):
                dialog.close()
            if shell.alone is not None:
                shell.alone.close()
            settle(application, shell.session)
            over = "  OVER 100 ms" if longest > 0.1 else ""
            print(f"  {name:16}{over} stall {longest * 1000:6.0f} ms, whole {whole * 1000:6.0f} ms", flush=True)
        print(f"  judged and every mend tried after another {settle(application, shell.session):.1f} s")
        shell.close_at_once()


if __name__ == "__main__":
    main()
