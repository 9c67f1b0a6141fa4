"""The lists of a build: what to buy, what to cut, what each feed carries."""

from __future__ import annotations

import csv
import io
from collections import Counter
from dataclasses import dataclass

from tiny_lantern.electrical.network import conductor_ohm, connector_of, fuse_of, part_of, supply_part, wire_of
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.model.build import Build, Feed, OnBus
from tiny_lantern.model.edits import item

SLACK = 1.10


@dataclass(frozen=True)
class FeedRow:
    """One feed as it stands in the feed and wire list; currents are those at full white."""

    letter: str
    place: str
    position_m: float | None
    supply: str
    wire_out: str
    wire_back: str
    length_out_m: float
    length_back_m: float
    out_ohm: float
    back_ohm: float
    out_a: float
    back_a: float
    fuse_a: float | None
    short: str


@dataclass(frozen=True)
class PartRow:
    """One line of the list of parts: how much of what, and what it costs."""

    amount: float
    unit: str
    name: str
    cost: float


def feed_rows(evidence: Evidence) -> list[FeedRow]:
    """Every feed, lettered as in the window."""
    build = evidence.build
    letters = build.feed_letters
    shorts = evidence.near_shorts
    return [
        _feed_row(evidence, feed, letters[feed.id], shorts[feed.id].words if feed.id in shorts else "")
        for feed in build.feeds
    ]


def _feed_row(evidence: Evidence, feed: Feed, letter: str, short: str) -> FeedRow:
    build = evidence.build
    fuse = fuse_of(build, feed)
    solved = evidence.white.feeds[feed.id] if evidence.white else None
    on_bus = isinstance(feed.attach, OnBus)
    place = f"bus, {feed.attach.end}" if isinstance(feed.attach, OnBus) else build.line.strip(feed.attach.strip_id).name
    return FeedRow(
        letter=letter,
        place=place,
        position_m=None if on_bus else feed.attach.position_m,  # type: ignore[union-attr]
        supply=item(build.supplies, feed.supply_id, "supply").name,
        wire_out=wire_of(build, feed.positive).name,
        wire_back=wire_of(build, feed.negative).name,
        length_out_m=feed.positive.length_m,
        length_back_m=feed.negative.length_m,
        out_ohm=conductor_ohm(build, feed.positive, fuse),
        back_ohm=conductor_ohm(build, feed.negative),
        out_a=solved.pos_a if solved else 0.0,
        back_a=solved.neg_a if solved else 0.0,
        fuse_a=fuse.rating_a if fuse else None,
        short=short,
    )


def part_rows(build: Build) -> list[PartRow]:
    """What to buy: strip by the metre, supplies, wire with a tenth to spare, fuses and connectors."""
    rows: list[PartRow] = []
    strips: Counter[str] = Counter()
    for strip in build.strips:
        strips[strip.part_id] += strip.length_m  # type: ignore[assignment]
    for strip in build.strips:
        if strip.part_id in strips:
            length = float(strips.pop(strip.part_id))
            part = part_of(build, strip)
            rows.append(PartRow(round(length, 2), "m", part.name, length * part.cost_per_m))
    supplies = Counter(supply.part_id for supply in build.supplies)
    for supply in build.supplies:
        if count := supplies.pop(supply.part_id, 0):
            source = supply_part(build, supply.id)
            rows.append(PartRow(count, "", source.name, count * source.cost))
    return rows + _feed_parts(build)


def _feed_parts(build: Build) -> list[PartRow]:
    wire_m: dict[str, float] = {}
    counted: Counter[str] = Counter()
    cost: dict[str, float] = {}
    for feed in build.feeds:
        fuse = fuse_of(build, feed)
        if fuse:
            counted[fuse.name] += 1
            cost[fuse.name] = fuse.cost
        for side in (feed.positive, feed.negative):
            wire = wire_of(build, side)
            wire_m[wire.name] = wire_m.get(wire.name, 0.0) + side.length_m * SLACK
            cost[wire.name] = wire.cost_per_m
            connector = connector_of(build, side)
            if connector:
                counted[connector.name] += 1
                cost[connector.name] = connector.cost
    wires = [PartRow(round(length, 1), "m", f"Wire, {name}", length * cost[name]) for name, length in wire_m.items()]
    return wires + [PartRow(count, "", name, count * cost[name]) for name, count in counted.items()]


def feeds_csv(evidence: Evidence) -> str:
    """The feed and wire list as comma-separated values, units in the heads."""
    text = io.StringIO()
    table = csv.writer(text, lineterminator="\n")
    rows = feed_rows(evidence)
    table.writerow(["feed" if name == "letter" else name for name in FeedRow.__dataclass_fields__])
    for row in rows:
        table.writerow([_cell(value) for value in vars(row).values()])
    return text.getvalue()


def _cell(value: str | float | None) -> str:
    """Text that no table program takes for a formula, numbers to four decimals without trailing zeros, nothing for
    none."""
    if value is None or isinstance(value, str):
        return harmless(value or "")
    return f"{value:.4f}".rstrip("0").rstrip(".")


def harmless(text: str) -> str:
    """A cell's text with an apostrophe before it where a table program would run it as a formula.

    Source: the usual advice against formula injection in comma-separated values.
    """
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "\r") else text
