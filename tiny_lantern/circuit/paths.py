"""The way of the current through every lamp, chip and board: from what feeds it down to 0 V, sign by sign.

A schematic is drawn from these, and from nothing else: what is not in the circuit is in no drawing.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Iterator, Mapping
from collections.abc import Set as AbstractSet
from dataclasses import dataclass, replace

from tiny_lantern.circuit.beside_strips import StripsBeside
from tiny_lantern.circuit.compiled import Circuit
from tiny_lantern.circuit.conductor import FEEDS, Conductor, End, InLine
from tiny_lantern.circuit.drive import Turn, feeds_a, turns_of, whole_circuit
from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.conducting import Coil
from tiny_lantern.circuit.elements.loads import Load
from tiny_lantern.circuit.equations import NotSolvedError
from tiny_lantern.circuit.fitted import Fitted
from tiny_lantern.circuit.splices import WORD
from tiny_lantern.circuit.told import told_of
from tiny_lantern.circuit.wires.hookup import lamp_id
from tiny_lantern.circuit.wires.rails import LAMP_RAIL, LOGIC_RAIL, zero_rail
from tiny_lantern.electrical.driven.contract import lamp_of
from tiny_lantern.model.build import Build
from tiny_lantern.model.quantities import amps, engineering, metres, volts

FLOWS_A, DEEP, LAMP = 1e-7, 4, "lamp/"


@dataclass(frozen=True)
class Sign:
    """One thing on a way: its shape, what is written beside it, the colour of its light, the nodes above and below it
    with their volts against 0 V, what it belongs to, what steers it (each a row of signs outward), and the legs of a
    chip or a board in words. [V]"""

    shape: str
    words: tuple[str, ...] = ()
    colour: str = ""
    above: str = ""
    below: str = ""
    above_v: float | None = None
    below_v: float | None = None
    owner: str = ""
    side: tuple[tuple[Sign, ...], ...] = ()
    legs: tuple[str, ...] = ()

    @property
    def upside_down(self) -> Sign:
        """The same with what was above below."""
        turned = replace(self, above=self.below, below=self.above, above_v=self.below_v, below_v=self.above_v)
        return replace(turned, shape=f"{self.shape} up") if self.shape in ("led", "diode") else turned


@dataclass(frozen=True)
class Path:
    """The way of the current through one thing: its key, its signs from above, and everything that it touches, by the
    keys of terminals; the wires that are drawn in it, by their keys; the output that it hangs on where it is a lamp."""

    key: str
    name: str
    signs: tuple[Sign, ...]
    touches: frozenset[str]
    rows: frozenset[str]
    output: tuple[str, int] | None = None


def paths_task(
    build: Build, progress: Callable[[float], None], cancelled: Callable[[], bool]
) -> tuple[Path, ...] | None:
    """Every way of a build, as work in the background; None of one whose circuit has no solution.

    Args:
        build: the build.
        progress: told how far it is. [-]
        cancelled: asked whether to stop.
    """
    try:
        return paths_of(build)
    except NotSolvedError:
        return None


def paths_of(build: Build) -> tuple[Path, ...]:
    """Every way of a build with everything lit: those of lamps in the order of their outputs, then of chips and boards,
    then from supplies to the rails.

    Args:
        build: the build.

    Raises:
        NotSolvedError: the circuit has no voltages at which every law holds.
    """
    circuit = whole_circuit(build)
    plan = _Plan(circuit)
    found: dict[str, Path] = {}
    first: _Walk | None = None
    channels = {(channel.driver_id, channel.output): channel for channel in build.channels}
    beside = StripsBeside(build)
    for turn in turns_of(build, circuit, beside):
        walk = _Walk(plan, turn)
        first = first or walk
        for output in sorted(turn.lit):
            for ref in channels[output].slots:
                name = lamp_id(ref, channels[output])
                if name in plan.parts:
                    lamp = lamp_of(build, channels[output])
                    called = lamp.piece.place_name(ref.index), lamp.die.name if lamp.die else ""
                    found[name] = walk.lamp(plan.parts[name], *called, output)
    assert first is not None
    order = {(driver.id): number for number, driver in enumerate(build.drivers)}
    lamps = sorted(found.values(), key=lambda path: (order[path.output[0]], path.output[1]) if path.output else (0, 0))
    others = [first.drawing(part) for part in circuit.fitted if part.name not in found and _draws(part, first)]
    rails = [first.rail(end) for end in plan.rails()]
    found_others = (*others, *first.feeds(feeds_a(beside.power)), *rails, *first.returns())
    return (*lamps, *found_others, *first.idle({key for path in (*lamps, *found_others) for key in path.touches}))


def _draws(part: Fitted, walk: _Walk) -> bool:
    """Whether a part is a load by itself: a chip's or a board's own, or a loose lamp."""
    elements = walk.elements(part)
    return len(elements) == 1 and isinstance(elements[0], Load)


class _Plan:
    """What meets at each terminal of a circuit."""

    def __init__(self, circuit: Circuit) -> None:
        self.circuit = circuit
        self.parts = {part.name: part for part in circuit.fitted}
        self.ends: dict[str, End] = {}
        self.rows_at: defaultdict[str, list[Conductor]] = defaultdict(list)
        self.parts_at: defaultdict[str, list[Fitted]] = defaultdict(list)
        self._one = {same.other.node: same.one for same in circuit.same}
        for row in circuit.conductors:
            met = replace(row, start=self.met(row.start), end=self.met(row.end))
            for end in (met.start, met.end):
                self.ends[end.node] = end
                self.rows_at[end.node].append(met)
        for part in circuit.fitted:
            for end in map(self.met, (*part.ends, *part.steered_by)):
                self.ends.setdefault(end.node, end)
            for end in map(self.met, part.ends):
                self.parts_at[end.node].append(part)
        self.ends_of: defaultdict[str, list[End]] = defaultdict(list)
        for end in self.ends.values():
            self.ends_of[end.of].append(end)

    def met(self, end: End) -> End:
        """A terminal, or the one that it is one with inside a part."""
        return self._one.get(end.node, end)

    def rails(self) -> Iterator[End]:
        """Where all that hangs on one voltage meets, each once."""
        yield from (end for end in sorted(self.ends.values(), key=lambda end: end.of) if is_rail(end) and end.of)


def is_rail(end: End) -> bool:
    """Whether a terminal is where all that hangs on one voltage meets, or all returns.

    Args:
        end: the terminal.
    """
    return end == zero_rail() or end.of.startswith((LAMP_RAIL, LOGIC_RAIL))


class _Walk:
    """Ways through a circuit in one still, each wire followed as its current flows."""

    def __init__(self, plan: _Plan, turn: Turn) -> None:
        self._plan, self._still, self._solution = plan, turn.still, turn.solution
        self._drawn: set[str] = set()
        self._elements: dict[str, tuple[Element, ...]] = {}
        ids = (element.id for element in turn.solution.netlist.elements)
        self._flow_a = dict(zip(ids, turn.solution.first_a.tolist(), strict=True))
        self._number = {element.id: number for number, element in enumerate(turn.solution.netlist.elements)}

    def elements(self, part: Fitted) -> tuple[Element, ...]:
        """A part's elements between its terminals."""
        if part.name not in self._elements:
            self._elements[part.name] = tuple(part.law(self._still, lambda end: self._plan.met(end).node))
        return self._elements[part.name]

    def lamp(self, part: Fitted, name: str, colour: str, output: tuple[str, int]) -> Path:
        """The way through a lamp."""
        path = self.drawing(part)
        signs = tuple(
            replace(each, colour=colour, words=(name, *each.words[1:])) if each.owner == part.name else each
            for each in path.signs
        )
        return replace(path, name=name, signs=signs, output=output)

    def drawing(self, part: Fitted) -> Path:
        """The way through something that draws by itself."""
        plus, minus = map(self._plan.met, part.ends[:2])
        own = self._part(part, self.elements(part)[0], plus, minus)
        if not part.name.startswith(LAMP):
            own = replace(own, shape="box", legs=tuple(self._legs(plus.of)))
        signs = [*reversed(self._follow(plus, up=True)), replace(own, owner=part.name), *self._follow(minus, up=False)]
        return self._path(part.name, plus, signs)

    def rail(self, end: End) -> Path:
        """The way from what feeds a rail to it."""
        return self._path(end.of, end, [*reversed(self._follow(end, up=True)), self._stop(end, up=False)])

    def idle(self, touched: AbstractSet[str]) -> Iterator[Path]:
        """The ways to regulators that feed nothing.

        Args:
            touched: what is on any other way.
        """
        for part in self._plan.circuit.fitted:
            stage = self.elements(part)[0]
            if stage.shape.name == "regulator" and part.ends[1].of not in touched:
                out = self._plan.met(part.ends[1])
                nothing = Sign("open", (out.words, "feeds nothing"), owner=out.of)
                yield self._path(out.of, out, [*reversed(self._follow(out, up=True)), self._at(nothing, out, None)])

    def returns(self) -> Iterator[Path]:
        """The ways from where all returns meet back to each source."""
        zero = zero_rail()
        for row in self._plan.rows_at[zero.node]:
            here = row.start.node == zero.node
            away_a = self._flow_a.get(row.key, 0.0) * (1 if here else -1)
            if away_a <= FLOWS_A:
                continue
            other = row.end if here else row.start
            top = replace(self._stop(zero, up=True), shape="rail", words=(zero.on,))
            ended = [self._stop(other, up=False)] if self._stops(other) else self._follow(other, up=False)
            yield self._path(f"{other.of} return", zero, [top, *self._wire(row, zero, other, up=False), *ended])

    def _path(self, key: str, end: End, signs: list[Sign]) -> Path:
        """A way of these signs, with the wires that were drawn since the last one."""
        rows, self._drawn = frozenset(self._drawn), set()
        return Path(key, end.on, tuple(signs), self._touched(signs, end.of), rows)

    def feeds(self, feeds_a: Mapping[str, float]) -> Iterator[Path]:
        """The ways through strips: from a supply by each feed to its place, and back."""
        self._flow_a |= feeds_a
        rows = {row.key: row for row in self._plan.circuit.conductors if row.group == FEEDS}
        for key, row in rows.items():
            back = rows.get(f"{key.removesuffix('/out')}/back")
            if not key.endswith("/out") or back is None:
                continue
            plus_v, zero_v = (self._volts(end) or 0.0 for end in (row.start, back.start))
            lost_v = [abs(self._flow_a.get(each.key, 0.0)) * each.ohm for each in (row, back)]
            strip = Sign("box", (row.end.on, row.end.more), "", row.end.node, back.end.node,
                         plus_v - zero_v - lost_v[0], lost_v[1], row.end.of)  # fmt: skip
            signs = [
                self._stop(row.start, up=True), *self._wire(row, row.start, row.end, up=False), strip,
                *self._wire(back, back.end, back.start, up=False), self._stop(back.start, up=False),
            ]  # fmt: skip
            told = [each if each is strip else replace(each, above_v=None, below_v=None) for each in signs]
            found = self._path(row.end.of, row.end, told)
            yield replace(found, touches=found.touches | {row.start.of})

    def _touched(self, signs: Iterable[Sign], *more: str) -> frozenset[str]:
        found: set[str] = set(more)
        for sign in signs:
            found |= {self._plan.ends[node].of for node in (sign.above, sign.below) if node in self._plan.ends}
            found.add(sign.owner)
            for branch in sign.side:
                found |= self._touched(branch)
        return frozenset(found - {""})

    def _follow(self, end: End, up: bool) -> list[Sign]:
        """Signs from a terminal on, against the current or with it, until a rail, a source or an output."""
        signs: list[Sign] = []
        came = ""
        seen: set[str] = set()
        if self._giving(end) is not None and up:
            return [self._stop(end, up)]
        while end.node not in seen:
            seen.add(end.node)
            row = self._row(end, up, came, flowing=True)
            step = None if row is not None else self._through(end, up)
            if row is None and step is None:
                row = self._row(end, up, came, flowing=False)
            if row is not None:
                other = row.end if row.start.node == end.node else row.start
                signs += self._wire(row, end, other, up)
                came, end = row.key, other
            elif step is not None:
                part, element, other = step
                signs.append(self._part(part, element, *((other, end) if up else (end, other))))
                came, end = part.name, other
            else:
                return [*signs, self._stop(end, up)]
            if self._stops(end):
                return [*signs, self._stop(end, up)]
        return signs

    def _row(self, end: End, up: bool, came: str, flowing: bool) -> Conductor | None:
        """The wire by which most current arrives at a terminal, or leaves it."""

        def along_a(row: Conductor) -> float:
            flow_a: float = self._flow_a.get(row.key, 0.0)
            return flow_a if (row.end.node == end.node) == up else -flow_a

        rows = [row for row in self._plan.rows_at[end.node] if row.key != came and not (row.blocks or row.licensed)]
        if not flowing:
            return rows[0] if rows else None
        best = max(rows, key=along_a, default=None)
        return best if best is not None and along_a(best) > FLOWS_A else None

    def _through(self, end: End, up: bool) -> tuple[Fitted, Element, End] | None:
        """A part that leads on from a terminal, and where to."""
        for part in self._plan.parts_at[end.node]:
            for element in self.elements(part):
                nodes = element.nodes()
                for upper, lower in element.shape.ways:
                    here, there = (nodes[lower], nodes[upper]) if up else (nodes[upper], nodes[lower])
                    if here == end.node:
                        return part, element, self._plan.ends[there]
        return None

    def _giving(self, end: End) -> tuple[Fitted, Element] | None:
        """The output or the source that a terminal belongs to."""
        for part in self._plan.parts_at[end.node]:
            for element in self.elements(part):
                if not element.shape.ways and element.nodes()[0] == end.node:
                    return part, element
        return None

    def _returns(self, end: End) -> bool:
        """Whether a terminal is the zero of a source."""
        elements = (element for part in self._plan.parts_at[end.node] for element in self.elements(part))
        return any(element.shape.name == "supply" and element.nodes()[1] == end.node for element in elements)

    def _stops(self, end: End) -> bool:
        return is_rail(end) or self._giving(end) is not None or self._returns(end)

    def _at(self, sign: Sign, above: End | None, below: End | None) -> Sign:
        """A sign between two terminals, with their volts."""
        upper = (above.node, self._volts(above)) if above is not None else (sign.above, sign.above_v)
        lower = (below.node, self._volts(below)) if below is not None else (sign.below, sign.below_v)
        return replace(sign, above=upper[0], above_v=upper[1], below=lower[0], below_v=lower[1])

    def _stop(self, end: End, up: bool) -> Sign:
        """Where a way ends: 0 V, a rail, an output or a source."""
        return self._at(self._stopping(end, up), None if up else end, end if up else None)

    def _stopping(self, end: End, up: bool) -> Sign:
        if is_rail(end):
            zero = end == zero_rail()
            return Sign("zero" if zero else "rail", ("0 V",) if zero else (end.on,), owner=end.of)
        giving = self._giving(end)
        if giving is None and self._returns(end):
            return Sign("zero", ("0 V",), owner=end.of)
        if giving is None:
            return Sign("open", (end.words, "leads to nothing"), owner=end.of)
        part, element = giving
        number = self._number[element.id]
        carries_a = abs(self._solution.reading(number).current_a)
        element_nodes = self._solution.netlist.elements[number].nodes()
        does = f"{'gives' if up else 'sinks'} {amps(carries_a)}"
        at_v = self._volts(end)
        if element.shape.name == "supply":
            at_v = self._solution.volts(element_nodes[0]) - self._solution.volts(element_nodes[1])
        words = (end.on, end.words.removeprefix(f"{end.on}, "), *_told(at_v), does)
        side = tuple(branch for entry in part.steered_by for branch in self._branches(entry, part))
        return Sign(element.shape.name, words, owner=end.of, side=side)

    def _part(self, part: Fitted, element: Element, upper: End, lower: End) -> Sign:
        shape = element.shape
        steers = [self._plan.ends[element.nodes()[number]] for number in shape.aside] + list(part.steered_by)
        side = tuple(branch for end in steers for branch in self._branches(end, part))
        others = (other for other in self.elements(part) if isinstance(other, Coil) and other is not element)
        for coil in (Sign("coil", self._said(other)) for other in others):
            side = tuple((coil, *branch) for branch in side) or ((coil,),)
        return self._at(Sign(shape.name, (upper.on, *self._said(element)), owner=upper.of, side=side), upper, lower)

    def _said(self, element: Element) -> tuple[str, ...]:
        """What the solution says of an element, in words."""
        number = self._number.get(element.id)
        if number is None:
            return ()
        nodes = self._solution.netlist.elements[number].nodes()
        upper, lower = element.shape.ways[0] if element.shape.ways else (0, -1)
        across_v = self._solution.volts(nodes[upper]) - self._solution.volts(nodes[lower])
        return told_of(self._solution.reading(number), across_v)

    def _wire(self, row: Conductor, near: End, far: End, up: bool) -> list[Sign]:
        """A wire and what lies in it, from the near end to the far one."""
        self._drawn.add(row.key)
        carries_a = abs(self._flow_a.get(row.key, 0.0))
        signs = [_in_line(each, carries_a) for each in row.in_line]
        drop_v = carries_a * row.wire_ohm
        length = (metres(row.cut_m),) if row.cut_m else ()
        told = (", ".join(filter(None, (row.gauge, *length))), engineering(drop_v, "V"))
        signs.append(Sign("wire", told if row.cut_m else ()))
        if near.node != row.start.node:
            signs.reverse()
        for number, end in ((0, near), (-1, far)):
            is_above = (number == 0) != up
            signs[number] = self._at(signs[number], end if is_above else None, None if is_above else end)
        return signs

    def _branches(self, end: End, part: Fitted, came: str = "", deep: int = 0) -> Iterator[tuple[Sign, ...]]:
        """What hangs on a terminal that steers a part: each a row of signs outward."""
        for row in self._plan.rows_at[end.node]:
            if row.key == came or row.blocks or row.licensed or deep > DEEP:
                continue
            self._drawn.add(row.key)
            other = row.end if row.start.node == end.node else row.start
            carries_a = abs(self._flow_a.get(row.key, 0.0))
            signs = tuple(_in_line(each, carries_a) for each in row.in_line)
            if other.on == WORD:
                yield from ((*signs, *more) for more in self._branches(other, part, row.key, deep + 1))
                continue
            if any(other.node == self._plan.met(own).node for own in part.ends):
                yield (*signs, Sign("flag", (f"to the {other.terminal}",), owner=other.of))
                continue
            at_v = self._volts(other)
            name, terminal = other.on, other.words.removeprefix(f"{other.on}, ")
            flag = Sign("flag", (name, *((terminal,) if terminal != name else ()), *_told(at_v)), owner=other.of)
            giving = self._giving(other)
            further = [
                more for entry in (giving[0].steered_by if giving else ())
                for more in self._branches(entry, giving[0], row.key, deep + 1)  # type: ignore[index]
            ]  # fmt: skip
            yield (*signs, flag, *(further[0] if further else ()))

    def _legs(self, of: str) -> Iterator[str]:
        """The wires of a chip or a board beside those that carry its lamps' current, in words."""
        plan = self._plan
        rows = {row.key: (row, end) for end in plan.ends_of[of] for row in plan.rows_at[end.node]}
        for row, end in rows.values():
            self._drawn.add(row.key)
            other = row.end if row.start.node == end.node else row.start
            if other.of == of:
                yield f"{row.through} from {end.terminal} to {other.terminal}"
            elif row.role in ("data", "clock", "latch", "control") and row.group != FEEDS:
                through = f"{row.through}, " if row.through else ""
                leads_to = other.terminal.removeprefix("at ") if other.on == WORD else other.words
                yield f"{end.words.removeprefix(f'{end.on}, ')}: {through}{leads_to}"

    def _volts(self, end: End) -> float | None:
        node = self._plan.circuit.node(end)
        return 0.0 if node == self._solution.netlist.ground else self._solution.node_v.get(node)


def _told(at_v: float | None) -> tuple[str, ...]:
    return () if at_v is None else (volts(at_v),)


def _in_line(each: InLine, carries_a: float) -> Sign:
    """What lies in a wire."""
    if each.blocks:
        return Sign("capacitor", (each.words,))
    if each.drop_v is not None:
        return Sign("diode", (each.words, amps(carries_a)))
    if each.fuse_a is not None:
        return Sign("fuse", (each.words, amps(carries_a)))
    if each.plug_id:
        return Sign("through", (each.words, amps(carries_a)))
    if each.is_resistor:
        return Sign("resistor", (each.words, engineering(carries_a**2 * each.ohm, "W")))
    return Sign("through", (each.words,))
