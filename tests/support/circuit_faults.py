"""Circuits with a fault: a question of the reference put to the program, its verdict in the reference's words."""

from __future__ import annotations

from typing import Any

from tests.support.circuits import netlist_of
from tiny_lantern.bench.next_reading import Next, next_reading
from tiny_lantern.bench.plan import Plan
from tiny_lantern.bench.ranking import Look, diagnose
from tiny_lantern.bench.readings import Probe, Taken

Json = dict[str, Any]
OPEN = float("inf")


def look_of(question: Json) -> Look:
    """A question as the program's look at a circuit."""
    planned = question["planned"]
    roles = {each["id"]: each["role"] for each in planned["elements"] if each.get("role")}
    plan = Plan(netlist_of({"netlist": planned}), roles)
    taken = tuple(Taken(_probe(each), *_value(each)) for each in question["readings"])
    return Look(plan, taken, question["seen"])


def _probe(reading: Json) -> Probe:
    if reading["kind"] == "V":
        return Probe("V", reading["plus"], reading["minus"])
    if reading["kind"] == "A":
        return Probe("A", element=reading["element"])
    return Probe("ohm", reading["a"], reading["b"])


def _value(reading: Json) -> tuple[float, float]:
    return (OPEN, 1.0) if reading["value"] is None else (reading["value"], reading["sigma"])


def verdict_of(question: Json) -> Json:
    """The program's verdict: causes, the next reading, and no fit."""
    look = look_of(question)
    verdict = diagnose([look])
    ranking = [
        {"kind": each.kind, "place": each.best.place or None, "posterior": each.posterior} for each in verdict.causes
    ]
    return {"ranking": ranking, "next": _next(next_reading([look], verdict)), "fit": None}


def _next(found: Next | None) -> Json | None:
    if found is None:
        return None
    probe = found.easiest.probe
    where = {"plus": probe.plus, "minus": probe.minus} if probe.kind == "V" else {"element": probe.element}
    two = (found.leader.best, found.other.best)
    return {
        "between": [each.kind for each in two], "at": [each.place or None for each in two], "kind": probe.kind, **where,
    }  # fmt: skip
