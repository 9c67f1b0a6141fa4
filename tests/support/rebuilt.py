"""A build's circuit rebuilt from outside: its printed wiring list and its parts, nothing that the program solved.

Every terminal is what the list calls it. Parts are put between terminals by their names, each by its own data; a small
dense solver of its own finds the voltages.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field

import numpy as np

from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Board, Channel, Driver
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.parts.load import LoadPart
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.parts.regulator import RegulatorPart
from tiny_lantern.model.parts.relay import RelayPart
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.parts.transistor import TransistorPart
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.rail import Rail
from tiny_lantern.model.strip import PixelRun
from tiny_lantern.sheets.wiring_sheet import wiring_csv

TIGHT_OHM, LEAK_S, USB_V = 1e-6, 1e-10, 5.0
KNOB_TURN = 0.6
Lit = Callable[[str, int], bool]


@dataclass
class Circuit:
    """Branches between named terminals: ``(v − knee) / ohm`` from the first to the second, forwards only where it is
    ``one_way``, never more than ``most_a``. What is ``passed`` on draws a branch's current between two terminals: the
    input of a regulator. What is ``converted`` draws the power that a branch gives, with its losses, between two
    others: the input of what switches. What is ``gated`` has the resistance that a transistor's table tells for
    the volts between two terminals."""

    branches: list[tuple[str, str, float, float, bool, float]] = field(default_factory=list)
    lamps: dict[tuple[str, int], list[int]] = field(default_factory=dict)
    passed: list[tuple[int, str, str]] = field(default_factory=list)
    converted: list[tuple[int, str, str, str, float]] = field(default_factory=list)
    gated: list[tuple[int, str, str, TransistorPart]] = field(default_factory=list)

    def add(
        self, one: str, other: str, ohm: float, knee_v: float = 0.0, one_way: bool = False, most_a: float = np.inf
    ) -> int:
        """Add a branch; gives its number."""
        self.branches.append((one, other, max(ohm, TIGHT_OHM), knee_v, one_way, most_a))
        return len(self.branches) - 1


def solved(circuit: Circuit, ground: str = "0 V rail") -> np.ndarray:
    """The current of each branch, by Newton on a dense matrix."""
    names = sorted({name for branch in circuit.branches for name in branch[:2]} - {ground})
    number = {name: at for at, name in enumerate(names)} | {ground: len(names)}
    ends = np.array([[number[one], number[other]] for one, other, *_ in circuit.branches])
    ohm, knee, one_way, most = (np.array([branch[at] for branch in circuit.branches]) for at in (2, 3, 4, 5))
    volts, drawn = np.zeros(len(names) + 1), np.zeros(len(names) + 1)

    def currents(volts: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        amps = (volts[ends[:, 0]] - volts[ends[:, 1]] - knee) / ohm
        slope = 1 / ohm
        slope = np.where((one_way & (amps < 0)) | (amps > most), 0.0, slope)
        return np.minimum(np.where(one_way, np.maximum(amps, 0.0), amps), most), slope

    def left(volts: np.ndarray) -> np.ndarray:
        amps, _ = currents(volts)
        into, out = (np.bincount(ends[:, side], amps, len(volts)) for side in (0, 1))
        return (into - out + LEAK_S * volts + drawn)[:-1]

    for _ in range(500):
        _, slope = currents(volts)
        matrix = np.diag(np.full(len(volts), LEAK_S))
        for (one, other), siemens in zip(ends, slope, strict=True):
            matrix[[one, other], [one, other]] += siemens
            matrix[[one, other], [other, one]] -= siemens
        step = np.append(np.linalg.solve(matrix[:-1, :-1], -left(volts)), 0.0)
        share = 1.0
        while np.linalg.norm(left(volts + share * step)) > np.linalg.norm(left(volts)) + 1e-6 and share > 1e-9:
            share /= 2
        volts = volts + share * step
        for branch, plus, minus, part in circuit.gated:
            table = sorted(part.rds_table)
            ohm[branch] = np.interp(volts[number[plus]] - volts[number[minus]], *zip(*table, strict=True))
        amps, before = currents(volts)[0], drawn.copy()
        drawn[:] = 0.0
        for branch, one, other in circuit.passed:
            drawn[[number[one], number[other]]] += (amps[branch], -amps[branch])
        for branch, out, entry, zero, efficiency in circuit.converted:
            out_v, in_v = (volts[number[name]] - volts[number[zero]] for name in (out, entry))
            taken_a = out_v * amps[branch] / (efficiency * max(in_v, 1.0))
            drawn[[number[entry], number[zero]]] += (taken_a, -taken_a)
        if np.abs(step).max() < 1e-11 and share == 1.0 and np.abs(drawn - before).max() < 1e-12:
            break
    return currents(volts)[0]


def rebuilt(build: Build, lit: Lit) -> Circuit:
    """A build's circuit with some outputs lit, from its wiring list and its parts."""
    circuit = Circuit()
    rows = list(csv.DictReader(io.StringIO(wiring_csv(build))))
    terminals = {row[end] for row in rows for end in ("from", "to")}
    for row in rows:
        if row["ohm"]:
            knee = float(row["diode_v"]) if row["diode_v"] else 0.0
            circuit.add(row["from"], f"{row['to']} {row['shows']}".strip() if row["group"].startswith("Feeds") else
                        row["to"], float(row["ohm"]), knee, bool(row["diode_v"]))  # fmt: skip
    for supply in build.supplies:
        part = build.shelf.find(SupplyPart, supply.part_id)
        one_way = not part.sinks_current
        circuit.add(f"{supply.name}, 0 V", f"{supply.name}, +", part.output_ohm, -supply.set_v, one_way)
    for rail in build.rails:
        _rail(build, rail, circuit)
    for strip in build.strips:
        _strip(build, strip, rows, circuit)
    for piece in build.pieces:
        _loose(build, piece, circuit)
    for terminal in terminals:
        assumed = re.fullmatch(r"([0-9.]+) V supply, \+", terminal)
        if assumed and not any(supply.name == terminal.removesuffix(", +") for supply in build.supplies):
            circuit.add(terminal.replace("+", "0 V"), terminal, 0.0, -float(assumed[1]), True)
    for board in build.boards:
        _board(build, board, circuit)
    for terminal in terminals:
        if terminal.endswith(", middle"):  # a knob, wherever it stands
            name, half = terminal.removesuffix(", middle"), 5e3
            circuit.add(f"{name}, low end", terminal, KNOB_TURN * half)
            circuit.add(terminal, f"{name}, high end", (2 - KNOB_TURN) * half)
    for driver in build.drivers:
        MAKE[driver.kind](build, driver, lit, circuit, terminals)
        for channel in build.channels_of[driver.id]:
            _lamps(build, driver, channel, circuit, terminals)
    return circuit


