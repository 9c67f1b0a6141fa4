"""Rules on what feeds lamps at all."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial

from tiny_lantern.electrical.loose import fully_lit_a
from tiny_lantern.electrical.power_tree import Hanging
from tiny_lantern.electrical.supplies import supply_for
from tiny_lantern.findings.driven import at_driver, one_step
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import Edit
from tiny_lantern.model.edits_sources import hang_on, wanted_v
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.loose import NOMINAL_V, loose_lamps
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.place import Place
from tiny_lantern.model.quantities import amps, volts
from tiny_lantern.model.sources import ALIKE_V, Source, every_source, source_of
from tiny_lantern.model.strip import PixelRun
from tiny_lantern.plans.sources import ways_to_get, with_supplies

BOARD_V = 5.0
HAIR_A = 1e-9
COILS = "coils_fed_by"
WORDS = {"chips_fed_by": "its chips", "full_fed_by": "full", COILS: "its coils"}


@rule("no-source", "{n} builds have lamps and nothing that feeds them")
def no_source(evidence: Evidence) -> Iterator[Finding]:
    """Lamps in a build that has no supply: what they and their boards draw is counted nowhere."""
    build = evidence.build
    lamps = [piece for piece in build.pieces if not isinstance(piece, PixelRun)]
    if not lamps or build.supplies:
        return
    needed = _needed_a(evidence)
    drawn = ", ".join(f"{amps(needed[at_v])} at {at_v:g} V" for at_v in sorted(needed))
    supplies = [supply_for(at_v, needed[at_v]) for at_v in sorted(needed)]
    fix = () if None in supplies else (
        Fix("Add " + " and ".join(f"a {at_v:g} V supply" for at_v in sorted(needed)),
            partial(with_supplies, needed_a=tuple(sorted(needed.items())))),
    )  # fmt: skip
    yield Finding(
        Severity.WEAK_SPOT, "no-source", Place.on("pieces", lamps[0].id),
        "Nothing feeds these lamps yet",
        f"All lit, lamps and boards draw {drawn}, and the build has no supply: neither its load nor its wires are "
        "counted. A board that a computer feeds gives no more than that computer's socket may.",
        one_step("Drawn with everything lit", "I = Σ I_lamp at each voltage", f"{len(build.channels)} channels", drawn),
        fix,
    )  # fmt: skip


def _needed_a(evidence: Evidence) -> dict[float, float]:
    """What is wanted at each voltage with everything lit, by boards, chips and coils at that of the boards. [A]"""
    drive = evidence.drive
    found = {BOARD_V: sum(board.own_a for board in drive.boards.values())}
    found[BOARD_V] += sum(result.logic_a for result in drive.by_driver.values())
    for result in drive.by_driver.values():
        wanted = wanted_v(evidence.build, result.case.driver)
        at_v = wanted.get(result.case.driver.lamps_on, BOARD_V)
        found[at_v] = found.get(at_v, 0.0) + result.lamp_a
    return found


@dataclass(frozen=True)
class Wants:
    """Something that wants a voltage: the field of a driver or of loose lamps that names what feeds it, how it is
    called, the voltage, and what it draws at most. [V] [A]"""

    field: str
    thing_id: str
    name: str
    volts: float
    fed_by: FedBy | None
    place: Place
    drawn_a: float


def _wants(evidence: Evidence) -> Iterator[Wants]:
    build = evidence.build
    for driver in build.drivers:
        drawn = {driver.lamps_on: evidence.drive.by_driver[driver.id].lamp_a}
        for field, at_v in wanted_v(build, driver).items():
            name = driver.name if field in ("fed_by", "load_fed_by") else f"{driver.name}, {WORDS[field]}"
            yield Wants(
                field, driver.id, name, at_v, getattr(driver, field), at_driver(build, driver), drawn.get(field, 0.0)
            )
    for piece, part in loose_lamps(build):
        drawn_a, place = fully_lit_a(piece, part), Place.at(piece.id, 0)
        yield Wants("fed_by", piece.id, piece.name, NOMINAL_V, piece.fed_by, place, drawn_a)


@rule("no-voltage", "{n} things want a voltage that nothing here gives them")
def no_voltage(evidence: Evidence) -> Iterator[Finding]:
    """Lamps, chips or coils that name no source, in a build that has some: they stay dark."""
    if not evidence.build.supplies:
        return
    for each in _wants(evidence):
        if each.fed_by is None:
            fitting = [source for source in every_source(evidence.build) if abs(source.volts - each.volts) <= ALIKE_V]
            tries = [Fix(f"Feed it from {source.name}", _hang(each, source)) for source in fitting]
            tries += [Fix(words, edit) for words, edit in ways_to_get(evidence.build, each.volts, each.drawn_a)]
            yield Finding(
                Severity.WONT_WORK, "no-voltage", each.place,
                f"Nothing feeds {each.name}: it wants {volts(each.volts)}",
                f"All lit it draws {amps(each.drawn_a)}, and no source is named for it. It stays dark, and is counted "
                "in no load.",
                one_step("Wanted", "V of a source that is not named", f"{each.volts:g} V", volts(each.volts)),
                tuple(tries),
            )  # fmt: skip


@rule("source-voltage", "{n} things hang on a source of another voltage")
def source_voltage(evidence: Evidence) -> Iterator[Finding]:
    """Lamps, chips or coils on a source that gives more, or less, than they are made for or planned with."""
    for each in _wants(evidence):
        source = source_of(evidence.build, each.fed_by)
        if source is None or each.field == COILS or abs(source.volts - each.volts) <= ALIKE_V:
            continue
        over_v = source.volts - each.volts
        others = (other for other in every_source(evidence.build) if abs(other.volts - each.volts) <= ALIKE_V)
        tries = [Fix(f"Feed it from {other.name}", _hang(each, other)) for other in others]
        if each.thing_id in {driver.id for driver in evidence.build.drivers}:
            tries.append(Fix(f"Plan it with {volts(source.volts)}", _hang(each, source)))
        more = f"{volts(abs(over_v))} too {'much' if over_v > 0 else 'little'}"
        yield Finding(
            Severity.DANGER if over_v > 0 else Severity.WONT_WORK, "source-voltage", each.place,
            f"{each.name} is planned with {volts(each.volts)} and gets {volts(source.volts)}",
            f"{source.name} gives {more}: {'chips and lamps may die of it' if over_v > 0 else 'it is dim, or dark'}.",
            one_step("Difference", "V_source - V_planned", f"{source.volts:g} - {each.volts:g}", volts(over_v)),
            tuple(tries),
        )  # fmt: skip


def _hang(each: Wants, source: Source) -> Edit:
    return partial(hang_on, field=each.field, thing_id=each.thing_id, fed_by=source.fed_by)


@rule("board-gives", "{n} boards give more than they may")
def board_gives(evidence: Evidence) -> Iterator[Finding]:
    """What hangs on a board's own pins of supply, or on the cable that loads its program, beyond what that bears."""
    build, hanging = evidence.build, Hanging(evidence.build, evidence.drive)
    for board in build.boards:
        part = build.shelf.find(BoardPart, board.part_id)
        logic_a, taken_a = hanging.given_a(FedBy(id=board.id, pin="logic"))[1], hanging.board_a(board)[1]
        told = [("its regulator", logic_a, part.logic_a)] if _makes(build, board.id) else []
        told += [("its cable", taken_a, part.cable_a)] if board.fed_by is None else []
        for what, drawn_a, most_a in told:
            over_a = drawn_a - most_a
            if over_a > HAIR_A:
                yield Finding(
                    Severity.WONT_WORK, "board-gives", Place.on("boards", board.id),
                    f"{board.name}: {amps(drawn_a)} through {what}, which bears {amps(most_a)}",
                    f"{amps(over_a)} too much: it gets hot, or shuts down. Feed the lamps from a supply.",
                    one_step("Drawn", "I = Σ I of what hangs on it", "all lit", amps(drawn_a)),
                    (Fix("Add a supply for it", partial(with_supplies, needed_a=((BOARD_V, taken_a),))),)
                    if board.fed_by is None else (),
                )  # fmt: skip


def _makes(build: Build, board_id: str) -> bool:
    """Whether a board makes its pins' voltage itself."""
    outlets = [source.volts for source in every_source(build) if source.id == board_id]
    return abs(outlets[0] - outlets[1]) > ALIKE_V
