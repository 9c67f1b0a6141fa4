"""The usual cautions, where the choice was made; they defer to local codes and licensed practice."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.electrical.network import supply_part
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Severity, rule
from tiny_lantern.model.place import Place

MAINS = (
    "Have the mains side done to local code by a licensed person: enclosure, strain relief, earth, and its own "
    "protection. Nothing here says that mains work is fine."
)
OUTDOOR = (
    "Use a residual-current device, sealed connectors with drip loops, and enclosures rated for rain; keep mains "
    "joints off the ground. Local code decides."
)
BATTERY = (
    "Fuse it at the cell, charge it only with a charger made for its chemistry, keep it from knocks and heat, and "
    "do not leave it charging alone. A swollen cell is waste, not a spare."
)


@rule("caution-mains", "{n} supplies are on the mains")
def mains(evidence: Evidence) -> Iterator[Finding]:
    """A supply that plugs into the mains."""
    for supply in evidence.build.supplies:
        if supply_part(evidence.build, supply.id).source == "mains":
            yield Finding(
                Severity.HINT, "caution-mains", Place.on("supplies", supply.id), f"{supply.name} is on the mains", MAINS
            )


@rule("caution-outdoor", "{n} builds stand outdoors")
def outdoor(evidence: Evidence) -> Iterator[Finding]:
    """A build that stands in the wet."""
    if evidence.build.site.outdoor and evidence.build.pieces:
        yield Finding(Severity.HINT, "caution-outdoor", Place(), "This build stands outdoors", OUTDOOR)


@rule("caution-battery", "{n} supplies store energy")
def battery(evidence: Evidence) -> Iterator[Finding]:
    """A supply that stores energy."""
    for supply in evidence.build.supplies:
        if supply_part(evidence.build, supply.id).source == "battery":
            yield Finding(
                Severity.HINT,
                "caution-battery",
                Place.on("supplies", supply.id),
                f"{supply.name} stores energy",
                BATTERY,
            )