def _board(build: Build, board: Board, circuit: Circuit) -> None:
    part = build.shelf.find(BoardPart, board.part_id)
    logic = f"{board.name}, {part.logic_v:g} V"
    if board.fed_by is None:
        circuit.add(f"{board.name}, 0 V", f"{board.name}, supply", 0.1, -USB_V, True)
    volts = {each.id: each.set_v for each in build.supplies} | {each.id: each.target_v for each in build.rails}
    source = USB_V if board.fed_by is None else volts[board.fed_by.id]
    if abs(source - part.logic_v) <= 0.5:
        circuit.add(f"{board.name}, supply", logic, 0.0)
    else:
        given = circuit.add(f"{board.name}, 0 V", logic, 0.05, -part.logic_v, True)
        circuit.passed.append((given, f"{board.name}, supply", f"{board.name}, 0 V"))
    circuit.add(f"{board.name}, supply", f"{board.name}, 0 V", 1 / part.idle_a, 0.0, True, part.idle_a)


def _rail(build: Build, rail: Rail, circuit: Circuit) -> None:
    """A rail's regulator, from what it is trimmed to behind its resistance."""
    part, name = build.shelf.find(RegulatorPart, rail.regulator_id), f"{rail.name} regulator"
    entry, out, zero = f"{name}, in", f"{name}, out", f"{name}, 0 V"
    given = circuit.add(zero, out, rail.output_ohm, -rail.target_v, True)
    if part.sort == "linear":
        circuit.passed.append((given, entry, zero))
    else:
        circuit.converted.append((given, out, entry, zero, part.efficiency))
    if part.idle_a:
        circuit.add(entry, zero, 1 / part.idle_a, 0.0, True, part.idle_a)


