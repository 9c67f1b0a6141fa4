"""How the code hangs together: imports run downward, Qt stays in its place, docstrings are true."""

import ast
import re
from collections.abc import Iterator
from pathlib import Path

import pytest

from tiny_lantern.effects.registry import effect_kinds
from tiny_lantern.findings.registry import rules
from tiny_lantern.ui.declared.registry import commands

ROOT = Path(__file__).parents[1]
PACKAGE = ROOT / "tiny_lantern"
ORDER = (
    "kernel",
    "effects",
    "model",
    "catalogue",
    "electrical",
    "circuit",
    "light",
    "show",
    "plans",
    "bench",
    "code",
    "live",
    "findings",
    "sheets",
    "cli",
    "ui",
)
FILES = sorted(PACKAGE.rglob("*.py"))
CORE = [path for path in FILES if path.relative_to(PACKAGE).parts[0] not in ("ui", "cli.py")]
UNIT = re.compile(r"_(m|v|a|ohm|s|w|c|hz|mm2|ohm_per_m)$")


def module(path: Path) -> str:
    """Dotted name of a file."""
    return ".".join(path.relative_to(ROOT).with_suffix("").parts).removesuffix(".__init__")


def imports(path: Path, for_types_too: bool = False) -> Iterator[str]:
    """Modules of this package and of Qt that a file imports when it runs, late imports included.

    Args:
        path: the file.
        for_types_too: whether those that only the type checker sees count as well.
    """
    tree = ast.parse(path.read_text(encoding="utf-8"))
    typing_only = {
        id(inner)
        for node in ast.walk(tree)
        if isinstance(node, ast.If) and ast.unparse(node.test) == "TYPE_CHECKING"
        for inner in ast.walk(node)
    }
    for node in ast.walk(tree):
        if id(node) in typing_only and not for_types_too:
            continue
        if isinstance(node, ast.ImportFrom) and node.module:
            yield node.module
            yield from (f"{node.module}.{alias.name}" for alias in node.names)
        elif isinstance(node, ast.Import):
            yield from (alias.name for alias in node.names)


def layer(name: str) -> str:
    """The folder of a module."""
    parts = name.split(".")
    return parts[1] if len(parts) > 1 else ""


@pytest.mark.parametrize("path", FILES, ids=module)
def test_imports_run_downward_only(path: Path) -> None:
    own = layer(module(path))
    if own not in ORDER:
        return
    for name in imports(path, for_types_too=True):
        above = layer(name)
        if name.startswith("tiny_lantern.") and above in ORDER and own not in ("cli", "ui"):
            assert ORDER.index(above) <= ORDER.index(own), f"{module(path)} imports {name}"


def test_light_and_electrical_do_not_need_each_other_both_ways() -> None:
    upward = [
        module(p)
        for p in FILES
        if layer(module(p)) == "electrical"
        for n in imports(p, for_types_too=True)
        if layer(n) == "light"
    ]
    assert upward == []


def test_imports_make_no_cycle() -> None:
    names = {module(path) for path in FILES}
    graph = {module(path): {n for n in imports(path, for_types_too=True) if n in names} for path in FILES}
    done: set[str] = set()

    def visit(name: str, trail: tuple[str, ...]) -> None:
        assert name not in trail, " -> ".join((*trail, name))
        if name not in done:
            for below in graph[name]:
                visit(below, (*trail, name))
            done.add(name)

    for name in sorted(graph):
        visit(name, ())


@pytest.mark.parametrize("path", CORE, ids=module)
def test_the_core_never_imports_qt(path: Path) -> None:
    assert not [name for name in imports(path, for_types_too=True) if name.split(".")[0] in ("PySide6", "shiboken6")]


@pytest.mark.parametrize("path", FILES, ids=module)
def test_a_file_says_its_subject_and_stays_on_it(path: Path) -> None:
    text = path.read_text(encoding="utf-8")
    assert ast.get_docstring(ast.parse(text))
    assert text.count("\n") <= 500


def public(path: Path) -> Iterator[ast.FunctionDef]:
    """Public functions and methods of public classes."""
    tree = ast.parse(path.read_text(encoding="utf-8"))
    for node in tree.body:
        if isinstance(node, ast.FunctionDef) and not node.name.startswith("_"):
            yield node
        elif isinstance(node, ast.ClassDef) and not node.name.startswith("_"):
            yield from (n for n in node.body if isinstance(n, ast.FunctionDef) and not n.name.startswith("_"))


ARRAY = re.compile(r"\b(Floats|Ints|Bytes|Bools|Light|NDArray|ndarray)\b")


def told(doc: str) -> dict[str, str]:
    """What a docstring says of each argument, by name."""
    if "Args:" not in doc:
        return {}
    section = doc.split("Args:")[1].split("\n\n")[0]
    parts = re.split(r"^ {4}(\w+(?:, \w+)*): ", section, flags=re.MULTILINE)[1:]
    return {name: text for names, text in zip(parts[::2], parts[1::2], strict=True) for name in names.split(", ")}


@pytest.mark.parametrize("path", CORE, ids=module)
def test_docstrings_tell_every_quantity_with_its_unit_and_every_array_with_its_shape(path: Path) -> None:
    for function in public(path):
        doc = ast.get_docstring(function)
        assert doc, f"{function.name} has no docstring"
        taken = {
            arg.arg: arg for arg in (*function.args.args, *function.args.kwonlyargs) if arg.arg not in ("self", "cls")
        }
        said = told(doc)
        assert not said or list(said) == list(taken), f"{function.name} tells {list(said)}, takes {list(taken)}"
        for name, arg in taken.items():
            kind = ast.unparse(arg.annotation) if arg.annotation else ""
            is_array = bool(ARRAY.search(kind)) and "Callable" not in kind
            if UNIT.search(name) or is_array:
                assert "[" in said.get(name, ""), f"{function.name}: {name} has no unit"
            if is_array:
                assert "(" in said[name], f"{function.name}: {name} has no shape"


def test_commands_and_rules_stand_in_the_guide() -> None:
    guide = (ROOT / "tiny_lantern" / "guide" / "guide.md").read_text(encoding="utf-8")
    for command in commands():
        assert command.title in guide, command.id
    for code in rules():
        assert f"`{code}`" in guide, code
    for kind in effect_kinds().values():
        assert f"| {kind.kind} | {kind.help} |" in guide, kind.kind


def test_commands_have_keys_of_their_own() -> None:
    keys = [command.keys for command in commands()]
    assert len(keys) == len(set(keys))
    assert len({command.id for command in commands()}) == len(commands())


def test_requirements_are_pinned_and_name_no_host() -> None:
    text = (ROOT / "requirements.txt").read_text(encoding="utf-8")
    assert all("==" in line for line in text.splitlines() if line.strip())
    assert "://" not in text
