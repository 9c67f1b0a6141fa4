"""What every lamp gets through its wires: the drivers' results, each current as the one circuit has it."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.circuit.compiled import Circuit, compile_circuit
from tiny_lantern.circuit.equations import NotSolvedError
from tiny_lantern.circuit.held import HeldLamps, held_lamps
from tiny_lantern.circuit.netlist import LEAK_OHM, Solution, solve_netlist
from tiny_lantern.circuit.sizing import sized, unborne
from tiny_lantern.circuit.stills import all_lit
from tiny_lantern.circuit.wires.hookup import lamp_id
from tiny_lantern.electrical.driven.contract import ChannelResult
from tiny_lantern.electrical.driven.solution import DriveSolution, solve_drive
from tiny_lantern.electrical.loose import loose_lamps
from tiny_lantern.electrical.memo import memoised_on
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Channel
from tiny_lantern.model.layout import all_places

Floats = NDArray[np.float64]
LEAST_A, NEARLY_NONE = 1e-12, 0.01
READ = (
    "pieces", "joints", "buses", "supplies", "feeds", "boards", "drivers", "channels", "rails", "parts", "data",
    "passages", "boxes",
)  # fmt: skip


@dataclass(frozen=True, eq=False)
class Lit:
    """Everything lit, in turns where outputs take turns: the current of each channel while it is lit, by its driver and
    its output, and the most that each conductor carries, by its key. [A]"""

    channel_a: dict[tuple[str, int], float]
    conductor_a: dict[str, float]


@dataclass(frozen=True, eq=False)
class Wired:
    """A build's whole circuit, everything lit in it, and what self-changing lamps get while they are full and held, by
    their driver."""

    circuit: Circuit
    lit: Lit
    held: dict[str, HeldLamps]


def solve_lit(
    build: Build, circuit: Circuit, wires: float = 1.0, stiff: bool = False, leak_ohm: float = LEAK_OHM
) -> Lit:
    """A build's circuit with everything lit.

    Args:
        build: the build.
        circuit: its circuit.
        wires: which share of their resistance wires have. [-]
        stiff: whether sources hold their voltage whatever they give.
        leak_ohm: from each node to ground. [ohm]

    Raises:
        NotSolvedError: the circuit has no voltages at which every law holds.
    """
    channels = {(channel.driver_id, channel.output): channel for channel in build.channels}
    channel_a: dict[tuple[str, int], float] = {}
    conductor_a = {row.key: 0.0 for row in circuit.conductors}
    near: Solution | None = None
    for still, lit in all_lit(build, stiff):
        near = solve_netlist(circuit.netlist(still, wires, leak_ohm), near)
        numbers = {element.id: number for number, element in enumerate(near.netlist.elements)}
        carried_a = np.abs(near.first_a)
        for output in lit:
            amps = _of_channel(build, near, numbers, channels[output])
            if amps is not None:
                channel_a[output] = amps
        for key in conductor_a.keys() & numbers.keys():
            conductor_a[key] = max(conductor_a[key], float(carried_a[numbers[key]]))
    return Lit(channel_a, conductor_a)


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
    return _sized(build, *_read_beside(build))


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
    return build.wiring.allowance_m, build.wiring.colours, places_m


@memoised_on(*READ)
def _sized(build: Build, *_: object) -> Circuit:
    circuit = compile_circuit(build)
    try:
        return sized(build, circuit, solve_lit(build, circuit, NEARLY_NONE).conductor_a)
    except NotSolvedError:
        return circuit


@memoised_on(*READ)
def _wired(build: Build, *_: object) -> Wired:
    circuit = whole_circuit(build)
    return Wired(circuit, solve_lit(build, circuit), held_lamps(build, circuit))


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
        unborne=unborne(found.circuit, found.lit.conductor_a),
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
