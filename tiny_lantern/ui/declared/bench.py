"""Bench: what to check first, what the meter should say, and why it does not."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from tiny_lantern.model.build import Build
from tiny_lantern.ui.declared.command import Command
from tiny_lantern.ui.declared.station import Around, Station

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

    from tiny_lantern.ui.shell import Shell
    from tiny_lantern.ui.stations.bench import BenchStation


def _make(around: Around) -> QWidget:
    from tiny_lantern.ui.stations.bench import BenchStation  # loaded when first shown

    return BenchStation(around.session)


def _bench(shell: Shell) -> BenchStation:
    """The Bench station, shown."""
    shell.show_station("Bench")
    return shell.stack.bench()


def _why(shell: Shell) -> None:
    bench = _bench(shell)
    bench.show_page("Why?")
    bench.why.ask.click()


def _tick(shell: Shell) -> None:
    _bench(shell).tick_chosen()


def _practise(shell: Shell) -> None:
    bench = _bench(shell)
    bench.show_page("Practice")
    if not bench.practice.on:
        bench.practice.start()


def _anew(shell: Shell) -> None:
    from tiny_lantern.model.edits_bench import begin_anew  # only this needs it
    from tiny_lantern.ui.clock import now

    _bench(shell)
    shell.session.apply("Began anew at the bench", partial(begin_anew, at=now()))


def _read(build: Build) -> bool:
    return bool(build.bench.readings or build.bench.looks or build.bench.done)


STATION = Station(
    number=6,
    title="Bench",
    make=_make,
    empty="The bench says what to check first and what the meter should say: begin with a strip.",
    subjects=("bench",),
    commands=(
        Command("tick-step", "Sheets", 60, "Tick the step", "Ctrl+Alt+T", "The step of the first power that is chosen",
                _tick, lambda s: bool(s.session.build.pieces)),
        Command("why", "Sheets", 62, "Why does it read so?", "Ctrl+Alt+Y",
                "Compares what was read and seen with every fault that may be", _why,
                lambda s: bool(s.session.build.bench.readings or s.session.build.bench.looks)),
        Command("practise", "Sheets", 66, "Practise a fault", "Ctrl+Alt+K",
                "Hides a fault in this build; a simulated meter and lamps show what it does", _practise,
                lambda s: bool(s.session.build.drivers)),
        Command("bench-anew", "Sheets", 64, "Begin anew at the bench", "Ctrl+Alt+Shift+N",
                "Ticks, readings and looks go; the log stays", _anew, lambda s: _read(s.session.build)),
    ),
)  # fmt: skip
