"""The working behind each electrical figure."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.electrical.fuses import FUSE_SHARE
from tiny_lantern.electrical.laws import ramps_of
from tiny_lantern.electrical.network import part_of, runs_of, supply_part
from tiny_lantern.electrical.ohms import connector_of, fuse_of, rails_ohm_per_m, wire_of
from tiny_lantern.electrical.power import PowerSolution, SupplySolution
from tiny_lantern.electrical.power_tree import lamp_loads_a
from tiny_lantern.electrical.shorts.coppers import Copper
from tiny_lantern.electrical.shorts.sequence import FAULT_RATIO, FuseOpens
from tiny_lantern.electrical.shorts.study import Instant, ShortCourse
from tiny_lantern.electrical.supplies import VOLTAGE_SHARE, allowed_share, bearable_v, wanted_v
from tiny_lantern.model.build import Build, Conductor, Supply
from tiny_lantern.model.edits import item
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.strip import CcPixel
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.quantities import amps, engineering, volts
from tiny_lantern.model.strip import PixelRun
from tiny_lantern.model.working import Step, Working

Floats = NDArray[np.float64]
DERATING = "derating practice: 0.8 of the rating, 0.6 sealed or over 40 °C"
OHMS_LAW = "Ohm's and Kirchhoff's laws; any circuits text"


def pixel_working(build: Build, solution: PowerSolution, strip_id: str, pixel: int, duty: Floats) -> Working:
    """Voltage and current of one pixel.

    Args:
        build: the build.
        solution: the solved network.
        strip_id: the strip.
        pixel: number of the pixel, from 0. [-]
        duty: duty of each of its channels, (n_channels,). [-]
    """
    strip = build.line.strip(strip_id)
    part = part_of(build, strip)
    run = solution.runs[strip_id]
    v = float(run.pixel_v[pixel])
    pos, neg = float(run.rail_pos_v[pixel + 1]), float(run.rail_neg_v[pixel + 1])
    steps = [Step("v = V_pos − V_neg", f"{pos:.3f} − {neg:.3f}", f"{v:.3f} V")]
    start, width, slope = ramps_of(part.pixel)
    names = ["quiescent", *(channel.name for channel in part.pixel.channels)]
    for at, name in enumerate(names):
        share = 1.0 if at == 0 else float(duty[at - 1])
        if slope[at] == 0:
            continue
        climbed = float(np.clip(v - start[at], 0, width[at]))
        if isinstance(part.pixel, CcPixel) or at == 0:
            full = slope[at] * width[at]
            formula = f"I_{name} = d·I_full·clip((v − v_off)/(v_full − v_off), 0, 1)"
            values = f"{share:.2f}·{amps(full)}·clip(({v:.2f} − {start[at]:.2f})/{width[at]:.2f}, 0, 1)"
        else:
            formula = f"I_{name} = d·max(0, v − n·Vf)/R"
            values = f"{share:.2f}·max(0, {v:.2f} − {start[at]:.2f})/{engineering(1 / slope[at], 'ohm')}"
        steps.append(Step(formula, values, amps(share * slope[at] * climbed)))
    steps.append(Step("I = sum of the channels", "", amps(float(run.pixel_a[pixel]))))
    return Working(f"{strip.name}, pixel {pixel}", tuple(steps), OHMS_LAW)


def rail_working(build: Build, solution: PowerSolution, strip_id: str, piece: int) -> Working:
    """Current of each rail between two neighbouring rail nodes of a strip.

    Args:
        build: the build.
        solution: the solved network.
        strip_id: the strip.
        piece: number of the piece of rail, 0 from the start to pixel 0. [-]
    """
    strip = build.line.strip(strip_id)
    run = solution.runs[strip_id]
    share = 0.5 if piece in (0, strip.pixel_count) else 1.0
    steps = []
    rails = (("out", run.rail_pos_v, run.rail_pos_a), ("back", run.rail_neg_v, run.rail_neg_a))
    for (name, v, carried), ohm_per_m in zip(rails, rails_ohm_per_m(strip, part_of(build, strip)), strict=True):
        ohm = share * strip.pitch_m * ohm_per_m
        drop = abs(float(v[piece + 1] - v[piece]))
        formula = f"I_{name} = |ΔV|/(r·{'p/2' if share < 1 else 'p'})"
        values = f"{engineering(drop, 'V', 4)}/{engineering(ohm, 'ohm', 4)}"
        steps.append(Step(formula, values, amps(abs(float(carried[piece])))))
    return Working(f"{strip.name}, its own copper", tuple(steps), OHMS_LAW)


def conductor_step(build: Build, name: str, side: Conductor, fuse: FusePart | None, ohm: float) -> Step:
    """Resistance of one conductor of a feed."""
    if side.measured_ohm is not None:
        return Step(f"R_{name} as measured", "", engineering(ohm, "ohm"))
    wire, connector = wire_of(build, side), connector_of(build, side)
    terms = [("length·R′", f"{side.length_m:g} m·{engineering(wire.ohm_per_m, 'ohm/m')}")]
    if fuse:
        terms.append(("R_fuse", engineering(fuse.cold_ohm, "ohm")))
    if connector:
        terms.append(("R_contact", engineering(connector.contact_ohm, "ohm")))
    formula, values = (" + ".join(side) for side in zip(*terms, strict=True))
    return Step(f"R_{name} = {formula}", values, engineering(ohm, "ohm"))


def feed_working(build: Build, solution: PowerSolution, feed_id: str) -> Working:
    """Currents of one feed and the resistance of its conductors."""
    feed = item(build.feeds, feed_id, "feed")
    fuse = fuse_of(build, feed)
    end = next(end for end in solution.network.feeds if end.feed_id == feed_id)
    solved = solution.feeds[feed_id]
    v = solution.operating.node_v
    terminal, tap = float(v[solution.network.supplies[end.supply].node]), float(v[end.pos_node])
    back = float(v[end.neg_node])
    steps = [
        conductor_step(build, "out", feed.positive, fuse, end.pos_ohm),
        conductor_step(build, "back", feed.negative, None, end.neg_ohm),
        Step("I_out = (V_supply − V_pos)/R_out", f"({terminal:.3f} − {tap:.3f})/{end.pos_ohm:.4f}", amps(solved.pos_a)),
        Step("I_back = V_neg/R_back", f"{back:.3f}/{end.neg_ohm:.4f}", amps(solved.neg_a)),
    ]
    if fuse:
        allowed = FUSE_SHARE * fuse.rating_a
        steps.append(Step("I_allowed = 0.75·rating", f"0.75·{fuse.rating_a:g} A", amps(allowed)))
    return Working(f"Feed {build.feed_letters[feed_id]}", tuple(steps), OHMS_LAW)


def short_working(build: Build, course: ShortCourse, where: str) -> Working:
    """The course of a short: what flows at first, each event, and what is left."""
    letters = build.feed_letters
    steps = [Step("I_short, all fuses whole", _by_feed(build, course.first), amps(course.first.short_a))]
    for event, after in zip(course.events, course.after, strict=True):
        if isinstance(event, FuseOpens):
            feed = build.feeds[event.feed]
            fuse = fuse_of(build, feed)
            rating = fuse.rating_a if fuse else float("inf")
            name = f"feed {letters[feed.id]}'s fuse opens (I ≥ {FAULT_RATIO:g}·rating)"
            values = f"{event.times_rating * rating:.2f} A/{rating:g} A = {event.times_rating:.2f}"
        else:
            name = " and ".join(build.supplies[number].name for number in event.supplies) + " shut down (I > I_limit)"
            values = ", ".join(f"{times:.2f} times the limit" for times in event.times_limit)
        steps.append(Step(name, values, f"{amps(after.short_a)} in the short"))
    if not course.events:
        ratios = _fuse_ratios(build, course.first)
        if ratios:
            steps.append(
                Step("largest I/rating of a fuse", ", ".join(ratios[:6]), f"below {FAULT_RATIO:g}: none opens")
            )
    for over in course.over[:6]:
        steps.append(Step(copper_name(build, over.copper), f"may carry {amps(over.limit_a)}", amps(over.current_a)))
    return Working(f"Short at {where}", tuple(steps), "twice its rating opens a fuse in good time; Kirchhoff's laws")


def _by_feed(build: Build, instant: Instant) -> str:
    flowing = _flowing(instant)[:8]
    return " + ".join(f"{build.feed_letters[build.feeds[n].id]} {amps(float(instant.out_a[n]))}" for n in flowing)


def _flowing(instant: Instant) -> NDArray[np.int64]:
    """Numbers of the feeds that carry anything."""
    return np.flatnonzero(np.abs(instant.out_a) > 1e-6)


def _fuse_ratios(build: Build, instant: Instant) -> list[str]:
    letters = build.feed_letters
    found = []
    for number in _flowing(instant):
        feed = build.feeds[number]
        fuse = fuse_of(build, feed)
        if fuse:
            found.append((abs(float(instant.out_a[number])) / fuse.rating_a, letters[feed.id]))
    return [f"{letter} {ratio:.2f}" for ratio, letter in sorted(found, reverse=True)]


def copper_name(build: Build, copper: Copper) -> str:
    """A copper in a person's words."""
    which = "positive" if copper.part == "positive" else "return"
    if copper.kind == "feed":
        return f"feed {build.feed_letters[build.feeds[copper.number].id]}'s {copper.part}"
    if copper.kind == "run":
        return f"{runs_of(build)[copper.number].strip.name}'s own {which} rail"
    if copper.kind == "joint":
        joint = build.joints[copper.number]
        names = (build.line.strip(joint.from_strip_id).name, build.line.strip(joint.to_strip_id).name)
        return f"the joint from {names[0]} to {names[1]} ({which})"
    strip = build.line.strip(build.buses[copper.number].strip_id).name
    return f"the bus along {strip} ({which}{' taps' if copper.kind == 'tap' else ''})"


