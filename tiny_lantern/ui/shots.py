"""Pictures of each main view, made from the demo, for the docs."""

from __future__ import annotations

import tempfile
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path

from PySide6.QtCore import QDeadlineTimer, QSettings
from PySide6.QtWidgets import QApplication, QDialog

from tiny_lantern.bench.fault import Fault
from tiny_lantern.bench.of_build import AtBench
from tiny_lantern.bench.order import Asked
from tiny_lantern.bench.practice import Hidden, SimulatedMeter, first_lit
from tiny_lantern.model.base import made
from tiny_lantern.model.bench import BenchReading
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_bench import see, take_reading
from tiny_lantern.model.edits_route import set_route
from tiny_lantern.model.edits_wiring import tick_wire
from tiny_lantern.ui import theme
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.opening import open_window
from tiny_lantern.ui.printing import offscreen_application
from tiny_lantern.ui.session import Session, ShortPlace
from tiny_lantern.ui.shell import Shell
from tiny_lantern.ui.stations.schematic_window import SchematicWindow
from tiny_lantern.ui.stations.tried_window import WORK, TriedWindow
from tiny_lantern.ui.widgets.greeting import Greeting
from tiny_lantern.ui.widgets.plan_cards import PlanCards

SIZE = (1280, 800)
PATIENCE_MS = 180_000


def take_shots(folder: Path) -> Iterator[Path]:
    """Draw every main view into a folder as PNG; gives each path as it is written."""
    application = offscreen_application()
    assert isinstance(application, QApplication)
    theme.use_fonts(application)
    folder.mkdir(parents=True, exist_ok=True)
    aside = tempfile.TemporaryDirectory()
    QSettings.setPath(QSettings.Format.NativeFormat, QSettings.Scope.UserScope, aside.name)
    session = Session(demo_build("footbridge"), drawer_path=Path(aside.name) / "parts.json")
    window, shell = open_window(session, Path(aside.name) / "drafts", SIZE)
    shell.session.warm_up()
    wait_until(application, lambda: bool(shell.session.findings) and shell.session.draw is not None)
    try:
        for name, prepare in _views(application, shell):
            prepare()
            settle(application)
            path = folder / f"{name}.png"
            beside = shell.findChildren(QDialog)
            seen = shell.long_work.cards or shell.alone or (beside[-1] if beside else window)
            seen.grab().save(str(path))
            yield path
            if shell.long_work.cards is not None:
                shell.long_work.cards.close()
                shell.long_work.cards = None
            if shell.alone is not None:
                shell.alone.close()
    finally:
        window.close()
        aside.cleanup()


