"""A real board at a port, as a person meets it: asked, found by a blink, one light, everything, let go, unplugged."""

from __future__ import annotations

import os
import time
from collections.abc import Iterator
from itertools import pairwise

import numpy as np
import pytest
from PySide6.QtTest import QTest
from pytestqt.qtbot import QtBot

from tests.support.answering import answering, listening
from tests.ui.conftest import Opened
from tests.ui.driving import LEFT
from tiny_lantern.live.loaded import loaded_on
from tiny_lantern.live.ports import Port
from tiny_lantern.live.simulated import SimulatedBoard
from tiny_lantern.live.wire import Message
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_drive import change_board
from tiny_lantern.model.edits_pieces import change_strip
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.ui.shell import Shell
from tiny_lantern.ui.stations import board_window
from tiny_lantern.ui.stations.board_window import BoardWindow


class Plugged:
    """A board at a port, and the window in which it is chosen."""

    def __init__(self, shell: Shell, build: Build, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
        self.board = SimulatedBoard(loaded_on(build, build.boards[0].id))
        monkeypatch.setattr(board_window, "ports", lambda: (Port(self.board.port, "a board"),))
        self.qtbot = qtbot
        shell.actions_by_id["board"].trigger()
        window = shell.findChild(BoardWindow)
        assert window is not None
        self.window = window
        window.port.setCurrentIndex(1)
        window.port.activated.emit(1)

    def until(self, reached) -> None:  # type: ignore[no-untyped-def]
        """Let the board listen until something is so."""

        def so() -> bool:
            if self.board.handle >= 0:
                self.board.listen(time.monotonic())
            return bool(reached())

        self.qtbot.waitUntil(so)

    def press(self, doing: str) -> None:
        """Press one of the buttons."""
        QTest.mouseClick(self.window.acts[doing], LEFT)  # type: ignore[index]

    @property
    def words(self) -> str:
        """What the window says."""
        return self.window._word.text()


@pytest.fixture
def build() -> Build:
    """A strip and a button on a board that listens and is dark by itself."""
    breath = look_of("breathe", colour="#ffffff", low=0.2, period_s=4)
    return listening(add_effect(answering(), breath, 0, 5, 0.0, 2.0), alone="dark", alone_s=60.0)


@pytest.fixture
def plugged(opened: Opened, build: Build, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> Iterator[Plugged]:
    """Such a board, chosen, and nothing pressed yet."""
    shell = opened(build, station="Weave")
    made = Plugged(shell, build, qtbot, monkeypatch)
    yield made
    made.board.close()


def test_nothing_is_sent_before_it_is_asked_for(plugged: Plugged) -> None:
    assert "Nothing is sent" in plugged.words
    plugged.window._session.set_time(0.5)
    plugged.qtbot.wait(100)
    with pytest.raises(BlockingIOError):
        os.read(plugged.board.handle, 10)
    assert not plugged.window.live.on


def test_a_board_says_what_it_plays_and_is_lit_as_it_is_seen_until_the_window_closes(plugged: Plugged) -> None:
    plugged.press("ask")
    plugged.until(lambda: "It plays" in plugged.words)
    assert plugged.board.frames == 0
    plugged.press("all")
    session = plugged.window._session
    for moment in (0.3, 1.2):
        session.set_time(moment)
        plugged.until(lambda: np.array_equal(plugged.board.lamps, plugged.window.live._frames.frame()))
        assert plugged.board.lamps.max() > 0
    assert plugged.window.acts["all"].isChecked()
    plugged.window.window().close()
    plugged.until(lambda: not plugged.board.live)
    assert plugged.board.lamps.max() == 0


def test_a_board_is_found_by_a_blink_that_ends_by_itself(plugged: Plugged) -> None:
    seen = []
    plugged.press("blink")

    def over() -> bool:
        seen.append(int(plugged.board.lamps.max()))
        return "Blinked" in plugged.words and not plugged.board.live

    plugged.until(over)
    assert set(seen) == {0, 90}
    flips = sum(one != later for one, later in pairwise(seen))
    assert flips >= 4


def test_one_light_alone_is_lit_and_goes_with_its_button(plugged: Plugged) -> None:
    plugged.window._session.select_slot(2)
    plugged.press("one")
    plugged.until(lambda: plugged.board.lamps[2].tolist() == [255] * 3)
    assert plugged.board.lamps.max(axis=1).tolist() == [0, 0, 255, 0, 0, 0]
    plugged.window._session.select_slot(4)
    plugged.until(lambda: plugged.board.lamps.max(axis=1).tolist() == [0, 0, 0, 0, 255, 0])
    plugged.press("one")
    plugged.until(lambda: not plugged.board.live)
    assert plugged.board.lamps.max() == 0


def test_its_inputs_are_read_here(plugged: Plugged) -> None:
    answerer = plugged.window._session.answerer
    (button,) = answerer.tables.hears
    plugged.board.readings = (1,)
    plugged.press("all")
    plugged.until(lambda: "Button reads 1" in plugged.words)
    plugged.board.readings = (button.full,)
    plugged.window._session.set_time(0.7)
    plugged.until(lambda: answerer.reading(button) == button.full)


def test_a_board_of_another_build_is_refused_and_let_go(plugged: Plugged, monkeypatch: pytest.MonkeyPatch) -> None:
    heard, take = [], plugged.board._take

    def noted(message: Message, now_s: float) -> None:
        heard.append(message.sort)
        take(message, now_s)

    monkeypatch.setattr(plugged.board, "_take", noted)
    plugged.board.load(loaded_on(change_strip(plugged.board.loaded.build, "strip", pixel_count=7), "board"))
    told = []
    plugged.window._session.refused.connect(told.append)
    plugged.press("all")
    plugged.until(lambda: bool(told))
    assert "of 21 bytes a frame" in str(told[0])
    plugged.board.listen(time.monotonic())
    assert set(heard) == {b"?"}
    assert plugged.board.frames == 0
    assert not plugged.window.live.on


def test_a_board_that_is_unplugged_is_told_once_and_can_be_plugged_in_again(plugged: Plugged) -> None:
    told = []
    plugged.window._session.refused.connect(told.append)
    plugged.press("all")
    plugged.until(lambda: plugged.board.frames > 0)
    plugged.board.close()
    plugged.qtbot.waitUntil(lambda: bool(told))
    assert "the board is gone" in str(told[0])
    assert len(told) == 1
    assert not plugged.window.live.on
    assert not plugged.window.acts["all"].isChecked()


def test_a_board_that_does_not_listen_can_be_made_to_in_one_act(opened: Opened, qtbot: QtBot, build: Build,
                                                                monkeypatch: pytest.MonkeyPatch) -> None:  # fmt: skip
    deaf = change_board(build, build.boards[0].id, listens=None)
    shell = opened(deaf, station="Weave")
    plugged = Plugged(shell, build, qtbot, monkeypatch)
    assert not plugged.window.acts["all"].isEnabled()
    QTest.mouseClick(plugged.window.listen, LEFT)
    assert shell.session.build.boards[0].listens is not None
    assert plugged.window.acts["all"].isEnabled()
    shell.session.undo()
    assert shell.session.build.boards[0].listens is None
    plugged.board.close()


def test_a_board_that_is_to_listen_no_more_is_let_go(plugged: Plugged) -> None:
    session, board_id = plugged.window._session, plugged.window.live.board_id
    told = []
    session.refused.connect(told.append)
    plugged.press("all")
    plugged.until(lambda: plugged.board.frames > 0)
    session.apply("No more", lambda build: change_board(build, board_id, listens=None))
    plugged.until(lambda: bool(told))
    assert "does not listen" in str(told[0])
    assert not plugged.window.live.on
    assert not plugged.window.acts["all"].isEnabled()
