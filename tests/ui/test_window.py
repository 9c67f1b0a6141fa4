"""The window as a whole: one axis, findings that jump, sizes, names, undo."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QApplication, QPushButton, QScrollArea, QWidget
from pytestqt.qtbot import QtBot

from tests.support.builds import builds, one_strip
from tests.support.effort import some
from tests.ui.conftest import Opened
from tests.ui.driving import LEFT, pieces_of, power_of, weave_of
from tiny_lantern.model.build import FrameLoad
from tiny_lantern.model.edits_pieces import change_strip
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.ui import theme
from tiny_lantern.ui.declared.registry import stations
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.history import History


def test_a_finding_jumps_to_its_place_in_every_station(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(demo_build("footbridge"), station="Pieces")
    qtbot.waitUntil(lambda: bool(shell.snags.cards))
    finding = next(c.finding for c in shell.snags.cards if c.finding.code == "pixel-voltage")
    shell.jump_to(finding)
    assert shell.station == "Power"
    assert shell.session.slot == 215
    QTest.keyClick(shell, Qt.Key.Key_F8)
    first = shell.snags.cards[0].finding.place
    assert first.piece_id == "west-rail"
    assert shell.session.slot == first.index


def test_one_axis_serves_the_line_and_every_station(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    station = power_of(shell)
    QApplication.processEvents()
    plot = station.plot
    on_ruler = theme.LINE_LEFT + shell.axis.to_screen(shell.axis.slot_place(300), shell.ruler.axis_width)
    on_plot = plot.mapTo(shell, QPoint(0, 0)).x() + station.posts.slot_x(300)
    assert on_plot == pytest.approx(on_ruler, abs=1.5)
    area = plot.volts.rect
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
    assert shell.session.slot == 431
    QTest.keyClick(shell.ruler, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    assert shell.session.slot == 421
    shell.actions_by_id["zoom-in"].trigger()
    assert shell.axis.right_m - shell.axis.left_m < shell.axis.total_m
    shell.axis.scroll(-5)
    assert shell.axis.left_m == 0
    QTest.keyClick(shell.ruler, Qt.Key.Key_0)
    assert shell.axis.right_m == pytest.approx(shell.axis.total_m)
    QTest.mouseClick(shell.ruler, LEFT, Qt.KeyboardModifier.NoModifier, QPoint(theme.LINE_LEFT + 1, 38))
    assert shell.session.slot == 0


@pytest.mark.parametrize("size", [(1280, 800), (1024, 700)])
@pytest.mark.parametrize("palette", [theme.PAPER, theme.NIGHT], ids=["paper", "night"])
def test_every_station_fits_the_window(
    opened: Opened, qapp: QApplication, size: tuple[int, int], palette: theme.Palette
) -> None:
    shell = opened(demo_build("footbridge"), size)
    shell.set_theme(palette)
    for station in stations():
        shell.show_station(station.title)
        for _ in range(4):
            qapp.processEvents()
        assert shell.size().toTuple() == size
        image = shell.window().grab().toImage()
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
        shell.window().grab()
    assert shell.session.solved.build is shell.session.build


@some(25)
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
    for station in ("Pieces", "Power", "Weave", "Sheets"):
        shell.show_station(station)
        for child in shell.stack.currentWidget().findChildren(QWidget):
            focusable = child.isVisible() and bool(child.focusPolicy() & Qt.FocusPolicy.TabFocus)
            inside = isinstance(child, QScrollArea)
            if not focusable or inside or child.objectName().startswith("qt_"):
                continue
            text = child.text() if isinstance(child, QAbstractButton) else ""
            assert child.accessibleName() or text, f"{station}: {type(child).__name__} has no name"


def test_space_plays_and_keys_duplicate_remove_and_feed(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    station = power_of(shell)
    QTest.keyClick(station.posts, Qt.Key.Key_Space)
    assert shell.transport.playing
    QTest.keyClick(station.posts, Qt.Key.Key_Space)
    assert not shell.transport.playing
    shell.session.select_slot(100)
    QTest.keyClick(station.posts, Qt.Key.Key_Insert)
    assert shell.session.build.feeds[-1].attach.position_m == pytest.approx(100.5 / 30)
    QTest.keyClick(shell, Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier)
    assert [strip.name for strip in shell.session.build.strips] == ["West rail", "West rail 2", "East rail"]
    shell.show_station("Pieces")
    shell.session.select_slot(300)
    QTest.keyClick(pieces_of(shell).table, Qt.Key.Key_Delete)
    assert [strip.name for strip in shell.session.build.strips] == ["West rail", "East rail"]
    shell.show_station("Weave")
    shell.session.select("effects", shell.session.build.effects[0].id)
    QTest.keyClick(shell, Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier)
    assert len(shell.session.build.effects) == 9
    empty = opened()
    power_of(empty)._add_feed()
    assert "nothing to feed from" in empty.transport.status.toolTip()


def test_findings_follow_the_frame_under_the_caret_once_it_rests(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(one_strip(400))
    shell.session.set_load(FrameLoad(time_s=0))
    qtbot.waitUntil(lambda: bool(shell.session.findings))
    lit = add_effect(shell.session.build, look_of("steady", colour="#ffffff"), 0, 399, 10, 10)
    shell.session.apply("Lit", lambda _: lit)
    shell.session.set_time(15)
    qtbot.waitUntil(lambda: any(f.code == "pixel-voltage" for f in shell.session.findings))
    shell.session.set_time(1)
    qtbot.waitUntil(lambda: all(f.code != "pixel-voltage" for f in shell.session.findings))
