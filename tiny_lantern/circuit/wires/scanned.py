"""Lamps in a matrix that is scanned row by row."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from tiny_lantern.circuit.conductor import CHIPS, COMMONS, CONTROL, DECOUPLING, LAMPS, End
from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.conducting import Contact
from tiny_lantern.circuit.elements.diodes import Led
from tiny_lantern.circuit.elements.outputs import Output, State
from tiny_lantern.circuit.fitted import At, Fitted, Law, Still
from tiny_lantern.circuit.wires.chips import chain, chip_of, output_leg
from tiny_lantern.circuit.wires.hookup import Hookup, Hung, Wired, lamp_id, resistor
from tiny_lantern.circuit.wires.pin import LEAST_OHM, output_of
from tiny_lantern.model.drive import Driver
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.parts.lamp import Die
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.ways.scanned import Scanned

KINDS = (Scanned,)


def turn(driver: Driver, output: int) -> int:
    """The rows are lit one after another. [-]

    Args:
        driver: the driver.
        output: the number of its output. [-]
    """
    assert isinstance(driver, Scanned)
    return output // driver.columns


def wire(hookup: Hookup) -> Iterator[Wired]:
    """Columns from the chips' outputs through a resistor each, which sink; rows from register outputs, transistors or
    a counter, which give. Every panel on the same lines is wired to them.

    Args:
        hookup: the driver.
    """
    driver, chip = hookup.driver, chip_of(hookup)
    assert isinstance(driver, Scanned)
    if not hookup.channels:
        return
    rail = hookup.rail()
    yield from chain(hookup, rail)
    for column in range(driver.columns):
        yield _column(hookup, driver, chip, column)
    for row in range(driver.rows):
        yield from _row(hookup, driver, chip, row, rail)
    if driver.rows_by == "counter":
        yield from _counter(hookup, driver, rail)
    for number, piece in enumerate(_panels(hookup)):
        yield from _to_panel(hookup, driver, chip, piece, f"panel{number}/" if number else "")
    yield from (_lamp(hung, hung.lamp.die, driver) for hung in hookup.hung() if hung.lamp.die is not None)


def _panels(hookup: Hookup) -> list[Piece]:
    ids = dict.fromkeys(ref.piece_id for channel in hookup.channels for ref in channel.slots)
    return [hookup.build.line.piece(piece_id) for piece_id in ids]


def _at(piece: Piece, line: str, number: int) -> End:
    return End(piece.name, f"{line} {number}", of=piece.id)


def _column(hookup: Hookup, driver: Scanned, chip: ChipPart, column: int) -> Fitted:
    """A column's output: low while a lamp of it is lit in the row that is on, else high."""
    leg, supply, zero = output_leg(hookup, chip, column)

    def law(still: Still, at: At) -> tuple[Element, ...]:
        lit = any(still.on(driver.id, row * driver.columns + column) for row in range(driver.rows))
        return (output_of(leg.node, at(leg), at(supply), at(zero), "low" if lit else "high", chip.out_ohm),)

    return Fitted(leg.node, (leg, supply, zero), law)


def row_end(hookup: Hookup, driver: Scanned, chip: ChipPart, row: int) -> End:
    """What gives a row its current: a chip's output, the counter's, or a row transistor.

    Args:
        hookup: the driver.
        driver: the same, as a matrix.
        chip: its chip.
        row: which row. [-]
    """
    if driver.rows_by == "transistor":
        return hookup.part_end(f"row transistor {row}", "collector or drain")
    if driver.rows_by == "counter":
        return hookup.part_end("counter", f"row {row}")
    return _row_leg(hookup, driver, chip, row)


