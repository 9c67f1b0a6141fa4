"""Signals that a computer tells by name, to the exported program itself, by the module that comes out with it."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path
from types import SimpleNamespace

import pytest

from tests.support.answering import answering, listening, on_two_boards
from tests.support.cable import FarEnd, far_end
from tiny_lantern.code.files import code_files
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_inputs import add_input, add_rule, change_deed, change_input, remove_rule
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.show.weave import show_of
from tiny_lantern.ui.answerer import Answerer
from tiny_lantern.ui.session import Session

RED, BLUE, GREEN = "#ff0000", "#0000ff", "#00ff00"


def with_signals() -> Build:
    """A light each for a gate that is open, an oven that is on, and a link that is lost; a fourth always green."""
    build = revise(answering("told"), effects=(), rules=())
    build = change_input(build, build.inputs[0].id, name="Gate 1", on_word="Open!", off_word="shut", lost="on")
    build = add_input(add_input(build, "told"), "link")
    build = change_input(build, build.inputs[1].id, name="Oven", on_word="hot", off_word="cold")
    build = revise(build, rules=())
    for slot, colour in enumerate((RED, BLUE, RED, GREEN)):
        build = add_effect(build, look_of("steady", colour=colour), slot, slot, 0.0, 2.0)
    for slot, one in enumerate(build.inputs):
        build = revise(build, rules=(*build.rules, *_seen(build, one.id, build.effects[slot].id, slot == 2)))
    return listening(build, alone_s=0.5)


def _seen(build: Build, input_id: str, effect_id: str, otherwise: bool):  # type: ignore[no-untyped-def]
    """The rule that shows an effect while an input is on, or while it is not."""
    made = add_rule(build, input_id)
    rule_id = made.rules[-1].id
    return (change_deed(made, rule_id, effect_id=effect_id, otherwise=otherwise).rules[-1],)


class Ends:
    """A board and the module that tells it, with a clock of the board's."""

    def __init__(self, language: str, folder: Path) -> None:
        self.build = with_signals()
        self.board: FarEnd = far_end(self.build, "board", language, folder)  # type: ignore[arg-type]
        room: dict[str, object] = {}
        exec(code_files(self.build)["lantern_host.py"], room)
        room["time"] = SimpleNamespace(monotonic=lambda: self.board.now_s)
        line = SimpleNamespace(write=self.board.write, read=lambda count: self.board.read())
        self.lantern = room["Lantern"](line)  # type: ignore[operator]
        self.room = room

    def run(self, steps: int = 40, keep: bool = True) -> list[str]:
        """Let the board run, heard or not; what its first four lights show."""
        for _ in range(steps):
            if keep:
                self.lantern.keep()
            self.board.run()
        grb = self.board.pixels
        lit = [(grb[3 * at + 1], grb[3 * at], grb[3 * at + 2]) for at in range(4)]
        names = {(0, 0, 0): "dark", (255, 0, 0): "red", (0, 0, 255): "blue", (0, 255, 0): "green"}
        return [names[each] for each in lit]


@pytest.fixture(params=["c", "python"])
def ends(request: pytest.FixtureRequest, tmp_path: Path) -> Iterator[Ends]:
    """Both languages, one after the other."""
    made = Ends(str(request.param), tmp_path)
    yield made
    made.board.end()


def test_a_board_shows_what_it_is_told_by_name_and_what_is_lost(ends: Ends) -> None:
    assert ends.run(keep=False) == ["dark", "dark", "red", "green"], "nobody was heard yet"
    assert ends.run() == ["dark", "dark", "dark", "green"]
    ends.lantern.tell("oven", "hot")
    assert ends.run() == ["dark", "blue", "dark", "green"]
    ends.lantern.tell("gate_1", "open")
    assert ends.run() == ["red", "blue", "dark", "green"]
    ends.lantern.tell("gate_1", "shut")
    assert ends.run() == ["dark", "blue", "dark", "green"]
    assert set(ends.lantern.answers()) == {"ok"}
    lost = ends.run(400, keep=False)
    assert lost == ["red", "blue", "red", "green"], "the gate is taken for open, the oven stays as it was told"
    assert ends.run() == ["dark", "blue", "dark", "green"], "what is known is told again"


def test_what_is_not_known_is_refused_here_and_there(ends: Ends) -> None:
    for name, state in (("gate", "open"), ("gate_1", "hot"), ("oven", "")):
        with pytest.raises(ValueError, match="is not one of"):
            ends.lantern.tell(name, state)
    for text in ("gate_1=hot", "x" * 300, "oven=ho", "oven=hott", "=", "Oven=hot"):
        ends.lantern.say(text)
        ends.run(30)
        assert ends.lantern.answers().count("what?") == 1, text
    assert ends.run() == ["dark", "dark", "dark", "green"]


def test_a_test_lights_every_lamp_and_ends_by_itself(ends: Ends) -> None:
    ends.run()
    ends.lantern.test()
    for _ in range(20):
        ends.board.run()
    assert set(ends.board.pixels) == {255}
    for _ in range(1700):
        ends.lantern.keep()
        ends.board.run()
    assert ends.run() == ["dark", "dark", "dark", "green"]


def test_a_board_says_its_stamp_to_whoever_types_a_question(ends: Ends) -> None:
    ends.board.write(b"?\r\n")
    ends.board.run(5)
    assert ends.lantern.answers() == [ends.room["STAMP"], "Board", "18"]


def test_the_window_shows_the_same_states(qtbot) -> None:  # type: ignore[no-untyped-def]
    build = with_signals()
    session = Session(build)
    answerer: Answerer = session.answerer
    gate, _, link = answerer.tables.hears

    def lit() -> list[bool]:
        return [bool(light.any()) for light in answerer.frame(show_of(build))[:4]]

    assert lit() == [False, False, True, True]
    answerer.move(link, 1.0)
    answerer.move(gate, 1.0)
    assert lit() == [True, False, False, True]


def test_names_are_told_apart_and_words_too() -> None:
    build = with_signals()
    build = change_input(build, build.inputs[1].id, name="gate-1", on_word="!", off_word="?")
    host = code_files(build)["lantern_host.py"]
    assert re.findall(r'"(gate\w+)": \("(\w+)", "(\w+)"\)', host) == [
        ("gate_1", "shut", "open"), ("gate_1_2", "off", "on"),
    ]  # fmt: skip


def test_words_that_are_one_as_they_go_over_the_cable_are_off_and_on() -> None:
    build = with_signals()
    build = change_input(build, build.inputs[1].id, on_word="hot!", off_word="Hot?")
    assert '"oven": ("off", "on")' in code_files(build)["lantern_host.py"]


def test_a_board_that_listens_tells_nothing_else_over_its_line_and_one_of_several_does_not_listen() -> None:
    text = "".join(code_files(with_signals()).values())
    assert "lantern_bytes" in text
    assert "LANTERN_TELL" not in text
    chained = "".join(code_files(listening(on_two_boards(3))).values())
    assert "lantern_bytes" not in chained
    assert "identity" not in chained


def test_no_module_comes_out_where_nothing_is_told() -> None:
    build = with_signals()
    plain = remove_rule(listening(answering()), answering().rules[0].id)
    assert "lantern_host.py" in code_files(build, "python")
    assert "lantern_host.py" not in code_files(plain)
