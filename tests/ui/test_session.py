"""The session without a window: one way to change, previews, selection, background work."""

import threading
import time
from collections.abc import Callable, Iterator
from functools import partial

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pytestqt.qtbot import QtBot

from tests.support.builds import builds, one_strip
from tests.support.effort import some
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import FrameLoad, FullWhite, LevelLoad
from tiny_lantern.model.edits_pieces import change_strip, duplicate_piece, move_piece, remove_piece, toggle_cut
from tiny_lantern.model.edits_power import move_feed, remove_feed
from tiny_lantern.model.edits_show import add_effect, nudge_effect
from tiny_lantern.model.effects import LOOKS, look_of
from tiny_lantern.model.errors import CancelledError, LanternError, told_plainly
from tiny_lantern.model.store import dumps, loads
from tiny_lantern.plans.feeds import plan_feeds
from tiny_lantern.ui import warm_up
from tiny_lantern.ui.background import Background
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.history import MOST_STEPS, History
from tiny_lantern.ui.session import Session, ShortPlace


@pytest.fixture
def session(qtbot: QtBot) -> Iterator[Session]:
    """A session on one strip, solved."""
    made = Session(one_strip(60))
    made.warm_up()
    qtbot.waitUntil(lambda: made.solved is not None)
    yield made
    made.close()


def shorter(pixels: int) -> Callable:
    """An edit that changes the length."""
    return partial(change_strip, strip_id="strip", pixel_count=pixels)


def test_an_edit_is_one_step_that_is_told_and_solved(session: Session) -> None:
    told: list[str] = []
    session.said.connect(told.append)
    assert session.apply("Shortened", shorter(30))
    assert session.build.strips[0].pixel_count == 30
    assert session.solved.build is session.build
    assert told == ["Shortened. Ctrl+Z takes it back."]
    session.undo()
    assert session.build.strips[0].pixel_count == 60
    assert told[-1] == "Took back: Shortened."
    session.redo()
    assert session.build.strips[0].pixel_count == 30


def test_an_edit_that_changes_nothing_is_no_step(session: Session) -> None:
    assert not session.apply("Nothing", shorter(60))
    assert session.history.undo_label is None


def test_a_refused_edit_is_told_in_words_and_changes_nothing(session: Session) -> None:
    refused: list[LanternError] = []
    session.refused.connect(refused.append)
    before = session.build
    assert not session.apply("Impossible", shorter(0))
    assert not session.apply("Nowhere", partial(move_feed, feed_id="gone", position_m=0))
    assert not session.apply("Broken", partial(change_strip, strip_id="strip", colour_order="RRR"))
    assert session.build is before
    assert "pixel_count" in refused[0].where
    assert "there is no feed" in refused[1].what
    assert "use each of" in refused[2].what


def test_a_defect_in_an_edit_is_no_refusal_and_the_build_is_kept(session: Session) -> None:
    told: list[Exception] = []
    session.refused.connect(told.append)
    before = session.build
    for act in (partial(session.apply, "Broken"), session.preview):
        with pytest.raises(ValueError, match="invalid literal"):
            act(lambda build: int("seven"))
    assert told == []
    assert session.build is before
    assert session.history.undo_label is None


def test_a_preview_is_shown_and_solved_but_no_step_until_committed(session: Session) -> None:
    before = session.build
    for place in (0.2, 0.4, 0.6):
        session.preview(partial(move_feed, feed_id="feed", position_m=place))
    assert session.dragging
    assert session.solved.build is session.build
    assert session.history.undo_label is None
    session.commit("Moved")
    assert not session.dragging
    assert session.history.undo_label == "Moved"
    session.undo()
    assert session.build == before
    session.preview(shorter(9))
    session.drop_preview()
    assert session.build == before


def test_a_preview_that_is_refused_leaves_the_last_good_one(session: Session) -> None:
    session.preview(shorter(30))
    session.preview(shorter(0))
    assert session.build.strips[0].pixel_count == 30
    session.drop_preview()


def test_what_is_selected_is_dropped_when_it_is_gone(session: Session) -> None:
    session.select_slot(50)
    session.select("feeds", "feed")
    assert session.selection.one("pieces") == "strip"
    session.apply("Shortened", shorter(30))
    assert session.slot is None
    assert session.selection.one("feeds") == "feed"
    told: list[int] = []
    session.selection_changed.connect(lambda: told.append(1))
    session.select("feeds", "feed")
    assert told == []


