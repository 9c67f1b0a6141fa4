"""Running every rule, the worst first."""

from __future__ import annotations

from collections.abc import Callable

from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Severity
from tiny_lantern.findings.registry import rules
from tiny_lantern.model.errors import CancelledError

AT_ONCE = ("supply-voltage", "no-fuse")


def check(evidence: Evidence, cancelled: Callable[[], bool] = lambda: False) -> list[Finding]:
    """Every finding on a build, the worst first; of equal ones, what ruins parts at once before the rest.

    Args:
        evidence: the build and its results.
        cancelled: asked before each rule whether to stop.

    Raises:
        CancelledError: asked to stop.
    """
    found: list[Finding] = []
    for rule in rules().values():
        if cancelled():
            raise CancelledError
        found += rule(evidence)
    return sorted(found, key=lambda finding: (finding.severity, finding.code not in AT_ONCE, finding.code))


def stops_the_build(findings: list[Finding]) -> bool:
    """Whether something is dangerous or will not work."""
    return any(finding.severity <= Severity.WONT_WORK for finding in findings)
