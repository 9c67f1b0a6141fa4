"""The weave as a person uses it: effects by mouse and keys, and the show in time."""

from functools import partial

import numpy as np
import pytest
from PySide6.QtCore import QPoint, QPointF, QRectF, Qt
from PySide6.QtGui import QImage, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QSplitter
from pytestqt.qtbot import QtBot

from tests.support.builds import one_strip
from tests.support.driven import driven, lamps, lit
from tests.ui.conftest import Opened
from tests.ui.driving import LEFT, drag, plotted_minimum, power_of, type_into, weave_of
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, FrameLoad
from tiny_lantern.model.edits_drive import change_driver
from tiny_lantern.model.edits_power import change_supply
from tiny_lantern.model.edits_show import add_effect, change_look, nudge_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.model.layout import all_places, bounds
from tiny_lantern.show.weave import Show, render
from tiny_lantern.ui import theme
from tiny_lantern.ui.colours import screen_table
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.stations import weave_canvas, weave_raster
from tiny_lantern.ui.stations.weave_canvas import WeaveCanvas
from tiny_lantern.ui.stations.weave_raster import WeaveRaster
from tiny_lantern.ui.widgets.layer import MovingLayer


def test_an_effect_on_lamps_shows_its_fields(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(demo_build("pier"), station="Weave")
    form = weave_of(shell).form
    for effect in shell.session.build.effects:
        shell.session.select("effects", effect.id)
        piece = shell.session.build.line.piece(effect.first.piece_id)
        name = piece.place_name(effect.first.index)
        qtbot.waitUntil(lambda name=name: name in form.lights.toolTip())
        assert f"(number {effect.last.index})" in form.lights.toolTip()


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
    first, stop = shell.session.build.line.covered(effect)
    box = canvas.effect_box(effect)
    drag(canvas, box.center().toPoint(), box.center().toPoint() + QPoint(100, 40))
    moved = shell.session.build.effects[0]
    assert shell.session.build.line.covered(moved)[0] > first
    assert shell.session.build.line.covered(moved)[1] - shell.session.build.line.covered(moved)[0] == stop - first
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


def test_the_boxes_of_many_effects_are_kept_while_the_caret_moves_and_follow_every_edit(
    opened: Opened, monkeypatch: pytest.MonkeyPatch
) -> None:
    shell = opened(demo_build("footbridge"), station="Weave")
    canvas, session = weave_of(shell).canvas, shell.session
    drawn: list[str] = []
    draw = weave_canvas.draw_boxes
    monkeypatch.setattr(weave_canvas, "draw_boxes", lambda *given: (drawn.append("all"), draw(*given)))
    plain = canvas.grab().toImage()
    drawn.clear()
    session.set_time(session.time_s + 1.0)
    canvas.grab()
    assert not drawn
    session.set_time(session.time_s - 1.0)
    assert alike(canvas.grab().toImage(), plain)
    session.apply("x", lambda build: nudge_effect(build, build.effects[0].id, 0, 1.0))
    canvas.grab()
    assert len(drawn) == 1
    session.select("effects", session.build.effects[0].id)
    canvas.grab()
    assert len(drawn) == 2


def crowd_of_effects() -> Build:
    """Effects that lie close after one another and beside, so that not every name has room."""
    build = one_strip(120)
    for number in range(250):
        first = number * 3 % 40
        build = add_effect(build, look_of("blink"), first, first + 45, 0.15 * number, 5.0)
    return build


@pytest.mark.parametrize("build", [demo_build("pier"), crowd_of_effects()], ids=["pier", "crowd"])
def test_boxes_that_are_scrolled_by_are_moved_and_only_those_that_come_into_view_are_drawn(
    opened: Opened, monkeypatch: pytest.MonkeyPatch, build: Build
) -> None:
    shell = opened(build, station="Weave")
    station, areas = weave_of(shell), []
    canvas, axis = station.canvas, station.canvas._axis._line
    draw = weave_canvas.draw_boxes
    monkeypatch.setattr(weave_canvas, "draw_boxes", lambda *given: (areas.append(given[-1]), draw(*given)))
    shell.session.select("effects", shell.session.build.effects[1].id)
    station.time.zoom(0.3, 20.0)
    axis.zoom(0.5, axis.total_m / 2)
    canvas._boxes_picture()
    for keys, turns in (
        (Qt.KeyboardModifier.NoModifier, (1, 1, 1, -1, 1, -1, -1)),
        (Qt.KeyboardModifier.ShiftModifier, (1, -1, -1, 1, 1)),
    ):
        for turn in turns:
            before = (station.time.top_s, axis.left_m)
            areas.clear()
            wheel(canvas, turn, keys)
            moved = canvas._boxes_picture().toImage()
            assert (station.time.top_s, axis.left_m) != before
            assert sum(area.width() * area.height() for area in areas) < 0.25 * canvas.width() * canvas.height()
            kept, canvas._still = canvas._still, MovingLayer(weave_canvas.TAB_HIGH)
            assert different(moved, canvas._boxes_picture().toImage()) < 60  # corners at the edge of what is drawn
            canvas._still = kept
    for act in (lambda: station.time.zoom(0.9, 20.0), lambda: station.time.scroll(0.1 / canvas.height())):
        act()
        areas.clear()
        canvas._boxes_picture()
        assert [area.toRect() for area in areas] == [canvas.rect()]


def wheel(canvas: WeaveCanvas, turn: int, keys: Qt.KeyboardModifier) -> None:
    """Turn the wheel by one notch over the middle: down for 1."""
    at, angle = QPointF(canvas.rect().center()), QPoint(0, -120 * turn)
    phase = Qt.ScrollPhase.NoScrollPhase
    QApplication.sendEvent(canvas, QWheelEvent(at, at, QPoint(), angle, Qt.MouseButton.NoButton, keys, phase, False))


def alike(one: QImage, other: QImage) -> bool:
    """Whether two pictures look the same, but for the smoothing of a few edges."""
    first, second = values(one), values(other)
    return first.shape == second.shape and bool((np.abs(first - second) > 40).mean() < 0.01)


def different(one: QImage, other: QImage) -> int:
    """How many pixels of two pictures are not the same."""
    return int((values(one) != values(other)).any(axis=1).sum())


def values(image: QImage) -> np.ndarray:
    """The pixels of a picture, (n_pixels, 4)."""
    plain = image.convertToFormat(QImage.Format.Format_ARGB32)
    return np.frombuffer(plain.constBits(), np.uint8).astype(int).reshape(-1, 4)


def test_an_effect_is_laid_and_moved_by_keys_alone(opened: Opened) -> None:
    shell = opened(one_strip(60), station="Weave")
    station = weave_of(shell)
    shell.session.set_time(10.0)
    wheel = next(look for look in station.looks if look.kind == "wheel")
    QTest.keyClick(wheel, Qt.Key.Key_Return)
    (effect,) = shell.session.build.effects
    assert (effect.start_s, shell.session.build.line.covered(effect)) == (10.0, (0, 60))
    canvas = station.canvas
    canvas.setFocus()
    QTest.keyClick(canvas, Qt.Key.Key_Left, Qt.KeyboardModifier.AltModifier)
    QTest.keyClick(canvas, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    QTest.keyClick(canvas, Qt.Key.Key_Right)
    moved = shell.session.build.effects[0]
    assert shell.session.build.line.covered(moved) == (1, 60)
    assert moved.start_s == pytest.approx(11.0)
    QTest.keyClick(canvas, Qt.Key.Key_Escape)
    assert shell.session.selection.one("effects") is None
    QTest.keyClick(canvas, Qt.Key.Key_N)
    assert shell.session.selection.one("effects") == moved.id


def test_an_effects_parameters_are_typed(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"), station="Weave")
    form = weave_of(shell).form
    chase = next(e for e in shell.session.build.effects if e.look.kind == "chase")
    shell.session.select("effects", chase.id)
    type_into(form._looks["length_px"], "12")
    type_into(form.start, "0:09.5")
    type_into(form.lights, "10-99")
    changed = next(e for e in shell.session.build.effects if e.id == chase.id)
    assert changed.look.length_px == 12
    assert changed.start_s == 9.5
    assert shell.session.build.line.covered(changed) == (10, 100)
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
    qtbot.waitUntil(lambda: shell.session.time_s > 20.2)
    shell.transport.toggle()
    assert not shell.transport.playing
    shell.transport.slider.setValue(123)
    assert shell.session.time_s == pytest.approx(12.3)


def test_escape_lets_a_dragged_effect_fall_back(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"), station="Weave")
    canvas, before = weave_of(shell).canvas, shell.session.build
    start = canvas.effect_box(before.effects[1]).center().toPoint()
    QTest.mousePress(canvas, LEFT, Qt.KeyboardModifier.NoModifier, start)
    QTest.mouseMove(canvas, start + QPoint(60, 30))
    assert shell.session.build != before
    QTest.keyClick(canvas, Qt.Key.Key_Escape)
    QTest.mouseRelease(canvas, LEFT, Qt.KeyboardModifier.NoModifier, start + QPoint(60, 30))
    assert shell.session.build is before
    assert shell.session.history.undo_label is None


@pytest.mark.parametrize("speed", [0.5, 2.0])
def test_the_show_plays_at_the_speed_that_is_chosen(
    opened: Opened, speed: float, monkeypatch: pytest.MonkeyPatch
) -> None:
    shell = opened(demo_build("footbridge"), station="Weave")
    choice = shell.transport.speed
    choice.setCurrentIndex(choice.findData(speed))
    choice.activated.emit(choice.currentIndex())
    shell.session.set_time(10.0)
    monkeypatch.setattr(shell.transport._clock, "nsecsElapsed", lambda: 400_000_000)
    shell.transport._advance()
    assert shell.session.time_s == pytest.approx(10.0 + 0.4 * speed)


@pytest.mark.parametrize(("tick_hz", "wanted_ms"), [(40.0, 25), (10.0, 25), (50.0, 20), (60.0, 17), (400.0, 16)])
def test_a_show_is_drawn_as_often_as_it_has_frames(opened: Opened, tick_hz: float, wanted_ms: int) -> None:
    shell = opened(revise(demo_build("footbridge"), tick_hz=tick_hz), station="Weave")
    shell.transport.play.setChecked(True)
    assert shell.transport._timer.interval() == wanted_ms
    shell.transport.stop()


def test_an_effect_is_drawn_mirrored_turned_split_and_laid_again_by_hand_and_keys(opened: Opened) -> None:
    shell = opened(one_strip(20), station="Weave")
    station, session = weave_of(shell), shell.session
    scanner = next(look for look in station.looks if look.kind == "scanner")
    QTest.mouseClick(scanner, LEFT)
    canvas = station.canvas
    top, bottom = QPoint(theme.GUTTER + 5, 20), QPoint(canvas.width() - 5, 220)
    drag(canvas, top, bottom)
    (effect,) = session.build.effects
    assert effect.look.kind == "scanner"
    canvas.setFocus()
    keys = (
        (Qt.Key.Key_M, "mirrored", True), (Qt.Key.Key_B, "backward", True), (Qt.Key.Key_BracketRight, "turned", 1),
        (Qt.Key.Key_BracketLeft, "turned", 0),
    )  # fmt: skip
    for key, field, value in keys:
        QTest.keyClick(canvas, key)
        assert getattr(session.build.effects[0], field) == value
    assert station.form.mirrored.isChecked()
    session.set_time(effect.start_s + effect.length_s / 2)
    QTest.keyClick(canvas, Qt.Key.Key_S)
    assert len(session.build.effects) == 2
    session.undo()
    type_into(station.form.every, "20 s")
    assert len(session.build.effects) > 1
    for _ in range(6):
        session.undo()
    assert session.build == one_strip(20)


def blocks_of_colour() -> Build:
    """Six colours, ten seconds each."""
    build = one_strip(60)
    for number, colour in enumerate(("#ff0000", "#00ff00", "#0000ff", "#ffff00", "#00ffff", "#ff00ff")):
        build = add_effect(build, look_of("steady", colour=colour), 0, 59, 10.0 * number, 10.0)
    return build


def colours_down(image: QImage) -> list[str]:
    """The colours in the middle of an image, some way down from its top."""
    rows = range(5, image.height() - 5, max(1, image.height() // 12))
    return [image.pixelColor(image.width() // 2, row).name() for row in rows]


def test_a_view_that_moves_shows_what_comes_into_it_at_once(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(blocks_of_colour(), station="Weave")
    station, build = weave_of(shell), shell.session.build
    canvas, raster = station.canvas, station.canvas._raster
    wide, high = canvas.axis_width, canvas.height()
    station.time.zoom(0.3, 30.0)
    qtbot.waitUntil(lambda: not canvas._passing.isActive())
    raster.image(build, wide, high)
    time = station.time
    for act in (lambda: time.scroll(0.3), lambda: time.zoom(2.0, 35.0), lambda: time.scroll(-5)):
        act()
        passing = raster.passing(build, wide, high)
        alone = WeaveRaster(canvas._axis, station.time).image(build, wide, high)
        assert passing.width() == round(wide)
        different = [one for one in zip(colours_down(passing), colours_down(alone), strict=True) if one[0] != one[1]]
        assert len(different) <= 1  # an edge may lie a row off
    other = change_look(build, build.effects[0].id, colour="#ffffff")
    assert colours_down(raster.passing(other, wide, high))[0] == "#ffffff"


def test_the_widget_shows_the_light_between_the_boxes_while_it_moves_and_at_rest(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(blocks_of_colour(), station="Weave")
    canvas = weave_of(shell).canvas
    weave_of(shell).time.zoom(0.5, 30.0)
    for turn in (0, 1, 1, -1):
        if turn:
            wheel(canvas, turn, Qt.KeyboardModifier.NoModifier)
        for resting in (False, True):
            if resting:
                qtbot.waitUntil(lambda: not canvas._passing.isActive())
            image = canvas.grab().toImage()
            for effect in shell.session.build.effects:
                box = canvas.effect_box(effect).intersected(QRectF(image.rect()))
                if box.height() > 20:
                    middle = image.pixelColor(box.center().toPoint())
                    assert middle.name() == effect.look.values["colour"]


def test_kinds_of_effect_are_made_ready_before_the_view_moves_to_them(
    opened: Opened, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    rehearsed: list[int] = []
    monkeypatch.setattr(Show, "rehearse", lambda show, cancelled: rehearsed.append(len(show.effects)))
    shell = opened(blocks_of_colour(), station="Weave")
    qtbot.waitUntil(lambda: rehearsed == [6])
    shell.session.apply("Recolour", lambda build: change_look(build, "effect-steady", colour="#ffffff"))
    weave_of(shell).canvas.grab()
    shell.session.apply("Chase", lambda build: add_effect(build, look_of("chase"), 0, 9, 0.0, 5.0))
    weave_of(shell).canvas.grab()
    qtbot.waitUntil(lambda: rehearsed == [6, 7])


def test_what_was_passed_by_is_not_rendered_on_the_way_back(opened: Opened, monkeypatch: pytest.MonkeyPatch) -> None:
    shell = opened(blocks_of_colour(), station="Weave")
    station, build = weave_of(shell), shell.session.build
    raster, rows, filled = WeaveRaster(station.canvas._axis, station.time), [], weave_raster._filled
    station.time.zoom(0.3, 30.0)
    raster.image(build, 300, 301)
    monkeypatch.setattr(weave_raster, "_filled", lambda *given: (rows.append(len(given[1].ticks)), filled(*given))[1])

    def passed(*shares: float) -> tuple[int, list[str]]:
        rows.clear()
        for share in shares:
            station.time.scroll(share)
            image = raster.passing(build, 300, 301)
            down = {image.pixelColor(150, y).name() for y in range(image.height())}
            assert down <= {effect.look.values["colour"] for effect in build.effects}, "no gap between old and new"
        return sum(rows), colours_down(image)

    new, there = passed(*[31 / 301] * 10)
    image_there = raster.passing(build, 300, 301)
    back, begun = passed(*[-31 / 301] * 10)
    known, again = passed(*[31 / 301] * 10)
    assert new == pytest.approx(310 / weave_raster.ROW_PX_PASSING, abs=2)
    assert (back, known) == (pytest.approx(new, abs=12), 0)
    assert again == there
    assert len(set(there)) > 1
    station.time.scroll(-310 / 301)
    afresh = WeaveRaster(station.canvas._axis, station.time)
    afresh.image(build, 300, 301)
    station.time.scroll(310 / 301)
    assert different(afresh.passing(build, 300, 301), image_there) == 0, "rows lie where they lay"
    assert passed(*[-31 / 301] * 10) == (0, begun)
    station.time.zoom(0.9, 30.0)
    assert passed(31 / 301)[0] > 0
    other = change_look(build, build.effects[0].id, colour="#ffffff")
    raster.image(other, 300, 301)
    rows.clear()
    station.time.scroll(-31 / 301)
    raster.passing(other, 300, 301)
    assert sum(rows) > 0


def test_a_weave_that_is_zoomed_out_is_taken_from_the_widest_image_that_is_known(
    opened: Opened, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    shell = opened(blocks_of_colour(), station="Weave")
    station, build = weave_of(shell), shell.session.build
    raster = WeaveRaster(station.canvas._axis, station.time)
    done: list[bool] = []
    whole = raster.image(build, 300, 300)
    station.time.zoom(0.2, 30.0)
    raster.image(build, 300, 300)

    def noted(*args: object, **more: object) -> object:
        done.append(True)
        return filled(*args, **more)

    filled = weave_raster._filled
    monkeypatch.setattr(weave_raster, "_filled", noted)
    station.time.zoom(3.0, 30.0)
    assert len(set(colours_down(raster.passing(build, 300, 300)))) > 2
    station.time.zoom(9.0, 30.0)
    assert colours_down(raster.passing(build, 300, 300))[::5] == colours_down(whole.scaled(300, 300))[::5]
    assert not done
    other = change_look(build, build.effects[0].id, colour="#ffffff")
    station.time.zoom(0.2, 5.0)
    raster.image(other, 300, 300)
    station.time.zoom(9.0, 30.0)
    assert colours_down(raster.passing(other, 300, 300))[0] == "#ffffff"
    assert len(done) > 1  # the widest image is of before


def test_the_weave_is_shown_in_the_order_of_a_group_and_drawn_on_in_it(opened: Opened) -> None:
    build = demo_build("pier")
    group = next(group for group in build.groups if group.name == "Arcade inward")
    shell = opened(build, station="Weave")
    station, session = weave_of(shell), shell.session
    canvas = station.canvas
    follower = next(effect for effect in build.effects if effect.group_id == group.id)
    assert station.order.itemText(0) == "lights as wired"
    station.order.activated.emit(station.order.findData(group.id))
    assert canvas.group_id == group.id
    box = canvas.effect_box(follower)
    assert (box.left(), box.width()) == (theme.GUTTER, pytest.approx(canvas.axis_width))
    assert canvas.effect_at(box.center())[0].id == follower.id
    slots = np.array([build.line.slot_of(ref) for ref in group.slots])
    image = canvas._raster.image(build, canvas.axis_width, canvas.height())
    y = int(canvas._time.to_y(30.0, canvas.height()) / canvas.height() * image.height())
    middle_s = station.time.to_time((y + 0.5) * canvas.height() / image.height(), canvas.height())
    wanted = screen_table()[render(build, np.array([build.timeline.on_show(middle_s)]))[0][slots]]
    shown = [image.pixelColor(int((at + 0.5) / 64 * image.width()), y).name() for at in range(64)]
    assert shown == [f"#{colour.tobytes().hex()}" for colour in wanted]
    assert canvas._slot(theme.GUTTER + 2) == slots[0]
    QTest.mouseClick(next(look for look in station.looks if look.kind == "blink"), LEFT)
    drag(canvas, QPoint(theme.GUTTER + 60, canvas.height() - 40), QPoint(theme.GUTTER + 200, canvas.height() - 10))
    assert session.build.effects[-1].group_id == group.id
    drag(canvas, box.center().toPoint(), box.center().toPoint() + QPoint(60, 0))
    assert session.build.effects[build.effects.index(follower)] == follower  # it has no other lights to go to
    turned = tuple(revise(one, slots=one.slots[::-1]) if one.id == group.id else one for one in session.build.groups)
    session.apply("Turned the group", lambda of: revise(of, groups=turned))
    assert canvas._slot(theme.GUTTER + 2) == slots[-1]
    station.order.activated.emit(0)
    assert canvas.group_id is None
    assert canvas.effect_box(session.build.effects[0]).width() < canvas.axis_width


def test_the_picture_shows_how_finely_outputs_dim(opened: Opened) -> None:
    build = lit(driven("register", levels_bits=1), "#8c0000", length_s=60.0)
    shell = opened(build, station="Weave")
    frames, session = shell.frames, shell.session
    assert frames.frame()[0].tolist() == [67, 0, 0]
    assert frames.seen()[0].tolist() == [0, 0, 0]  # below half, on outputs that know on and off
    for bits, red in ((2, 85), (4, 68)):  # a third; four fifteenths
        session.apply("Finer", partial(change_driver, driver_id=build.drivers[0].id, levels_bits=bits))
        assert frames.seen()[0].max() == red
    session.undo()
    session.undo()
    assert frames.seen()[0].tolist() == [0, 0, 0]


def test_the_looks_stand_first_and_stay_in_reach_in_a_small_window(opened: Opened) -> None:
    shell = opened(demo_build("pier"), size=(1024, 700))
    station = weave_of(shell)
    at = [widget.mapTo(station, QPoint(0, 0)).y() for widget in (station.looks[0], station.form, station.scenes)]
    assert at == sorted(at)
    first = station.looks[0]
    assert first.visibleRegion().boundingRect().height() == first.height()
    assert station.looks[5].visibleRegion().boundingRect().height() > 20


def test_the_picture_is_as_large_as_it_was_left_and_may_stand_at_the_side(opened: Opened, qapp: QApplication) -> None:
    shell = opened(demo_build("pier"))
    station = weave_of(shell)
    bar = station.canvas.parentWidget()
    assert isinstance(bar, QSplitter)
    bar.setSizes([260, 300])
    bar.splitterMoved.emit(260, 1)
    before = station.canvas.height()
    shell.actions_by_id["picture-aside"].trigger()
    qapp.processEvents()
    assert station.picture_aside
    assert station.picture.isVisible()
    assert station.canvas.height() > before + 100
    again = weave_of(opened(demo_build("pier")))
    assert again.picture_aside
    shell.actions_by_id["picture-aside"].trigger()
    qapp.processEvents()
    assert not station.picture_aside
    third = weave_of(opened(demo_build("pier")))
    assert third.picture.height() > 1.5 * third.picture.minimumHeight()


def test_the_picture_beside_the_weave_fits_what_is_lit() -> None:
    build = demo_build("pier")
    build = change_supply(build, build.supplies[0].id, x_m=5.0)
    left, bottom, right, top = bounds(build, lights_only=True)
    places = all_places(build)
    assert bounds(build)[2] > 5.0 > right
    assert left < places[:, 0].min() < places[:, 0].max() < right
    assert bottom < places[:, 1].min() < places[:, 1].max() < top


def test_sliders_end_where_it_makes_sense_for_the_lights_at_hand(opened: Opened) -> None:
    build = add_effect(driven("pin", lamps(10)), look_of("chase"), 0, 9, 0.0, 20.0)
    shell = opened(build)
    station = weave_of(shell)
    shell.session.select("effects", build.effects[0].id)
    length, speed = station.form.tuners["length_px"], station.form.tuners["speed_px_per_s"]
    assert length.number(length.maximum()) == 10
    assert (speed.number(0), speed.number(speed.maximum())) == (-40, 40)
    many = add_effect(one_strip(300), look_of("chase"), 0, 299, 0.0, 20.0)
    shell.session.apply("Other", lambda _: many)
    shell.session.select("effects", many.effects[0].id)
    assert station.form.tuners["length_px"].number(station.form.tuners["length_px"].maximum()) == 300
