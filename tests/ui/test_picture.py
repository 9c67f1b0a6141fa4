"""The picture as a plan to scale: every act by the real mouse and keys, each one step that undo takes back."""

import base64
from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QColor, QMouseEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QComboBox, QLineEdit
from pytestqt.qtbot import QtBot

from tests.support.builds import one_strip
from tests.support.driven import driven, lamps
from tests.support.pieces import pier
from tests.ui.conftest import Opened
from tests.ui.driving import LEFT, drag, pieces_of, type_into
from tests.ui.test_drive import choose
from tiny_lantern.catalogue.kinds import KINDS
from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_layout import shift_pieces
from tiny_lantern.model.edits_names import add_group
from tiny_lantern.model.edits_photo import lay_photo
from tiny_lantern.model.edits_pieces import add_piece, change_piece, toggle_cut
from tiny_lantern.model.effects import SlotRef
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.handles import ring_radius
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.layout import slot_places
from tiny_lantern.model.layouts import AlongLine, AlongPath
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.photo import Photo
from tiny_lantern.model.place import Place
from tiny_lantern.model.store import load
from tiny_lantern.sheets.sheet import lamp_rows
from tiny_lantern.ui import theme
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.shell import Shell
from tiny_lantern.ui.stations.pieces import PiecesStation
from tiny_lantern.ui.widgets.finder import Finder
from tiny_lantern.ui.widgets.picture import CUT_INK, RULER, told_numbers

NONE = Qt.KeyboardModifier.NoModifier
SHIFT = Qt.KeyboardModifier.ShiftModifier


def settled(shell: Shell) -> PiecesStation:
    """The station with its picture drawn."""
    station = pieces_of(shell)
    QApplication.processEvents()
    station.picture.grab()
    return station


def at_m(station: PiecesStation, x_m: float, y_m: float) -> QPoint:
    """Where a point of the build is in the picture."""
    return (station.picture.spot_at(x_m, y_m) + QPointF(RULER + 8, 0)).toPoint()


def chosen(shell: Shell) -> list[str]:
    """The names of the selected pieces."""
    return [shell.session.build.line.piece(each).name for each in shell.session.selection.all("pieces")]


def apart() -> Build:
    """A pier whose pieces lie apart."""
    build = pier()
    for number, piece in enumerate(build.pieces):
        build = shift_pieces(build, (piece.id,), 0.0, -0.3 * number)
    return build


def test_every_kind_is_added_from_empty_saved_and_opened_again(opened: Opened, tmp_path: Path) -> None:
    shell = opened(station="Pieces")
    shell.show_station("Pieces")
    station = pieces_of(shell)
    for kind in KINDS:
        before = len(shell.session.build.pieces)
        QTest.mouseClick(station.tray.cards[kind.id], LEFT)
        assert len(shell.session.build.pieces) == before + 1, kind.id
        added = shell.session.build.pieces[-1]
        assert chosen(shell) == [added.name]
        assert kind.fits(shell.session.build.shelf.find(Part, added.part_id))
    names = [piece.name for piece in shell.session.build.pieces]
    assert len(set(names)) == len(KINDS)
    shell.files.save_to(tmp_path / "all.lantern")
    assert load(tmp_path / "all.lantern") == shell.session.build
    while shell.session.history.undo_label:
        shell.session.undo()
    assert shell.session.build.pieces == ()


def test_a_ring_of_twelve_is_placed_mirrored_and_one_lamp_renamed_and_all_taken_back(opened: Opened) -> None:
    shell = opened(station="Pieces")
    shell.show_station("Pieces")
    station = pieces_of(shell)
    empty = shell.session.build
    QTest.mouseClick(station.tray.cards["colour"], LEFT)
    fields = station.form.fields
    type_into(fields["lamps"], "12")
    fields["shape"].activated.emit(2)
    type_into(fields["across"], "180 mm")
    ring = shell.session.build.pieces[0]
    assert ring.layout.shape == "ring"
    assert ring_radius(ring) == pytest.approx(0.09)
    before = slot_places(ring)
    QTest.mouseClick(station.form._mirror, LEFT)
    after = slot_places(shell.session.build.pieces[0])
    assert np.allclose(after[:, 0] - after[:, 0].mean(), -(before[:, 0] - before[:, 0].mean()), atol=1e-3)
    shell.session.select_slot(3)
    type_into(fields["place"], "north gate")
    type_into(fields["function"], "ride is full")
    piece = shell.session.build.pieces[0]
    assert (piece.place_name(3), piece.function_name(3)) == ("north gate", "ride is full")
    while shell.session.history.undo_label:
        shell.session.undo()
    assert shell.session.build == empty


