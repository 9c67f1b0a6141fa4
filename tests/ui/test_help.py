"""The guide in the program, starts of every kind, what was set aside, and small windows as large as what they hold."""

import re
from pathlib import Path

import pytest
from PySide6.QtCore import QUrl
from PySide6.QtGui import QTextDocument
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QDialog, QPushButton
from pytestqt.qtbot import QtBot

from tests.support.builds import one_strip
from tests.support.driven import driven, lamps, matrix
from tests.ui.conftest import Opened
from tests.ui.driving import LEFT
from tiny_lantern.catalogue.starters import KINDS, starter
from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import gather
from tiny_lantern.findings.finding import Severity
from tiny_lantern.findings.registry import rules
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.edits import change_build
from tiny_lantern.plans.starters import DRIVEN
from tiny_lantern.ui.declared.registry import stations
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.help_window import HelpWindow, chapters, guide_folder
from tiny_lantern.ui.widgets.greeting import Greeting
from tiny_lantern.ui.widgets.row_table import RowTable

GUIDE = (guide_folder() / "guide.md").read_text(encoding="utf-8")


def help_of(shell) -> HelpWindow:
    (found,) = shell.window().findChildren(HelpWindow)
    return found


def test_the_guide_opens_at_the_chapter_of_the_station_in_hand_with_its_picture(
    opened: Opened, qapp: QApplication
) -> None:
    shell = opened(demo_build("pier"))
    for station in stations():
        shell.show_station(station.title)
        shell.actions_by_id["guide"].trigger()
        page = help_of(shell)
        assert page.page.toPlainText().startswith(station.title)
        picture = re.search(r"\((pictures/[a-z-]+\.jpg)\)", chapters(GUIDE)[station.title])
        assert picture is not None
        image = page.page.document().resource(QTextDocument.ResourceType.ImageResource, QUrl(picture[1]))
        assert image is not None
    shell.actions_by_id["keys"].trigger()
    assert "Ctrl+Shift+F" in help_of(shell).page.toPlainText()


def test_every_rule_has_its_line_in_the_guide_and_a_snag_leads_to_it(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(demo_build("pier"))
    qtbot.waitUntil(lambda: len(shell.snags.cards) > 3)
    for card in shell.snags.cards[:4]:
        asks = next(each for each in card.findChildren(QPushButton) if each.text() == "?")
        QTest.mouseClick(asks, LEFT)
        page = help_of(shell).page
        assert page.textCursor().selectedText() == card.finding.code
        assert page.viewport().rect().contains(page.cursorRect().center())
    page = help_of(shell)
    for code in rules():
        page.show_line(code)
        assert page.page.textCursor().selectedText() == code


def test_there_are_four_first_builds_of_ten_acts() -> None:
    firsts = re.findall(r"^\*\*(.*in ten acts.*)\*\*\n\n((?:\d+\. .*\n)+)", GUIDE, re.M)
    assert len(firsts) == 4
    for _, acts in firsts:
        assert [line.split(".")[0] for line in acts.splitlines()] == [str(number) for number in range(1, 11)]


@pytest.mark.parametrize("make", [*DRIVEN.values(), *(lambda n=n: starter(n) for n in range(len(KINDS)))])
def test_every_start_is_sound_and_lit(make) -> None:
    build = make()
    found = check(gather(build, FullWhite(), ()))
    assert [each.title for each in found if each.severity < Severity.WEAK_SPOT] == []
    assert build.effects
    assert build.supplies


def test_a_card_offers_two_mends_where_a_person_may_choose(opened: Opened, qtbot: QtBot) -> None:
    build = driven("scanned", matrix(), rows_by="register", row_ohm=35.0, row_limit_a=0.035)
    shell = opened(build, station="Drive")
    qtbot.waitUntil(lambda: any(card.finding.also is not None for card in shell.snags.cards))
    (card,) = (card for card in shell.snags.cards if card.finding.code == "row-overload")
    words = [each.text() for each in card.findChildren(QPushButton) if each.isVisibleTo(card)]
    assert "Row transistors" in words
    second = next(each for each in card.findChildren(QPushButton) if each.text().startswith("or "))
    second.click()
    assert shell.session.build.drivers[0].rows_by == "register"  # type: ignore[union-attr]
    assert shell.session.build.drivers[0].column_ohm > 100  # type: ignore[union-attr]


def test_lamps_without_any_supply_are_a_snag_whose_mend_takes_it_away(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(driven("pin", lamps(3)), station="Drive")
    qtbot.waitUntil(lambda: bool(shell.snags.cards) and shell.snags.cards[0].finding.fix is not None)
    (card,) = (card for card in shell.snags.cards if card.finding.code == "no-source")
    shell.mend(card.finding)
    assert shell.session.build.boards[0].fed_by.id == shell.session.build.supplies[0].id
    qtbot.waitUntil(lambda: shell.session.judged is shell.session.build)
    assert "no-source" not in [finding.code for finding in shell.session.findings]


def test_what_closing_set_aside_is_told_with_its_picture_and_date_until_it_was_opened(
    opened: Opened, qtbot: QtBot, tmp_path: Path
) -> None:
    shell = opened(one_strip(30))
    shell.session.apply("Named", lambda build: change_build(build, name="Quay"))
    shell.window().close()
    again = opened()
    greeting = again.stack.currentWidget()
    assert isinstance(greeting, Greeting)
    words = [label.text() for label in greeting.findChildren(type(again.transport.status))]
    assert any("Quay" in text and "set aside" in text and re.search(r"\d{4}, \d\d:\d\d", text) for text in words)
    picture = next(each for each in greeting.pictures if each.accessibleName() == "The build that was set aside")
    qtbot.waitUntil(lambda: picture.lit)
    QTest.mouseClick(picture, LEFT)
    assert again.session.build.name == "Quay"
    again.files.new()
    assert again.files.set_aside() is None


@pytest.mark.parametrize("name", ["compare-ways", "what-if", "boards"])
def test_a_small_window_is_as_large_as_what_it_holds(opened: Opened, qtbot: QtBot, name: str) -> None:
    shell = opened(driven("register", lamps(10)), station="Drive")
    shell.session.select_slot(2)
    qtbot.waitUntil(lambda: shell.session.evidence is not None)
    shell.actions_by_id[name].trigger()
    dialog = shell.window().findChildren(QDialog)[-1]
    qtbot.waitUntil(lambda: bool(dialog.property("snug")))
    table = dialog.findChildren(RowTable)[0]
    shown = table.rowCount() * 24 + 30
    assert shown <= table.height() <= shown + 40
    assert dialog.windowTitle()


def test_an_empty_build_with_a_name_can_be_set_aside_and_shown(opened: Opened, qtbot: QtBot) -> None:
    shell = opened()
    shell.session.apply("Named", lambda _: Build(name="Nothing yet"))
    shell.files.new()
    qtbot.waitUntil(lambda: all(picture.lit for picture in shell.stack.currentWidget().pictures))
