"""What every lamp gets through its wires: the drivers' results, each current as the one circuit has it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.circuit.beside_strips import StripsBeside
from tiny_lantern.circuit.compiled import QUIET_OHM, Circuit, compile_circuit
from tiny_lantern.circuit.equations import NotSolvedError
from tiny_lantern.circuit.fitted import Still
from tiny_lantern.circuit.held import HeldLamps, held_lamps
from tiny_lantern.circuit.netlist import Solution, solve_netlist
from tiny_lantern.circuit.sizing import sized, thicker, unborne
from tiny_lantern.circuit.stills import all_lit
from tiny_lantern.circuit.wires.hookup import lamp_id
from tiny_lantern.electrical.driven.contract import ChannelResult
from tiny_lantern.electrical.driven.solution import DriveSolution, solve_drive
from tiny_lantern.electrical.memo import memoised_on
from tiny_lantern.electrical.power import PowerSolution
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Channel
from tiny_lantern.model.layout import all_places
from tiny_lantern.model.loose import loose_lamps

Floats = NDArray[np.float64]
LEAST_A, NEARLY_NONE, DROOP, WORTH = 1e-12, 0.01, 0.1, 1.001
Drooping = tuple[tuple[str, int], float, float]
READ = (
    "pieces", "joints", "buses", "supplies", "feeds", "boards", "drivers", "channels", "rails", "parts", "data",
    "passages", "boxes", "wires", "plugs", "inputs",
)  # fmt: skip


@dataclass(frozen=True, eq=False)
class Lit:
    """Everything lit, in turns where outputs take turns: the current of each channel while it is lit, by its driver and
    its output, and the most that each conductor carries from its start to its end, by its key; the voltages of the
    first turn, and the strips on the same supplies. [A]"""

    channel_a: dict[tuple[str, int], float]
    flow_a: dict[str, float]
    first: Solution
    strips: PowerSolution | None = None

    @cached_property
    def conductor_a(self) -> dict[str, float]:
        """The most that each conductor carries, by its key. [A]"""
        return {key: abs(amps) for key, amps in self.flow_a.items()}


@dataclass(frozen=True, eq=False)
class Wired:
    """A build's whole circuit, everything lit in it, what self-changing lamps get while they are full and held, by
    their driver, and the channels whose wires take more than a tenth of their current all the same."""

    circuit: Circuit
    lit: Lit
    held: dict[str, HeldLamps]
    drooping: tuple[Drooping, ...] = ()


def solve_lit(
    build: Build, circuit: Circuit, wires: float = 1.0, stiff: bool = False, leak_ohm: float = QUIET_OHM,
    strips: bool = True,
) -> Lit:  # fmt: skip
    """A build's circuit with everything lit.

    Args:
        build: the build.
        circuit: its circuit.
        wires: which share of their resistance wires have. [-]
        stiff: whether sources hold their voltage whatever they give.
        leak_ohm: from each node to ground. [ohm]
        strips: whether strips that hang on the same supplies draw from them, fully white.

    Raises:
        NotSolvedError: the circuit has no voltages at which every law holds.
    """
    channels = {(channel.driver_id, channel.output): channel for channel in build.channels}
    channel_a: dict[tuple[str, int], float] = {}
    flow_a = {row.key: 0.0 for row in circuit.conductors}
    first: Solution | None = None
    beside = StripsBeside(build)
    for turn in turns_of(build, circuit, beside, wires, stiff, leak_ohm, strips):
        solution = turn.solution
        numbers = {element.id: number for number, element in enumerate(solution.netlist.elements)}
        first = first or solution
        for output in turn.lit:
            amps = _of_channel(build, solution, numbers, channels[output])
            if amps is not None:
                channel_a[output] = amps
        for key in flow_a.keys() & numbers.keys():
            flow_a[key] = max(flow_a[key], float(solution.first_a[numbers[key]]), key=abs)
    assert first is not None
    return Lit(channel_a, flow_a | feeds_a(beside.power), first, beside.power)


@dataclass(frozen=True, eq=False)
class Turn:
    """One of the stills in which together everything is lit: the outputs that are lit in it for the first time, and its
    solution."""

    still: Still
    lit: frozenset[tuple[str, int]]
    solution: Solution


def turns_of(
    build: Build, circuit: Circuit, beside: StripsBeside, wires: float = 1.0, stiff: bool = False,
    leak_ohm: float = QUIET_OHM, strips: bool = True,
) -> Iterator[Turn]:  # fmt: skip
    """Everything lit, in as many turns as it takes, each solved from where the last one was.

    Args:
        build: the build.
        circuit: its circuit.
        beside: the strips that hang on the same supplies.
        wires: see ``solve_lit``. [-]
        stiff: see there.
        leak_ohm: see there. [ohm]
        strips: see there.

    Raises:
        NotSolvedError: see there.
    """
    near: Solution | None = None
    for still, lit in all_lit(build, stiff):

        def solve(strips_a: Mapping[str, float], still: Still = still, last: Solution | None = near) -> Solution:
            return solve_netlist(circuit.netlist(still, wires, leak_ohm, strips_a), last)

        near = beside.settled(solve) if strips and not stiff else solve({})
        yield Turn(still, lit, near)


def feeds_a(strips: PowerSolution | None) -> dict[str, float]:
    """What the feeds of strips carry, by their conductors' keys, back to the supply below zero. [A]

    Args:
        strips: the strips, solved; None where there are none.
    """
    feeds = strips.feeds.values() if strips is not None else ()
    ways = ((feed, "out", feed.pos_a) for feed in feeds), ((feed, "back", -feed.neg_a) for feed in feeds)
    return {f"feed/{feed.feed_id}/{side}": amps for way in ways for feed, side, amps in way}


def _of_channel(build: Build, solution: Solution, numbers: dict[str, int], channel: Channel) -> float | None:
    """What a channel's output carries: the sum of lamps side by side, what goes through all of a string; None where its
    lamps are not in the circuit. [A]"""
    ids = [lamp_id(ref, channel) for ref in channel.slots]
    amps = [solution.reading(numbers[each]).current_a for each in ids if each in numbers]
    if not amps:
        return None
    piece = build.line.piece(channel.slots[0].piece_id)
    return amps[0] if getattr(piece, "wired", "apart") == "series" else sum(amps)


def whole_circuit(build: Build) -> Circuit:
    """The circuit of a build with its fuses, and each wire as thick as what it carries asks for.

    Args:
        build: the build.
    """
    return _sized(build, *_read_beside(build))[0]


def wired(build: Build) -> Wired:
    """A build's whole circuit, solved.

    Args:
        build: the build.

    Raises:
        NotSolvedError: the circuit has no voltages at which every law holds.
    """
    return _wired(build, *_read_beside(build))


def _read_beside(build: Build) -> tuple[object, ...]:
    """What a circuit reads of a build beside what its fields are: how much more is cut, colours, and places."""
    supplies_m = np.array([(each.x_m, each.y_m) for each in build.supplies]).reshape(-1, 2)
    places_m = np.concatenate([all_places(build), supplies_m])
    return build.wiring.allowance_m, build.wiring.colours, build.wiring.wire_ids, build.wiring.lamp_colours, places_m


@memoised_on(*READ)
def _sized(build: Build, *_: object) -> tuple[Circuit, Lit | None, tuple[Drooping, ...]]:
    """The circuit with its fuses and gauges, everything lit in it, and the lamps that lose too much in their wires all
    the same."""
    circuit = compile_circuit(build)
    try:
        ideal = solve_lit(build, circuit, NEARLY_NONE, strips=False)
        circuit = sized(build, circuit, ideal.conductor_a)
        lit = solve_lit(build, circuit)
        ideal = solve_lit(build, circuit, 0.0, strips=bool(lit.strips)) if _drooping(ideal, lit) else ideal
        while drooping := _drooping(ideal, lit):
            better = thicker(build, circuit, _dropped_v(circuit, lit))
            with_it = solve_lit(build, better) if better is not None else lit
            if better is None or all(with_it.channel_a[output] < WORTH * amps for output, amps, _ in drooping):
                break
            circuit, lit = better, with_it
    except NotSolvedError:
        return circuit, None, ()
    return circuit, lit, _drooping(ideal, lit)


def _drooping(ideal: Lit, lit: Lit) -> tuple[Drooping, ...]:
    """The channels that get more than a tenth less than with wires of no resistance."""
    return tuple(
        (output, amps, ideal.channel_a[output])
        for output, amps in lit.channel_a.items()
        if ideal.channel_a.get(output, 0.0) > LEAST_A and amps < (1 - DROOP) * ideal.channel_a[output]
    )


def _dropped_v(circuit: Circuit, lit: Lit) -> dict[str, float]:
    return {row.key: row.wire_ohm * lit.conductor_a.get(row.key, 0.0) for row in circuit.conductors}


@memoised_on(*READ)
def _wired(build: Build, *_: object) -> Wired:
    circuit, lit, drooping = _sized(build, *_read_beside(build))
    if lit is None:
        lit = solve_lit(build, circuit)
    return Wired(circuit, lit, held_lamps(build, circuit), drooping)


def wired_drive(build: Build, near: DriveSolution | None = None) -> DriveSolution:
    """Every driver with everything lit, each lamp with what it gets through its wires; as with stiff rails where the
    circuit is not solved. All returns count as joined: where they are not is told by itself, and nothing else is to
    hide behind it.

    Args:
        build: the build.
        near: a solution of a build like it with stiff rails.
    """
    stiff = solve_drive(build, near=near)
    if not (build.channels or loose_lamps(build)):
        return stiff
    try:
        found = wired(_with_returns_joined(build))
    except NotSolvedError:
        return stiff
    by_driver = {key: _as_wired(result, found.lit) for key, result in stiff.by_driver.items()}
    return replace(
        stiff, by_driver=by_driver, held=found.held,
        unborne=unborne(found.circuit, found.lit.conductor_a), drooping=found.drooping,
    )  # fmt: skip


def _with_returns_joined(build: Build) -> Build:
    if all(supply.joined for supply in build.supplies):
        return build
    return revise(build, supplies=tuple(revise(supply, joined=True) for supply in build.supplies))


def _as_wired(result: ChannelResult, lit: Lit) -> ChannelResult:
    """A driver's result with the currents of its circuit, and what follows from them."""
    case = result.case
    known = {channel.output: lit.channel_a.get((case.driver.id, channel.output)) for channel in case.channels}
    if not case.channels or any(amps is None or not np.isfinite(amps) for amps in known.values()):
        return result
    on_a = np.array([known[channel.output] for channel in case.channels], float)
    share = on_a / np.maximum(result.on_a, LEAST_A)
    lamps = zip(case.lamps, on_a, result.lamp_v, strict=True)
    lamp_v = np.array([lamp.as_one.voltage_v(float(a)) if lamp.as_one and a > 0 else v for lamp, a, v in lamps])
    return replace(
        result, on_a=on_a, average_a=result.average_a * share, lamp_v=lamp_v, resistor_w=result.resistor_w * share**2,
        lamp_a=result.lamp_a * _whole(on_a, result.on_a),
        pin_a=result.pin_a * share if np.array_equal(result.pin_a, result.on_a) else result.pin_a,
    )  # fmt: skip


def _whole(on_a: Floats, before_a: Floats) -> float:
    return float(on_a.sum() / max(before_a.sum(), LEAST_A))
