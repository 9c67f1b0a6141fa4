"""Verdicts on the show's ends and on memory, from both sides."""

import numpy as np
import pytest

from tests.findings.test_findings import found, to_and_fro
from tests.support.builds import one_strip, part
from tests.support.driven import driven, lamps, lit, matrix
from tiny_lantern.code.board.doings import Matrix
from tiny_lantern.code.board.plan import doings_at
from tiny_lantern.code.board.work import Pace, with_sending
from tiny_lantern.code.files import sizes_of
from tiny_lantern.code.score import score_of
from tiny_lantern.code.work import Work, core_of, work_of
from tiny_lantern.effects.registry import effect_kinds
from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import find_flashes, gather
from tiny_lantern.findings.finding import Severity
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.edits import change_build, change_parts
from tiny_lantern.model.edits_drive import add_board, change_driver
from tiny_lantern.model.edits_pieces import add_strip, change_piece
from tiny_lantern.model.edits_power import add_feed, change_supply
from tiny_lantern.model.edits_show import add_effect, change_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.show.data_line import frame_times
from tiny_lantern.show.weave import render


def test_lights_stay_lit_only_where_the_last_frame_is_held_and_lit() -> None:
    whole = lit(one_strip(5), length_s=60.0)
    assert "5 lights" in found(change_build(whole, after_end="hold"))["stays-lit"].title
    assert "stays-lit" not in found(whole), "it plays again"
    assert "stays-lit" not in found(change_build(whole, after_end="dark"))
    assert "stays-lit" not in found(change_build(lit(one_strip(5), length_s=59.0), after_end="hold"))


def test_a_flash_is_laid_to_the_effect_that_makes_it_not_to_one_above_it_at_another_time() -> None:
    build = change_build(lit(one_strip(), kind="blink", colour="#ffffff", period_s=0.2, length_s=4.0), show_s=30.0)
    quick = build.effects[0].id
    for start_s in (20.0, 8.0):
        build = add_effect(build, look_of("blink", colour="#ffffff", period_s=0.3), 0, 59, start_s, 5.0)
    flashes = [
        finding for finding in check(gather(build, FullWhite(), find_flashes(build))) if finding.code == "flashing"
    ]
    assert flashes[0].place.refs[0].id == quick


def test_an_effect_is_never_seen_from_the_end_of_the_show_on() -> None:
    build = to_and_fro(start_s=20.0)
    assert "never-seen" not in found(change_build(build, show_s=20.1))
    late = found(change_build(build, show_s=20.0))["never-seen"]
    assert "0 s before" in late.message
    assert [fix.label for fix in late.tries] == ["Show of 22 s", "Remove it"]


def test_a_run_there_and_back_is_told_and_becomes_one_scanner() -> None:
    build = to_and_fro()
    twice = found(build)["ends-twice"]
    mended = twice.tries[0].edit(build)
    assert [effect.look.kind for effect in mended.effects] == ["scanner"]
    lit_at = render(mended, np.arange(mended.timeline.count))[:160].max(axis=2).argmax(axis=1)
    turns = np.flatnonzero(lit_at == 19)
    assert len(turns) == 4, "one place, a tenth of a second"
    assert "ends-twice" not in found(to_and_fro(speed=10.0)), "both the same way"
    assert "ends-twice" not in found(to_and_fro(start_s=2.5)), "with a pause between"


def test_a_board_is_judged_by_what_the_code_is_estimated_to_need() -> None:
    build = lit(driven("register", lamps(8)))
    score = score_of(build)
    ((_, needs),) = sizes_of(build, score)
    part = build.shelf.of(BoardPart)[0]
    for field, needed in (("memory_bytes", needs.ram_bytes), ("flash_bytes", needs.flash_bytes)):
        assert "code-memory" not in found(change_parts(build, revise(part, **{field: needed})))
        over = found(change_parts(build, revise(part, **{field: needed - 3})))["code-memory"]
        assert "3 too many" in over.message


def test_a_board_is_quiet_while_a_frame_fits_its_time_and_tells_by_how_much_it_does_not() -> None:
    build = lit(add_board(one_strip(60), part("board-8bit-small")), kind="candle", interval_s=0.2)
    score = score_of(build)
    cycles = work_of(score, score.slices[0], core_of(16)).cycles
    room_s = 1 / build.tick_hz - frame_times(build)["board"]
    board = build.shelf.of(BoardPart)[0]
    just = change_parts(build, revise(board, clock_hz=cycles / room_s * 1.001))
    assert "frame-work" not in found(just)
    over = found(change_parts(build, revise(board, clock_hz=cycles / (room_s + 0.001))))["frame-work"]
    assert "about 1.00 ms more than the 25.0 ms" in over.message
    assert over.severity is Severity.WEAK_SPOT
    assert over.place.one("boards") == "board"
    quicker = change_parts(build, revise(board, clock_hz=cycles / (room_s + 0.001), int_bits=32))
    assert "frame-work" not in found(quicker), "a wider core takes a fraction of the cycles"


