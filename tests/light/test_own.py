"""Lamps are seen in the colours that they can show."""

import numpy as np

from tests.support.pieces import pier
from tiny_lantern.light.own import at_rest, own_colours, shown_as


def test_a_lamp_of_one_colour_is_seen_in_it_however_it_is_asked() -> None:
    build = pier()
    first = next(span.first for span in build.line.spans if span.piece.id == "arcade")
    asked = np.tile([0.0, 1.0, 0.0], (build.line.slot_count, 1))
    seen = shown_as(asked, own_colours(build))
    assert seen[first, 0] > 0.5
    assert seen[first, 1] < 0.2 * seen[first, 0]
    assert seen[0].tolist() == [0.0, 1.0, 0.0], "a strip shows what is asked"
    assert at_rest(own_colours(build)).max(axis=1).min() > 0.9
