"""Whether effects lie where they are meant to, and ask of lamps what those can show."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np

from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.light.own import own_colours, shown_as
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_show import change_look, place_effect
from tiny_lantern.model.effects import Effect
from tiny_lantern.model.line import Span
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.place import Place, Ref
from tiny_lantern.model.quantities import clock
from tiny_lantern.model.working import Step, Working
from tiny_lantern.show.weave import blocks, render

FEW_LIGHTS, SMALL_SHARE = 3, 0.1
BRIGHT, DARK = 64, 8


@rule("over-edge", "{n} effects reach a little into another piece")
def over_edge(evidence: Evidence) -> Iterator[Finding]:
    """An effect that covers a piece and a few lights of the next was hardly meant to: its end is off by those few."""
    build = evidence.build
    for effect in build.effects:
        if effect.group_id is not None:
            continue
        first, stop = build.line.covered(effect)
        spans = [span for span in build.line.spans if span.first < stop and span.stop > first]
        whole = [span for span in spans if first <= span.first and span.stop <= stop]
        if len(spans) < 2 or not whole:
            continue
        for span in (spans[0], spans[-1]):
            inside = min(stop, span.stop) - max(first, span.first)
            if inside < span.stop - span.first and inside <= max(FEW_LIGHTS, SMALL_SHARE * (span.stop - span.first)):
                yield _beyond(build, effect, span, inside, first, stop)


def _beyond(build: Build, effect: Effect, span: Span, inside: int, first: int, stop: int) -> Finding:
    ends = (first, stop - inside) if stop < span.stop else (first + inside, stop)
    edit = partial(
        place_effect, effect_id=effect.id, first_slot=ends[0], stop_slot=ends[1], start_s=effect.start_s,
        length_s=effect.length_s,
    )  # fmt: skip
    ref = build.line.ref_at(stop - 1 if stop < span.stop else first)
    lights = f"{inside} light{'s' if inside > 1 else ''}"
    return Finding(
        Severity.HINT, "over-edge", Place(ref, None, (Ref("effects", effect.id),), effect.start_s),
        f"{effect.look.word.capitalize()} at {clock(effect.start_s)} reaches {lights} into {span.piece.name}",
        f"Of {span.stop - span.first} lights of {span.piece.name} it covers {inside}, and other pieces whole. End it "
        "where the piece ends, or let it have all of both.",
        None, (Fix("End it at the piece", edit),),
    )  # fmt: skip


@rule("colour-lost", "{n} lamps are asked for colours that they do not have")
def colour_lost(evidence: Evidence) -> Iterator[Finding]:
    """A lamp of two colours stays dark when it is asked for a third one."""
    build = evidence.build
    parts = {part.id: part for part in build.parts}
    spans = [span for span in build.line.spans if _of_two_colours(parts[span.piece.part_id])]
    if not spans or not build.effects:
        return
    own, slots = own_colours(build), np.concatenate([np.arange(span.first, span.stop) for span in spans])
    lost: dict[int, tuple[int, int]] = {}
    for first, block in blocks(build, slots=slots):
        seen = np.stack([shown_as(frame.astype(float), own[slots]) for frame in block])
        dark = (block.max(axis=2) >= BRIGHT) & (seen.max(axis=2) <= DARK)
        for at in np.flatnonzero(dark.any(axis=0)):
            lost.setdefault(int(slots[at]), (first + int(dark[:, at].argmax()), int(at)))
    for span in spans:
        own_lost = {slot: tick for slot, (tick, _) in lost.items() if span.first <= slot < span.stop}
        if own_lost:
            yield _asked_in_vain(build, span, own_lost, parts[span.piece.part_id])


def _of_two_colours(part: Part) -> bool:
    return isinstance(part, LampPart) and len(part.dies) == 2


def _asked_in_vain(build: Build, span: Span, lost: dict[int, int], part: Part) -> Finding:
    slot, tick = min(lost.items(), key=lambda pair: (pair[1], pair[0]))
    when_s = build.timeline.begins_s(tick)
    assert isinstance(part, LampPart)
    words = " and ".join(die.name for die in part.dies)
    effect = next((one for one in reversed(build.effects) if _covers(build, one, slot, when_s)), None)
    fixes: tuple[Fix, ...] = ()
    if effect is not None and "colour" in effect.look.values and part.dies[0].name in PLAIN:
        colour = PLAIN[part.dies[0].name]
        fixes = (Fix(f"Ask for {part.dies[0].name}", partial(change_look, effect_id=effect.id, colour=colour)),)
    return Finding(
        Severity.WEAK_SPOT, "colour-lost",
        Place(build.line.ref_at(slot), None, (Ref("effects", effect.id),) if effect else (), when_s),
        f"{span.piece.name} stays dark at {clock(when_s)}",
        f"{len(lost)} of {span.stop - span.first} lamps are asked for a colour of which their dies, {words}, have "
        "nothing.",
        partial(_working, build, slot, tick, words), fixes,
    )  # fmt: skip


def _working(build: Build, slot: int, tick: int, words: str) -> Working:
    asked = render(build, np.array([tick]), np.array([slot]))[0, 0]
    seen = shown_as(asked[None].astype(float), own_colours(build)[[slot]])[0].round().astype(int)
    values = " ".join(map(str, asked.tolist()))
    step = Step(f"what {words} have of it", f"red green blue {values}", " ".join(map(str, seen.tolist())))
    return Working(build.line.piece(build.line.ref_at(slot).piece_id).name, (step,))


PLAIN = {"red": "#ff0000", "green": "#00ff00", "blue": "#0000ff"}


def _covers(build: Build, effect: Effect, slot: int, time_s: float) -> bool:
    first, stop = build.line.covered(effect)
    return first <= slot < stop and effect.start_s <= time_s + 1e-6 < effect.start_s + effect.length_s
