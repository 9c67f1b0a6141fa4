"""Rules on what the pixels get: voltage, light, tint, and copper without a feed."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np

from tiny_lantern.electrical.first_feeds import feed_pieces, missing_supply, place_of
from tiny_lantern.electrical.network import part_of
from tiny_lantern.electrical.reach import Stranded
from tiny_lantern.electrical.supplies import (
    can_be_set,
    fitting_supply,
    reaching_supplies,
)  # fmt: skip
from tiny_lantern.electrical.workings import pixel_working
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.light.seen import acceptable, seen, voltage_floor
from tiny_lantern.model.edits import item
from tiny_lantern.model.edits_power import set_all
from tiny_lantern.model.place import Place
from tiny_lantern.model.quantities import amps, metres, volts
from tiny_lantern.model.strip import PixelRun


@rule("no-feed", "{n} strips or zones have no feed")
def no_feed(evidence: Evidence) -> Iterator[Finding]:
    """Copper that reaches no supply, or has no way back to one, stays dark."""
    dark = {piece.strip.id for piece in evidence.stranded if piece.side == "positive"}
    for piece in evidence.stranded:
        if piece.side == "return" and piece.strip.id in dark:
            continue
        fitting = fitting_supply(evidence.build, part_of(evidence.build, piece.strip))
        missing = "a feed or a joint there" if fitting else "a supply of its voltage and a feed"
        yield Finding(
            Severity.WONT_WORK, "no-feed", Place.at(piece.strip.id, piece.first_pixel),
            f"{piece.what}", f"Its {piece.side} copper reaches nothing. Add {missing}.", None,
            _feed_tries(evidence, piece),
        )  # fmt: skip


def _feed_tries(evidence: Evidence, piece: Stranded) -> tuple[Fix, ...]:
    """Feed it from a supply that suits it; where there is none, add one that is enough for all such dark strips."""
    build = evidence.build
    edit = partial(feed_pieces, pieces=((piece.strip.id, place_of(piece)),))
    if fitting_supply(build, part_of(build, piece.strip)):
        return (Fix("Feed it", edit),)
    supply = missing_supply(build, piece.strip)
    return (Fix(f"Add a {supply.nominal_v:g} V supply of {supply.rated_a:g} A", edit),) if supply else ()


@rule("unsolvable", "{n} things keep the build from being solved")
def unsolvable(evidence: Evidence) -> Iterator[Finding]:
    """What cannot be solved cannot be judged: the copper as it is described contradicts itself."""
    refusal = evidence.refusal
    if refusal is None or not evidence.build.strips:
        return
    accepted = f" Accepted: {refusal.accepted}." if refusal.accepted else ""
    yield Finding(
        Severity.WONT_WORK, "unsolvable", Place(), "The network cannot be solved",
        f"At {refusal.where or 'the copper'}: {refusal.what}.{accepted} None of {len(evidence.build.feeds)} feeds is "
        "judged.",
    )  # fmt: skip


@rule("pixel-voltage", "{n} strips fall below the voltage their chips need")
def pixel_voltage(evidence: Evidence) -> Iterator[Finding]:
    """A pixel below the voltage its chip needs shows wrong colours, flickers or goes dark."""
    if evidence.solved is None:
        return
    for strip, duty in zip(evidence.build.strips, evidence.duties, strict=True):
        v = evidence.solved.runs[strip.id].pixel_v
        floor = voltage_floor(part_of(evidence.build, strip), evidence.build.limits)
        low = np.flatnonzero((v < floor - 1e-9) & evidence.lit(strip))
        if not len(low):
            continue
        worst = int(low[v[low].argmin()])
        yield Finding(
            Severity.WONT_WORK, "pixel-voltage", Place.at(strip.id, worst),
            f"{strip.name}, pixel {worst}: {volts(v[worst])}",
            f"It needs {volts(floor)} and lacks {volts(floor - float(v[worst]))}; "
            f"{len(low)} of {strip.pixel_count} pixels ({metres(len(low) * strip.pitch_m)}) are below.",
            partial(pixel_working, evidence.build, evidence.solved, strip.id, worst, duty[worst]),
            (Fix("Find feeds", find_feeds_on=(strip.id,)),) if _feeds_help(evidence, strip) else (),
        )  # fmt: skip


@rule("light-loss", "{n} strips lose too much of their light")
def light_loss(evidence: Evidence) -> Iterator[Finding]:
    """A pixel that has lost more light than the limit looks dim beside the others."""
    yield from _looks(evidence, "light-loss")


@rule("tint-shift", "{n} strips change colour")
def tint_shift(evidence: Evidence) -> Iterator[Finding]:
    """A pixel whose colour has drifted by more than the limit shows beside the others."""
    yield from _looks(evidence, "tint-shift")


def _looks(evidence: Evidence, code: str) -> Iterator[Finding]:
    if evidence.solved is None:
        return
    limits = evidence.build.limits
    for strip, duty in zip(evidence.build.strips, evidence.duties, strict=True):
        part = part_of(evidence.build, strip)
        look = seen(part, evidence.solved.runs[strip.id].pixel_v, duty)
        amount, limit = (
            (look.light_loss, limits.light_loss_max) if code == "light-loss" else (look.tint_shift, limits.tint_max)
        )
        beyond = np.flatnonzero((amount > limit + 1e-12) & evidence.lit(strip))
        if not len(beyond):
            continue
        worst = int(beyond[amount[beyond].argmax()])
        length = metres(len(beyond) * strip.pitch_m)
        if code == "light-loss":
            title = f"{strip.name} loses {amount[worst]:.0%} of its light"
            message = f"At pixel {worst}; {limit:.0%} is the limit, and {length} of strip are past it."
        else:
            title = f"{strip.name} changes colour, Δu′v′ {amount[worst]:.3f}"
            message = f"At pixel {worst}; {limit:.3f} is the limit, and {length} of strip are past it."
        helps = _feeds_help(evidence, strip)
        if not helps:
            v = float(evidence.solved.runs[strip.id].pixel_v[worst])
            message += (
                f" No feed can mend this: even at the supply's own voltage this strip ({part.nominal_v:g} V nominal) "
                f"is outside the limits here, with {volts(v)} at that pixel. Set the supply to "
                f"{volts(part.nominal_v)}, or widen the limits."
            )
        yield Finding(
            Severity.WEAK_SPOT, code, Place.at(strip.id, worst), title, message,
            partial(pixel_working, evidence.build, evidence.solved, strip.id, worst, duty[worst]),
            (Fix("Find feeds", find_feeds_on=(strip.id,)),) if helps else _nominal_tries(evidence, strip),
        )  # fmt: skip


def _feeds_help(evidence: Evidence, strip: PixelRun) -> bool:
    """Whether ideal feeds, the supply's own voltage at every pixel, would bring the strip within its limits."""
    build, part = evidence.build, part_of(evidence.build, strip)
    supply_v = [item(build.supplies, name, "supply").set_v for name in reaching_supplies(build).get(strip.id, ())]
    if not supply_v:
        return True
    duty = evidence.duty_of(strip)
    rows = duty[:1] if (duty == duty[0]).all() else np.unique(duty, axis=0)
    return any(bool(acceptable(part, build.limits, rows, np.full(len(rows), v)).all()) for v in supply_v)


