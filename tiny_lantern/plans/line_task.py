"""From a build to the task of feeding one of its lines: joined strips, the supplies that may feed them, the limits."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.electrical.feed.judge import Limits as FeedLimits
from tiny_lantern.electrical.feed.judge import Task
from tiny_lantern.electrical.feed.ladder import Draw, Ladder
from tiny_lantern.electrical.fuses import FUSE_SHARE
from tiny_lantern.electrical.laws import linear_above_v, ramps_of
from tiny_lantern.electrical.network import part_of, supply_part
from tiny_lantern.electrical.ohms import fittings_ohm, gap_ohm, joint_ohm
from tiny_lantern.electrical.power_tree import lamp_loads_a
from tiny_lantern.electrical.supplies import allowed_share
from tiny_lantern.light.seen import least_voltage
from tiny_lantern.model.build import Approach, Build, OnStrip, Supply
from tiny_lantern.model.edits import item
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.connector import ConnectorPart
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.strip import StripPart, nominal_currents_a
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.model.strip import PixelRun
from tiny_lantern.plans.line import Line, approaches_of, line_of, supplies_of

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Duties = tuple[Floats, ...]
HAIR = 1e-9


@dataclass(frozen=True)
class FeedOption:
    """The one kind of feed that a search places: wires and connectors out and back, and the fuse."""

    wire_out: WirePart
    wire_back: WirePart
    connector_out: ConnectorPart | None
    connector_back: ConnectorPart | None
    fuse: FusePart

    @property
    def out_limit_a(self) -> float:
        """What its outgoing conductor may carry for long. [A]"""
        connector = self.connector_out.limit_a if self.connector_out else np.inf
        return min(FUSE_SHARE * self.fuse.rating_a, self.wire_out.limit_a, connector)

    @property
    def back_limit_a(self) -> float:
        """What its return conductor may carry for long. [A]"""
        return min(self.wire_back.limit_a, self.connector_back.limit_a if self.connector_back else np.inf)


@dataclass(frozen=True)
class Loads:
    """What the pixels are asked for, one array a strip: the load whose light counts, full white, whose currents count
    for fuses, wires and rails, and the load whose currents count for supplies. (n_pixels, n_channels) [-]"""

    light: Duties
    white: Duties
    supply: Duties


@dataclass(frozen=True)
class LineTask:
    """A line of a build with the task of feeding it, and what each node's pixel draws at least at full white. [A]"""

    line: Line
    option: FeedOption
    supplies: tuple[Supply, ...]
    approaches: tuple[Approach, ...]
    task: Task
    least_a: Floats


