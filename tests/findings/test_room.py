"""Room for lamps, from both sides of each limit."""

import pytest

from tests.findings.test_findings import found, mounted
from tests.support.pieces import pier
from tiny_lantern.findings.finding import Finding, Severity
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_names import note_lamp
from tiny_lantern.model.edits_pieces import change_piece
from tiny_lantern.model.effects import SlotRef
from tiny_lantern.model.layouts import AroundRing, AtSpots
from tiny_lantern.model.place import Place
from tiny_lantern.model.strip import PixelRun


def verdict(build: Build, code: str) -> Finding | None:
    """What a rule says."""
    return found(build).get(code)


@pytest.mark.parametrize("hole_mm", [5.0, 5.2, 5.8])
def test_a_hole_that_fits_is_quiet(hole_mm: float) -> None:
    assert verdict(mounted(hole_m=hole_mm / 1000), "hole") is None


def test_a_hole_too_small_does_not_work_and_one_too_large_is_a_weak_spot() -> None:
    small, large = verdict(mounted(hole_m=0.0049), "hole"), verdict(mounted(hole_m=0.0059), "hole")
    assert small.severity is Severity.WONT_WORK
    assert verdict(mounted(hole_m=0.00499), "hole").severity is Severity.WONT_WORK
    assert "0.1 mm too small" in small.message
    assert large.severity is Severity.WEAK_SPOT
    assert "0.9 mm larger" in large.message
    assert small.place == Place.on("pieces", "quay")


def test_the_room_behind_counts_lamp_spacer_and_wall() -> None:
    assert verdict(mounted(depth_m=0.009), "depth") is None
    assert "0.1 mm too little" in verdict(mounted(depth_m=0.0089), "depth").message
    assert verdict(mounted(depth_m=0.0089, wall_m=0.0001), "depth") is None
    assert "2.0 mm too little" in verdict(mounted(depth_m=0.009, spacer_m=0.003, wall_m=0.001), "depth").message


def test_lamps_collide_when_nearer_than_they_are_wide() -> None:
    assert verdict(change_piece(pier(), "quay", spacing_m=0.005), "collide") is None
    finding = verdict(change_piece(pier(), "quay", spacing_m=0.0049), "collide")
    assert "4.9 mm apart and need 5.0 mm: 0.1 mm too little" in finding.message


def test_holes_need_a_wall_of_a_millimetre_between_them() -> None:
    build = mounted(hole_m=0.0052)
    assert verdict(change_piece(build, "quay", spacing_m=0.0062), "collide") is None
    assert "0.2 mm too little" in verdict(change_piece(build, "quay", spacing_m=0.006), "collide").message


def test_a_ring_collides_across_its_chord_and_its_mend_is_large_enough() -> None:
    build = change_piece(pier(), "quay", layout=AroundRing(), spacing_m=0.0052)
    finding = verdict(build, "collide")
    assert finding is not None, "the chord is shorter than the way round"
    mended = finding.tries[0].edit(build)
    assert verdict(mended, "collide") is None
    assert mended.line.piece("quay").spacing_m < 0.0062


def test_lamps_of_two_pieces_collide_by_their_own_names() -> None:
    spots = AtSpots(points_m=((5, 5), (6, 5), (7, 5), (8, 5), (9, 5)))
    other = AtSpots(points_m=((8.003, 5), (4, 0), (3, 0), (2, 0)))
    build = change_piece(change_piece(pier(), "quay", layout=spots), "festoon", layout=other)
    build = note_lamp(build, SlotRef(piece_id="quay", index=3), place="north light")
    finding = verdict(build, "collide")
    assert finding.title == "north light and Festoon 1 collide"
    assert set(finding.place.all("pieces")) == {"quay", "festoon"}
    assert finding.tries == ()


def test_only_what_is_no_strip_waits_to_be_driven() -> None:
    from tiny_lantern.findings.check import check
    from tiny_lantern.findings.evidence import gather
    from tiny_lantern.model.build import FullWhite

    waiting = {f.place.one("pieces") for f in check(gather(pier(), FullWhite())) if f.code == "not-driven"}
    assert waiting == {piece.id for piece in pier().pieces if not isinstance(piece, PixelRun)}
