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


def seconds_until(script: str, word: str) -> tuple[float, float]:
    """Time from starting a process until a line that begins with a word, and until its last line. [s]"""
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    environment.pop("PYTHONDONTWRITEBYTECODE", None)
    start = time.perf_counter()
    first = last = 0.0
    with subprocess.Popen(
        [sys.executable, "-c", script], stdout=subprocess.PIPE, text=True, env=environment
    ) as process:
        assert process.stdout is not None
        for line in process.stdout:
            last = time.perf_counter() - start
            if line.startswith(word):
                first = last
    return first, last


def main() -> None:
    """Print medians and their ratio."""
    bare, paint, solved = [], [], []
    seconds_until(BARE, "painted")
    seconds_until(OURS, "first paint")
    for _ in range(RUNS):
        bare.append(seconds_until(BARE, "painted")[0])
        first, last = seconds_until(OURS, "first paint")
        paint.append(first)
        solved.append(last - first)
    ratio = statistics.median(p / b for p, b in zip(paint, bare, strict=True))
    print(f"bare window    {statistics.median(bare):6.2f} s to first paint")
    print(f"demo           {statistics.median(paint):6.2f} s to first paint, ratio {ratio:.2f}")
    print(f"solved curves  {statistics.median(solved):6.2f} s later")


if __name__ == "__main__":
    main()