def test_a_box_takes_the_pieces_in_it_and_they_move_together(opened: Opened) -> None:
    shell = opened(apart(), station="Pieces")
    station = settled(shell)
    drag(station.picture, at_m(station, -0.3, -0.55), at_m(station, 0.6, -1.0))
    assert chosen(shell) == ["Quay", "Festoon"]
    assert shell.session.history.undo_label is None
    before = {piece.name: slot_places(piece)[0] for piece in shell.session.build.pieces}
    start = station.picture.spot_of(shell.session.build.line.spans[2].first).toPoint()
    drag(station.picture, start, start + QPoint(40, 0))
    moved = {piece.name: slot_places(piece)[0] - before[piece.name] for piece in shell.session.build.pieces}
    assert moved["Quay"][0] > 0.02
    assert moved["Festoon"] == pytest.approx(moved["Quay"])
    assert not np.any(moved["Arcade"])
    assert shell.session.history.undo_label == "Moved 2 pieces in the picture"


def test_shift_adds_a_piece_to_the_selection_and_takes_it_out_again(opened: Opened) -> None:
    shell = opened(apart(), station="Pieces")
    station = settled(shell)
    spots = [station.picture.spot_of(shell.session.build.line.spans[number].first).toPoint() for number in (2, 3)]
    QTest.mouseClick(station.picture, LEFT, NONE, spots[0])
    QTest.mouseClick(station.picture, LEFT, SHIFT, spots[1])
    assert chosen(shell) == ["Quay", "Festoon"]
    QTest.mouseClick(station.picture, LEFT, SHIFT, spots[0])
    assert chosen(shell) == ["Festoon"]
    QTest.mouseClick(station.picture, LEFT, NONE, at_m(station, -0.2, 0.1))
    assert chosen(shell) == []


def test_the_end_of_a_line_is_dragged_onto_the_grid_as_one_step(opened: Opened) -> None:
    shell = opened(apart(), station="Pieces")
    station = settled(shell)
    shell.session.select("pieces", "quay")
    station = settled(shell)
    y_m = shell.session.build.line.piece("quay").layout.y_m
    drag(station.picture, at_m(station, 0.5, y_m), at_m(station, 0.803, y_m + 0.004))
    quay = shell.session.build.line.piece("quay")
    assert quay.spacing_m == pytest.approx(0.16, abs=0.003)
    assert quay.layout.angle_deg == 0.0
    assert shell.session.history.undo_label == "Stretched Quay"
    shell.session.undo()
    assert shell.session.build == apart()


def test_a_dragged_piece_snaps_to_the_grid_and_with_alt_goes_freely(opened: Opened) -> None:
    shell = opened(apart(), station="Pieces")
    station = settled(shell)
    start = station.picture.spot_of(shell.session.build.line.spans[2].first).toPoint()
    drag(station.picture, start, start + QPoint(33, -27))
    first = slot_places(shell.session.build.line.piece("quay"))[0]
    step = 0.01 if station.picture.scale >= 150 else 0.1
    assert first / step == pytest.approx(np.round(first / step), abs=1e-6)


def test_amid_a_drag_the_picture_is_that_of_the_build_dragged_so_far(opened: Opened) -> None:
    shell = opened(apart(), station="Pieces")
    station = settled(shell)
    start = station.picture.spot_of(shell.session.build.line.spans[2].first).toPoint()
    old = station.picture.grab().toImage().pixelColor(start).lightness()
    QTest.mousePress(station.picture, LEFT, NONE, start)
    QTest.mouseMove(station.picture, start + QPoint(-70, -50))
    shell.session.select("pieces")
    amid = station.picture.grab().toImage()
    moved = station.picture.spot_of(shell.session.build.line.spans[2].first).toPoint()
    assert amid.pixelColor(moved).lightness() > 60
    assert amid.pixelColor(start).lightness() < old / 2
    QTest.keyClick(station.picture, Qt.Key.Key_Escape)
    QTest.mouseRelease(station.picture, LEFT, NONE, start)


