"""Supplies, and the regulators of trimmed rails: the sources of a build, their zeros on one rail."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.circuit.conductor import COMMONS, LAST, Conductor, End
from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.sources import Battery
from tiny_lantern.circuit.elements.sources import Supply as SupplyElement
from tiny_lantern.circuit.elements.stages import Regulator
from tiny_lantern.circuit.fitted import At, Fitted, Law, Still
from tiny_lantern.circuit.wires.boards import STIFF_OHM
from tiny_lantern.circuit.wires.hookup import Wired
from tiny_lantern.circuit.wires.rails import source_end, zero_rail
from tiny_lantern.electrical.network import supply_part
from tiny_lantern.model.build import Build, Supply
from tiny_lantern.model.edits import item
from tiny_lantern.model.parts.regulator import RegulatorPart
from tiny_lantern.model.rail import Rail


def supply_wires(build: Build, on_zero_rail: bool) -> Iterator[Wired]:
    """Every supply; its zero is led to the rail of returns where that is used and the build says that it is joined.

    Args:
        build: the build.
        on_zero_rail: whether anything hangs on that rail.
    """
    for supply in build.supplies:
        plus, zero = source_end(build, supply, "+"), source_end(build, supply, "0 V")
        yield Fitted(supply.id, (plus, zero), _law(build, supply, plus, zero))
        if on_zero_rail and supply.joined:
            yield Conductor(f"supply/{supply.id}/0v", COMMONS, zero, zero_rail(), role="return")
    for rail in build.rails:
        yield from _regulator(build, rail)


def _law(build: Build, supply: Supply, plus: End, zero: End) -> Law:
    part = supply_part(build, supply.id)

    def law(still: Still, at: At) -> tuple[Element, ...]:
        ohm = 0.0 if still.stiff else part.output_ohm
        if part.sinks_current and ohm:
            return (Battery(supply.id, at(plus), at(zero), supply.set_v, ohm),)
        return (SupplyElement(supply.id, at(plus), at(zero), supply.set_v, ohm),)

    return law


def _regulator(build: Build, rail: Rail) -> Iterator[Wired]:
    supply = item(build.supplies, rail.supply_id, "supply")
    part = build.shelf.find(RegulatorPart, rail.regulator_id)
    entry, out, zero = (source_end(build, rail, word) for word in ("in", "+", "0 V"))
    yield Conductor(f"regulated/{rail.id}/in", LAST, source_end(build, supply, "+"), entry, role="lamp supply")
    yield Conductor(f"regulated/{rail.id}/0v", COMMONS, source_end(build, supply, "0 V"), zero, role="return")

    def law(still: Still, at: At) -> tuple[Element, ...]:
        ohm = STIFF_OHM if still.stiff else max(rail.output_ohm, STIFF_OHM)
        return (Regulator(rail.id, at(entry), at(out), at(zero), rail.target_v, part.dropout_v, ohm, 0.0),)

    yield Fitted(rail.id, (entry, out, zero), law)
