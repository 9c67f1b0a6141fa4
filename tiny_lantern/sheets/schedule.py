"""The lists of a build: what to buy, what to cut, what each feed carries."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass

from tiny_lantern.electrical.ohms import conductor_ohm, fuse_of, wire_of
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.model.build import Feed, OnBus
from tiny_lantern.model.edits import item
from tiny_lantern.model.wording import harmless


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
