"""Drafts that outlive a crash."""

import subprocess
import sys
from pathlib import Path

from tests.support.builds import one_strip
from tiny_lantern.model import autosave
from tiny_lantern.model.store import load


def test_a_draft_of_a_living_process_is_not_offered(tmp_path: Path) -> None:
    draft = autosave.draft_for_this_process(tmp_path, None)
    autosave.keep(draft, one_strip())
    assert autosave.left_behind(tmp_path) == []
    autosave.drop(draft)
    assert list(tmp_path.iterdir()) == []


def test_a_process_that_was_killed_leaves_a_draft_with_its_source(tmp_path: Path) -> None:
    script = (
        "import os, sys, signal; from pathlib import Path; from tiny_lantern.model import autosave;"
        "from tests.support.builds import one_strip; folder = Path(sys.argv[1]);"
        "autosave.keep(autosave.draft_for_this_process(folder, folder / 'pier.lantern'), one_strip(33));"
        "os.kill(os.getpid(), signal.SIGKILL)"
    )
    done = subprocess.run([sys.executable, "-c", script, str(tmp_path)], cwd=Path(__file__).parents[2], check=False)
    assert done.returncode == -9
    (left,) = autosave.left_behind(tmp_path)
    assert left.source == tmp_path / "pier.lantern"
    assert load(left.path).strips[0].pixel_count == 33


def test_a_draft_that_cannot_be_read_is_passed_over(tmp_path: Path) -> None:
    (tmp_path / "draft-999999.json").write_text('{"process_id": 999999, "source": null}')
    (tmp_path / "draft-999999.lantern").write_text("{")
    (tmp_path / "draft-999998.json").write_text("not json")
    assert autosave.left_behind(tmp_path) == []
