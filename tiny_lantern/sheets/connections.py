"""Every conductor of a build, derived: from where to where, through what, in which colour, how long, by which hole."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace

from tiny_lantern.electrical.driven.contract import DrivenLamp, lamp_of
from tiny_lantern.electrical.ohms import fuse_of, wire_of
from tiny_lantern.findings.passages import fill_of
from tiny_lantern.model.build import Build, OnStrip
from tiny_lantern.model.drive import Channel, Dimmed, Driver, lamp_role
from tiny_lantern.model.edits import item
from tiny_lantern.model.edits_room import feeds_through
from tiny_lantern.model.layout import slot_places
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.quantities import engineering
from tiny_lantern.model.room import Passage
from tiny_lantern.model.ways.boxed import Boxed
from tiny_lantern.model.ways.demux import Demux
from tiny_lantern.model.ways.hold import HoldRail
from tiny_lantern.model.ways.pair import ReversingPair
from tiny_lantern.model.ways.pin import PinDirect
from tiny_lantern.model.ways.pwm import PwmPin
from tiny_lantern.model.ways.register import RegisterChain
from tiny_lantern.model.ways.relay import RelayBoard
from tiny_lantern.model.ways.scanned import Scanned
from tiny_lantern.model.ways.sink import SinkChain
from tiny_lantern.model.ways.switch import Switch
from tiny_lantern.sheets.conductor import (
    CHIPS,
    COMMONS,
    CONTROL,
    FEEDS,
    GROUPS,
    LAMPS,
    LAST,
    Connection,
    End,
    chip_end,
    pin_end,
)
from tiny_lantern.sheets.control_rows import counter_rows, demux_rows, knob_rows, latch_end, multiplexer_rows
from tiny_lantern.sheets.data_rows import chain_rows, data_rows, loose_rows

OUTER_M = 0.0015


def connections(build: Build) -> tuple[Connection, ...]:
    """Every conductor, in the order of the hands: commons, chip supply, control, lamps, feeds, the lamp supply last;
    each numbered, with its colour, its length and the passage that it goes through."""
    rows = [row for number in range(len(build.feeds)) for row in _of_feed(build, number)]
    for driver in build.drivers:
        rows += list(_of_driver(build, driver))
    rows += [*_supplies(build), *data_rows(build), *loose_rows(build), *chain_rows(build)]
    each_once: dict[str, Connection] = {}
    for row in rows:
        each_once.setdefault(row.key, row)
    rows = sorted(each_once.values(), key=lambda row: GROUPS.index(row.group))
    return tuple(_finished(build, row, number) for number, row in enumerate(rows, 1))


def _finished(build: Build, row: Connection, number: int) -> Connection:
    colour = build.wiring.colour_of(row.role)
    cut_m, passage = row.cut_m, row.passage
    if row.slot is not None:
        cut_m, passage = _way_to(build, row.slot)
    if row.group != FEEDS:
        cut_m = math.ceil((cut_m + build.wiring.allowance_m) * 200) / 200
    return replace(row, colour=colour, cut_m=round(cut_m, 3), passage=passage, label=f"{number} / {row.start.on}")


def _way_to(build: Build, slot: int) -> tuple[float, str]:
    """How far a lamp is from where the board is, by the passage of the least detour where there are any. [m]"""
    ref = build.line.ref_at(slot)
    x, y = slot_places(build.line.piece(ref.piece_id))[ref.index]
    home = _home(build)
    ways = [
        (math.dist(home, (hole.x_m, hole.y_m)) + math.dist((hole.x_m, hole.y_m), (x, y)), hole.name)
        for hole in build.passages
    ]
    return min(ways, default=(math.dist(home, (x, y)), ""))


def _home(build: Build) -> tuple[float, float]:
    """Where the board is: its box, else the first supply, else the corner of the picture. [m]"""
    if build.boxes:
        return build.boxes[0].x_m, build.boxes[0].y_m
    return (build.supplies[0].x_m, build.supplies[0].y_m) if build.supplies else (0.0, 0.0)


def most_through(passage: Passage, outer_m: float = OUTER_M) -> int:
    """How many thin conductors a passage takes. [-]

    Args:
        passage: the passage.
        outer_m: how thick each is outside. [m]
    """
    count = int(fill_of(3) * passage.diameter_m**2 / outer_m**2 + 1e-9)
    return max(count, 1 if outer_m <= passage.diameter_m else 0)


def through_counts(build: Build, rows: tuple[Connection, ...]) -> dict[str, int]:
    """How many conductors go through each passage, those of feeds included, by its name."""
    counts = {hole.name: 2 * len(list(feeds_through(build, hole))) + hole.others for hole in build.passages}
    for row in rows:
        if row.passage in counts:
            counts[row.passage] += 1
    return counts


# feeds and supplies


def _of_feed(build: Build, number: int) -> tuple[Connection, ...]:
    feed = build.feeds[number]
    supply = item(build.supplies, feed.supply_id, "supply")
    letter, fuse = build.feed_letters[feed.id], fuse_of(build, feed)
    place = f"at {feed.attach.position_m:.3f} m" if isinstance(feed.attach, OnStrip) else "bus"
    on = build.line.strip(feed.attach.strip_id).name if isinstance(feed.attach, OnStrip) else "bus"
    rows = []
    for side, terminal, conductor in (("out", "+", feed.positive), ("back", "−", feed.negative)):
        rows.append(
            Connection(
                f"feed/{feed.id}/{side}", FEEDS, End(supply.name, terminal), End(on, terminal, place),
                f"{fuse.name}, feed {letter}" if fuse is not None and side == "out" else f"feed {letter}", "feeds",
                gauge=wire_of(build, conductor).name, cut_m=conductor.length_m,
            )
        )  # fmt: skip
    return tuple(rows)


def _supplies(build: Build) -> Iterator[Connection]:
    for board in build.boards:
        supply = next((each.name for each in build.supplies if each.id == board.supply_id), "the logic supply")
        yield Connection(f"board/{board.id}/0v", COMMONS, End(supply, "0 V"), End(board.name, "0 V"), role="return")
        yield Connection(
            f"board/{board.id}/plus", LAST, End(supply, "+"), End(board.name, "supply"), role="logic supply"
        )
    rails = sorted({round(_rail_v(driver), 2) for driver in build.drivers if _rail_v(driver) > 0})
    for volts in rails:
        rail = End(f"{volts:g} V lamp rail", "")
        yield Connection(f"rail/{volts:g}", LAST, End(f"{volts:g} V supply", "+"), rail, role="lamp supply")


def _rail_v(driver: Driver) -> float:
    return float(getattr(driver, "full_v", getattr(driver, "led_v", 0.0)))


# what drives


def _of_driver(build: Build, driver: Driver) -> Iterator[Connection]:
    if isinstance(driver, RegisterChain | SinkChain | Scanned):
        yield from _chain(build, driver)
        yield from multiplexer_rows(build, driver)
    if isinstance(driver, Demux):
        yield from demux_rows(build, driver)
    if isinstance(driver, Dimmed) and driver.knob:
        yield from knob_rows(build, driver)
    for channel in build.channels_of[driver.id]:
        for row in _of_channel(build, driver, channel):
            yield replace(row, driver_id=driver.id)
    if isinstance(driver, Scanned):
        yield from _matrix(build, driver)
        if driver.rows_by == "counter":
            yield from counter_rows(build, driver)
    if isinstance(driver, RelayBoard):
        yield from _relay(build, driver)
    if isinstance(driver, HoldRail):
        yield from _hold(build, driver)


def _chain(build: Build, driver: RegisterChain | SinkChain | Scanned) -> Iterator[Connection]:
    chip = build.shelf.find(ChipPart, driver.chip_id)

    def row(key: str, group: str, start: End, end: End, role: str, through: str = "") -> Connection:
        return Connection(f"{driver.id}/{key}", group, start, end, through, role, driver_id=driver.id)

    for number in range(driver.chips):
        yield row(f"{number}/0v", COMMONS, End("0 V rail", ""), chip_end(driver, chip, number, "0 V"), "return")
        supply = chip_end(driver, chip, number, "supply")
        yield row(f"{number}/vcc", CHIPS, End("logic rail", "+"), supply, "logic supply")
        yield row(
            f"{number}/cap", CHIPS, supply, chip_end(driver, chip, number, "0 V"), "logic supply", "100 nF, close by"
        )
        if driver.enable_wired and "enable" in chip.legs:
            yield row(
                f"{number}/enable", CONTROL, chip_end(driver, chip, number, "enable"), End("0 V rail", ""), "control"
            )
        if driver.clear_wired and "clear" in chip.legs:
            yield row(
                f"{number}/clear", CONTROL, chip_end(driver, chip, number, "clear"), End("logic rail", "+"), "control"
            )
        for line, start in (("clock", pin_end(build, driver, "clock")), ("latch", latch_end(build, driver))):
            yield row(f"{number}/{line}", CONTROL, start, chip_end(driver, chip, number, line), line)
        if number == 0:
            yield row("0/data", CONTROL, pin_end(build, driver, "data"), chip_end(driver, chip, 0, "data"), "data")
        else:
            before = chip_end(driver, chip, number - 1, "next")
            yield row(f"{number}/data", CONTROL, before, chip_end(driver, chip, number, "data"), "data")
        if isinstance(driver, SinkChain):
            setting = chip_end(driver, chip, number, "set")
            yield row(f"{number}/set", CONTROL, setting, End("0 V rail", ""), "control",
                      f"{engineering(driver.rext_ohm, 'ohm')} sets the current")  # fmt: skip


def _leads(build: Build, channel: Channel, lamp: DrivenLamp) -> tuple[str, str]:
    """How the fed lead and the other one are called: by length, by cup, by place in the row."""
    part = lamp.part
    if not isinstance(part, LampPart) or part.leads is None or not part.leads.order:
        return "lead that is fed (not known yet)", "other lead (not known yet)"
    if channel.die is not None and channel.die in part.leads.order:
        common = next((lead for lead in part.leads.order if lead == "common"), "other")
        pair = (_lead(part, channel.die), _lead(part, common))
        return (pair[1], pair[0]) if part.common == "anode" else pair
    fed = next((lead for lead in ("anode", "plus") if lead in part.leads.order), part.leads.order[0])
    other = next((lead for lead in part.leads.order if lead != fed), "other lead")
    return _lead(part, fed), _lead(part, other)


def _lead(part: LampPart, lead: str) -> str:
    leads = part.leads
    if leads is None:
        return lead
    words = [lead]
    if leads.longest == lead:
        words.append("long leg")
    elif len(leads.order) == 2 and leads.longest is not None:
        words.append("short leg")
    if leads.cup == lead:
        words.append("cup side")
    if len(leads.order) > 2 and lead in leads.order:
        words.append(f"{leads.order.index(lead) + 1} of {len(leads.order)} in the row")
    return ", ".join(words)


def _lamp_end(build: Build, channel: Channel, lamp: DrivenLamp, lead: str, index: int = 0) -> End:
    ref = channel.slots[index]
    return End(lamp.piece.place_name(ref.index), lead, lamp.piece.function_name(ref.index))


def _of_channel(build: Build, driver: Driver, channel: Channel) -> Iterator[Connection]:
    lamp = lamp_of(build, channel)
    slot = build.line.slot_of(channel.slots[0])
    fed, other = _leads(build, channel, lamp)
    key = f"{driver.id}/{channel.output}"
    through = engineering(channel.resistor_ohm, "ohm") if channel.resistor_ohm else ""
    first, last = _lamp_end(build, channel, lamp, fed), _lamp_end(build, channel, lamp, other, -1)
    yield from _between(build, channel, lamp, fed, other, key)
    if isinstance(driver, RegisterChain | SinkChain | Demux):
        chip = build.shelf.find(ChipPart, driver.chip_id)
        number, output = divmod(channel.output, chip.outputs)
        sinks = isinstance(driver, SinkChain) or bool(getattr(driver, "sink", False))
        leg = chip_end(driver, chip, number, f"out {output}")
        rail = End(f"{driver.led_v:g} V lamp rail", "") if sinks else End("0 V rail", "")
        yield Connection(f"{key}/lamp", LAMPS, leg, last if sinks else first, through, "lamps", slot=slot)
        together = f"{driver.id}/lamp{slot}/common"
        yield Connection(together, COMMONS, rail, first if sinks else last, "", "lamp supply" if sinks else "return",
                         slot=slot)  # fmt: skip
    elif isinstance(driver, PinDirect | PwmPin):
        pin = pin_end(build, driver, lamp_role(channel.output))
        rail = End("logic rail", "+") if driver.sink else End("0 V rail", "")
        yield Connection(f"{key}/lamp", LAMPS, pin, last if driver.sink else first, through, "lamps", slot=slot)
        together = f"{driver.id}/lamp{slot}/common"
        yield Connection(together, COMMONS, rail, first if driver.sink else last, "", "return", slot=slot)
    elif isinstance(driver, Boxed):
        yield from _boxed(build, driver, channel, first, last, through, slot)
    elif isinstance(driver, Switch):
        yield from _switch(build, driver, channel, first, last, through, slot)
    elif isinstance(driver, ReversingPair) and channel.output % 2 == 0:
        for end, lead in ((0, first), (1, last)):
            pin = pin_end(build, driver, f"lamp {channel.output // 2} end {end}")
            yield Connection(f"{key}/end{end}", LAMPS, pin, lead, through if end == 0 else "", "lamps", slot=slot)


def _between(build: Build, channel: Channel, lamp: DrivenLamp, fed: str, other: str, key: str) -> Iterator[Connection]:
    """From lamp to lamp of a string in series; both leads to those of the next one where they lie side by side."""
    pairs = [("string", other, fed)] if lamp.in_series > 1 else []
    pairs = [("fed", fed, fed), ("back", other, other)] if lamp.branches > 1 else pairs
    for number in range(len(channel.slots) - 1):
        for name, lead, to in pairs:
            yield Connection(
                f"{key}/{name}{number}", LAMPS, _lamp_end(build, channel, lamp, lead, number),
                _lamp_end(build, channel, lamp, to, number + 1), "", "lamps",
            )  # fmt: skip


def _boxed(
    build: Build, driver: Boxed, channel: Channel, first: End, last: End, through: str, slot: int
) -> Iterator[Connection]:
    key, (box, output) = f"{driver.id}/{channel.output}", divmod(channel.output, driver.output.per_box)
    name, rail = f"{driver.name} {box + 1}", End(f"{driver.led_v:g} V lamp rail", "")
    pin = pin_end(build, driver, lamp_role(channel.output))
    if output == 0:
        yield Connection(f"{key}/0v", COMMONS, End("0 V rail", ""), End(name, "0 V"), "", "return")
    yield Connection(f"{key}/in", CONTROL, pin, End(name, f"input {output + 1}"), "", "control")
    yield Connection(f"{key}/lamp", LAMPS, End(name, f"output {output + 1}"), last, through, "lamps", slot=slot)
    yield Connection(f"{driver.id}/lamp{slot}/common", COMMONS, rail, first, "", "lamp supply", slot=slot)


def _switch(
    build: Build, driver: Switch, channel: Channel, first: End, last: End, through: str, slot: int
) -> Iterator[Connection]:
    key = f"{driver.id}/{channel.output}"
    name = f"{driver.name} transistor {channel.output + 1}"
    pin = pin_end(build, driver, lamp_role(channel.output))
    base = engineering(driver.base_ohm, "ohm") if driver.base_ohm else ""
    yield Connection(f"{key}/source", COMMONS, End("0 V rail", ""), End(name, "source or emitter"), "", "return")
    if driver.pull_ohm is not None:
        pull = engineering(driver.pull_ohm, "ohm")
        yield Connection(f"{key}/pull", CONTROL, End(name, "gate"), End(name, "source"), pull, "control")
    yield Connection(f"{key}/gate", CONTROL, pin, End(name, "gate or base"), base, "control")
    yield Connection(f"{key}/lamp", LAMPS, End(name, "drain or collector"), last, "", "lamps", slot=slot)
    yield Connection(f"{key}/common", COMMONS, End(f"{driver.led_v:g} V lamp rail", ""), first, through, "lamp supply",
                     slot=slot)  # fmt: skip


def _matrix(build: Build, driver: Scanned) -> Iterator[Connection]:
    channels = build.channels_of[driver.id]
    if not channels:
        return
    chip = build.shelf.find(ChipPart, driver.chip_id)
    piece = build.line.piece(channels[0].slots[0].piece_id)
    slot = build.line.slot_of(channels[0].slots[0])
    column_chips = -(-driver.columns // chip.outputs)
    through = engineering(driver.column_ohm, "ohm")
    for column in range(driver.columns):
        number, output = divmod(column, chip.outputs)
        leg = chip_end(driver, chip, number, f"out {output}")
        there = End(piece.name, f"column {column}")
        yield Connection(f"{driver.id}/column{column}", LAMPS, leg, there, through, driver_id=driver.id, slot=slot)
    for row in range(driver.rows):
        number, output = divmod(row, chip.outputs)
        leg = chip_end(driver, chip, column_chips + number, f"out {output}")
        if driver.rows_by == "counter":
            leg = End(f"{driver.name} counter", f"row {row}")
        by = "row transistor" if driver.rows_by == "transistor" else ""
        yield Connection(f"{driver.id}/row{row}", LAMPS, leg, End(piece.name, f"row {row}"), by, "lamps",
                         driver_id=driver.id, slot=slot)  # fmt: skip


def _relay(build: Build, driver: RelayBoard) -> Iterator[Connection]:
    name = f"{driver.name} relay"
    yield Connection(
        f"{driver.id}/0v", COMMONS, End("0 V rail", ""), End(name, "0 V"), "", "return", driver_id=driver.id
    )
    yield Connection(f"{driver.id}/vcc", CHIPS, End("logic rail", "+"), End(name, "supply"), "", "logic supply",
                     driver_id=driver.id)  # fmt: skip
    for channel in build.channels_of[driver.id]:
        pin = pin_end(build, driver, lamp_role(channel.output))
        yield Connection(f"{driver.id}/{channel.output}/in", CONTROL, pin, End(name, f"input {channel.output + 1}"), "",
                         "control", driver_id=driver.id)  # fmt: skip
        lamp = lamp_of(build, channel)
        mains = bool(getattr(lamp.part, "mains", False))
        word = "by a licensed person" if mains else ""
        yield Connection(f"{driver.id}/{channel.output}/contact", LAST, End(name, f"contact {channel.output + 1}"),
                         _lamp_end(build, channel, lamp, "one end"), word, "lamp supply", driver_id=driver.id,
                         slot=build.line.slot_of(channel.slots[0]))  # fmt: skip


def _hold(build: Build, driver: HoldRail) -> Iterator[Connection]:
    channels = build.channels_of[driver.id]
    if not channels:
        return
    lamp, slot = lamp_of(build, channels[0]), build.line.slot_of(channels[0].slots[0])
    first = _lamp_end(build, channels[0], lamp, "plus")
    full, hold = (End(f"{driver.name} {word} switch", "gate") for word in ("full", "hold"))
    out = End(f"{driver.name} regulator", f"{driver.out_v:g} V")
    rows: tuple[tuple[str, str, End, End, str, str, int | None], ...] = (
        ("0v", COMMONS, End("0 V rail", ""), _lamp_end(build, channels[0], lamp, "minus"), "", "return", slot),
        ("full", CONTROL, pin_end(build, driver, "full"), full, "220 Ω", "control", None),
        ("hold", CONTROL, pin_end(build, driver, "hold"), hold, "220 Ω", "control", None),
        ("regulator", CHIPS, out, End(f"{driver.name} hold switch", "in"), "", "lamp supply", None),
        ("rail", LAMPS, End(f"{driver.name} switches", "out"), first, "", "lamps", slot),
    )
    for key, group, start, end, through, role, at in rows:
        yield Connection(f"{driver.id}/{key}", group, start, end, through, role, driver_id=driver.id, slot=at)
