"""Rules on what the show does at its ends, and whether a board can hold it."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np

from tiny_lantern.code.files import sizes_of
from tiny_lantern.code.score import score_of
from tiny_lantern.findings.driven import one_step
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_show import remove_effect
from tiny_lantern.model.effects import Effect, SlotRef, look_of
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.place import Place, Ref
from tiny_lantern.model.quantities import clock
from tiny_lantern.show.weave import render

LONGEST_SHOW_S, HAIR_S = 3600.0, 1e-9


@rule("stays-lit", "{n} lights stay lit after the end")
def stays_lit(evidence: Evidence) -> Iterator[Finding]:
    """A show that turns lamps on and never off: it holds its last frame, and some lights are lit in it."""
    build = evidence.build
    if build.after_end != "hold" or not build.effects or not build.line.slot_count:
        return
    lit = np.flatnonzero(render(build, np.array([build.timeline.count - 1]))[0].max(axis=1))
    if len(lit):
        ref = build.line.ref_at(int(lit[0]))
        yield Finding(
            Severity.HINT, "stays-lit", Place(ref, None, (), build.show_s),
            f"{len(lit)} light{'s stay' if len(lit) > 1 else ' stays'} lit after the show",
            f"Its last frame is held: {build.line.piece(ref.piece_id).spoken(ref.index)} among them. Batteries run "
            "down, and lamps stay warm.",
            None, (Fix("Go dark after the end", partial(change_build, after_end="dark")),),
        )  # fmt: skip


@rule("never-seen", "{n} effects are never seen")
def never_seen(evidence: Evidence) -> Iterator[Finding]:
    """An effect that begins when the show is already over."""
    build = evidence.build
    for effect in build.effects:
        late_s = effect.start_s - build.show_s
        if late_s < 0:
            continue
        needed_s = round(effect.start_s + effect.length_s, 3)
        longer = Fix(f"Show of {needed_s:g} s", partial(change_build, show_s=needed_s))
        gone = Fix("Remove it", partial(remove_effect, effect_id=effect.id))
        yield Finding(
            Severity.HINT, "never-seen", Place(effect.first, None, (Ref("effects", effect.id),), effect.start_s),
            f"{effect.look.word.capitalize()} at {clock(effect.start_s)} is never seen",
            f"The show ends at {clock(build.show_s)}, {late_s:g} s before it begins.", None,
            (longer, gone) if needed_s <= LONGEST_SHOW_S else (gone,),
        )  # fmt: skip


@rule("ends-twice", "{n} times the end of a run is lit twice")
def ends_twice(evidence: Evidence) -> Iterator[Finding]:
    """A chase one way and then one the other way over the same lights: the light at the turn is lit twice."""
    build = evidence.build
    chases = [effect for effect in build.effects if effect.look.kind == "chase"]
    by_ends: dict[tuple[SlotRef, SlotRef], list[Effect]] = {}
    for effect in chases:
        by_ends.setdefault((effect.first, effect.last), []).append(effect)
    for there in chases:
        back = _turning_back(build, there, by_ends[there.first, there.last])
        if back is not None:
            yield Finding(
                Severity.HINT, "ends-twice", Place(there.last, None, (Ref("effects", back.id),), back.start_s),
                f"The end of a run is lit twice at {clock(back.start_s)}",
                "One chase ends there and the other begins there, so the turn is 1 frame or more too long. A scanner "
                "visits each end once.",
                None, (Fix("Make it a scanner", partial(_scanner, there_id=there.id, back_id=back.id)),),
            )  # fmt: skip


def _turning_back(build: Build, there: Effect, chases: list[Effect]) -> Effect | None:
    """The chase over the same lights that begins where one ends and runs the other way."""
    end_s, speed = there.start_s + there.length_s, there.look.values["speed_px_per_s"]
    return next(
        (
            other
            for other in chases
            if abs(other.start_s - end_s) < 1 / build.tick_hz + HAIR_S
            and other.look.values["speed_px_per_s"] * speed < 0
        ),
        None,
    )


def _scanner(build: Build, there_id: str, back_id: str) -> Build:
    """One scanner over both times in place of two chases."""
    there, back = (next(each for each in build.effects if each.id == identity) for identity in (there_id, back_id))
    values = there.look.values
    look = look_of(
        "scanner", colour=values["colour"], length_px=values["length_px"], tail_px=values["tail_px"],
        speed_px_per_s=abs(values["speed_px_per_s"]),
    )  # fmt: skip
    whole = revise(there, look=look, length_s=back.start_s + back.length_s - there.start_s)
    effects = tuple(whole if each.id == there_id else each for each in build.effects if each.id != back_id)
    return revise(build, effects=effects)


@rule("code-memory", "{n} boards are too small for the show")
def code_memory(evidence: Evidence) -> Iterator[Finding]:
    """A board with less memory than a frame of its lights takes, or less room than the show's code does."""
    build = evidence.build
    if not build.boards or not build.effects or not build.line.slot_count:
        return
    score = score_of(build)
    for part, needs in sizes_of(build, score):
        board = next(each for each in build.boards if each.id == part.board_id)
        has = build.shelf.find(BoardPart, board.part_id)
        for word, needed, there in (
            ("memory", needs.ram_bytes, has.memory_bytes),
            ("room for the programme", needs.flash_bytes, has.flash_bytes),
        ):  # fmt: skip
            if needed > there:
                yield Finding(
                    Severity.WONT_WORK, "code-memory", Place.on("boards", board.id),
                    f"{board.name} has too little {word}",
                    f"The show is estimated to need {needed:,} bytes of {there:,}: {needed - there:,} too many. Fewer "
                    "lights or kinds of effect on it, or a larger board.",
                    one_step(f"Bytes of {word}", "lights · colours + what runs" if word == "memory" else
                             "programs + tables + effects", f"{len(score.effects)} effects", f"{needed:,} bytes"),
                )  # fmt: skip
