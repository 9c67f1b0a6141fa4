"""Verdicts on the show's ends and on memory, from both sides."""

import numpy as np

from tests.findings.test_findings import found, to_and_fro
from tests.support.builds import one_strip
from tests.support.driven import driven, lamps, lit
from tiny_lantern.code.files import size_of
from tiny_lantern.code.score import score_of
from tiny_lantern.model.base import revise
from tiny_lantern.model.edits import change_build, change_parts
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.show.weave import render


def test_lights_stay_lit_only_where_the_last_frame_is_held_and_lit() -> None:
    whole = lit(one_strip(5), length_s=60.0)
    assert "5 lights" in found(change_build(whole, after_end="hold"))["stays-lit"].title
    assert "stays-lit" not in found(whole), "it plays again"
    assert "stays-lit" not in found(change_build(whole, after_end="dark"))
    assert "stays-lit" not in found(change_build(lit(one_strip(5), length_s=59.0), after_end="hold"))


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
    needs = size_of(score, score.slices[0])
    part = build.shelf.of(BoardPart)[0]
    for field, needed in (("memory_bytes", needs.ram_bytes), ("flash_bytes", needs.flash_bytes)):
        assert "code-memory" not in found(change_parts(build, revise(part, **{field: needed})))
        over = found(change_parts(build, revise(part, **{field: needed - 3})))["code-memory"]
        assert "3 too many" in over.message
