"""From the edges of a board's pins to lamps over time: models of chips, transistors, relays and matrices, wired as the
printed rows say. Nothing here asks the program what it meant."""

from __future__ import annotations

import csv
import io
import re
from collections import defaultdict
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field

import numpy as np

from tests.support.rebuilt import _leads
from tests.support.recorder import Event
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Board, Channel, Driver
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.parts.relay import RelayPart
from tiny_lantern.model.parts.transistor import TransistorPart
from tiny_lantern.model.ways.hold import HoldRail
from tiny_lantern.sheets.wiring_sheet import wiring_csv

MOST_OHM = 30e3  # what is more is a pull
Level = tuple[float, float]
OPEN: Level = (0.0, 0.0)
LEAST_RELAY_US = 99_000.0


@dataclass
class ChainChip:
    """A chip in a chain: its bits, those behind its latch, and the nets of its lines."""

    name: str
    bits: list[int]
    shown: list[int]
    sinks: bool
    data: str
    clock: str
    latch: str
    clocked: int = 0
    known: bool = False


@dataclass
class Lamps:
    """A board's circuit of levels: what is on each net, and for how long each lamp has been lit."""

    build: Build
    board: Board
    pin_at: dict[int, str]
    nets: dict[str, str] = field(default_factory=dict)
    level: dict[str, float] = field(default_factory=dict)
    chips: dict[str, ChainChip] = field(default_factory=dict)
    sources: dict[str, list[Callable[[], Level]]] = field(default_factory=lambda: defaultdict(list))
    lamps: dict[tuple[str, int], tuple[str, str]] = field(default_factory=dict)
    lit_us: dict[tuple[str, int], float] = field(default_factory=dict)
    now_lit: dict[tuple[str, int], float] = field(default_factory=dict)
    faults: list[str] = field(default_factory=list)
    watched: list[Callable[[float], None]] = field(default_factory=list)
    clocks: dict[str, list[ChainChip]] = field(default_factory=lambda: defaultdict(list))
    latches: dict[str, list[ChainChip]] = field(default_factory=lambda: defaultdict(list))
    numbers: list[tuple[str, set[str], list[str]]] = field(default_factory=list)
    at_us: float = 0.0
    terminals: frozenset[str] = frozenset()
    running: bool = False
    read: set[str] = field(default_factory=set)
    lamps_on: dict[str, set[tuple[str, int]]] = field(default_factory=lambda: defaultdict(set))

    def net(self, terminal: str) -> str:
        """The net of a terminal."""
        while (up := self.nets.get(terminal, terminal)) != terminal:
            terminal = up
        return terminal

    def join(self, one: str, other: str) -> None:
        """Make two nets one."""
        self.nets[self.net(one)] = self.net(other)

    def on_net(self, terminal: str) -> Level:
        """How much of the time a terminal is driven high, and low."""
        high = low = 0.0
        for source in self.sources[self.net(terminal)]:
            up, down = source()
            high, low = max(high, up), max(low, down)
        return high, low


def lamps_of(build: Build, board_name: str, source: str) -> Lamps:
    """The circuit of a board, from its printed rows; pins by the numbers that the source names."""
    board = next(each for each in build.boards if each.name == board_name)
    pins = {int(number): name for number, name in re.findall(r"#define \w+_PIN (\d+) /\* pin (\S+):", source)}
    here = Lamps(build, board, pins)
    rows = [row for row in csv.DictReader(io.StringIO(wiring_csv(build))) if row["ohm"]]
    for row in rows:
        if float(row["ohm"]) < MOST_OHM and not _pulls(row):
            here.join(row["from"], row["to"])
    terminals = {row[end] for row in rows for end in ("from", "to")}
    here.terminals = frozenset(terminals)
    for terminal in terminals:
        if re.search(r"0 V( rail)?$|, −$", terminal):
            here.sources[here.net(terminal)].append(lambda: (0.0, 1.0))
        elif re.search(r"(V lamp|logic|V) rail$|, \+$|, supply$", terminal):
            here.sources[here.net(terminal)].append(lambda: (1.0, 0.0))
    for name in pins.values():
        _pin(here, f"{board.name}, pin {name}")
    for driver in build.drivers:
        if driver.board_id == board.id:
            _driver(here, driver, terminals)
    return here