def test_escape_lets_a_dragged_handle_fall_back(opened: Opened) -> None:
    shell = opened(apart(), station="Pieces")
    shell.session.select("pieces", "quay")
    station = settled(shell)
    before = shell.session.build
    start = at_m(station, 0.5, before.line.piece("quay").layout.y_m)
    QTest.mousePress(station.picture, LEFT, NONE, start)
    QTest.mouseMove(station.picture, start + QPoint(40, 30))
    assert shell.session.build != before
    QTest.keyClick(station.picture, Qt.Key.Key_Escape)
    QTest.mouseRelease(station.picture, LEFT, NONE, start + QPoint(40, 30))
    assert shell.session.build is before


def test_what_several_pieces_have_in_common_is_changed_in_all_of_them_as_one_step(opened: Opened) -> None:
    shell = opened(demo_build("pier"), station="Pieces")
    station = pieces_of(shell)
    names = {piece.name: piece.id for piece in shell.session.build.pieces}
    shell.session.select("pieces", names["Deck lamps"], names["Signal panel"])
    fields = station.form.fields
    assert station.form._title.text() == "2 pieces"
    assert not fields["name"].isVisible()
    assert (fields["lamps"].text(), fields["lamps"].placeholderText()) == ("", "various")
    type_into(fields["spacing"], "4 cm")
    assert [shell.session.build.line.piece(names[n]).spacing_m for n in ("Deck lamps", "Signal panel")] == [0.04, 0.04]
    shell.session.undo()
    assert shell.session.build == demo_build("pier")


def test_several_pieces_are_aligned_distributed_and_removed_by_keys(opened: Opened) -> None:
    shell = opened(apart(), station="Pieces")
    station = settled(shell)
    shell.session.select("pieces", "quay", "festoon", "gauge")
    shell.actions_by_id["align-top"].trigger()
    lines = shell.session.build.line
    assert len({round(slot_places(lines.piece(name))[:, 1].max(), 3) for name in ("quay", "festoon", "gauge")}) == 1
    shell.actions_by_id["distribute"].trigger()
    assert shell.session.history.undo_label == "Distributed 3 pieces"
    QTest.keyClick(station.picture, Qt.Key.Key_Delete)
    assert {"quay", "festoon", "gauge"}.isdisjoint(piece.id for piece in shell.session.build.pieces)
    for _ in range(3):
        shell.session.undo()
    assert shell.session.build == apart()


def test_a_group_is_made_ordered_and_ordered_by_hand(opened: Opened) -> None:
    shell = opened(apart(), station="Pieces")
    station = settled(shell)
    shell.session.select("pieces", "quay")
    shell.actions_by_id["group"].trigger()
    group = shell.session.build.groups[0]
    assert (group.name, len(group.slots)) == ("Quay", 5)
    station.groups.order.activated.emit(2)
    assert [ref.index for ref in shell.session.build.groups[0].slots] == [4, 3, 2, 1, 0]
    QTest.mouseClick(station.groups.by_hand, LEFT)
    first = shell.session.build.line.spans[2].first
    for number in (2, 0):
        QTest.mouseClick(station.picture, LEFT, NONE, station.picture.spot_of(first + number).toPoint())
    assert [ref.index for ref in shell.session.build.groups[0].slots] == [2, 0, 4, 3, 1]
    QTest.keyClick(station.picture, Qt.Key.Key_Escape)
    assert station.hand.next_in_group is None
    QTest.mouseClick(station.groups.remove, LEFT)
    assert shell.session.build.groups == ()


def test_the_list_is_filtered_by_any_name_and_sorted_by_any_column(opened: Opened) -> None:
    shell = opened(demo_build("pier"), station="Pieces")
    station = pieces_of(shell)
    table = station.table

    def shown() -> list[str]:
        return [table.item(row, 0).text() for row in range(table.rowCount())]

    for word, found in (("ferry", ["Berths"]), ("MATRIX", ["Arcade 8×8"]), ("amber", ["Signal panel"])):
        type_into(station.groups.filter, word)
        assert shown() == found
    station.groups.filter.clear()
    wired = [piece.name for piece in shell.session.build.pieces]
    counts = {piece.name: piece.slot_count for piece in shell.session.build.pieces}
    table.horizontalHeader().sectionClicked.emit(3)
    assert shown() == sorted(wired, key=lambda name: (counts[name], str(counts[name])))
    table.horizontalHeader().sectionClicked.emit(3)
    assert shown()[0] == "Arcade 8×8"
    table.horizontalHeader().sectionClicked.emit(3)
    assert shown() == wired
    table.setCurrentCell(3, 0)
    assert chosen(shell) == ["Carousel"]


