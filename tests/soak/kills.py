"""By hand: kill the program hundreds of times while it saves, and count what is lost.

    python tests/soak/kills.py [KILLS]

Three ways of working are killed in turn: a storm of saves, edits at a person's pace, and edits without a pause. After
each kill the file must be whole, and file and draft together may lack at most two seconds of edits.
"""

from __future__ import annotations

import os
import random
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path

ROOT = Path(__file__).parents[2]
MOST_LOST_S = 2.0
WAYS = {"save storm": 0.0, "human pace": 0.4, "continuous": 0.004}
WORKER = """
import sys, time
from pathlib import Path
from PySide6.QtWidgets import QApplication
from tests.support.builds import one_strip
from tiny_lantern.model.edits import change_build
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.opening import open_window
folder, pause, storm = Path(sys.argv[1]), float(sys.argv[2]), sys.argv[3] == "save storm"
app = QApplication([])
window, shell = open_window(Session(one_strip(20)), folder / "drafts")
shell.files.save_to(folder / "build.lantern")
print("ready", flush=True)
while True:
    shell.session.apply("edit", lambda b: change_build(b, notes=repr(time.time())))
    print(time.time(), flush=True)
    if storm:
        shell.files.save_to(folder / "build.lantern")
    until = time.time() + pause
    app.processEvents()
    while time.time() < until:
        app.processEvents()
        time.sleep(0.002)
"""


def killed_once(way: str, folder: Path) -> float:
    """Run, kill at a random moment, and give how many seconds of edits are lost.

    Raises:
        AssertionError: the file is broken.
    """
    from tiny_lantern.model.autosave import left_behind
    from tiny_lantern.model.store import load

    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "PYTHONPATH": str(ROOT)}
    command = [sys.executable, "-c", WORKER, str(folder), str(WAYS[way]), way]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env=environment, cwd=ROOT) as process:
        assert process.stdout is not None
        assert process.stdout.readline().strip() == "ready"
        time.sleep(random.uniform(0.2, 3.0))
        process.send_signal(signal.SIGKILL)
        edits = [float(line) for line in process.stdout.read().splitlines() if line.endswith(tuple("0123456789"))]
    kept = [load(folder / "build.lantern").notes, *(load(draft.path).notes for draft in left_behind(folder / "drafts"))]
    latest = max((float(notes) for notes in kept if notes), default=0.0)
    lost = [edit for edit in edits if edit > latest + 1e-3]
    return edits[-1] - lost[0] if lost else 0.0


def main() -> int:
    """Kill so many times; 1 when more is lost than may be."""
    sys.path.insert(0, str(ROOT))
    kills = int(sys.argv[1]) if len(sys.argv) > 1 else 500
    worst = dict.fromkeys(WAYS, 0.0)
    for number in range(kills):
        way = list(WAYS)[number % len(WAYS)]
        with tempfile.TemporaryDirectory() as folder:
            worst[way] = max(worst[way], killed_once(way, Path(folder)))
    for way, lost in worst.items():
        print(f"{way}: at most {lost:.2f} s of edits lost in {kills // len(WAYS)} kills")
    return int(max(worst.values()) > MOST_LOST_S)


if __name__ == "__main__":
    sys.exit(main())
