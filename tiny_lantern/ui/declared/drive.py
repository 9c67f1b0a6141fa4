"""Drive: which pin, resistor, transistor, register or driver chip."""

from __future__ import annotations

from typing import TYPE_CHECKING

from tiny_lantern.model.build import Build
from tiny_lantern.model.emitters import by_data_line
from tiny_lantern.ui.declared.command import Command
from tiny_lantern.ui.declared.station import ADD_LAMP, DRIVE_ALL, Around, FirstStep, Station

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

    from tiny_lantern.findings.finding import Finding
    from tiny_lantern.ui.shell import Shell
    from tiny_lantern.ui.stations.drive import DriveStation


def _make(around: Around) -> QWidget:
    from tiny_lantern.ui.stations.drive import DriveStation  # loaded when first shown

    drive = DriveStation(around.session, around.axis, around.frames)
    drive.show_working.connect(around.asks.working)
    drive.ask_boards.connect(around.asks.boards)
    drive.form.compare.connect(around.asks.compare)
    drive.form.ask_what_if.connect(around.asks.what_if)
    return drive


def _first(build: Build) -> FirstStep | None:
    parts = {part.id: part for part in build.parts}
    if build.drivers or all(by_data_line(piece, parts[piece.part_id]) for piece in build.pieces):
        return None
    return FirstStep("Nothing drives these lamps yet.", "Drive every piece", DRIVE_ALL)


def _drive(shell: Shell) -> DriveStation:
    """The Drive station, shown."""
    shell.show_station("Drive")
    return shell.stack.drive()


def _compare(shell: Shell) -> None:
    from tiny_lantern.ui.stations.compare_window import CompareWindow  # loaded when first asked for

    piece_id = _drive(shell).form.piece_id
    if piece_id is not None:
        name = shell.session.build.line.piece(piece_id).name
        shell.show_beside(f"Ways to drive {name}", CompareWindow(shell.session, piece_id), 1100, 700)


def _what_if(shell: Shell) -> None:
    from tiny_lantern.ui.stations.what_if_window import WhatIfWindow  # loaded when first asked for

    channel = _drive(shell).form.channel
    if channel is not None:
        name = next(driver.name for driver in shell.session.build.drivers if driver.id == channel.driver_id)
        shell.show_beside(f"What if, {name}", WhatIfWindow(shell.session, channel.driver_id), 980, 460)


def _boards(shell: Shell) -> None:
    from tiny_lantern.ui.stations.boards_window import BoardsWindow  # loaded when first asked for

    shell.show_beside("Boards", BoardsWindow(shell.session), 720, 380)


def _sources(shell: Shell) -> None:
    channel = _drive(shell).form.channel
    shell.show_station("Power")
    power = shell.stack.power()
    power.show_sources(True)
    if channel is not None:
        power.sources.pick(channel.driver_id)


def _helpers(shell: Shell) -> None:
    from tiny_lantern.ui.stations.helpers_window import HelpersWindow  # loaded when first asked for

    shell.show_beside("Small sums", HelpersWindow(shell.session), 760, 560)


def _schematic(shell: Shell) -> None:
    from tiny_lantern.ui.stations.schematic_window import SchematicWindow  # loaded when first asked for

    window = SchematicWindow(shell.session, _drive(shell).form, shell.theme_in_use)
    shell.show_beside("Schematic", window, 700, 520)


def _show_snag(shell: Shell, finding: Finding) -> None:
    """One on an input or a rule is shown where these are changed."""
    chosen = finding.place.one("inputs") or finding.place.one("rules")
    if chosen is not None:
        from tiny_lantern.ui.stations.inputs_window import InputsWindow  # loaded when first asked for

        window = next(iter(shell.findChildren(InputsWindow)), None)
        if window is None:
            shell.actions_by_id["inputs"].trigger()
            window = shell.findChildren(InputsWindow)[-1]
        window.choose(chosen)


STATION = Station(
    number=3,
    title="Drive",
    make=_make,
    empty="Driving begins with lamps: add a first one.",
    begin=("Add lamps", ADD_LAMP),
    subjects=(
        "drive_current", "drive_switches", "drive_chips", "drive_hold", "drive_pins", "drive_knobs", "drive_relays",
        "inputs", "drive_voltage", "rails", "pin_work",
    ),
    first=_first,
    show_snag=_show_snag,
    commands=(
        Command("assign-pins", "Drive", 110, "Assign pins", "Ctrl+Shift+A",
                "Every need of the board a pin; what is pinned down stays", lambda s: _drive(s).assign(),
                lambda s: bool(s.session.build.boards)),
        Command("compare-ways", "Drive", 120, "Other ways to drive …", "Ctrl+Shift+W",
                "Every way to drive the selected piece, solved side by side", _compare,
                lambda s: bool(s.session.build.pieces)),
        Command("what-if", "Drive", 125, "What if …", "Ctrl+Shift+Q",
                "Other parts of what drives the selected lamp, or one missing: solved and judged, not built", _what_if,
                lambda s: bool(s.session.build.channels)),
        Command("boards", "Drive", 112, "Boards …", "Ctrl+Alt+B",
                "Boards by their place in the chain: names, what each plays, more of them", _boards),
        Command("sources-of-lamps", "Drive", 113, "Where it is fed from …", "Ctrl+Alt+S",
                "The sources in Power, with what drives the selected lamp picked out", _sources,
                lambda s: bool(s.session.build.channels)),
        Command("helpers", "Drive", 70, "Small sums …", "Ctrl+Shift+U",
                "Fades, flicker, colours, knobs, sensors, and bits as bytes", _helpers),
        Command("schematic", "Drive", 127, "Schematic …", "Ctrl+Shift+K",
                "Of the selected lamp, a chip, a board, a rail: drawn as it is wired, with volts and amps", _schematic,
                lambda s: bool(s.session.build.channels)),
    ),
)  # fmt: skip