def test_the_wheel_zooms_about_the_pointer_and_a_double_click_shows_all(opened: Opened) -> None:
    shell = opened(apart(), station="Pieces")
    station = settled(shell)
    picture = station.picture
    under = picture.point_m(QPointF(200, 150))
    scale = picture.scale
    picture.zoom(QPointF(200, 150), 2.0)
    picture.grab()
    assert picture.scale == pytest.approx(2 * scale)
    assert picture.point_m(QPointF(200, 150)) == pytest.approx(under)
    QTest.mouseDClick(picture, LEFT, NONE, at_m(station, *picture.point_m(QPointF(picture.width() - 60, 10))))
    picture.grab()
    assert picture.scale == pytest.approx(scale)


def test_the_tape_measures_and_is_put_away(opened: Opened) -> None:
    shell = opened(apart(), station="Pieces")
    station = settled(shell)
    shell.actions_by_id["tape"].trigger()
    drag(station.picture, at_m(station, 0.0, 0.0), at_m(station, 0.3, -0.4))
    start, end = station.picture.tape
    assert np.hypot(*(end - start).toTuple()) / station.picture.scale == pytest.approx(0.5, abs=0.01)
    assert shell.session.build == apart()
    QTest.keyClick(station.picture, Qt.Key.Key_Escape)
    assert station.picture.tape is None
    assert station.hand.mode == ""


def test_the_lead_map_is_shown_changed_and_unknown_when_emptied(opened: Opened) -> None:
    shell = opened(demo_build("pier"), station="Pieces")
    form = pieces_of(shell).form
    carousel = next(piece for piece in shell.session.build.pieces if piece.name == "Carousel")
    shell.session.select_slot(shell.session.build.line.slot_of(SlotRef(piece_id=carousel.id, index=0)))
    assert "longest is common" in form.leads.accessibleName()
    type_into(form.fields["leads"], "green, common, red, blue")
    part = next(part for part in shell.session.build.parts if part.id == carousel.part_id)
    assert part.leads.order == ("green", "common", "red", "blue")
    before = shell.session.build
    type_into(form.fields["leads"], "green, purple")
    assert "no order of leads" in shell.transport.status.toolTip()
    assert shell.session.build is before
    QTest.mouseClick(form._more, LEFT)
    assert form.fields["longest"].isVisible()
    assert not form.fields["shape"].isVisible()
    form.fields["longest"].activated.emit(0)
    QTest.mouseClick(form._more, LEFT)
    form.fields["leads"].selectAll()
    QTest.keyClick(form.fields["leads"], Qt.Key.Key_Delete)
    QTest.keyClick(form.fields["leads"], Qt.Key.Key_Return)
    assert next(part for part in shell.session.build.parts if part.id == carousel.part_id).leads is None
    assert form._unknown.isVisible()


def test_a_name_that_is_taken_empty_or_endless_is_refused_in_one_line(opened: Opened) -> None:
    shell = opened(apart(), station="Pieces")
    shell.session.select("pieces", "quay")
    name = pieces_of(shell).form.fields["name"]
    for wrong, said in (("Festoon", "another piece is called “Festoon”"), ("  ", "name"), ("x" * 5000, "name")):
        name.setText(wrong)
        name.setModified(True)
        name.editingFinished.emit()
        told = shell.transport.status.toolTip()
        assert said in told
        assert len(told) < 260
        assert shell.session.build == apart()
        assert name.text() == "Quay"


def test_make_n_sets_a_row_of_copies_beside_each_other(opened: Opened) -> None:
    shell = opened(apart(), station="Pieces")
    form = pieces_of(shell).form
    shell.session.select("pieces", "quay")
    form.make(2)
    made = [piece for piece in shell.session.build.pieces if piece.name.startswith("Quay")]
    lefts = [float(slot_places(piece)[:, 0].min()) for piece in made]
    assert [piece.name for piece in made] == ["Quay", "Quay 2", "Quay 3"]
    assert lefts[1] > float(slot_places(made[0])[:, 0].max())
    assert lefts[2] - lefts[1] == pytest.approx(lefts[1] - lefts[0])


