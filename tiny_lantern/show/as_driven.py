"""What lamps show of a frame through the outputs that drive them: in so many steps, or only on and off."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.light.colour import LUMINANCE
from tiny_lantern.light.own import of_one_hue, own_luminance
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Driver
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.ways.hold import HoldRail
from tiny_lantern.show.channels import ON_FROM, RGB

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
ALL_OF_IT = 3
FINEST_BITS = 8
ANY_LIGHT = 1 / 512


class DrivenLook:
    """The driven lamps of a build: which light each output lights, which die of it, and in how many steps.

    A die takes its colour's part of a light. A lamp on one output is lit as far as what is asked is luminous beside its
    own hue: asked for that hue it is fully on. Lamps on one wire are one light: that of the first of them.

    Args:
        build: the build.
        own: what colour each lamp shows of what is asked; see ``own_colours``, (n_slots, 3, 3). [-]
    """

    def __init__(self, build: Build, own: Floats) -> None:
        found: list[tuple[int, int, float, int, float, int]] = []
        for driver in build.drivers:
            steps, on_from = _steps(build, driver)
            for channel in build.channels_of[driver.id]:
                if channel.die == "white":
                    continue  # seen with the colours that it is mixed with
                slots = [build.line.slot_of(ref) for ref in channel.slots]
                part = build.shelf.find(Part, build.line.piece(channel.slots[0].piece_id).part_id)
                die = RGB.get(channel.die or "", ALL_OF_IT)
                found += [(slot, die, own_luminance(part), steps, on_from, slots[0]) for slot in slots]
        table = np.array(found, float).reshape(-1, 6)
        whole = table[:, 1] == ALL_OF_IT
        self._slots = table[:, 0].astype(np.int64)
        self._asks = table[:, 5].astype(np.int64)
        self._dies = table[:, 1].astype(np.int64)
        self._luminance, self._steps, self._on_from = table[:, 2], table[:, 3], table[:, 4]
        self._whole, self._die = np.flatnonzero(whole), np.flatnonzero(~whole)
        self._hues = own[self._slots[self._whole]].sum(axis=2)
        self._single = of_one_hue(own[self._slots[self._whole]])

    def seen(self, asked: Floats, shown: Floats) -> Floats:
        """A frame as it is seen. (n_slots, 3) [-]

        Args:
            asked: what the show asks for, linear, 0 to 1, (n_slots, 3). [-]
            shown: what lamps of their colours would show of it, (n_slots, 3). [-]
        """
        if not len(self._slots):
            return shown
        found = shown.copy()
        at, slots, first = self._whole, self._slots[self._whole], self._asks[self._whole]
        level = np.minimum(asked[first] @ LUMINANCE / self._luminance[at], 1.0)
        given = self._given(level, at)
        share = np.divide(given, level, out=np.zeros_like(given), where=level > 0)
        found[slots] = np.where(self._single[:, None], self._hues * given[:, None], shown[first] * share[:, None])
        at, slots, dies = self._die, self._slots[self._die], self._dies[self._die]
        found[slots, dies] = self._given(asked[self._asks[at], dies], at)
        return np.minimum(found, 1.0)

    def _given(self, level: Floats, at: Ints) -> Floats:
        """Levels as outputs give them. Like ``level``

        Args:
            level: what is asked, 0 to 1, (n,). [-]
            at: which outputs, (n,). [-]
        """
        steps = self._steps[at]
        stepped = np.round(level * steps) / np.maximum(steps, 1)
        return np.where(steps > 0, stepped, (level >= self._on_from[at]).astype(float))


def _steps(build: Build, driver: Driver) -> tuple[int, float]:
    """How many steps of light the outputs of a driver have, none when they are on or off, and from what level on."""
    if driver.on_off:
        return 0, ANY_LIGHT if isinstance(driver, HoldRail) else ON_FROM
    board = next((board for board in build.boards if board.id == driver.board_id), None)
    pwm_bits = build.shelf.find(BoardPart, board.part_id).pwm_bits if board else FINEST_BITS
    return (1 << min(driver.steps_bits(pwm_bits), FINEST_BITS)) - 1, 0.0
