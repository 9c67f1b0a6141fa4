"""The rails that a build is wired on: returns, the logic of each board, and each voltage that lamps hang on."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from tiny_lantern.circuit.conductor import COMMONS, LAST, MANY, SCREW, Conductor, End
from tiny_lantern.circuit.elements.sources import Supply as SupplyElement
from tiny_lantern.circuit.fitted import Fitted
from tiny_lantern.electrical.network import supply_part
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Board
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.regulator import RegulatorPart
from tiny_lantern.model.rail import Rail
from tiny_lantern.model.sources import Source, every_source, source_of

LAMP_RAIL, LOGIC_RAIL = "lamp rail ", "logic rail "


def zero_rail() -> End:
    """Where all returns meet."""
    return End("0 V rail", "", takes=MANY)


def logic_rail(build: Build, board: Board) -> End:
    """The rail of what a board's pins give; with several boards each has its own."""
    name = "logic rail" if len(build.boards) < 2 else f"{board.name} logic rail"
    return End(name, "+", of=f"{LOGIC_RAIL}{board.id}", takes=MANY)


def lamp_rail(build: Build, fed_by: FedBy | None, volts: float) -> End:
    """The rail of a source; the rail of the pins where a board's own voltage feeds.

    Args:
        build: the build.
        fed_by: the source; None where none is named.
        volts: the voltage that is wanted, which names the rail of a source that is not there yet. [V]
    """
    source = source_of(build, fed_by)
    if source is None:
        return End(f"{volts:g} V lamp rail", "", of=f"{LAMP_RAIL}{volts:g} ", takes=MANY)
    if isinstance(source.thing, Board):
        if source.fed_by.pin == "logic":
            return logic_rail(build, source.thing)
        return End(f"{source.name} rail", "", of=f"{LAMP_RAIL}{source.volts:g} {source.id}", takes=MANY)
    name = f"{source.volts:g} V lamp rail"
    if _several(build, source):
        name += f" of {source.name}"
    return End(name, "", of=f"{LAMP_RAIL}{source.volts:g} {source.id}", takes=MANY)


def _several(build: Build, source: Source) -> bool:
    """Whether a build has several supplies and rails of a voltage."""
    gives = [*(supply.set_v for supply in build.supplies), *(rail.target_v for rail in build.rails)]
    return sum(f"{volts:g}" == f"{source.volts:g}" for volts in gives) > 1


@dataclass(frozen=True)
class FedRail:
    """A lamp rail that is used, with what feeds it; None where nothing in the build does."""

    end: End
    volts: float
    source: Source | None


def fed_rails(build: Build, ends: Iterable[End]) -> list[FedRail]:
    """The lamp rails among some ends, each once.

    Args:
        build: the build.
        ends: the ends of conductors.
    """
    sources = {each.id: each for each in every_source(build) if each.fed_by.pin != "logic"}
    found: dict[str, FedRail] = {}
    for end in ends:
        if end.of.startswith(LAMP_RAIL) and end.of not in found:
            volts, source_id = end.of.removeprefix(LAMP_RAIL).split(" ", 1)
            found[end.of] = FedRail(end, float(volts), sources.get(source_id))
    return [found[key] for key in sorted(found)]


def source_end(build: Build, source: Source, terminal: str) -> End:
    """A terminal of a source: of a supply, of the regulator of a rail, of a board that gives at a pin. Its plus gives
    what a supply gives until its limit, what a regulator bears, or what a board may give.

    Args:
        build: the build.
        source: the source.
        terminal: ``+``, ``0 V``, or ``in`` of a regulator.
    """
    gives, thing = terminal == "+", source.thing
    if isinstance(thing, Rail):
        part = build.shelf.find(RegulatorPart, thing.regulator_id)
        name, most_a = f"{thing.name} regulator", (part.peak_a or part.most_a) if gives else 0.0
        return End(name, "out" if gives else terminal, of=thing.id, gives_a=most_a)
    if isinstance(thing, Board):
        board = build.shelf.find(BoardPart, thing.part_id)
        if not gives:
            return zero_end(thing)
        if source.fed_by.pin == "logic":
            return logic_end(thing, board)
        return supply_end(thing)
    fault_a = supply_part(build, source.id).fault_a if gives else 0.0
    return End(thing.name, terminal, of=thing.id, takes=SCREW, gives_a=fault_a)


def supply_end(board: Board) -> End:
    """Where a board is fed, and gives on what it is fed with."""
    return End(board.name, "supply", of=board.id)


def zero_end(board: Board) -> End:
    """A board's zero."""
    return End(board.name, "0 V", of=board.id, takes=SCREW)


def logic_end(board: Board, part: BoardPart) -> End:
    """What a board gives beside its pins: their high level."""
    return End(board.name, f"{part.logic_v:g} V", of=board.id)


def rail_wires(build: Build, rails: Iterable[FedRail]) -> Iterator[Conductor | Fitted]:
    """From what feeds each rail to it; a voltage that no source of the build has comes from a supply that is not there
    yet, and may give whatever is asked.

    Args:
        build: the build.
        rails: the rails.
    """
    keys: set[str] = set()
    for rail in rails:
        key = f"rail/{rail.volts:g}"
        if key in keys and rail.source is not None:
            key += f"/{rail.source.id}"
        keys.add(key)
        if rail.source is not None:
            plus = source_end(build, rail.source, "+")
            yield Conductor(key, LAST, plus, rail.end, role="lamp supply")
            continue
        name = f"{rail.volts:g} V supply"
        plus, zero = End(name, "+", takes=SCREW, gives_a=float("inf")), End(name, "0 V", takes=SCREW)
        yield Conductor(key, LAST, plus, rail.end, role="lamp supply")
        yield Conductor(f"{key}/0v", COMMONS, zero, zero_rail(), role="return")
        yield stiff(name, plus, zero, rail.volts)


def stiff(name: str, plus: End, zero: End, volts: float) -> Fitted:
    """A source that holds its voltage whatever it gives.

    Args:
        name: its name in the circuit.
        plus: its plus.
        zero: its zero.
        volts: the voltage. [V]
    """
    return Fitted(name, (plus, zero), lambda _, at: (SupplyElement(name, at(plus), at(zero), volts, 0.0),))
