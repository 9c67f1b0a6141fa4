"""Conductors of what controls chips and levels: knobs, row counters, latches behind a multiplexer."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Driver, bits_for
from tiny_lantern.model.edits import item
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.pin_needs import behind, board_needs
from tiny_lantern.model.ways.chain import Chain
from tiny_lantern.model.ways.demux import Demux
from tiny_lantern.model.ways.scanned import Scanned
from tiny_lantern.sheets.conductor import CHIPS, COMMONS, CONTROL, Connection, End, chip_end, pin_end

ZERO, LOGIC = End("0 V rail", ""), End("logic rail", "+")


def knob_rows(build: Build, driver: Driver) -> Iterator[Connection]:
    """A knob between the logic rail and 0 V, its middle to a pin that reads."""
    name = f"{driver.name} knob"
    ends = (("0v", COMMONS, ZERO, End(name, "one end"), "return"),
            ("plus", CHIPS, LOGIC, End(name, "other end"), "logic supply"),
            ("middle", CONTROL, End(name, "middle"), pin_end(build, driver, "knob"), "control"))  # fmt: skip
    for key, group, start, end, role in ends:
        yield Connection(f"{driver.id}/knob/{key}", group, start, end, "", role, driver_id=driver.id)


def counter_rows(build: Build, driver: Scanned) -> Iterator[Connection]:
    """A counter that steps the rows: supply, step, and reset to its pin, or to 0 V where it is not led to one."""
    name = f"{driver.name} counter"
    reset = pin_end(build, driver, "reset") if driver.reset_wired else ZERO
    ends = (("0v", COMMONS, ZERO, "0 V", "return"), ("plus", CHIPS, LOGIC, "supply", "logic supply"),
            ("step", CONTROL, pin_end(build, driver, "step"), "clock", "clock"),
            ("reset", CONTROL, reset, "reset", "control"))  # fmt: skip
    for key, group, start, terminal, role in ends:
        yield Connection(f"{driver.id}/counter/{key}", group, start, End(name, terminal), "", role, driver_id=driver.id)


def multiplexer_rows(build: Build, driver: Driver) -> Iterator[Connection]:
    """A multiplexer that leads the latch to the driver's own chain or to one behind it; its outputs are wired with the
    chains."""
    others = behind(build, driver)
    if not others:
        return
    name = _multiplexer(driver)
    ends = [("0v", COMMONS, ZERO, "0 V", "return"), ("plus", CHIPS, LOGIC, "supply", "logic supply"),
            ("latch", CONTROL, pin_end(build, driver, "latch"), "common", "latch")]  # fmt: skip
    for bit in range(bits_for(1 + len(others))):
        ends.append((f"select{bit}", CONTROL, pin_end(build, driver, f"select {bit}"), f"select {bit}", "control"))
    for key, group, start, terminal, role in ends:
        yield Connection(f"{driver.id}/mux/{key}", group, start, End(name, terminal), "", role, driver_id=driver.id)


def demux_rows(build: Build, driver: Demux) -> Iterator[Connection]:
    """A demultiplexer's supply, its select lines, and its enables: the first to its pin, any other to 0 V."""
    chip = build.shelf.find(ChipPart, driver.chip_id)
    supply, ground = (chip_end(driver, chip, 0, leg) for leg in ("supply", "0 V"))
    rows = [("0v", COMMONS, ZERO, ground, "", "return"), ("vcc", CHIPS, LOGIC, supply, "", "logic supply"),
            ("cap", CHIPS, supply, ground, "100 nF, close by", "logic supply")]  # fmt: skip
    lines = {need.role for need in board_needs(build, driver.board_id) if need.driver_id == driver.id}
    for leg in (each for each in chip.legs if each.startswith(("select", "enable"))):
        start = pin_end(build, driver, leg) if leg in lines else ZERO
        rows.append((leg.replace(" ", ""), CONTROL, start, chip_end(driver, chip, 0, leg), "", "control"))
    for key, group, start, end, through, role in rows:
        yield Connection(f"{driver.id}/{key}", group, start, end, through, role, driver_id=driver.id)


def latch_end(build: Build, driver: Chain) -> End:
    """Where a chain's latch comes from: its pin, or a way of the multiplexer that it is behind."""
    if behind(build, driver):
        return End(_multiplexer(driver), "way 0")
    if driver.bus_of is not None and driver.select_by == "multiplexer":
        owner = item(build.drivers, driver.bus_of, "driver")
        ids = [other.id for other in behind(build, owner)]
        return End(_multiplexer(owner), f"way {ids.index(driver.id) + 1}")
    return pin_end(build, driver, "latch")


def _multiplexer(owner: Driver) -> str:
    return f"{owner.name} multiplexer"
