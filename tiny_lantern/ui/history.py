"""Undo as a list of states with labels: builds, or what else is edited in steps."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Generic, TypeVar

MOST_STEPS = 500
State = TypeVar("State")


@dataclass
class History(Generic[State]):
    """The states one came through; ``label`` of a step says what made it from the one before."""

    current: State
    _past: list[tuple[str, State]] = field(default_factory=list)
    _future: list[tuple[str, State]] = field(default_factory=list)

    @property
    def depth(self) -> int:
        """How many steps can be taken back."""
        return len(self._past)

    @property
    def undo_label(self) -> str | None:
        """What undo would take back."""
        return self._past[-1][0] if self._past else None

    @property
    def redo_label(self) -> str | None:
        """What redo would do again."""
        return self._future[-1][0] if self._future else None

    def push(self, label: str, state: State) -> None:
        """Add a step."""
        self._past.append((label, self.current))
        del self._past[:-MOST_STEPS]
        self._future.clear()
        self.current = state

    def undo(self) -> str | None:
        """Go one step back; returns its label."""
        if not self._past:
            return None
        label, state = self._past.pop()
        self._future.append((label, self.current))
        self.current = state
        return label

    def redo(self) -> str | None:
        """Go one step forward again; returns its label."""
        if not self._future:
            return None
        label, state = self._future.pop()
        self._past.append((label, self.current))
        self.current = state
        return label
