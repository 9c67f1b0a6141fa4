"""Writes what the docs take from the code: the JSON Schema, and the guide's tables and its page of printed code.

Run from the repository: ``.venv/bin/python tools/make_docs.py``.
"""

from __future__ import annotations

import re
from pathlib import Path

from PIL import Image

from tiny_lantern.code.files import code_files
from tiny_lantern.effects.registry import effect_kinds
from tiny_lantern.findings.registry import rules
from tiny_lantern.model.build import Build
from tiny_lantern.model.schema import schema_text
from tiny_lantern.ui.declared.registry import commands
from tiny_lantern.ui.files import demo_build

MARK = "<!-- the code of the footbridge's chase -->"
DOCS = Path(__file__).parents[1] / "docs"
GUIDE = Path(__file__).parents[1] / "tiny_lantern" / "guide"
PICTURE_SIZE = (760, 475)


def table(guide: str, head: str, rows: list[str]) -> str:
    """The guide with the rows under a table's head replaced."""
    pattern = re.compile(re.escape(head) + r"\n(\|[-|]+\|\n)(?:\|.*\n)*")
    return pattern.sub(lambda match: f"{head}\n{match[1]}" + "".join(f"{row}\n" for row in rows), guide)


def piece_of_code(guide: str, build: Build, functions: tuple[str, ...]) -> str:
    """The guide with the block of code under its mark replaced by some functions as they come out for a build."""
    sources = code_files(build).items()
    (source,) = (text for name, text in sources if name.endswith(".c") and not name.startswith("lantern_io_"))
    found = [re.search(rf"/\*(?:(?!/\*)[\s\S])*?\n[^\n]* {name}\([\s\S]*?\n}}\n", source) for name in functions]
    lines = "\n".join(match[0] for match in found if match).splitlines()
    block = "\n".join(f"    {line}".rstrip() for line in lines)
    return re.sub(rf"({re.escape(MARK)}\n\n)(?:(?:    .*)?\n)*", lambda match: f"{match[1]}{block}\n\n", guide)


def small_pictures(guide: str) -> None:
    """Make the guide's pictures anew from the screenshots, small enough to ship."""
    for name in re.findall(r"\(pictures/([a-z-]+)\.jpg\)", guide):
        picture = Image.open(DOCS / "screenshots" / f"{name}.png").convert("RGB")
        picture.thumbnail(PICTURE_SIZE, Image.Resampling.LANCZOS)
        picture.save(GUIDE / "pictures" / f"{name}.jpg", quality=82, optimize=True)


def main() -> None:
    """Write the schema and the guide."""
    (DOCS / "lantern.schema.json").write_text(schema_text(), encoding="utf-8")
    guide = (GUIDE / "guide.md").read_text(encoding="utf-8")
    looked_for = [f"| `{code}` | {' '.join((rule.__doc__ or '').split())} |" for code, rule in rules().items()]
    guide = table(guide, "| rule | what it looks for |", looked_for)
    given = [f"| {command.title} | {command.keys} | {command.help} |" for command in commands()]
    guide = table(guide, "| command | keys | what it does |", given)
    effects = [
        f"| {kind.kind} | {kind.help} | {', '.join(parameter.label for parameter in kind.parameters)} |"
        for kind in effect_kinds().values()
    ]
    guide = table(guide, "| effect | what it does | parameters |", effects)
    guide = piece_of_code(guide, demo_build("footbridge"), ("effect_chase", "chase_on_west_rail"))
    (GUIDE / "guide.md").write_text(guide, encoding="utf-8")
    small_pictures(guide)
    print(f"{len(looked_for)} rules, {len(given)} commands")


if __name__ == "__main__":
    main()
