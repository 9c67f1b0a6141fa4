"""The window as a person uses it: mouse, keys, and what they see."""

import os
import signal
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PySide6.QtCore import QEvent, QMimeData, QPoint, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QApplication, QPushButton, QScrollArea, QWidget
from pytestqt.qtbot import QtBot

from tests.support.builds import builds, one_strip, part
from tests.ui.conftest import Opened
from tiny_lantern.electrical.power import solve_power
from tiny_lantern.model.build import ColourLoad, FrameLoad, FullWhite, LevelLoad, OnStrip
from tiny_lantern.model.edits_pieces import add_strip, change_strip
from tiny_lantern.model.line import effect_slots
from tiny_lantern.model.store import load, save
from tiny_lantern.show.loads import duties_for
from tiny_lantern.ui import theme
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.history import History
from tiny_lantern.ui.shell import Shell
from tiny_lantern.ui.stations.feed_form import FeedForm
from tiny_lantern.ui.stations.pieces import PiecesStation
from tiny_lantern.ui.stations.power import PowerStation
from tiny_lantern.ui.stations.sheets import SheetsStation
from tiny_lantern.ui.stations.weave import WeaveStation

LEFT = Qt.MouseButton.LeftButton


def power_of(shell: Shell) -> PowerStation:
    """The power station, shown."""
    shell.show_station("Power")
    station = shell.stack.currentWidget()
    assert isinstance(station, PowerStation)
    return station


def weave_of(shell: Shell) -> WeaveStation:
    """The weave station, shown and laid out."""
    shell.show_station("Weave")
    station = shell.stack.currentWidget()
    assert isinstance(station, WeaveStation)
    QApplication.processEvents()
    return station


def pieces_of(shell: Shell) -> PiecesStation:
    """The pieces station, shown."""
    shell.show_station("Pieces")
    station = shell.stack.currentWidget()
    assert isinstance(station, PiecesStation)
    return station


