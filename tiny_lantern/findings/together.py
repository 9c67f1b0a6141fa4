"""Findings that are alike, as one."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from tiny_lantern.findings.finding import TOGETHER, Finding, Fix
from tiny_lantern.model.build import Build, Draft, draft_of
from tiny_lantern.model.edits import Edit

FROM = 3
NAMED = 3


def grouped(findings: list[Finding]) -> list[Finding]:
    """The findings with those of one rule and severity as one, where there are three or more, in their order."""
    alike: dict[tuple[object, ...], list[Finding]] = {}
    for finding in findings:
        alike.setdefault((finding.severity, finding.code), []).append(finding)
    found = []
    for members in alike.values():
        found += [_as_one(members)] if len(members) >= FROM else members
    return found


def _as_one(members: list[Finding]) -> Finding:
    first = members[0]
    names = list(dict.fromkeys(member.title for member in members))
    listed = ". ".join(names[:NAMED])
    if len(names) > NAMED:
        listed += f". And {len(names) - NAMED} more"
    title = TOGETHER[first.code].format(n=len(members))
    return replace(
        first, title=title, message=f"{listed}. The first: {first.message}", tries=_tries(members), fix=None,
        members=tuple(members),
    )  # fmt: skip


def _tries(members: list[Finding]) -> tuple[Fix, ...]:
    """One mend for all: all their edits in turn, or one search over all their strips."""
    tries = [member.tries[0] if member.tries else None for member in members]
    searches = [fix for fix in tries if fix and fix.find_feeds_on]
    if len(searches) == len(members):
        strips = tuple(dict.fromkeys(strip for fix in searches for strip in fix.find_feeds_on))
        return (Fix(f"{searches[0].label} on all", find_feeds_on=strips, guard_shorts=searches[0].guard_shorts),)
    edits = [fix.edit for fix in tries if fix and fix.edit]
    if len(edits) < len(members):
        return ()
    labels = {fix.label for fix in tries if fix}
    label = f"{labels.pop()}, all {len(members)}" if len(labels) == 1 else f"Mend all {len(members)}"
    return (Fix(label, partial(_in_turn, edits=tuple(edits))),)


def _in_turn(build: Build, edits: tuple[Edit, ...]) -> Build:
    draft: Build = draft_of(build)
    for edit in edits:
        draft = edit(draft)
    assert isinstance(draft, Draft)
    return draft.kept()
