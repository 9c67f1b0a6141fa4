"""Breaks modules of the core in many small ways, one at a time, and lists the breaks that no test notices.

Run from the repository: ``make mutants MODULE=tiny_lantern/light/flash.py MOST=60``; a folder is broken as one, and
there may be several names between quotes. It works in scratch copies, with a mutation tool in an environment of its
own; the working tree is never touched. ``strict=`` and ``frozen=``, which only guard, are left as they are.

Which tests run which line, and how long they take, is found out first, by running all of them once; of a break only
those are run again that come past it: those of the module's own folder first, then the quicker ones. With
``TESTS=tests/light`` only these count. Breaks that change nothing are listed, with reasons, in ``breaks_alike.toml``.
"""

from __future__ import annotations

import argparse
import difflib
import json
import os
import queue
import shutil
import subprocess
import sys
import tomllib
from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

from coverage import CoverageData

ROOT = Path(__file__).parents[1]
SCRATCH = ROOT / ".mutants"
ALIKE = Path(__file__).with_name("breaks_alike.toml")
TOOL = SCRATCH / "venv" / "bin"
LONGEST_S = 150.0  # of sound tests, for one break
AT_ONCE = 2
TESTS = ("tests --ignore tests/ui --ignore tests/soak", "tests/ui")
PYTEST = ("-m", "pytest", "-q", "-p", "no:cacheprovider")
BREAKS = """
import json, random, sys
from pathlib import Path
from cosmic_ray.ast import ast_nodes, get_ast
from cosmic_ray.mutating import mutate_code
from cosmic_ray.plugins import get_operator, operator_names
most, seed, modules = int(sys.argv[1]), int(sys.argv[2]), sys.argv[3:]
sources, found = {module: Path(module).read_text() for module in modules}, []
for module, source in sources.items():
    nodes = list(ast_nodes(get_ast(source)))
    lines = enumerate(source.splitlines(), 1)
    guards = [number for number, line in lines if "strict=True" in line or "frozen=" in line]
    for name in sorted(operator_names()):
        # ``int | None`` in annotations; experiments; what is the same thing is equal
        if any(some in name for some in ("BitOr_", "Variable", "Is_Eq", "IsNot_NotEq")):
            continue
        at = [place[0][0] for node in nodes for place in get_operator(name)().mutation_positions(node)]
        places = [(module, name, number, line) for number, line in enumerate(at)]
        found += [one for one in places if "TrueWithFalse" not in name or one[3] not in guards]
for module, name, number, line in random.Random(seed).sample(found, min(most, len(found))):
    broken = mutate_code(sources[module], get_operator(name)(), number)
    if broken not in (None, sources[module]):
        print(json.dumps([module, name, line, broken]))
"""


@dataclass(frozen=True)
class Break:
    """One break: the module, the kind, the line, and the module's text with it."""

    module: str
    kind: str
    line: int
    text: str


@dataclass(frozen=True)
class Tests:
    """What the sound tests told: of each module's lines the tests that run them (under 0: all), and each one's time."""

    by_line: Mapping[tuple[str, int], frozenset[str]]
    seconds: Mapping[str, float]

    def of(self, each: Break) -> list[str]:
        """The tests that may notice a break: as many as are over in some minutes, the likeliest first."""
        own = f"tests/{each.module.split('/')[1]}/"
        nodes = self.by_line.get((each.module, each.line)) or self.by_line.get((each.module, 0), frozenset())
        chosen, left = [], LONGEST_S
        for node in sorted(nodes, key=lambda node: (not node.startswith(own), self.seconds.get(node, 0.0), node)):
            left -= self.seconds.get(node, 0.0)
            if chosen and left < 0.0:
                break
            chosen.append(node)
        return chosen


def main() -> int:
    """Break, test, and tell; the exit status says whether any break survived."""
    options = _options()
    _ready()
    copies = [_copied(number) for number in range(AT_ONCE)]
    modules = {name: [str(path.relative_to(ROOT)) for path in _files(ROOT / name)] for name in options.names}
    drawn = [each for few in modules.values() for each in _breaks(copies[0], few, options.most, options.seed)]
    alike = _alike(copies[0])
    breaks = [each for each in drawn if (each.module, *_lines(copies[0], each)) not in alike]
    print(f"{len(drawn) - len(breaks)} of {len(drawn)} breaks change nothing", flush=True)
    tests = sound_tests(copies[0], [module for few in modules.values() for module in few], options.tests)
    free: queue.SimpleQueue[Path] = queue.SimpleQueue()
    for copy in copies:
        free.put(copy)
    with ThreadPoolExecutor(AT_ONCE) as pool:
        seen = list(pool.map(lambda each: _tried(free, each, tests), breaks))
    out_of = Counter(each.module for each in breaks)
    of = Counter(each.module for each, noticed in zip(breaks, seen, strict=True) if noticed)
    print()
    for name, few in modules.items():
        for module in few:
            print(f"{module}: {of[module]} of {out_of[module]}")
        count, total = sum(of[module] for module in few), sum(out_of[module] for module in few)
        print(f"{name}: {count} of {total} breaks noticed ({count / max(1, total):.0%})\n")
    return of.total() < out_of.total()


def _options() -> argparse.Namespace:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("names", nargs="+", help="modules or folders to break, e.g. tiny_lantern/light/flash.py")
    parser.add_argument("--tests", nargs="*", default=TESTS, help="the tests that should notice, e.g. tests/light")
    parser.add_argument("--most", type=int, default=10_000, help="try so many breaks of each name, drawn at random")
    parser.add_argument("--seed", type=int, default=1, help="which ones")
    return parser.parse_args()


