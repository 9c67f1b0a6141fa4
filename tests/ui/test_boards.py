"""Several boards through the real window: added, named, put in order, given lamps and strips, and their code."""

from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QDialog

from tests.support.builds import one_strip, part
from tests.support.driven import LARGE, SMALL, driven, lamps, lit
from tests.ui.conftest import Opened
from tests.ui.driving import LEFT, type_into
from tests.ui.test_drive import beside, choose, drive_of
from tiny_lantern.code.files import code_files
from tiny_lantern.model.base import revise
from tiny_lantern.model.edits_drive import add_board
from tiny_lantern.model.edits_pieces import add_piece
from tiny_lantern.model.errors import LanternError
from tiny_lantern.plans.ways import drive_piece
from tiny_lantern.ui.stations.boards_window import BoardsWindow


def test_a_second_board_is_added_named_given_lamps_and_a_strip_and_each_has_its_code(opened: Opened) -> None:
    build = add_piece(one_strip(10), part("led-red-5mm"), lamps(2))
    shell = opened(lit(drive_piece(build, "lamps", "pwm")), station="Drive")
    session, station = shell.session, drive_of(shell)
    assert not station.which.isVisibleTo(station)
    QTest.mouseClick(station.boards, LEFT)
    window = beside(shell, BoardsWindow)
    QTest.mouseClick(window.add, LEFT)
    one, two = session.build.boards
    assert [board.name for board in session.build.boards] == ["Board", "Board 2"]
    assert two.part_id == one.part_id
    type_into(window.name, "Quay board")
    choose(window.part, LARGE)
    assert (session.build.boards[1].name, session.build.boards[1].part_id) == ("Quay board", LARGE)
    station.form.driver_form.grab()
    choose(station.form.driver_form.board, two.id)
    (driver,) = session.build.drivers
    assert driver.board_id == two.id
    assert len(driver.pins) == 2
    assert station.canvas.board.id == two.id
    choose(station.which, one.id)
    assert station.canvas.board.id == one.id
    assert [window.table.item(row, 3).text() for row in (0, 1)] == ["—", "Lamps"]
    assert [window.table.item(row, 4).text() for row in (0, 1)] == ["Strip", "—"]
    QTest.mouseClick(window.earlier, LEFT)
    assert [board.id for board in session.build.boards] == [two.id, one.id]
    assert window.chosen.id == two.id
    assert window.table.item(1, 4).text() == "Strip", "it stays where it was"
    assert {"lantern.h", "lantern_quay_board.c", "lantern_board.c"} < set(code_files(session.build))
    shell.show_station("Pieces")
    session.select("pieces", "strip")
    choose(shell.stack.pieces().form.fields["board"], two.id)
    assert {"lantern_quay_board.c", "lantern_io_quay_board.c"} < set(code_files(session.build))
    assert "lantern_board.c" not in code_files(session.build)
    QTest.mouseClick(window.remove, LEFT)
    assert [board.id for board in session.build.boards] == [one.id]
    assert session.build.drivers == ()
    assert session.build.pieces[0].board_id is None
    for _ in range(7):
        QTest.keyClick(shell, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert session.build.boards == (one,)
    assert session.build.drivers[0].board_id == one.id
    for dialog in shell.findChildren(QDialog):
        dialog.close()


def test_without_boards_the_window_begins_with_one_and_a_board_too_small_is_refused(
    opened: Opened, tmp_path: Path
) -> None:
    shell = opened(driven("pin", lamps(30), board=LARGE), station="Drive")
    told: list[LanternError] = []
    shell.session.refused.connect(told.append)
    shell.actions_by_id["boards"].trigger()
    window = beside(shell, BoardsWindow)
    QTest.mouseClick(window.add, LEFT)
    choose(window.part, SMALL)
    before = shell.session.build
    for text in ("  ", "x" * 200):
        type_into(window.name, text)
        assert window.name.text() == before.boards[1].name, "a name that is none changes nothing, here neither"
    assert shell.session.build == before
    assert "120" in told.pop().sentence()
    choose(drive_of(shell).form.driver_form.board, before.boards[1].id)
    assert shell.session.build == before
    assert len(told) == 1
    assert drive_of(shell).form.driver_form.board.currentData() == before.boards[0].id
    for _ in before.boards:
        QTest.mouseClick(window.remove, LEFT)
    assert not window.remove.isEnabled()
    QTest.mouseClick(window.add, LEFT)
    assert [board.name for board in shell.session.build.boards] == ["Board"]
    for dialog in shell.findChildren(QDialog):
        dialog.close()


def test_a_piece_that_nothing_drives_yet_goes_to_the_board_that_is_shown(opened: Opened) -> None:
    build = add_piece(driven("pwm", lamps(2)), part("led-red-5mm"), revise(lamps(2), id="quay", name="Quay"))
    build = add_board(build, part(SMALL))
    shell = opened(build, station="Drive")
    session, station = shell.session, drive_of(shell)
    choose(station.which, build.boards[1].id)
    session.select("pieces", "quay")
    choose(station.form.way, "pin")
    driver = next(driver for driver in session.build.drivers if driver.name == "Quay")
    assert driver.board_id == build.boards[1].id
    assert len(driver.pins) == 2
    choose(station.form.way, "pwm")
    assert {driver.board_id for driver in session.build.drivers} == {board.id for board in build.boards}
