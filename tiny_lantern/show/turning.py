"""Effects turned round: mirrored on their lights, moved round them, played backward in time."""

from __future__ import annotations

from typing import Any

from numpy.typing import NDArray

from tiny_lantern.model.effects import Effect

Ints = NDArray[Any]


def turned_places(effect: Effect, place: Ints, count: int) -> Ints:
    """For each light of an effect the number of the light whose part it plays, (n_slots,) to (n_slots,). [-]

    Args:
        effect: the effect.
        place: number of each light within it, from 0, (n_slots,). [-]
        count: how many lights it covers. [-]
    """
    if effect.mirrored:
        place = count - 1 - place
    return (place - effect.turned) % count if effect.turned else place


def turned_ticks(effect: Effect, ticks: Ints, begin: int, end: int) -> Ints:
    """For each frame the frame of the effect that is seen, counted from its beginning, (n_ticks,) to (n_ticks,). [-]

    Args:
        effect: the effect.
        ticks: frames of the show, (n_ticks,). [-]
        begin: the frame that it begins with. [-]
        end: the one after its last. [-]
    """
    return end - 1 - ticks if effect.backward else ticks - begin
