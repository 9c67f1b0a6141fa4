"""A circuit as it is planned, in one still, as the bench looks at it: what each element is, and what wires are for."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from itertools import pairwise
from typing import TypeVar

from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.conducting import Conducting
from tiny_lantern.circuit.elements.diodes import Led
from tiny_lantern.circuit.elements.outputs import Output
from tiny_lantern.circuit.elements.sources import Supply
from tiny_lantern.circuit.elements.stages import Converter, Regulator
from tiny_lantern.circuit.elements.transistors import Bipolar, Mosfet
from tiny_lantern.circuit.netlist import Netlist

E = TypeVar("E")
CHIP_SUPPLY, COMMON, ELSEWHERE = "chip_supply", "common", "elsewhere"
LEADS = ("wire", "fuse", "connector")


@dataclass(frozen=True, eq=False)
class Plan:
    """A circuit as planned; ``roles`` says of some wires what they are for: ``chip_supply``, ``common``, or
    ``elsewhere`` where they are judged by themselves, as those of strips are."""

    netlist: Netlist
    roles: Mapping[str, str] = field(default_factory=dict)

    @cached_property
    def by_id(self) -> dict[str, Element]:
        """Its elements by their ids."""
        return {element.id: element for element in self.netlist.elements}

    def every(self, kind: type[E]) -> tuple[E, ...]:
        """All elements of a kind, in their order.

        Args:
            kind: its class.
        """
        return tuple(element for element in self.netlist.elements if isinstance(element, kind))

    @cached_property
    def stages(self) -> tuple[Regulator | Converter, ...]:
        """What makes one voltage of another."""
        return (*self.every(Regulator), *self.every(Converter))

    @cached_property
    def leads(self) -> tuple[Conducting, ...]:
        """Its wires, fuses and connectors, but those that are told of elsewhere."""
        leads = (each for each in self.every(Conducting) if each.what in LEADS)
        return tuple(each for each in leads if self.roles.get(each.id) != ELSEWHERE)

    def leads_for(self, role: str = "") -> tuple[Conducting, ...]:
        """Those that are for something, or for nothing in particular.

        Args:
            role: what for.
        """
        return tuple(each for each in self.leads if self.roles.get(each.id, "") == role)

    @cached_property
    def resistors(self) -> tuple[Conducting, ...]:
        """Its resistors."""
        return tuple(each for each in self.every(Conducting) if each.what == "resistor")

    @cached_property
    def base_resistors(self) -> frozenset[str]:
        """Resistors from an output's pin to a base or a gate, by their ids."""
        pins = {output.pin for output in self.every(Output)}
        steered = {each.b for each in self.every(Bipolar)} | {each.g for each in self.every(Mosfet)}
        return frozenset(
            each.id for each in self.resistors
            if (each.a in pins and each.b in steered) or (each.b in pins and each.a in steered)
        )  # fmt: skip

    @cached_property
    def rails(self) -> tuple[str, ...]:
        """Nodes that a supply's plus or a stage's output holds, each once."""
        held = [each.plus for each in self.every(Supply)] + [each.out for each in self.stages]
        return tuple(dict.fromkeys(held))

    @cached_property
    def neighbours(self) -> tuple[tuple[Output, Output], ...]:
        """Outputs that lie beside each other on one part: one after the other, on the same rail and zero."""
        outputs = self.every(Output)
        return tuple(
            (one, other) for one, other in pairwise(outputs) if (one.rail, one.zero) == (other.rail, other.zero)
        )

    @cached_property
    def lamps(self) -> tuple[str, ...]:
        """Its lamps that are seen, by their ids."""
        return tuple(each.id for each in self.every(Led))

    @cached_property
    def nodes(self) -> tuple[str, ...]:
        """Its nodes but ground, in the order in which they are named."""
        named = dict.fromkeys(node for element in self.netlist.elements for node in element.nodes())
        return tuple(node for node in named if node != self.netlist.ground)
