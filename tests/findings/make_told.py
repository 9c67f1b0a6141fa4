"""Writes what the program tells of the builds in ``told_builds``: ``.venv/bin/python -m tests.findings.make_told``.

Read the difference before it is committed: every line of it is something that a person will be told otherwise.
"""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from tests.findings.told_builds import DRIVEN, JUDGED, PLANNED, POWERED
from tests.support.told import drive_told, figures_told, findings_told, plain, plans_told, power_told

FILE = Path(__file__).with_name("told.json")


def told() -> dict[str, Any]:
    """Everything that is told, by what it is and by build."""
    found = {
        "findings": {name: findings_told(*make()) for name, make in JUDGED.items()},
        "drive": {name: drive_told(make()) for name, make in DRIVEN.items()},
        "power": {name: power_told(make()) for name, make in POWERED.items()},
        "plans": {name: plans_told(*make()) for name, make in PLANNED.items()},
        "figures": {name: figures_told(make()) for name, make in DRIVEN.items()},
    }
    return plain(found)


def main() -> None:
    """Write the file."""
    FILE.write_text(json.dumps(told(), ensure_ascii=False, indent=0) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
