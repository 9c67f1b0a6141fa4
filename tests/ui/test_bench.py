"""The bench in its window: steps, readings, looks, why, the log, and all of it taken back."""

from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from pytestqt.qtbot import QtBot

from tests.bench.test_at_bench import fed
from tests.support.builds import one_strip, part
from tests.ui.conftest import Opened
from tests.ui.driving import LEFT
from tests.ui.test_drive import choose
from tiny_lantern.bench.of_build import AtBench, lamp_words
from tiny_lantern.bench.order import Asked
from tiny_lantern.bench.strips.fit import world_with
from tiny_lantern.bench.strips.of_build import StripsAtBench
from tiny_lantern.bench.strips.probes import StripProbe
from tiny_lantern.bench.strips.ranking import Foreseen
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_drive import change_board
from tiny_lantern.model.edits_power import change_supply
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.shell import Shell
from tiny_lantern.ui.stations.bench import BenchStation
from tiny_lantern.ui.widgets.step_list import ROLE


def bench_of(shell: Shell, qtbot: QtBot) -> BenchStation:
    """The station, once it knows what a meter should say."""
    station = shell.stack.bench()
    qtbot.waitUntil(lambda: station.sheet is not None and station.steps.count() > 0)
    return station


def step_with(station: BenchStation, word: str) -> str:
    """Choose the first step whose key begins so."""
    assert station.sheet is not None
    step = next(step for step in station.sheet.steps if step.key.startswith(word))
    station.steps.choose(step.key)
    return step.key


def read(station: BenchStation, qtbot: QtBot, text: str) -> None:
    """Type a reading and Enter."""
    qtbot.waitUntil(station.card.take.isEnabled)
    station.card.value.setFocus()
    QTest.keyClicks(station.card.value, text)
    QTest.keyClick(station.card.value, Qt.Key.Key_Return)


def row_of(station: BenchStation, key: str) -> object:
    """A step as it is shown."""
    rows = [station.steps.item(at).data(ROLE) for at in range(station.steps.count())]
    return next(row for row in rows if row.key == key)


