"""All rules: whatever files of this folder register, each file one subject."""

from __future__ import annotations

from functools import cache
from importlib import import_module
from pkgutil import iter_modules

from tiny_lantern import findings
from tiny_lantern.findings.finding import RULES, Rule

NO_SUBJECTS = ("registry", "check", "judge", "mends", "driven", "what_if")


@cache
def rules() -> dict[str, Rule]:
    """Every rule by the code that its findings carry."""
    for found in iter_modules(findings.__path__):
        if found.name not in NO_SUBJECTS:
            import_module(f"{findings.__name__}.{found.name}")
    return dict(sorted(RULES.items()))


def subject_of(code: str) -> str:
    """The file that a rule stands in, without its folder."""
    return rules()[code].__module__.rpartition(".")[2]
