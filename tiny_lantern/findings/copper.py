"""Rules on feeds and the strip's own copper: fuses, wires, connectors, rails and joints, at full white."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np

from tiny_lantern.catalogue.shelf import all_parts
from tiny_lantern.electrical.fuses import FUSE_SHARE, conductor_limit_a, feed_limit_a, fuse_for
from tiny_lantern.electrical.network import part_of
from tiny_lantern.electrical.ohms import connector_of, fuse_of, wire_of
from tiny_lantern.electrical.power import FeedSolution
from tiny_lantern.electrical.workings import feed_working, rail_working
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.build import Build, Conductor, Feed
from tiny_lantern.model.edits_power import set_fuse, set_wires
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.model.place import Place
from tiny_lantern.model.quantities import amps

MOST_WIRE_TRIES = 3


def _fed(evidence: Evidence) -> Iterator[tuple[Feed, FeedSolution, str]]:
    """Each feed with its currents at full white and its letter."""
    if evidence.white is None:
        return
    letters = evidence.build.feed_letters
    for feed in evidence.build.feeds:
        yield feed, evidence.white.feeds[feed.id], letters[feed.id]


def _fused(evidence: Evidence) -> Iterator[tuple[Feed, FeedSolution, str, FusePart]]:
    for feed, solved, letter in _fed(evidence):
        fuse = fuse_of(evidence.build, feed)
        if fuse:
            yield feed, solved, letter, fuse


def _fuse_tries(evidence: Evidence, feed: Feed, at_most_a: float | None = None) -> tuple[Fix, ...]:
    """A fuse that fits between the outgoing current and what the path bears; else thicker wires that let one fit."""
    build = evidence.build
    assert evidence.white is not None
    out_a = abs(evidence.white.feeds[feed.id].pos_a)
    fuse = fuse_for(build, out_a, feed_limit_a(build, feed) if at_most_a is None else at_most_a)
    tries = _wire_tries(evidence, feed)
    if fuse:
        return (Fix(f"Fuse it at {fuse.rating_a:g} A", partial(set_fuse, feed_id=feed.id, fuse=fuse)), *tries)
    return tries


def _wire_tries(evidence: Evidence, feed: Feed) -> tuple[Fix, ...]:
    """Wires of the sort in use, none thinner than now, that carry both currents and let a fuse fit; connectors stay."""
    build = evidence.build
    assert evidence.white is not None
    solved = evidence.white.feeds[feed.id]
    found: list[Fix] = []
    plugs = [connector.limit_a for side in (feed.positive, feed.negative) if (connector := connector_of(build, side))]
    for out, back in _thicker_pairs(build, feed):
        if out.limit_a < abs(solved.pos_a) or back.limit_a < abs(solved.neg_a):
            continue
        fuse = fuse_for(build, abs(solved.pos_a), min(out.limit_a, back.limit_a, *plugs, float("inf")))
        if fuse:
            name = out.name if out.id == back.id else f"{out.name} out, {back.name} back"
            edit = partial(_rewired, feed_id=feed.id, out=out, back=back, fuse=fuse)
            found.append(Fix(f"Use {name} and a {fuse.rating_a:g} A fuse", edit))
    return tuple(found[:MOST_WIRE_TRIES])


def _thicker_pairs(build: Build, feed: Feed) -> Iterator[tuple[WirePart, WirePart]]:
    """Wires for both conductors, out and back at least as thick as now, the thinnest first."""
    parts = all_parts(build)
    sides: list[list[WirePart]] = []
    for conductor in (feed.positive, feed.negative):
        now = wire_of(build, conductor)
        sort = now.id.split("-")[0]
        alike = [
            wire for wire in parts.of(WirePart) if wire.area_mm2 >= now.area_mm2 - 1e-9 and wire.id.startswith(sort)
        ]
        sides.append(sorted([now, *(wire for wire in alike if wire.id != now.id)], key=lambda wire: wire.area_mm2))
    for area in sorted({wire.area_mm2 for side in sides for wire in side}):
        pair = [next((wire for wire in side if wire.area_mm2 >= area - 1e-9), None) for side in sides]
        if pair[0] and pair[1]:
            yield pair[0], pair[1]


def _rewired(build: Build, feed_id: str, out: WirePart, back: WirePart, fuse: FusePart) -> Build:
    return set_fuse(set_wires(build, feed_id, out, back), feed_id, fuse)


@rule("no-fuse", "{n} feeds have no fuse")
def no_fuse(evidence: Evidence) -> Iterator[Finding]:
    """A feed without a fuse lets a fault heat the wire until something else gives."""
    for feed, solved, letter in _fed(evidence):
        if feed.fuse_id is None:
            yield Finding(
                Severity.DANGER, "no-fuse", Place.on("feeds", feed.id), f"Feed {letter} has no fuse",
                f"It carries {amps(solved.pos_a)} out at full white, and its wires and connectors may carry "
                f"{amps(feed_limit_a(evidence.build, feed))}.",
                partial(feed_working, evidence.build, evidence.white, feed.id) if evidence.white else None,
                _fuse_tries(evidence, feed),
            )  # fmt: skip


@rule("fuse-share", "{n} feeds overload their fuses")
def fuse_share(evidence: Evidence) -> Iterator[Finding]:
    """A fuse whose outgoing current is above three quarters of its rating ages and blows for no fault."""
    for feed, solved, letter, fuse in _fused(evidence):
        current, allowed = abs(solved.pos_a), FUSE_SHARE * fuse.rating_a
        if current > allowed + 1e-9:
            yield Finding(
                Severity.DANGER, "fuse-share", Place.on("feeds", feed.id), f"Feed {letter} overloads its fuse",
                f"{amps(current)} out at full white; a {fuse.rating_a:g} A fuse may carry {amps(allowed)} for long, "
                f"{current - allowed:.2f} A less.",
                partial(feed_working, evidence.build, evidence.white, feed.id) if evidence.white else None,
                _fuse_tries(evidence, feed),
            )  # fmt: skip


@rule("fuse-over-wire", "On {n} feeds the fuse is larger than the wire")
def fuse_over_wire(evidence: Evidence) -> Iterator[Finding]:
    """A fuse above what its wires or connectors may carry lets them burn before it blows."""
    for feed, _, letter, fuse in _fused(evidence):
        limit = feed_limit_a(evidence.build, feed)
        if fuse.rating_a > limit + 1e-9:
            yield Finding(
                Severity.DANGER, "fuse-over-wire", Place.on("feeds", feed.id),
                f"Feed {letter}: the fuse is larger than the wire",
                f"The fuse is {fuse.rating_a:g} A; the weakest of wires and connectors may carry {amps(limit)}, "
                f"{fuse.rating_a - limit:.2f} A less.",
                partial(feed_working, evidence.build, evidence.white, feed.id) if evidence.white else None,
                _fuse_tries(evidence, feed, limit),
            )  # fmt: skip


@rule("wire-current", "{n} feeds carry more than their wires may")
def wire_current(evidence: Evidence) -> Iterator[Finding]:
    """A wire or connector that carries more than it may gets hot; out and back are each judged by their own current."""
    for feed, solved, letter in _fed(evidence):
        sides = (("out", feed.positive, abs(solved.pos_a)), ("back", feed.negative, abs(solved.neg_a)))
        over = [side for side in sides if side[2] > conductor_limit_a(evidence.build, side[1]) + 1e-9]
        if over:
            named = " and ".join(_overloaded(evidence.build, *side) for side in over)
            yield Finding(
                Severity.DANGER, "wire-current", Place.on("feeds", feed.id),
                f"Feed {letter} carries more than its wire may", f"At full white {named}.",
                partial(feed_working, evidence.build, evidence.white, feed.id) if evidence.white else None,
                _wire_tries(evidence, feed),
            )  # fmt: skip


def _overloaded(build: Build, name: str, conductor: Conductor, current: float) -> str:
    limit = conductor_limit_a(build, conductor)
    weakest = "wire" if wire_of(build, conductor).limit_a <= limit else "connector"
    return f"{amps(current)} flow {name}, and the {weakest} there may carry {amps(limit)}, {current - limit:.2f} A less"


@rule("strip-copper", "{n} strips carry more than their own copper may")
def strip_copper(evidence: Evidence) -> Iterator[Finding]:
    """A strip's own thin copper, asked to carry more than it may, gets hot beside the tap."""
    if evidence.white is None:
        return
    for strip in evidence.build.strips:
        run, part = evidence.white.runs[strip.id], part_of(evidence.build, strip)
        limits = (part.rail_limit_a, part.return_limit_a or part.rail_limit_a)
        sides = (np.abs(run.rail_pos_a), np.abs(run.rail_neg_a))
        which = int(sides[1].max() / limits[1] > sides[0].max() / limits[0] + 1e-9)
        carried, limit = sides[which], limits[which]
        if carried.max() > limit + 1e-9:
            worst = min(int(carried.argmax()), strip.pixel_count - 1)
            yield Finding(
                Severity.DANGER, "strip-copper", Place.at(strip.id, worst),
                f"{strip.name}: {amps(float(carried.max()))} in its own copper",
                f"Beside pixel {worst} at full white; this strip's {('positive', 'return')[which]} rail may carry "
                f"{amps(limit)}, {float(carried.max()) - limit:.2f} A less.",
                partial(rail_working, evidence.build, evidence.white, strip.id, int(carried.argmax())),
                (Fix("Find feeds", find_feeds_on=(strip.id,)),),
            )  # fmt: skip