def _strip(build: Build, strip: PixelRun, rows: list[dict[str, str]], circuit: Circuit) -> None:
    """A strip fully white: its rails from its start over every pixel to its end, with its feeds at the places that the
    list tells, each at the rail node next to it, the lower one where two are as near."""
    part = build.shelf.find(StripPart, strip.part_id)
    count, pitch_m = strip.pixel_count, strip.pitch_m
    places_m = np.array([0.0, *((k + 0.5) * pitch_m for k in range(count)), count * pitch_m])
    rails = {"+": strip.rail_pos_ohm_per_m or part.rail_pos_ohm_per_m,
             "−": strip.rail_neg_ohm_per_m or part.rail_neg_ohm_per_m}  # fmt: skip
    for mark, ohm_per_m in rails.items():
        for node in range(count + 1):
            if mark == "−" or node == 0 or node not in strip.cuts:
                length_m = places_m[node + 1] - places_m[node]
                circuit.add(f"{strip.name} {mark}{node}", f"{strip.name} {mark}{node + 1}", ohm_per_m * length_m)
        for row in rows:
            if row["to"] == f"{strip.name}, {mark}" and row["shows"]:
                away_m = np.abs(places_m - float(row["shows"].removeprefix("at ").removesuffix(" m")))
                near = int(np.flatnonzero(away_m <= away_m.min() + 1e-9)[0])
                circuit.add(f"{row['to']} {row['shows']}", f"{strip.name} {mark}{near}", 0.0)
    for node in range(1, count + 1):
        plus, minus = f"{strip.name} +{node}", f"{strip.name} −{node}"
        quiet_a = part.pixel.quiescent_a
        if quiet_a:
            circuit.add(plus, minus, 1 / quiet_a, 0.0, True, quiet_a)
        for channel in part.pixel.channels:
            if part.pixel.law == "cc":
                width_v, full_a = channel.v_full_v - channel.v_off_v, channel.full_current_a  # type: ignore[union-attr]
                circuit.add(plus, minus, width_v / full_a, channel.v_off_v, True, full_a)  # type: ignore[union-attr]
            else:
                knee_v = channel.led_count * channel.forward_v  # type: ignore[union-attr]
                circuit.add(plus, minus, channel.resistor_ohm, knee_v, True)  # type: ignore[union-attr]


def _loose(build: Build, piece: Piece, circuit: Circuit) -> None:
    """Loose addressable lamps, each at its full current between its own two leads."""
    part = build.shelf.find(Part, piece.part_id)
    if isinstance(part, LampPart) and part.addressable:
        amps = sum(die.test_a for die in part.dies)
        for number in range(piece.slot_count):
            lead = piece.place_name(number)
            circuit.add(f"{lead}, +", f"{lead}, 0 V", 1 / amps, 0.0, True, amps)


def _push_pull(circuit: Circuit, pin: str, high: str, zero: str, is_high: bool, ohm: float) -> None:
    circuit.add(high if is_high else pin, pin if is_high else zero, ohm)


def _pin(build: Build, driver: Driver, role: str, is_high: bool, circuit: Circuit) -> None:
    board = next(board for board in build.boards if board.id == driver.board_id)
    part = build.shelf.find(BoardPart, board.part_id)
    name = next(pin.pin for pin in driver.pins if pin.role == role)
    logic = f"{board.name}, {part.logic_v:g} V"
    _push_pull(circuit, f"{board.name}, pin {name}", logic, f"{board.name}, 0 V", is_high, part.pin_ohm)


def _input(build: Build, driver: Driver, output: int, is_high: bool, circuit: Circuit, terminals: set[str]) -> None:
    """What controls an input: a pin, or the output of a register that its number tells."""
    chain = next((each for each in build.drivers if each.id == getattr(driver, "inputs_on", None)), None)
    if chain is None:
        _pin(build, driver, f"lamp {output}", is_high, circuit)
        return
    chip = build.shelf.find(ChipPart, chain.chip_id)  # type: ignore[union-attr]
    number, leg = divmod(driver.inputs_from + output, chip.outputs)  # type: ignore[attr-defined]
    legs = _legs(build, chain, terminals)
    ends = legs[number, f"out {leg}"], legs[number, "supply"], legs[number, "0 V"]
    _push_pull(circuit, *ends, is_high, chip.out_ohm)


def _pins(build: Build, driver: Driver, lit: Lit, circuit: Circuit, _: set[str]) -> None:
    for channel in build.channels_of[driver.id]:
        on = lit(driver.id, channel.output) != driver.sink  # type: ignore[attr-defined]
        _pin(build, driver, f"lamp {channel.output}", on, circuit)