def _nominal_tries(evidence: Evidence, strip: PixelRun) -> tuple[Fix, ...]:
    """Every supply that reaches the strip set to its nominal voltage, where all of them can be."""
    build, part = evidence.build, part_of(evidence.build, strip)
    names = reaching_supplies(build).get(strip.id, ())
    if not names or not all(can_be_set(build, name, part.nominal_v) for name in names):
        return ()
    return (
        Fix(f"Set the supply to {volts(part.nominal_v)}", partial(set_all, supply_ids=names, set_v=part.nominal_v)),
    )


@rule("averaged", "{n} voltages are approximate")
def averaged(evidence: Evidence) -> Iterator[Finding]:
    """Once pixels leave their knee under PWM, the averaged network is only approximate."""
    if evidence.solved is None or evidence.peak is None or not evidence.approximate:
        return
    lowest = min(float(run.pixel_v.min()) for run in evidence.solved.runs.values())
    together = min(float(run.pixel_v.min()) for run in evidence.peak.runs.values())
    peak_a = sum(supply.current_a for supply in evidence.peak.supplies.values())
    yield Finding(
        Severity.HINT, "averaged", Place(), "These voltages are approximate",
        "Some pixels no longer hold their current, and under PWM the mean current is not the current at the mean "
        f"voltage. The average gives {volts(lowest)} at the lowest pixel; in the moments when all lit channels are on "
        f"together it is {volts(together)}, and the supplies give {amps(peak_a)}.",
    )  # fmt: skip
