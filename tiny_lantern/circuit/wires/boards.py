"""Boards: what feeds them, what they give their pins, and the knobs that they read."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.circuit.conductor import CHIPS, COMMONS, LAST, Conductor, End
from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.conducting import Conducting
from tiny_lantern.circuit.elements.loads import Load
from tiny_lantern.circuit.elements.sources import Supply
from tiny_lantern.circuit.elements.stages import Regulator
from tiny_lantern.circuit.fitted import At, Fitted, Law, Same, Still
from tiny_lantern.circuit.wires.hookup import Hookup, Wired
from tiny_lantern.circuit.wires.rails import logic_end, logic_rail, source_end, supply_end, zero_end, zero_rail
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Board, Dimmed
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.sources import ALIKE_V, USB_V, fed_with_v, source_of

USB_OHM, LOGIC_OHM, STIFF_OHM, KNOB_OHM = 0.1, 0.05, 1e-9, 10e3


def board_wires(build: Build) -> Iterator[Wired]:
    """Every board on its source, or on the cable that also loads its program; and its logic rail where it is used.

    Args:
        build: the build.
    """
    for board in build.boards:
        part = build.shelf.find(BoardPart, board.part_id)
        source = source_of(build, board.fed_by)
        supply, zero, logic = supply_end(board), zero_end(board), logic_end(board, part)
        yield Fitted(board.id, (supply, zero), _own(board, part, supply, zero))
        if source is None:
            yield Conductor(f"board/{board.id}/0v", COMMONS, zero_rail(), zero, role="return")
            yield Fitted(f"{board.id} USB", (supply, zero), _usb(board, supply, zero))
        else:
            start = source_end(build, source, "0 V")
            yield Conductor(f"board/{board.id}/0v", COMMONS, start, zero, role="return")
            yield Conductor(f"board/{board.id}/plus", LAST, source_end(build, source, "+"), supply, role="logic supply")
        if abs(fed_with_v(build, board) - part.logic_v) <= ALIKE_V:
            yield Same(supply, logic)
        else:
            ends = supply, logic, zero
            yield Fitted(f"{board.id} logic", ends, _logic(board, part, ends))
        yield Conductor(f"board/{board.id}/logic", CHIPS, logic, logic_rail(build, board), role="logic supply")


def _own(board: Board, part: BoardPart, supply: End, zero: End) -> Law:
    return lambda _, at: (Load(f"{board.id} itself", at(supply), at(zero), part.idle_a),)


def _usb(board: Board, supply: End, zero: End) -> Law:
    return lambda still, at: (Supply(f"{board.id} USB", at(supply), at(zero), USB_V, 0.0 if still.stiff else USB_OHM),)


def _logic(board: Board, part: BoardPart, ends: tuple[End, End, End]) -> Law:
    """The board's own regulator from what feeds it; on a source that has just its pins' voltage there is none."""

    def law(still: Still, at: At) -> tuple[Element, ...]:
        entry, out, zero = map(at, ends)
        ohm = STIFF_OHM if still.stiff else LOGIC_OHM
        return (Regulator(f"{board.id} logic", entry, out, zero, part.logic_v, 0.0, ohm, 0.0),)

    return law


def knob_wires(hookup: Hookup) -> Iterator[Wired]:
    """A knob between the logic rail and 0 V, its middle to a pin that reads.

    Args:
        hookup: the driver that has it.
    """
    driver = hookup.driver
    if not (isinstance(driver, Dimmed) and driver.knob):
        return
    one, other, middle = (hookup.part_end("knob", word) for word in ("one end", "other end", "middle"))
    yield hookup.row("knob/0v", COMMONS, hookup.zero, one, role="return")
    yield hookup.row("knob/plus", CHIPS, hookup.logic, other, role="logic supply")
    yield hookup.row("knob/middle", "Control", middle, hookup.pin("knob"))

    def law(_: Still, at: At) -> tuple[Element, ...]:
        halves = ((one, middle), (middle, other))
        return tuple(
            Conducting(f"{one.of} {number}", at(low), at(high), KNOB_OHM / 2, "resistor")
            for number, (low, high) in enumerate(halves)
        )

    yield Fitted(one.of, (one, other, middle), law)
