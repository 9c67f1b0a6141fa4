"""Undo as a list of builds with labels."""

from __future__ import annotations

from dataclasses import dataclass, field

from tiny_lantern.model.build import Build

MOST_STEPS = 500


@dataclass
class History:
    """The builds one came through; ``label`` of a step says what made it from the one before."""

    current: Build
    _past: list[tuple[str, Build]] = field(default_factory=list)
    _future: list[tuple[str, Build]] = field(default_factory=list)

    @property
    def undo_label(self) -> str | None:
        """What undo would take back."""
        return self._past[-1][0] if self._past else None

    @property
    def redo_label(self) -> str | None:
        """What redo would do again."""
        return self._future[-1][0] if self._future else None

    def push(self, label: str, build: Build) -> None:
        """Add a step."""
        self._past.append((label, self.current))
        del self._past[:-MOST_STEPS]
        self._future.clear()
        self.current = build

    def undo(self) -> str | None:
        """Go one step back; returns its label."""
        if not self._past:
            return None
        label, build = self._past.pop()
        self._future.append((label, self.current))
        self.current = build
        return label

    def redo(self) -> str | None:
        """Go one step forward again; returns its label."""
        if not self._future:
            return None
        label, build = self._future.pop()
        self._past.append((label, self.current))
        self.current = build
        return label
