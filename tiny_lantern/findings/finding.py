"""What a finding is, and the register of rules that yield them."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from enum import IntEnum
from functools import cached_property
from typing import TYPE_CHECKING

from tiny_lantern.model.base import Lean
from tiny_lantern.model.edits import Edit
from tiny_lantern.model.place import Place
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
class Fix:
    """What a button can do about it: an edit, or a search of feeds on strips whose outcome is an edit. One that is
    ``beside`` is offered beside another that holds: a person may prefer it."""

    label: str
    edit: Edit | None = None
    find_feeds_on: tuple[str, ...] = ()
    guard_shorts: bool = False
    beside: bool = False


@dataclass(frozen=True)
class Finding(Lean):
    """One judgement: how bad, which rule, where, what and by how much, why, and what would mend it.

    ``explain`` works out how its figure came about.
    ``tries`` are mends in the order in which they should be tried; ``fix`` is the first of them that, solved again,
    took the finding away and brought none as bad, and None until that is known; ``also`` is another that a person may
    prefer and that held as well. ``members`` are the findings that one card stands for.
    """

    severity: Severity
    code: str
    place: Place
    title: str
    message: str
    explain: Callable[[], Working] | None = None
    tries: tuple[Fix, ...] = ()
    fix: Fix | None = None
    also: Fix | None = None
    members: tuple[Finding, ...] = ()

    @cached_property
    def working(self) -> Working | None:
        """How its figure came about, worked out when it is asked for."""
        return self.explain() if self.explain else None

    @property
    def each(self) -> tuple[Finding, ...]:
        """The findings it stands for, itself when it is a single one."""
        return self.members or (self,)

    @property
    def key(self) -> tuple[object, ...]:
        """What makes it the same finding in another build."""
        return (self.code, *self.place.thing)


Rule = Callable[["Evidence"], Iterator[Finding]]
RULES: dict[str, Rule] = {}
TOGETHER: dict[str, str] = {}


def rule(code: str, together: str) -> Callable[[Rule], Rule]:
    """Register a rule under the code that its findings carry, with the title of a card that stands for many, in which
    ``{n}`` is their number."""

    def register(function: Rule) -> Rule:
        RULES[code] = function
        TOGETHER[code] = together
        return function

    return register
