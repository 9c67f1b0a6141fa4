"""The helper process: tasks and their results, progress, stopping, and an end that is told."""

import os
import signal
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import numpy as np
import pytest
from pytestqt.qtbot import QtBot

from tests.support.builds import one_strip
from tiny_lantern.findings.judge import judge, mends_of, with_fixes
from tiny_lantern.helper import Helper, HelperGoneError
from tiny_lantern.model.base import with_known_members
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.edits_pieces import change_strip
from tiny_lantern.model.errors import CancelledError, LanternError
from tiny_lantern.ui.background import Background

Progress = Callable[[float], None]
Cancelled = Callable[[], bool]


def work(what: str, progress: Progress, cancelled: Cancelled) -> object:
    """One task of each sort."""
    if what == "refuse":
        raise LanternError("there is no lamp", "lamp", "a lamp")
    if what == "defect":
        raise ZeroDivisionError("oops")
    if what == "end":
        os._exit(1)
    while what == "wait" and not cancelled():
        progress(0.5)
        time.sleep(0.005)
    if cancelled():
        raise CancelledError
    return os.getpid()


def identity_of(build: Build, progress: Progress, cancelled: Cancelled) -> int:
    """Where the helper holds a build's first strip."""
    return id(build.strips[0])


def ends_once(mark: Path, progress: Progress, cancelled: Cancelled) -> str:
    """Ends its process the first time, and is done the second time."""
    if not mark.exists():
        mark.touch()
        os.kill(os.getpid(), signal.SIGKILL)
    return "done"


def test_work_whose_helper_was_killed_is_done_by_another_one(qtbot: QtBot, tmp_path: Path) -> None:
    background, got = Background(), []
    failed: list[Exception] = []
    background.start_task("judge", ends_once, (tmp_path / "mark",), True, got.append, failed.append)
    qtbot.waitUntil(lambda: bool(got or failed), timeout=120_000)
    background.close()
    assert (got, failed) == (["done"], [])


def test_work_that_ends_every_helper_fails_and_does_not_go_on_for_ever(qtbot: QtBot) -> None:
    background = Background()
    failed: list[Exception] = []
    background.start_task("judge", work, ("end",), True, failed.append, failed.append)
    qtbot.waitUntil(lambda: bool(failed), timeout=120_000)
    background.close()
    assert isinstance(failed[0], HelperGoneError)


@pytest.fixture
def helper() -> Iterator[Helper]:
    """A running helper, ended afterwards."""
    made = Helper()
    yield made
    made.close()


def ignore(share: float) -> None:
    """Progress that nobody follows."""


def never() -> bool:
    """Nobody stops it."""
    return False


def test_a_task_runs_in_another_process_and_its_failures_come_back(helper: Helper) -> None:
    assert helper.run(work, ("pid",), ignore, never) != os.getpid()
    with pytest.raises(LanternError, match="there is no lamp"):
        helper.run(work, ("refuse",), ignore, never)
    with pytest.raises(ZeroDivisionError):
        helper.run(work, ("defect",), ignore, never)
    assert helper.run(work, ("pid",), ignore, never)


def test_a_task_tells_its_progress_and_is_stopped(helper: Helper) -> None:
    told: list[float] = []
    with pytest.raises(CancelledError):
        helper.run(work, ("wait",), told.append, lambda: len(told) > 3)
    assert set(told) == {0.5}
    assert helper.run(work, ("pid",), ignore, never), "the next task is not stopped with it"


def test_a_task_is_stopped_that_was_given_up_while_the_helper_was_still_starting(helper: Helper) -> None:
    with pytest.raises(CancelledError):
        helper.run(work, ("wait",), ignore, lambda: True)


def test_a_helper_that_ends_is_told(helper: Helper) -> None:
    with pytest.raises(HelperGoneError):
        helper.run(work, ("end",), ignore, never)
    with pytest.raises(HelperGoneError):
        helper.run(work, ("pid",), ignore, never)


def test_what_it_finds_is_what_is_found_here(helper: Helper) -> None:
    build = one_strip(300)
    here = judge(build, FullWhite(), None, ignore, never)
    there = helper.run(judge, (build, FullWhite(), None), ignore, never).of(build)
    assert there.evidence.build is build
    assert [finding.message for finding in there.findings] == [finding.message for finding in here.findings]
    assert [f.working and f.working.text() for f in there.findings] == [
        f.working and f.working.text() for f in here.findings
    ]
    assert np.array_equal(there.evidence.solved.pair_v, here.evidence.solved.pair_v)
    fixes = helper.run(mends_of, (build, FullWhite(), ()), ignore, never)
    for finding in with_fixes(there.findings, fixes, build):
        if finding.fix and finding.fix.edit:
            assert finding.fix.edit.base is build
            assert finding.fix.edit(build) != build


def test_the_helper_knows_again_what_did_not_change(helper: Helper) -> None:
    build = one_strip(60)
    first = helper.run(identity_of, (build,), ignore, never)
    assert helper.run(identity_of, (build.model_copy(update={"name": "Other"}),), ignore, never) == first
    assert helper.run(identity_of, (change_strip(build, "strip", pixel_count=30),), ignore, never) != first


def test_known_members_are_kept_and_others_are_not() -> None:
    build, other = one_strip(60), one_strip(60)
    kept = with_known_members(other, build)
    assert kept == other
    assert kept.pieces is build.pieces
    longer = with_known_members(change_strip(other, "strip", pixel_count=90), build)
    assert longer.strips[0].pixel_count == 90
    assert longer.feeds[0] is build.feeds[0]
    assert with_known_members(build, None) is build
