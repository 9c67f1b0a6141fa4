"""Which resistor a channel wants in each way to drive: by what it is to carry, from a series or from the drawer."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from tiny_lantern.catalogue.drawer import Drawer
from tiny_lantern.electrical.driven.contract import Case
from tiny_lantern.electrical.driven.scanned import scan_of
from tiny_lantern.electrical.driven.solution import source_of
from tiny_lantern.electrical.lamp.led import LedString
from tiny_lantern.electrical.lamp.loop import Choice, Fit, Loop, choose, fit
from tiny_lantern.model.parts.part import Shelf
from tiny_lantern.model.parts.resistor import ResistorPart
from tiny_lantern.model.ways.scanned import Scanned

SUPPLY_TOLERANCE, RESISTOR_TOLERANCE = 0.05, 0.05


def loop_of(case: Case, at: int) -> Loop | None:
    """The loop of a channel without its resistor, its lamps that lie side by side as one; None where no resistor sets
    its current.

    Args:
        case: the driver with its channels.
        at: which channel, by its place. [-]
    """
    lamp = case.lamps[at]
    source = source_of(case)
    if source is None or lamp.as_one is None:
        return None
    spread_v = lamp.die.spread_v if lamp.die is not None else 0.0
    several = lamp.own_resistors  # each with the output's resistance as if it were so many times as much
    string = LedString((lamp.as_one if several == 1 or lamp.led is None else lamp.led,))
    return Loop(source.voltage_v, source.output_ohm * several, string, SUPPLY_TOLERANCE, spread_v, RESISTOR_TOLERANCE)


def asked_a(case: Case, at: int) -> float:
    """The current that a channel's loop is to carry while it is lit. [A]

    Args:
        case: the driver with its channels.
        at: which channel, by its place. [-]
    """
    wanted_a = case.channels[at].wanted_a
    if isinstance(case.driver, Scanned):
        return scan_of(case).peak_for(wanted_a, case.driver.rows)
    return own_share_a(case, at, wanted_a)


def own_share_a(case: Case, at: int, current_a: float) -> float:
    """What of a channel's current passes each of its resistors. [A]

    Args:
        case: the driver with its channels.
        at: which channel, by its place. [-]
        current_a: the current of the channel. [A]
    """
    return current_a / case.lamps[at].own_resistors


def choice_of(case: Case, at: int) -> Choice | None:
    """Which resistors a channel might have; None where none sets its current.

    Args:
        case: the driver with its channels.
        at: which channel, by its place. [-]
    """
    loop = loop_of(case, at)
    return choose(loop, asked_a(case, at)) if loop is not None else None


def chosen_ohm(case: Case, at: int) -> float | None:
    """The resistor to fit by default: the series of twelve, rounded up for safety; None where none is needed or none
    would do. [ohm]

    Args:
        case: the driver with its channels.
        at: which channel, by its place. [-]
    """
    lamp = case.lamps[at]
    if not lamp.needs_resistor or isinstance(case.driver, Scanned):
        return None
    choice = choice_of(case, at)
    return choice.series["e12"].up if choice is not None and choice.series is not None else None


@dataclass(frozen=True)
class Merged:
    """One value for several channels, and how far each current is then from what was wanted, as a share."""

    resistor_ohm: float
    least: float
    most: float


def merged(loops: Sequence[tuple[Loop, float]]) -> Merged | None:
    """One resistor of the series of twelve for several loops: the value whose worst current is nearest to what was
    wanted; None where some loop takes none.

    Args:
        loops: each loop with its wanted current. [A]
    """
    choices = [choose(loop, wanted_a) for loop, wanted_a in loops]
    values = sorted(
        {side for choice in choices if choice.series for side in (choice.series["e12"].up, choice.series["e12"].below)}
    )
    if not values or any(choice.series is None for choice in choices):
        return None

    def off(ohm: float) -> list[float]:
        return [fit(loop, ohm).current_a / wanted_a - 1 for loop, wanted_a in loops]

    best = min(values, key=lambda ohm: max(abs(each) for each in off(ohm)))
    return Merged(best, min(off(best)), max(off(best)))


@dataclass(frozen=True)
class FromDrawer:
    """A resistor that is owned, or two of them in a row or side by side, and what the loop does with it."""

    parts: tuple[ResistorPart, ...]
    side_by_side: bool
    fit: Fit
    off: float
    hot: bool


def from_drawer(loop: Loop, wanted_a: float, drawer: Drawer, known: Shelf, most: int = 3) -> list[FromDrawer]:
    """What the resistors that are owned can do for a loop, the nearest current first.

    Args:
        loop: the loop.
        wanted_a: the current wanted. [A]
        drawer: what is owned.
        known: the parts that there are.
        most: how many to name. [-]
    """
    owned = [part for part in known.of(ResistorPart) if drawer.stock_of(part.id).owned >= 1]
    found = [_substitute(loop, wanted_a, parts, side) for parts, side in _pairs(owned, drawer)]
    return sorted(
        (each for each in found if each.fit.current_a > 0), key=lambda each: (abs(each.off), len(each.parts))
    )[:most]


def _pairs(owned: Sequence[ResistorPart], drawer: Drawer) -> Iterable[tuple[tuple[ResistorPart, ...], bool]]:
    for at, one in enumerate(owned):
        yield (one,), False
        for other in owned[at:]:
            if other is not one or drawer.stock_of(one.id).owned >= 2:
                yield (one, other), False
                yield (one, other), True


def _substitute(loop: Loop, wanted_a: float, parts: tuple[ResistorPart, ...], side_by_side: bool) -> FromDrawer:
    values = [part.value_ohm for part in parts]
    ohm = 1 / sum(1 / value for value in values) if side_by_side else sum(values)
    solved = fit(loop, ohm)
    shares = [ohm / value if side_by_side else value / ohm for value in values]
    hot = any(part.rating_w < solved.rating_w * share for part, share in zip(parts, shares, strict=True))
    return FromDrawer(parts, side_by_side, solved, solved.current_a / wanted_a - 1, hot)
