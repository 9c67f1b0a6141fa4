"""The rule on what the first pixel takes for a high."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial

from tiny_lantern.electrical.data_level import HOPELESS_SHARE, NEEDED_SHARE
from tiny_lantern.electrical.network import part_of
from tiny_lantern.findings.driven import one_step
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, Supply
from tiny_lantern.model.data_lines import first_on_lines
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_power import change_supply
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.loose import NOMINAL_V
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.place import Place, Ref
from tiny_lantern.model.quantities import volts
from tiny_lantern.model.sources import ALIKE_V, source_of
from tiny_lantern.model.strip import PixelRun

OWN_SUPPLY_V = 6.0  # pixels of strips above it make their own five volts
DARK_V = 0.5
HAIR_V = 1e-9


@rule("data-high", "{n} first pixels may not take the board's high for one")
def data_high(evidence: Evidence) -> Iterator[Finding]:
    """A board's high below seven tenths of the first pixel's own voltage often works, and sometimes does not; below
    half it never does."""
    build = evidence.build
    if build.data.shifted:
        return
    for board in build.boards:
        logic_v = build.shelf.find(BoardPart, board.part_id).logic_v
        for first in _first_pixels(evidence, board.id):
            piece, pixel_v, high_v = first.piece, first.own_v, logic_v - first.lifted_v
            needed_v = NEEDED_SHARE * pixel_v
            if high_v > needed_v + HAIR_V:
                continue
            hopeless = high_v < HOPELESS_SHARE * pixel_v
            yield Finding(
                Severity.WONT_WORK if hopeless else Severity.WEAK_SPOT, "data-high",
                Place.at(piece.id, 0, Ref("boards", board.id)),
                f"{board.name}'s high {'is none' if hopeless else 'is low'} for {piece.name}",
                f"The first pixel stands at {volts(pixel_v)} and takes {volts(needed_v)} for a high; {volts(high_v)} "
                f"reach it, {needed_v - high_v:.2f} V too little. A level shifter, a first pixel fed through a diode, "
                "or a lower supply.",
                one_step("High level", "V_IH = 0.7 · V_DD", f"0.7 · {volts(pixel_v)}", volts(needed_v)),
                (Fix("A level shifter", _shifted), *_lower(build, first, high_v / NEEDED_SHARE - pixel_v)),
            )  # fmt: skip


@dataclass(frozen=True)
class _FirstPixel:
    """The first pixel of a piece: its own voltage, how far its return is lifted, the supplies that feed it, and the
    least that those may be set to so that they still do."""

    piece: Piece
    own_v: float
    lifted_v: float
    supply_ids: frozenset[str]
    least_v: float = HAIR_V


def _first_pixels(evidence: Evidence, board_id: str) -> Iterator[_FirstPixel]:
    """Those that hang on an output of the board: of strips as solved, of loose lamps as their supply is set."""
    build, solved = evidence.build, evidence.solved
    for piece in first_on_lines(build)[board_id]:
        if isinstance(piece, PixelRun):
            run = solved.runs.get(piece.id) if solved is not None else None
            if run is not None and run.pixel_v[0] >= DARK_V and part_of(build, piece).nominal_v <= OWN_SUPPLY_V:
                ids = {feed.supply_id for feed in build.feeds if getattr(feed.attach, "strip_id", "") == piece.id}
                yield _FirstPixel(piece, float(run.pixel_v[0]), float(run.rail_neg_v[1]), frozenset(ids))
        elif isinstance(piece, LampGroup) and (source := source_of(build, piece.fed_by)) is not None:
            ids = {source.id} if isinstance(source.thing, Supply) else set()
            yield _FirstPixel(piece, source.volts, 0.0, frozenset(ids), NOMINAL_V - ALIKE_V)


def _shifted(build: Build) -> Build:
    return change_build(build, data=revise(build.data, shifted=True))


def _lower(build: Build, first: _FirstPixel, by_v: float) -> tuple[Fix, ...]:
    """The supply set lower, where one alone feeds it and still would."""
    if len(first.supply_ids) != 1:
        return ()
    supply = next(supply for supply in build.supplies if supply.id in first.supply_ids)
    set_v = int((supply.set_v + by_v) * 20) / 20
    if set_v < first.least_v:
        return ()
    return (Fix(f"Set {supply.name} to {volts(set_v)}", partial(change_supply, supply_id=supply.id, set_v=set_v)),)
