"""Rules on boards that listen, from both sides of their limits."""

from __future__ import annotations

import pytest

from tests.findings.test_findings import found
from tests.support.answering import answering, listening, on_two_boards
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.edits_pieces import change_strip


def of_pixels(count: int, **how: object) -> Build:
    """A strip of so many pixels and a button on a board that listens."""
    return listening(change_strip(answering(), "strip", pixel_count=count), **how)


@pytest.mark.parametrize(("count", "bits_per_s", "told"), [
    (42, 57_600, False), (43, 57_600, True), (90, 115_200, False), (91, 115_200, True), (827, 1_000_000, False),
    (828, 1_000_000, True),
])  # fmt: skip
def test_a_cable_is_slow_from_where_a_frame_and_its_answer_outlast_a_frame(
    count: int, bits_per_s: int, told: bool
) -> None:
    """3 bytes a pixel, 7 around them, an answer of 11; ten bits a byte, 25 ms."""
    finding = found(of_pixels(count, bits_per_s=bits_per_s), FullWhite()).get("cable-slow")
    assert (finding is not None) is told
    if finding is not None:
        assert f"a frame of {3 * count} bytes" in finding.message
        assert f"{bits_per_s / (30 * count + 180):.0f} of 40 a second" in finding.message
        assert bool(finding.tries) is (bits_per_s < 1_000_000)


def test_a_board_by_itself_may_listen_and_one_of_several_may_not() -> None:
    assert "listens-chained" not in found(listening(answering()), FullWhite())
    assert "listens-chained" not in found(on_two_boards(3), FullWhite())
    told = found(listening(on_two_boards(3)), FullWhite())["listens-chained"]
    assert told.message.startswith("2 boards play")
