"""Which mend to offer: the first that, applied and solved again, takes a finding away and brings none as bad."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import Evidence, find_flashes, gather
from tiny_lantern.findings.finding import Finding, Fix, Severity
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import Edit
from tiny_lantern.model.errors import CancelledError

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
    known: list[Finding] | None = None,
) -> list[Finding]:
    """The findings, each with the first of its mends that holds; searches of feeds judge their own outcome.

    Args:
        evidence: what the findings were found in.
        findings: the findings, in groups or not.
        progress: told the share done, 0 to 1.
        cancelled: asked before each trial whether to stop.
        known: all findings of the build, where mends are wanted for some only.

    Raises:
        CancelledError: asked to stop.
    """
    before = severities(finding for group in known or findings for finding in group.each)
    return list(_mended(evidence, findings, before, progress, cancelled))


def _mended(
    evidence: Evidence, findings: list[Finding], before: dict[tuple[object, ...], Severity],
    progress: Callable[[float], None], cancelled: Cancelled,
) -> Iterator[Finding]:  # fmt: skip
    for number, finding in enumerate(findings):
        progress(number / len(findings))
        yield replace(finding, fix=_holding(evidence, finding, before, cancelled))


def _holding(
    evidence: Evidence, finding: Finding, before: dict[tuple[object, ...], Severity], cancelled: Cancelled
) -> Fix | None:
    for fix in finding.tries:
        if cancelled():
            raise CancelledError
        if fix.edit is None:
            return fix
        outcome = _outcome(evidence, fix.edit)
        if outcome is not None and holds(evidence, finding, outcome, before):
            return replace(fix, edit=Prepared(evidence.build, outcome, fix.edit))
    return None


def _outcome(evidence: Evidence, edit: Edit) -> Build | None:
    """The build after an edit; None where it does not apply."""
    try:
        return edit(evidence.build)
    except ValueError as error:
        log.info("a mend does not apply: %s", error)
        return None


def holds(evidence: Evidence, finding: Finding, outcome: Build, before: dict[tuple[object, ...], Severity]) -> bool:
    """Whether a finding is gone from a build that a mend made, and none of its severity or worse is there anew.

    Args:
        evidence: what the finding was found in.
        finding: the finding.
        outcome: the build after the mend.
        before: severity of every finding of the build before it, by key.
    """
    same_show = (outcome.effects, outcome.strips, outcome.tick_hz, outcome.show_s) == (
        evidence.build.effects, evidence.build.strips, evidence.build.tick_hz, evidence.build.show_s,
    )  # fmt: skip
    flashes = evidence.flashes if same_show else find_flashes(outcome)
    after = severities(check(gather(outcome, evidence.load, flashes)))
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