def _pair(build: Build, driver: Driver, lit: Lit, circuit: Circuit, _: set[str]) -> None:
    for lamp in {channel.output // 2 for channel in build.channels_of[driver.id]}:
        for end in (0, 1):
            _pin(build, driver, f"lamp {lamp} end {end}", lit(driver.id, 2 * lamp + end), circuit)


def _legs(build: Build, driver: Driver, terminals: set[str]) -> dict[tuple[int, str], str]:
    """The terminals of a driver's chips, by the chip's number and the leg's name."""
    found = {}
    for terminal in terminals:
        named = re.fullmatch(re.escape(driver.name) + r" chip ?(\d*), leg \d+ \((.*)\)", terminal)
        if named:
            found[int(named[1] or 1) - 1, named[2]] = terminal
    return found


def _own_draws(chip: ChipPart, legs: dict[tuple[int, str], str], circuit: Circuit) -> None:
    for number in {number for number, _ in legs}:
        if chip.icc_a:
            circuit.add(legs[number, "supply"], legs[number, "0 V"], 1 / chip.icc_a, 0.0, True, chip.icc_a)


def _chips(build: Build, driver: Driver, lit: Lit, circuit: Circuit, terminals: set[str]) -> None:
    chip = build.shelf.find(ChipPart, driver.chip_id)  # type: ignore[attr-defined]
    legs = _legs(build, driver, terminals)
    _own_draws(chip, legs, circuit)
    for channel in build.channels_of[driver.id]:
        number, output = divmod(channel.output, chip.outputs)
        leg, zero = legs[number, f"out {output}"], legs[number, "0 V"]
        if driver.kind == "sink":
            if lit(driver.id, channel.output):
                set_a = chip.k_v / driver.rext_ohm  # type: ignore[attr-defined]
                least_v = 0.4 if set_a <= 0.005 else 0.4 + (min(set_a, 0.06) - 0.005) / 0.055 * 0.4
                circuit.add(leg, zero, least_v / set_a, 0.0, True, set_a)
            continue
        is_high = lit(driver.id, channel.output) != getattr(driver, "sink", False)
        _push_pull(circuit, leg, legs[number, "supply"], zero, is_high, chip.out_ohm)


def _matrix(build: Build, driver: Driver, lit: Lit, circuit: Circuit, terminals: set[str]) -> None:
    chip = build.shelf.find(ChipPart, driver.chip_id)  # type: ignore[attr-defined]
    legs = _legs(build, driver, terminals)
    _own_draws(chip, legs, circuit)
    on = {
        divmod(channel.output, driver.columns)  # type: ignore[attr-defined]
        for channel in build.channels_of[driver.id]
        if lit(driver.id, channel.output)
    }
    column_chips = -(-driver.columns // chip.outputs)  # type: ignore[attr-defined]
    for column in range(driver.columns):  # type: ignore[attr-defined]
        number, output = divmod(column, chip.outputs)
        sunk = any(lit_column == column for _, lit_column in on)
        leg = legs[number, f"out {output}"]
        _push_pull(circuit, leg, legs[number, "supply"], legs[number, "0 V"], not sunk, chip.out_ohm)
    for row in {row for row, _ in on}:
        number, output = divmod(row, chip.outputs)
        if driver.rows_by == "transistor":  # type: ignore[attr-defined]
            name = f"{driver.name} row transistor {row}"
            circuit.add(f"{name}, emitter or source", f"{name}, collector or drain", driver.row_ohm)  # type: ignore[attr-defined]
        else:
            leg = legs[column_chips + number, f"out {output}"]
            circuit.add(legs[column_chips + number, "supply"], leg, driver.row_ohm)  # type: ignore[attr-defined]


def _switches(build: Build, driver: Driver, lit: Lit, circuit: Circuit, terminals: set[str]) -> None:
    part = build.shelf.find(TransistorPart, driver.transistor_id)  # type: ignore[attr-defined]
    for channel in build.channels_of[driver.id]:
        on, name = lit(driver.id, channel.output), f"{driver.name} transistor {channel.output + 1}"
        _input(build, driver, channel.output, on != (part.sort == "p_mosfet"), circuit, terminals)
        if part.sort == "bjt":
            circuit.add(f"{name}, base", f"{name}, emitter", 5.0, part.vbe_v, True)
            if on:
                circuit.add(f"{name}, collector", f"{name}, emitter", TIGHT_OHM, part.vce_sat_v, True)
        elif on:
            branch = circuit.add(f"{name}, drain", f"{name}, source", part.rds_table[-1][1])
            gate = f"{name}, gate", f"{name}, source"
            circuit.gated.append((branch, *(gate[::-1] if part.sort == "p_mosfet" else gate), part))


def _relays(build: Build, driver: Driver, lit: Lit, circuit: Circuit, terminals: set[str]) -> None:
    part, name = build.shelf.find(RelayPart, driver.relay_id), f"{driver.name} relay"  # type: ignore[attr-defined]
    for channel in build.channels_of[driver.id]:
        on = lit(driver.id, channel.output)
        _input(build, driver, channel.output, on != part.active_low, circuit, terminals)
        if on:
            circuit.add(f"{name}, supply", f"{name}, 0 V", part.coil_ohm + 0.5, part.driver_drop_v, True)
            contact = f"{name}, contact {channel.output + 1}"
            circuit.add(f"{contact}, common", contact, 0.05)


def _held(build: Build, driver: Driver, lit: Lit, circuit: Circuit, _: set[str]) -> None:
    """A hold rail: its regulator, and the switch of the two that is on; its lamps are full or held."""
    part = build.shelf.find(TransistorPart, driver.transistor_id)  # type: ignore[attr-defined]
    name, out_v, full = driver.name, driver.out_v, lit(driver.id, 0)  # type: ignore[attr-defined]
    zero = f"{name} regulator, 0 V"
    given = circuit.add(zero, f"{name} regulator, {out_v:g} V", 0.05, -out_v, True)
    circuit.passed.append((given, f"{name} regulator, in", zero))
    for word in ("full", "hold"):
        on, switch = full == (word == "full"), f"{name} {word} switch"
        _pin(build, driver, word, on != (part.sort == "p_mosfet"), circuit)
        if on:
            branch = circuit.add(f"{switch}, drain", f"{switch}, source", part.rds_table[-1][1])
            gate = f"{switch}, gate", f"{switch}, source"
            circuit.gated.append((branch, *(gate[::-1] if part.sort == "p_mosfet" else gate), part))


MAKE = {
    "pin": _pins, "pwm": _pins, "pair": _pair, "register": _chips, "sink": _chips, "demux": _chips,
    "scanned": _matrix, "switch": _switches, "relay": _relays, "hold": _held,
}  # fmt: skip


def _lamps(build: Build, driver: Driver, channel: Channel, circuit: Circuit, terminals: set[str]) -> None:
    """A channel's lamps between their two leads, as the list calls them."""
    piece = build.line.piece(channel.slots[0].piece_id)
    part = build.shelf.find(Part, piece.part_id)
    numbers = []
    for ref in channel.slots:
        if driver.kind == "scanned":
            row, column = divmod(channel.output, driver.columns)  # type: ignore[attr-defined]
            plus, minus = f"{piece.name}, row {row}", f"{piece.name}, column {column}"
        else:
            mine = [name for name in terminals if name.startswith(f"{piece.place_name(ref.index)}, ")]
            plus, minus = _leads(part, channel, sorted(mine))
            if driver.kind == "pair" and channel.output % 2:
                plus, minus = minus, plus
        if driver.kind == "hold":
            amps = driver.full_lamp_a  # type: ignore[attr-defined]
            numbers.append(circuit.add(plus, minus, 1 / amps, 0.0, True, amps))
            continue
        if isinstance(part, LoadPart):
            amps = part.power_w / part.nominal_v
            numbers.append(circuit.add(plus, minus, 1 / amps, 0.0, True, amps))
            continue
        assert isinstance(part, LampPart)
        die = next((die for die in part.dies if die.name == channel.die), part.dies[0])
        knee_v = die.forward_v - die.slope_ohm * die.test_a
        numbers.append(circuit.add(plus, minus, die.slope_ohm, knee_v, True))
    circuit.lamps[driver.id, channel.output] = numbers


def _leads(part: Part, channel: Channel, mine: Iterable[str]) -> tuple[str, str]:
    """The lead where the current comes in and the one where it goes out, by what their names say."""

    def named(*words: str) -> str:
        return next(name for name in mine if any(f", {word}" in name for word in words))

    if isinstance(part, LoadPart):
        return named("one end"), named("other end")
    assert isinstance(part, LampPart)
    if part.common == "none" or channel.die is None:
        first = named("anode", "plus", "red", "lead that is fed")
        second = next(name for name in mine if name != first)
        return first, second
    own, common = named(str(channel.die)), named("common")
    return (common, own) if part.common == "anode" else (own, common)
