"""Which mend to offer: the first that, applied and solved again, takes a finding away and brings none as bad."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace
from functools import partial

from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import Evidence, find_flashes, gather
from tiny_lantern.findings.finding import Finding, Fix, Severity
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import Edit
from tiny_lantern.model.errors import CancelledError, LanternError
from tiny_lantern.plans.all_lines import feed_lines
from tiny_lantern.show.capping import caps_of

SHOWN = ("effects", "scenes", "groups", "pieces", "tick_hz", "show_s")
log = logging.getLogger(__name__)
Cancelled = Callable[[], bool]


@dataclass(frozen=True)
class Prepared:
    """An edit whose outcome for one build is known already."""

    base: Build
    outcome: Build
    edit: Edit

    def __call__(self, build: Build) -> Build:
        return self.outcome if build is self.base else self.edit(build)


def with_mends(
    evidence: Evidence,
    findings: list[Finding],
    progress: Callable[[float], None] = lambda share: None,
    cancelled: Cancelled = lambda: False,
) -> list[Finding]:
    """The findings, each with the first of its mends that holds, and one beside it that a person may prefer; searches
    of feeds are made and judged like any other.

    Args:
        evidence: what the findings were found in.
        findings: the findings, in groups or not.
        progress: told the share done, 0 to 1.
        cancelled: asked before each trial whether to stop.

    Raises:
        CancelledError: asked to stop.
    """
    trials = Trials(evidence, severities(each for group in findings for each in group.each), cancelled)
    found = []
    for number, finding in enumerate(findings):
        progress(number / len(findings))
        found.append(trials.mended(finding))
    return found


@dataclass
class Trials:
    """What is tried on one build: searches of feeds once each, and every outcome judged once."""

    evidence: Evidence
    before: dict[tuple[object, ...], Severity]
    cancelled: Cancelled
    _searches: dict[tuple[tuple[str, ...], bool], Build | None] = field(default_factory=dict)

    def mended(self, finding: Finding) -> Finding:
        """A finding with the first of its mends that holds; a search of one line stays one, since its plans are to be
        chosen from.

        Raises:
            CancelledError: asked to stop.
        """
        held = (found for fix in finding.tries if (found := self._held(finding, fix)) is not None)
        first = next(held, None)
        others = (fix for fix in finding.tries if fix.beside and first is not None and fix.label != first.label)
        also = next((found for fix in others if (found := self._held(finding, fix)) is not None), None)
        return replace(finding, fix=first, also=also)

    def _held(self, finding: Finding, fix: Fix) -> Fix | None:
        """A mend with its outcome where it holds."""
        outcome = self.outcome(fix)
        if outcome is None or not holds(self.evidence, finding, outcome, self.before, self.cancelled):
            return None
        return self._known(fix, outcome)

    def _known(self, fix: Fix, outcome: Build) -> Fix:
        if fix.edit is None and len(fix.find_feeds_on) == 1:
            return fix
        again = fix.edit or partial(
            feed_lines, strip_ids=fix.find_feeds_on, load=self.evidence.load, guard_shorts=fix.guard_shorts
        )
        return replace(fix, edit=Prepared(self.evidence.build, outcome, again), find_feeds_on=())

    def outcome(self, fix: Fix) -> Build | None:
        """The build after a mend; None where it does not apply or nothing is found."""
        if self.cancelled():
            raise CancelledError
        if fix.edit is not None:
            return _outcome(self.evidence, fix.edit)
        wanted = (fix.find_feeds_on, fix.guard_shorts)
        if wanted not in self._searches:
            self._searches[wanted] = self._searched(*wanted)
        return self._searches[wanted]

    def _searched(self, strip_ids: tuple[str, ...], guard_shorts: bool) -> Build | None:
        evidence = self.evidence
        try:
            return feed_lines(evidence.build, strip_ids, evidence.load, guard_shorts, cancelled=self.cancelled)
        except LanternError as refusal:
            log.info("a search finds no feeds: %s", refusal)
            return None


def _outcome(evidence: Evidence, edit: Edit) -> Build | None:
    """The build after an edit; None where it does not apply."""
    try:
        return edit(evidence.build)
    except ValueError as error:
        log.info("a mend does not apply: %s", error)
        return None


def holds(
    evidence: Evidence, finding: Finding, outcome: Build, before: dict[tuple[object, ...], Severity],
    cancelled: Cancelled = lambda: False,
) -> bool:  # fmt: skip
    """Whether a finding is gone from a build that a mend made, and none of its severity or worse is there anew.

    Args:
        evidence: what the finding was found in.
        finding: the finding.
        outcome: the build after the mend.
        before: severity of every finding of the build before it, by key.
        cancelled: asked now and then whether to stop.

    Raises:
        CancelledError: asked to stop.
    """
    alike = all(getattr(outcome, field) == getattr(evidence.build, field) for field in SHOWN)
    same_show = alike and caps_of(outcome) == caps_of(evidence.build)
    flashes = evidence.flashes if same_show else find_flashes(outcome, cancelled=cancelled)
    after = severities(check(gather(outcome, evidence.load, flashes, cancelled), cancelled))
    if any(member.key in after for member in finding.each):
        return False
    worse = [key for key, severity in after.items() if severity <= finding.severity]
    return all(key in before and before[key] <= after[key] for key in worse)


def severities(findings: Iterator[Finding] | list[Finding]) -> dict[tuple[object, ...], Severity]:
    """The worst severity of each finding, by key."""
    found: dict[tuple[object, ...], Severity] = {}
    for finding in findings:
        found[finding.key] = min(finding.severity, found.get(finding.key, finding.severity))
    return found
