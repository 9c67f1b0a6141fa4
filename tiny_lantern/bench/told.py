"""What a diagnosis comes to as it is shown: causes in sentences, and the next reading."""

from __future__ import annotations

from dataclasses import dataclass

from tiny_lantern.bench.order import Asked
from tiny_lantern.bench.verdict import HEALTHY

MOST_CAUSES, LEAST_SHARE = 6, 0.004


@dataclass(frozen=True)
class ToldCause:
    """A cause as it is shown: its sentence, how probable it is, its kind and the element that it is at. [-]"""

    words: str
    posterior: float
    kind: str
    place: str


@dataclass(frozen=True)
class ToldNext:
    """The next reading as it is shown: where, what each of the two leading causes says there, and in words why."""

    asked: Asked
    where: str
    leader: str
    other: str
    decided: bool


@dataclass(frozen=True)
class Why:
    """Causes, the most probable first, how probable all others are together, how many readings and looks they are drawn
    from, and the next reading, None where none helps. [-]"""

    causes: tuple[ToldCause, ...]
    others: float
    readings: int
    looks: int
    next: ToldNext | None

    @property
    def healthy(self) -> bool:
        """Whether nothing is wrong more probably than anything is."""
        return bool(self.causes) and self.causes[0].kind == HEALTHY


def capital(words: str) -> str:
    """A sentence with its first letter large.

    Args:
        words: the sentence.
    """
    return words[0].upper() + words[1:]
