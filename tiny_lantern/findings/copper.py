"""Rules on feeds: fuses, wires, far shorts, and the strip's own copper."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np

from tiny_lantern.catalogue.shelf import merged, shelf
from tiny_lantern.electrical.faults import far_shorts
from tiny_lantern.electrical.fuses import FAULT_RATIO, FUSE_SHARE, fuse_for
from tiny_lantern.electrical.network import connector_of, fuse_of, part_of, wire_of
from tiny_lantern.electrical.workings import feed_working, rail_working, short_working
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Place, Severity, rule
from tiny_lantern.model.build import Build, Feed
from tiny_lantern.model.edits_power import set_fuse, set_wire
from tiny_lantern.model.line import feed_letters
from tiny_lantern.model.parts import FusePart, WirePart
from tiny_lantern.model.quantities import amps, engineering


def path_limit_a(build: Build, feed: Feed) -> float:
    """The least current that a wire or connector of a feed may carry. [A]"""
    limits = []
    for side in (feed.positive, feed.negative):
        limits.append(wire_of(build, side).limit_a)
        connector = connector_of(build, side)
        if connector:
            limits.append(connector.limit_a)
    return min(limits)


def carried_a(evidence: Evidence, feed: Feed) -> float:
    """The larger of a feed's two currents at full white. [A]"""
    assert evidence.white is not None
    solved = evidence.white.feeds[feed.id]
    return max(abs(solved.pos_a), abs(solved.neg_a))


def _fuse_fix(evidence: Evidence, feed: Feed, at_most_a: float) -> Fix | None:
    """A fuse that fits between the current and a limit; else a wire thick enough for one."""
    build, current = evidence.build, carried_a(evidence, feed)
    fuse = fuse_for(build, current, at_most_a)
    if fuse:
        return Fix(f"Fuse it at {fuse.rating_a:g} A", partial(set_fuse, feed_id=feed.id, fuse=fuse))
    return _wire_fix(evidence, feed)


def _wire_fix(evidence: Evidence, feed: Feed) -> Fix | None:
    """The thinnest metric or gauge wire, of the sort in use, that lets a fuse fit."""
    build, current = evidence.build, carried_a(evidence, feed)
    sort = wire_of(build, feed.positive).id.split("-")[0]
    parts = merged(build.parts, shelf())
    for wire in sorted(parts.wires, key=lambda wire: wire.area_mm2):
        fuse = fuse_for(build, current, wire.limit_a)
        if wire.id.startswith(sort) and fuse:
            label = f"Use {wire.name} and a {fuse.rating_a:g} A fuse"
            return Fix(label, partial(_rewire, feed_id=feed.id, wire=wire, fuse=fuse))
    return None


def _rewire(build: Build, feed_id: str, wire: WirePart, fuse: FusePart) -> Build:
    return set_fuse(set_wire(build, feed_id, wire), feed_id, fuse)


@rule("no-fuse")
def no_fuse(evidence: Evidence) -> Iterator[Finding]:
    """A feed without a fuse lets a fault heat the wire until something else gives."""
    if evidence.white is None:
        return
    letters = feed_letters(evidence.build)
    for feed in evidence.build.feeds:
        if feed.fuse_id is None:
            yield Finding(
                Severity.DANGER, "no-fuse", Place(feed_id=feed.id), f"Feed {letters[feed.id]} has no fuse",
                f"It carries {amps(carried_a(evidence, feed))} at full white, and its wire may carry "
                f"{amps(path_limit_a(evidence.build, feed))}.",
                feed_working(evidence.build, evidence.white, feed.id),
                _fuse_fix(evidence, feed, path_limit_a(evidence.build, feed)),
            )  # fmt: skip


@rule("fuse-share")
def fuse_share(evidence: Evidence) -> Iterator[Finding]:
    """A fuse run above three quarters of its rating ages and blows for no fault."""
    for feed, fuse, letter in _fused(evidence):
        current = carried_a(evidence, feed)
        allowed = FUSE_SHARE * fuse.rating_a
        if current > allowed + 1e-9:
            yield Finding(
                Severity.DANGER, "fuse-share", Place(feed_id=feed.id), f"Feed {letter} overloads its fuse",
                f"{amps(current)} at full white; a {fuse.rating_a:g} A fuse may carry {amps(allowed)} for long, "
                f"{current - allowed:.2f} A less.",
                feed_working(evidence.build, evidence.white, feed.id) if evidence.white else None,
                _fuse_fix(evidence, feed, path_limit_a(evidence.build, feed)),
            )  # fmt: skip


