"""What a finding is, and the register of rules that yield them."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from enum import IntEnum
from typing import TYPE_CHECKING

from tiny_lantern.model.edits import Edit
from tiny_lantern.model.working import Working

if TYPE_CHECKING:
    from tiny_lantern.findings.evidence import Evidence


class Severity(IntEnum):
    """How bad it is, the worst first."""

    DANGER = 0
    WONT_WORK = 1
    WEAK_SPOT = 2
    HINT = 3

    @property
    def label(self) -> str:
        """The word people read."""
        return ("danger", "won't work", "weak spot", "hint")[self]

    @property
    def sign(self) -> str:
        """A shape that goes with the colour."""
        return ("▲", "×", "◆", "·")[self]


@dataclass(frozen=True)
class Place:
    """Where a finding is: a strip and a pixel, a feed, a supply, an effect, a moment."""

    strip_id: str | None = None
    pixel: int | None = None
    feed_id: str | None = None
    supply_id: str | None = None
    effect_id: str | None = None
    time_s: float | None = None


@dataclass(frozen=True)
class Fix:
    """What a button can do about it: an edit, or a search on a strip whose outcome is an edit."""

    label: str
    edit: Edit | None = None
    find_feeds_on: str | None = None
    guard_shorts: bool = False


@dataclass(frozen=True)
class Finding:
    """One judgement: how bad, which rule, where, what and by how much, why, and what would mend it."""

    severity: Severity
    code: str
    place: Place
    title: str
    message: str
    working: Working | None = None
    fix: Fix | None = None


Rule = Callable[["Evidence"], Iterator[Finding]]
RULES: dict[str, Rule] = {}


def rule(code: str) -> Callable[[Rule], Rule]:
    """Register a rule under the code that its findings carry."""

    def register(function: Rule) -> Rule:
        RULES[code] = function
        return function

    return register
