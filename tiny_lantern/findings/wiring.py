"""Rules on the wiring: a printed sheet that is old, wires that do not go through their passage."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Severity, rule
from tiny_lantern.model.place import Place
from tiny_lantern.model.stamp import stamp_of


@rule("sheet-old", "{n} printed sheets are old")
def sheet_old(evidence: Evidence) -> Iterator[Finding]:
    """The sheet that was printed last bears another stamp than the build has now."""
    printed, now = evidence.build.wiring.printed, stamp_of(evidence.build)
    if printed and printed != now:
        yield Finding(
            Severity.WEAK_SPOT, "sheet-old", Place(), f"The printed sheet {printed} is older than the build",
            f"Lamps, power or pins were changed since; the build's stamp is {now}. Print it again, from Sheets.",
        )  # fmt: skip
