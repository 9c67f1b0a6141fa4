"""Writes what the docs take from the code: the JSON Schema, and the guide's tables of rules and commands.

Run from the repository: ``.venv/bin/python tools/make_docs.py``.
"""

from __future__ import annotations

import re
from pathlib import Path

from tiny_lantern.effects.registry import effect_kinds
from tiny_lantern.findings.registry import rules
from tiny_lantern.model.schema import schema_text
from tiny_lantern.ui.declared.registry import commands

DOCS = Path(__file__).parents[1] / "docs"


def table(guide: str, head: str, rows: list[str]) -> str:
    """The guide with the rows under a table's head replaced."""
    pattern = re.compile(re.escape(head) + r"\n(\|[-|]+\|\n)(?:\|.*\n)*")
    return pattern.sub(lambda match: f"{head}\n{match[1]}" + "".join(f"{row}\n" for row in rows), guide)


def main() -> None:
    """Write the schema and the guide."""
    (DOCS / "lantern.schema.json").write_text(schema_text(), encoding="utf-8")
    guide = (DOCS / "guide.md").read_text(encoding="utf-8")
    looked_for = [f"| `{code}` | {' '.join((rule.__doc__ or '').split())} |" for code, rule in rules().items()]
    guide = table(guide, "| rule | what it looks for |", looked_for)
    given = [f"| {command.title} | {command.keys} | {command.help} |" for command in commands()]
    guide = table(guide, "| command | keys | what it does |", given)
    effects = [
        f"| {kind.kind} | {kind.help} | {', '.join(parameter.label for parameter in kind.parameters)} |"
        for kind in effect_kinds().values()
    ]
    guide = table(guide, "| effect | what it does | parameters |", effects)
    (DOCS / "guide.md").write_text(guide, encoding="utf-8")
    print(f"{len(looked_for)} rules, {len(given)} commands")


if __name__ == "__main__":
    main()
