"""What Find feeds goes by, typed; and a short dragged along the Line."""

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from pytestqt.qtbot import QtBot

from tests.ui.conftest import Opened
from tests.ui.driving import LEFT, drag, power_of, type_into
from tiny_lantern.electrical.shorts.study import short_at
from tiny_lantern.model.build import NOMINAL_CORNER, Corner
from tiny_lantern.model.errors import LanternError
from tiny_lantern.plans.feeds import plan_feeds
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.session import ShortPlace
from tiny_lantern.ui.stations.plan_form import read_reach


def test_the_corner_reach_and_approach_are_typed_and_the_search_goes_by_them(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    form = power_of(shell).plan_form
    shell.session.select_slot(10)
    form.corner.setCurrentIndex(1)
    form.corner.activated.emit(1)
    assert shell.session.build.corner == NOMINAL_CORNER
    form.corner.activated.emit(2)
    type_into(form._factors["rails"], "1.2")
    assert shell.session.build.corner == Corner(rails=1.2, wires=1, pixel_current=1, set_point=0)
    type_into(form.reach, "0-0.4 m, 3.1 to 3.5 m")
    assert shell.session.build.strips[0].reach_m == ((0, 0.4), (3.1, 3.5))
    type_into(form.arrives, "3.4 m")
    type_into(form.lead, "80 cm")
    (approach,) = shell.session.build.approaches
    assert (approach.position_m, approach.standoff_m) == (3.4, 0.8)
    (plan,) = plan_feeds(shell.session.build, "west-rail")
    places = [feed.attach.position_m for feed in plan.feeds]
    assert all(p in (0, 7.2) or p <= 0.4 or 3.1 <= p <= 3.5 for p in [round(p, 3) for p in places])
    type_into(form.reach, "9-12 m")
    assert "no span" in shell.transport.status.toolTip()
    for _ in range(5):
        shell.session.undo()
    assert shell.session.build == demo_build("footbridge")


@pytest.mark.parametrize(
    ("text", "spans"),
    [
        ("", None), ("everywhere", None), ("ends only", ()), ("0-40 cm", ((0, 0.4),)),
        ("1ft - 2ft; 3 m to 4 m", ((0.3048, 0.6096), (3, 4))),
    ],
)  # fmt: skip
def test_spans_are_read_as_people_type_them(text: str, spans: tuple | None) -> None:
    found = read_reach(text)
    assert found == spans or found == pytest.approx(spans)
    with pytest.raises(LanternError):
        read_reach("somewhere")


def test_a_short_is_dragged_along_the_line_and_says_what_it_does(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(demo_build("footbridge"))
    posts = power_of(shell).posts
    shell.session.select_slot(150)
    QTest.keyClick(shell, Qt.Key.Key_H, Qt.KeyboardModifier.ControlModifier)
    assert shell.session.short == ShortPlace("west-rail", 151)
    course = short_at(shell.session.build, "west-rail", 151)
    assert course.how == "standing"
    for words in (f"at first {course.first.short_a:.2f} A", "nothing clears it", "gets hot", "own positive rail"):
        assert words in posts.short_card.text()
    x = round(posts.short_x())
    drag(posts, QPoint(x, 120), QPoint(round(posts.slot_x(32)), 120))
    assert abs(shell.session.short.node - 33) <= 1
    near = short_at(shell.session.build, "west-rail", shell.session.short.node)
    assert near.opened == (0,)
    qtbot.waitUntil(lambda: "10 A fuse opens" in posts.short_card.text())
    assert shell.session.build == demo_build("footbridge"), "trying a short changes nothing"
    before = shell.session.short.node
    QTest.keyClick(posts, Qt.Key.Key_Right)
    assert shell.session.short.node == before + 1
    QTest.keyClick(posts, Qt.Key.Key_Escape)
    assert shell.session.short is None
    qtbot.waitUntil(lambda: not posts.short_card.isVisible())
    QTest.mouseClick(power_of(shell)._try_short, LEFT)
    assert shell.session.short is not None
