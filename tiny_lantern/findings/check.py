"""Running every rule, the worst first."""

from __future__ import annotations

from tiny_lantern.findings import cautions, copper, data, light_power, shorts, supply, weave
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import RULES, Finding, Severity

AT_ONCE = ("supply-voltage", "no-fuse")
SUBJECTS = (cautions, copper, data, light_power, shorts, supply, weave)


def check(evidence: Evidence) -> list[Finding]:
    """Every finding on a build, the worst first; of equal ones, what ruins parts at once before the rest."""
    found = [finding for rule in RULES.values() for finding in rule(evidence)]
    return sorted(found, key=lambda finding: (finding.severity, finding.code not in AT_ONCE, finding.code))


def stops_the_build(findings: list[Finding]) -> bool:
    """Whether something is dangerous or will not work."""
    return any(finding.severity <= Severity.WONT_WORK for finding in findings)
