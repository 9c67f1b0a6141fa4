"""A command as it is declared: menus, shortcuts, the key sheet and the guide come from it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

Shell = Any  # what a command is done in: the window, which knows the commands, so that they cannot know its type

GROUPS = ("Build", "Edit", "Pieces", "Power", "Drive", "Weave", "Sheets", "View", "Help")


@dataclass(frozen=True)
class Command:
    """A command: what it is called, which keys, what it does, and when it can be done. ``rank`` is its place in its
    group, by tens."""

    id: str
    group: str
    rank: int
    title: str
    keys: str
    help: str
    run: Callable[[Shell], object]
    when: Callable[[Shell], bool] = lambda shell: True
