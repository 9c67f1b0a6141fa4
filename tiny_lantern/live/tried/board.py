"""A board's pins turned into light: its chips, switches and lamps, joined as the rows of its wiring list say."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field, replace

from tiny_lantern.circuit.conductor import Conductor, End
from tiny_lantern.circuit.drive import whole_circuit
from tiny_lantern.circuit.wires.hookup import Hookup
from tiny_lantern.circuit.wires.rails import zero_end, zero_rail
from tiny_lantern.code.board.at_pins import number_of
from tiny_lantern.live.tried.nets import LOW, Given, Level, Nets
from tiny_lantern.live.tried.parts import ChainChip, Counter, chosen
from tiny_lantern.live.tried.program import Edge
from tiny_lantern.live.tried.ways import fit
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import item
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.pin_needs import pins_of

Key = tuple[str, int]
Wanted = Callable[[Sequence[Conductor]], Sequence[Conductor]]


def as_wired(rows: Sequence[Conductor]) -> Sequence[Conductor]:
    """The rows as they are."""
    return rows


def without_row(key: str) -> Wanted:
    """The rows without one: its wire is off.

    Args:
        key: the row's key.
    """
    return lambda rows: [row for row in rows if row.key != key]


def with_ends_swapped(one: str, other: str) -> Wanted:
    """The rows with the far ends of two of them swapped.

    Args:
        one: the key of a row.
        other: that of another.
    """

    def swapped(rows: Sequence[Conductor]) -> Sequence[Conductor]:
        ends = {row.key: row.end for row in rows}
        swaps = {one: ends[other], other: ends[one]}
        return [row if row.key not in swaps else replace(row, end=swaps[row.key]) for row in rows]

    return swapped


@dataclass
class TriedBoard:
    """A board of a build with all that hangs on it; ``lit`` is which share of the time each lamp is lit now, by its
    driver and output, ``lit_us`` for how long it has been, ``forbidden`` what must not happen and did. [µs]"""

    build: Build
    board_id: str
    changed: Wanted = as_wired
    nets: Nets = field(default_factory=Nets)
    pins: dict[int, End] = field(default_factory=dict)
    levels: dict[int, float] = field(default_factory=dict)
    chips: list[ChainChip] = field(default_factory=list)
    counters: list[Counter] = field(default_factory=list)
    lamps: dict[Key, tuple[End, End]] = field(default_factory=dict)
    shares: dict[Key, Given] = field(default_factory=dict)
    multiplexers: list[tuple[End, list[End], list[End]]] = field(default_factory=list)
    rows_at_once: list[tuple[str, list[End]]] = field(default_factory=list)
    lit: dict[Key, float] = field(default_factory=dict)
    lit_us: dict[Key, float] = field(default_factory=dict)
    forbidden: list[str] = field(default_factory=list)
    at_us: float = 0.0

    def __post_init__(self) -> None:
        self.rows = whole_circuit(self.build).conductors
        self.nets.join(self.changed(self.rows))
        board = item(self.build.boards, self.board_id, "board")
        part = self.build.shelf.find(BoardPart, board.part_id)
        for end in (zero_rail(), zero_end(board)):
            self.nets.drive(end, lambda: LOW)
        for name in sorted({pin.pin for pin in pins_of(self.build, board.id).values()}):
            number = number_of(part, name)
            self.pins[number] = End(board.name, f"pin {name}", of=board.id)
            self.levels[number] = 0.0
            self.nets.drive(self.pins[number], self._given(number))
        for driver in self.build.drivers:
            if driver.board_id == board.id:
                fit(self, Hookup(self.build, driver))
        self._clocks: dict[str, list[ChainChip]] = defaultdict(list)
        self._latches: dict[str, list[ChainChip]] = defaultdict(list)
        for chip in self.chips:
            self._clocks[self.nets.of(chip.clock)].append(chip)
            self._latches[self.nets.of(chip.latch)].append(chip)
        self._data = {self.nets.of(chip.data) for chip in self.chips}
        self._on_chip = self._lamps_on_chips()
        self.lit_us = dict.fromkeys(self.lamps, 0.0)
        self.look()

    def _given(self, number: int) -> Given:
        def given() -> Level:
            level = self.levels[number]
            return level, 1 - level

        return given

    def _lamps_on_chips(self) -> dict[str, list[Key]]:
        """The lamps that the outputs of each chain have to do with."""
        found: dict[str, list[Key]] = {chip.chain: [] for chip in self.chips}
        for key in self.lamps:
            for chip in self.chips:
                chip.read = False
            self.share(key)
            for chain in dict.fromkeys(chip.chain for chip in self.chips if chip.read):
                found[chain].append(key)
        return found

    def share(self, key: Key) -> float:
        """Which share of the time a lamp is lit, as things are. [-]

        Args:
            key: its driver and output.
        """
        if key in self.shares:
            return self.shares[key]()[0]
        plus, minus = self.lamps[key]
        return self.nets.on(plus)[0] * self.nets.on(minus)[1]

    def look(self, keys: Iterable[Key] | None = None) -> None:
        """Which lamps are lit now.

        Args:
            keys: the lamps that may have changed; all of them when None.
        """
        for key in self.lamps if keys is None else keys:
            self.lit[key] = self.share(key)

    def act(self, edges: Iterable[Edge]) -> None:
        """Let what a program did act on the board.

        Args:
            edges: what it did, in order.
        """
        for edge in edges:
            self.pass_to(edge.at_us)
            if edge.kind in "SD" and edge.pin in self.pins:
                before, self.levels[edge.pin] = self.levels[edge.pin], edge.level
                if before != edge.level:
                    self._edge(self.nets.of(self.pins[edge.pin]), edge.level > before)

    def pass_to(self, at_us: float) -> None:
        """Let time pass.

        Args:
            at_us: until when. [µs]
        """
        for key, lit in self.lit.items():
            if lit:
                self.lit_us[key] += lit * (at_us - self.at_us)
        self.at_us = at_us

    def _edge(self, net: str, rises: bool) -> None:
        for counter in self.counters:
            counter.look()
        if rises and net in self._clocks:
            came = [int(self.nets.high(chip.data)) for chip in self._clocks[net]]
            for chip, bit in zip(self._clocks[net], came, strict=True):
                chip.bits = [bit, *chip.bits[:-1]]
                chip.clocked += 1
        latched = self._latches.get(self._led_to(net), ()) if rises else ()
        if latched:
            self._latch(latched)
        elif net not in self._clocks and net not in self._data and net not in self._latches:
            self.look()
            self._watch()

    def _led_to(self, net: str) -> str:
        """The net where a rising edge comes out: behind a multiplexer that of the way that is selected."""
        for common, selects, ways in self.multiplexers:
            if self.nets.of(common) == net:
                way = chosen(self.nets, selects)
                return self.nets.of(ways[way]) if way < len(ways) else net
        return net

    def _latch(self, chips: Sequence[ChainChip]) -> None:
        for chain in dict.fromkeys(chip.chain for chip in chips):
            own = [chip for chip in chips if chip.chain == chain]
            if any(chip.clocked < sum(len(each.bits) for each in own) for chip in own):
                self.forbidden.append(f"{self.at_us:.1f} µs: {own[0].name} is latched in mid-shift")
            for chip in own:
                chip.shown, chip.clocked = list(chip.bits), 0
            self.look(self._on_chip[chain])
        self._watch()

    def _watch(self) -> None:
        for name, rows in self.rows_at_once:
            if sum(self.nets.high(row) for row in rows) > 1:
                self.forbidden.append(f"{self.at_us:.1f} µs: two of {name} at once")
