"""Lamps of two opposite dies, each between two pins."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from tiny_lantern.circuit.conductor import LAMPS
from tiny_lantern.circuit.elements.outputs import State
from tiny_lantern.circuit.fitted import Still
from tiny_lantern.circuit.wires.hookup import Hookup, Wired, resistor
from tiny_lantern.circuit.wires.pin import pin_by
from tiny_lantern.model.drive import Driver
from tiny_lantern.model.ways.pair import ReversingPair

KINDS = (ReversingPair,)


def turn(driver: Driver, output: int) -> int:
    """The two dies of a lamp are lit one after the other. [-]

    Args:
        driver: the driver.
        output: the number of its output. [-]
    """
    return output % 2


def wire(hookup: Hookup) -> Iterator[Wired]:
    """Each lamp between its two pins, with one resistor for both ways; its dies lie opposite between the same leads.

    Args:
        hookup: the driver.
    """
    seen: set[int] = set()
    for hung in hookup.hung():
        lamp, die = divmod(hung.channel.output, 2)
        ends = hookup.pin(f"lamp {lamp} end 0"), hookup.pin(f"lamp {lamp} end 1")
        first, last = hung.fed, hung.other
        if lamp not in seen:
            seen.add(lamp)
            for number, (pin, lead) in enumerate(zip(ends, (first, last), strict=True)):
                in_line = resistor(hung.channel.resistor_ohm) if number == 0 else ()
                key = f"{2 * lamp}/end{number}"
                yield hookup.row(key, LAMPS, pin, lead, in_line, "lamps", hung.slot)
                yield pin_by(hookup, pin, _end(hookup.driver.id, lamp, number))
        yield from hung.fitted(reverse=die == 1)


def _end(driver_id: str, lamp: int, end: int) -> Callable[[Still], State]:
    """An end of a lamp is high while the die is lit whose current comes in there."""

    def state(still: Still) -> State:
        return "high" if still.on(driver_id, 2 * lamp + end) else "low"

    return state
