"""Sheets: what to buy, cut, solder and load."""

from __future__ import annotations

from typing import TYPE_CHECKING

from tiny_lantern.ui.declared.command import Command
from tiny_lantern.ui.declared.station import Around, Station

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

    from tiny_lantern.ui.shell import Shell


def _make(around: Around) -> QWidget:
    from tiny_lantern.ui.stations.sheets import SheetsStation  # loaded when first shown

    sheets = SheetsStation(around.session)
    sheets.render_show.connect(around.asks.render_show)
    return sheets


def _steps(shell: Shell) -> None:
    """The wiring, one step at a time."""
    shell.show_station("Sheets")
    shell.stack.sheets().steps()


def _code(shell: Shell) -> None:
    """The show as C99, into a folder that is asked for."""
    shell.show_station("Sheets")
    shell.stack.sheets().ask_code("c")


def _tried(shell: Shell) -> None:
    from tiny_lantern.ui.stations.tried_window import TriedWindow  # loaded when first asked for

    shell.show_beside("Try the program", TriedWindow(shell.session), 760, 720)


STATION = Station(
    number=5,
    title="Sheets",
    make=_make,
    empty="A sheet prints what was planned: begin with a strip.",
    subjects=("wiring",),
    commands=(
        Command("save-code", "Sheets", 48, "Save the code …", "Ctrl+Shift+J",
                "A whole program in C99 for each board, pins, chips and timing included", _code,
                lambda s: bool(s.session.build.effects)),
        Command("try-program", "Sheets", 50, "Try the program …", "Ctrl+Alt+R",
                "Runs the code where nothing can break: lamps, traces of the pins, wires that may be put wrong", _tried,
                lambda s: bool(s.session.build.effects and s.session.build.boards)),
        Command("wiring-steps", "Sheets", 40, "Wiring steps", "Alt+W",
                "One connection at a time, both ends lit", _steps,
                lambda s: bool(s.session.build.feeds or s.session.build.drivers)),
    ),
)  # fmt: skip
