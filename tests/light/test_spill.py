"""What lamps spill onto their neighbours' covers."""

import numpy as np
import pytest

from tests.support.builds import part
from tiny_lantern.light.spill import beam_power, spill_of, spilled
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_pieces import add_piece, change_piece
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.mount import Mount


def _row(mount: Mount, spacing_m: float = 0.02) -> Build:
    lamps = LampGroup(id="row", name="Row", part_id="led-white-5mm", lamp_count=5, spacing_m=spacing_m, mount=mount)
    return add_piece(Build(), part("led-white-5mm"), lamps)


def _of_one_lit(mount: Mount, spacing_m: float = 0.02) -> np.ndarray:
    """What each of five lamps shows when the middle one alone is lit."""
    frame = np.zeros((5, 3))
    frame[2] = 1.0
    return spilled(frame, spill_of(_row(mount, spacing_m)))[:, 0]


def test_bare_lamps_show_nothing_of_each_other() -> None:
    assert spill_of(_row(Mount())) is None
    assert _of_one_lit(Mount()).tolist() == [0, 0, 1, 0, 0]


def test_a_frosted_cover_shows_a_lit_neighbour_the_nearer_the_more() -> None:
    shown = _of_one_lit(Mount(cover="frosted"))
    assert shown[2] == 1.0
    assert shown[1] == pytest.approx(shown[3])
    assert shown[3] > 3 * shown[4] > 0
    assert (_of_one_lit(Mount(cover="frosted"), 0.05) <= shown).all()


def test_a_clear_cover_shows_less_a_narrow_beam_less_and_a_higher_cover_more() -> None:
    frosted = _of_one_lit(Mount(cover="frosted"))[3]
    assert 0 < _of_one_lit(Mount(cover="clear"))[3] < frosted / 2
    assert _of_one_lit(Mount(cover="frosted", beam_deg=40))[3] < frosted / 2
    assert _of_one_lit(Mount(cover="frosted", spacer_m=0.02))[3] > frosted


def test_a_lambertian_lamp_lights_by_the_fourth_power_of_the_cosine() -> None:
    """A cover 10 mm above, a neighbour 10 mm off: 45 degrees, a quarter, of which a frosted cover shows six tenths."""
    assert beam_power(120.0) == pytest.approx(1.0)
    assert _of_one_lit(Mount(cover="frosted"), 0.01)[3] == pytest.approx(0.25 * 0.6)


def test_only_the_covered_piece_catches() -> None:
    build = _row(Mount(cover="frosted"))
    other = LampGroup(id="other", name="Other", part_id="led-white-5mm", lamp_count=5, spacing_m=0.02)
    both = add_piece(build, part("led-white-5mm"), other)
    spill = spill_of(change_piece(both, "other", layout=both.pieces[0].layout.model_copy(update={"y_m": 0.012})))
    assert spill is not None
    assert spill[:5, 5:].sum() > 0
    assert spill[5:].sum() == 0
