"""Older formats brought up to date, one file a step."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from tiny_lantern.model.migrations.from_1 import from_1
from tiny_lantern.model.migrations.from_2 import from_2

Migration = Callable[[dict[str, Any]], dict[str, Any]]
MIGRATIONS: dict[int, Migration] = {1: from_1, 2: from_2}
