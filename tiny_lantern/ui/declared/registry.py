"""All stations and commands: whatever file of this folder has a ``STATION`` or ``COMMANDS``."""

from __future__ import annotations

from functools import cache
from importlib import import_module
from pkgutil import iter_modules
from types import ModuleType

from tiny_lantern.ui import declared
from tiny_lantern.ui.declared.command import GROUPS, Command
from tiny_lantern.ui.declared.station import Station


@cache
def _modules() -> tuple[ModuleType, ...]:
    found = (info.name for info in iter_modules(declared.__path__) if info.name != "registry")
    return tuple(import_module(f"{declared.__name__}.{name}") for name in found)


@cache
def stations() -> tuple[Station, ...]:
    """Every station by its number."""
    found = (module.STATION for module in _modules() if hasattr(module, "STATION"))
    return tuple(sorted(found, key=lambda station: station.number))


def station_of(title: str) -> Station:
    """The station with a title."""
    return next(station for station in stations() if station.title == title)


def station_for(subject: str) -> Station:
    """Where findings of a subject are mended: the first station that names it, else the first of all."""
    return next((station for station in stations() if subject in station.subjects), stations()[0])


@cache
def commands() -> tuple[Command, ...]:
    """Every command, by group and rank."""
    of_none = [command for module in _modules() for command in getattr(module, "COMMANDS", ())]
    of_stations = [command for station in stations() for command in (station.show, *station.commands)]
    return tuple(sorted(of_none + of_stations, key=lambda command: (GROUPS.index(command.group), command.rank)))