def _ready() -> None:
    """Make the tool's environment once."""
    if not (TOOL / "cosmic-ray").exists():
        subprocess.run([sys.executable, "-m", "venv", str(SCRATCH / "venv")], check=True)
        wanted = str(ROOT / "requirements-mutants.txt")
        subprocess.run([str(TOOL / "pip"), "install", "-q", "-r", wanted], check=True)


def _files(path: Path) -> Sequence[Path]:
    return sorted(path.rglob("*.py")) if path.is_dir() else [path]


def _copied(number: int) -> Path:
    """A copy of what the tests need."""
    copy = SCRATCH / f"copy-{number}"
    shutil.rmtree(copy, ignore_errors=True)
    for name in ("tiny_lantern", "tests", "docs", "tools", "benchmarks", "desktop"):
        shutil.copytree(ROOT / name, copy / name, ignore=shutil.ignore_patterns("__pycache__", "*.png"))
    for path in (*ROOT.glob("*.md"), *ROOT.glob("*.txt"), ROOT / "pyproject.toml", ROOT / "Makefile"):
        shutil.copy(path, copy / path.name)
    return copy


def sound_tests(copy: Path, modules: Sequence[str], tests: Sequence[str]) -> Tests:
    """What the tests tell of themselves while nothing is broken; one that fails in a copy counts for nothing."""
    with ThreadPoolExecutor(AT_ONCE) as pool:
        told = list(pool.map(lambda part: _sound_part(copy, modules, *part), enumerate(tests)))
    by_line: defaultdict[tuple[str, int], frozenset[str]] = defaultdict(frozenset)
    for each in told:
        for place, nodes in each.by_line.items():
            by_line[place] |= nodes
    return Tests(by_line, {node: taken for each in told for node, taken in each.seconds.items()})


def _sound_part(copy: Path, modules: Sequence[str], number: int, tests: str) -> Tests:
    include = "".join(f"\n    {module}" for module in modules)
    settings = f"[run]\ninclude ={include}\ndata_file = lines-{number}\n"
    (copy / f"lines-{number}.ini").write_text(settings, encoding="utf-8")
    command = [sys.executable, "-m", "coverage", "run", f"--rcfile=lines-{number}.ini", *PYTEST, "-p", "tools.by_test"]
    told = copy / f"times-{number}.json"
    subprocess.run(
        [*command, *tests.split()], cwd=copy, check=False, capture_output=True, env={**os.environ, "BY_TEST": str(told)}
    )
    times = json.loads(told.read_text(encoding="utf-8"))
    for node in times["failed"]:
        print(f"{node} fails before anything is broken", flush=True)
    data, failed = CoverageData(str(copy / f"lines-{number}")), frozenset(times["failed"])
    data.read()
    by_line: defaultdict[tuple[str, int], frozenset[str]] = defaultdict(frozenset)
    for file in data.measured_files():
        module = str(Path(file).relative_to(copy))
        for line, nodes in data.contexts_by_lineno(file).items():
            by_line[module, line] |= frozenset(filter(None, nodes)) - failed
            by_line[module, 0] |= by_line[module, line]
    return Tests(by_line, times["seconds"])


def _breaks(copy: Path, modules: Sequence[str], most: int, seed: int) -> list[Break]:
    command = [str(TOOL / "python"), "-c", BREAKS, str(most), str(seed), *modules]
    done = subprocess.run(command, cwd=copy, check=True, capture_output=True, text=True)
    return [Break(*json.loads(line)) for line in done.stdout.splitlines()]


def _tried(free: queue.SimpleQueue[Path], each: Break, tests: Tests) -> bool:
    copy = free.get()
    try:
        noticed = notices(copy, each, tests)
        if not noticed:
            _tell(copy, each)
    finally:
        free.put(copy)
    return noticed


def notices(copy: Path, each: Break, tests: Tests) -> bool:
    """Whether a test fails with a break in its module, or takes three times as long as it should."""
    nodes = tests.of(each)
    path = copy / each.module
    sound = path.read_text(encoding="utf-8")
    path.write_text(each.text, encoding="utf-8")
    longest = 30.0 + 3.0 * sum(tests.seconds.get(node, 0.0) for node in nodes)
    try:
        done = subprocess.run(
            [sys.executable, *PYTEST, "-x", *nodes], cwd=copy, check=False, capture_output=True, timeout=longest
        )
    except subprocess.TimeoutExpired:
        return True
    finally:
        path.write_text(sound, encoding="utf-8")
    return bool(nodes) and done.returncode != 0


def _tell(copy: Path, each: Break) -> None:
    sound, broken = _lines(copy, each)
    print(f"\n{each.module}:{each.line} survived {each.kind.removeprefix('core/')}", flush=True)
    print(f"    - {sound}\n    + {broken}", flush=True)


def _lines(copy: Path, each: Break) -> tuple[str, str]:
    """What a break changes: the sound lines and the broken ones."""
    sound = (copy / each.module).read_text(encoding="utf-8").splitlines()
    changed = list(difflib.unified_diff(sound, each.text.splitlines(), n=0, lineterm=""))[2:]
    before, after = (" ".join(line[1:].strip() for line in changed if line[0] == sign) for sign in "-+")
    return before, after


def _alike(copy: Path) -> frozenset[tuple[str, str, str]]:
    """The breaks that change nothing, as module, sound line and broken line."""
    listed = tomllib.loads(ALIKE.read_text(encoding="utf-8"))["alike"]
    gone = [each["sound"] for each in listed if each["sound"] not in (copy / each["module"]).read_text("utf-8")]
    if gone:
        raise SystemExit(f"{ALIKE.name} tells of lines that are no more: {gone}")
    return frozenset((each["module"], each["sound"], each["broken"]) for each in listed)


if __name__ == "__main__":
    sys.exit(main())
