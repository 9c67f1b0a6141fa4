"""What the program tells of builds, as plain data: findings with workings, and all that is solved of its drive."""

from __future__ import annotations

from dataclasses import asdict, fields, is_dataclass
from typing import Any

import numpy as np

from tiny_lantern.electrical.driven.solution import DriveSolution, solve_drive
from tiny_lantern.electrical.power import solve_power
from tiny_lantern.electrical.power_tree import PowerNode, power_tree, rail_states
from tiny_lantern.electrical.workings import feed_working, supplies_working, supply_working
from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import find_flashes, gather
from tiny_lantern.findings.finding import Finding
from tiny_lantern.findings.together import grouped
from tiny_lantern.model.build import Build, FullWhite, Load
from tiny_lantern.plans.feeds import plan_feeds
from tiny_lantern.plans.told import channel_working
from tiny_lantern.show.draw import show_draw
from tiny_lantern.show.figures import show_figures
from tiny_lantern.show.loads import duties_for

DIGITS = 9


def findings_told(build: Build, load: Load | None = None) -> list[dict[str, Any]]:
    """Every finding of a build: what it says, where, how it came about, and what would mend it."""
    found = check(gather(build, load or FullWhite(), find_flashes(build)))
    cards = [card for card in grouped(found) if card.members]
    return sorted(map(_finding, [*found, *cards]), key=lambda told: (told["code"], told["title"], told["message"]))


def _finding(finding: Finding) -> dict[str, Any]:
    place = finding.place
    return {
        "code": finding.code, "severity": finding.severity.label, "title": finding.title, "message": finding.message,
        "working": finding.working.text().splitlines() if finding.working else [],
        "tries": [fix.label for fix in finding.tries], "at": [str(place.piece_id), str(place.index), str(place.time_s)],
        "about": [f"{ref.kind}/{ref.id}" for ref in place.refs],
    }  # fmt: skip


def drive_told(build: Build) -> dict[str, Any]:
    """All that is solved of a build's drive: each driver with its working, boards, rails and the power tree."""
    drive = solve_drive(build)
    white = solve_power(build, duties_for(build, FullWhite())) if build.strips and build.feeds else None
    return {
        "drivers": {driver_id: _numbers(result) for driver_id, result in drive.by_driver.items()},
        "workings": _workings(drive),
        "boards": {board_id: [total.pins_a, total.own_a, total.used_pins, total.over, total.ports_a]
                   for board_id, total in drive.boards.items()},
        "rails": [_numbers(state) for state in rail_states(build, drive)],
        "tree": [_node(node) for node in power_tree(build, white, drive)],
    }  # fmt: skip


def _workings(drive: DriveSolution) -> dict[str, list[str]]:
    return {
        driver_id: channel_working(result, 0).text().splitlines()
        for driver_id, result in drive.by_driver.items()
        if result.case.channels
    }


def _node(node: PowerNode) -> list[Any]:
    return [node.name, node.kind, node.volts, node.idle_a, node.worst_a, node.allowed_a, node.note, node.over,
            [_node(child) for child in node.children]]  # fmt: skip


def power_told(build: Build) -> dict[str, Any]:
    """How the power of a build's strips comes about, feed by feed and supply by supply."""
    white = solve_power(build, duties_for(build, FullWhite()))
    return {
        "feeds": {feed.id: feed_working(build, white, feed.id).text().splitlines() for feed in build.feeds},
        "supplies": {each.id: supply_working(build, white, each.id).text().splitlines() for each in build.supplies},
        "all": supplies_working(build, white).text().splitlines(),
    }


def figures_told(build: Build) -> list[list[Any]]:
    """The show of a build in figures."""
    draw = show_draw(build) if build.strips else None
    names = ("what", "mean_a", "peak_a", "tick", "allowed_a", "lasts_s", "nights", "over")
    rows = show_figures(build, draw, solve_drive(build))
    return [[getattr(figure, name) for name in names] for figure in rows]


def plans_told(build: Build, strip_id: str, guard_shorts: bool = False) -> list[dict[str, Any]]:
    """Every plan for a line: where its feeds are, what it costs and leaves, how few feeds there could be, and why."""
    return [
        {
            "kind": plan.kind, "summary": plan.summary, "why": plan.why, "fuse": plan.fuse.id, "wire_m": plan.wire_m,
            "at": [[getattr(feed.attach, "strip_id", ""), getattr(feed.attach, "position_m", 0.0)]
                   for feed in plan.feeds],
            "margin": [plan.worst_v, plan.margin_v, float(plan.lows_v.min()), plan.supply_lacks_a],
            "bound": asdict(plan.bound), "sure": [plan.proven, plan.tried, plan.guarded, plan.verified],
            "parts": [part.id for part in plan.parts], "ways": [way.model_dump(mode="json") for way in plan.approaches],
        }
        for plan in plan_feeds(build, strip_id, alternatives=True, guard_shorts=guard_shorts)
    ]  # fmt: skip


def _numbers(result: Any) -> dict[str, Any]:
    """The figures among the fields of a result, and those of what stands in it."""
    found: dict[str, Any] = {}
    for field in fields(result):
        value = getattr(result, field.name)
        if isinstance(value, np.ndarray):
            found[field.name] = value.tolist()
        elif isinstance(value, bool | int | float | str):
            found[field.name] = value
        elif isinstance(value, tuple) and value and is_dataclass(value[0]):
            found[field.name] = [list(asdict(each).values()) for each in value]
    return found


def plain(value: Any) -> Any:
    """The same with numbers rounded and no endless ones, as JSON holds it."""
    if isinstance(value, dict):
        return {str(key): plain(each) for key, each in value.items()}
    if isinstance(value, list | tuple):
        return [plain(each) for each in value]
    if isinstance(value, float):
        return float(f"{value:.{DIGITS}g}") if np.isfinite(value) else str(value)
    return value.item() if isinstance(value, np.generic) else value
