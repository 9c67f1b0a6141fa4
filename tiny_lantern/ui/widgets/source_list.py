"""A list of what may feed something."""

from __future__ import annotations

from PySide6.QtWidgets import QComboBox

from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Board
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.sources import every_source
from tiny_lantern.ui.widgets.fields import quiet, set_choice

NOTHING = "nothing yet"


def show_sources(
    box: QComboBox, build: Build, now: FedBy | None, none: str | None = NOTHING, without: str = "", pins: bool = True
) -> None:
    """Offer every source of a build in a list, and choose one.

    Args:
        box: the list.
        build: the build.
        now: the source that is chosen.
        none: what naming no source is called; None where one must be named.
        without: the id of what is fed, which is no source of its own.
        pins: whether boards' own pins are among them.
    """
    with quiet(box):
        box.clear()
        if none is not None:
            box.addItem(none, None)
        for source in every_source(build):
            if source.id != without and (pins or not isinstance(source.thing, Board)):
                box.addItem(source.words, source.fed_by)
        set_choice(box, now)