def type_into(field: QWidget, text: str) -> None:
    """Replace a field's text as a person does and leave it."""
    field.setFocus()
    QTest.keyClick(field, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClicks(field, text)
    QTest.keyClick(field, Qt.Key.Key_Return)


def drag(widget: QWidget, start: QPoint, end: QPoint, steps: int = 5) -> None:
    """Press, move and release the left button."""
    QTest.mousePress(widget, LEFT, Qt.KeyboardModifier.NoModifier, start)
    for step in range(1, steps + 1):
        share = step / steps
        QTest.mouseMove(
            widget, QPoint(*(round(a + share * (b - a)) for a, b in zip(start.toTuple(), end.toTuple(), strict=True)))
        )
    QTest.mouseRelease(widget, LEFT, Qt.KeyboardModifier.NoModifier, end)


def plotted_minimum(station: PowerStation) -> float:
    """The lowest voltage that the plot shows."""
    return float(np.nanmin(station.plot.voltage.yData))


def solver_minimum(shell: Shell) -> float:
    """The lowest voltage by a solve of its own."""
    build = shell.session.build
    solution = solve_power(build, duties_for(build, FullWhite()))
    return min(float(run.pixel_v.min()) for run in solution.runs.values())


def test_a_strip_is_built_from_empty_by_mouse_and_keys(opened: Opened, qtbot: QtBot) -> None:
    shell = opened()
    greeting = shell.stack.currentWidget()
    QTest.mouseClick(greeting.add_first, LEFT)
    form = pieces_of(shell).form
    assert len(shell.session.build.strips) == 1
    type_into(form.name, "Jetty edge")
    type_into(form.length, "5ft")
    type_into(form.pixels, "40")
    strip = shell.session.build.strips[0]
    assert (strip.name, strip.pixel_count) == ("Jetty edge", 40)
    station = power_of(shell)
    qtbot.waitUntil(lambda: any(f.code == "no-feed" for f in shell.session.findings), timeout=10_000)
    supply_button = next(b for b in station.findChildren(QPushButton) if b.text() == "Add supply")
    QTest.mouseClick(supply_button, LEFT)
    QTest.mouseClick(next(b for b in station.findChildren(QPushButton) if b.text() == "Add feed"), LEFT)
    assert len(shell.session.build.feeds) == 1
    assert plotted_minimum(station) == pytest.approx(solver_minimum(shell))
    labels = []
    while shell.session.history.undo_label:
        labels.append(shell.session.history.undo_label)
        shell.actions_by_id["undo"].trigger()
    assert shell.session.build.strips == ()
    assert len(labels) >= 5


def test_a_dragged_feed_moves_the_curve_and_undo_brings_the_very_build_back(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
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


def test_escape_lets_a_dragged_feed_fall_back(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    station = power_of(shell)
    QApplication.processEvents()
    before = shell.session.build
    start = QPoint(round(station.posts.feed_x(before.feeds[0])) + 3, 40)
    QTest.mousePress(station.posts, LEFT, Qt.KeyboardModifier.NoModifier, start)
    QTest.mouseMove(station.posts, start + QPoint(80, 0))
    assert shell.session.dragging
    QTest.keyClick(station.posts, Qt.Key.Key_Escape)
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
    assert shell.session.selection.slot == 100
    v = shell.session.solved.solution.runs["west-rail"].pixel_v[100]
    assert f"{v:.2f} V" in station.posts.card.text()
    QTest.keyClick(station.posts, Qt.Key.Key_Return)
    (card,) = [w for w in QApplication.topLevelWidgets() if w.windowTitle().startswith("Working")]
    assert f"{v:.3f} V" in card.text.toPlainText()
    card.close()


def test_the_pointer_alone_reads_out_a_light_and_leaves_the_selection(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    station = power_of(shell)
    QApplication.processEvents()
    QTest.mouseMove(station.posts, QPoint(round(station.posts.slot_x(60)), 220))
    assert station.posts.probed == 60
    assert shell.session.selection.slot is None
    assert f"{shell.session.solved.solution.runs['west-rail'].pixel_v[60]:.2f} V" in station.posts.card.text()
    station.posts.leaveEvent(QEvent(QEvent.Type.Leave))
    assert station.posts.probed is None
    assert station.posts.card.isHidden()


def test_a_cut_is_made_and_closed_at_the_selected_light(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    shell.session.select(slot=100)
    QTest.keyClick(shell, Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
    assert shell.session.build.strips[0].cuts == (100,)
    assert "pixels 100 to 215 have no feed" in shell.session.solved.refusal.what
    power_of(shell).grab()
    QTest.keyClick(shell, Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
    assert shell.session.build == demo_build("footbridge")
    shell.session.select(slot=0)
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
    shell = opened(demo_build("footbridge"))
    station = power_of(shell)
    station.table.item(0, 3).setText("1.5 mm2 / 2.5 mm2")
    station.table.item(0, 4).setText("3 m / 4.5 m")
    feed = shell.session.build.feeds[0]
    assert (feed.positive.wire_id, feed.negative.wire_id) == ("mm2-1_5", "mm2-2_5")
    assert (feed.positive.length_m, feed.negative.length_m) == (3, 4.5)
    assert station.table.item(0, 4).text() == "3.00 m / 4.50 m"
    shell.session.select(feed_id=feed.id)
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
    qtbot.waitUntil(lambda: len(shell.snags.cards) > 3, timeout=20_000)
    card = next(card for card in shell.snags.cards if card.finding.code == "pixel-voltage")
    strip = card.finding.place.strip_id
    QTest.mouseClick(next(b for b in card.findChildren(QPushButton) if b.text() == "Find feeds"), LEFT)
    assert shell.session.background.running("find-feeds")
    qtbot.waitUntil(lambda: shell.session.history.undo_label is not None, timeout=60_000)
    assert shell.session.history.undo_label.startswith("Found")
    qtbot.waitUntil(lambda: shell.session.evidence.build is shell.session.build, timeout=20_000)
    codes = {(f.code, f.place.strip_id) for f in shell.session.findings}
    assert ("pixel-voltage", strip) not in codes
    shell.session.undo()
    assert shell.session.build == build


def test_a_search_can_be_stopped_and_changes_nothing(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(demo_build("footbridge"))
    shell.long_work.find_feeds("west-rail", True)
    assert shell.transport.work.isVisible()
    shell.long_work.stop()
    assert not shell.transport.work.isVisible()
    qtbot.wait(50)
    assert shell.session.history.undo_label is None
    assert "Stopped" in shell.transport.status.toolTip()


def test_a_finding_jumps_to_its_place_in_every_station(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(demo_build("footbridge"), station="Pieces")
    qtbot.waitUntil(lambda: bool(shell.snags.cards), timeout=20_000)
    finding = next(c.finding for c in shell.snags.cards if c.finding.code == "pixel-voltage")
    shell.jump_to(finding)
    assert shell.station == "Power"
    assert shell.session.selection.slot == 215
    QTest.keyClick(shell, Qt.Key.Key_F8)
    assert shell.session.selection.feed_id is not None


def test_an_effect_is_drawn_moved_stretched_and_removed(opened: Opened) -> None:
    shell = opened(one_strip(60), station="Weave")
    station = weave_of(shell)
    canvas = station.canvas
    blink = next(look for look in station.looks if look.kind == "blink")
    QTest.mouseClick(blink, LEFT)
    w, h = canvas.width(), canvas.height()
    drag(canvas, QPoint(theme.GUTTER + 20, h // 4), QPoint(theme.GUTTER + 200, h // 2))
    (effect,) = shell.session.build.effects
    assert effect.look.kind == "blink"
    assert effect.start_s == pytest.approx(15, abs=0.3)
    assert not blink.isChecked()
    first, stop = effect_slots(shell.session.build, effect)
    box = canvas.effect_box(effect)
    drag(canvas, box.center().toPoint(), box.center().toPoint() + QPoint(100, 40))
    moved = shell.session.build.effects[0]
    assert effect_slots(shell.session.build, moved)[0] > first
    assert effect_slots(shell.session.build, moved)[1] - effect_slots(shell.session.build, moved)[0] == stop - first
    assert moved.start_s > effect.start_s
    box = canvas.effect_box(moved)
    edge = QPoint(round(box.center().x()), round(box.bottom()) - 2)
    drag(canvas, edge, edge + QPoint(0, 60))
    assert shell.session.build.effects[0].length_s > moved.length_s
    assert shell.session.history.undo_label == "Stretched blink"
    QTest.keyClick(canvas, Qt.Key.Key_Delete)
    assert shell.session.build.effects == ()
    for _ in range(4):
        shell.session.undo()
    assert shell.session.build == one_strip(60)
    assert w > 400


def test_an_effect_is_laid_and_moved_by_keys_alone(opened: Opened) -> None:
    shell = opened(one_strip(60), station="Weave")
    station = weave_of(shell)
    shell.session.set_time(10.0)
    wheel = next(look for look in station.looks if look.kind == "wheel")
    QTest.keyClick(wheel, Qt.Key.Key_Return)
    (effect,) = shell.session.build.effects
    assert (effect.start_s, effect_slots(shell.session.build, effect)) == (10.0, (0, 60))
    canvas = station.canvas
    canvas.setFocus()
    QTest.keyClick(canvas, Qt.Key.Key_Left, Qt.KeyboardModifier.AltModifier)
    QTest.keyClick(canvas, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    QTest.keyClick(canvas, Qt.Key.Key_Right)
    moved = shell.session.build.effects[0]
    assert effect_slots(shell.session.build, moved) == (1, 60)
    assert moved.start_s == pytest.approx(11.0)
    QTest.keyClick(canvas, Qt.Key.Key_Escape)
    assert shell.session.selection.effect_id is None
    QTest.keyClick(canvas, Qt.Key.Key_N)
    assert shell.session.selection.effect_id == moved.id


def test_an_effects_parameters_are_typed(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"), station="Weave")
    form = weave_of(shell).form
    chase = next(e for e in shell.session.build.effects if e.look.kind == "chase")
    shell.session.select(effect_id=chase.id)
    type_into(form._looks["length_px"], "12")
    type_into(form.start, "0:09.5")
    type_into(form.lights, "10-99")
    changed = next(e for e in shell.session.build.effects if e.id == chase.id)
    assert changed.look.length_px == 12
    assert changed.start_s == 9.5
    assert effect_slots(shell.session.build, changed) == (10, 100)
    before = shell.session.build
    type_into(form.lights, "10-9999")
    assert shell.session.build is before
    assert "within 0-431" in shell.transport.status.toolTip()


def test_the_show_plays_scrubs_and_the_load_follows_the_caret(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(demo_build("footbridge"))
    station = power_of(shell)
    shell.session.set_load(FrameLoad(time_s=0))
    shell.session.set_time(30.0)
    bright = plotted_minimum(station)
    shell.session.set_time(59.9)
    assert plotted_minimum(station) > bright
    QTest.keyClick(shell, Qt.Key.Key_Space, Qt.KeyboardModifier.ControlModifier)
    assert shell.transport.playing
    shell.session.set_time(20.0)
    qtbot.waitUntil(lambda: shell.session.time_s > 20.2, timeout=5000)
    shell.transport.toggle()
    assert not shell.transport.playing
    shell.transport.slider.setValue(123)
    assert shell.session.time_s == pytest.approx(12.3)


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


def test_wrong_typing_is_told_once_and_nothing_is_lost(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"), station="Pieces")
    form = pieces_of(shell).form
    before = shell.session.build
    type_into(form.length, "banana")
    assert "“banana” is not understood" in shell.transport.status.toolTip()
    assert shell.session.build is before
    assert form.length.property("fault") is True
    type_into(form.order, "RRR")
    assert "must use each of" in shell.transport.status.toolTip()
    type_into(form.pixels, "12.5")
    assert "whole number" in shell.transport.status.toolTip()
    assert shell.session.build is before


def test_strips_are_reordered_duplicated_joined_and_laid(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"), station="Pieces")
    station = pieces_of(shell)
    form = station.form
    shell.session.select(slot=0)
    QTest.mouseClick(form._later, LEFT)
    assert [s.name for s in shell.session.build.strips] == ["East rail", "West rail"]
    QTest.mouseClick(form._duplicate, LEFT)
    assert len(shell.session.build.strips) == 3
    form.joint.activated.emit(1)
    assert len(shell.session.build.joints) == 1
    type_into(form.cuts, "100, 50")
    assert form.strip.cuts == (50, 100)
    form.layout_form.shape.activated.emit(2)
    assert form.strip.layout.shape == "ring"
    QTest.mouseClick(form._remove, LEFT)
    assert len(shell.session.build.strips) == 2
    while shell.session.history.undo_label:
        shell.session.undo()
    assert shell.session.build == demo_build("footbridge")


def test_a_strip_is_dragged_in_the_picture_as_one_step(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"), station="Pieces")
    picture = pieces_of(shell).picture
    picture.grab()
    x, y = picture._places[100]
    start = QPoint(round(x) + 34, round(y))
    drag(picture, start, start + QPoint(0, 40))
    assert shell.session.history.undo_label == "Moved West rail in the picture"
    assert shell.session.build.strips[0].layout.y_m < 0


def test_one_axis_serves_the_line_and_every_station(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    station = power_of(shell)
    QApplication.processEvents()
    plot = station.plot
    on_ruler = theme.LINE_LEFT + shell.axis.to_screen(shell.axis.slot_place(300), shell.ruler.axis_width)
    on_plot = plot.mapTo(shell, QPoint(0, 0)).x() + station.posts.slot_x(300)
    assert on_plot == pytest.approx(on_ruler, abs=1.5)
    area = plot.volts.plot.getViewBox().sceneBoundingRect().translated(plot.volts.plot.pos())
    assert area.left() == pytest.approx(theme.GUTTER, abs=1.5)
    assert area.right() == pytest.approx(plot.width(), abs=2)
    canvas = weave_of(shell).canvas
    on_weave = (
        canvas.mapTo(shell, QPoint(0, 0)).x()
        + theme.GUTTER
        + shell.axis.to_screen(shell.axis.slot_place(300), canvas.axis_width)
    )
    assert on_weave == pytest.approx(on_ruler, abs=1.5)


def test_the_line_zooms_scrolls_and_steps(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    QTest.keyClick(shell.ruler, Qt.Key.Key_End)
    assert shell.session.selection.slot == 431
    QTest.keyClick(shell.ruler, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    assert shell.session.selection.slot == 421
    shell.actions_by_id["zoom-in"].trigger()
    assert shell.axis.right_m - shell.axis.left_m < shell.axis.total_m
    shell.axis.scroll(-5)
    assert shell.axis.left_m == 0
    QTest.keyClick(shell.ruler, Qt.Key.Key_0)
    assert shell.axis.right_m == pytest.approx(shell.axis.total_m)
    QTest.mouseClick(shell.ruler, LEFT, Qt.KeyboardModifier.NoModifier, QPoint(theme.LINE_LEFT + 1, 38))
    assert shell.session.selection.slot == 0


def test_work_is_saved_reopened_and_a_bad_file_changes_nothing(opened: Opened, tmp_path: Path) -> None:
    shell = opened(demo_build("footbridge"))
    path = tmp_path / "bridge.lantern"
    assert shell.files.save_to(path)
    assert load(path) == shell.session.build
    assert not shell.files.unsaved
    bad = tmp_path / "bad.lantern"
    bad.write_text('{"format": "tiny-lantern-build", "version": 1, "strips": [{"id": 7}]}')
    before = shell.session.build
    assert not shell.files.open(bad)
    assert shell.session.build is before
    assert "bad.lantern: strips[0]" in shell.transport.status.toolTip()
    assert shell.files.recent == [path.resolve()]


def test_a_lantern_file_is_dropped_onto_the_window(opened: Opened, tmp_path: Path) -> None:
    path = tmp_path / "dropped.lantern"
    save(one_strip(17), path)
    shell = opened(demo_build("footbridge"))
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    shell.dropEvent(QDropEvent(QPointF(9, 9), Qt.DropAction.CopyAction, data, LEFT, Qt.KeyboardModifier.NoModifier))
    assert shell.session.build == one_strip(17)


def test_opening_another_build_sets_unsaved_work_aside(opened: Opened, tmp_path: Path) -> None:
    shell = opened(demo_build("footbridge"))
    shell.session.apply("Removed a strip", lambda b: change_strip(b, "west-rail", pixel_count=9))
    shell.files.open_demo("cloak")
    (aside,) = (tmp_path / "state" / "set-aside").iterdir()
    assert load(aside).strips[0].pixel_count == 9


def test_a_killed_program_leaves_a_draft_that_is_offered_and_recovered(opened: Opened, tmp_path: Path) -> None:
    script = """
import sys, time
from pathlib import Path
from PySide6.QtWidgets import QApplication
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.shell import Shell
from tiny_lantern.model.edits_pieces import change_strip
app = QApplication([])
shell = Shell(Session(demo_build("footbridge")), drafts=Path(sys.argv[1]))
shell.show()
shell.session.apply("Shortened", lambda b: change_strip(b, "west-rail", pixel_count=77))
end = time.monotonic() + 20
while not list(Path(sys.argv[1]).glob("draft-*.json")) and time.monotonic() < end:
    app.processEvents()
print("kept", flush=True)
app.exec()
"""
    drafts = tmp_path / "state" / "drafts"
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    process = subprocess.Popen(
        [sys.executable, "-c", script, str(drafts)], stdout=subprocess.PIPE, env=environment, text=True
    )
    assert process.stdout is not None
    assert process.stdout.readline().strip() == "kept"
    process.send_signal(signal.SIGKILL)
    process.wait()
    process.stdout.close()
    shell = opened()
    recover = next(b for b in shell.findChildren(QPushButton) if b.text() == "Recover it")
    QTest.mouseClick(recover, LEFT)
    assert shell.session.build.strips[0].pixel_count == 77
    assert shell.files.unsaved
    shell.files.save_to(tmp_path / "kept.lantern")


def test_sheets_preview_and_export(opened: Opened, qtbot: QtBot, tmp_path: Path) -> None:
    shell = opened(demo_build("footbridge"))
    qtbot.waitUntil(lambda: shell.session.evidence is not None, timeout=20_000)
    shell.show_station("Sheets")
    station = shell.stack.currentWidget()
    assert isinstance(station, SheetsStation)
    text = station.preview.toPlainText()
    assert "Heron Footbridge" in text
    assert "Feeds, wires and fuses" in text
    for suffix in ("pdf", "html", "csv"):
        station.save(tmp_path / f"sheet.{suffix}", suffix)
        assert (tmp_path / f"sheet.{suffix}").stat().st_size > 100
    station.save(tmp_path / "frames.csv", "frames.csv")
    qtbot.waitUntil(lambda: (tmp_path / "frames.csv").exists(), timeout=30_000)


def test_the_empty_build_greets_with_three_ways_in(opened: Opened) -> None:
    shell = opened()
    texts = {b.text() for b in shell.stack.currentWidget().findChildren(QPushButton)}
    assert {"Heron Footbridge", "A ring", "Add a strip", "Open a file …"} <= texts
    ring = next(b for b in shell.stack.currentWidget().findChildren(QPushButton) if b.text() == "A ring")
    QTest.mouseClick(ring, LEFT)
    assert shell.session.build.strips[0].layout.shape == "ring"
    assert shell.station == "Power"
    shell.session.undo()
    assert {"A ring"} <= {b.text() for b in shell.stack.currentWidget().findChildren(QPushButton)}


def test_a_piece_without_a_feed_is_told_in_the_plot(opened: Opened) -> None:
    build = add_strip(one_strip(60), part("strips", "rgb-5v-60"), 9, "Far")
    shell = opened(build)
    assert shell.session.solved.refusal is not None
    assert "“Far” has no feed" in shell.session.solved.refusal.what
    power_of(shell).grab()


@pytest.mark.parametrize("size", [(1280, 800), (1024, 700)])
@pytest.mark.parametrize("station", ["Pieces", "Power", "Weave", "Sheets"])
@pytest.mark.parametrize("palette", [theme.PAPER, theme.NIGHT], ids=["paper", "night"])
def test_every_station_fits_the_window(
    opened: Opened, qapp: QApplication, size: tuple[int, int], station: str, palette: theme.Palette
) -> None:
    shell = opened(demo_build("footbridge"), size, station)
    shell.set_theme(palette)
    for _ in range(4):
        qapp.processEvents()
    assert shell.size().toTuple() == size
    image = shell.grab().toImage()
    assert len({image.pixel(x, y) for x in range(0, size[0], 7) for y in range(0, size[1], 7)}) > 20
    for child in shell.findChildren(QPushButton):
        if child.isVisible() and child.visibleRegion().boundingRect() == child.rect() and child.text():
            words = child.fontMetrics().horizontalAdvance(child.text())
            assert child.width() >= words, f"“{child.text()}” is cut"


@pytest.mark.parametrize("pixels", [1, 10_000])
def test_one_pixel_and_ten_thousand_are_shown(opened: Opened, pixels: int) -> None:
    shell = opened(one_strip(pixels, feeds=tuple(np.linspace(0, 1, 9))))
    for station in ("Pieces", "Power", "Weave"):
        shell.show_station(station)
        shell.grab()
    assert shell.session.solved.build is shell.session.build


@settings(max_examples=25)
@given(builds(), st.lists(st.booleans(), min_size=1, max_size=12))
def test_undo_and_redo_return_the_identical_builds(build, steps: list[bool]) -> None:
    history = History(build)
    visited = [build]
    for number, longer in enumerate(steps):
        count = build.strips[0].pixel_count + (number + 1 if longer else 0)
        visited.append(change_strip(history.current, build.strips[0].id, pixel_count=count))
        history.push(f"step {number}", visited[-1])
    for wanted in reversed(visited[:-1]):
        history.undo()
        assert history.current is wanted
    assert history.undo() is None
    for wanted in visited[1:]:
        history.redo()
        assert history.current is wanted
    assert history.redo() is None


def test_every_control_has_a_name_for_screen_readers(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    plots = [panel.plot for panel in power_of(shell).plot.panels]
    for station in ("Pieces", "Power", "Weave", "Sheets"):
        shell.show_station(station)
        for child in shell.stack.currentWidget().findChildren(QWidget):
            focusable = child.isVisible() and bool(child.focusPolicy() & Qt.FocusPolicy.TabFocus)
            inside = isinstance(child, QScrollArea) or any(child is p or p.isAncestorOf(child) for p in plots)
            if not focusable or inside or child.objectName().startswith("qt_"):
                continue
            text = child.text() if isinstance(child, QAbstractButton) else ""
            assert child.accessibleName() or text, f"{station}: {type(child).__name__} has no name"
