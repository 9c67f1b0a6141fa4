"""What hangs on a driver's pins as parts that make levels of levels, by its way to drive."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from tiny_lantern.circuit.conductor import End
from tiny_lantern.circuit.wires.hookup import Hookup
from tiny_lantern.live.tried.nets import HIGH, LOW
from tiny_lantern.live.tried.parts import ChainChip, Counter, chosen, conducts
from tiny_lantern.model.drive import bits_for
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.parts.relay import RelayPart
from tiny_lantern.model.parts.transistor import TransistorPart
from tiny_lantern.model.pin_needs import behind
from tiny_lantern.model.ways.boxed import Boxed
from tiny_lantern.model.ways.chain import Chain
from tiny_lantern.model.ways.demux import Demux
from tiny_lantern.model.ways.hold import HoldRail
from tiny_lantern.model.ways.pair import ReversingPair
from tiny_lantern.model.ways.relay import RelayBoard
from tiny_lantern.model.ways.scanned import Scanned
from tiny_lantern.model.ways.sink import SinkChain
from tiny_lantern.model.ways.switch import Switch

Board = Any  # a TriedBoard, which knows of these
Fit = Callable[[Board, Hookup], None]


def fit(board: Board, hookup: Hookup) -> None:
    """Fit a driver's parts and lamps to a board.

    Args:
        board: the board.
        hookup: the driver.
    """
    driver = hookup.driver
    board.nets.drive(hookup.zero, lambda: LOW)
    for end in (hookup.logic, *(hookup.rail(field) for field in driver.told_by), *_load_rail(hookup)):
        board.nets.drive(end, lambda: HIGH)
    for kind, fitting in FITTINGS.items():
        if isinstance(driver, kind):
            fitting(board, hookup)
    if isinstance(driver, HoldRail | Scanned):
        return
    for hung in hookup.hung():
        output = hung.channel.output
        ends = hung.fed, hung.lead(hung.leads.other) if hung.lamp.branches > 1 else hung.other
        turned = isinstance(driver, ReversingPair) and output % 2 == 1
        board.lamps[driver.id, output] = ends[::-1] if turned else ends


def _load_rail(hookup: Hookup) -> tuple[End, ...]:
    return (hookup.rail("load_fed_by"),) if isinstance(hookup.driver, RelayBoard) else ()


def _chain(board: Board, hookup: Hookup) -> None:
    driver = hookup.driver
    assert isinstance(driver, Chain)
    part = hookup.build.shelf.find(ChipPart, driver.chip_id)
    for number in range(driver.chips):
        legs = {leg: hookup.leg(part, number, leg) for leg in part.legs}
        chip = ChainChip(
            f"{driver.name} chip {number + 1}", legs["data"], legs["clock"], legs["latch"],
            isinstance(driver, SinkChain), [0] * part.outputs, chain=driver.id,
        )  # fmt: skip
        board.chips.append(chip)
        for output in range(part.outputs):
            board.nets.drive(legs[f"out {output}"], chip.output(output))
        board.nets.drive(legs["next"], chip.next)
    others = behind(hookup.build, driver)
    if others:
        ends = [hookup.part_end("multiplexer", f"way {way}") for way in range(1 + len(others))]
        selects = [hookup.part_end("multiplexer", f"select {bit}") for bit in range(bits_for(len(ends)))]
        board.multiplexers.append((hookup.part_end("multiplexer", "common"), selects, ends))


def _scanned(board: Board, hookup: Hookup) -> None:
    driver = hookup.driver
    assert isinstance(driver, Scanned)
    if driver.rows_by == "transistor" and driver.row_transistor_id is not None:
        part = hookup.build.shelf.find(TransistorPart, driver.row_transistor_id)
        for row in range(driver.rows):
            base, out, emitter = (
                hookup.part_end(f"row transistor {row}", word)
                for word in ("base or gate", "collector or drain", "emitter or source")
            )
            board.nets.drive(out, conducts(board.nets, base, emitter, part.sort == "p_mosfet"))
    if driver.rows_by == "counter":
        counter = Counter(board.nets, hookup.part_end("counter", "clock"), hookup.part_end("counter", "reset"))
        board.counters.append(counter)
        for row in range(driver.rows + 1):
            board.nets.drive(hookup.part_end("counter", f"row {row}"), counter.output(row))
    for channel in hookup.channels:
        piece = hookup.build.line.piece(channel.slots[0].piece_id)
        row, column = divmod(channel.output, driver.columns)
        at = End(piece.name, f"row {row}", of=piece.id), End(piece.name, f"column {column}", of=piece.id)
        board.lamps[driver.id, channel.output] = at
    for piece_id in dict.fromkeys(ref.piece_id for channel in hookup.channels for ref in channel.slots):
        piece = hookup.build.line.piece(piece_id)
        rows = [End(piece.name, f"row {row}", of=piece.id) for row in range(driver.rows)]
        board.rows_at_once.append((f"the rows of {piece.name}", rows))


def _demux(board: Board, hookup: Hookup) -> None:
    driver = hookup.driver
    assert isinstance(driver, Demux)
    part = hookup.build.shelf.find(ChipPart, driver.chip_id)
    legs = {leg: hookup.leg(part, 0, leg) for leg in part.legs}
    selects = [legs[name] for name in sorted(legs) if name.startswith("select")]
    enables = [legs[name] for name in legs if name.startswith("enable")]

    def lit(output: int) -> bool:
        return not any(board.nets.high(each) for each in enables) and chosen(board.nets, selects) == output

    for output in range(part.outputs):
        board.nets.drive(legs[f"out {output}"], lambda output=output: HIGH if lit(output) else LOW)


def _switch(board: Board, hookup: Hookup) -> None:
    driver = hookup.driver
    assert isinstance(driver, Switch)
    part = hookup.build.shelf.find(TransistorPart, driver.transistor_id)
    words = ("base", "collector", "emitter") if part.sort == "bjt" else ("gate", "drain", "source")
    for channel in hookup.channels:
        control, switched, fixed = (hookup.part_end(f"transistor {channel.output + 1}", word) for word in words)
        low = part.sort == "p_mosfet" and not driver.has_driver
        entry = hookup.part_end(f"gate driver {channel.output + 1}", "in") if driver.has_driver else control
        board.nets.drive(switched, conducts(board.nets, entry, fixed, low))


def _relay(board: Board, hookup: Hookup) -> None:
    driver = hookup.driver
    assert isinstance(driver, RelayBoard)
    part = hookup.build.shelf.find(RelayPart, driver.relay_id)
    for channel in hookup.channels:
        word = f"contact {channel.output + 1}"
        entry = hookup.part_end("relay", f"input {channel.output + 1}")
        common, switched = hookup.part_end("relay", f"{word}, common"), hookup.part_end("relay", word)
        board.nets.drive(switched, conducts(board.nets, entry, common, part.active_low))


def _boxed(board: Board, hookup: Hookup) -> None:
    driver = hookup.driver
    assert isinstance(driver, Boxed)
    for channel in hookup.channels:
        box, own = divmod(channel.output, driver.output.per_box)
        name, of = f"{driver.name} {box + 1}", f"{driver.id} box {box}"
        entry, leg, zero = (End(name, word, of=of) for word in (f"input {own + 1}", f"output {own + 1}", "0 V"))
        board.nets.drive(leg, conducts(board.nets, entry, zero, False))


def _held(board: Board, hookup: Hookup) -> None:
    """Self-changing lamps are seen while their full switch is on."""
    driver = hookup.driver
    assert isinstance(driver, HoldRail)
    part = hookup.build.shelf.find(TransistorPart, driver.transistor_id)
    word = "base" if part.sort == "bjt" else "gate"
    gate, tie = hookup.part_end("full switch", word), hookup.part_end("tie", "")
    low = part.sort == "p_mosfet"
    for hung in hookup.hung():
        key = driver.id, hung.channel.output
        board.lamps[key] = tie, hookup.zero
        board.shares[key] = lambda: (board.nets.on(gate)[1 if low else 0], 0.0)


def _pair(board: Board, hookup: Hookup) -> None:
    for lamp in sorted({channel.output // 2 for channel in hookup.channels}):
        ends = [hookup.pin(f"lamp {lamp} end {end}") for end in (0, 1)]
        board.rows_at_once.append((f"the ends of {hookup.driver.name}", ends))


FITTINGS: dict[type[Any], Fit] = {
    Chain: _chain, Scanned: _scanned, Demux: _demux, Switch: _switch, RelayBoard: _relay, Boxed: _boxed,
    HoldRail: _held, ReversingPair: _pair,
}  # fmt: skip