@rule("fuse-over-wire")
def fuse_over_wire(evidence: Evidence) -> Iterator[Finding]:
    """A fuse above what its wire or connector may carry lets them burn before it blows."""
    for feed, fuse, letter in _fused(evidence):
        limit = path_limit_a(evidence.build, feed)
        if fuse.rating_a > limit + 1e-9:
            yield Finding(
                Severity.DANGER, "fuse-over-wire", Place(feed_id=feed.id),
                f"Feed {letter}: the fuse is larger than the wire",
                f"The fuse is {fuse.rating_a:g} A; the weakest of wire and connectors may carry {amps(limit)}, "
                f"{fuse.rating_a - limit:.2f} A less.",
                feed_working(evidence.build, evidence.white, feed.id) if evidence.white else None,
                _fuse_fix(evidence, feed, limit),
            )  # fmt: skip


@rule("wire-current")
def wire_current(evidence: Evidence) -> Iterator[Finding]:
    """A wire or connector that carries more than it may gets hot, out or back alike."""
    if evidence.white is None:
        return
    letters = feed_letters(evidence.build)
    for feed in evidence.build.feeds:
        current, limit = carried_a(evidence, feed), path_limit_a(evidence.build, feed)
        if current > limit + 1e-9:
            yield Finding(
                Severity.DANGER, "wire-current", Place(feed_id=feed.id),
                f"Feed {letters[feed.id]} carries more than its wire may",
                f"{amps(current)} at full white; the weakest of wire and connectors may carry {amps(limit)}.",
                feed_working(evidence.build, evidence.white, feed.id), _wire_fix(evidence, feed),
            )  # fmt: skip


@rule("far-short")
def far_short(evidence: Evidence) -> Iterator[Finding]:
    """A short at the far end that draws less than twice the fuse's rating never blows it, and copper cooks."""
    for feed, fuse, letter in _fused(evidence):
        short = far_shorts(evidence.build)[feed.id]
        if short.current_a >= FAULT_RATIO * fuse.rating_a - 1e-9:
            continue
        current = carried_a(evidence, feed)
        smaller = fuse_for(evidence.build, current, min(fuse.rating_a, short.current_a / FAULT_RATIO))
        fix, advice = None, "Add feeds, cut zones, or use thicker or shorter wire."
        if smaller:
            fix = Fix(f"Fuse it at {smaller.rating_a:g} A", partial(set_fuse, feed_id=feed.id, fuse=smaller))
            advice = f"A {smaller.rating_a:g} A fuse would blow."
        elif feed.attach.to == "strip":
            fix = Fix("Find feeds that blow", find_feeds_on=feed.attach.strip_id, guard_shorts=True)
        yield Finding(
            Severity.DANGER, "far-short", Place(feed_id=feed.id), f"Feed {letter}'s fuse outlives a far short",
            f"It would draw {amps(short.current_a)} through {engineering(short.loop_ohm, 'ohm')}, and the "
            f"{fuse.rating_a:g} A fuse needs {amps(FAULT_RATIO * fuse.rating_a)}: the wire cooks. {advice}",
            short_working(feed, short, fuse), fix,
        )  # fmt: skip


@rule("strip-copper")
def strip_copper(evidence: Evidence) -> Iterator[Finding]:
    """A strip's own thin copper, asked to carry more than it may, gets hot beside the tap."""
    if evidence.white is None:
        return
    for strip in evidence.build.strips:
        run = evidence.white.runs[strip.id]
        limit = part_of(evidence.build, strip).rail_limit_a
        carried = np.maximum(np.abs(run.rail_pos_a), np.abs(run.rail_neg_a))
        if carried.max() > limit + 1e-9:
            worst = min(int(carried.argmax()), strip.pixel_count - 1)
            yield Finding(
                Severity.DANGER, "strip-copper", Place(strip.id, worst),
                f"{strip.name}: {amps(float(carried.max()))} in its own copper",
                f"Beside pixel {worst} at full white; this strip's rails may carry {amps(limit)}, "
                f"{float(carried.max()) - limit:.2f} A less.",
                rail_working(evidence.build, evidence.white, strip.id, int(carried.argmax())),
                Fix("Find feeds", find_feeds_on=strip.id),
            )  # fmt: skip


def _fused(evidence: Evidence) -> Iterator[tuple[Feed, FusePart, str]]:
    if evidence.white is None:
        return
    letters = feed_letters(evidence.build)
    for feed in evidence.build.feeds:
        fuse = fuse_of(evidence.build, feed)
        if fuse:
            yield feed, fuse, letters[feed.id]