def _pulls(row: dict[str, str]) -> bool:
    """Whether a resistor lies between two legs of one transistor."""
    one, other = (row[end].rpartition(", ")[0] for end in ("from", "to"))
    return bool(row["through"]) and one == other


def _pin(here: Lamps, terminal: str) -> None:
    here.level[terminal] = 0.0

    def given() -> Level:
        return here.level[terminal], 1 - here.level[terminal]

    here.sources[here.net(terminal)].append(given)


def _driver(here: Lamps, driver: Driver, terminals: set[str]) -> None:
    own = {each for each in terminals if each.startswith(driver.name)}
    chip_name = re.escape(driver.name) + r" chip ?\d*"
    for word in sorted({name for each in own if re.fullmatch(chip_name, name := each.rpartition(", leg")[0])}):
        _chip(here, driver, word, {name: at for at in own if (name := _leg(at, word))})
    for each in sorted({each.rpartition(", ")[0] for each in own if " transistor " in each or " switch" in each}):
        if not each.startswith(f"{driver.name} row "):
            _transistor(here, driver, each)
    _row_transistors(here, driver, own)
    _relays(here, driver, own)
    if driver.kind == "pair":
        for lamp in sorted({channel.output // 2 for channel in here.build.channels_of[driver.id]}):
            ends = [next(pin.pin for pin in driver.pins if pin.role == f"lamp {lamp} end {end}") for end in (0, 1)]
            here.watched.append(_never_both(here, [f"{here.board.name}, pin {end}" for end in ends], driver.name))
    if isinstance(driver, HoldRail):
        _held(here, driver)
        return
    for channel in here.build.channels_of[driver.id]:
        here.lamps[driver.id, channel.output] = _ends(here.build, driver, channel, terminals)


def _leg(terminal: str, chip: str) -> str | None:
    found = re.fullmatch(re.escape(chip) + r", leg \d+ \((.*)\)", terminal)
    return found[1] if found else None


def _chip(here: Lamps, driver: Driver, name: str, legs: dict[str, str]) -> None:
    part = here.build.shelf.find(ChipPart, driver.chip_id)  # type: ignore[attr-defined]
    if part.role == "demux":
        _demux(here, part, legs, driver)
        return
    chip = ChainChip(name, [0] * part.outputs, [0] * part.outputs, part.role == "sink", legs["data"],
                     here.net(legs["clock"]), legs["latch"])  # fmt: skip
    here.chips[name] = chip
    here.clocks[chip.clock].append(chip)
    here.latches[here.net(legs["latch"])].append(chip)
    for output in range(part.outputs):
        leg = legs.get(f"out {output}")
        if leg is not None:
            here.sources[here.net(leg)].append(_output(here, chip, output))
    if "next" in legs:
        here.sources[here.net(legs["next"])].append(lambda: (chip.bits[-1], 1 - chip.bits[-1]))
    for leg in ("enable", "clear"):
        if leg in legs:
            wanted = 1 if leg == "enable" else 0
            here.watched.append(_always(here, legs[leg], wanted, f"{name} {leg}"))


def _output(here: Lamps, chip: ChainChip, output: int) -> Callable[[], Level]:
    """What an output gives; before its chip was latched for the first time nobody knows."""

    def given() -> Level:
        here.read.add(chip.name)
        if chip.sinks:
            return 0.0, float(chip.shown[output])
        return (float(chip.shown[output]), 1.0 - chip.shown[output]) if chip.known else OPEN

    return given


def _demux(here: Lamps, part: ChipPart, legs: dict[str, str], driver: Driver) -> None:
    selects = [legs[name] for name in sorted(legs) if name.startswith("select")]
    enables = [legs[name] for name in legs if name.startswith("enable")]

    def chosen() -> int | None:
        if any(here.on_net(enable)[0] for enable in enables):
            return None
        return sum(round(here.on_net(select)[0]) << bit for bit, select in enumerate(selects))

    for output in range(part.outputs):
        leg = legs.get(f"out {output}")
        if leg is not None:
            here.sources[here.net(leg)].append(
                lambda output=output: (1.0, 0.0) if chosen() == output else (0.0, 1.0)  # type: ignore[misc]
            )
    here.numbers.append((driver.name, {here.net(select) for select in selects}, enables))


def _transistor(here: Lamps, driver: Driver, name: str) -> None:
    part = here.build.shelf.find(TransistorPart, driver.transistor_id)  # type: ignore[attr-defined]
    control, switched, fixed = ("base", "collector", "emitter") if part.sort == "bjt" else ("gate", "drain", "source")
    _conducts(here, f"{name}, {control}", f"{name}, {switched}", f"{name}, {fixed}", part.sort == "p_mosfet",
              getattr(driver, "has_driver", False))  # fmt: skip


def _conducts(here: Lamps, control: str, switched: str, fixed: str, low: bool, driven: bool = False) -> None:
    if driven:  # a gate driver turns a high side on while its input is high
        control, low = control.replace(" transistor ", " gate driver ").replace(", gate", ", in"), False

    def given() -> Level:
        on = here.on_net(control)[1 if low else 0]
        high, down = here.on_net(fixed)
        return on * high, on * down

    here.sources[here.net(switched)].append(given)


def _row_transistors(here: Lamps, driver: Driver, own: set[str]) -> None:
    names = sorted({each.rpartition(", ")[0] for each in own if f"{driver.name} row transistor" in each})
    for name in names:
        part = here.build.shelf.find(TransistorPart, driver.row_transistor_id)  # type: ignore[attr-defined]
        low = part.sort == "p_mosfet"
        _conducts(here, f"{name}, base or gate", f"{name}, collector or drain", f"{name}, emitter or source", low)
    counter = [each for each in own if f"{driver.name} counter, row" in each]
    if counter:
        _counter(here, driver, counter)
    if driver.kind == "scanned":
        piece = here.build.line.piece(here.build.channels_of[driver.id][0].slots[0].piece_id)
        rows = [f"{piece.name}, row {row}" for row in range(driver.rows)]  # type: ignore[attr-defined]
        here.watched.append(_never_both(here, rows, f"rows of {driver.name}"))


def _counter(here: Lamps, driver: Driver, rows: list[str]) -> None:
    state = {"row": 3, "clock": 0.0}
    name = f"{driver.name} counter"

    def stepped(at_us: float) -> None:
        lit = any(lit for key, lit in here.now_lit.items() if key[0] == driver.id)
        before = state["row"]
        clock, reset = here.on_net(f"{name}, clock")[0], here.on_net(f"{name}, reset")[0]
        if reset:
            state["row"] = 0
        elif clock > state["clock"]:
            state["row"] = (state["row"] + 1) % 10
        state["clock"] = clock
        if lit and before != state["row"]:
            here.faults.append(f"{at_us:.1f} µs: {name} steps while a row is lit")

    here.watched.append(stepped)
    for terminal in rows:
        number = int(terminal.rpartition(" ")[2])
        here.sources[here.net(terminal)].append(
            lambda number=number: (1.0, 0.0) if state["row"] == number else (0.0, 1.0)  # type: ignore[misc]
        )


def _relays(here: Lamps, driver: Driver, own: set[str]) -> None:
    for entry in sorted(each for each in own if re.search(r" relay, input \d+$", each)):
        part = here.build.shelf.find(RelayPart, driver.relay_id)  # type: ignore[attr-defined]
        contact = entry.replace("input", "contact")
        _conducts(here, entry, contact, f"{contact}, common", part.active_low)
        here.watched.append(_not_too_fast(here, entry))


def _held(here: Lamps, driver: HoldRail) -> None:
    gates = [f"{driver.name} {word} switch" for word in ("full", "hold")]
    part = here.build.shelf.find(TransistorPart, driver.transistor_id)
    low = part.sort == "p_mosfet"
    control = "base" if part.sort == "bjt" else "gate"

    def on(gate: str) -> float:
        return here.on_net(f"{gate}, {control}")[1 if low else 0]

    here.sources["held"].append(lambda: (on(gates[0]), 0.0))
    here.sources["zero"] = [lambda: (0.0, 1.0)]
    here.lamps[driver.id, 0] = ("held", "zero")

    def both(at_us: float) -> None:
        if on(gates[0]) and on(gates[1]):
            here.faults.append(f"{at_us:.1f} µs: {driver.name} is full and held at once")

    here.watched.append(both)


def _always(here: Lamps, terminal: str, wanted: int, name: str) -> Callable[[float], None]:
    def watch(at_us: float) -> None:
        if here.on_net(terminal)[wanted] != 1:
            here.faults.append(f"{at_us:.1f} µs: {name} is not as it should be")

    return watch


def _never_both(here: Lamps, terminals: list[str], name: str) -> Callable[[float], None]:
    def watch(at_us: float) -> None:
        if sum(here.on_net(terminal)[0] > 0 for terminal in terminals) > 1:
            here.faults.append(f"{at_us:.1f} µs: two of {name} at once")

    return watch


def _not_too_fast(here: Lamps, entry: str) -> Callable[[float], None]:
    last: dict[str, float] = {}

    def watch(at_us: float) -> None:
        if not here.running:
            return  # pins are open until they are outputs, and so is what hangs on them
        level = here.on_net(entry)[0]
        if level != last.get("level", level) and at_us - last.get("at", -1e9) < LEAST_RELAY_US:
            here.faults.append(f"{at_us:.1f} µs: {entry} too soon")
        if level != last.get("level"):
            last.update(level=level, at=at_us if "level" in last else -1e9)

    return watch


def _ends(build: Build, driver: Driver, channel: Channel, terminals: Iterable[str]) -> tuple[str, str]:
    piece = build.line.piece(channel.slots[0].piece_id)
    part = build.shelf.find(Part, piece.part_id)
    if driver.kind == "scanned":
        row, column = divmod(channel.output, driver.columns)  # type: ignore[attr-defined]
        return f"{piece.name}, row {row}", f"{piece.name}, column {column}"
    ends = []
    for ref in (channel.slots[0], channel.slots[-1]):
        mine = [name for name in terminals if name.startswith(f"{piece.place_name(ref.index)}, ")]
        ends.append(_leads(part, channel, sorted(mine)))
    plus, minus = ends[0][0], ends[1][1]
    if getattr(piece, "wired", "apart") in ("parallel", "branches"):
        plus, minus = ends[0]
    return (minus, plus) if driver.kind == "pair" and channel.output % 2 else (plus, minus)


def play(here: Lamps, events: Iterable[Event], marks_us: Iterable[float]) -> list[dict[tuple[str, int], float]]:
    """Let what a program did act on the circuit: for how long each lamp was lit until each of some moments. [µs]"""
    marks, found = sorted(marks_us), []
    made: set[int] = set()
    given: set[int] = set()
    here.lit_us = dict.fromkeys(here.lamps, 0.0)
    here.now_lit = dict.fromkeys(here.lamps, 0.0)
    running = False
    _look(here)
    for event in events:
        while marks and event.at_us >= marks[0]:
            _until(here, marks.pop(0))
            found.append(dict(here.lit_us))
        _until(here, event.at_us)
        if event.kind == "O":
            if event.pin not in given:
                here.faults.append(f"pin {event.pin} is an output before it has its level")
            made.add(event.pin)
            _look(here)
            if not running and any(here.now_lit.values()) and all(pin in made for pin in here.pin_at):
                here.faults.append(f"{event.at_us:.1f} µs: lamps are lit before the first frame")
            running = here.running = running or all(pin in made for pin in here.pin_at)
        if event.kind not in "SD":
            continue
        given.add(event.pin)
        terminal = f"{here.board.name}, pin {here.pin_at[event.pin]}"
        before, here.level[terminal] = here.level[terminal], float(event.value)
        if before != event.value:
            _edge(here, terminal, before, event.at_us)
    while marks:
        _until(here, marks.pop(0))
        found.append(dict(here.lit_us))
    return found


def _until(here: Lamps, at_us: float) -> None:
    for key, lit in here.now_lit.items():
        if lit:
            here.lit_us[key] += lit * (at_us - here.at_us)
    here.at_us = at_us


def _edge(here: Lamps, terminal: str, before: float, at_us: float) -> None:
    net, high = here.net(terminal), here.level[terminal] > before
    for name, selects, enables in here.numbers:
        if net in selects and not any(here.on_net(enable)[0] for enable in enables):
            here.faults.append(f"{at_us:.1f} µs: {name} changes its number while it is lit")
    is_line = False
    if net in here.clocks:
        is_line = True
        if high:
            bits = {id(chip): round(here.on_net(chip.data)[0]) for chip in here.clocks[net]}
            for chip in here.clocks[net]:
                chip.bits = [bits[id(chip)], *chip.bits[:-1]]
                chip.clocked += 1
    for latch_net, chips in here.latches.items():
        if high and latch_net == _latched(here, net):
            _latch(here, chips, at_us)
            _look(here, set().union(*(here.lamps_on[chip.name] for chip in chips)))
    if net in here.latches or net in _data_nets(here):
        is_line = True
    if not is_line:
        _look(here)
    for watch in here.watched if not is_line else ():
        watch(at_us)


def _latched(here: Lamps, net: str) -> str:
    """The net that a rising edge comes out on: behind a multiplexer that of the way that is selected."""
    for common in {each for each in here.terminals if each.endswith(" multiplexer, common")}:
        if here.net(common) == net:
            name = common.removesuffix(", common")
            selects = sorted(each for each in here.terminals if each.startswith(f"{name}, select"))
            way = sum(round(here.on_net(each)[0]) << bit for bit, each in enumerate(selects))
            return here.net(f"{name}, way {way}")
    return net


def _data_nets(here: Lamps) -> set[str]:
    return {here.net(chip.data) for chip in here.chips.values()}


def _latch(here: Lamps, chips: list[ChainChip], at_us: float) -> None:
    whole = sum(len(chip.bits) for chip in chips)
    if any(chip.clocked < whole for chip in chips):
        here.faults.append(f"{at_us:.1f} µs: {chips[0].name} is latched in mid-shift")
    for chip in chips:
        chip.shown, chip.clocked, chip.known = list(chip.bits), 0, True
    for watch in here.watched:
        watch(at_us)


def _look(here: Lamps, keys: Iterable[tuple[str, int]] | None = None) -> None:
    """Which lamps are lit now; only some of them where a chip of theirs was latched."""
    for key in here.lamps if keys is None else keys:
        plus, minus = here.lamps[key]
        here.read.clear()
        here.now_lit[key] = here.on_net(plus)[0] * here.on_net(minus)[1]
        for chip in here.read:
            here.lamps_on[chip].add(key)


def shares(found: list[dict[tuple[str, int], float]], marks_us: list[float]) -> dict[tuple[str, int], np.ndarray]:
    """Which share of the time between each two moments each lamp was lit. (n_moments − 1,) each [-]"""
    lengths = np.diff(marks_us)
    return {key: np.diff([each[key] for each in found]) / lengths for key in found[0]}
