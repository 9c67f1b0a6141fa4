"""What a build is made of: how much of each part, and what it costs."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import TYPE_CHECKING

from tiny_lantern.model.data_lines import first_on_lines
from tiny_lantern.model.drive import Channel, Dimmed, Driver
from tiny_lantern.model.parts.part import BillLine, Use
from tiny_lantern.model.pin_needs import behind
from tiny_lantern.model.quantities import engineering
from tiny_lantern.model.refers import part_fields
from tiny_lantern.model.strip import PixelRun

if TYPE_CHECKING:
    from tiny_lantern.model.build import Build

SLACK = 1.10
RESISTOR_COST, KNOB_COST, COUNTER_COST, SHIFTER_COST = 0.02, 0.8, 0.6, 0.7
SHIFTED_LINES = 4  # of one level shifter


def bill_of(build: Build) -> tuple[BillLine, ...]:
    """What to buy, in the order in which the build uses it; wire with a tenth to spare."""
    used: dict[str, Use] = {}
    for part_id, use in _uses(build):
        before = used.get(part_id, Use())
        used[part_id] = Use(before.count + use.count, before.length_m + use.length_m)
    by_id = {part.id: part for part in build.parts}
    return (
        *(by_id[part_id].bill(use) for part_id, use in used.items()),
        *_unnamed(build),
        *_resistors(build.channels),
        *_controls(build),
        *_inputs(build),
    )


def drive_cost(build: Build, driver: Driver) -> float:
    """What the parts of one way to drive cost, its board apart. [-]"""
    by_id = {part.id: part for part in build.parts}
    channels = build.channels_of[driver.id]
    parts = sum(by_id[part_id].bill(Use(count)).cost for part_id, count in _driver_parts(build, driver))
    return parts + sum(line.cost for line in (*driver.bill(channels), *_resistors(channels)))


def _driver_parts(build: Build, driver: Driver) -> Iterator[tuple[str, int]]:
    """The parts of a way to drive with how many of each."""
    channels = build.channels_of[driver.id]
    for field in part_fields(type(driver)):
        part_id = getattr(driver, field)
        if part_id is not None:
            yield part_id, driver.takes(field, channels)


def _unnamed(build: Build) -> Iterator[BillLine]:
    """What ways to drive take beside parts that they name, alike ones in one line."""
    yield from _together(line for driver in build.drivers for line in driver.bill(build.channels_of[driver.id]))


def _together(lines: Iterable[BillLine]) -> Iterator[BillLine]:
    """Lines of the bill, those of one part as one."""
    found: dict[str, BillLine] = {}
    for line in lines:
        before = found.get(line.part_id)
        amount, cost = (before.amount, before.cost) if before else (0.0, 0.0)
        found[line.part_id] = replace(line, amount=amount + line.amount, cost=cost + line.cost)
    yield from found.values()


def _resistors(channels: Iterable[Channel]) -> tuple[BillLine, ...]:
    """The resistors of some channels, by value."""
    counts = Counter(channel.resistor_ohm for channel in channels if channel.resistor_ohm)
    return tuple(
        BillLine(count, "", f"Resistor {engineering(ohm, 'ohm')}", RESISTOR_COST * count, resistor_id(ohm))
        for ohm, count in sorted(counts.items())
    )


def _inputs(build: Build) -> Iterator[BillLine]:
    """What is turned, pressed or lit, alike ones in one line."""
    yield from _together(line for each in build.inputs for line in each.bill())


def _controls(build: Build) -> Iterator[BillLine]:
    """Knobs, row counters, multiplexers, and level shifters beside each board whose data lines they lift."""
    lines = first_on_lines(build).values() if build.data.shifted else ()
    shifters = sum(math.ceil(len(pieces) / SHIFTED_LINES) for pieces in lines)
    knobs = sum(isinstance(each, Dimmed) and each.knob for each in build.drivers)
    counters = sum(getattr(each, "rows_by", "") == "counter" for each in build.drivers)
    counts = (
        ("knob-10k", "Knob, 10 kΩ, linear", KNOB_COST, knobs),
        ("row-counter", "Row counter", COUNTER_COST, counters),
        ("multiplexer", "Multiplexer", COUNTER_COST, sum(bool(behind(build, each)) for each in build.drivers)),
        ("level-shifter", f"Level shifter, {SHIFTED_LINES} lines", SHIFTER_COST, shifters),
    )
    yield from (BillLine(count, "", name, cost * count, identity) for identity, name, cost, count in counts if count)


def resistor_id(ohm: float) -> str:
    """The id of the shelf's resistor of a value.

    Args:
        ohm: the value. [ohm]
    """
    return f"resistor-{ohm:g}" if ohm < 1000 else f"resistor-{ohm / 1000:g}k".replace(".", "_")


def _uses(build: Build) -> Iterator[tuple[str, Use]]:
    """Each use of a part: pieces, supplies, then wires, fuses and connectors."""
    for piece in build.pieces:
        yield piece.part_id, Use(1, piece.length_m) if isinstance(piece, PixelRun) else Use(piece.part_count)
    for supply in build.supplies:
        yield supply.part_id, Use(1)
    for board in build.boards:
        yield board.part_id, Use(1)
    for rail in build.rails:
        yield rail.regulator_id, Use(1)
    for driver in build.drivers:
        yield from ((part_id, Use(count)) for part_id, count in _driver_parts(build, driver))
    sides = [side for feed in build.feeds for side in (feed.positive, feed.negative)]
    for side in sides:
        yield side.wire_id, Use(1, side.length_m * SLACK)
    for feed in build.feeds:
        for part_id in (feed.fuse_id, feed.positive.connector_id, feed.negative.connector_id):
            if part_id is not None:
                yield part_id, Use(1)
