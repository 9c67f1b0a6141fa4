"""A station as it is declared, with what belongs to it; the station itself is loaded when it is first shown."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Protocol

from tiny_lantern.model.build import Build
from tiny_lantern.ui.declared.command import Command, Shell

if TYPE_CHECKING:
    from PySide6.QtCore import SignalInstance
    from PySide6.QtWidgets import QWidget

    from tiny_lantern.findings.finding import Finding
    from tiny_lantern.ui.axis import LineAxis
    from tiny_lantern.ui.frames import FrameSource
    from tiny_lantern.ui.session import Session


@dataclass(frozen=True)
class FirstStep:
    """What an unready station asks for first: a sentence, and the button that does it."""

    sentence: str
    label: str
    act: str


ADD_STRIP, ADD_LAMP, FEED_ALL = "add-strip", "add-lamp", "feed-all"
LAY_EFFECT, DRIVE_ALL = "lay-effect", "drive-all"


class Asks(Protocol):
    """What stations ask of the window, as signals."""

    find_feeds: SignalInstance
    show_working: SignalInstance
    working: SignalInstance
    compare: SignalInstance
    what_if: SignalInstance
    board: SignalInstance
    boards: SignalInstance
    render_show: SignalInstance


@dataclass(frozen=True)
class Around:
    """What a station is made with; ``asks`` takes what it asks of the window."""

    session: Session
    axis: LineAxis
    frames: FrameSource
    asks: Asks


def _nothing_more(build: Build) -> FirstStep | None:
    return None


@dataclass(frozen=True)
class Station:
    """A station: its number and title, how it is made, which subjects of findings are mended there, its commands, what
    it says of an empty build with the button that it offers there, what it asks for first of another, and how it shows
    where a snag is."""

    number: int
    title: str
    make: Callable[[Around], QWidget]
    empty: str
    subjects: tuple[str, ...] = ()
    commands: tuple[Command, ...] = ()
    first: Callable[[Build], FirstStep | None] = _nothing_more
    begin: tuple[str, str] = ("Add a strip", ADD_STRIP)
    show_snag: Callable[[Shell, Finding], None] | None = None

    @property
    def show(self) -> Command:
        """The command that shows it."""
        title = self.title
        return Command(
            f"station-{self.number}", "View", self.number, title, f"Alt+{self.number}", f"Show the {title} station",
            lambda shell: shell.show_station(title),
        )  # fmt: skip

    def first_step(self, build: Build) -> FirstStep | None:
        """What it asks for first; None once it has something to work on."""
        return self.first(build) if build.pieces else FirstStep(self.empty, *self.begin)
