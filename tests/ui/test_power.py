"""The power station as a person uses it: posts, probe, table, loads, Find feeds."""

from functools import partial

import numpy as np
import pytest
from PySide6.QtCore import QEvent, QObject, QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLabel, QPushButton
from pytestqt.qtbot import QtBot

from tests.support.builds import bridge, one_strip, part
from tests.ui.conftest import Opened
from tests.ui.driving import LEFT, drag, plotted_minimum, power_of, solver_minimum, type_into
from tiny_lantern.electrical.power import solve_power
from tiny_lantern.model.build import Build, ColourLoad, FrameLoad, FullWhite, LevelLoad, OnStrip
from tiny_lantern.model.edits_drive import add_board, feed_board
from tiny_lantern.model.edits_pieces import add_piece, add_strip, change_strip, remove_piece
from tiny_lantern.model.edits_power import add_feed, add_supply, change_supply
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.model.quantities import amps
from tiny_lantern.show.loads import duties_for
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.stations.feed_form import FeedForm
from tiny_lantern.ui.stations.feed_list import FeedList, feed_lines
from tiny_lantern.ui.widgets.working_card import WorkingCard


def test_a_dragged_feed_moves_the_curve_and_undo_brings_the_very_build_back(opened: Opened) -> None:
    shell = opened(bridge())
    station = power_of(shell)
    QApplication.processEvents()
    before = shell.session.build
    low = plotted_minimum(station)
    feed = before.feeds[0]
    start = QPoint(round(station.posts.feed_x(feed)) + 3, 40)
    seen: list[float] = []
    shell.session.solved_changed.connect(lambda: seen.append(plotted_minimum(station)))
    drag(station.posts, start, start + QPoint(160, 0))
    moved = shell.session.build.feeds[0]
    assert isinstance(moved.attach, OnStrip)
    assert moved.attach.position_m > 2
    west = solve_power(shell.session.build, duties_for(shell.session.build, FullWhite())).runs["west-rail"].pixel_v
    assert west.min() > low + 0.3
    assert plotted_minimum(station) == pytest.approx(solver_minimum(shell))
    assert len(set(seen)) >= 1
    assert shell.session.history.undo_label.startswith("Moved feed A to")
    QTest.keyClick(shell, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert shell.session.build == before
    assert plotted_minimum(station) == pytest.approx(low)


def test_what_is_written_beside_the_curves_follows_a_drag(opened: Opened) -> None:
    class Painted(QObject):
        lines: tuple[str, str] = ("", "")

        def eventFilter(self, watched: QObject, event: QEvent) -> bool:
            if event.type() == QEvent.Type.Paint:
                self.lines = feed_lines(shell.session, shell.session.build.feeds[0])
            return False

    shell = opened(bridge(), size=(1280, 1200))
    station = power_of(shell)
    QApplication.processEvents()
    painted = Painted()
    station._feeds.installEventFilter(painted)
    start = QPoint(round(station.posts.feed_x(shell.session.build.feeds[0])) + 3, 40)
    QTest.mousePress(station.posts, LEFT, Qt.KeyboardModifier.NoModifier, start)
    for by in (80, 120):
        QTest.mouseMove(station.posts, start + QPoint(by, 0))
        QApplication.processEvents()
        build = shell.session.build
        solved = solve_power(build, duties_for(build, FullWhite()))
        assert painted.lines == feed_lines(shell.session, build.feeds[0])
        assert amps(solved.feeds["feed"].pos_a) in painted.lines[1]
        assert f"gives {amps(solved.supplies[build.supplies[0].id].current_a)} of" in station._supply_load.text()
    QTest.keyClick(station.posts, Qt.Key.Key_Escape)
    QTest.mouseRelease(station.posts, LEFT, Qt.KeyboardModifier.NoModifier, start)


def test_limits_go_with_the_strips_that_they_are_for(opened: Opened) -> None:
    shell = opened(one_strip())
    station = power_of(shell)
    assert len(station.plot.limits) == 1
    shell.session.apply("Removed it", lambda build: remove_piece(build, "strip"))
    assert station.plot.limits == ()
    shell.session.undo()
    assert len(station.plot.limits) == 1


def test_escape_lets_a_dragged_feed_fall_back(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    station = power_of(shell)
    QApplication.processEvents()
    before = shell.session.build
    start = QPoint(round(station.posts.feed_x(before.feeds[0])) + 3, 40)
    QTest.mousePress(station.posts, LEFT, Qt.KeyboardModifier.NoModifier, start)
    QTest.mouseMove(station.posts, start + QPoint(80, 0))
    assert shell.session.dragging
    assert station.plot.in_haste
    QTest.keyClick(station.posts, Qt.Key.Key_Escape)
    assert not station.plot.in_haste
    QTest.mouseRelease(station.posts, LEFT, Qt.KeyboardModifier.NoModifier, start + QPoint(80, 0))
    assert shell.session.build is before
    assert shell.session.history.undo_label is None


def test_a_feed_moves_with_the_arrow_keys_and_goes_with_delete(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    station = power_of(shell)
    station.posts.setFocus()
    QTest.keyClick(station.posts, Qt.Key.Key_B)
    QTest.keyClick(station.posts, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    QTest.keyClick(station.posts, Qt.Key.Key_Right)
    assert shell.session.build.feeds[1].attach.position_m == pytest.approx(10.5 / 30)
    QTest.keyClick(station.posts, Qt.Key.Key_Delete)
    assert len(shell.session.build.feeds) == 1


def test_the_probe_reads_what_the_solver_gives_and_shows_its_working(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    station = power_of(shell)
    QApplication.processEvents()
    QTest.mouseClick(station.posts, LEFT, Qt.KeyboardModifier.NoModifier, QPoint(round(station.posts.slot_x(100)), 200))
    assert shell.session.slot == 100
    v = shell.session.solved.solution.runs["west-rail"].pixel_v[100]
    assert f"{v:.2f} V" in station.posts.card.text()
    QTest.keyClick(station.posts, Qt.Key.Key_Return)
    (card,) = [w for w in QApplication.topLevelWidgets() if w.windowTitle().startswith("Working")]
    assert f"{v:.3f} V" in card.text.toPlainText()
    card.close()


def test_the_supply_gauge_and_a_feed_show_their_working(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(demo_build("footbridge"))
    QTest.mouseClick(shell.title.gauge, LEFT)
    card = shell.findChild(WorkingCard)
    assert "10.98 A" in card.text.toPlainText()
    assert "12.00 A" in card.text.toPlainText()
    card.close()
    qtbot.waitUntil(lambda: shell.findChild(WorkingCard) is None)
    shell.session.select("feeds", shell.session.build.feeds[1].id)
    shell.actions_by_id["working"].trigger()
    text = shell.findChild(WorkingCard).text.toPlainText()
    assert "Feed B" in text
    assert "I_short" in text
    shell.findChild(WorkingCard).close()


def test_the_list_of_feeds_selects_and_tells_what_each_carries(opened: Opened) -> None:
    build = demo_build("footbridge")
    shell = opened(build)
    listed = power_of(shell).findChild(FeedList)
    assert listed.accessibleDescription().count("5.49 A out, 5.49 A back") == 2
    QTest.mouseClick(listed, LEFT, Qt.KeyboardModifier.NoModifier, QPoint(20, listed.height() - 10))
    assert shell.session.selection.one("feeds") == build.feeds[1].id
    many = build
    for place in range(1, 10):
        many = add_feed(
            many, "bank-box", "west-rail", place / 2, build.shelf.of(WirePart)[0], 1.0, build.shelf.of(FusePart)[0]
        )
    shell.session.apply("Fed it often", lambda _: many)
    assert "more" not in listed.accessibleDescription()
    assert listed.height() < 260
    QTest.mouseClick(listed, LEFT, Qt.KeyboardModifier.NoModifier, QPoint(20, listed.height() - 4))
    assert shell.session.selection.one("feeds") == build.feeds[1].id


def test_the_pointer_alone_reads_out_a_light_and_leaves_the_selection(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    station = power_of(shell)
    QApplication.processEvents()
    QTest.mouseMove(station.posts, QPoint(round(station.posts.slot_x(60)), 220))
    assert station.posts.probed == 60
    assert shell.session.slot is None
    assert f"{shell.session.solved.solution.runs['west-rail'].pixel_v[60]:.2f} V" in station.posts.card.text()
    station.posts.leaveEvent(QEvent(QEvent.Type.Leave))
    assert station.posts.probed is None
    assert station.posts.card.isHidden()


def test_a_cut_is_made_and_closed_at_the_selected_light(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    shell.session.select_slot(100)
    QTest.keyClick(shell, Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
    assert shell.session.build.strips[0].cuts == (100,)
    v = shell.session.solved.solution.runs["west-rail"].pixel_v
    assert (v[:100] > 3).all() and (v[100:] == 0).all(), "what can be solved is"
    power_of(shell).grab()
    QTest.keyClick(shell, Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
    assert shell.session.build == demo_build("footbridge")
    shell.session.select_slot(0)
    QTest.keyClick(shell, Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
    assert "no rail before the first light" in shell.transport.status.toolTip()


def test_cells_of_the_feed_table_take_quantities_as_people_write_them(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    table = power_of(shell).table
    for column, text in ((2, "1.5 m"), (3, "18 AWG"), (4, "5ft"), (5, "4 A")):
        table.item(0, column).setText(text)
    feed = shell.session.build.feeds[0]
    assert feed.attach.position_m == 1.5
    assert feed.positive.wire_id == "awg-18"
    assert feed.positive.length_m == pytest.approx(1.524)
    assert feed.fuse_id == "fuse-4a"
    before = shell.session.build
    table.item(0, 5).setText("11 A")
    assert shell.session.build is before
    assert "no fuse of 11 A" in shell.transport.status.toolTip()
    assert table.item(0, 5).text() == "4 A"


def test_each_conductor_of_a_feed_has_its_own_wire_length_and_measured_resistance(opened: Opened) -> None:
    shell = opened(bridge())
    station = power_of(shell)
    station.table.item(0, 3).setText("1.5 mm2 / 2.5 mm2")
    station.table.item(0, 4).setText("3 m / 4.5 m")
    feed = shell.session.build.feeds[0]
    assert (feed.positive.wire_id, feed.negative.wire_id) == ("mm2-1_5", "mm2-2_5")
    assert (feed.positive.length_m, feed.negative.length_m) == (3, 4.5)
    assert station.table.item(0, 4).text() == "3.00 m / 4.50 m"
    shell.session.select("feeds", feed.id)
    form = station.findChild(FeedForm)
    assert form.isVisible()
    low = plotted_minimum(station)
    type_into(form.out, "300 mohm")
    assert shell.session.build.feeds[0].positive.measured_ohm == pytest.approx(0.3)
    assert plotted_minimum(station) < low
    assert plotted_minimum(station) == pytest.approx(solver_minimum(shell))
    QTest.mouseClick(form._again, LEFT)
    assert plotted_minimum(station) == pytest.approx(low)
    form.connector.activated.emit(0)
    assert shell.session.build.feeds[0].positive.connector_id is None


def test_a_load_is_kept_as_a_case_of_the_build(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    shell.session.set_load(LevelLoad(level=0.25))
    shell.actions_by_id["keep-load"].trigger()
    assert shell.session.build.load_cases[-1].name == "Level 25%"
    shell.actions_by_id["keep-load"].trigger()
    assert len(shell.session.build.load_cases) == 4
    assert "already" in shell.transport.status.toolTip()
    shell.session.undo()
    assert shell.session.build == demo_build("footbridge")


def test_find_feeds_from_a_snag_is_one_step_that_clears_it(opened: Opened, qtbot: QtBot) -> None:
    build = change_strip(demo_build("footbridge"), "west-rail", pixel_count=150)
    shell = opened(build)
    qtbot.waitUntil(lambda: len(shell.snags.cards) > 3)
    card = next(card for card in shell.snags.cards if card.finding.code == "pixel-voltage")
    strip = card.finding.place.piece_id
    qtbot.waitUntil(lambda: card.finding.fix is not None)
    QTest.mouseClick(next(b for b in card.findChildren(QPushButton) if b.text() == "Find feeds"), LEFT)
    assert shell.session.background.running("find-feeds")
    qtbot.waitUntil(lambda: shell.long_work.cards is not None)
    cards = shell.long_work.cards
    assert len(cards.plans) >= 2
    assert shell.session.build is build, "offering changes nothing"
    told = " ".join(label.text() for label in cards.findChildren(QLabel))
    for plan in cards.plans:
        assert f"{plan.wire_m:.1f} m of wire" in told
        assert plan.why in told
    QTest.mouseClick(next(b for b in cards.findChildren(QPushButton) if b.text() == "Use this one"), LEFT)
    assert shell.session.history.undo_label.startswith("Found")
    qtbot.waitUntil(lambda: shell.session.evidence.build is shell.session.build)
    codes = {(f.code, f.place.piece_id) for f in shell.session.findings}
    assert ("pixel-voltage", strip) not in codes
    shell.session.undo()
    assert shell.session.build == build


def test_a_search_can_be_stopped_and_changes_nothing(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(demo_build("footbridge"))
    shell.long_work.find_feeds(("west-rail",), True)
    assert shell.transport.work.isVisible()
    shell.long_work.stop()
    assert not shell.transport.work.isVisible()
    qtbot.wait(50)
    assert shell.session.history.undo_label is None
    assert "Stopped" in shell.transport.status.toolTip()


def test_loads_are_chosen_from_the_title_row(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    picker = shell.title.load
    for index, kind in ((1, LevelLoad), (2, ColourLoad), (3, FrameLoad), (0, FullWhite)):
        picker.choice.setCurrentIndex(index)
        picker.choice.activated.emit(index)
        assert isinstance(shell.session.load, kind)
    picker.choice.activated.emit(1)
    type_into(picker.level, "25%")
    assert shell.session.load == LevelLoad(level=0.25)


def test_a_piece_without_a_feed_is_told_in_the_plot(opened: Opened) -> None:
    build = add_strip(one_strip(60), part("rgb-5v-60"), 9, "Far")
    shell = opened(build)
    runs = shell.session.solved.solution.runs
    assert runs["strip"].pixel_v.min() > 4
    assert runs["far"].pixel_v.max() == 0
    curve = power_of(shell).plot.voltage
    place, volts = curve.place_m, curve.value
    assert np.isfinite(volts[place < 1.0]).all()
    assert not np.isfinite(volts[place > shell.axis.start_of(1)]).any()


def test_a_long_run_shows_every_light_once_one_looks_closely(opened: Opened) -> None:
    shell = opened(one_strip(10_000, feeds=(0.0, 0.5, 1.0)))
    plot = power_of(shell).plot
    run = shell.session.solved.solution.runs["strip"]
    _, volts = plot.shown(plot.volts, plot.voltage)
    assert len(volts) < 1000
    assert volts.min() == run.pixel_v.min()
    assert volts.max() == run.pixel_v.max()
    middle = shell.axis.slot_place(7_003)
    shell.axis.zoom(0.01, middle)
    first = next(slot for slot in range(10_000) if shell.axis.slot_place(slot) >= shell.axis.left_m)
    stop = next(slot for slot in range(10_000) if shell.axis.slot_place(slot) > shell.axis.right_m)
    places, volts = plot.shown(plot.volts, plot.voltage)
    shown = dict(zip(np.round(places, 6), volts, strict=True))
    assert {round(shell.axis.slot_place(slot), 6) for slot in range(first, stop)} <= set(shown)
    assert shown[round(middle, 6)] == run.pixel_v[7_003]
    assert plot.read(plot.volts, 0, middle) == run.pixel_v[7_003]


def test_a_supply_gives_what_boards_and_loose_lamps_draw_too(opened: Opened, qtbot: QtBot) -> None:
    loose = LampGroup(id="lamps", name="Lamps", part_id="lamp-addressable-8mm", lamp_count=40, colour_order="RGB")
    build = add_supply(add_piece(Build(), part(loose.part_id), loose), part("mains-5v-4a"), "Supply")
    shell = opened(build, station="Power")
    words = power_of(shell)._supply_load
    qtbot.waitUntil(lambda: "gives 1.20 A of 3.2 A" in words.text())
    assert shell.title.gauge.accessibleDescription().startswith("1.2 A of 4 A")
    shell.session.apply("Board", lambda b: feed_board(add_board(b, part("board-8bit-large")), "board", "supply"))
    qtbot.waitUntil(lambda: "gives 1.25 A" in words.text())
    shell.session.apply("Strip", lambda b: add_strip(b, part("rgb-5v-60"), 30, "Strip"))
    qtbot.waitUntil(lambda: "gives 1.25 A" in words.text())
    assert shell.title.gauge.accessibleDescription().startswith("1.2 A of 4 A")


def test_the_gauge_shows_the_supply_that_is_fullest_and_tells_of_all(opened: Opened) -> None:
    shell = opened(demo_build("pier"), station="Power")
    told = shell.title.gauge.accessibleDescription()
    first, second = told.split("; ")
    assert first.startswith("Deck box: 2.6 A of 4 A rated, 3.2 A allowed")
    assert second.startswith("Flood box: 1.0 A of 5 A rated"), "amperes at unlike volts are not added up"


def test_the_gauge_allows_less_in_a_sealed_box(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    assert shell.session.build.supplies[0].sealed
    assert "12.0 A allowed" in shell.title.gauge.accessibleDescription()
    shell.session.apply(
        "Opened the box", partial(change_supply, supply_id=shell.session.build.supplies[0].id, sealed=False)
    )
    assert "16.0 A allowed" in shell.title.gauge.accessibleDescription()


@pytest.mark.parametrize(("kind", "word"), [("mains-5v-20a", "licensed"), ("battery-5v-8a", "cell")])
def test_a_supply_is_named_by_what_it_is_and_its_caution_stands_beside_the_choice(
    opened: Opened, kind: str, word: str
) -> None:
    shell = opened(one_strip(20, supply=kind))
    station = power_of(shell)
    assert station._supply_part.currentText().endswith(kind.split("-")[0])
    assert word in station._supply_load.text()
