"""Pieces as a person uses it, from the empty build on."""

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QColor
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QPushButton
from pytestqt.qtbot import QtBot

from tests.support.builds import one_strip, part
from tests.support.pieces import pier
from tests.ui.conftest import Opened
from tests.ui.driving import LEFT, drag, pieces_of, plotted_minimum, power_of, solver_minimum, type_into
from tiny_lantern.model.edits_pieces import add_strip, change_strip, remove_piece
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.widgets.row_table import LEAST_STRETCHED, WIDEST_COLUMN


def test_a_strip_is_built_from_empty_by_mouse_and_keys(opened: Opened, qtbot: QtBot) -> None:
    shell = opened()
    greeting = shell.stack.currentWidget()
    QTest.mouseClick(greeting.add_first, LEFT)
    form = pieces_of(shell).form
    assert len(shell.session.build.strips) == 1
    type_into(form.fields["name"], "Jetty edge")
    type_into(form.fields["length"], "5ft")
    type_into(form.fields["pixels"], "40")
    strip = shell.session.build.strips[0]
    assert (strip.name, strip.pixel_count) == ("Jetty edge", 40)
    station = power_of(shell)
    qtbot.waitUntil(lambda: any(f.code == "no-feed" for f in shell.session.findings))
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


def test_the_greeting_leads_to_every_kind(opened: Opened) -> None:
    shell = opened()
    QTest.mouseClick(shell.stack.currentWidget().other_kind, LEFT)
    assert shell.session.build.pieces == ()
    tray = pieces_of(shell).tray
    assert tray.isVisible()
    QTest.mouseClick(tray.cards["matrix"], LEFT)
    assert shell.session.build.pieces[0].kind == "matrix"


