"""The sources in Power through the real window: picked out, dragged, wires and fuses changed."""

from pathlib import Path

from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from tests.support.builds import part
from tests.support.driven import driven, lamps, lit
from tests.ui.conftest import Opened
from tests.ui.driving import LEFT, drag
from tests.ui.test_drive import choose
from tiny_lantern.catalogue.drawer import with_stock
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_power import add_supply
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.layout import all_places
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.shell import Shell
from tiny_lantern.ui.stations.sources_view import SourcesView


def two_boxes() -> Build:
    """Lamps on the first of two supplies of five volts."""
    build = add_supply(driven("register", lamps(8)), part("mains-5v-4a"), "One")
    return add_supply(build, part("mains-5v-10a"), "Two")


def shown(shell: Shell, qtbot: QtBot) -> SourcesView:
    """The sources, worked out and laid out."""
    shell.actions_by_id["sources"].trigger()
    view = shell.stack.power().sources
    qtbot.waitUntil(lambda: bool(view.canvas.laid.river.banks))
    QApplication.processEvents()
    return view


def middle(view: SourcesView, key: str) -> QPoint:
    """The middle of a thing on the screen."""
    return view.canvas.spot_on_screen(view.canvas.laid.spots[key]).center().toPoint()


def test_lamps_are_dragged_to_another_source_in_one_step(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(two_boxes(), station="Power")
    view, session = shown(shell, qtbot), shell.session
    driver = session.build.drivers[0].id
    before = session.build
    drag(view.canvas, middle(view, driver), middle(view, "two"))
    assert session.build.drivers[0].fed_by == FedBy(id="two")  # type: ignore[attr-defined]
    session.undo()
    assert session.build == before
    drag(view.canvas, middle(view, driver), middle(view, driver) + QPoint(3, 160))
    assert session.build == before, "beside every source nothing is moved"


def test_escape_lets_go_of_what_is_dragged(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(two_boxes(), station="Power")
    view, before = shown(shell, qtbot), shell.session.build
    start = middle(view, before.drivers[0].id)
    QTest.mousePress(view.canvas, LEFT, Qt.KeyboardModifier.NoModifier, start)
    QTest.mouseMove(view.canvas, middle(view, "two"))
    QTest.keyClick(view.canvas, Qt.Key.Key_Escape)
    QTest.mouseRelease(view.canvas, LEFT, Qt.KeyboardModifier.NoModifier, middle(view, "two"))
    assert shell.session.build == before


def test_a_wire_is_clicked_and_its_gauge_and_fuse_are_chosen(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(two_boxes(), station="Power")
    view, session = shown(shell, qtbot), shell.session
    number = next(n for n, each in enumerate(view.canvas.laid.river.streams) if each.start == "one" and each.fuse_a)
    x, y = view.canvas.laid.courses[number].at(0.55)
    scale = view.canvas.spot_on_screen(view.canvas.laid.spots["one"]).width() / view.canvas.laid.spots["one"].wide
    QTest.mouseClick(view.canvas, LEFT, Qt.KeyboardModifier.NoModifier, (QPointF(x, y) * scale).toPoint())
    assert view.canvas.stream is not None
    assert "One to 5 V lamp rail" in view._title.text()
    assert "chosen for you, 24 AWG" in view.boxes["wire"].currentText()
    choose(view.boxes["fuse"], "fuse-2a")
    choose(view.boxes["wire"], "awg-18")
    key = view.canvas.stream.rows[0].key
    (chosen,) = session.build.wires
    assert (chosen.key, chosen.wire_id, chosen.fuse_id) == (key, "awg-18", "fuse-2a")
    qtbot.waitUntil(lambda: "18 AWG" in view.canvas.svg)
    assert view.boxes["wire"].currentData() == "awg-18", "the same wire stays picked out"
    assert view.canvas.stream.fuse_a == 2.0


def test_every_thing_and_wire_is_reached_by_keys_and_told(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(two_boxes(), station="Power")
    view = shown(shell, qtbot)
    river, titles = view.canvas.laid.river, set()
    for _ in range(len(river.banks) + len(river.streams)):
        QTest.keyClick(view.canvas, Qt.Key.Key_Right)
        titles.add(view._title.text())
    assert {bank.name for bank in river.banks} <= titles
    assert len(titles) == len(river.banks) + len(river.streams)
    first = view.canvas.chosen
    QTest.keyClick(view.canvas, Qt.Key.Key_Right)
    QTest.keyClick(view.canvas, Qt.Key.Key_Left)
    assert view.canvas.chosen == first


def test_what_feeds_a_thing_is_chosen_from_a_list_and_the_drawing_is_saved(
    opened: Opened, qtbot: QtBot, tmp_path: Path
) -> None:
    shell = opened(two_boxes(), station="Power")
    view, session = shown(shell, qtbot), shell.session
    view.pick(session.build.drivers[0].id)
    choose(view.boxes["fed_by"], FedBy(id="two"))
    assert session.build.drivers[0].fed_by == FedBy(id="two")  # type: ignore[attr-defined]
    qtbot.waitUntil(lambda: any(each.start == "two" for each in view.canvas.laid.river.streams))
    view.pick("board")
    choose(view.boxes["fed_by"], None)
    assert session.build.boards[0].fed_by is None
    view.save(tmp_path / "sources.svg")
    assert "Two" in (tmp_path / "sources.svg").read_text(encoding="utf-8")
    told: list[LanternError] = []
    session.refused.connect(told.append)
    view.save(tmp_path)
    assert len(told) == 1


def test_a_battery_says_how_long_it_lasts_and_the_curves_come_back(opened: Opened, qtbot: QtBot) -> None:
    build = lit(add_supply(driven("sink", lamps(8)), part("battery-5v-3a"), "Pocket"))
    shell = opened(build, station="Power")
    view = shown(shell, qtbot)
    qtbot.waitUntil(lambda: "Pocket lasts" in view._state.text())
    assert "all lit" in view._state.text()
    assert shell.stack.power().shows_sources
    shell.actions_by_id["sources"].trigger()
    assert not shell.stack.power().shows_sources
    assert len(all_places(build)) == 8


def test_drive_leads_to_what_feeds_the_lamps(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(two_boxes(), station="Drive")
    shell.actions_by_id["sources-of-lamps"].trigger()
    view = shell.stack.power().sources
    qtbot.waitUntil(lambda: view.canvas.thing is not None)
    assert view.canvas.thing is not None
    assert view.canvas.thing.name == "Lamps"
    shell.session.open(Build())
    QApplication.processEvents()
    assert shell.stack.greeting is not None


def test_a_snag_of_sources_is_shown_there_and_any_other_of_power_on_the_curves(opened: Opened, qtbot: QtBot) -> None:
    lacking = add_supply(driven("switch", lamps(3, wired="series"), led_v=12.0), part("mains-24v-6a"))
    shell = opened(lacking, station="Pieces")
    qtbot.waitUntil(lambda: bool(shell.snags.cards))
    shell.jump_to(next(card.finding for card in shell.snags.cards if card.finding.code == "no-voltage"))
    power = shell.stack.power()
    assert (shell.station, power.shows_sources) == ("Power", True)
    assert power.sources.canvas.chosen == lacking.drivers[0].id
    shell.session.open(demo_build("footbridge"))
    qtbot.waitUntil(lambda: any(card.finding.code == "pixel-voltage" for card in shell.snags.cards))
    shell.jump_to(next(card.finding for card in shell.snags.cards if card.finding.code == "pixel-voltage"))
    assert not power.shows_sources


def test_wires_are_taken_by_square_millimetres_or_from_what_is_owned(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(two_boxes(), station="Power")
    view, session = shown(shell, qtbot), shell.session
    choose(view.take_first, "metric")
    qtbot.waitUntil(lambda: any("0.5 mm²" in each.words for each in view.canvas.laid.river.streams))
    choose(view.take_first, "owned")
    assert "owned" in shell.transport.status.toolTip() + shell.transport.status.text()
    assert view.take_first.currentData() == "metric", "nothing is owned, and nothing was changed"
    session.drawers.apply("Owned", lambda drawer: with_stock(drawer, "awg-22", 12.0, None))
    choose(view.take_first, "owned")
    assert session.build.wiring.wire_ids == ("awg-22",)
    session.undo()
    session.undo()
    assert view.take_first.currentData() == "gauge"
    elsewhere = revise(session.build.wiring, wire_ids=("somebody-s-own",))
    session.apply("Read", lambda build: revise(build, wiring=elsewhere))
    assert view.take_first.currentData() == "owned", "of a wire that is not known here"