def test_the_load_follows_the_caret_only_when_it_is_the_caret_frame(session: Session) -> None:
    session.apply("Lit", lambda b: add_effect(b, look_of("steady", colour="#ffffff"), 0, 59, 10, 10))
    white = session.solved.solution.runs["strip"].pixel_v.min()
    session.set_load(FrameLoad(time_s=0))
    dark = session.solved.solution.runs["strip"].pixel_v.min()
    assert dark > white
    session.set_time(15)
    assert session.solved.solution.runs["strip"].pixel_v.min() == pytest.approx(white)
    session.set_load(LevelLoad(level=0.5))
    level = session.solved
    session.set_time(5)
    assert session.solved is level
    session.set_time(1e9)
    assert session.time_s == session.build.show_s


def test_findings_follow_the_build_a_moment_later(session: Session, qtbot: QtBot) -> None:
    qtbot.waitUntil(lambda: session.evidence is not None)
    session.apply("Longer", shorter(500))
    qtbot.waitUntil(lambda: session.evidence.build is session.build)
    assert any(finding.code == "pixel-voltage" for finding in session.findings)


def test_the_shows_current_follows_too(session: Session, qtbot: QtBot) -> None:
    session.apply("Lit", lambda b: add_effect(revise(b, show_s=2.0), look_of("steady", colour="#ffffff"), 0, 59, 0, 2))
    qtbot.waitUntil(lambda: session.draw is not None)
    assert session.draw.total_a.max() == pytest.approx(60 * 0.0368, rel=1e-3)


def test_opening_another_build_forgets_everything_of_the_last(session: Session, qtbot: QtBot) -> None:
    qtbot.waitUntil(lambda: bool(session.findings))
    session.select_slot(3)
    session.apply("Shortened", shorter(30))
    session.open(one_strip(12))
    assert session.history.undo_label is None
    assert session.slot is None
    assert session.findings == []
    assert session.time_s == 0


EDITS = (
    lambda b, n: change_strip(b, b.strips[0].id, pixel_count=1 + n % 50),
    lambda b, n: duplicate_piece(b, b.strips[n % len(b.strips)].id),
    lambda b, n: move_piece(b, b.strips[0].id, 1),
    lambda b, n: remove_piece(b, b.strips[n % len(b.strips)].id) if len(b.strips) > 1 else b,
    lambda b, n: move_feed(b, b.feeds[0].id, n / 20) if b.feeds else b,
    lambda b, n: remove_feed(b, b.feeds[-1].id) if b.feeds else b,
    lambda b, n: add_effect(b, LOOKS[n % len(LOOKS)], 0, n, n / 7, 1 + n / 9),
    lambda b, n: nudge_effect(b, b.effects[0].id, n - 20, n / 3) if b.effects else b,
    lambda b, n: (
        toggle_cut(b, b.strips[0].id, 1 + n % (b.strips[0].pixel_count - 1)) if b.strips[0].pixel_count > 1 else b
    ),
)


@some(30)
@given(builds(), st.lists(st.tuples(st.sampled_from(EDITS), st.integers(0, 40)), max_size=15))
def test_undo_all_the_way_returns_the_identical_build_whatever_was_done(build, steps) -> None:
    session = Session(build)
    ends = [build]
    for number, (edit, size) in enumerate(steps):
        if session.apply(f"edit {number}", lambda b, edit=edit, size=size: edit(b, size)):
            ends.append(session.build)
        assert loads(dumps(session.build)) == session.build
    for wanted in reversed(ends[:-1]):
        session.undo()
        assert session.build is wanted
    assert session.history.undo_label is None
    for wanted in ends[1:]:
        session.redo()
        assert session.build is wanted
    session.close()


def test_history_keeps_a_bounded_number_of_steps_and_forgets_the_undone() -> None:
    history = History(one_strip(1))
    for pixels in range(2, MOST_STEPS + 20):
        history.push(str(pixels), one_strip(pixels) if pixels < 4 else history.current)
    undone = 0
    while history.undo():
        undone += 1
    assert undone == MOST_STEPS
    history.push("new", one_strip(7))
    assert history.redo_label is None


