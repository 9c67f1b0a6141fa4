"""What a whole build looks like at its solved voltages."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.network import part_of
from tiny_lantern.electrical.power import Duties, PowerSolution
from tiny_lantern.light.colour import screen_bytes
from tiny_lantern.light.seen import screen_look
from tiny_lantern.model.build import Build


def looks_of(build: Build, solution: PowerSolution, duties: Duties) -> NDArray[np.uint8]:
    """sRGB bytes of what each light looks like. (n_slots, 3) [-]

    Strips of one part are worked out together.

    Args:
        build: the build.
        solution: its solved network.
        duties: the load it was solved for, one array a strip, (n_pixels, n_channels). [-]
    """
    alike: dict[str, list[int]] = {}
    for number, strip in enumerate(build.strips):
        alike.setdefault(strip.part_id, []).append(number)
    found = np.zeros((build.line.slot_count, 3), np.uint8)
    for numbers in alike.values():
        spans = [build.line.runs[number] for number in numbers]
        slots = np.concatenate([np.arange(span.first, span.stop) for span in spans])
        v = np.concatenate([solution.runs[span.piece.id].pixel_v for span in spans])
        duty = np.concatenate([duties[number] for number in numbers])
        found[slots] = screen_bytes(screen_look(part_of(build, spans[0].run), v, duty))
    return found
