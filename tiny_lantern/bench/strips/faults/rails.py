"""A strip's rails: a joint or crack between two pixels or two strips."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from tiny_lantern.bench.fault import Sizes
from tiny_lantern.bench.strips.alter import OPEN_OHM, SIDES, with_gap, with_joint
from tiny_lantern.bench.strips.fault import Place, Size, StripFault, StripFaultKind, Sweep
from tiny_lantern.bench.strips.plan import StripPlan, World
from tiny_lantern.model.quantities import engineering

BAD = Sizes(0.02, 5.0, 9, 48, by_ratio=True)
RAIL_WORDS = {"pos": "positive rail", "neg": "return rail"}


def _gaps(plan: StripPlan) -> Iterator[tuple[Place, ...]]:
    """The gaps between pixels of each rail, zone by zone."""
    for number, strip in enumerate(plan.strips):
        for rail in SIDES:
            cuts = (*strip.cuts, strip.pixel_count) if rail == "pos" else (strip.pixel_count,)
            first = 1
            for cut in cuts:
                found: tuple[Place, ...] = tuple(
                    {"run": number, "rail": rail, "before_pixel": at} for at in range(first, cut)
                )
                if found:
                    yield found
                first = cut + 1


def _with(plan: StripPlan, place: Place, ohm: float) -> World:
    rail = str(place["rail"])
    if "joint" in place:
        return World(with_joint(plan.network, int(place["joint"]), rail, ohm))
    run = plan.run(int(place["run"]))
    return World(with_gap(plan.network, run, rail, int(place["before_pixel"]), ohm))


def _joints(plan: StripPlan) -> Iterator[tuple[Place, ...]]:
    for joint in range(len(plan.build.joints)):
        for rail in SIDES:
            yield ({"joint": joint, "rail": rail},)


def _sweeps(kind: str, sizes: Sizes | None) -> Callable[[StripPlan], Iterator[Sweep]]:
    def sweeps(plan: StripPlan) -> Iterator[Sweep]:
        def world(place: Place, size: Size) -> World:
            return _with(plan, place, float(size.get("ohm", OPEN_OHM)))

        for places in (*_gaps(plan), *_joints(plan)):
            along = "before_pixel" if "before_pixel" in places[0] else ""
            yield Sweep(kind, places, world, "ohm" if sizes else "", sizes, along=along)

    return sweeps


def _where(plan: StripPlan, fault: StripFault) -> str:
    rail = RAIL_WORDS[str(fault.place["rail"])]
    if "joint" in fault.place:
        joint = plan.build.joints[int(fault.place["joint"])]
        one, other = (plan.build.line.piece(each).name for each in (joint.from_strip_id, joint.to_strip_id))
        return f"the {rail} between “{one}” and “{other}”"
    at, strip = int(fault.place["before_pixel"]), plan.strips[int(fault.place["run"])]
    return f"the {rail} of “{strip.name}” between pixels {at - 1} and {at}"


def _bad_words(plan: StripPlan, fault: StripFault) -> str:
    return f"{_where(plan, fault)} has a bad joint of {engineering(float(fault.size['ohm']), 'ohm')}"


KINDS = (
    StripFaultKind("joint_resistance", _bad_words, _sweeps("joint_resistance", BAD)),
    StripFaultKind("rail_crack", lambda plan, fault: f"{_where(plan, fault)} is cracked", _sweeps("rail_crack", None)),
)
