"""What if another part were fitted, or one were missing: the build solved and judged so, and left as it is."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from functools import partial
from typing import Any

from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding
from tiny_lantern.findings.registry import rules, subject_of
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Driver
from tiny_lantern.model.edits import item, with_part
from tiny_lantern.model.edits_drive import change_channels
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.refers import part_fields
from tiny_lantern.model.ways.switch import Switch
from tiny_lantern.plans.rewire import change_way

ALONE = ("drive_", "rails")


@dataclass(frozen=True)
class Change:
    """One thing that might be otherwise: what to call it, and the edit that makes it so."""

    words: str
    edit: Callable[[Build], Build]


@dataclass(frozen=True)
class Outcome:
    """A change and what came of it: the most that a channel carries, the hottest part, and what is found then, the
    worst first. ``refusal`` says why it cannot be."""

    change: Change
    most_a: float = 0.0
    hottest_c: float = 0.0
    findings: tuple[Finding, ...] = ()
    refusal: str = ""


def changes_of(build: Build, driver_id: str, parts: Iterable[Part]) -> list[Change]:
    """Every other part of the same kind in each place of a driver, its base or gate resistor gone, all resistors gone.

    Args:
        build: the build.
        driver_id: the driver.
        parts: what might be fitted.
    """
    driver: Driver = item(build.drivers, driver_id, "driver")
    found = []
    for place in part_fields(type(driver)):
        part_id = getattr(driver, place)
        if part_id is None:
            continue
        now = build.shelf.find(Part, part_id)
        for part in parts:
            if part.kind == now.kind and part.id != now.id and _alike(now, part):
                found.append(
                    Change(f"{part.name} fitted", partial(_fitted, driver_id=driver_id, place=place, part=part))
                )
    if isinstance(driver, Switch):
        for field, words in (("base_ohm", "base or gate resistor missing"), ("pull_ohm", "pull resistor missing")):
            if getattr(driver, field) is not None:
                without: dict[str, Any] = {field: None}
                found.append(Change(words, partial(change_way, driver_id=driver_id, **without)))
    if any(channel.resistor_ohm for channel in build.channels_of[driver_id]):
        bare = partial(change_channels, driver_id=driver_id, resistor_ohm=None)
        found.append(Change("the lamps' resistors missing", bare))
    return found


def _alike(now: Part, other: Part) -> bool:
    return not (isinstance(now, ChipPart) and isinstance(other, ChipPart)) or now.role == other.role


def _fitted(build: Build, driver_id: str, place: str, part: Part) -> Build:
    return change_way(with_part(build, part), driver_id, **{place: part.id})


def outcomes(
    evidence: Evidence, driver_id: str, parts: Iterable[Part], cancelled: Callable[[], bool]
) -> Iterator[Outcome]:
    """The driver as it is, then each change, solved and judged by the rules on driving.

    Args:
        evidence: the build as it is, with its results.
        driver_id: the driver.
        parts: what might be fitted.
        cancelled: asked between changes whether to stop.
    """
    for change in [Change("as it is", lambda build: build), *changes_of(evidence.build, driver_id, parts)]:
        if cancelled():
            return
        try:
            yield _outcome(evidence, driver_id, change)
        except LanternError as error:
            yield Outcome(change, refusal=error.sentence())


def _outcome(evidence: Evidence, driver_id: str, change: Change) -> Outcome:
    build = change.edit(evidence.build)
    result = solve_drive(build).by_driver[driver_id]
    changed = replace(evidence, build=build)
    found = [
        finding
        for code, rule in rules().items()
        if subject_of(code).startswith(ALONE)
        for finding in rule(changed)
        if _on_driver(build, driver_id, finding)
    ]
    hot = [block.value for block in result.blocks if block.unit == "°C"]
    return Outcome(
        change, float(result.on_a.max()) if len(result.on_a) else 0.0,
        max(hot, default=result.case.board.ambient_c), tuple(sorted(found, key=lambda each: each.severity)),
    )  # fmt: skip


def _on_driver(build: Build, driver_id: str, finding: Finding) -> bool:
    """Whether a finding is about a driver, or about the board that it is on."""
    board_id = next(driver.board_id for driver in build.drivers if driver.id == driver_id)
    return driver_id in finding.place.all("drivers") or board_id in finding.place.all("boards")
