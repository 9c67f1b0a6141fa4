"""Rules on the wiring: a printed sheet that is old, wires that do not go through their passage."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.findings.driven import one_step
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Severity, rule
from tiny_lantern.model.place import Place
from tiny_lantern.model.quantities import amps
from tiny_lantern.model.stamp import stamp_of


@rule("wire-over", "{n} conductors carry more than wire and fuse can")
def wire_over(evidence: Evidence) -> Iterator[Finding]:
    """A conductor for which there is no wire thick enough, or no fuse large enough for what flows."""
    for words, carries_a, may_a in evidence.drive.unborne:
        what = f"The thickest wire that is known may carry {amps(may_a)}: {amps(carries_a - may_a)} too much."
        if carries_a <= may_a:
            what = "No fuse that is known carries that for long, and without one a short would heat the wire."
        yield Finding(
            Severity.DANGER, "wire-over", Place(), f"{amps(carries_a)} in one wire: {words}",
            f"{what} Divide these lamps among "
            "supplies or rails of their own, each with its fuse.",
            one_step("What the conductor carries", "I, all lit", words, amps(carries_a)),
        )  # fmt: skip


@rule("sheet-old", "{n} printed sheets are old")
def sheet_old(evidence: Evidence) -> Iterator[Finding]:
    """The sheet that was printed last bears another stamp than the build has now."""
    printed, now = evidence.build.wiring.printed, stamp_of(evidence.build)
    if printed and printed != now:
        yield Finding(
            Severity.WEAK_SPOT, "sheet-old", Place(), f"The printed sheet {printed} is older than the build",
            f"Lamps, power or pins were changed since; the build's stamp is {now}. Print it again, from Sheets.",
        )  # fmt: skip