def line_task(build: Build, strip_id: str, option: FeedOption, loads: Loads) -> LineTask:
    """The task of feeding the line that a strip is part of, at the build's design corner.

    Args:
        build: the build.
        strip_id: any strip of the line.
        option: the kind of feed.
        loads: what the pixels are asked for.

    Raises:
        LanternError: no supply suits, the strips are no line, or the light limits cannot be met at any voltage.
    """
    line = line_of(build, strip_id)
    supplies = supplies_of(build, line)
    approaches = approaches_of(build, line, supplies)
    corner = build.corner
    strips = [(strip, part_of(build, strip)) for strip in line.strips]
    counts = [strip.pixel_count + 2 for strip, _ in strips]
    run = np.repeat(np.arange(len(counts)), counts)
    node = np.concatenate([np.arange(count) for count in counts])
    place = np.concatenate([_node_places(strip) + line.start_m(strip.id) for strip, _ in strips])
    pixel = np.concatenate([_is_pixel(count) for count in counts])
    pos_ohm, neg_ohm, pos_a, neg_a = _elements(build, line)
    wished = np.array([line.start_m(a.strip_id) + a.position_m for a in approaches])
    supply = np.abs(place[:, None] - wished).round(9).argmin(axis=1)
    standoff = np.array([approach.standoff_m for approach in approaches])
    wire_m = standoff[supply] + np.abs(place - wished[supply])
    out_ohm, back_ohm = _feed_ohms(option, wire_m, corner.wires)
    others_a = np.array([_others_a(build, line, one, loads.supply) for one in supplies]) * corner.pixel_current
    lamps_a = lamp_loads_a(build, solve_drive(build))
    others_a += [lamps_a[one.id] for one in supplies]
    parts = [supply_part(build, one.id) for one in supplies]
    open_v = np.array([s.set_v * (1 - p.tolerance * corner.set_point) for s, p in zip(supplies, parts, strict=True)])
    output_ohm = np.array([part.output_ohm for part in parts])
    ladder = Ladder(run, node, place, pixel, pos_ohm, neg_ohm, out_ohm, back_ohm, supply,
                    open_v - output_ohm * others_a, output_ohm)  # fmt: skip
    rated = np.array([allowed_share(s) * p.rated_a for s, p in zip(supplies, parts, strict=True)]) - others_a
    least_v = _least_voltages(build, line, loads.light)
    limits = FeedLimits(least_v, option.out_limit_a, option.back_limit_a, pos_a, neg_a, np.maximum(rated, 1e-9))
    light = _draw(build, line, loads.light, corner.pixel_current)
    white = light if loads.white is loads.light else _draw(build, line, loads.white, corner.pixel_current)
    supplied = white if loads.supply is loads.white else _draw(build, line, loads.supply, corner.pixel_current)
    task = Task(ladder, light, white, supplied, limits, _candidates(line, ladder), wire_m)
    return LineTask(line, option, supplies, approaches, task, _least_currents(build, line, loads.white, least_v))


def _node_places(strip: PixelRun) -> Floats:
    pixels = (np.arange(strip.pixel_count) + 0.5) * strip.pitch_m
    return np.concatenate([[0.0], pixels, [strip.length_m]])


def _is_pixel(count: int) -> NDArray[np.bool_]:
    found = np.ones(count, bool)
    found[[0, -1]] = False
    return found


def _elements(build: Build, line: Line) -> tuple[Floats, Floats, Floats, Floats]:
    """Both rails' elements from node to node at the corner, joints between runs among them, and what each may carry."""
    ohms: tuple[list[Floats], list[Floats]] = ([], [])
    limits: tuple[list[Floats], list[Floats]] = ([], [])
    for number, strip in enumerate(line.strips):
        part = part_of(build, strip)
        rated = (part.rail_limit_a, part.return_limit_a or part.rail_limit_a)
        for side, nominal_ohm in enumerate(gap_ohm(strip, part)):
            ohm = nominal_ohm * build.corner.rails
            if side == 0:
                ohm[list(strip.cuts)] = np.inf
            ohms[side].append(ohm)
            limits[side].append(np.full(len(ohm), rated[side]))
        if number < len(line.joints):
            joint = line.joints[number]
            for side, ohm_of in enumerate(joint_ohm(joint)):
                ohms[side].append(np.array([ohm_of * build.corner.wires]))
                limits[side].append(np.array([joint.limit_a]))
    pos_ohm, neg_ohm = (np.concatenate(side) for side in ohms)
    pos_a, neg_a = (np.concatenate(side) for side in limits)
    return pos_ohm, neg_ohm, pos_a, neg_a


def _feed_ohms(option: FeedOption, wire_m: Floats, factor: float) -> tuple[Floats, Floats]:
    out = option.wire_out.ohm_per_m * wire_m + fittings_ohm(option.fuse, option.connector_out)
    back = option.wire_back.ohm_per_m * wire_m + fittings_ohm(None, option.connector_back)
    return np.maximum(out * factor, 1e-6), np.maximum(back * factor, 1e-6)


