"""The state machine: from one state and the readings of a frame to the next, in whole numbers of 32 bits."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from tiny_lantern.show.answering.tables import (
    ALL_BITS,
    ALL_WAY,
    HELD_FROM,
    HELD_TO,
    MOST,
    NEXT,
    ONE,
    PACE_ONE,
    WHOLE_SHOW,
    Answer,
    Hears,
    Tables,
)

PACE_BITS, PART = 12, PACE_ONE - 1


@dataclass(frozen=True)
class Heard:
    """What an input was last heard to be: the reading that counted, how far it is moved, whether it is held, for how
    many frames it is deaf, and whether it was just pressed or let go."""

    counts: int
    way: int
    held: bool
    deaf: int = 0
    pressed: bool = False
    released: bool = False


@dataclass(frozen=True)
class State:
    """What inputs and rules have made of the show: its frame, counted on as long as it plays again, and the part of the
    next; of each effect with a clock of its own its frame and the part of the next; each input, the step and the value
    of each rule, and the rule whose scene stays, None without."""

    frame: int
    part: int
    clocks: tuple[tuple[int, int], ...]
    heard: tuple[Heard, ...]
    steps: tuple[int, ...]
    values: tuple[int, ...]
    staying: int | None = None


def begin(tables: Tables, readings: Sequence[int], frame: int = 0) -> State:
    """The state in which a show begins; what is held then was not pressed.

    Args:
        tables: what it answers to.
        readings: what each input reads: counts, or 0 and 1, (n_inputs,). [-]
        frame: the frame that it begins with. [-]
    """
    heard = tuple(_first_heard(one, reading) for one, reading in zip(tables.hears, readings, strict=True))
    steps = (0,) * len(tables.answers)
    return State(frame, 0, _clocks_at(tables, frame), heard, steps, _values(tables, heard, steps))


def step(tables: Tables, state: State, readings: Sequence[int]) -> State:
    """The state a frame later.

    Args:
        tables: what it answers to.
        state: the state.
        readings: what each input reads: counts, or 0 and 1, (n_inputs,). [-]
    """
    told = _told(tables, state, readings)
    asked = _asked(tables, told)
    moved = _paced(tables, told) if asked is None else _begun(tables, told, asked)
    return _clocks(tables, moved, shown_of(tables, state.frame))


def still(tables: Tables, state: State, readings: Sequence[int]) -> State:
    """The state with other readings while the show stands still: values follow and scenes begin, no time passes, and
    nothing is deaf.

    Args:
        tables: what it answers to.
        state: the state.
        readings: what each input reads: counts, or 0 and 1, (n_inputs,). [-]
    """
    told = _awake(_told(tables, _awake(state), readings))
    asked = _asked(tables, told)
    if asked is None:
        return told
    begun = _begun(tables, told, asked)
    return replace(begun, clocks=_clocks_at(tables, begun.frame))


def _awake(state: State) -> State:
    """A state in which no input is deaf."""
    return replace(state, heard=tuple(replace(one, deaf=0) for one in state.heard))


def moved_to(tables: Tables, state: State, frame: int) -> State:
    """A state with another frame in hand: clocks stand as if their effects had run as they are laid.

    Args:
        tables: what it answers to.
        state: the state, which else stays as it is.
        frame: the frame. [-]
    """
    return replace(state, frame=frame, part=0, clocks=_clocks_at(tables, frame))


def _clocks_at(tables: Tables, frame: int) -> tuple[tuple[int, int], ...]:
    shown = shown_of(tables, frame)
    return tuple(
        ((shown - clock.begin) % clock.length if clock.begin <= shown < clock.end else 0, 0) for clock in tables.clocks
    )


def _told(tables: Tables, state: State, readings: Sequence[int]) -> State:
    """The state once its inputs have been read: steps and values follow."""
    both = zip(tables.hears, state.heard, readings, strict=True)
    heard = tuple(_hear(one, before, reading) for one, before, reading in both)
    steps = tuple(
        (at + heard[answer.input].pressed) % answer.steps if answer.valued and answer.when == "pressed" else at
        for answer, at in zip(tables.answers, state.steps, strict=True)
    )
    return replace(state, heard=heard, steps=steps, values=_values(tables, heard, steps))


def _asked(tables: Tables, state: State) -> int | None:
    """The rule whose moment is now, the last of them where there are several; None without. [-]"""
    now = [number for number, answer in enumerate(tables.answers) if _now(answer, state.heard)]
    return now[-1] if now else None


def shown_of(tables: Tables, frame: int) -> int:
    """The frame of the show that is seen at a frame counted on. [-]

    Args:
        tables: what it answers to.
        frame: the frame. [-]
    """
    return frame % tables.ticks if tables.repeats or frame < tables.ticks * tables.plays else tables.ticks - 1


def ended(tables: Tables, frame: int) -> bool:
    """Whether the show is over.

    Args:
        tables: what it answers to.
        frame: the frame. [-]
    """
    return not tables.repeats and frame >= tables.ticks * tables.plays


def _way(one: Hears, counts: int) -> int:
    """How far an input is moved: ``(a − r) · 2^14 div (F − r)`` between its ends, of which so much as the dead band
    belongs to each  (1). [Q14]

    Source: linear scaling in whole numbers.
    """
    gone, whole = (counts - one.rest, one.full - one.rest) if one.full > one.rest else (
        one.rest - counts, one.rest - one.full)  # fmt: skip
    if gone <= one.dead:
        return 0
    return ALL_WAY if gone >= whole - one.dead else gone * ALL_WAY // whole  # (1)


def _first_heard(one: Hears, reading: int) -> Heard:
    way = _way(one, reading) if one.volts else ALL_WAY * (reading == one.full)
    return Heard(reading, way, way >= HELD_FROM)


def _hear(one: Hears, before: Heard, reading: int) -> Heard:
    """An input a frame later: an edge counts at once, then it is deaf for a while; volts have a dead band, and are held
    from five eighths of the way to three."""
    if not one.volts:
        if before.deaf:
            return replace(before, deaf=before.deaf - 1, pressed=False, released=False)
        held = reading == one.full
        changed = held != before.held
        return Heard(reading, ALL_WAY * held, held, one.deaf if changed else 0, changed and held, changed and not held)
    counts = reading if abs(reading - before.counts) > one.dead else before.counts
    way = _way(one, counts)
    held = way > HELD_TO if before.held else way >= HELD_FROM
    return Heard(counts, way, held, 0, held and not before.held, before.held and not held)


def _values(tables: Tables, heard: Sequence[Heard], steps: Sequence[int]) -> tuple[int, ...]:
    return tuple(_value(answer, heard[answer.input], at) for answer, at in zip(tables.answers, steps, strict=True))


def _value(answer: Answer, heard: Heard, at: int) -> int:
    """The value of a rule between its ends; even to the eye by the square of the way. [Q16], of speeds [Q12]"""
    if not answer.valued:
        return 0
    if answer.when == "turned":
        way = heard.way
    elif answer.when == "held":
        way = ALL_WAY * heard.held
    else:
        way = at * ALL_WAY // (answer.steps - 1)
    way = way * way >> ALL_BITS if answer.even else way
    if answer.high >= answer.low:
        return answer.low + ((answer.high - answer.low) * way >> ALL_BITS)
    return answer.low - ((answer.low - answer.high) * way >> ALL_BITS)


def _now(answer: Answer, heard: Sequence[Heard]) -> bool:
    """Whether a rule at a moment has its moment now."""
    if answer.valued:
        return False
    one = heard[answer.input]
    return one.pressed if answer.when == "pressed" else one.released


def _begun(tables: Tables, state: State, number: int) -> State:
    """The state in which the scene of a rule begins; a show that is over begins anew with it."""
    answer, shown = tables.answers[number], shown_of(tables, state.frame)
    first = 0 if ended(tables, state.frame) else state.frame - shown
    begins = answer.low
    if begins == NEXT:
        begins = next((scene for scene in tables.scenes if scene > shown), 0)
    return replace(state, frame=first + begins, part=0, staying=number if answer.stays and answer.low != NEXT else None)


def _pace(tables: Tables, state: State, clock: int) -> int:
    """How fast a clock runs: the speeds of its rules, multiplied. [Q12]"""
    found = PACE_ONE
    for answer, paced in tables.paced:
        if paced == clock:
            found = min(found * state.values[answer] >> PACE_BITS, MOST)
    return found


def _paced(tables: Tables, state: State) -> State:
    """The state as many frames later as the show's pace is."""
    gone = state.part + _pace(tables, state, WHOLE_SHOW)
    frame = state.frame
    for _ in range(gone >> PACE_BITS):
        frame = _after(tables, state, frame)
    return replace(state, frame=frame, part=gone & PART)