def supply_working(build: Build, solution: PowerSolution, supply_id: str) -> Working:
    """What a supply delivers against what it may."""
    supply = item(build.supplies, supply_id, "supply")
    part = supply_part(build, supply_id)
    share = allowed_share(supply)
    solved = solution.supplies[supply_id]
    feeds = [solution.feeds[feed.id].pos_a for feed in build.feeds if feed.supply_id == supply_id]
    lamps_a = lamp_loads_a(build, solve_drive(build))[supply_id]
    lamps = (Step("with other lamps and boards", f"{amps(solved.current_a)} + {amps(lamps_a)}",
                  amps(solved.current_a + lamps_a)),) if lamps_a > 0 else ()  # fmt: skip
    steps = (
        Step("I = sum of its feeds", " + ".join(f"{amps(a)}" for a in feeds[:8]), amps(solved.current_a)),
        *lamps,
        Step("I_allowed = share·rating", f"{share:g}·{part.rated_a:g} A", amps(share * part.rated_a)),
        _terminal_step(supply, part, solved, lamps_a),
    )
    return Working(supply.name, steps, DERATING)


def _terminal_step(supply: Supply, part: SupplyPart, solved: SupplySolution, lamps_a: float) -> Step:
    if part.output_ohm == 0 or not solved.delivering:
        return Step("V_terminal", "", volts(solved.terminal_v))
    given = f"{amps(solved.current_a)} + {amps(lamps_a)}" if lamps_a > 0 else amps(solved.current_a)
    values = f"{volts(supply.set_v)} − {engineering(part.output_ohm, 'ohm')}·({given})"
    return Step("V_terminal = V_set − R_out·I", values, volts(solved.terminal_v))


