"""Memory that arrays give back is kept: fresh pages are not taken again and again."""

import resource
import subprocess
import sys

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
