"""Parts and stock through the real window."""

from pathlib import Path

from PySide6.QtWidgets import QApplication, QComboBox, QDialog
from pytestqt.qtbot import QtBot

from tests.support.builds import one_strip
from tests.support.pieces import pier
from tests.ui.conftest import Opened
from tests.ui.driving import pieces_of, type_into
from tiny_lantern.catalogue import drawer as drawers
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.ui.shell import Shell
from tiny_lantern.ui.stations.parts_window import PartsWindow


def _parts_of(shell: Shell) -> PartsWindow:
    shell.show_parts()
    return shell.findChildren(PartsWindow)[-1]


def _close(shell: Shell) -> None:
    for dialog in shell.findChildren(QDialog):
        dialog.close()


def test_an_own_part_is_made_changed_taken_back_and_used(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(pier(), station="Pieces")
    window = _parts_of(shell)
    type_into(window.filter, "led-red-5mm")
    window.copy_as_own()
    assert window.part is not None
    own_id = window.part.id
    type_into(window.form.fields["name"], "Ember red")
    type_into(window.form.fields["dies.1.forward_v"], "2V1")
    type_into(window.owned, "25")
    keeper = shell.session.drawers
    made = keeper.drawer.shelf.find(LampPart, own_id)
    assert (made.name, made.dies[0].forward_v, keeper.drawer.stock_of(own_id).owned) == ("Ember red", 2.1, 25)
    assert drawers.load(keeper.path) == keeper.drawer
    keeper.undo()
    assert keeper.drawer.stock_of(own_id).owned == 0
    assert drawers.load(keeper.path) == keeper.drawer
    keeper.redo()
    lamp = next(piece for piece in shell.session.build.pieces if isinstance(piece, LampGroup))
    shell.session.select("pieces", lamp.id)
    box = pieces_of(shell).form.fields["part"]
    assert isinstance(box, QComboBox)
    qtbot.waitUntil(lambda: box.itemText(0) == "Ember red · 25 owned")
    box.setCurrentIndex(0)
    box.activated.emit(0)
    assert shell.session.build.line.piece(lamp.id).part_id == own_id
    assert shell.session.build.shelf.find(LampPart, own_id) == made
    _close(shell)


def test_a_changed_part_is_given_to_the_build_as_one_step(opened: Opened) -> None:
    shell = opened(one_strip(), station="Pieces")
    part = shell.session.build.shelf.of(StripPart)[0]
    keeper = shell.session.drawers
    keeper.apply("Own", lambda drawer: drawers.with_own(drawer, part))
    window = _parts_of(shell)
    type_into(window.filter, part.id)
    before = shell.session.solved.solution.runs["strip"].pixel_v[-1]  # type: ignore[union-attr]
    type_into(window.facts.watts, "2.5")
    window.update_build()
    after = shell.session.solved.solution.runs["strip"].pixel_v[-1]  # type: ignore[union-attr]
    assert after > before
    assert not window._update.isVisible()
    shell.session.undo()
    assert shell.session.build.shelf.of(StripPart)[0] == part
    type_into(window.facts.far, "4.6")
    window.facts.measured.click()
    found = keeper.drawer.shelf.find(StripPart, part.id)
    assert found.rail_pos_ohm_per_m == found.rail_neg_ohm_per_m > part.rail_pos_ohm_per_m
    _close(shell)


def test_files_of_parts_go_out_and_in_and_a_bad_one_changes_nothing(
    opened: Opened, qtbot: QtBot, tmp_path: Path
) -> None:
    shell = opened(pier(), station="Pieces")
    window, keeper = _parts_of(shell), shell.session.drawers
    told: list[LanternError] = []
    shell.session.refused.connect(told.append)
    type_into(window.filter, "fuse")
    window.write(tmp_path / "fuses.csv")
    head, *lines = (tmp_path / "fuses.csv").read_text().splitlines()
    assert all(line.startswith("fuse,") for line in lines)
    owned = head.split(",").index("owned")
    cells = lines[0].split(",")
    cells[owned + head.count('"')] = "9"
    (tmp_path / "stock.csv").write_text("id,owned\nfuse-2a,9\n")
    window.read(tmp_path / "stock.csv")
    qtbot.waitUntil(lambda: keeper.drawer.stock_of("fuse-2a").owned == 9)
    before = keeper.drawer
    (tmp_path / "ragged.csv").write_text("id,owned\nfuse-2a,9,9\n")
    (tmp_path / "photo.json").write_bytes(b"\x89PNG\xff\xfe")
    for count, name in enumerate(("ragged.csv", "photo.json", "none.csv"), 1):
        window.read(tmp_path / name)
        qtbot.waitUntil(lambda count=count: len(told) == count)
    assert keeper.drawer == before
    window.write(tmp_path / "own.json")
    assert drawers.load(tmp_path / "own.json") == before
    _close(shell)


def test_two_windows_share_a_drawer_and_a_file_that_is_none_is_set_aside(opened: Opened, tmp_path: Path) -> None:
    one, two = opened(one_strip()), opened(one_strip())
    one.session.drawers.apply("a", lambda drawer: drawers.with_stock(drawer, "fuse-1a", 1, None))
    assert two.session.drawers.drawer.stock_of("fuse-1a").owned == 1
    one.session.drawers.apply("b", lambda drawer: drawers.with_stock(drawer, "fuse-2a", 2, None))
    two.session.drawers.apply("c", lambda drawer: drawers.with_stock(drawer, "fuse-3a", 3, None))
    assert {each.part_id for each in drawers.load(two.session.drawers.path).stock} == {"fuse-1a", "fuse-2a", "fuse-3a"}
    path = two.session.drawers.path
    path.write_text("not parts")
    three = opened(one_strip())
    assert three.session.drawers.drawer == drawers.Drawer()
    assert "set aside" in three.transport.status.text()
    assert [found.read_text() for found in path.parent.glob("parts.unreadable-*")] == ["not parts"]


def test_what_is_owned_stands_on_the_sheet(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(one_strip(), station="Sheets")
    qtbot.waitUntil(lambda: "To buy" in shell.stack.currentWidget().preview.toPlainText())  # type: ignore[union-attr]
    preview = shell.stack.currentWidget().preview  # type: ignore[union-attr]
    assert "owned" not in preview.toPlainText()
    shell.session.drawers.apply("a", lambda drawer: drawers.with_stock(drawer, "fuse-10a", 5, None))
    qtbot.waitUntil(lambda: "owned" in preview.toPlainText())


def test_every_row_in_sight_has_its_words_and_no_column_is_cut(opened: Opened) -> None:
    shell = opened(pier(), station="Pieces")
    table = _parts_of(shell).table
    QApplication.processEvents()
    last = table.rowAt(table.viewport().height() - 2)
    assert last > 12
    assert all(table.item(row, 0) is not None and table.item(row, 0).text() for row in range(last + 1))
    for column in range(1, table.columnCount()):
        assert table.columnWidth(column) >= min(table.sizeHintForColumn(column), 160)
    _close(shell)