def _row_leg(hookup: Hookup, driver: Scanned, chip: ChipPart, row: int) -> End:
    first = -(-driver.columns // chip.outputs)
    number, output = divmod(row, chip.outputs)
    return hookup.leg(chip, first + number, f"out {output}")


def _row(hookup: Hookup, driver: Scanned, chip: ChipPart, row: int, rail: End) -> Iterator[Wired]:
    """What gives a row its current, open unless a lamp of the row is lit."""
    out = row_end(hookup, driver, chip, row)

    def lit(still: Still) -> bool:
        first = row * driver.columns
        return any(still.on(driver.id, output) for output in range(first, first + driver.columns))

    if driver.rows_by == "transistor":
        base, emitter = (
            hookup.part_end(f"row transistor {row}", word) for word in ("base or gate", "emitter or source")
        )
        yield hookup.row(f"row{row}/source", COMMONS, rail, emitter, role="lamp supply")
        yield hookup.row(f"row{row}/gate", CONTROL, _row_leg(hookup, driver, chip, row), base)
        yield Fitted(out.of, (out, emitter), _row_switch(out, emitter, driver.row_ohm, lit), (base,))
        return
    supply = _row_supply(hookup, driver, chip, row)

    def law(still: Still, at: At) -> tuple[Element, ...]:
        state: State = "high" if lit(still) else "open"
        return (Output(out.node, at(out), at(supply), at(supply), state, high_ohm=max(driver.row_ohm, LEAST_OHM)),)

    yield Fitted(out.node, (out, supply), law)


def _row_supply(hookup: Hookup, driver: Scanned, chip: ChipPart, row: int) -> End:
    if driver.rows_by == "counter":
        return hookup.part_end("counter", "supply")
    return hookup.leg(chip, -(-driver.columns // chip.outputs) + row // chip.outputs, "supply")


def _row_switch(out: End, emitter: End, ohm: float, lit: Callable[[Still], bool]) -> Law:
    def law(still: Still, at: At) -> tuple[Element, ...]:
        return (Contact(out.of, at(emitter), at(out), max(ohm, LEAST_OHM), lit(still)),)

    return law


def _counter(hookup: Hookup, driver: Scanned, rail: End) -> Iterator[Wired]:
    end = {word: hookup.part_end("counter", word) for word in ("0 V", "supply", "clock", "reset")}
    yield hookup.row("counter/0v", COMMONS, hookup.zero, end["0 V"], role="return")
    yield hookup.row("counter/plus", CHIPS, rail, end["supply"], role="logic supply")
    yield hookup.row("counter/cap", CHIPS, end["supply"], end["0 V"], DECOUPLING, "logic supply")
    yield hookup.row("counter/step", CONTROL, hookup.pin("step"), end["clock"], role="clock")
    reset = hookup.pin("reset") if driver.starts_known else hookup.zero
    if driver.reset_wired and driver.reset_by == "output":
        reset = hookup.part_end("counter", f"row {driver.rows}")
    yield hookup.row("counter/reset", CONTROL, reset, end["reset"])


def _to_panel(hookup: Hookup, driver: Scanned, chip: ChipPart, piece: Piece, key: str) -> Iterator[Wired]:
    slot = hookup.build.line.span(piece.id).first
    for column in range(driver.columns):
        leg, _, _ = output_leg(hookup, chip, column)
        in_line = resistor(driver.column_ohm)
        yield hookup.row(f"{key}column{column}", LAMPS, leg, _at(piece, "column", column), in_line, "lamps", slot)
    for row in range(driver.rows):
        out = row_end(hookup, driver, chip, row)
        yield hookup.row(f"{key}row{row}", LAMPS, out, _at(piece, "row", row), (), "lamps", slot)


def _lamp(hung: Hung, die: Die, driver: Scanned) -> Fitted:
    """A lamp at the crossing of its row and its column, from row to column."""
    row, column = divmod(hung.channel.output, driver.columns)
    piece = hung.lamp.piece
    ends = _at(piece, "row", row), _at(piece, "column", column)
    name = lamp_id(hung.channel.slots[0], hung.channel)

    def law(_: Still, at: At) -> tuple[Element, ...]:
        return (Led(name, at(ends[0]), at(ends[1]), die.forward_v, die.test_a, die.slope_ohm),)

    return Fitted(name, ends, law)
