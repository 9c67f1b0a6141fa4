"""Rules on supplies: their load, and supplies that meet on one copper."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

from tiny_lantern.catalogue.shelf import all_parts, supplies_for
from tiny_lantern.electrical.network import part_of, supply_part
from tiny_lantern.electrical.power import PowerSolution
from tiny_lantern.electrical.supplies import (
    allowed_share,
    bearable_v,
    can_be_set,
    fitting_supply,
    full_current_a,
    meeting_supplies,
    reaching_supplies,
    suits,
    supply_for,
    wanted_v,
)  # fmt: skip
from tiny_lantern.electrical.workings import supply_voltage_working, supply_working
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.build import Build, OnStrip, Supply
from tiny_lantern.model.edits import item
from tiny_lantern.model.edits_power import add_supply, change_supply, change_supply_part, refeed, set_all
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.place import Place, Ref
from tiny_lantern.model.quantities import amps, volts
from tiny_lantern.model.strip import PixelRun
from tiny_lantern.model.working import Step, Working

MOST_TRIES = 3


@rule("supply-voltage", "{n} strips are on a supply of another voltage")
def supply_voltage(evidence: Evidence) -> Iterator[Finding]:
    """A strip on more than its voltage burns out at once, and hot; on less it is dim and off colour."""
    build = evidence.build
    for strip_id, supply_ids in reaching_supplies(build).items():
        strip = item(build.strips, strip_id, "strip")
        part = part_of(build, strip)
        for supply in (item(build.supplies, supply_id, "supply") for supply_id in supply_ids):
            if suits(supply, part):
                continue
            over = supply.set_v > part.nominal_v
            bound = bearable_v(part) if over else wanted_v(part)
            side, bears = ("above", "bear at most") if over else ("below", "want at least")
            yield Finding(
                Severity.DANGER if over else Severity.WEAK_SPOT, "supply-voltage",
                Place.at(strip_id, 0, Ref("supplies", supply.id)),
                f"{strip.name}: {part.nominal_v:g} V strip on {volts(supply.set_v)}",
                f"It is taken to {bears} {volts(bound)}; {supply.name} is set {volts(abs(supply.set_v - bound))} "
                f"{side} that.{' Do not switch on.' if over else ''}",
                partial(supply_voltage_working, build, strip, supply),
                _voltage_tries(build, strip, supply),
            )  # fmt: skip


def _voltage_tries(build: Build, strip: PixelRun, supply: Supply) -> tuple[Fix, ...]:
    """Set the supply right where its range allows; else feed the strip from another."""
    part, source = part_of(build, strip), supply_part(build, supply.id)
    tries: list[Fix] = []
    if can_be_set(build, supply.id, part.nominal_v):
        adjust = partial(change_supply, supply_id=supply.id, set_v=part.nominal_v)
        tries.append(Fix(f"Set it to {volts(part.nominal_v)}", adjust))
    ends = (feed.attach for feed in build.feeds if feed.supply_id == supply.id)
    if not any(isinstance(end, OnStrip) and end.strip_id == strip.id for end in ends):
        return tuple(tries)
    move = partial(refeed, strip_id=strip.id, old_supply_id=supply.id)
    fitting = fitting_supply(build, part)
    if fitting and fitting.id != supply.id:
        tries.append(Fix(f"Feed it from {fitting.name}", partial(move, supply_id=fitting.id)))
    needed_a = full_current_a(build, (strip,))
    other = supply_for(part.nominal_v, needed_a, source.source) or supply_for(part.nominal_v, needed_a)
    if other is not None:
        label = f"Feed it from a {other.nominal_v:g} V supply of {other.rated_a:g} A"
        tries.append(Fix(label, partial(_on_its_own, strip_id=strip.id, old_supply_id=supply.id, part=other)))
    return tuple(tries)


def _on_its_own(build: Build, strip_id: str, old_supply_id: str, part: SupplyPart) -> Build:
    """A strip on a new supply instead of an old one."""
    build = add_supply(build, part)
    return refeed(build, strip_id, old_supply_id, build.supplies[-1].id)


@rule("supply-share", "{n} supplies give more than they may for long")
def supply_share(evidence: Evidence) -> Iterator[Finding]:
    """A supply run near its rating runs hot and ages; past it, it shuts down or fails. Its load is that of the moments
    when all lit channels are on together, since that is what it sees."""
    if evidence.solved is None and evidence.build.strips:
        return
    for supply in evidence.build.supplies:
        part = supply_part(evidence.build, supply.id)
        mean, peak = (_given_a(solved, supply.id) for solved in (evidence.solved, evidence.peak))
        lamps_a = evidence.lamp_loads_a[supply.id]
        current, share = max(mean, peak) + lamps_a, allowed_share(supply)
        if current <= share * part.rated_a + 1e-9:
            continue
        over = current > part.rated_a + 1e-9
        where = "in a sealed box or over 40 °C" if supply.sealed else "in free air"
        when = f" while all lit channels are on together ({amps(mean)} in the mean)" if peak > mean + 1e-6 else ""
        when += f", lamps and boards with {amps(lamps_a)}" if lamps_a > 1e-6 else ""
        yield Finding(
            Severity.WONT_WORK if over else Severity.WEAK_SPOT, "supply-share", Place.on("supplies", supply.id),
            f"{supply.name} at {current / part.rated_a:.0%} of its rating",
            f"{amps(current)} of {part.rated_a:g} A{when}; {where} {share:.0%} is allowed, "
            f"{amps(share * part.rated_a)}, so {amps(current - share * part.rated_a)} too much.",
            _working_of(evidence, supply, peak > mean, lamps_a),
            tuple(larger_supplies(evidence.build, supply.id, current / share)),
        )  # fmt: skip


def _given_a(solved: PowerSolution | None, supply_id: str) -> float:
    """What a supply gives to strips; nothing where there are none. [A]"""
    return solved.supplies[supply_id].current_a if solved is not None else 0.0


def _working_of(evidence: Evidence, supply: Supply, at_peak: bool, lamps_a: float) -> Callable[[], Working]:
    solved = evidence.peak if at_peak else evidence.solved
    if solved is not None:
        return partial(supply_working, evidence.build, solved, supply.id)
    step = Step("I = lamps and boards, all lit", "", amps(lamps_a))
    return partial(Working, supply.name, (step,))


def larger_supplies(build: Build, supply_id: str, needed_a: float) -> Iterator[Fix]:
    """Supplies like it that are rated for a load, the smallest first.

    Args:
        build: the build.
        supply_id: the supply.
        needed_a: the rating that the load needs. [A]
    """
    fitting = [p for p in supplies_for(all_parts(build), supply_part(build, supply_id)) if p.rated_a >= needed_a]
    for part in fitting[:MOST_TRIES]:
        yield Fix(f"Use {part.rated_a:g} A", partial(change_supply_part, supply_id=supply_id, part=part))


@rule("supplies-disagree", "{n} groups of supplies disagree")
def supplies_disagree(evidence: Evidence) -> Iterator[Finding]:
    """Supplies on one copper with different voltages push current into each other, or one does all the work."""
    build = evidence.build
    for group in meeting_supplies(build):
        members = [item(build.supplies, supply_id, "supply") for supply_id in group]
        lowest, highest = min(members, key=lambda s: s.set_v), max(members, key=lambda s: s.set_v)
        if highest.set_v - lowest.set_v < 1e-6:
            continue
        into = evidence.solved.supplies[lowest.id].current_a if evidence.solved else 0.0
        effect = f"{amps(-into)} flow back into {lowest.name}." if into < -1e-6 else (
            f"{highest.name} carries more than its share; {lowest.name} gives {amps(into)}."
        )  # fmt: skip
        yield Finding(
            Severity.WEAK_SPOT, "supplies-disagree", Place.on("supplies", lowest.id),
            f"{lowest.name} and {highest.name} disagree by {volts(highest.set_v - lowest.set_v)}",
            f"Their positives meet on one copper. {effect} Set all alike, or cut the positive rail between them.",
            partial(supply_working, build, evidence.solved, lowest.id) if evidence.solved else None,
            tuple(_agreeing(build, group)),
        )  # fmt: skip


def _agreeing(build: Build, group: tuple[str, ...]) -> Iterator[Fix]:
    """All supplies of a group at the nominal voltage of the strips they feed, where every one's range allows it."""
    fed = [strip_id for strip_id, names in reaching_supplies(build).items() if set(names) & set(group)]
    nominal = {part_of(build, item(build.strips, strip_id, "strip")).nominal_v for strip_id in fed}
    for set_v in sorted(nominal):
        if len(nominal) == 1 and all(can_be_set(build, name, set_v) for name in group):
            both = "both" if len(group) == 2 else "all"
            yield Fix(f"Set {both} to {volts(set_v)}", partial(set_all, supply_ids=group, set_v=set_v))