def test_dimming_that_a_board_cannot_send_often_enough_is_told_with_what_it_keeps() -> None:
    """Sixteen outputs of 3 · 70 + 90 cycles: 300 µs at 16 MHz. Five bits of it are 31 times that, 107 a second; six are
    63 times, 53 a second."""
    build = lit(driven("sink", lamps(16), levels_bits=5))
    assert "refresh-kept" not in found(build)
    over = found(change_driver(build, "lamps-sink", levels_bits=6))["refresh-kept"]
    assert "about 53 times a second" in over.title
    assert "about 300 µs" in over.message
    assert [fix.label for fix in over.tries] == ["5 bits of dimming"]
    assert "refresh-kept" not in found(over.tries[0].edit(change_driver(build, "lamps-sink", levels_bits=6)))
    wide = change_parts(build, revise(build.shelf.of(BoardPart)[0], int_bits=32))
    assert "refresh-kept" not in found(change_driver(wide, "lamps-sink", levels_bits=6)), "a wider core is quicker"
    assert "refresh-kept" not in found(lit(driven("sink", lamps(16), levels_bits=1))), "on and off is sent once a frame"


def test_what_is_sent_between_lights_makes_a_frame_longer_and_no_more_than_that() -> None:
    """Eight sends of 0.25 ms a hundred times a second take a fifth of the time: 10 ms become 12.5. Four thousand of
    0.3 ms would take all of it, but come once a light: twenty times in a frame of twenty lights."""
    matrix_of = doings_of_matrix()
    seldom = Pace(matrix_of, 100.0, 100.0, 0.25e-3, 8)
    always = Pace(matrix_of, 500.0, 500.0, 0.3e-3, 8)
    assert with_sending(0.01, 100, [seldom]) == pytest.approx(0.0125, rel=1e-3)
    assert with_sending(0.01, 20, [always]) == pytest.approx(0.016, rel=1e-3)
    assert with_sending(0.01, 20, []) == 0.01
    scanned = lit(driven("scanned", matrix(8, 8)), kind="candle")
    pins_only = change_driver(scanned, "matrix-scanned", row_rate_hz=100.0)
    slow = [change_parts(each, revise(each.shelf.of(BoardPart)[0], clock_hz=4e6)) for each in (scanned, pins_only)]
    told = [found(each)["frame-work"].message for each in slow]
    assert told[0] != told[1], "a matrix that is scanned faster takes more of the frame's time"


def doings_of_matrix() -> Matrix:
    """A matrix as a board is asked for it."""
    build = lit(driven("scanned", matrix(8, 8)))
    (found_,) = doings_at(build, score_of(build), score_of(build).playing[0]).of(Matrix)
    return found_


def test_a_matrix_whose_rows_take_longer_to_send_than_they_last_is_told() -> None:
    """Sixteen outputs take 300 µs: eight rows come round 417 times a second at most, enough; 24 rows 52 times."""
    build = lit(driven("scanned", matrix(8, 8)))
    assert "refresh-kept" not in found(build)
    slow = change_parts(build, revise(build.shelf.of(BoardPart)[0], clock_hz=3e6))
    assert "about 78 times a second" in found(slow)["refresh-kept"].title


def test_a_board_that_cannot_even_send_a_frame_in_time_is_told_that_alone() -> None:
    told = found(lit(add_board(one_strip(900), part("board-8bit-small")), kind="candle"))
    assert "frame-time" in told
    assert "frame-work" not in told


def test_lights_of_another_board_are_work_where_a_cap_counts_them() -> None:
    build = add_strip(one_strip(60), part("rgb-5v-60"), 40, "Second")
    for _ in range(2):
        build = add_board(build, part("board-8bit-small"))
    build = lit(change_piece(build, build.pieces[1].id, board_id=build.boards[1].id))

    def lights(build: Build) -> int:
        score = score_of(build)
        return work_of(score, score.slices[1], core_of(16)).lights

    assert lights(build) == 40
    feed = build.feeds[0]
    shared = add_feed(build, feed.supply_id, build.strips[1].id, 0.0, part("mm2-1_5"), 1.0, None)
    assert lights(change_supply(shared, feed.supply_id, show_cap_a=0.5)) == 100


def test_lights_of_a_piece_that_no_effect_meets_are_no_more_work_for_it() -> None:
    one = lit(one_strip(60), kind="candle")
    two = add_strip(one, part("rgb-5v-60"), 400, "Second")
    met = change_effect(two, one.effects[0].id, last=two.line.ref_at(60))
    one_cycles, two_cycles, met_cycles = (
        work_of(score_of(build), score_of(build).slices[0], core_of(16)).cycles for build in (one, two, met)
    )
    each = (two_cycles - one_cycles) / 400
    assert 0.9 * core_of(16).light < each < 1.1 * core_of(16).light
    assert met_cycles - two_cycles > 400 * core_of(16).look


def test_the_moment_of_most_work_is_told_and_work_is_what_a_board_of_eight_bits_was_seen_to_take() -> None:
    def work(build: Build) -> Work:
        score = score_of(build)
        return work_of(score, score.slices[0], core_of(16))

    for kind, seen in (("candle", 179_200), ("chase", 200_704), ("scanner", 204_800), ("television", 51_200)):
        look = look_of(kind, **effect_kinds()[kind].sample)
        assert 0.75 < work(add_effect(one_strip(60), look, 0, 59, 0, 9)).cycles / seen < 1.25, kind
    one = add_effect(one_strip(60), look_of("candle"), 0, 59, 0, 9)
    both = add_effect(add_effect(one, look_of("chase"), 0, 59, 4, 2), look_of("chase"), 0, 59, 7, 2)
    assert work(both).tick == 160
    assert (work(both).effects, work(both).lights) == (2, 60)