def supplies_working(build: Build, solution: PowerSolution) -> Working:
    """What all supplies together give, may give and are rated for, from each one's own working."""
    each = [(supply, supply_part(build, supply.id)) for supply in build.supplies]
    steps = [step for supply, _ in each for step in _named(supply.name, supply_working(build, solution, supply.id))]
    given = [solution.supplies[supply.id].current_a for supply, _ in each]
    may = [allowed_share(supply) * part.rated_a for supply, part in each]
    if len(each) > 1:
        steps.append(Step("Together", " + ".join(amps(a) for a in given), amps(sum(given))))
        steps.append(Step("Together allowed", " + ".join(amps(a) for a in may), amps(sum(may))))
    return Working("Supplies", tuple(steps), DERATING)


def _named(name: str, working: Working) -> list[Step]:
    return [Step(f"{name}: {step.formula}", step.values, step.result) for step in working.steps]


def supply_voltage_working(build: Build, strip: PixelRun, supply: Supply) -> Working:
    """What a supply is set to against what a strip bears and wants."""
    part = part_of(build, strip)
    steps = (
        Step("V_most = (1 + share)·V_nom", f"(1 + {VOLTAGE_SHARE:g})·{part.nominal_v:g} V", volts(bearable_v(part))),
        Step("V_least = (1 − share)·V_nom", f"(1 − {VOLTAGE_SHARE:g})·{part.nominal_v:g} V", volts(wanted_v(part))),
        Step("V_set", "", volts(supply.set_v)),
    )
    return Working(strip.name, steps, "a tenth either way, the tolerance that strip is usually sold with")
