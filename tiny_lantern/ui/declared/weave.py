"""Weave: what each light does, when."""

from __future__ import annotations

from typing import TYPE_CHECKING

from tiny_lantern.model.build import Build
from tiny_lantern.ui.declared.station import LAY_EFFECT, Around, FirstStep, Station

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget


def _make(around: Around) -> QWidget:
    from tiny_lantern.ui.stations.weave import WeaveStation  # loaded when first shown

    return WeaveStation(around.session, around.axis, around.frames)


def _first(build: Build) -> FirstStep | None:
    if build.effects:
        return None
    return FirstStep(
        "Nothing happens yet: lay a first light over everything, then draw others on it.", "Lay a breathing light",
        LAY_EFFECT,
    )  # fmt: skip


STATION = Station(
    number=4,
    title="Weave",
    make=_make,
    empty="A show needs lights to play on: add a strip.",
    subjects=("weave", "data", "show"),
    first=_first,
)
