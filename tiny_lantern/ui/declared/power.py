"""Power: where it is fed, through which wires and fuses."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from tiny_lantern.model.build import Build
from tiny_lantern.ui.declared.command import Command
from tiny_lantern.ui.declared.station import FEED_ALL, Around, FirstStep, Station

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

    from tiny_lantern.findings.finding import Finding
    from tiny_lantern.ui.shell import Shell


def _make(around: Around) -> QWidget:
    from tiny_lantern.ui.stations.power import PowerStation  # loaded when first shown

    power = PowerStation(around.session, around.axis)
    power.find_feeds.connect(around.asks.find_feeds)
    power.show_working.connect(around.asks.show_working)
    return power


def _act(name: str) -> Callable[[Shell], object]:
    """An act of the station, loaded when it is first done."""

    def run(shell: Shell) -> object:
        from tiny_lantern.ui.stations import power_acts  # loaded when first asked for

        return getattr(power_acts, name)(shell)

    return run


def _show_snag(shell: Shell, finding: Finding) -> None:
    from tiny_lantern.ui.stations.power_acts import show_snag  # loaded when first asked for

    show_snag(shell, finding)


def _first(build: Build) -> FirstStep | None:
    if build.feeds or not build.strips:
        return None
    return FirstStep("Nothing feeds these strips yet, so they are dark.", "Add a supply and feed them", FEED_ALL)


STATION = Station(
    number=2,
    title="Power",
    make=_make,
    empty="Power begins with something to light: add a strip.",
    subjects=("copper", "light_power", "shorts", "sources", "supply", "cautions"),
    first=_first,
    show_snag=_show_snag,
    commands=(
        Command("find-feeds", "Power", 50, "Find feeds", "Ctrl+Shift+F",
                "The fewest feeds that keep the selected strip in its limits", _act("find_feeds_here"),
                lambda s: bool(s.session.build.strips and s.session.build.supplies)),
        Command("cut", "Power", 60, "Cut the rail before this light", "Ctrl+K",
                "Open the positive rail before the selected light, or close the cut that is there",
                _act("cut_here"), lambda s: s.session.slot is not None),
        Command("short", "Power", 70, "Try a short here", "Ctrl+H",
                "Put a short on the Line at the selected light to see what it does, or take it off",
                _act("try_short"), lambda s: bool(s.session.build.strips)),
        Command("save-curves", "Power", 45, "Save the curves …", "Ctrl+Shift+E",
                "Volts and amps against the Line as a drawing (SVG)", _act("ask_curves"),
                lambda s: bool(s.session.build.strips)),
        Command("sources", "Power", 55, "Sources", "Ctrl+Shift+T",
                "What feeds what, from wall or cell to lamp, with every wire and fuse; or back to the curves",
                _act("show_sources"), lambda s: bool(s.session.build.pieces)),
        Command("keep-load", "Power", 80, "Keep this load as a case", "Ctrl+L",
                "Put the load in hand among the build's own load cases", _act("keep_load")),
        Command("working", "Power", 90, "Show the working", "Ctrl+I",
                "How the selected light's or feed's figures came about", _act("show_selected_working"),
                lambda s: bool(s.session.build.strips)),
        Command("supply-working", "Power", 100, "Show the supplies' working", "Ctrl+Shift+I",
                "How the supply gauge's figures came about", _act("show_supplies_working"),
                lambda s: bool(s.session.build.supplies)),
    ),
)  # fmt: skip
