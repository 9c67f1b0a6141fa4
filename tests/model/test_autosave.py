"""Drafts that outlive a crash."""

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from tests.support.builds import one_strip
from tiny_lantern.model import autosave
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.store import load, save


def left_by_a_kill(folder: Path, source: Path | None = None) -> None:
    """A draft kept by a process that was then killed."""
    child = os.fork()
    if not child:
        try:
            autosave.DraftKeeper(folder).keep(one_strip(33), source)
        finally:
            os.kill(os.getpid(), signal.SIGKILL)
    os.waitpid(child, 0)


def test_a_draft_of_a_running_program_is_not_offered_and_goes_when_dropped(tmp_path: Path) -> None:
    keeper = autosave.DraftKeeper(tmp_path)
    keeper.keep(one_strip(), None)
    assert list(autosave.left_behind(tmp_path)) == []
    keeper.drop()
    assert list(tmp_path.iterdir()) == []
    keeper.keep(one_strip(7), None)
    keeper.let_go()
    (left,) = autosave.left_behind(tmp_path)
    assert load(left.path) == one_strip(7)


def test_a_program_that_was_killed_leaves_a_draft_with_its_source(tmp_path: Path) -> None:
    left_by_a_kill(tmp_path, tmp_path / "pier.lantern")
    (left,) = autosave.left_behind(tmp_path)
    assert left.source == tmp_path / "pier.lantern"
    assert load(left.path).strips[0].pixel_count == 33
    autosave.discard(left)
    assert list(tmp_path.iterdir()) == []


def test_a_process_number_in_use_again_hides_no_draft(tmp_path: Path) -> None:
    left_by_a_kill(tmp_path)
    for path in list(tmp_path.iterdir()):
        number = path.name.split("-")[1]
        path.rename(path.with_name(path.name.replace(number, str(os.getpid()))))
    assert len(list(autosave.left_behind(tmp_path))) == 1


@pytest.mark.parametrize(
    "note", [None, "not json", "[]", '{"source": 7}', '{"source": "a\\u0000b"}', "[" * 90_000, b"\xff"]
)
def test_a_missing_or_poisoned_note_hides_no_draft_and_stops_nothing(tmp_path: Path, note: str | bytes | None) -> None:
    left_by_a_kill(tmp_path)
    (path,) = tmp_path.glob("*.json")
    path.unlink()
    if note is not None:
        path.write_bytes(note if isinstance(note, bytes) else note.encode())
    (left,) = autosave.left_behind(tmp_path)
    assert left.source is None


def test_a_note_that_is_a_pipe_is_not_waited_for(tmp_path: Path) -> None:
    left_by_a_kill(tmp_path)
    (path,) = tmp_path.glob("*.json")
    path.unlink()
    os.mkfifo(path)
    assert len(list(autosave.left_behind(tmp_path))) == 1


def test_a_draft_older_than_its_file_or_unreadable_is_passed_over_and_stray_files_are_cleared(tmp_path: Path) -> None:
    left_by_a_kill(tmp_path, tmp_path / "pier.lantern")
    gone = subprocess.Popen([sys.executable, "-c", ""])
    gone.wait()
    (tmp_path / f".lantern-{gone.pid}-x.tmp").write_text("half")
    (tmp_path / f".lantern-{os.getpid()}-x.tmp").write_text("under way")
    (tmp_path / "draft-1-0.lantern").write_text("{")
    assert len(list(autosave.left_behind(tmp_path))) == 1
    assert [path.name for path in tmp_path.glob(".lantern-*")] == [f".lantern-{os.getpid()}-x.tmp"]
    time.sleep(0.01)
    save(one_strip(5), tmp_path / "pier.lantern")
    assert list(autosave.left_behind(tmp_path)) == []


def test_a_folder_that_cannot_be_written_is_told(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("")
    with pytest.raises(LanternError, match="no draft can be kept"):
        autosave.DraftKeeper(tmp_path / "file").keep(one_strip(), None)
