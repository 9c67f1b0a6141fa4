"""Rules on supplies: their load, and supplies that meet on one copper."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from tiny_lantern.catalogue.shelf import merged, shelf, supplies_for
from tiny_lantern.electrical.network import supply_part
from tiny_lantern.electrical.supplies import allowed_share, meeting_supplies
from tiny_lantern.electrical.workings import supply_working
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Place, Severity, rule
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import item
from tiny_lantern.model.edits_power import change_supply, change_supply_part
from tiny_lantern.model.quantities import amps, volts


@rule("supply-share")
def supply_share(evidence: Evidence) -> Iterator[Finding]:
    """A supply run near its rating runs hot and ages; past it, it shuts down or fails."""
    if evidence.solved is None:
        return
    for supply in evidence.build.supplies:
        part = supply_part(evidence.build, supply.id)
        current = evidence.solved.supplies[supply.id].current_a
        share = allowed_share(supply)
        if current <= share * part.rated_a + 1e-9:
            continue
        over = current > part.rated_a + 1e-9
        where = "in a sealed box or over 40 °C" if supply.sealed else "in free air"
        yield Finding(
            Severity.WONT_WORK if over else Severity.WEAK_SPOT, "supply-share", Place(supply_id=supply.id),
            f"{supply.name} at {current / part.rated_a:.0%} of its rating",
            f"{amps(current)} of {part.rated_a:g} A; {where} {share:.0%} is allowed, {amps(share * part.rated_a)}, "
            f"so {amps(current - share * part.rated_a)} too much.",
            supply_working(evidence.build, evidence.solved, supply.id),
            _larger(evidence.build, supply.id, current / share),
        )  # fmt: skip


def _larger(build: Build, supply_id: str, needed_a: float) -> Fix | None:
    for part in supplies_for(merged(build.parts, shelf()), supply_part(build, supply_id)):
        if part.rated_a >= needed_a:
            return Fix(f"Use {part.rated_a:g} A", partial(change_supply_part, supply_id=supply_id, part=part))
    return None


@rule("supplies-disagree")
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
            Severity.WEAK_SPOT, "supplies-disagree", Place(supply_id=lowest.id),
            f"{lowest.name} and {highest.name} disagree by {volts(highest.set_v - lowest.set_v)}",
            f"Their positives meet on one copper. {effect} Set both alike, or cut the positive rail between them.",
            supply_working(build, evidence.solved, lowest.id) if evidence.solved else None,
            Fix(
                f"Set both to {volts(highest.set_v)}",
                partial(change_supply, supply_id=lowest.id, set_v=highest.set_v),
            ),
        )  # fmt: skip