@rule("joint-current", "{n} joints carry more than they may")
def joint_current(evidence: Evidence) -> Iterator[Finding]:
    """A joint between strips that carries more than it may gets hot where it was soldered."""
    if evidence.white is None:
        return
    names = {strip.id: strip.name for strip in evidence.build.strips}
    for joint in evidence.build.joints:
        ends, starts = evidence.white.runs[joint.from_strip_id], evidence.white.runs[joint.to_strip_id]
        carried = max(
            abs(float(ends.rail_pos_v[-1] - starts.rail_pos_v[0])) / joint.pos_ohm,
            abs(float(ends.rail_neg_v[-1] - starts.rail_neg_v[0])) / joint.neg_ohm,
        )
        if carried > joint.limit_a + 1e-9:
            yield Finding(
                Severity.DANGER, "joint-current", Place.at(joint.to_strip_id, 0),
                f"The joint to {names[joint.to_strip_id]} carries {amps(carried)}",
                f"At full white, from {names[joint.from_strip_id]}; it may carry {amps(joint.limit_a)}, "
                f"{carried - joint.limit_a:.2f} A less.",
                partial(rail_working, evidence.build, evidence.white, joint.to_strip_id, 0),
                (Fix("Find feeds", find_feeds_on=(joint.to_strip_id,)),),
            )  # fmt: skip
