"""Rules on what feeds lamps at all."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from tiny_lantern.electrical.supplies import supply_for
from tiny_lantern.findings.driven import one_step
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_drive import feed_board
from tiny_lantern.model.edits_power import add_supply
from tiny_lantern.model.place import Place
from tiny_lantern.model.quantities import amps
from tiny_lantern.model.strip import PixelRun

BOARD_V = 5.0


@rule("no-source", "{n} builds have lamps and nothing that feeds them")
def no_source(evidence: Evidence) -> Iterator[Finding]:
    """Lamps in a build that has no supply: what they and their boards draw is counted nowhere."""
    build = evidence.build
    lamps = [piece for piece in build.pieces if not isinstance(piece, PixelRun)]
    if not lamps or build.supplies:
        return
    needed = _needed_a(evidence)
    drawn = ", ".join(f"{amps(needed[volts])} at {volts:g} V" for volts in sorted(needed))
    supplies = [supply_for(volts, needed[volts]) for volts in sorted(needed)]
    fix = () if None in supplies else (
        Fix("Add " + " and ".join(f"a {volts:g} V supply" for volts in sorted(needed)),
            partial(with_supplies, needed_a=tuple(sorted(needed.items())))),
    )  # fmt: skip
    yield Finding(
        Severity.WEAK_SPOT, "no-source", Place.on("pieces", lamps[0].id),
        "Nothing feeds these lamps yet",
        f"All lit they draw {drawn}, and the build has no supply: neither its load nor its wires are counted. A board "
        "that a computer feeds gives no more than that computer's socket may.",
        one_step("Drawn with everything lit", "I = Σ I_lamp at each voltage", f"{len(build.channels)} channels", drawn),
        fix,
    )  # fmt: skip


def _needed_a(evidence: Evidence) -> dict[float, float]:
    """What is wanted at each voltage with everything lit, at that of the boards too. [A]"""
    found = {BOARD_V: 0.0}
    for result in evidence.drive.by_driver.values():
        volts = float(getattr(result.case.driver, "led_v", getattr(result.case.driver, "full_v", BOARD_V)))
        found[volts] = found.get(volts, 0.0) + result.lamp_a
    return found


def with_supplies(build: Build, needed_a: tuple[tuple[float, float], ...]) -> Build:
    """The build with a supply for each voltage, its boards on the first of theirs.

    Args:
        build: the build.
        needed_a: each voltage [V] with what is wanted at it [A].
    """
    for volts, amount_a in needed_a:
        part = supply_for(volts, amount_a)
        if part is None:
            continue
        build = add_supply(build, part)
        if volts == BOARD_V:
            for board in build.boards:
                if board.supply_id is None and board.rail_id is None:
                    build = feed_board(build, board.id, build.supplies[-1].id)
    return build