def _candidates(line: Line, ladder: Ladder) -> Ints:
    """Nodes that may be fed: where the person can reach, and always both ends of the line."""
    inside = np.zeros(ladder.size, bool)
    inside[[0, -1]] = True
    for number, strip in enumerate(line.strips):
        own = ladder.run == number
        if strip.reach_m is None:
            inside |= own
            continue
        along = ladder.place_m - line.start_m(strip.id)
        for first, last in strip.reach_m:
            inside |= own & (along >= first - HAIR) & (along <= last + HAIR)
    return np.flatnonzero(inside)


def _with_ends(pixels: Floats, fill: float) -> Floats:
    return np.concatenate([[fill], pixels, [fill]])


def _duty(build: Build, duties: Duties, strip: PixelRun) -> Floats:
    return duties[[one.id for one in build.strips].index(strip.id)]


def _draw(build: Build, line: Line, duties: Duties, factor: float) -> Draw:
    slopes, fixed = [], []
    for strip in line.strips:
        slope, constant = _linear_law(part_of(build, strip), _duty(build, duties, strip))
        slopes.append(_with_ends(slope * factor, 0.0))
        fixed.append(_with_ends(constant * factor, 0.0))
    return Draw(np.concatenate(slopes), np.concatenate(fixed))


def _linear_law(part: StripPart, duty: Floats) -> tuple[Floats, Floats]:
    """Slope and constant of each pixel's current while all lit channels conduct: ``I = slope · v + constant``."""
    start, width, full = ramps_of(part.pixel)
    slopes = np.concatenate([np.ones((len(duty), 1)), duty], axis=1) * full
    endless = np.isinf(width)
    slope_s = slopes[:, endless].sum(axis=1)
    constant_a = slopes @ np.where(endless, 0.0, width) - (slopes * np.where(endless, start, 0.0)).sum(axis=1)
    return slope_s, constant_a


def _least_voltages(build: Build, line: Line, duties: Duties) -> Floats:
    """The voltage that each node's pixel must keep: within the limits, and where its lit channels all conduct."""
    found = []
    for strip in line.strips:
        part, duty = part_of(build, strip), _duty(build, duties, strip)
        rows, row_of = np.unique(duty, axis=0, return_inverse=True)
        least = np.maximum(least_voltage(part, build.limits, rows), linear_above_v(part))[row_of.ravel()]
        if not np.isfinite(least).all():
            raise LanternError("this load's colour cannot be kept within the limits at any voltage", strip.name)
        found.append(_with_ends(least, -np.inf))
    return np.concatenate(found)


def _least_currents(build: Build, line: Line, duties: Duties, least_v: Floats) -> Floats:
    """What each node's pixel draws at the lowest voltage that is accepted, at the corner. (n_nodes,) [A]"""
    found, first = [], 0
    for strip in line.strips:
        own = slice(first + 1, first + 1 + strip.pixel_count)
        slope, constant = _linear_law(part_of(build, strip), _duty(build, duties, strip))
        found.append(_with_ends((slope * least_v[own] + constant) * build.corner.pixel_current, 0.0))
        first += strip.pixel_count + 2
    return np.concatenate(found)


def _others_a(build: Build, line: Line, supply: Supply, duties: Duties) -> float:
    """What other strips on a supply draw when their pixels have all they ask for. [A]"""
    fed = {
        feed.attach.strip_id for feed in build.feeds if feed.supply_id == supply.id and isinstance(feed.attach, OnStrip)
    } - line.ids
    found = 0.0
    for strip in (item(build.strips, strip_id, "strip") for strip_id in sorted(fed)):
        part = part_of(build, strip)
        shares = _shared_by(build, strip)
        drawn = float((_duty(build, duties, strip) @ np.array(nominal_currents_a(part)) + part.pixel.quiescent_a).sum())
        found += drawn / shares
    return found


def _shared_by(build: Build, strip: PixelRun) -> int:
    """How many supplies feed a strip; each is taken to carry an equal share of it."""
    return len({f.supply_id for f in build.feeds if isinstance(f.attach, OnStrip) and f.attach.strip_id == strip.id})
