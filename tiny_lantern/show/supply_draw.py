"""What the show draws from each supply at every tick: strips as solved, driven lamps and coils by their duties."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.battery import RunTime, run_time_over
from tiny_lantern.electrical.driven.contract import ChannelResult
from tiny_lantern.electrical.driven.relay import all_coils
from tiny_lantern.electrical.driven.solution import DriveSolution
from tiny_lantern.electrical.memo import memoised_on, read_only
from tiny_lantern.electrical.network import supply_part
from tiny_lantern.electrical.power_tree import battery_draw, control_of, idle_loads_a
from tiny_lantern.electrical.rails import taken_of_supply
from tiny_lantern.light.colour import channels_from_rgb
from tiny_lantern.model.build import Build, Supply
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.line import Span
from tiny_lantern.model.loose import loose_lamps
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.ways.hold import HoldRail
from tiny_lantern.model.ways.relay import RelayBoard
from tiny_lantern.show.channels import ON_FROM, duties_of_show
from tiny_lantern.show.draw import ShowDraw
from tiny_lantern.show.weave import blocks

Floats = NDArray[np.float64]
LEVELS = 200


def supply_draws_a(
    build: Build, draw: ShowDraw | None, drive: DriveSolution, duties: Mapping[str, Floats] | None = None
) -> dict[str, Floats]:
    """The current of each supply at every tick of the show, by its id; none without a show. (n_ticks,) each [A]

    Args:
        build: the build.
        draw: what its strips draw at every tick, where it has any that can be solved.
        drive: its drivers with everything lit.
        duties: of each driver's channels at every tick, by its id, where they are known, (n_ticks, n_channels). [-]
    """
    if not build.effects:
        return {}
    found = beside_strips_of_show_a(build, drive=drive, duties=duties)
    if draw is None or draw.supply_a.shape[1] != len(build.supplies):
        return found
    return {supply.id: found[supply.id] + draw.supply_a[:, at] for at, supply in enumerate(build.supplies)}


@memoised_on("effects", "scenes", "groups", "pieces", "joints", "buses", "supplies", "feeds", "boards", "rails",
             "channels", "drivers", "parts", "tick_hz", "show_s")  # fmt: skip
def beside_strips_of_show_a(
    build: Build, *, drive: DriveSolution, duties: Mapping[str, Floats] | None = None
) -> dict[str, Floats]:
    """What boards, chips, coils, driven and loose lamps draw from each supply at every tick, by its id. (n_ticks,) each
    [A]

    Args:
        build: the build.
        drive: its drivers with everything lit.
        duties: of each driver's channels at every tick, by its id, where they are known, (n_ticks, n_channels). [-]
    """
    idle_a = idle_loads_a(build, drive)
    found = {supply.id: np.full(build.timeline.count, idle_a[supply.id]) for supply in build.supplies}
    for driver in build.drivers:
        result = drive.by_driver[driver.id]
        if not result.case.channels:
            continue
        own = duties_of_show(build, driver) if duties is None else duties[driver.id]
        _add(found, build, driver.lamps_fed_by, own @ at_full_a(result))
        _add(found, build, driver.parts_fed_by, -(own @ _held_a(result)))
        _add(found, build, FedBy(id=driver.board_id, pin="logic"), own @ control_of(result))
        if isinstance(driver, RelayBoard):
            on = (own >= ON_FROM).sum(axis=1)
            coils_a = np.array([all_coils(result.case, count).total_a for count in range(own.shape[1] + 1)])
            _add(found, build, driver.coils_fed_by, coils_a[on])
    for piece, part in loose_lamps(build):
        _add(found, build, piece.fed_by, _loose_a(build, build.line.span(piece.id), part))
    return {supply_id: read_only(amps) for supply_id, amps in found.items()}


def _add(found: dict[str, Floats], build: Build, fed_by: FedBy | None, drawn_a: Floats) -> None:
    """Add what is drawn at every tick to the supply behind a source, as a share of it where regulators switch. [A]"""
    supply, share = taken_of_supply(build, fed_by)
    if supply in found:
        found[supply] += drawn_a * share


def _loose_a(build: Build, span: Span, part: LampPart) -> Floats:
    """What loose addressable lamps draw at every tick, a white die what the three colours have in common. (n_ticks,)"""
    names, full_a = tuple(die.name for die in part.dies), np.array([die.test_a for die in part.dies])
    frames = (block for _, block in blocks(build, slots=np.arange(span.first, span.stop)))
    return np.concatenate([channels_from_rgb(block / 255.0, names).sum(axis=1) @ full_a for block in frames])


def at_full_a(result: ChannelResult) -> Floats:
    """What each channel draws on average at full duty. (n_channels,) [A]

    Args:
        result: the driver with everything lit.
    """
    full = result.case.duties
    return np.divide(result.average_a, full, out=np.zeros_like(result.average_a), where=full > 0)


def _held_a(result: ChannelResult) -> Floats:
    """What each channel draws while it is dark, which is counted as always there. (n_channels,) [A]"""
    driver = result.case.driver
    held = driver.hold_lamp_a / driver.full_lamp_a if isinstance(driver, HoldRail) else 0.0
    return result.on_a * held


def battery_life(build: Build, supply: Supply, drawn_a: Floats) -> RunTime | None:
    """How long a supply's battery plays the show again and again; None where it has none or nothing is drawn.

    Args:
        build: the build.
        supply: the supply.
        drawn_a: what it gives at every tick, (n_ticks,). [A]
    """
    part = supply_part(build, supply.id)
    if part.cells is None or not (drawn_a > 0).any():
        return None
    levels, weights = _levels(drawn_a)
    draws = [battery_draw(part, supply.set_v, amps) for amps in levels]
    return run_time_over(part.cells, draws, weights)


def lives(build: Build, drawn: Mapping[str, Floats]) -> dict[str, RunTime]:
    """How long each battery plays the show, by its supply.

    Args:
        build: the build.
        drawn: what each supply gives at every tick, by its id, (n_ticks,) each. [A]
    """
    known = {s.id: battery_life(build, s, drawn[s.id]) for s in build.supplies if s.id in drawn}
    return {supply_id: life for supply_id, life in known.items() if life is not None}


def _levels(drawn_a: Floats) -> tuple[list[float], Floats]:
    """The currents of a show told by a few, the largest among them, and how many ticks each of them stands for."""
    top_a = float(drawn_a.max())
    at = np.where(drawn_a == top_a, LEVELS, np.minimum(drawn_a / top_a * LEVELS, LEVELS - 1).astype(np.int64))
    counts = np.bincount(at, minlength=LEVELS + 1)
    sums = np.bincount(at, drawn_a, minlength=LEVELS + 1)
    used = counts > 0
    return (sums[used] / counts[used]).tolist(), counts[used].astype(float)