def _views(application: QApplication, shell: Shell) -> Iterator[tuple[str, Callable[[], object]]]:
    session = shell.session

    def power() -> None:
        shell.show_station("Power")
        session.select_slot(150)
        session.set_time(12.0)

    def short() -> None:
        session.select_slot(None)
        session.try_short(ShortPlace(session.build.strips[0].id, 120))

    def plans() -> None:
        session.try_short(None)
        offer_plans(application, shell, session.build.strips[0].id)

    def mended() -> None:
        shell.show_station("Power")
        for strip in session.build.strips:
            find_and_take(application, shell, strip.id)
        session.select_slot(None)
        session.select("feeds", session.build.feeds[1].id)
        wait_until(application, lambda: session.evidence is not None and session.evidence.build is session.build)
        wait_until(application, lambda: not session.background.running("mends"))

    def weave() -> None:
        shell.show_station("Weave")
        chase = next(effect for effect in session.build.effects if effect.look.kind == "chase")
        session.select("effects", chase.id)
        session.set_time(15.5)

    def sheets() -> None:
        shell.show_station("Sheets")
        wait_until(application, lambda: not any(map(session.background.running, ("sheet", "estimate"))))

    def night() -> None:
        shell.set_theme(theme.NIGHT)
        shell.show_station("Power")

    def greeting() -> None:
        shell.set_theme(theme.PAPER)
        shell.files.new()
        session.say("")
        shown = shell.stack.currentWidget()
        assert isinstance(shown, Greeting)
        wait_until(application, lambda: all(picture.lit for picture in shown.pictures))

    def all_judged() -> bool:
        judged = session.evidence is not None and session.evidence.build is session.build
        return judged and any(finding.fix is not None for finding in session.findings)

    def pieces() -> None:
        shell.files.open_demo("pier")
        wait_until(application, all_judged)
        shell.show_station("Pieces")
        session.set_time(27.0)
        carousel = next(span for span in session.build.line.spans if span.piece.name == "Carousel")
        session.select_slot(carousel.first)

    def pieces_night() -> None:
        shell.set_theme(theme.NIGHT)
        session.select("feeds", session.build.feeds[0].id)
        session.apply(
            "Led the wires of feed A",
            partial(set_route, feed_id=session.build.feeds[0].id, corners=((-0.25, -0.14), (-0.25, 0.14))),
        )
        session.select_slot(session.build.line.spans[-1].first + 30)

    def by_night() -> None:
        session.set_time(30.0)
        shell.actions_by_id["by-night"].trigger()
        assert shell.alone is not None
        shell.alone.resize(*SIZE)
        wait_until(application, lambda: session.evidence is not None and session.evidence.build is session.build)

    def drive() -> None:
        shell.set_theme(theme.PAPER)
        shell.show_station("Drive")
        deck = next(driver for driver in session.build.drivers if driver.name == "Deck lamps")
        shell.stack.drive().hand.choose_channel(session.build.channels_of[deck.id][2].id)
        wait_until(application, all_judged)

    def wiring() -> None:
        steps = shell.stack.sheets().steps()
        shell.show_station("Sheets")
        deck = next(driver for driver in session.build.drivers if driver.name == "Deck lamps")
        for row in steps.rows[:60]:
            session.apply("Ticked", partial(tick_wire, key=row.key, state="done"))
        session.apply("Went on", partial(tick_wire, key=f"{deck.id}/2/lamp", state=None, then=f"{deck.id}/2/lamp"))
        wait_until(application, all_judged)

    def sources() -> None:
        shell.show_station("Power")
        shell.stack.power().show_sources(True)
        view = shell.stack.power().sources
        wait_until(application, lambda: bool(view.canvas.laid.river.banks))
        view.canvas.choose(next(n for n, each in enumerate(view.canvas.laid.river.streams) if each.fuse_a))
        settle(application)

    def schematic() -> None:
        shell.show_station("Drive")
        shell.actions_by_id["schematic"].trigger()
        drawn = shell.findChildren(SchematicWindow)[-1]
        wait_until(application, drawn.save.isEnabled)
        festoon = next(driver for driver in session.build.drivers if driver.name == "Festoon")
        drawn.subject.setCurrentIndex(drawn.subject.findData(festoon.id))
        drawn.subject.activated.emit(drawn.subject.currentIndex())

    def program() -> None:
        shell.findChildren(SchematicWindow)[-1].window().close()
        settle(application)
        session.set_time(27.0)
        shell.actions_by_id["try-program"].trigger()
        tried = shell.findChildren(TriedWindow)[-1]
        wait_until(application, lambda: len(tried.lamps.light) > 0)
        tried.step()
        wait_until(application, lambda: not session.background.running(WORK))
        tried.traces.choose(next(iter(tried.traces.pins)))
        tried.traces.zoom(0.4)

    def answering() -> None:
        tried = shell.findChildren(TriedWindow)
        if tried:
            tried[-1].window().close()
            settle(application)
        shell.show_station("Weave")
        session.select_slot(None)
        session.set_time(18.0)
        session.answerer.move(session.answerer.tables.hears[0], 0.7)
        wait_until(application, lambda: session.song.sound is not None)

    def bench() -> None:
        session.open(found_at_bench(session.build))
        shell.show_station("Bench")
        station = shell.stack.bench()
        wait_until(application, lambda: station.sheet is not None)
        station.steps.choose("on/supply/deck-box")
        station.why.ask.click()
        wait_until(application, lambda: station.why.found is not None)
        station._read_there(station.why.found.next.asked if station.why.found and station.why.found.next else None)
        wait_until(application, lambda: station.card.take.isEnabled())

    yield "power", power
    yield "short", short
    yield "plans", plans
    yield "weave", weave
    yield "sheets", sheets
    yield "power-mended", mended
    yield "power-night", night
    yield "greeting", greeting
    yield "pieces", pieces
    yield "pieces-night", pieces_night
    yield "by-night", by_night
    yield "drive", drive
    yield "wiring", wiring
    yield "sources", sources
    yield "schematic", schematic
    yield "program", program
    yield "answering", answering
    yield "bench", bench


def found_at_bench(build: Build) -> Build:
    """A build with a deck lamp that stays dark: what was read and seen of it."""
    bench = AtBench(build)
    row = next(row for row in bench.rows.values() if row.key.startswith("deck-lamps-register/4/"))
    pattern = first_lit(build)
    fault = Fault("resistor_open", row.key)
    meter = SimulatedMeter(build, Hidden(fault, 3, ""))
    build = see(build, pattern.key, meter.look(pattern), "all lamps looked at", "2026-11-21 18:49")
    plus, at = row.start.node, "2026-11-21 18:50"
    value = meter.read(Asked("V", plus, bench.zero, pattern=pattern.key))
    reading = made(
        BenchReading, id="r", kind="V", plus=plus, minus=bench.zero, pattern=pattern.key, value=value, at=at
    )  # fmt: skip
    return take_reading(build, reading, f"{value} V at {row.start.words}")


def find_and_take(application: QApplication, shell: Shell, strip_id: str, guard_shorts: bool = True) -> None:
    """Search feeds for a strip and take the first plan."""
    cards = offer_plans(application, shell, strip_id, guard_shorts)
    cards.take(cards.plans[0])
    shell.long_work.cards = None


def offer_plans(application: QApplication, shell: Shell, strip_id: str, guard_shorts: bool = True) -> PlanCards:
    """Search feeds for a strip until the plans stand side by side."""
    shell.long_work.cards = None
    shell.long_work.find_feeds((strip_id,), guard_shorts)
    wait_until(application, lambda: shell.long_work.cards is not None)
    assert shell.long_work.cards is not None
    return shell.long_work.cards


def settle(application: QApplication) -> None:
    """Let everything that is due be drawn."""
    for _ in range(6):
        application.processEvents()


def wait_until(application: QApplication, condition: Callable[[], bool]) -> None:
    """Run the window until something holds.

    Raises:
        TimeoutError: it never does.
    """
    deadline = QDeadlineTimer(PATIENCE_MS)
    while not condition():
        if deadline.hasExpired():
            raise TimeoutError("the window did not settle")
        application.processEvents()