def test_steps_are_ticked_with_the_keyboard_and_taken_back(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(fed(), station="Bench")
    station = bench_of(shell, qtbot)
    assert station.steps.key == "off/plug", "the first that is not done is chosen"
    QTest.keyClick(station.steps, Qt.Key.Key_Space)
    assert shell.session.build.bench.done == ("off/plug",)
    assert row_of(station, "off/plug").done
    assert station.progress.text().startswith("1 of ")
    shell.actions_by_id["tick-step"].trigger()
    assert not shell.session.build.bench.done
    shell.session.undo()
    assert shell.session.build.bench.done == ("off/plug",)


def test_a_good_reading_ticks_its_step_and_a_bad_one_stops_the_list_and_asks_why(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(fed("register", 3), station="Bench")
    station = bench_of(shell, qtbot)
    key = step_with(station, "on/supply")
    read(station, qtbot, "5.01V")
    assert key in shell.session.build.bench.done
    assert not row_of(station, key).out
    assert row_of(station, key).read == "5.01 V"
    assert station.steps.key != key, "the next step is chosen"
    assert "5.01 V" in shell.session.build.bench.log[0].text
    station.steps.choose(key)
    station.show_page("Log")
    read(station, qtbot, "3.2")
    assert row_of(station, key).out
    assert "out of band" in station.progress.text()
    assert station.pages.currentWidget() is station.why
    qtbot.waitUntil(lambda: any(each.code == "reading-off" for each in shell.session.findings))


def test_from_a_dark_lamp_by_why_to_the_cause_and_into_the_log(opened: Opened, qtbot: QtBot, tmp_path: Path) -> None:
    build = fed("register", 3)
    shell = opened(build, station="Bench")
    station = bench_of(shell, qtbot)
    choose(station.card.pattern, "lit")
    station.show_page("Seen")
    qtbot.waitUntil(lambda: station.seen.table.rowCount() == 3)
    QTest.mouseClick(station.seen.all_well, LEFT)
    station.seen.table.selectRow(1)
    QTest.mouseClick(station.seen.words[1], LEFT)
    looks = {look.lamp: look.word for look in shell.session.build.bench.looks}
    assert sorted(looks.values()) == ["dark", "normal", "normal"]
    shell.actions_by_id["why"].trigger()
    qtbot.waitUntil(lambda: station.why.found is not None)
    found = station.why.found
    lamp = sorted(lamp_words(build))[1]
    assert any(cause.place == lamp for cause in found.causes)
    assert found.next is not None
    QTest.mouseClick(station.why.there, LEFT)
    assert station.card.asked == found.next.asked
    open_lamp = next(at for at, cause in enumerate(found.causes) if cause.kind == "lamp_open")
    station.why.bars.choose(open_lamp)
    QTest.mouseClick(station.why.cured, LEFT)
    assert shell.session.build.bench.log[-1].kind == "cured"
    assert lamp_words(build)[lamp] in shell.session.build.bench.log[-1].text
    station.log.note.setText("a cold joint")
    QTest.keyClick(station.log.note, Qt.Key.Key_Return)
    assert "a cold joint" in station.log.page.toPlainText()
    station.log.save_to(tmp_path / "log.md")
    text = (tmp_path / "log.md").read_text(encoding="utf-8")
    assert "## What it was" in text
    assert "a cold joint" in text
    while shell.session.build != build:
        shell.session.undo()
    assert not station.log.page.toPlainText()


def test_a_click_on_the_drawing_puts_the_red_probe_there_and_a_pin_stands_where_one_read(
    opened: Opened, qtbot: QtBot
) -> None:
    shell = opened(fed("register", 3), station="Bench")
    station = bench_of(shell, qtbot)
    row = next(row for row in AtBench(shell.session.build).rows.values() if row.what == "resistor")
    assert station.sheet is not None
    choose(station.subject, next(station.subject.itemData(at) for at in range(1, station.subject.count())))
    place = station.canvas.places[row.end.node]
    QTest.mouseClick(station.canvas, LEFT, pos=place.toPoint())
    assert station.card.asked.plus == row.end.node
    read(station, qtbot, "1900mV")
    assert [(pin.terminal, pin.read) for pin in station._pins()] == [(row.end.node, "1.90 V")]


def test_what_is_no_reading_is_told_and_stays_to_be_mended(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(fed(), station="Bench")
    station = bench_of(shell, qtbot)
    step_with(station, "on/supply")
    with qtbot.waitSignal(shell.session.refused) as told:
        read(station, qtbot, "12mA")
    assert "V" in str(told.args[0])
    assert station.card.value.text() == "12mA"
    assert not shell.session.build.bench.readings


def test_an_edit_of_the_circuit_works_everything_out_anew_and_readings_stay(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(fed("register", 3), station="Bench")
    station = bench_of(shell, qtbot)
    step_with(station, "on/supply")
    read(station, qtbot, "5V")
    before = station.sheet
    shell.session.apply("Renamed", lambda build: change_board(build, build.boards[0].id, name="Other"))
    qtbot.waitUntil(lambda: station.sheet is not None and station.sheet is not before)
    assert len(shell.session.build.bench.readings) == 1
    assert row_of(station, next(s.key for s in station.sheet.steps if s.key.startswith("on/supply"))).read == "5.00 V"


def test_an_empty_build_is_asked_for_a_strip(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(Build(), station="Pieces")
    shell.show_station("Bench")
    qtbot.wait(10)
    assert shell.session.build == Build()


def test_a_fault_is_practised_to_its_end(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(fed("register", 3), station="Bench")
    station = bench_of(shell, qtbot)
    station.practice._seed = 4
    shell.actions_by_id["practise"].trigger()
    qtbot.waitUntil(lambda: station.practice.on)
    hidden = station.practice.meter.hidden
    assert station.card.simulated.isVisible()
    assert not station.card.value.isVisible()
    choose(station.card.pattern, "lit")
    station.show_page("Seen")
    qtbot.waitUntil(lambda: station.seen.table.rowCount() == 3)
    QTest.mouseClick(station.seen.simulated, LEFT)
    qtbot.waitUntil(lambda: len(shell.session.build.bench.looks) == 3)
    for _ in range(6):
        station.show_page("Why?")
        station.why.found = None
        QTest.mouseClick(station.why.ask, LEFT)
        qtbot.waitUntil(lambda: station.why.found is not None)
        kinds = [(cause.kind, cause.place) for cause in station.why.found.causes]
        if station.why.found.next is None or station.why.found.causes[0].posterior > 0.95:
            break
        QTest.mouseClick(station.why.there, LEFT)
        qtbot.waitUntil(station.card.simulated.isEnabled)
        before = len(shell.session.build.bench.log)
        QTest.mouseClick(station.card.simulated, LEFT)
        qtbot.waitUntil(lambda before=before: len(shell.session.build.bench.log) > before)
    assert (hidden.fault.kind, hidden.fault.place) in kinds
    station.why.bars.choose(kinds.index((hidden.fault.kind, hidden.fault.place)))
    QTest.mouseClick(station.why.cured, LEFT)
    qtbot.waitUntil(lambda: not station.practice.on)
    assert station.practice.told.text().startswith("Right")
    assert hidden.words in station.practice.told.text()
    assert station.practice.score.text() == "Found so far: 1 of 1."
    assert station.card.value.isVisible()


def test_a_practice_ends_with_the_circuit_that_it_was_of(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(fed("register", 3), station="Bench")
    station = bench_of(shell, qtbot)
    station.show_page("Practice")
    QTest.mouseClick(station.practice.begin, LEFT)
    qtbot.waitUntil(lambda: station.practice.on)
    words = station.practice.meter.hidden.words
    shell.session.apply("Renamed", lambda build: change_board(build, build.boards[0].id, name="Other"))
    assert not station.practice.on
    assert words in station.practice.told.text()


def test_a_strip_that_ends_early_is_explained_from_volts_and_a_look(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(one_strip(40), station="Bench")
    station = bench_of(shell, qtbot)
    choose(station.card.pattern, "strips white")
    station.show_page("Seen")
    assert station.looks.currentWidget() is station.strips_seen
    station.strips_seen.first.setText("20")
    QTest.mouseClick(station.strips_seen.add, LEFT)
    look = shell.session.build.bench.looks[0]
    assert (look.word, look.first, look.last) == ("dark", 20, 39)
    station.card.ask(Asked("V", "strip/strip/39/pos", "strip/strip/39/neg", pattern="strips white"), chosen=True)
    read(station, qtbot, "4.9 V")
    station.card.ask(Asked("A", conductor="feed/feed/out", pattern="strips white"), chosen=True)
    read(station, qtbot, "740mA")
    shell.actions_by_id["why"].trigger()
    qtbot.waitUntil(lambda: station.why.found is not None)
    first = station.why.found.causes[0]
    assert first.kind == "data_broken", "there are volts at the last pixel: no crack"
    assert "pixel" in first.words
    QTest.mouseClick(station.strips_seen.well, LEFT)
    assert [look.word for look in shell.session.build.bench.looks] == ["normal"]


def test_rails_are_fitted_to_readings_and_adopted(opened: Opened, qtbot: QtBot) -> None:
    build = one_strip(40)
    shell = opened(build, station="Bench")
    station = bench_of(shell, qtbot)
    station.show_page("Fit")
    assert not station.fit.fit.isEnabled(), "nothing was read"
    plan = StripsAtBench(build).plan
    volts = {pixel: StripProbe("pixel_V", pixel=pixel) for pixel in (0, 10, 20, 39)}
    read_as, _ = Foreseen(plan, list(volts.values())).shown(world_with(plan, {"rail_scale": 1.4}))
    for pixel, value in zip(volts, read_as.tolist(), strict=True):
        pads = (f"strip/strip/{pixel}/pos", f"strip/strip/{pixel}/neg")
        station.card.ask(Asked("V", *pads, pattern="strips white"), chosen=True)
        read(station, qtbot, f"{value:.3f} V")
    assert station.fit.fit.isEnabled()
    item = next(item for item in station.fit.list.findItems("both rails", Qt.MatchFlag.MatchExactly))
    item.setCheckState(Qt.CheckState.Checked)
    QTest.mouseClick(station.fit.fit, LEFT)
    qtbot.waitUntil(lambda: station.fit.found is not None)
    assert station.fit.found.rows[0].value == pytest.approx(1.4, abs=0.02)
    assert "planned 100%" in station.fit.told.text()
    QTest.mouseClick(station.fit.adopt, LEFT)
    strip = shell.session.build.strips[0]
    assert strip.rail_pos_ohm_per_m == pytest.approx(1.4 * part("rgb-5v-60").rail_pos_ohm_per_m, rel=0.02)
    assert shell.session.build.bench.log[-1].kind == "change"
    shell.session.undo()
    assert shell.session.build.strips[0].rail_pos_ohm_per_m is None


def test_a_change_of_the_circuit_after_a_reading_is_a_line_of_the_log(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(fed("register", 3), station="Bench")
    station = bench_of(shell, qtbot)
    session = shell.session
    session.apply("Before", lambda build: change_supply(build, build.supplies[0].id, set_v=5.05))
    assert not session.build.bench.log, "the bench is not in use yet"
    bench_of(shell, qtbot)
    step_with(station, "on/supply")
    read(station, qtbot, "5.04V")
    session.apply("Set the supply", lambda build: change_supply(build, build.supplies[0].id, set_v=5.1))
    session.apply("Renamed the build", lambda build: change_build(build, name="Other"))
    assert [entry.text for entry in session.build.bench.log if entry.kind == "change"] == ["Set the supply."]
    session.apply("Set it again", lambda build: change_supply(build, build.supplies[0].id, set_v=5.2))
    qtbot.waitUntil(lambda: any(each.code == "two-changes" for each in session.findings))
    session.undo()
    session.undo()
    session.undo()
    assert not [entry for entry in session.build.bench.log if entry.kind == "change"], "one step each"


def test_the_pattern_is_shown_on_the_line_while_it_is_asked_for_and_the_bench_is_in_view(
    opened: Opened, qtbot: QtBot
) -> None:
    build = add_effect(fed("register", 3), look_of("steady", colour="#0000ff"), 0, 2, 0.0, 10.0)
    shell = opened(build, station="Bench")
    station = bench_of(shell, qtbot)
    lit = shell.frames.frame().copy()
    QTest.mouseClick(station.card.show_it, LEFT)
    assert not shell.frames.frame().any(), "all dark"
    choose(station.card.pattern, "bit 1")
    assert (shell.frames.frame() > 0).any(axis=1).tolist() == [False, True, True], "2 and 3 have that bit"
    assert (shell.frames.seen() > 0).any(axis=1).tolist() == [False, True, True]
    shell.show_station("Pieces")
    assert (shell.frames.frame() == lit).all(), "elsewhere the show is what is shown"
    shell.show_station("Bench")
    assert (shell.frames.frame() > 0).any(axis=1).tolist() == [False, True, True]
    QTest.mouseClick(station.card.show_it, LEFT)
    assert (shell.frames.frame() == lit).all()


def test_a_search_for_causes_can_be_stopped_and_is_no_defect(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(demo_build("pier"), station="Bench")
    station = bench_of(shell, qtbot)
    step_with(station, "on/supply")
    read(station, qtbot, "3 V")
    QTest.mouseClick(station.why.ask, LEFT)
    assert station.why.ask.text() == "Stop"
    qtbot.waitUntil(lambda: "%" in station.why.told.text())
    QTest.mouseClick(station.why.ask, LEFT)
    assert station.why.ask.text() == "Why?"
    assert station.why.found is None
