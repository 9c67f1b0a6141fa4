"""Changes: what is laid over a circuit where it was built otherwise than planned. A change is data; the plan stays."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.conducting import Contact
from tiny_lantern.circuit.netlist import Netlist

OPEN_OHM = 0.05


@dataclass(frozen=True)
class Change:
    """Elements in place of those of the same id. (n_elements,)"""

    instead: tuple[Element, ...] = ()

    def over(self, netlist: Netlist) -> Netlist:
        """The circuit with the change laid over it.

        Args:
            netlist: the circuit as it is.

        Raises:
            KeyError: the circuit has none of that id.
        """
        own = {element.id: element for element in self.instead}
        for missing in own.keys() - {element.id for element in netlist.elements}:
            raise KeyError(missing)
        return replace(netlist, elements=tuple(own.get(element.id, element) for element in netlist.elements))


NO_CHANGE = Change()


def opened(element: Element) -> Change:
    """A conductor that lets nothing through; its nodes stay.

    Args:
        element: one between two nodes.
    """
    one, other = element.nodes()
    return Change((Contact(element.id, one, other, OPEN_OHM, closed=False),))


def with_value(element: Element, **fields: object) -> Change:
    """An element with other values of the fields that are named.

    Args:
        element: the element.
    """
    return Change((replace(element, **fields),))  # type: ignore[type-var]  # every element is a dataclass


def turned(element: Element, one: str, other: str) -> Change:
    """An element with two of its terminals exchanged.

    Args:
        element: the element.
        one: a terminal.
        other: another one.
    """
    return with_value(element, **{one: getattr(element, other), other: getattr(element, one)})


def on_node(element: Element, terminal: str, node: str) -> Change:
    """An element with one of its terminals on another node.

    Args:
        element: the element.
        terminal: which of them.
        node: the node that it is on instead.
    """
    return with_value(element, **{terminal: node})


def all_moved(netlist: Netlist, node: str, to: str, but: Element) -> Change:
    """Everything that is on a node on another one instead, but for one element.

    Args:
        netlist: the circuit.
        node: the node.
        to: where it is instead.
        but: what stays where it is.
    """
    return Change(tuple(_moved(netlist, node, to, but)))


def _moved(netlist: Netlist, node: str, to: str, but: Element) -> Iterator[Element]:
    for element in netlist.elements:
        there = [name for name in element.TERMINALS if getattr(element, name) == node]
        if element.id != but.id and there:
            yield replace(element, **dict.fromkeys(there, to))  # type: ignore[type-var]
