"""Drive, the power tree, the ways compared, the small sums and the wiring steps through the real window."""

import re
from pathlib import Path

import numpy as np
import pytest
from PySide6.QtCore import QEvent, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QComboBox, QDialog, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from tests.support.builds import part
from tests.support.driven import asking, driven, hold, lamps, lit
from tests.ui.conftest import Opened
from tests.ui.driving import LEFT, drag, type_into
from tiny_lantern.electrical.driven.contract import case_of
from tiny_lantern.electrical.driven.sink import best_supply_v
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.findings.registry import rules, subject_of
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_parts, with_part
from tiny_lantern.model.edits_drive import change_driver
from tiny_lantern.model.edits_pieces import add_piece
from tiny_lantern.model.edits_power import add_supply
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.store import load
from tiny_lantern.plans.matching import match_by_duty
from tiny_lantern.plans.steer import NEW
from tiny_lantern.plans.told import channel_working
from tiny_lantern.plans.ways import drive_piece
from tiny_lantern.plans.worst import worst_of_show
from tiny_lantern.sheets.hold_drawing import hold_svg
from tiny_lantern.show.channels import channel_duties
from tiny_lantern.ui.declared.registry import station_for
from tiny_lantern.ui.shell import Shell
from tiny_lantern.ui.stations.compare_window import CompareWindow
from tiny_lantern.ui.stations.drive import DriveStation
from tiny_lantern.ui.stations.helpers_window import HelpersWindow
from tiny_lantern.ui.stations.schematic_window import SchematicWindow
from tiny_lantern.ui.stations.sheets import SheetsStation
from tiny_lantern.ui.stations.what_if_window import WhatIfWindow

NONE = Qt.KeyboardModifier.NoModifier


def drive_of(shell: Shell) -> DriveStation:
    """The Drive station, shown and laid out."""
    shell.show_station("Drive")
    QApplication.processEvents()
    station = shell.stack.drive()
    station.canvas.grab()
    return station


def choose(box: QComboBox, data: object) -> None:
    """Pick an entry as a person does."""
    for number in range(box.count()):
        if box.itemData(number) == data:
            box.setCurrentIndex(number)
            box.activated.emit(number)
            return
    raise AssertionError(f"no {data} in {[box.itemData(n) for n in range(box.count())]}")


def twelve() -> Build:
    """Twelve white lamps that nothing drives."""
    return add_piece(Build(), part("led-white-5mm"), lamps(12, "led-white-5mm"))


def beside(shell: Shell, kind: type[QWidget]) -> QWidget:
    """The window of a kind that was opened last."""
    return shell.findChildren(kind)[-1]


def close_all(shell: Shell) -> None:
    """Close what stands beside the window."""
    for dialog in shell.findChildren(QDialog):
        dialog.close()


def test_twelve_lamps_are_put_on_registers_mended_wired_and_printed(
    opened: Opened, qtbot: QtBot, tmp_path: Path
) -> None:
    shell = opened(twelve(), station="Drive")
    station, session = drive_of(shell), shell.session
    assert station.form.title == "Lamps"
    choose(station.form.way, "register")
    assert len(session.build.channels) == 12
    assert [pin.role for pin in session.build.drivers[0].pins] == ["data", "clock", "latch"]
    assert all(channel.wanted_a == 0.008 for channel in session.build.channels), "what a chip's supply leg bears"
    session.apply("Asked for more", lambda build: asking(build, 0.01))
    qtbot.waitUntil(lambda: any(f.code == "chip-current" and f.fix for f in session.findings))
    card = next(card for card in shell.snags.cards if card.finding.code == "chip-current")
    mend = next(each for each in card.findChildren(QPushButton) if each.text() == "Larger resistors")
    QTest.mouseClick(mend, LEFT)
    qtbot.waitUntil(lambda: all(finding.code != "chip-current" for finding in session.findings))
    shell.actions_by_id["wiring-steps"].trigger()
    steps = shell.stack.sheets().wiring
    assert steps is not None
    choose(steps.lamps_by, "die")
    qtbot.waitUntil(lambda: {row.colour for row in steps.rows if row.key.endswith("/lamp")} == {"white"})
    assert any(row.colour == "black" for row in steps.rows)
    first = [row.key for row in steps.rows[:3]]
    QTest.mouseClick(steps.done, LEFT)
    QTest.keyClick(steps, Qt.Key.Key_Return)
    QTest.keyClick(steps, Qt.Key.Key_S)
    wiring = session.build.wiring
    assert [wiring.state_of(key) for key in first] == ["done", "done", "skipped"]
    assert steps.rows[steps.at].key == steps.rows[3].key
    sheets = shell.stack.currentWidget()
    assert isinstance(sheets, SheetsStation)
    for suffix in ("wiring.html", "wiring.csv", "wiring.pdf"):
        sheets.save(tmp_path / suffix, suffix)
        qtbot.waitUntil(lambda suffix=suffix: f"Wrote {suffix}" in shell.transport.status.toolTip())
        assert (tmp_path / suffix).stat().st_size > 1000
    assert session.build.wiring.printed in (tmp_path / "wiring.html").read_text(encoding="utf-8")
    shell.files.save_to(tmp_path / "twelve.lantern")
    assert load(tmp_path / "twelve.lantern").wiring == session.build.wiring
    while session.history.undo_label:
        session.undo()
    assert session.build == twelve()


