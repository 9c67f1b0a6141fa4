"""What is drawn once and kept: drawn again when it must be, and not otherwise."""

from collections.abc import Callable
from itertools import pairwise

import pytest
from PySide6.QtCore import QPointF, QRect, QRectF, QSize, QSizeF
from PySide6.QtGui import QColor, QImage, QPainter
from PySide6.QtWidgets import QWidget
from pytestqt.qtbot import QtBot

from tests.ui.conftest import Opened
from tests.ui.driving import pieces_of, power_of, weave_of
from tiny_lantern.model.edits_pieces import change_strip, toggle_cut
from tiny_lantern.model.edits_power import change_supply, move_feed
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.shell import Shell
from tiny_lantern.ui.stations.weave_canvas import WeaveCanvas
from tiny_lantern.ui.widgets.layer import Layer, MovingLayer


def test_a_layer_is_drawn_again_only_for_something_else(qtbot: QtBot) -> None:
    widget = QWidget()
    qtbot.addWidget(widget)
    layer, drawn = Layer(QColor("red")), []

    def draw(painter: QPainter) -> None:
        drawn.append(painter.device().width())
        painter.fillRect(0, 0, 2, 2, QColor("blue"))

    for width, shows in ((8, ("a",)), (8, ("a",)), (8, ("b",)), (9, ("b",)), (9, ("b",))):
        picture = layer.picture(widget, QSizeF(width, 4), shows, draw)
    assert drawn == [8, 8, 9]
    image = picture.toImage()
    assert (image.pixelColor(1, 1), image.pixelColor(4, 3)) == (QColor("blue"), QColor("red"))


class OnScreen(QWidget):
    """A widget on a screen with so many device pixels to each of its own."""

    ratio = 1.0

    def devicePixelRatioF(self) -> float:
        return self.ratio


@pytest.mark.parametrize("ratio", [1.0, 1.5, 2.0])
def test_a_moving_picture_is_what_would_be_drawn_anew_on_any_screen(qtbot: QtBot, ratio: float) -> None:
    widget, size, at, drawn = OnScreen(), QSize(40, 60), QPointF(), []
    qtbot.addWidget(widget)
    widget.ratio = ratio

    def draw(painter: QPainter, part: QRect) -> None:
        drawn.append(part.width() * part.height())
        for number in range(40):
            box = QRectF(8 * number - at.x(), 6 * number - at.y(), 5, 4)
            painter.fillRect(box, QColor.fromHsv(9 * number, 255, 255))

    layer = MovingLayer(4)
    for x, y, near in ((0, 0, False), (0, 10, True), (0, 24, True), (6, 24, True), (4, 20, True), (40, 120, False)):
        at = QPointF(x, y)
        drawn.clear()
        moved = layer.picture(widget, size, at, ("a",), draw).toImage()
        assert (sum(drawn) < 0.5 * 40 * 60) == near
        assert moved == MovingLayer(4).picture(widget, size, at, ("a",), draw).toImage()
    assert at == QPointF(40, 120)
    at = QPointF(40.3, 119.8)
    moved = layer.picture(widget, size, at, ("a",), draw).toImage()
    assert moved == MovingLayer(4).picture(widget, size, at, ("a",), draw).toImage()
    assert layer.kept(size) is not None
    assert layer.kept(QSize(41, 60)) is None


def rename(shell: Shell) -> None:
    shell.session.apply("Renamed", lambda build: change_strip(build, build.strips[0].id, name="Down stream"))


def lengthen(shell: Shell) -> None:
    shell.session.apply("Longer", lambda build: change_strip(build, build.strips[1].id, pixel_count=150))


def cut(shell: Shell) -> None:
    shell.session.apply("Cut", lambda build: toggle_cut(build, build.strips[0].id, 40))


def pull_feed(shell: Shell) -> None:
    feed = shell.session.build.feeds[0]
    shell.session.apply("Moved", lambda build: move_feed(build, feed.id, 3.0))


def carry_supply(shell: Shell) -> None:
    shell.session.apply("Carried", lambda build: change_supply(build, build.supplies[0].id, x_m=2.0, sealed=True))


def choose_strip(shell: Shell) -> None:
    shell.session.select_slot(300)


def choose_feed(shell: Shell) -> None:
    shell.session.select("feeds", shell.session.build.feeds[1].id)


def zoom(shell: Shell) -> None:
    shell.axis.zoom(0.5, 2.0)


CHANGES = [rename, lengthen, cut, pull_feed, carry_supply, choose_strip, choose_feed, zoom, Shell.toggle_theme]
KEEPERS: dict[str, Callable[[Shell], QWidget]] = {
    "the Line": lambda shell: shell.ruler,
    "picture": lambda shell: pieces_of(shell).picture,
    "feeds": lambda shell: power_of(shell)._feeds,
    "posts": lambda shell: power_of(shell).posts,
    "weave": lambda shell: weave_of(shell).canvas,
}


def pictures(widget: QWidget) -> tuple[QImage, QImage]:
    """A widget as it is, and as it is when everything in it is drawn anew."""
    kept = widget.grab().toImage()
    keeper = widget._margin if isinstance(widget, WeaveCanvas) else getattr(widget, "ground", widget)
    keeper._still = Layer(keeper._still._ground)  # type: ignore[attr-defined]
    return kept, widget.grab().toImage()


def test_what_is_kept_is_what_would_be_drawn_anew(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(demo_build("footbridge"))
    qtbot.waitUntil(lambda: shell.session.draw is not None)
    seen = {name: [widget_of(shell).grab().toImage()] for name, widget_of in KEEPERS.items()}
    for change in CHANGES:
        drawn = shell.session.draw
        change(shell)
        if change in (lengthen, carry_supply):
            qtbot.waitUntil(lambda drawn=drawn: shell.session.draw is not drawn)
        for name, widget_of in KEEPERS.items():
            kept, anew = pictures(widget_of(shell))
            assert kept == anew, f"{name} after {change.__name__}"
            seen[name].append(kept)
    for name, looks in seen.items():
        assert sum(one != other for one, other in pairwise(looks)) >= 3, name


def test_a_frame_stays_the_same_thing_until_its_bytes_change(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    shell.session.set_time(9.0)
    before = shell.frames.frame()
    rename(shell)
    assert shell.frames.frame() is before
    shell.session.set_time(9.5)
    after = shell.frames.frame()
    assert after is not before
    assert (after != before).any()
