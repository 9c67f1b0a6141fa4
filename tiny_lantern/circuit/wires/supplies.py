"""Supplies, and the regulators of trimmed rails: the sources of a build, their zeros on one rail."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from tiny_lantern.circuit.conductor import COMMONS, LAST, Conductor, End
from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.sources import Battery
from tiny_lantern.circuit.elements.sources import Supply as SupplyElement
from tiny_lantern.circuit.elements.stages import Converter, Regulator
from tiny_lantern.circuit.fitted import At, Fitted, Law, Still
from tiny_lantern.circuit.wires.boards import STIFF_OHM
from tiny_lantern.circuit.wires.hookup import Wired
from tiny_lantern.circuit.wires.rails import source_end, zero_rail
from tiny_lantern.electrical.network import supply_part
from tiny_lantern.model.build import Build, Supply
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.parts.regulator import RegulatorPart
from tiny_lantern.model.rail import Rail
from tiny_lantern.model.sources import Source, source_of, source_of_supply


def supply_wires(build: Build, on_zero_rail: bool) -> Iterator[Wired]:
    """Every supply; its zero is led to the rail of returns where that is used and the build says that it is joined.

    Args:
        build: the build.
        on_zero_rail: whether anything hangs on that rail.
    """
    for supply in build.supplies:
        source = source_of_supply(supply)
        plus, zero = source_end(build, source, "+"), source_end(build, source, "0 V")
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
    feeding = source_of(build, rail.fed_by)
    assert feeding is not None
    part = build.shelf.find(RegulatorPart, rail.regulator_id)
    own = Source(FedBy(id=rail.id), rail, rail.name, rail.target_v)
    entry, out, zero = (source_end(build, own, word) for word in ("in", "+", "0 V"))
    yield Conductor(f"regulated/{rail.id}/in", LAST, source_end(build, feeding, "+"), entry, role="lamp supply")
    yield Conductor(f"regulated/{rail.id}/0v", COMMONS, source_end(build, feeding, "0 V"), zero, role="return")

    def law(still: Still, at: At) -> tuple[Element, ...]:
        ohm = STIFF_OHM if still.stiff else max(rail.output_ohm, STIFF_OHM)
        return (stage_of(rail, part, (at(entry), at(out), at(zero)), ohm),)

    yield Fitted(rail.id, (entry, out, zero), law)


def stage_of(rail: Rail, part: RegulatorPart, legs: tuple[str, str, str], ohm: float) -> Regulator | Converter:
    """A rail's regulator as an element: what switches takes in the power that it gives, with its losses.

    Args:
        rail: the rail.
        part: its regulator.
        legs: the nodes of its input, its output and its zero.
        ohm: its output's resistance. [ohm]
    """
    if part.sort == "linear":
        return Regulator(rail.id, *legs, rail.target_v, part.dropout_v, ohm, part.idle_a)
    stage = Converter(rail.id, *legs, rail.target_v, ohm, part.efficiency, part.idle_a)
    if part.sort == "step_up":
        return replace(stage, least_in_v=part.least_in_v)
    return replace(stage, headroom_v=part.dropout_v)
