"""What edits leave behind: the steps that undo needs, and nothing else; the process stays as large as it was."""

import gc
from collections import Counter
from pathlib import Path

from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from tests.support.effort import SOAK
from tests.ui.conftest import Opened
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_pieces import rename_piece
from tiny_lantern.model.edits_show import change_effect
from tiny_lantern.ui.background import _Job
from tiny_lantern.ui.declared.registry import stations
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.shell import Shell

EDITS = 60 * SOAK
BESIDE_HISTORY = 30
GROWTH = 1.10


def resident_kb() -> int:
    """How much of this process is in memory. [kB]"""
    status = Path("/proc/self/status").read_text(encoding="ascii")
    return next(int(line.split()[1]) for line in status.splitlines() if line.startswith("VmRSS"))


def held() -> Counter[type]:
    """How many builds and jobs are alive."""
    gc.collect()
    return Counter(type(each) for each in gc.get_objects() if isinstance(each, Build | _Job))


def edit(shell: Shell, number: int) -> None:
    """A rename of a piece, or an effect made a little longer or shorter; every few edits another station."""
    build = shell.session.build
    if number % 2:
        piece = build.pieces[number % 3]
        shell.session.apply("Renamed", lambda b: rename_piece(b, piece.id, f"Name {number}"))
    else:
        effect = build.effects[number % len(build.effects)]
        length_s = effect.length_s * (0.95 if number % 4 else 1 / 0.95)
        shell.session.apply("Longer", lambda b: change_effect(b, effect.id, length_s=length_s))
    if number % 4 == 0:
        shell.show_station(stations()[number // 4 % len(stations())].title)


def rest(shell: Shell, qtbot: QtBot, number: int) -> None:
    """A moment after each edit, so that what it starts is superseded by the next; after some, all is worked out."""
    session = shell.session
    qtbot.wait(200)
    if number % 10 == 9:
        qtbot.waitUntil(lambda: session.judged is session.build)


def test_edits_keep_what_undo_needs_and_nothing_else(opened: Opened, qtbot: QtBot, qapp: QApplication) -> None:
    of_others = held()
    shell = opened(demo_build("pier"))
    for number in range(EDITS // 2):
        edit(shell, number)
        rest(shell, qtbot, number)
    gc.collect()
    before_kb = resident_kb()
    for number in range(EDITS // 2, EDITS):
        edit(shell, number)
        rest(shell, qtbot, number)
    counts = held() - of_others
    assert counts[Build] <= shell.session.history.depth + BESIDE_HISTORY
    assert counts[_Job] < 10
    assert resident_kb() < GROWTH * before_kb
