"""Fuses and gauges: where a source can deliver more than thin wire bears there is a fuse, and what lies behind it bears
the fuse.

Source: the rule of every wiring code that a fuse protects the thinnest conductor behind it; a fuse is loaded to three
quarters, a conductor without one to four fifths of what it may carry.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import replace

from tiny_lantern.catalogue.shelf import all_parts
from tiny_lantern.circuit.compiled import Circuit
from tiny_lantern.circuit.conductor import FEEDS, THIN, Conductor, InLine
from tiny_lantern.circuit.wires.rails import zero_rail
from tiny_lantern.electrical.fuses import fuse_for
from tiny_lantern.model.build import Build
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.wire import WirePart

SPARE = 1.25
LIMITING_OHM = 1.0
HAIR_A, LEAST_V = 1e-9, 1e-3


def sized(build: Build, circuit: Circuit, worst_a: Mapping[str, float]) -> Circuit:
    """A circuit with the fuses that its sources call for and the thinnest wires that serve; where a person chose a wire
    or a fuse, with that.

    Args:
        build: the build.
        circuit: its circuit with thin wire everywhere.
        worst_a: the most that each conductor carries, by its key. [A]
    """
    wires, chosen = _wires(build), {each.key: each for each in build.wires}
    fuses = {}
    for row in circuit.conductors:
        own = chosen[row.key].fuse_id if row.key in chosen else None
        if own is not None:
            fuses[row.key] = build.shelf.find(FusePart, own)
        elif row.start.gives_a > wires[0].limit_a and row.group != FEEDS:
            fuse = fuse_for(build, worst_a.get(row.key, 0.0), float("inf"))
            fuses |= {row.key: fuse} if fuse is not None else {}
    needed_a = _behind(circuit, fuses)
    own_wires = {key: build.shelf.find(WirePart, each.wire_id) for key, each in chosen.items() if each.wire_id}
    return replace(
        circuit,
        conductors=tuple(
            _sized(row, own_wires.get(row.key) or wires, fuses.get(row.key),
                   max(needed_a[row.key], SPARE * worst_a.get(row.key, 0.0)))
            for row in circuit.conductors
        ),
    )  # fmt: skip


def thicker(build: Build, circuit: Circuit, dropped_v: Mapping[str, float]) -> Circuit | None:
    """A circuit whose wires that take the most volts are a gauge thicker; None where none of them can be.

    Args:
        build: the build.
        circuit: a circuit with its fuses and gauges.
        dropped_v: the most that each wire takes, by its conductor's key. [V]
    """
    wires, chosen = _wires(build), {each.key for each in build.wires if each.wire_id}
    numbers = {wire.name: number for number, wire in enumerate(wires)}
    can = [row for row in circuit.conductors if row.key not in chosen and row.told_ohm is None
           and numbers.get(row.gauge, len(wires)) < len(wires) - 1]  # fmt: skip
    most_v = max((dropped_v.get(row.key, 0.0) for row in can), default=0.0)
    if most_v <= LEAST_V:
        return None
    thick = {row.key: wires[numbers[row.gauge] + 1] for row in can if dropped_v.get(row.key, 0.0) >= most_v / 2}
    rows = (
        replace(row, gauge=thick[row.key].name, limit_a=thick[row.key].limit_a).with_wire(thick[row.key].ohm_per_m)
        if row.key in thick
        else row
        for row in circuit.conductors
    )
    return replace(circuit, conductors=tuple(rows))


def unborne(circuit: Circuit, worst_a: Mapping[str, float]) -> tuple[tuple[str, float, float], ...]:
    """The conductors that carry more than their wire may, or that a source could overload since no fuse is small enough
    for the wire or large enough for the load: each in words, with what it carries and what it may. [A]

    Args:
        circuit: a circuit with its fuses and gauges.
        worst_a: the most that each conductor carries, by its key. [A]
    """
    found = []
    for row in circuit.conductors:
        carries_a = worst_a.get(row.key, 0.0)
        bare = row.start.gives_a > row.limit_a and row.fuse_a is None
        asked = row.bears_a > row.limit_a + HAIR_A and row.bears_a > SPARE * carries_a + HAIR_A
        if row.group != FEEDS and not row.licensed and (bare or asked or carries_a > row.limit_a):
            found.append((row.words, carries_a, row.limit_a))
    return tuple(found)


def _wires(build: Build) -> list[WirePart]:
    """The wires to choose from, the thinnest first: by gauge from the usual thin one on; where some are taken first,
    those, and by gauge only what is thicker than all of them."""
    every = all_parts(build).of(WirePart)
    thin_a = next(wire.limit_a for wire in every if wire.name == THIN)
    first = [wire for wire in every if wire.id in build.wiring.wire_ids]
    most_a = max((wire.limit_a for wire in first), default=0.0)
    gauges = [wire for wire in every if wire.name.endswith("AWG") and wire.limit_a >= max(thin_a, most_a + HAIR_A)]
    return sorted([*first, *gauges], key=lambda wire: (wire.limit_a, -wire.ohm_per_m))


def _behind(circuit: Circuit, fuses: Mapping[str, FusePart]) -> defaultdict[str, float]:
    """What each conductor must bear because of the fuse before it: those that nothing limits but the fuse, and the
    returns of what hangs on them. [A]"""
    needed_a: defaultdict[str, float] = defaultdict(float)
    at: defaultdict[str, list[Conductor]] = defaultdict(list)
    for row in circuit.conductors:
        for end in (row.start, row.end):
            at[end.node].append(row)
    zero = zero_rail().node
    for row in circuit.conductors:
        if row.key not in fuses:
            continue
        waiting, seen, parts = [row.end.node], {row.start.node, zero}, set()
        needed_a[row.key] = max(needed_a[row.key], fuses[row.key].rating_a)
        while waiting:
            node = waiting.pop()
            if node in seen:
                continue
            seen.add(node)
            for each in at[node]:
                if each.key in fuses or each.blocks or each.in_line_ohm >= LIMITING_OHM:
                    continue
                needed_a[each.key] = max(needed_a[each.key], fuses[row.key].rating_a)
                parts |= {each.start.of, each.end.of}
                waiting += [each.start.node, each.end.node]
        for each in circuit.conductors:
            if each.role == "return" and not each.in_line and parts & ({each.start.of, each.end.of} - {""}):
                needed_a[each.key] = max(needed_a[each.key], fuses[row.key].rating_a)
    return needed_a


def _sized(row: Conductor, wires: WirePart | list[WirePart], fuse: FusePart | None, bears_a: float) -> Conductor:
    if row.group == FEEDS or row.licensed:
        return row
    offered = wires if isinstance(wires, list) else [wires]
    wire = next((wire for wire in offered if wire.limit_a >= bears_a - HAIR_A), offered[-1])
    in_line = row.in_line if fuse is None else (InLine(fuse.name, fuse.cold_ohm, fuse_a=fuse.rating_a), *row.in_line)
    new = replace(row, gauge=wire.name, limit_a=wire.limit_a, in_line=in_line, bears_a=bears_a)
    return new.with_wire(wire.ohm_per_m)