def test_wrong_typing_is_told_once_and_nothing_is_lost(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"), station="Pieces")
    form = pieces_of(shell).form
    before = shell.session.build
    type_into(form.fields["length"], "banana")
    assert "“banana” is not understood" in shell.transport.status.toolTip()
    assert shell.session.build is before
    assert form.fields["length"].property("fault") is True
    type_into(form.fields["order"], "RRR")
    assert "must use each of" in shell.transport.status.toolTip()
    for field, absurd in (
        (form.fields["pitch"], "0"),
        (form.fields["pitch"], "1e9"),
        (form.fields["length"], "900 km"),
        (form.fields["out-rail"], "0"),
    ):
        type_into(field, absurd)
        assert shell.session.build is before
        assert shell.transport.status.toolTip()
    type_into(form.fields["pixels"], "12.5")
    assert "whole number" in shell.transport.status.toolTip()
    assert shell.session.build is before


def test_strips_are_reordered_duplicated_joined_and_laid(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"), station="Pieces")
    station = pieces_of(shell)
    form = station.form
    shell.session.select_slot(0)
    QTest.mouseClick(form._later, LEFT)
    assert [s.name for s in shell.session.build.strips] == ["East rail", "West rail"]
    QTest.mouseClick(form._copy, LEFT)
    assert len(shell.session.build.strips) == 3
    form.fields["joint"].activated.emit(1)
    assert len(shell.session.build.joints) == 1
    type_into(form.fields["cuts"], "100, 50")
    assert form.pieces[0].cuts == (50, 100)
    form.fields["shape"].activated.emit(2)
    assert form.pieces[0].layout.shape == "ring"
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


def test_the_empty_build_greets_with_three_ways_in_each_glowing(opened: Opened, qtbot: QtBot) -> None:
    shell = opened()
    greeting = shell.stack.currentWidget()
    texts = {b.text() or b.accessibleName() for b in greeting.findChildren(QPushButton)}
    assert {"Heron Footbridge", "A ring", "Add a strip", "Open a file …"} <= texts
    qtbot.waitUntil(lambda: all(picture.lit for picture in greeting.pictures))
    assert all(QColor(p.grab().toImage().pixel(9, 9)).lightness() < 60 for p in greeting.pictures)
    ring = next(picture for picture in greeting.pictures if picture.accessibleName() == "A ring")
    assert (
        max(QColor(ring.grab().toImage().pixel(x, ring.height() // 3)).lightness() for x in range(8, ring.width() - 8))
        > 120
    )
    QTest.mouseClick(ring, LEFT)
    assert shell.session.build.strips[0].layout.shape == "ring"
    assert shell.station == "Power"
    shell.session.undo()
    assert shell.stack.greeting


def test_long_names_stay_inside_their_panels(opened: Opened) -> None:
    build = one_strip(30)
    name = "Seaward side of the pier deck between the second and the third ladder"
    shell = opened(change_strip(build, "strip", name=name), size=(1024, 700), station="Pieces")
    form = pieces_of(shell).form
    QTest.mouseClick(shell.ruler, LEFT, Qt.KeyboardModifier.NoModifier, shell.ruler.rect().center())
    panel = form.parentWidget()
    for field in (form.fields["part"], form.fields["name"], form.fields["length"]):
        assert field.mapTo(panel, field.rect().topRight()).x() <= panel.width()
    table = pieces_of(shell).table
    assert table.columnWidth(0) <= WIDEST_COLUMN
    assert table.columnWidth(1) >= LEAST_STRETCHED
    station = power_of(shell)
    QTest.mouseMove(station.posts, QPoint(300, 200))
    assert station.posts.card.width() < 320


def test_a_new_supply_and_a_new_feed_are_of_the_strip_s_voltage(opened: Opened) -> None:
    build = add_strip(one_strip(30), part("rgb-24v-seg10"), 40, "Far")
    shell = opened(build)
    station = power_of(shell)
    shell.session.select_slot(60)
    buttons = {b.text(): b for b in station.findChildren(QPushButton)}
    QTest.mouseClick(buttons["Add supply"], LEFT)
    assert shell.session.build.supplies[-1].set_v == 24
    shell.session.select_slot(60)
    shell.session.select("supplies", "supply")
    QTest.mouseClick(buttons["Add feed"], LEFT)
    assert shell.session.build.feeds[-1].supply_id == shell.session.build.supplies[-1].id


def test_escape_lets_a_dragged_strip_fall_back(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"), station="Pieces")
    QApplication.processEvents()
    picture, before = pieces_of(shell).picture, shell.session.build
    start = picture.spot_of(30).toPoint()
    QTest.mousePress(picture, LEFT, Qt.KeyboardModifier.NoModifier, start)
    QTest.mouseMove(picture, start + QPoint(30, 30))
    assert shell.session.build != before
    QTest.keyClick(picture, Qt.Key.Key_Escape)
    QTest.mouseRelease(picture, LEFT, Qt.KeyboardModifier.NoModifier, start + QPoint(30, 30))
    assert shell.session.build is before


def test_what_lies_higher_is_drawn_higher_and_moves_with_the_hand(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"), station="Pieces")
    QApplication.processEvents()
    picture = pieces_of(shell).picture
    west, east = picture.spot_of(30), picture.spot_of(246)
    assert west.y() < east.y()
    y_m = shell.session.build.strips[0].layout.y_m
    start = west.toPoint()
    QTest.mousePress(picture, LEFT, Qt.KeyboardModifier.NoModifier, start)
    QTest.mouseMove(picture, start + QPoint(0, -40))
    QTest.mouseRelease(picture, LEFT, Qt.KeyboardModifier.NoModifier, start + QPoint(0, -40))
    assert shell.session.build.strips[0].layout.y_m > y_m


def test_any_piece_is_chosen_renamed_doubled_moved_and_removed(opened: Opened) -> None:
    shell = opened(pier(), station="Pieces")
    form = pieces_of(shell).form
    lamps = next(span for span in shell.session.build.line.spans if span.piece.kind == "lamps")
    shell.session.select_slot(lamps.first)
    assert form.fields["name"].text() == "Quay"
    assert not form.fields["pixels"].isVisible()
    type_into(form.fields["name"], "North quay")
    assert shell.session.build.line.piece(lamps.piece.id).name == "North quay"
    for press in (form._copy, form._later, form._remove):
        QTest.mouseClick(press, LEFT)
    names = [piece.name for piece in shell.session.build.pieces]
    assert "North quay 2" in names
    assert "North quay" not in names
    for _ in range(4):
        shell.session.undo()
    assert shell.session.build == pier()


def test_every_station_shows_a_build_of_lamps_alone(opened: Opened) -> None:
    build = pier()
    for strip in build.strips:
        build = remove_piece(build, strip.id)
    shell = opened(add_effect(build, look_of("wheel"), 0, build.line.slot_count - 1, 0, 9))
    for station in ("Power", "Weave", "Sheets", "Pieces"):
        shell.show_station(station)
        shell.session.select_slot(7)
        QApplication.processEvents()
    assert shell.session.solved is not None
    assert shell.session.pixel_in_hand() == (None, 0)
