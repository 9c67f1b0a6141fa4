"""Rules on the wiring: a printed sheet that is old, wires that do not go through their passage."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.findings.driven import at_channel, called, one_step
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
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


@rule("lead-drop", "{n} lamps lose too much in their wires")
def lead_drop(evidence: Evidence) -> Iterator[Finding]:
    """A lamp whose wires take more than a tenth of the current that it would have without their resistance."""
    for (driver_id, output), got_a, ideal_a in evidence.drive.drooping:
        result = evidence.drive.by_driver[driver_id]
        at = next(number for number, each in enumerate(result.case.channels) if each.output == output)
        lost = 1 - got_a / ideal_a
        yield Finding(
            Severity.WEAK_SPOT, "lead-drop", at_channel(result.case.channels[at], result.case.driver),
            f"{called(result.case, at)} gets {amps(got_a)} of {amps(ideal_a)}",
            f"Its wires take {lost:.0%}, and a tenth is hardly seen: {lost - 0.1:.1%} too much. Thicker or shorter "
            "wires, fewer lamps on one lead, or a higher voltage.",
            one_step("Lost in the wires", "1 − I / I with wires of no resistance",
                     f"1 − {got_a * 1000:.2f} / {ideal_a * 1000:.2f}", f"{lost:.1%}"),
            _thicker(evidence),
        )  # fmt: skip


def _thicker(evidence: Evidence) -> tuple[Fix, ...]:
    """The wires that a person chose given back to the program, which takes thicker ones."""
    return (Fix("Let the program choose the wires", _none_chosen),) if evidence.build.wires else ()


def _none_chosen(build: Build) -> Build:
    return revise(build, wires=())


@rule("sheet-old", "{n} printed sheets are old")
def sheet_old(evidence: Evidence) -> Iterator[Finding]:
    """The sheet that was printed last bears another stamp than the build has now."""
    printed, now = evidence.build.wiring.printed, stamp_of(evidence.build)
    if printed and printed != now:
        yield Finding(
            Severity.WEAK_SPOT, "sheet-old", Place(), f"The printed sheet {printed} is older than the build",
            f"Lamps, power or pins were changed since; the build's stamp is {now}. Print it again, from Sheets.",
        )  # fmt: skip
