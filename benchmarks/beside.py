"""Benchmarks of this revision beside those of a former one, run in turn on the same machine.

Each is run by its own revision's script, first then, then now, as often as asked, so that a slow spell of the machine
meets both.

Run by hand: ``.venv/bin/python benchmarks/beside.py REVISION [power drag startup effects ...]``.
"""

from __future__ import annotations

import argparse
import os
import subprocess
import sys
import tempfile
from pathlib import Path

HERE = Path(__file__).parents[1]
USUAL = ("power", "drag", "startup", "effects")


def lines_of(folder: Path, name: str) -> list[str]:
    """What a benchmark of the program in a folder prints; one line of why where it cannot be run."""
    script = folder / "benchmarks" / f"{name}.py"
    if not script.exists():
        return ["there was no such benchmark"]
    environment = {**os.environ, "PYTHONPATH": str(folder), "QT_QPA_PLATFORM": "offscreen"}
    done = subprocess.run(
        [sys.executable, str(script)], cwd=folder, env=environment, capture_output=True, text=True, check=False
    )
    if done.returncode:
        return [*done.stdout.splitlines(), "could not be run: " + done.stderr.strip().splitlines()[-1]]
    return done.stdout.splitlines()


def main() -> None:
    """Print, of each benchmark, what it gave then and what it gives now."""
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("revision", help="the former revision")
    parser.add_argument("names", nargs="*", default=USUAL, help="benchmarks, by the names of their files")
    parser.add_argument("--rounds", type=int, default=1, help="how often both are run in turn")
    asked = parser.parse_args()
    with tempfile.TemporaryDirectory() as room:
        former = Path(room) / "then"
        subprocess.run(
            ["git", "worktree", "add", "--quiet", "--detach", str(former), asked.revision], cwd=HERE, check=True
        )
        try:
            for name in asked.names:
                for _ in range(asked.rounds):
                    for when, folder in (("then", former), ("now", HERE)):
                        for line in lines_of(folder, name):
                            print(f"{name:8} {when:4}  {line}", flush=True)
        finally:
            subprocess.run(["git", "worktree", "remove", "--force", str(former)], cwd=HERE, check=True)


if __name__ == "__main__":
    main()
