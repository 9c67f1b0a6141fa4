"""A colour lamp whose dies meet in one lead with a resistor: what one colour takes from the others."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from itertools import combinations
from typing import Literal

import numpy as np

from tiny_lantern.electrical.lamp.led import Led
from tiny_lantern.electrical.lamp.node import branch_currents, settled_v


@dataclass(frozen=True)
class Branch:
    """One colour: its LED, and the resistor of its own."""

    led: Led
    own_ohm: float = 0.0


@dataclass(frozen=True)
class ColourLamp:
    """Dies with a common lead, each on a pin. ``off_pin_v`` is what an off pin of a common anode is driven to; None
    where an off colour carries nothing."""

    common: Literal["anode", "cathode"]
    supply_v: float
    pin_ohm: float
    common_ohm: float
    colours: Mapping[str, Branch]
    off_pin_v: float | None = None


@dataclass(frozen=True)
class Lit:
    """Which colours are on, the current of each, and the common lead's current and voltage against 0 V."""

    on: tuple[str, ...]
    colour_a: dict[str, float]
    common_a: float
    common_node_v: float


def lit(lamp: ColourLamp, on: Collection[str]) -> Lit:
    """The lamp with some colours on, still (no duty is averaged).

    Both kinds are one circuit: measured from the far side of the common resistor, each conducting branch pushes into
    the node through its own resistance.

    Args:
        lamp: the lamp.
        on: the colours that are on.

    Source: nodal analysis of the common lead.
    """
    names = list(lamp.colours)
    driven = {name: _driven_v(lamp, name in on) for name in names}
    reach = [driven[name] - lamp.colours[name].led.foot_v for name in names if driven[name] is not None]  # type: ignore[operator]
    live = [name for name in names if driven[name] is not None]
    ohm = np.array(
        [lamp.pin_ohm + lamp.colours[name].own_ohm + lamp.colours[name].led.series_ohm for name in live], float
    )
    # Turned over, the node is a source of 0 V behind the common resistor and each branch draws from its foot of minus
    # what it reaches.
    foot_v = -np.array(reach, float)
    turned_v = settled_v(0.0, lamp.common_ohm, foot_v, ohm)
    currents = dict(zip(live, branch_currents(turned_v, foot_v, ohm).tolist(), strict=True))
    colour_a = {name: currents.get(name, 0.0) for name in names}
    node_v = -turned_v if lamp.common == "cathode" else lamp.supply_v + turned_v
    return Lit(tuple(name for name in names if name in on), colour_a, sum(colour_a.values()), node_v)


def _driven_v(lamp: ColourLamp, on: bool) -> float | None:
    """How far a colour is driven from the far side of the common resistor; None where it is let go. [V]"""
    if on:
        return lamp.supply_v
    if lamp.common == "anode" and lamp.off_pin_v is not None:
        return lamp.supply_v - lamp.off_pin_v
    return None


def all_subsets(lamp: ColourLamp) -> list[Lit]:
    """Every set of colours on, by size, then in the order of the lamp's colours."""
    names = list(lamp.colours)
    return [lit(lamp, chosen) for size in range(1, len(names) + 1) for chosen in combinations(names, size)]


def all_on_over_alone(lamp: ColourLamp) -> dict[str, float | None]:
    """Of each colour the current with all on as a share of that alone; None where it is dark alone. [-]"""
    together = lit(lamp, list(lamp.colours)).colour_a
    alone = {name: lit(lamp, (name,)).colour_a[name] for name in lamp.colours}
    return {name: together[name] / alone[name] if alone[name] > 0 else None for name in lamp.colours}