def _after(tables: Tables, state: State, frame: int) -> int:
    """The frame after one; a scene that stays begins anew where it would end."""
    if state.staying is not None:
        answer, shown = tables.answers[state.staying], shown_of(tables, frame)
        if shown + 1 == answer.high:
            return frame - shown + answer.low
    if tables.repeats:
        return (frame + 1) % tables.ticks
    return frame + (frame < tables.ticks * tables.plays)


def _clocks(tables: Tables, state: State, before: int) -> State:
    """The clocks of effects a frame later; one begins with its effect, and anew where that would be over."""
    shown, found = shown_of(tables, state.frame), []
    for number, (clock, (frame, part)) in enumerate(zip(tables.clocks, state.clocks, strict=True), 1):
        if not clock.begin <= shown < clock.end or not clock.begin <= before < clock.end:
            found.append((0, 0))
            continue
        gone = part + _pace(tables, state, number)
        found.append(((frame + (gone >> PACE_BITS)) % clock.length, gone & PART))
    return replace(state, clocks=tuple(found))


def share_of(tables: Tables, state: State, slot: int) -> tuple[int, int, int]:
    """By how much a light is dimmed in red, green and blue: the values of its rules, multiplied. [Q16]

    Args:
        tables: what it answers to.
        state: the state.
        slot: the light on the Line. [-]
    """
    found = [ONE, ONE, ONE]
    for shade in tables.shaded:
        value = state.values[shade.answer]
        if shade.first <= slot < shade.stop and value < ONE:
            found = [share * value >> 16 if has else share for share, has in zip(found, shade.colours, strict=True)]
    return found[0], found[1], found[2]
