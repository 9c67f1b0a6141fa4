"""The one family of errors that a person, not the program, can put right."""

from __future__ import annotations


class LanternError(ValueError):
    """Something the person did or gave cannot be used; says what, where, and what would be accepted.

    Args:
        what: one sentence, no full stop needed.
        where: path in the build or the file, or the name of the field; empty when there is no place.
        accepted: what would have been taken instead.
    """

    def __init__(self, what: str, where: str = "", accepted: str = "") -> None:
        self.what = what
        self.where = where
        self.accepted = accepted
        super().__init__(self.sentence())

    def sentence(self) -> str:
        """The whole message on one line."""
        parts = [f"{self.where}: {self.what}" if self.where else self.what]
        if self.accepted:
            parts.append(f"Accepted: {self.accepted}")
        return ". ".join(part.rstrip(".") for part in parts) + "."


class CancelledError(Exception):
    """Long work was stopped because the person asked for it or a newer edit made it pointless."""
