"""First paint of the demo beside a bare window of the same libraries, in turn, each in a process of its own.

Run by hand: ``.venv/bin/python benchmarks/startup.py``. Needs no display.
"""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import time

RUNS = 7
BARE = """
import numpy
from PySide6.QtWidgets import QApplication, QMainWindow, QWidget
app = QApplication([])
window = QMainWindow()
window.setCentralWidget(QWidget())
window.resize(1280, 800)
window.show()
app.processEvents()
print("painted", flush=True)
"""
OURS = """
import sys
from tiny_lantern.cli import main
main(["open", "--demo", "footbridge", "--timing", "--quit-after-paint"])
"""


MARKS = ("first paint", "build painted", "solved curves", "longest pause")


def marks_of(script: str) -> dict[str, float]:
    """Time from starting a process until each of its lines; of the longest pause the time that it tells. [s]"""
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    environment.pop("PYTHONDONTWRITEBYTECODE", None)
    start = time.perf_counter()
    marks: dict[str, float] = {}
    with subprocess.Popen(
        [sys.executable, "-c", script], stdout=subprocess.PIPE, text=True, env=environment
    ) as process:
        assert process.stdout is not None
        for line in process.stdout:
            name = line.split("  ")[0].strip()
            told = name == "longest pause"
            marks[name] = float(line.split()[-2]) / 1000 if told else time.perf_counter() - start
    return marks


def main() -> None:
    """Print medians, and the ratio of the two first paints."""
    marks_of(BARE), marks_of(OURS)
    runs = [(marks_of(BARE), marks_of(OURS)) for _ in range(RUNS)]
    ratio = statistics.median(ours["first paint"] / bare["painted"] for bare, ours in runs)
    print(f"{'bare window':<16}{statistics.median(bare['painted'] for bare, _ in runs):6.2f} s")
    for name in MARKS:
        print(f"{name:<16}{statistics.median(ours[name] for _, ours in runs):6.2f} s")
    print(f"ratio of the first paints {ratio:.2f}")


if __name__ == "__main__":
    main()
