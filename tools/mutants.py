"""Breaks a module of the core in many small ways, one at a time, and lists the breaks that its tests do not notice.

Run from the repository: ``make mutants MODULE=tiny_lantern/light/flash.py MOST=60``. It works in a scratch copy, with a
mutation tool in an environment of its own; the working tree is never touched. Which tests run which line is found out
first, by running them once; of a break only those are run again that come past it, those of the module's own folder
first. With ``TESTS=tests/light`` only these count.
"""

from __future__ import annotations

import argparse
import difflib
import json
import shutil
import subprocess
import sys
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path

from coverage import CoverageData

ROOT = Path(__file__).parents[1]
SCRATCH = ROOT / ".mutants"
TOOL = SCRATCH / "venv" / "bin"
SLOWEST_S = 150
MOST_TESTS = 80
HEADLESS = "tests --ignore tests/ui"
PYTEST = (sys.executable, "-m", "pytest", "-q", "-x", "-p", "no:cacheprovider")
BREAKS = """
import json, random, sys
from pathlib import Path
from cosmic_ray.ast import ast_nodes, get_ast
from cosmic_ray.mutating import mutate_code
from cosmic_ray.plugins import get_operator, operator_names
source, most, seed = Path(sys.argv[1]).read_text(), int(sys.argv[2]), int(sys.argv[3])
nodes, found = list(ast_nodes(get_ast(source))), []
for name in sorted(operator_names()):
    if "BitOr_" in name or "Variable" in name:  # ``int | None`` in annotations; experiments
        continue
    at = [place[0][0] for node in nodes for place in get_operator(name)().mutation_positions(node)]
    found += [(name, number, line) for number, line in enumerate(at)]
for name, number, line in random.Random(seed).sample(found, min(most, len(found))):
    broken = mutate_code(source, get_operator(name)(), number)
    if broken not in (None, source):
        print(json.dumps([name, line, broken]))
"""


@dataclass(frozen=True)
class Break:
    """One break: the kind, the line, and the module with it."""

    kind: str
    line: int
    text: str


def main() -> int:
    """Break, test, and tell; the exit status says whether any break survived."""
    options = _options()
    _ready()
    copy = _copied(options.module)
    by_line = tests_by_line(copy, options.module, options.tests)
    breaks = _breaks(copy / options.module, options.most, options.seed)
    survivors = [each for each in breaks if not noticed(copy, options.module, each, by_line)]
    source = (copy / options.module).read_text(encoding="utf-8")
    for each in survivors:
        changed = difflib.unified_diff(source.splitlines(), each.text.splitlines(), n=0, lineterm="")
        lines = [line for line in changed if line[:1] in "+-" and line[:3] not in ("+++", "---")]
        print(f"\n{options.module}:{each.line} survived {each.kind.removeprefix('core/')}")
        print("\n".join(f"    {line}" for line in lines))
    count = len(breaks) - len(survivors)
    print(f"\n{options.module}: {count} of {len(breaks)} breaks noticed ({count / max(1, len(breaks)):.0%})")
    return bool(survivors)


def _options() -> argparse.Namespace:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("module", help="the module to break, e.g. tiny_lantern/light/flash.py")
    parser.add_argument("tests", nargs="?", default=HEADLESS, help="the tests that should notice, e.g. tests/light")
    parser.add_argument("--most", type=int, default=10_000, help="try so many breaks, drawn at random")
    parser.add_argument("--seed", type=int, default=1, help="which ones")
    return parser.parse_args()


def _ready() -> None:
    """Make the tool's environment once."""
    if not (TOOL / "cosmic-ray").exists():
        subprocess.run([sys.executable, "-m", "venv", str(SCRATCH / "venv")], check=True)
        wanted = str(ROOT / "requirements-mutants.txt")
        subprocess.run([str(TOOL / "pip"), "install", "-q", "-r", wanted], check=True)


def _copied(module: str) -> Path:
    """A copy of what the tests need."""
    copy = SCRATCH / module.replace("/", "-").removesuffix(".py")
    shutil.rmtree(copy, ignore_errors=True)
    for name in ("tiny_lantern", "tests", "docs", "tools", "benchmarks", "desktop"):
        shutil.copytree(ROOT / name, copy / name, ignore=shutil.ignore_patterns("__pycache__", "*.png"))
    for path in (*ROOT.glob("*.md"), *ROOT.glob("*.txt"), ROOT / "pyproject.toml", ROOT / "Makefile"):
        shutil.copy(path, copy / path.name)
    return copy


def tests_by_line(copy: Path, module: str, tests: str) -> Mapping[int, Sequence[str]]:
    """Of each line of a module the tests that run it; under 0 all that come into the module.

    Raises:
        SystemExit: the tests fail before anything is broken.
    """
    settings = f"[run]\ninclude = {module}\ndynamic_context = test_function\ndata_file = lines\n"
    (copy / "lines.ini").write_text(settings, encoding="utf-8")
    command = [sys.executable, "-m", "coverage", "run", "--rcfile=lines.ini", *PYTEST[1:], *tests.split()]
    done = subprocess.run(command, cwd=copy, check=False, capture_output=True, text=True)
    if done.returncode:
        raise SystemExit(f"the tests fail before anything is broken:\n{done.stdout[-2000:]}")
    data = CoverageData(str(copy / "lines"))
    data.read()
    file = next((name for name in data.measured_files() if name.endswith(module)), "")
    own = f"tests/{module.split('/')[1]}/"
    found = {}
    for line, contexts in data.contexts_by_lineno(file).items():
        nodes = {node for node in (_node(copy, context) for context in contexts if context) if node}
        found[line] = sorted(nodes, key=lambda node: (not node.startswith(own), node))
    found[0] = sorted({node for nodes in found.values() for node in nodes})
    return found


def _node(copy: Path, context: str) -> str | None:
    """A test as the runner names it: ``tests.light.test_light.TestA.test_b`` by its file."""
    parts = context.split(".")
    for count in range(len(parts) - 1, 0, -1):
        path = "/".join(parts[:count]) + ".py"
        if (copy / path).exists():
            return "::".join([path, *parts[count:]])
    return None


def _breaks(module: Path, most: int, seed: int) -> list[Break]:
    command = [str(TOOL / "python"), "-c", BREAKS, str(module), str(most), str(seed)]
    lines = subprocess.run(command, check=True, capture_output=True, text=True).stdout.splitlines()
    return [Break(*json.loads(line)) for line in lines]


def noticed(copy: Path, module: str, each: Break, by_line: Mapping[int, Sequence[str]]) -> bool:
    """Whether a test fails, or none ends, with a break in the module."""
    tests = (by_line.get(each.line) or by_line[0])[:MOST_TESTS]
    path = copy / module
    sound = path.read_text(encoding="utf-8")
    path.write_text(each.text, encoding="utf-8")
    try:
        done = subprocess.run([*PYTEST, *tests], cwd=copy, check=False, capture_output=True, timeout=SLOWEST_S)
    except subprocess.TimeoutExpired:
        return True
    finally:
        path.write_text(sound, encoding="utf-8")
    return bool(tests) and done.returncode != 0


if __name__ == "__main__":
    sys.exit(main())
