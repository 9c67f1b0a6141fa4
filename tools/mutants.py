"""Breaks a module of the core in many small ways, one at a time, and lists the breaks that its tests do not notice.

Run from the repository: ``make mutants MODULE=tiny_lantern/light/flash.py TESTS=tests/light MOST=60``. It works in a
scratch copy, with a mutation tool in an environment of its own; the working tree is never touched.
"""

from __future__ import annotations

import argparse
import json
import random
import shutil
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[1]
SCRATCH = ROOT / ".mutants"
TOOL = SCRATCH / "venv" / "bin"
SLOWEST_S = 90
SKIP = """
import sys
from cosmic_ray.work_db import WorkDB, use_db
from cosmic_ray.work_item import WorkerOutcome, WorkResult
kept = set(sys.argv[2:])
with use_db(sys.argv[1], WorkDB.Mode.open) as database:
    for item in database.work_items:
        if item.job_id not in kept:
            database.set_result(item.job_id, WorkResult(worker_outcome=WorkerOutcome.SKIPPED))
"""


def main() -> int:
    """Break, test, and tell; the exit status says whether any break survived."""
    options = _options()
    _ready()
    copy = SCRATCH / options.module.replace("/", "-").removesuffix(".py")
    shutil.rmtree(copy, ignore_errors=True)
    for name in ("tiny_lantern", "tests", "docs", "tools", "benchmarks"):
        shutil.copytree(ROOT / name, copy / name, ignore=shutil.ignore_patterns("__pycache__", "*.png"))
    for name in ("pyproject.toml", "README.md", "CONTRIBUTING.md", "requirements.txt"):
        shutil.copy(ROOT / name, copy / name)
    tests = f"{sys.executable} -m pytest -x -q -p no:cacheprovider {options.tests}"
    if subprocess.run(tests.split(), cwd=copy, check=False, capture_output=True).returncode:
        print("the tests fail before anything is broken", file=sys.stderr)
        return 2
    (copy / "mutants.toml").write_text(
        f'[cosmic-ray]\nmodule-path = "{options.module}"\ntimeout = {SLOWEST_S}.0\nexcluded-modules = []\n'
        f'test-command = "{tests}"\n[cosmic-ray.distributor]\nname = "local"\n',
        encoding="utf-8",
    )
    run(copy, "cosmic-ray", "init", "mutants.toml", "mutants.sqlite")
    jobs = [item["job_id"] for item, _ in dumped(copy) if not changes_a_type(item)]
    kept = jobs if len(jobs) <= options.most else random.Random(options.seed).sample(jobs, options.most)
    run(copy, "python", "-c", SKIP, "mutants.sqlite", *kept)
    run(copy, "cosmic-ray", "exec", "mutants.toml", "mutants.sqlite")
    return told(options.module, [pair for pair in dumped(copy) if pair[0]["job_id"] in set(kept)], len(jobs))


def _options() -> argparse.Namespace:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("module", help="the module to break, e.g. tiny_lantern/light/flash.py")
    parser.add_argument("tests", help="the tests that should notice, e.g. tests/light")
    parser.add_argument("--most", type=int, default=10_000, help="try so many breaks, drawn at random")
    parser.add_argument("--seed", type=int, default=1, help="which ones")
    return parser.parse_args()


def _ready() -> None:
    """Make the tool's environment once."""
    if not (TOOL / "cosmic-ray").exists():
        subprocess.run([sys.executable, "-m", "venv", str(SCRATCH / "venv")], check=True)
        wanted = str(ROOT / "requirements-mutants.txt")
        subprocess.run([str(TOOL / "pip"), "install", "-q", "-r", wanted], check=True)


def run(copy: Path, tool: str, *arguments: str) -> str:
    """What a command of the tool's environment prints."""
    command = [str(TOOL / tool), *arguments]
    return subprocess.run(command, cwd=copy, check=True, capture_output=True, text=True).stdout


def dumped(copy: Path) -> list[tuple[dict, dict | None]]:
    """Every break with its outcome."""
    lines = run(copy, "cosmic-ray", "dump", "mutants.sqlite").splitlines()
    return [tuple(json.loads(line)) for line in lines if line.strip()]


def changes_a_type(item: dict) -> bool:
    """Whether a break is most likely one of ``int | None`` in an annotation, which nothing evaluates."""
    return item["mutations"][0]["operator_name"].startswith("core/ReplaceBinaryOperator_BitOr")


def told(module: str, tried: list[tuple[dict, dict | None]], all_of_them: int) -> int:
    """Print the survivors with what was changed, and the share that was noticed."""
    survivors = [(item, result) for item, result in tried if result and result["test_outcome"] == "survived"]
    for item, result in survivors:
        at = item["mutations"][0]
        print(f"\n{module}:{at['start_pos'][0]} survived {at['operator_name'].removeprefix('core/')}")
        lines = (result["diff"] or "").splitlines()
        changed = [line for line in lines if line[:1] in "+-" and line[:3] not in ("+++", "---")]
        print("\n".join(f"    {line}" for line in changed))
    noticed = len(tried) - len(survivors)
    share = noticed / max(1, len(tried))
    print(f"\n{module}: {noticed} of {len(tried)} breaks noticed ({share:.0%}), of {all_of_them} possible")
    return bool(survivors)


if __name__ == "__main__":
    sys.exit(main())