def test_the_fields_of_a_common_piece_need_no_scroll(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(demo_build("pier"), station="Pieces")
    form = pieces_of(shell).form
    for span in shell.session.build.line.spans:
        shell.session.select_slot(span.first)
        QApplication.processEvents()
        bar = form.parentWidget().parentWidget().verticalScrollBar()
        assert bar.maximum() == 0, span.piece.name
        cut = [n for n, f in form.fields.items() if isinstance(f, QLineEdit) and f.isVisible() and f.width() < 40]
        assert not cut


def test_a_piece_is_put_behind_a_connector_and_its_contacts_chosen(opened: Opened) -> None:
    shell = opened(demo_build("pier"), station="Pieces")
    form, session = pieces_of(shell).form, shell.session
    session.select_slot(session.build.line.spans[1].first)
    QTest.mouseClick(form._more, LEFT)
    piece = session.build.line.spans[1].piece
    choose(form.fields["behind"], "new")
    (plug,) = session.build.plugs
    assert (plug.name, plug.piece_ids, plug.part_id) == ("Connector", (piece.id,), "plug-12way")
    box = form.fields["plug"]
    assert isinstance(box, QComboBox)
    words = [box.itemText(number) for number in range(box.count())]
    box.activated.emit(words.index("Plug and socket, 24 contacts"))
    assert session.build.plugs[0].part_id == "plug-24way"
    choose(form.fields["behind"], None)
    assert session.build.plugs == ()
    session.undo()
    assert session.build.plugs[0].part_id == "plug-24way"


@pytest.mark.parametrize("wired", ["series", "parallel", "branches", "apart"])
def test_lamps_wired_in_any_way_have_their_fields(opened: Opened, wired: str) -> None:
    shell = opened(driven("pin", lamps(2, wired=wired)), station="Pieces")
    assert pieces_of(shell).form.fields["wired"].isVisible()


def test_group_numbers_are_those_of_the_group_s_order(opened: Opened) -> None:
    build = apart()
    build = add_group(build, "Quay", [SlotRef(piece_id="quay", index=index) for index in range(5)], "right to left")
    shell = opened(build, station="Pieces")
    station = settled(shell)
    shell.session.select("groups", shell.session.build.groups[0].id)
    station.picture.zoom(station.picture.spot_of(20), 3.0)
    station.picture.grab()
    first = shell.session.build.line.spans[2].first
    assert {slot - first: text for text, slot, _ in station.picture._numbers()} == {
        4: "0", 3: "1", 2: "2", 1: "3", 0: "4"
    }  # fmt: skip


def test_find_goes_to_a_lamp_a_snag_or_does_a_command(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(demo_build("pier"), station="Weave")
    qtbot.waitUntil(lambda: bool(shell.session.findings))

    def find(word: str, downs: int = 0) -> None:
        shell.actions_by_id["find"].trigger()
        (finder,) = shell.findChildren(Finder)
        QTest.keyClicks(finder.word, word)
        for _ in range(downs):
            QTest.keyClick(finder.word, Qt.Key.Key_Down)
        QTest.keyClick(finder.word, Qt.Key.Key_Return)
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)

    find("ferry at")
    assert shell.station == "Weave"
    berths = shell.session.build.line.piece(shell.session.selection.piece_id)
    assert (berths.name, shell.session.selection.index) == ("Berths", 0)
    find("berths", downs=1)
    assert shell.session.selection.index != 0 or shell.session.selection.refs
    find("shutting down clears")
    assert shell.station == "Power"
    find("paper or night")
    assert shell.theme_in_use is theme.NIGHT


def test_pieces_are_copied_cut_and_pasted_through_the_clipboard(opened: Opened) -> None:
    shell = opened(apart(), station="Pieces")
    shell.session.select("pieces", "quay", "festoon")
    shell.actions_by_id["copy"].trigger()
    shell.actions_by_id["paste"].trigger()
    assert chosen(shell) == ["Quay 2", "Festoon 2"]
    shell.session.undo()
    shell.session.select("pieces", "quay")
    shell.actions_by_id["cut-pieces"].trigger()
    assert all(piece.id != "quay" for piece in shell.session.build.pieces)
    shell.actions_by_id["paste"].trigger()
    assert chosen(shell) == ["Quay"]
    QApplication.clipboard().setText("no pieces")
    before = shell.session.build
    shell.actions_by_id["paste"].trigger()
    assert "is not pieces" in shell.transport.status.toolTip()
    assert shell.session.build is before


def test_a_photo_is_laid_scaled_moved_and_taken_back(opened: Opened, tmp_path: Path) -> None:
    shell = opened(apart(), station="Pieces")
    station = settled(shell)
    picture = station.picture
    Image.new("RGB", (300, 150), "#ff0000").save(tmp_path / "plan.png")
    at = at_m(station, 0.3, -1.2)
    dark = picture.grab().toImage().pixelColor(at).red()
    station.photo.lay(tmp_path / "plan.png")
    assert station.photo.isVisible()
    assert picture.grab().toImage().pixelColor(at).red() > dark + 50
    width_m = shell.session.build.photo.width_m
    QTest.mouseClick(station.photo.scale, LEFT)
    station.photo.ask_text = lambda _: "80 cm"
    drag(picture, at_m(station, 0.0, -1.0), at_m(station, 0.4, -1.0))
    assert shell.session.build.photo.width_m == pytest.approx(2 * width_m, rel=0.03)
    x_m = shell.session.build.photo.x_m
    QTest.mouseClick(station.photo.move_it, LEFT)
    drag(picture, at, at + QPoint(30, 0))
    assert shell.session.build.photo.x_m == pytest.approx(x_m + 30 / picture.scale, abs=0.01)
    assert shell.session.build.pieces == apart().pieces
    QTest.keyClick(picture, Qt.Key.Key_Escape)
    QTest.mouseClick(station.photo.remove, LEFT)
    assert not station.photo.isVisible()
    for _ in range(4):
        shell.session.undo()
    assert shell.session.build == apart()


def test_a_photo_can_come_before_the_first_piece(opened: Opened, tmp_path: Path) -> None:
    shell = opened(station="Pieces")
    shell.show_station("Pieces")
    station = settled(shell)
    Image.new("RGB", (300, 150), "#ff0000").save(tmp_path / "plan.png")
    station.photo.lay(tmp_path / "plan.png")
    assert 0.1 < shell.session.build.photo.width_m < 5
    picture = station.picture
    assert picture.grab().toImage().pixelColor(at_m(station, *picture.point_m(QPointF(60, 200)))).red() > 60


def test_a_photo_that_is_none_is_told_once(opened: Opened, tmp_path: Path) -> None:
    shell = opened(apart(), station="Pieces")
    (tmp_path / "a.png").write_text("nothing")
    pieces_of(shell).photo.lay(tmp_path / "a.png")
    assert "no picture" in shell.transport.status.toolTip()
    assert shell.session.build == apart()


def test_a_wire_s_way_is_led_round_corners_and_says_its_length(opened: Opened) -> None:
    build = demo_build("pier")
    shell = opened(build, station="Pieces")
    station = settled(shell)
    picture = station.picture
    feed = build.feeds[0]
    head = at_m(station, 0.0, 0.14) + QPoint(0, 16)
    QTest.mouseClick(picture, LEFT, NONE, head)
    assert shell.session.selection.one("feeds") == feed.id
    ((middle, _),) = picture.handles()
    drag(picture, at_m(station, middle.x_m, middle.y_m), at_m(station, -0.3, -0.1))
    routed = shell.session.build.feeds[0]
    assert routed.route_m == ((-0.3, -0.1),)
    assert routed.positive.length_m > feed.positive.length_m
    before = routed.positive.length_m
    supply = shell.session.build.supplies[0]
    start = at_m(station, supply.x_m, supply.y_m)
    drag(picture, start, start + QPoint(60, 40))
    assert shell.session.build.feeds[0].positive.length_m > before
    shell.session.undo()
    shell.session.select("feeds", feed.id)
    QTest.mouseDClick(picture, LEFT, NONE, at_m(station, -0.3, -0.1))
    assert shell.session.build.feeds[0].route_m == ()
    while shell.session.history.undo_label:
        shell.session.undo()
    assert shell.session.build == build


def test_wires_are_led_through_a_passage_by_mouse_and_it_counts_them(opened: Opened) -> None:
    shell = opened(one_strip(60), station="Pieces")
    station = settled(shell)
    shell.actions_by_id["passage"].trigger()
    settled(shell)
    hole = shell.session.build.passages[0]
    drag(station.picture, at_m(station, hole.x_m, hole.y_m), at_m(station, 0.5, -0.1))
    assert (shell.session.build.passages[0].x_m, shell.session.build.passages[0].y_m) == (0.5, -0.1)
    assert "0 conductors" in station.room.words.text()
    shell.session.select_place(Place.on("feeds", "feed"))
    settled(shell)
    middle = next(at for each, at in station.picture.handles() if each.role == "between")
    drag(station.picture, (middle + QPointF(RULER + 8, 0)).toPoint(), at_m(station, 0.503, -0.102))
    assert shell.session.build.feeds[0].route_m == ((0.5, -0.1),), "a corner near a passage snaps into it"
    shell.session.select_place(Place.on("passages", hole.id))
    assert "2 conductors" in station.room.words.text()
    assert not station.form.isVisible()
    type_into(station.room.fields["diameter_m"], "12mm")
    type_into(station.room.fields["others"], "3")
    assert shell.session.build.passages[0].diameter_m == 0.012
    assert "5 conductors" in station.room.words.text()
    QTest.keyClick(station.picture, Qt.Key.Key_Left)
    assert shell.session.build.passages[0].x_m == pytest.approx(0.45)
    QTest.keyClick(station.picture, Qt.Key.Key_Delete)
    assert shell.session.build.passages == ()
    assert station.form.isVisible()


def test_a_box_takes_supplies_and_other_things(opened: Opened) -> None:
    shell = opened(one_strip(60), station="Pieces")
    station = settled(shell)
    shell.actions_by_id["box"].trigger()
    room, session = station.room, shell.session
    assert session.build.boxes[0].supply_ids == ("supply",)
    room.held.item(0).setCheckState(Qt.CheckState.Unchecked)
    assert session.build.boxes[0].supply_ids == ()
    type_into(room.thing, "Logic board 60 x 30 x 15 mm")
    assert session.build.boxes[0].contents[0].sizes_m == (0.06, 0.03, 0.015)
    told: list[LanternError] = []
    session.refused.connect(told.append)
    type_into(room.thing, "board")
    assert "three sizes" in told[0].sentence()
    assert room.thing.text() == "board"
    type_into(room.name, "Shed")
    room.held.item(1).setCheckState(Qt.CheckState.Unchecked)
    assert session.build.boxes[0].contents == ()
    assert session.build.boxes[0].name == "Shed"
    for _ in range(5):
        session.undo()
    assert session.build.boxes == ()


def test_a_path_gains_and_loses_a_corner_by_mouse(opened: Opened) -> None:
    shell = opened(change_piece(one_strip(60), "strip", layout=AlongPath(points_m=((0, 0), (1, 0)))), station="Pieces")
    station = settled(shell)
    shell.session.select("pieces", "strip")
    settled(shell)
    middle = next(at for each, at in station.picture.handles() if each.role == "leg")
    drag(station.picture, (middle + QPointF(RULER + 8, 0)).toPoint(), at_m(station, 0.5, 0.2))
    layout = shell.session.build.strips[0].layout
    assert isinstance(layout, AlongPath)
    assert layout.points_m == ((0, 0), (0.5, 0.2), (1, 0))
    settled(shell)
    QTest.mouseDClick(station.picture, LEFT, NONE, at_m(station, 0.5, 0.2))
    assert shell.session.build.strips[0].layout.points_m == ((0, 0), (1, 0))
    told: list[LanternError] = []
    shell.session.refused.connect(told.append)
    settled(shell)
    QTest.mouseDClick(station.picture, LEFT, NONE, at_m(station, 0, 0))
    assert "two points" in told[0].sentence()


def test_where_a_rail_is_cut_a_stroke_is_drawn(opened: Opened) -> None:
    shell = opened(one_strip(30), station="Pieces")
    station = settled(shell)
    before = station.picture.grab().toImage()
    shell.session.apply("cut", lambda build: toggle_cut(build, "strip", 15))
    at = at_m(station, 15 / 60, 0)
    settled(shell)
    after = station.picture.grab().toImage()
    stroke = [QColor(CUT_INK).red() - after.pixelColor(at + QPoint(0, off)).red() for off in (-5, 5)]
    assert max(stroke) < 60
    assert before.pixelColor(at + QPoint(0, 5)).red() < 200


def test_one_lamp_of_a_loose_chain_has_an_order_and_leads_of_its_own(opened: Opened) -> None:
    part = next(part for part in shelf().of(LampPart) if part.addressable)
    chain = LampGroup(id="chain", name="Chain", part_id=part.id, lamp_count=4, colour_order="RGB")
    shell = opened(add_piece(Build(), part, chain), station="Pieces")
    station = settled(shell)
    shell.session.select_slot(2)
    type_into(station.form.fields["own-order"], "grb")
    type_into(station.form.fields["own-leads"], "data in, plus, minus, data out")
    note = shell.session.build.pieces[0].note_of[2]
    assert note.colour_order == "GRB"
    assert note.leads is not None
    assert note.leads.order == ("data in", "plus", "minus", "data out")
    told: list[LanternError] = []
    shell.session.refused.connect(told.append)
    type_into(station.form.fields["own-leads"], "left, right")
    assert "no order of leads" in told[0].sentence()
    shell.session.select_slot(1)
    assert station.form.fields["own-order"].text() == ""
    (row,) = [row for row in lamp_rows(shell.session.build) if row.from_0 == 2]
    assert row.leads.endswith("; GRB")


def test_the_glow_of_what_is_dragged_goes_with_the_hand_and_leaves_its_place_dark(opened: Opened) -> None:
    shell = opened(change_piece(pier(), "quay", layout=AlongLine(x_m=0, y_m=0.6), spacing_m=0.05), station="Pieces")
    station = settled(shell)
    quay = next(span for span in shell.session.build.line.spans if span.piece.id == "quay")

    def bright(spot: QPointF) -> int:
        image = station.picture.grab().toImage()
        around = [QPoint(x, y) for x in (-2, -1, 0, 1, 2) for y in (-2, -1, 0, 1, 2)]
        return max(image.pixelColor(spot.toPoint() + off).lightness() for off in around)

    lamps = [station.picture.spot_of(quay.first + number) for number in (0, 4)]
    by = QPointF(3, 90)
    QTest.mousePress(station.picture, LEFT, Qt.KeyboardModifier.AltModifier, lamps[0].toPoint())
    for share in (0.3, 0.6, 1.0):
        at = (lamps[0] + by * share).toPoint()
        event = QMouseEvent(
            QEvent.Type.MouseMove, at, station.picture.mapToGlobal(at), LEFT, LEFT, Qt.KeyboardModifier.AltModifier
        )
        QApplication.sendEvent(station.picture, event)
        assert shell.session.dragging
        assert all(bright(lamp + by * share) > 120 for lamp in lamps)
        assert all(bright(lamp) < 60 for lamp in lamps)
    QTest.mouseRelease(station.picture, LEFT, Qt.KeyboardModifier.AltModifier, at)
    assert all(bright(lamp + by) > 120 for lamp in lamps)


def test_a_photo_that_cannot_be_decoded_is_told_once_and_nothing_else_is_lost(
    opened: Opened, qapp: QApplication
) -> None:
    shell = opened(one_strip(10), station="Pieces")
    told: list[str] = []
    shell.session.refused.connect(lambda error: told.append(error.sentence()))
    broken = Photo(data=base64.b64encode(b"\xff\xd8\xff" + b"0" * 50).decode(), pixels_wide=4, pixels_high=2)
    shell.session.apply("Laid", lambda build: lay_photo(build, broken))
    for _ in range(3):
        shell.window().grab()
        qapp.processEvents()
    assert [sentence for sentence in told if "no picture that can be read" in sentence] == told[:1] == told


@pytest.mark.parametrize("apart", [0.6, 2.0, 5.0, 12.0, 40.0])
def test_numbers_of_lights_go_by_fives_tens_or_hundreds_and_never_touch(apart: float, qapp: QApplication) -> None:
    places = np.stack([np.arange(400) * apart, np.zeros(400)], axis=1)
    numbers = told_numbers(places)
    assert numbers[0] == 0
    (every,) = {after - before for before, after in pairwise(numbers)}
    assert every in (1, 5, 10, 50, 100)
    widest = theme.text_width("399", 8.0)
    assert every * apart >= theme.text_width("0", 8.0)
    if every * apart < widest:
        ends = [number * apart + theme.text_width(str(number), 8.0) / 2 for number in numbers]
        starts = [number * apart - theme.text_width(str(number), 8.0) / 2 for number in numbers]
        assert all(end <= start for end, start in zip(ends, starts[1:], strict=False))


def test_lights_far_apart_each_bear_their_number(qapp: QApplication) -> None:
    assert told_numbers(np.stack([np.arange(12) * 40.0, np.zeros(12)], axis=1)) == list(range(12))
    assert told_numbers(np.zeros((1, 2))) == []
