"""The rails that a build is wired on: returns, the logic of each board, and each voltage that lamps hang on."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from tiny_lantern.circuit.conductor import COMMONS, LAST, MANY, SCREW, Conductor, End
from tiny_lantern.circuit.elements.sources import Supply as SupplyElement
from tiny_lantern.circuit.fitted import Fitted
from tiny_lantern.electrical.network import supply_part
from tiny_lantern.electrical.power_tree import Source, source_for
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Board
from tiny_lantern.model.parts.regulator import RegulatorPart
from tiny_lantern.model.rail import Rail

LAMP_RAIL = "lamp rail "


def zero_rail() -> End:
    """Where all returns meet."""
    return End("0 V rail", "", takes=MANY)


def logic_rail(build: Build, board: Board) -> End:
    """The rail of what a board's pins give; with several boards each has its own."""
    name = "logic rail" if len(build.boards) < 2 else f"{board.name} logic rail"
    return End(name, "+", of=f"logic rail {board.id}", takes=MANY)


def lamp_rail(build: Build, board: Board | None, volts: float) -> End:
    """The rail of a voltage, fed by what feeds the board where its voltage fits, else by the first source that does.

    Args:
        build: the build.
        board: the board of what hangs on it, where there is one.
        volts: the voltage. [V]
    """
    source = source_for(build, board, volts)
    name = f"{volts:g} V lamp rail"
    if source is not None and _several(build, volts):
        name += f" of {source.name}"
    return End(name, "", of=f"{LAMP_RAIL}{volts:g} {source.id if source is not None else ''}", takes=MANY)


def _several(build: Build, volts: float) -> bool:
    """Whether boards of a build take a voltage from unlike sources."""
    return len({id(source_for(build, board, volts)) for board in build.boards}) > 1


@dataclass(frozen=True)
class FedRail:
    """A lamp rail that is used, with what feeds it; None where no source of the build has its voltage."""

    end: End
    volts: float
    source: Source | None


def fed_rails(build: Build, ends: Iterable[End]) -> list[FedRail]:
    """The lamp rails among some ends, each once.

    Args:
        build: the build.
        ends: the ends of conductors.
    """
    every: tuple[Source, ...] = (*build.supplies, *build.rails)
    sources = {each.id: each for each in every}
    found: dict[str, FedRail] = {}
    for end in ends:
        if end.of.startswith(LAMP_RAIL) and end.of not in found:
            volts, source_id = end.of.removeprefix(LAMP_RAIL).split(" ", 1)
            found[end.of] = FedRail(end, float(volts), sources.get(source_id))
    return [found[key] for key in sorted(found)]


def source_end(build: Build, source: Source, terminal: str) -> End:
    """A terminal of a supply, or of the regulator of a rail; its plus gives what a supply gives until its limit, or
    what a regulator bears.

    Args:
        build: the build.
        source: the supply or the rail.
        terminal: which terminal.
    """
    gives = terminal == "+"
    if isinstance(source, Rail):
        most_a = build.shelf.find(RegulatorPart, source.regulator_id).most_a if gives else 0.0
        name = f"{source.name} regulator"
        return End(name, "out" if gives else terminal, of=source.id, gives_a=most_a)
    fault_a = supply_part(build, source.id).fault_a if gives else 0.0
    return End(source.name, terminal, of=source.id, takes=SCREW, gives_a=fault_a)


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
