"""Memory that arrays give back is kept, and linear algebra keeps to one thread, in the program and in its helper."""

import os
import resource
import subprocess
import sys
from pathlib import Path

import numpy as np

from tests.support.builds import one_strip
from tiny_lantern.model.store import save

ROOT = Path(__file__).parents[1]
CHILD = """
import resource, sys
import numpy as np
from tiny_lantern.memory import keep_freed_memory
if sys.argv[1] == "kept":
    assert keep_freed_memory()
def work():
    for _ in range(50):
        [np.ones(100_000) for _ in range(5)]
work()
before = resource.getrusage(resource.RUSAGE_SELF).ru_minflt
work()
print(resource.getrusage(resource.RUSAGE_SELF).ru_minflt - before)
"""


def faults(how: str) -> int:
    """How many fresh pages a process takes for arrays that it gives back at once."""
    done = subprocess.run([sys.executable, "-c", CHILD, how], capture_output=True, text=True, check=True)
    return int(done.stdout)


def test_pages_are_taken_once() -> None:
    assert resource.getpagesize() <= 65_536
    assert faults("kept") < 0.2 * faults("given back")


THREADS = """
import os, sys
sys.argv = ["tiny-lantern", "solve", sys.argv[1]]
from tiny_lantern.cli import main
assert "numpy" not in sys.modules
main()
import numpy as np
np.linalg.solve(np.eye(900), np.ones(900))
print("threads", len(os.listdir("/proc/self/task")))
from tests.test_memory import threads_there
from tiny_lantern.helper import Helper
helper = Helper()
print("threads", helper.run(threads_there, (), print, lambda: False))
helper.close()
"""


def threads_there(progress: object, cancelled: object) -> int:
    """How many threads a process has once it solved something."""
    np.linalg.solve(np.eye(900), np.ones(900))
    return len(os.listdir("/proc/self/task"))


def test_linear_algebra_takes_one_thread_in_the_program_and_in_its_helper(tmp_path: Path) -> None:
    save(one_strip(60), tmp_path / "strip.lantern")
    environment = {name: value for name, value in os.environ.items() if not name.endswith("_NUM_THREADS")}
    command = [sys.executable, "-c", THREADS, str(tmp_path / "strip.lantern")]
    done = subprocess.run(command, capture_output=True, text=True, check=True, env=environment, cwd=ROOT)
    assert [line for line in done.stdout.splitlines() if line.startswith("threads")] == ["threads 1", "threads 1"]