class TestBackground:
    """Work in threads."""

    @pytest.fixture
    def background(self, qtbot: QtBot) -> Iterator[Background]:
        made = Background()
        yield made
        made.close()

    def test_results_come_back_into_the_windows_thread(self, background: Background, qtbot: QtBot) -> None:
        got: list[object] = []
        shares: list[float] = []
        background.progressed.connect(lambda kind, share: shares.append(share))

        def work(progress, cancelled):
            progress(0.5)
            return 42

        background.start("sum", work, got.append, got.append)
        assert background.running("sum")
        qtbot.waitUntil(lambda: got == [42])
        assert not background.running("sum")
        assert shares == [0.5]

    def test_newer_work_of_a_kind_supersedes_the_older(self, background: Background, qtbot: QtBot) -> None:
        got: list[object] = []

        def slow(progress, cancelled):
            end = time.monotonic() + 120
            while not cancelled() and time.monotonic() < end:
                time.sleep(0.005)
            if cancelled():
                raise CancelledError
            return "old"

        background.start("solve", slow, got.append, got.append)
        background.start("solve", lambda *_: "new", got.append, got.append)
        qtbot.waitUntil(lambda: bool(got))
        background.close()
        assert got == ["new"]

    def test_a_refusal_and_a_defect_are_handed_on(self, background: Background, qtbot: QtBot, caplog) -> None:
        failed: list[Exception] = []

        def refuse(*_):
            raise LanternError("no", "here", "yes")

        def defect(*_):
            raise ZeroDivisionError("oops")

        background.start("one", refuse, failed.append, failed.append)
        qtbot.waitUntil(lambda: len(failed) == 1)
        background.start("two", defect, failed.append, failed.append)
        qtbot.waitUntil(lambda: len(failed) == 2)
        assert told_plainly(failed[0]) is failed[0]
        assert "a defect in the program (ZeroDivisionError: oops)" in told_plainly(failed[1]).what
        assert "ZeroDivisionError" in caplog.text

    def test_cancelled_work_says_nothing(self, background: Background, qtbot: QtBot) -> None:
        got: list[object] = []
        ended: list[str] = []
        background.ended.connect(ended.append)
        background.start("wait", lambda p, cancelled: time.sleep(0.05), got.append, got.append)
        assert background.cancel("wait")
        assert not background.cancel("wait")
        background.close()
        qtbot.wait(20)
        assert got == []
        assert ended == ["wait"]

    def test_nothing_is_started_once_it_is_closed(self, background: Background) -> None:
        ran: list[bool] = []
        background.close()
        background.start("late", lambda *_: ran.append(True), ran.append, ran.append)
        background.close()
        assert not background.running("late")
        assert ran == []


def test_the_warm_up_loads_outside_the_windows_thread(qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    loaded: dict[str, threading.Thread] = {}
    monkeypatch.setattr(warm_up, "import_module", lambda name: loaded.update({name: threading.current_thread()}))
    session = Session(one_strip())
    session.warm_up()
    qtbot.waitUntil(lambda: warm_up.FOR_LATER[-1] in loaded)
    session.close()
    assert threading.main_thread() not in loaded.values()


def test_a_search_that_comes_too_late_changes_nothing(opened, qtbot: QtBot) -> None:
    shell = opened(demo_build("footbridge"))
    build = shell.session.build
    plans = plan_feeds(build, "west-rail", FullWhite())
    shell.session.apply("Renamed", lambda b: revise(b, name="Another"))
    now = shell.session.build
    shell.long_work._offer(build, plans)
    assert shell.long_work.cards is None
    shell.long_work._take(build, plans[0])
    shell.long_work._take_all(build, 2, plans[0].apply(build))
    assert shell.session.build is now
    assert "search again" in shell.transport.status.toolTip()
    shell.long_work._take(now, plan_feeds(now, "west-rail", FullWhite())[0])
    assert len(shell.session.build.feeds) > len(now.feeds)


def test_what_the_show_drew_on_other_copper_is_not_taken(session: Session) -> None:
    before = session.build
    session.apply("Thinner", partial(change_strip, strip_id="strip", rail_pos_ohm_per_m=0.4))
    session.draw = None
    session._take_draw(before, object())
    assert session.draw is None
    session._take_draw(session.build, None)
    kept = object()
    session._take_draw(revise(session.build, name="another name"), kept)
    assert session.draw is kept


def test_what_is_gone_is_let_go_of_before_anybody_is_told(session: Session) -> None:
    """A strip that was selected and had a short on it goes: whoever hears of the short finds no light selected."""
    session.select_slot(10)
    session.try_short(ShortPlace("strip", 5))
    heard: list[int | None] = []
    session.short_changed.connect(lambda: heard.append(session.slot))
    session.apply("Removed", partial(remove_piece, piece_id="strip"))
    assert heard == [None]
    assert session.short is None
