"""Lamps on pins that dim."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import ClassVar, Literal

from tiny_lantern.model.drive import Channel, Dimmed, PinNeed, lamp_role


class PwmPin(Dimmed):
    """Each lamp on a pin that dims."""

    kind: Literal["pwm"] = "pwm"
    word: ClassVar[str] = "a dimming pin each"
    at: ClassVar[str] = "on a pin"
    wins: ClassVar[str] = "few lamps that fade, within what a pin gives"
    rank: ClassVar[int] = 20
    sink: bool = False

    def needs(self, channels: Sequence[Channel]) -> Iterator[PinNeed]:
        """A pin that dims for each output.

        Args:
            channels: its channels.
        """
        yield from (PinNeed(self.id, lamp_role(channel.output), True) for channel in channels)
