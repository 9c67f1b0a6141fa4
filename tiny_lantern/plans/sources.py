"""Sources that a build lacks: supplies and rails of the voltages that are wanted, with what hangs on them."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from tiny_lantern.catalogue.shelf import all_parts
from tiny_lantern.electrical.supplies import supply_for
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import Edit
from tiny_lantern.model.edits_drive import add_rail, feed_board
from tiny_lantern.model.edits_power import add_supply
from tiny_lantern.model.parts.regulator import RegulatorPart
from tiny_lantern.model.sources import USB_V, Source, every_source

STEP_DOWN, STEP_UP = "step-down-3a", "step-up-2a"


def with_supplies(build: Build, needed_a: tuple[tuple[float, float], ...]) -> Build:
    """The build with a supply for each voltage, boards that have only their cable on the first of theirs.

    Args:
        build: the build.
        needed_a: each voltage [V] with what is wanted at it [A].
    """
    for volts, amount_a in needed_a:
        part = supply_for(volts, amount_a)
        if part is None:
            continue
        build = add_supply(build, part)
        if volts == USB_V:
            for board in build.boards:
                if board.fed_by is None:
                    build = feed_board(build, board.id, build.supplies[-1].id)
    return build


def ways_to_get(build: Build, volts: float, needed_a: float) -> Iterator[tuple[str, Edit]]:
    """Ways to have a voltage that a build lacks, each in words: a supply of it, else a converter on what there is.

    Args:
        build: the build.
        volts: the voltage. [V]
        needed_a: what is wanted at it. [A]
    """
    supply = supply_for(volts, needed_a)
    if supply is not None:
        yield f"Add a {volts:g} V supply", partial(with_supplies, needed_a=((volts, needed_a),))
    for source in every_source(build):
        part = _converter(build, source, volts, needed_a)
        if part is not None and source.fed_by.pin is None:
            words = f"Make {volts:g} V of {source.name} with a {part.sort.replace('_', '-')}"
            yield words, partial(add_rail, part=part, supply_id=source.id, target_v=volts)


def _converter(build: Build, source: Source, volts: float, needed_a: float) -> RegulatorPart | None:
    """What makes a voltage of a source, where one may."""
    up = volts > source.volts
    part = all_parts(build).find(RegulatorPart, STEP_UP if up else STEP_DOWN)
    fed = source.volts >= (part.least_in_v if up else volts + part.dropout_v)
    return part if fed and part.least_v <= volts <= part.most_v and needed_a <= part.most_a else None
