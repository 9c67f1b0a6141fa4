"""Judging a build as one task: what is found, and which mends hold; free of any window, so that it can run anywhere."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import Evidence, find_flashes, gather
from tiny_lantern.findings.finding import Finding, Fix
from tiny_lantern.findings.mends import Prepared, with_mends
from tiny_lantern.findings.together import grouped
from tiny_lantern.light.flash import FlashRun
from tiny_lantern.model.build import Build, Load

Progress = Callable[[float], None]
Mends = tuple[Fix | None, Fix | None]
Cancelled = Callable[[], bool]


@dataclass(frozen=True, eq=False)
class Judged:
    """What was found on a build: the evidence, and the findings with those alike on one card."""

    evidence: Evidence
    findings: list[Finding]

    def of(self, build: Build) -> Judged:
        """The same on an equal build, as the one that another process was sent."""
        return Judged(replace(self.evidence, build=build).keeping(self.evidence), self.findings)


def judge(
    build: Build, load: Load, flashes: tuple[FlashRun, ...] | None, progress: Progress, cancelled: Cancelled
) -> Judged:
    """Everything that is found on a build.

    Args:
        build: the build.
        load: the load in hand.
        flashes: the show's flashes where they are known.
        progress: told the share done, 0 to 1.
        cancelled: asked now and then whether to stop.

    Raises:
        CancelledError: asked to stop.
    """
    found = find_flashes(build, progress, cancelled) if flashes is None else flashes
    evidence = gather(build, load, found, cancelled)
    evidence.prepare()
    return Judged(evidence, grouped(check(evidence, cancelled)))


def mends_of(
    build: Build, load: Load, flashes: tuple[FlashRun, ...], progress: Progress, cancelled: Cancelled
) -> list[Mends]:
    """For each card of ``judge``, in its order, the mend that holds, and another that holds too.

    Args:
        build: the build.
        load: the load in hand.
        flashes: the show's flashes.
        progress: told the share done, 0 to 1.
        cancelled: asked now and then whether to stop.

    Raises:
        CancelledError: asked to stop.
    """
    judged = judge(build, load, flashes, lambda share: None, cancelled)
    found = with_mends(judged.evidence, judged.findings, progress, cancelled)
    return [(finding.fix, finding.also) for finding in found]


def with_fixes(findings: list[Finding], fixes: list[Mends], build: Build) -> list[Finding]:
    """The findings with the mends that hold, whose known outcomes are those of the build in hand.

    Args:
        findings: the findings of ``judge``.
        fixes: the mends of ``mends_of`` for an equal build.
        build: the build in hand.
    """
    return [
        replace(finding, fix=_on(fix, build), also=_on(also, build))
        for finding, (fix, also) in zip(findings, fixes, strict=True)
    ]


def _on(fix: Fix | None, build: Build) -> Fix | None:
    if fix is None or not isinstance(fix.edit, Prepared):
        return fix
    return replace(fix, edit=replace(fix.edit, base=build))
