"""Weave: what each light does, when."""

from __future__ import annotations

from typing import TYPE_CHECKING

from tiny_lantern.model.build import Build
from tiny_lantern.ui.declared.command import Command
from tiny_lantern.ui.declared.station import LAY_EFFECT, Around, FirstStep, Station

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

    from tiny_lantern.ui.shell import Shell


def _make(around: Around) -> QWidget:
    from tiny_lantern.ui.stations.weave import WeaveStation  # loaded when first shown

    weave = WeaveStation(around.session, around.axis, around.frames)
    weave.board.clicked.connect(around.asks.board)
    return weave


def _first(build: Build) -> FirstStep | None:
    if build.effects:
        return None
    return FirstStep(
        "Nothing happens yet: lay a first light over everything, then draw others on it.", "Lay a breathing light",
        LAY_EFFECT,
    )  # fmt: skip


def _board(shell: Shell) -> None:
    from tiny_lantern.ui.stations.board_window import BoardWindow  # loaded when first asked for

    shell.show_beside("Live board", BoardWindow(shell.session, shell.frames), 680, 360)


def _night(shell: Shell) -> None:
    from tiny_lantern.ui.stations.night_window import NightWindow  # loaded when first asked for

    shell.show_alone(NightWindow(shell.session, shell.frames, shell.transport))


def _figures(shell: Shell) -> None:
    from tiny_lantern.ui.stations.figures_window import FiguresWindow  # loaded when first asked for

    shell.show_beside("The show in figures", FiguresWindow(shell.session), 760, 520)


def _hold(shell: Shell) -> None:
    shell.show_station("Weave")
    weave = shell.stack.weave()
    weave.canvas.holder.switch(not weave.canvas.holder.on)
    weave.canvas.setFocus()


def _inputs(shell: Shell) -> None:
    from tiny_lantern.ui.stations.inputs_window import InputsWindow  # loaded when first asked for

    shell.show_beside("What it answers to", InputsWindow(shell.session), 1000, 480)


def _music(shell: Shell) -> None:
    from tiny_lantern.ui.stations.music_window import MusicWindow  # loaded when first asked for

    shell.show_beside("Song and beats", MusicWindow(shell.session), 460, 700)


def _aside(shell: Shell) -> None:
    shell.show_station("Weave")
    weave = shell.stack.weave()
    weave.put_picture(not weave.picture_aside)


STATION = Station(
    number=4,
    title="Weave",
    make=_make,
    empty="A show needs lights to play on: add a strip.",
    subjects=("weave", "data", "show", "show_peak", "show_lights", "board_work", "listening"),
    first=_first,
    commands=(
        Command("hold", "Weave", 130, "Hold", "Ctrl+Shift+L",
                "The selected lights stay at the value under the pointer on the weave; a click keeps it", _hold,
                lambda s: bool(s.session.build.effects)),
        Command("board", "Weave", 80, "Live board …", "Ctrl+Shift+O",
                "A board that follows at once: a simulated one with its lamps, or a real one at a port", _board,
                lambda s: bool(s.session.build.pieces)),
        Command("music", "Weave", 82, "Song and beats …", "Ctrl+Alt+M",
                "A song's beats found, typed or tapped, and looks laid on them in one act", _music,
                lambda s: bool(s.session.build.pieces)),
        Command("inputs", "Weave", 85, "Inputs and rules …", "Ctrl+Alt+I",
                "Knobs, buttons, sensors and signals, and what follows when they are turned or pressed", _inputs,
                lambda s: bool(s.session.build.boards)),
        Command("figures", "Weave", 75, "The show in figures …", "Ctrl+Shift+Y",
                "Mean and peak of supplies, feeds, chips, contacts and pins over the whole show", _figures,
                lambda s: bool(s.session.build.effects)),
        Command("picture-aside", "View", 46, "Picture beside or above the weave", "Ctrl+Alt+P",
                "In Weave the picture stands above the weave, or at the side and leaves it its height", _aside,
                lambda s: bool(s.session.build.pieces)),
        Command("by-night", "View", 45, "The picture by night", "F11",
                "The picture alone on the whole screen, with a count of frames; Escape leaves", _night,
                lambda s: bool(s.session.build.pieces)),
    ),
)  # fmt: skip
