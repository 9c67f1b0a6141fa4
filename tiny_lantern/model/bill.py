"""What a build is made of: how much of each part, and what it costs."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from tiny_lantern.model.parts.part import BillLine, Use
from tiny_lantern.model.strip import PixelRun

if TYPE_CHECKING:
    from tiny_lantern.model.build import Build

SLACK = 1.10


def bill_of(build: Build) -> tuple[BillLine, ...]:
    """What to buy, in the order in which the build uses it; wire with a tenth to spare."""
    used: dict[str, Use] = {}
    for part_id, use in _uses(build):
        before = used.get(part_id, Use())
        used[part_id] = Use(before.count + use.count, before.length_m + use.length_m)
    by_id = {part.id: part for part in build.parts}
    return tuple(by_id[part_id].bill(use) for part_id, use in used.items())


def _uses(build: Build) -> Iterator[tuple[str, Use]]:
    """Each use of a part: pieces, supplies, then wires, fuses and connectors."""
    for piece in build.pieces:
        yield piece.part_id, Use(1, piece.length_m) if isinstance(piece, PixelRun) else Use(piece.part_count)
    for supply in build.supplies:
        yield supply.part_id, Use(1)
    sides = [side for feed in build.feeds for side in (feed.positive, feed.negative)]
    for side in sides:
        yield side.wire_id, Use(1, side.length_m * SLACK)
    for feed in build.feeds:
        for part_id in (feed.fuse_id, feed.positive.connector_id, feed.negative.connector_id):
            if part_id is not None:
                yield part_id, Use(1)