def test_wiring_steps_show_nothing_of_the_build_before(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(drive_piece(twelve(), "lamps", "register"))
    shell.actions_by_id["wiring-steps"].trigger()
    steps = shell.stack.sheets().wiring
    assert steps is not None
    qtbot.waitUntil(lambda: bool(steps.rows))
    assert "1 of" not in steps._told.text() and "left" in steps._told.text()
    assert drawn_in(steps.picture) > 1
    shell.session.undo()
    shell.session.open(Build())
    qtbot.waitUntil(lambda: not steps.rows)
    assert [words.text() for words in (steps._number, steps._line, steps._meter)] == ["", "", ""]
    assert "left" not in steps._told.text()
    assert drawn_in(steps.picture) == 1


def drawn_in(picture: QWidget) -> int:
    """How many colours are seen in a picture."""
    image = picture.grab().toImage()
    return len({image.pixel(x, y) for x in range(0, image.width(), 4) for y in range(0, image.height(), 4)})


def test_a_bar_is_dragged_to_the_current_wanted_and_the_resistor_follows(opened: Opened) -> None:
    shell = opened(driven("pin"), station="Drive")
    station, session = drive_of(shell), shell.session
    layout = station.canvas.layout_now()
    assert layout is not None
    bar = layout.bars[1]
    start = QPointF(bar.middle, layout.y_of(bar.on_a) + 6).toPoint()
    end = QPointF(bar.middle, layout.y_of(0.005)).toPoint()
    drag(station.canvas, start, end)
    channel = next(each for each in session.build.channels if each.id == bar.channel_id)
    assert channel.wanted_a == pytest.approx(0.005, abs=0.0003)
    assert channel.resistor_ohm == 680.0
    assert session.selection.one("channels") == bar.channel_id
    assert station.form.resistor.text() == "680 Ω"
    session.undo()
    assert all(each.wanted_a == 0.01 for each in session.build.channels)
    assert session.history.undo_label is None, "a drag is one step"


def test_escape_lets_a_dragged_bar_fall_back(opened: Opened) -> None:
    shell = opened(driven("pin"), station="Drive")
    station, before = drive_of(shell), shell.session.build
    layout = station.canvas.layout_now()
    assert layout is not None
    bar = layout.bars[0]
    at = QPointF(bar.middle, layout.y_of(bar.on_a) + 4).toPoint()
    QTest.mousePress(station.canvas, LEFT, NONE, at)
    QTest.mouseMove(station.canvas, QPointF(bar.middle, layout.chart.bottom() - 20).toPoint())
    assert shell.session.dragging
    QTest.keyClick(station.canvas, Qt.Key.Key_Escape)
    QTest.mouseRelease(station.canvas, LEFT, NONE, at)
    assert shell.session.build is before


def test_a_tail_is_led_to_another_pin_and_stays_there(opened: Opened) -> None:
    shell = opened(driven("pin", board="board-8bit-small"), station="Drive")
    station, session = drive_of(shell), shell.session
    layout = station.canvas.layout_now()
    assert layout is not None
    used = next(pin for pin in layout.pins if pin.role == "lamp 0")
    free = next(pin for pin in layout.pins if not pin.driver_id and pin.name == "A3")
    drag(station.canvas, used.box.center().toPoint(), free.box.center().toPoint())
    pin = next(pin for pin in session.build.drivers[0].pins if pin.role == "lamp 0")
    assert (pin.pin, pin.pinned) == ("A3", True)
    QTest.mouseClick(station.again, LEFT)
    assert next(pin for pin in session.build.drivers[0].pins if pin.role == "lamp 0").pin == "A3"


def test_keys_step_through_channels_change_the_current_and_take_the_driver_away(opened: Opened) -> None:
    shell = opened(driven("pin"), station="Drive")
    station, session = drive_of(shell), shell.session
    station.canvas.setFocus()
    for _ in range(2):
        QTest.keyClick(station.canvas, Qt.Key.Key_Right)
    assert session.selection.one("channels") == "lamps-pin-1"
    QTest.keyClick(station.canvas, Qt.Key.Key_Down)
    assert next(c for c in session.build.channels if c.id == "lamps-pin-1").wanted_a == pytest.approx(0.009)
    QTest.keyClick(station.canvas, Qt.Key.Key_Delete)
    assert session.build.drivers == ()
    assert session.build.channels == ()
    assert len(session.build.pieces) == 1


def test_wrong_typing_in_drive_is_told_and_changes_nothing(opened: Opened) -> None:
    shell = opened(driven("register"), station="Drive")
    station, before = drive_of(shell), shell.session.build
    told: list[LanternError] = []
    shell.session.refused.connect(told.append)
    type_into(station.form.wanted, "lots")
    type_into(station.form.resistor, "-5")
    type_into(station.form.driver_form.fields.fields["chips"], "900")
    assert len(told) == 3
    assert shell.session.build is before
    type_into(station.form.resistor, "1k5")
    assert shell.session.build.channels[0].resistor_ohm == 1500.0
    station.form.resistor.setFocus()
    QTest.keyClick(station.form.resistor, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClick(station.form.resistor, Qt.Key.Key_Delete)
    QTest.keyClick(station.form.resistor, Qt.Key.Key_Return)
    assert shell.session.build.channels[0].resistor_ohm is None


def test_a_board_too_small_is_refused_with_what_makes_it_so(opened: Opened) -> None:
    shell = opened(driven("pin", lamps(12)), station="Drive")
    station, before = drive_of(shell), shell.session.build
    choose(station.board, "board-8bit-tiny")
    assert shell.session.build is before
    assert "pins are wanted" in shell.transport.status.toolTip() + shell.transport.status.text()
    choose(station.board, "board-8bit-small")
    assert shell.session.build.shelf.find(BoardPart, "board-8bit-small")
    assert shell.session.build.boards[0].part_id == "board-8bit-small"


def test_a_field_of_the_driver_is_changed_by_its_form(opened: Opened) -> None:
    shell = opened(driven("sink"), station="Drive")
    station = drive_of(shell)
    type_into(station.form.driver_form.fields.fields["rext_ohm"], "1k")
    assert shell.session.build.drivers[0].rext_ohm == 1000.0  # type: ignore[union-attr]
    result = station.solution.by_driver[shell.session.build.drivers[0].id]  # type: ignore[union-attr]
    assert result.on_a[0] == pytest.approx(0.018)


def test_brightness_is_matched_by_one_button(opened: Opened) -> None:
    shell = opened(driven("pwm", lamps(2, "lamp-rgb-cathode")), station="Drive")
    station, session = drive_of(shell), shell.session
    assert station.form.match.isVisible()
    QTest.mouseClick(station.form.match, LEFT)
    part_now = session.build.shelf.of(LampPart)[0]
    own = {die.name: die.light.intensity_cd * channel.wanted_a / die.test_a
           for channel in session.build.channels for die in part_now.dies if die.name == channel.die}  # fmt: skip
    assert max(own.values()) == pytest.approx(min(own.values()), rel=2e-3)
    assert min(channel.wanted_a for channel in session.build.channels) < 0.01
    session.undo()
    assert all(channel.wanted_a == 0.01 for channel in session.build.channels)


def test_brightness_is_matched_by_duty_where_it_dims(opened: Opened) -> None:
    """The weakest stays at full; currents and resistors stay as they are, and what shines on average is alike."""
    shell = opened(driven("pwm", lamps(2, "lamp-rgb-cathode")), station="Drive")
    station, session = drive_of(shell), shell.session
    before = session.build
    QTest.mouseClick(station.form.match_duty, LEFT)
    result = solve_drive(session.build).by_driver["lamps-pwm"]
    assert result.intensity_cd.max() == pytest.approx(result.intensity_cd.min(), rel=2e-3)
    assert max(channel.trim for channel in session.build.channels) == 1.0
    assert [each.resistor_ohm for each in session.build.channels] == [each.resistor_ohm for each in before.channels]
    dimmed = lit(session.build)
    frame = np.full((1, dimmed.line.slot_count, 3), 255, np.uint8)
    trims = [channel.trim for channel in dimmed.channels_of["lamps-pwm"]]
    assert channel_duties(dimmed, dimmed.drivers[0], frame)[0] == pytest.approx(trims)
    type_into(station.form.trim, "40 %")
    assert station.form.channel is not None
    assert station.form.channel.trim == pytest.approx(0.4)
    with pytest.raises(LanternError, match="on and off only"):
        match_by_duty(driven("pin"), "lamps-pin")


def test_what_if_a_part_were_another_or_missing_changes_nothing_until_it_is_made_so(
    opened: Opened, qtbot: QtBot
) -> None:
    shell = opened(driven("switch", transistor_id="bjt-small", base_ohm=1000.0), station="Drive")
    station, before = drive_of(shell), shell.session.build
    qtbot.waitUntil(lambda: shell.session.evidence is not None)
    QTest.mouseClick(station.form.what_if, LEFT)
    window = beside(shell, WhatIfWindow)
    assert isinstance(window, WhatIfWindow)
    qtbot.waitUntil(lambda: bool(window.rows))
    told = {row.change.words: row for row in window.rows}
    assert window.rows[0].change.words == "as it is"
    missing = told["base or gate resistor missing"]
    assert missing.findings[0].code == "no-base-resistor"
    assert "no-base-resistor" not in {finding.code for finding in window.rows[0].findings}
    bare = told["the lamps' resistors missing"]
    assert bare.findings[0].code == "no-resistor"
    assert any(words.endswith("fitted") for words in told)
    assert shell.session.build is before, "looking changes nothing"
    at = next(number for number, row in enumerate(window.rows) if row is missing)
    window.table.setCurrentCell(at, 0)
    window.fit.click()
    assert shell.session.build.drivers[0].base_ohm is None  # type: ignore[union-attr]
    shell.session.undo()
    assert shell.session.build is before
    close_all(shell)


@pytest.mark.parametrize("act", ["compare-ways", "what-if"])
def test_a_window_closed_while_it_works_is_no_defect(opened: Opened, qtbot: QtBot, act: str) -> None:
    shell = opened(driven("switch"), station="Drive")
    drive_of(shell)
    qtbot.waitUntil(lambda: shell.session.evidence is not None)
    kind = act.replace("compare-ways", "compare")
    with qtbot.waitSignal(shell.session.background.ended, check_params_cb=lambda name: name == kind):
        shell.actions_by_id[act].trigger()
        close_all(shell)
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)


def test_a_pin_is_kept_for_something_else_by_a_double_click_and_let_go_again(opened: Opened) -> None:
    shell = opened(driven("pin"), station="Drive")
    station, session = drive_of(shell), shell.session
    layout = station.canvas.layout_now()
    assert layout is not None
    free = next(pin for pin in layout.pins if pin.name == "A3")
    station.hand.ask = lambda title, label, text: ("sounder, timer 2", True)
    QTest.mouseDClick(station.canvas, LEFT, NONE, free.box.center().toPoint())
    kept = session.build.boards[0].reserved
    assert [(each.pin, each.what, each.timer) for each in kept] == [("A3", "sounder", "2")]
    station.hand.ask = lambda title, label, text: ("", True)
    QTest.mouseDClick(station.canvas, LEFT, NONE, free.box.center().toPoint())
    assert session.build.boards[0].reserved == ()


def test_another_part_is_fitted_and_what_it_does_is_told(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(driven("switch"), station="Drive")
    station = drive_of(shell)
    choose(station.form.driver_form.parts["transistor_id"], "mosfet-tall")
    assert shell.session.build.drivers[0].transistor_id == "mosfet-tall"  # type: ignore[union-attr]
    qtbot.waitUntil(lambda: any(finding.code == "barely-on" for finding in shell.session.findings))


def test_a_knob_is_added_by_its_field_and_takes_a_pin_and_more_fields(opened: Opened) -> None:
    shell = opened(driven("pwm"), station="Drive")
    form = drive_of(shell).form.driver_form
    assert "rest_off" not in form.fields.fields
    choose(form.fields.fields["knob"], True)  # type: ignore[arg-type]
    assert any(pin.role == "knob" for pin in shell.session.build.drivers[0].pins)
    assert "rest_off" in form.fields.fields


def test_lines_are_shared_by_choice_and_their_pins_are_let_go(opened: Opened) -> None:
    build = driven("register")
    piece = lamps().model_copy(update={"id": "more", "name": "More"})
    build = add_piece(build, part("led-red-5mm"), piece)
    build = drive_piece(build, build.pieces[-1].id, "register")
    shell = opened(build, station="Drive")
    station, session = drive_of(shell), shell.session
    station.hand.choose_channel(build.channels_of[build.drivers[1].id][0].id)
    choose(station.form.driver_form.lines, build.drivers[0].id)
    assert [pin.role for pin in session.build.drivers[1].pins] == ["latch"]
    choose(station.form.driver_form.fields.fields["select_by"], "multiplexer")  # type: ignore[arg-type]
    assert session.build.drivers[1].pins == ()
    assert [pin.role for pin in session.build.drivers[0].pins][-1] == "select 0"


def test_so_many_outputs_lit_show_what_each_carries(opened: Opened) -> None:
    """A resistor in the common lead starves each the more, the more are lit."""
    shell = opened(driven("sink", lamps(16), common_ohm=50.0, led_v=5.0), station="Drive")
    form = drive_of(shell).form
    form.lit.setValue(1)
    one = form._lit_words.text()
    form.lit.setValue(16)
    assert one.startswith("1 lit: 10.0 mA")
    assert "all hold" in one
    assert "starved" in form._lit_words.text()


def test_the_window_of_a_hold_rail_shows_every_lamp(opened: Opened) -> None:
    build = driven("hold", hold(7))
    form = drive_of(opened(build, station="Drive")).form
    assert form.hold_window.isVisible()
    case = case_of(build, build.drivers[0], build.channels_of[build.drivers[0].id])
    drawing = hold_svg(case)
    assert drawing.count("<circle") == 7
    assert "forgets below" in drawing
    missed = change_driver(build, build.drivers[0].id, out_v=1.75)
    case = case_of(missed, missed.drivers[0], missed.channels_of[missed.drivers[0].id])
    assert hold_svg(case).count("#ab2118") == 7


def test_ways_are_compared_and_one_is_used(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(driven("pin"), station="Drive")
    drive_of(shell)
    shell.actions_by_id["compare-ways"].trigger()
    window = beside(shell, CompareWindow)
    assert isinstance(window, CompareWindow)
    qtbot.waitUntil(lambda: len(window.rows) > 4)
    by_kind = {row.way.kind: row for row in window.rows}
    assert by_kind["pin"].now
    assert by_kind["register"].pins == 3
    assert by_kind["pin"].pins == 4
    assert by_kind["demux"].flicker
    assert by_kind["sink"].cost != by_kind["register"].cost
    assert not window.use.isEnabled()
    row = window.rows.index(by_kind["register"])
    window.table.setCurrentCell(row, 0)
    QTest.mouseClick(window.use, LEFT)
    assert shell.session.build.drivers[0].kind == "register"
    close_all(shell)


def test_a_resistor_that_lamps_need_not_is_shown_and_can_be_taken_out(opened: Opened, qtbot: QtBot) -> None:
    build = driven("pin", lamps(2))
    shell = opened(change_parts(build, revise(build.shelf.of(LampPart)[0], limited_by="itself")), station="Drive")
    form = drive_of(shell).form
    shell.session.select_slot(0)
    qtbot.waitUntil(lambda: form.resistor.isVisibleTo(form))
    form.resistor.setFocus()
    form.resistor.selectAll()
    QTest.keyClick(form.resistor, Qt.Key.Key_Delete)
    QTest.keyClick(form.resistor, Qt.Key.Key_Return)
    assert shell.session.build.channels[0].resistor_ohm is None
    qtbot.waitUntil(lambda: not form.resistor.isVisibleTo(form))


def test_a_piece_shares_the_register_of_another_and_an_output_is_changed(opened: Opened) -> None:
    build = add_piece(driven("register", lamps(3)), part("led-white-5mm"), revise(lamps(2), name="Others"))
    shell = opened(build, station="Drive")
    station, session = drive_of(shell), shell.session
    session.select("pieces", "others")
    station.form.refresh()
    choose(station.form.way, ("shared", "lamps-register"))
    assert len(session.build.drivers) == 1
    assert [channel.output for channel in session.build.channels] == [0, 1, 2, 3, 4]
    type_into(station.form.output, "6")
    assert session.build.channels[3].output == 6, "the first of the selected piece"
    type_into(station.form.output, "9")
    assert session.build.channels[3].output == 6, "a register of eight has no output 9"
    for _ in range(2):
        session.undo()
    assert session.build == build


def test_the_schematic_follows_what_is_chosen_and_is_saved(opened: Opened, qtbot: QtBot, tmp_path: Path) -> None:
    shell = opened(driven("switch"), station="Drive")
    shell.actions_by_id["schematic"].trigger()
    window = next(iter(shell.findChildren(SchematicWindow)))
    qtbot.waitUntil(window.save.isEnabled)
    window.save_to(tmp_path / "one.svg")
    one = (tmp_path / "one.svg").read_text(encoding="utf-8")
    assert "Lamps 1<" in one
    assert "Lamps 2<" not in one
    choose(window.subject, "board")
    window.save_to(tmp_path / "board.svg")
    board = (tmp_path / "board.svg").read_text(encoding="utf-8")
    assert all(f"Lamps transistor {number}<" in board for number in (1, 2, 3, 4))
    assert "pin 2: 220 Ω" in board
    shell.session.apply("Other", lambda build: revise(build, channels=build.channels[:2]))
    assert not window.save.isEnabled(), "what was true of the build before is not saved"
    qtbot.waitUntil(window.save.isEnabled)
    assert window.subject.currentData() == "board"
    assert window.name == "Board"


def test_a_schematic_that_is_closed_while_it_is_worked_out_is_let_go_of(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(driven("switch"), station="Drive")
    shell.actions_by_id["schematic"].trigger()
    window = next(iter(shell.findChildren(SchematicWindow)))
    with qtbot.waitSignal(shell.session.background.ended, check_params_cb=lambda kind: kind.startswith("paths of")):
        window.window().close()
        shell.session.apply("Other", lambda build: revise(build, channels=build.channels[:2]))
    qtbot.waitUntil(lambda: not shell.findChildren(SchematicWindow))


def test_commons_are_tied_along_in_one_step_and_each_way_says_what_it_takes(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(driven("register", lamps(8, spacing_m=0.2)), station="Drive")
    form, session = drive_of(shell).form, shell.session
    assert form.tie.currentData() == "star"
    qtbot.waitUntil(lambda: session.judged is session.build)
    assert "of wire" not in form.tie.itemText(1), "nobody asked"
    form.tie.setFocus()
    qtbot.waitUntil(lambda: "of wire" in form.tie.itemText(1))
    assert form.tie.itemText(1).startswith("from lamp to lamp: −4.9")
    choose(form.tie, "along")
    assert session.build.pieces[0].tie == "along"
    qtbot.waitUntil(lambda: form.tie.itemText(0).startswith("each from the rail: +4.9"))
    session.undo()
    assert form.tie.currentData() == "star"
    shell.files.open_demo("footbridge")
    assert not form.tie.isVisibleTo(form)


def test_bytes_of_a_chain_that_changed_while_another_station_was_seen_are_not_told(opened: Opened) -> None:
    build = lit(driven("register", lamps(8)))
    shell = opened(build, station="Drive")
    shell.show_station("Pieces")
    shell.session.apply("Fewer", lambda b: revise(b, channels=b.channels[:3]))
    shell.session.set_time(1.0)
    shell.show_station("Drive")
    assert drive_of(shell).form.title == "Lamps 1"


def test_what_is_known_of_a_driver_without_lamps_is_not_shown_for_lamps_that_came_since(opened: Opened) -> None:
    full = driven("register")
    shell = opened(revise(full, channels=()), station="Drive")
    shell.show_station("Pieces")
    shell.session.apply("Drove the lamps", lambda _: full)
    shell.toggle_theme()
    shell.show_station("Drive")
    assert drive_of(shell).form.title == "Lamps 1"


def test_a_rail_is_added_trimmed_and_feeds_a_board(opened: Opened, qtbot: QtBot) -> None:
    build = add_supply(driven("sink"), part("bench-30v-5a"), "Source")
    shell = opened(build, station="Drive")
    shell.actions_by_id["sources"].trigger()
    sources = shell.stack.power().sources
    form = sources.rails
    assert not form.remove.isVisibleTo(form)
    form.add.click()
    (rail,) = shell.session.build.rails
    assert (rail.target_v, rail.fed_by.id) == (5.0, "source")
    type_into(form.fields.fields["target_v"], "4V8")
    choose(form.fields.fields["trimmed"], "loaded")
    board = shell.session.build.boards[0].id
    choose(form.board_sources[board], FedBy(id=rail.id))
    assert shell.session.build.rails[0].target_v == 4.8
    assert shell.session.build.rails[0].trimmed == "loaded"
    assert shell.session.build.boards[0].fed_by.id == rail.id
    qtbot.waitUntil(lambda: "Rail 1" in sources.canvas.svg)
    type_into(form.fields.fields["target_v"], "40 V")
    assert shell.session.build.rails[0].target_v == 4.8, "more than its regulator can give is refused"
    form.remove.click()
    assert shell.session.build.boards[0].fed_by is None
    for _ in range(5):
        shell.session.undo()
    assert shell.session.build == build
    close_all(shell)


def test_the_small_sums_work_and_tell_what_they_cannot_use(opened: Opened) -> None:
    shell = opened(driven("pin"), station="Drive")
    shell.actions_by_id["helpers"].trigger()
    window = beside(shell, HelpersWindow)
    assert isinstance(window, HelpersWindow)
    assert "first step from dark is L* 3.54" in window.fade.text.toPlainText()
    type_into(window.fade.fields["bits"], "12")
    assert "L* 0.22" in window.fade.text.toPlainText()
    type_into(window.fade.fields["bits"], "99")
    assert "1 to 16" in window.fade.told.text()
    assert "L* 0.22" in window.fade.text.toPlainText(), "the last result stays"
    assert "unsigned long" in window.knob.text.toPlainText()
    assert "10.0 kΩ" in window.press.text.toPlainText()
    assert "976.6 Hz" in window.flicker.text.toPlainText()
    assert "Write 255," in window.colour.text.toPlainText()
    window.bits.rows.setPlainText("10000001\n01111110")
    assert window.bits.bytes.text() == "0x81, 0x7E"
    type_into(window.bits.bytes, "0b102")
    assert "no byte" in window.bits.told.text()
    type_into(window.bits.bytes, "0xFF, 0x01")
    assert window.bits.rows.toPlainText() == "11111111\n00000001"
    assert "idle reads 1" in window.button.text.toPlainText()
    assert window.button.side is not None
    choose(window.button.side, 0.0)
    assert "idle reads 0" in window.button.text.toPlainText()
    assert "rises when pressed" in window.press.text.toPlainText()
    assert window.press.side is not None
    choose(window.press.side, 1.0)
    assert "falls when pressed" in window.press.text.toPlainText()
    assert "silence is 2.50 V, 512 counts. 204 counts at the loudest" in window.audio.text.toPlainText()
    type_into(window.audio.fields["peak"], "3 V")
    assert "no more than 2.50 V" in window.audio.text.toPlainText()
    close_all(shell)


def test_a_bitmap_is_drawn_on_two_panels_turned_over_and_read_back_panel_by_panel(opened: Opened) -> None:
    shell = opened(driven("pin"), station="Drive")
    shell.actions_by_id["helpers"].trigger()
    window = beside(shell, HelpersWindow)
    assert isinstance(window, HelpersWindow)
    window.tabs.setCurrentWidget(window.bits)
    bits, grid = window.bits, window.bits.grid
    bits.rows.setPlainText("10000000\n00000001")
    choose(bits.panels, 2)
    assert bits.bytes.text() == "0x80, 0x00, 0x01, 0x00"
    QTest.mouseClick(grid, LEFT, NONE, grid.centre_of(0, 9).toPoint())
    assert bits.rows.toPlainText() == "1000000001000000\n0000000100000000"
    grid.setFocus()
    QTest.keyClick(grid, Qt.Key.Key_Down)
    QTest.keyClick(grid, Qt.Key.Key_Space)
    assert bits.bytes.text() == "0x80, 0x40, 0x01, 0x40"
    choose(bits.order, "panels")
    assert bits.bytes.text() == "0x80, 0x01, 0x40, 0x40"
    bits.invert.click()
    assert bits.bytes.text() == "0x7F, 0xFE, 0xBF, 0xBF"
    bits.mirror.click()
    assert bits.rows.toPlainText().split()[0] == "1111110111111110"
    type_into(bits.bytes, "1, 2, 3, 4")
    assert bits.rows.toPlainText() == "0000000100000011\n0000001000000100"
    type_into(bits.bytes, "1, 2, 3")
    assert "a multiple of 2" in bits.told.text()
    choose(bits.panels, 1)
    assert bits.rows.toPlainText() == "00000001\n00000010"
    close_all(shell)


def test_a_colour_is_mixed_from_the_lamp_that_is_chosen(opened: Opened) -> None:
    """A lamp whose red is twice as bright wants half the red beside its green for the same white."""
    usual = part("lamp-rgb-anode")
    red = revise(usual.dies[0], light=revise(usual.dies[0].light, intensity_cd=2 * usual.dies[0].light.intensity_cd))
    bright = revise(usual, id="bright", name="Bright red", dies=(red, *usual.dies[1:]))
    shell = opened(with_part(twelve(), bright), station="Drive")
    shell.actions_by_id["helpers"].trigger()
    tab = beside(shell, HelpersWindow).colour  # type: ignore[attr-defined]
    duties = {}
    for number in range(tab.lamp.count()):
        tab.lamp.setCurrentIndex(number)
        tab.lamp.activated.emit(number)
        white = tab.text.toPlainText().rpartition("= ")[2].rstrip(".").split(" : ")
        duties[tab.lamp.itemText(number)] = [float(each) for each in white]
    red_share, usual_share = (duties[name][0] / duties[name][1] for name in ("Bright red", usual.name))
    assert red_share == pytest.approx(usual_share / 2, abs=0.002)
    own = tab.lamp.itemData(0)
    assert {len(tab.lamp.itemData(n)) for n in range(tab.lamp.count())} == {3}
    assert own[0].x > 0.6, "red first"
    close_all(shell)


def test_the_working_tells_the_worst_frame_of_the_show_and_the_best_supply_of_sinks() -> None:
    """Of ten white lamps a chase of three lights at most three at once; all eight of the first chip carry more."""
    build = lit(driven("register", lamps(10, "led-white-5mm")), kind="chase", length_px=3, tail_px=0, spacing_px=10)
    case = case_of(build, build.drivers[0], build.channels_of[build.drivers[0].id])
    found = worst_of_show(case)
    assert [chip for chip, _ in found] == [0, 1]
    worst = found[0][1]
    each = worst.all_on_a / 8
    assert worst.chip_a == pytest.approx(3 * each, rel=1e-6)
    text = channel_working(solve_drive(build).by_driver[build.drivers[0].id], 0).text()
    three, eight = map(
        float, re.search(r"chip 1: worst frame.*?([\d.]+) mA; all lit ([\d.]+) mA", text, re.DOTALL).groups()
    )  # type: ignore[union-attr]
    assert three == pytest.approx(worst.chip_a * 1e3, abs=0.06)
    assert eight == pytest.approx(worst.all_on_a * 1e3, abs=0.06)
    sinks = driven("sink", led_v=5.0)
    least = best_supply_v(case_of(sinks, sinks.drivers[0], sinks.channels_of[sinks.drivers[0].id]))
    assert least == pytest.approx(1.9 + 0.2 + 0.436 + 0.2, abs=0.02)
    assert f"{least:.2f} V" in channel_working(solve_drive(sinks).by_driver[sinks.drivers[0].id], 0).text()


def test_bytes_of_the_frame_under_the_caret_are_shown(opened: Opened) -> None:
    shell = opened(lit(driven("register", lamps(9)), length_s=5.0), station="Drive")
    station = drive_of(shell)
    assert "0x01 0xFF" in station._bytes.text()
    shell.session.set_time(8.0)
    assert "0x00 0x00" in station._bytes.text()


def test_every_piece_is_driven_by_one_button(opened: Opened) -> None:
    shell = opened(twelve(), station="Drive")
    QTest.mouseClick(shell.first_step.findChild(QPushButton), LEFT)
    assert len(shell.session.build.drivers) == 1
    assert not shell.first_step.isVisible()


def test_an_empty_build_begins_with_lamps_in_drive_and_goes_on_to_drive_them(opened: Opened) -> None:
    shell = opened(Build(), station="Drive")
    QTest.mouseClick(shell.first_step.button, LEFT)
    assert [piece.kind for piece in shell.session.build.pieces] == ["lamps"]
    drive_of(shell)
    assert shell.first_step.isVisible()
    QTest.mouseClick(shell.first_step.button, LEFT)
    assert shell.session.build.drivers
    assert not shell.first_step.isVisible()
    for _ in range(2):
        QTest.keyClick(shell, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert shell.session.build == Build()


def test_lamps_on_a_data_line_ask_for_no_drive(opened: Opened) -> None:
    shell = opened(add_piece(Build(), part("lamp-addressable-8mm"), lamps(4, "lamp-addressable-8mm")), station="Drive")
    assert not shell.first_step.isVisible()


@pytest.mark.parametrize("code", [code for code in rules() if subject_of(code).startswith("drive_")])
def test_findings_on_driving_are_mended_in_drive(code: str) -> None:
    assert station_for(subject_of(code)).title == "Drive"


def test_a_driven_piece_grows_and_shrinks_by_its_field_and_comes_back(opened: Opened) -> None:
    shell = opened(driven("register"), station="Pieces")
    before, form = shell.session.build, shell.stack.pieces().form
    shell.session.select("pieces", "lamps")
    for count in ("12", "2"):
        type_into(form.fields["lamps"], count)
        assert len(shell.session.build.channels) == int(count)
    shell.session.undo()
    shell.session.undo()
    assert shell.session.build == before


def test_what_a_register_controls_hangs_on_its_box_and_one_of_no_lamps_is_seen(opened: Opened) -> None:
    build = add_piece(driven("register", lamps(3)), part("led-red-5mm"), revise(lamps(4), id="more", name="More"))
    build = drive_piece(build, "more", "switch")
    shell = opened(build)
    station = drive_of(shell)
    station.hand.choose_channel(build.channels_of["more-switch"][0].id)
    form = station.form.driver_form
    for chain, boxes in (("lamps-register", 2), (NEW, 3), (None, 2)):
        choose(form.inputs, chain)
        QApplication.processEvents()
        station.canvas.grab()
        layout = station.canvas.layout_now()
        assert len(layout.boxes) == boxes
        assert len(layout.controls()) == (0 if chain is None else 1)
        pins = shell.session.build.drivers[1].pins
        assert len(pins) == (4 if chain is None else 0)
    shell.actions_by_id["undo"].trigger()
    assert shell.session.build.drivers[1].inputs_on is not None  # type: ignore[union-attr]
