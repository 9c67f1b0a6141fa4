"""Whether a supply can give what the show asks of it at its brightest."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from tiny_lantern.electrical.network import supply_part
from tiny_lantern.electrical.supplies import allowed_share
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.findings.supply import larger_supplies
from tiny_lantern.model.edits_power import change_supply
from tiny_lantern.model.place import Place, Ref
from tiny_lantern.model.quantities import amps, clock
from tiny_lantern.model.working import Step, Working
from tiny_lantern.show.peaks import Peak

HAIR_A = 1e-9


@rule("show-peak", "The show asks too much of {n} supplies")
def show_peak(evidence: Evidence) -> Iterator[Finding]:
    """The show's brightest frame draws more than its supply may give: dim it by a cap, which the code for boards keeps
    too, or take a larger supply."""
    build = evidence.build
    for peak in evidence.peaks:
        supply, part = peak.supply, supply_part(build, peak.supply.id)
        allowed_a = allowed_share(supply) * part.rated_a
        if peak.total_a <= allowed_a + HAIR_A:
            continue
        when_s = build.timeline.begins_s(peak.tick)
        rating_a = peak.total_a / allowed_share(supply)
        room_a = allowed_a - peak.always_a - peak.beside_a
        capped = Fix(f"Limit the show to {amps(allowed_a)}",
                     partial(change_supply, supply_id=supply.id, show_cap_a=allowed_a))  # fmt: skip
        yield Finding(
            Severity.WONT_WORK if peak.total_a > part.rated_a + HAIR_A else Severity.WEAK_SPOT, "show-peak",
            Place(refs=(Ref("supplies", supply.id),), time_s=when_s),
            f"The show asks {supply.name} for {amps(peak.total_a)}",
            f"At {clock(when_s)}, {amps(allowed_a)} of {part.rated_a:g} A may be drawn for long: "
            f"{amps(peak.total_a - allowed_a)} too much. A cap dims such frames as a whole, here by "
            f"{1 - max(0.0, room_a) / peak.light_a:.0%}, and the code for boards keeps it.",
            partial(_working, peak, allowed_a),
            (*((capped,) if room_a > 0 else ()), *larger_supplies(build, supply.id, rating_a)),
        )  # fmt: skip


def _working(peak: Peak, allowed_a: float) -> Working:
    terms = (peak.light_a, peak.always_a, peak.beside_a)
    return Working(
        peak.supply.name,
        (
            Step("I = light + always + lamps and boards", " + ".join(map(amps, terms)), amps(peak.total_a)),
            Step("I_allowed = share·rating", "", amps(allowed_a)),
        ),
        "every frame counted, pixels holding their currents, driven lamps all lit",
    )
