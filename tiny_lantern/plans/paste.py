"""Pasting pieces with their drive: pins of the board that they come to are found for it."""

from __future__ import annotations

from tiny_lantern.model.build import Build
from tiny_lantern.model.clip import pasted
from tiny_lantern.model.errors import LanternError
from tiny_lantern.plans.pins import assign_pins


def paste(build: Build, text: str) -> Build:
    """The build with the pieces of a text and pins for their drive; where a board has too few, they are left without,
    and the finding on it says so.

    Raises:
        LanternError: the text holds no pieces, or they do not fit into the build.
    """
    after = pasted(build, text)
    came = after.drivers[len(build.drivers) :]
    for board_id in dict.fromkeys(driver.board_id for driver in came):
        try:
            after = assign_pins(after, board_id)
        except LanternError:
            continue
    return after
