"""The state machine of inputs and rules as Python, the same for every build; its tables come after it."""

from __future__ import annotations

PYTHON = '''
TURNED, HELD, PRESSED, RELEASED = range(4)
NEXT_SCENE = -1
ALL_WAY, HELD_FROM, HELD_TO = 16384, 10240, 6144
answering = {"frame": 0, "part": 0, "staying": None}
heard, step_of, value_of, own_ticks, clock_part = [], [], [], {}, []


def way_of(rest, full, dead, counts):
    """How far an input is moved, ALL_WAY for all of it; so much as the dead band belongs to each end."""
    gone, whole = (counts - rest, full - rest) if full > rest else (rest - counts, rest - full)
    if gone <= dead:
        return 0
    return ALL_WAY if gone >= whole - dead else gone * ALL_WAY // whole


def hear(one, now, reading):
    """An input a frame later: counts, way, held, deaf, pressed, released."""
    volts, rest, full, dead, deaf = one
    before = now[2]
    if volts:
        if abs(reading - now[0]) > dead:
            now[0] = reading
        now[1] = way_of(rest, full, dead, now[0])
        now[2] = now[1] > HELD_TO if before else now[1] >= HELD_FROM
    elif now[3]:
        now[3] -= 1
    else:
        now[2] = reading == full
        now[1] = ALL_WAY if now[2] else 0
        now[3] = deaf if now[2] != before else 0
    now[4], now[5] = now[2] and not before, before and not now[2]


def value_at(rule, at):
    """The value of a rule between its ends; even to the eye by the square of the way."""
    number, when, valued, low, high, steps, even, stays = rule
    if not valued:
        return 0
    way = heard[number][1]
    if when == HELD:
        way = ALL_WAY if heard[number][2] else 0
    elif when == PRESSED:
        way = at * ALL_WAY // (steps - 1)
    if even:
        way = way * way >> 14
    return low + ((high - low) * way >> 14) if high >= low else low - ((low - high) * way >> 14)


def find_values():
    value_of[:] = [value_at(rule, at) for rule, at in zip(RULES, step_of)]


def is_seen(effect):
    """Whether an effect is seen: what every rule on it has it."""
    return all(value_of[rule] >= 32768 for rule, gated in GATES if gated is effect)


def pace_of(clock):
    """How fast a clock runs, 4096 for as fast as it is laid: the speeds of its rules, multiplied."""
    found = 4096
    for rule, paced in PACES:
        if paced == clock:
            found = min(found * value_of[rule] >> 12, 65535)
    return found


def frame_after(tick):
    """The frame after one; a scene that stays begins anew where it would end."""
    if answering["staying"] is not None:
        rule, (shown, _) = RULES[answering["staying"]], shown_at(tick)
        if shown + 1 == rule[4]:
            return tick - shown + rule[3]
    return after(tick)


def begin_scene(at):
    """Where a rule's scene begins; a show that is over begins anew with it."""
    rule, (shown, _) = RULES[at], shown_at(answering["frame"])
    first = 0 if over_at(answering["frame"]) else answering["frame"] - shown
    begins = rule[3]
    answering["staying"] = at if rule[7] and begins != NEXT_SCENE else None
    if begins == NEXT_SCENE:
        begins = min([scene for scene in SCENE_BEGINS if scene > shown] or [0])
    answering["frame"], answering["part"] = first + begins, 0


def run_clocks(before):
    """The clocks of effects a frame later; one begins with its effect, and anew where that would be over."""
    shown = shown_at(answering["frame"])[0]
    for at, (effect, begin, end, length) in enumerate(CLOCKS):
        if not begin <= shown < end or not begin <= before < end:
            own_ticks[effect], clock_part[at] = 0, 0
            continue
        gone = clock_part[at] + pace_of(at + 1)
        own_ticks[effect], clock_part[at] = (own_ticks[effect] + (gone >> 12)) % length, gone & 4095


def answer_begin(read):
    """The first frame; what is held then was not pressed."""
    heard.clear()
    for at, (volts, rest, full, dead, deaf) in enumerate(INPUTS):
        counts = read(at)
        way = way_of(rest, full, dead, counts) if volts else ALL_WAY * (counts == full)
        heard.append([counts, way, way >= HELD_FROM, 0, False, False])
    step_of[:] = [0] * len(RULES)
    find_values()
    answering["frame"], answering["part"], answering["staying"] = 0, 0, None
    own_ticks.clear()
    own_ticks.update({effect: 0 for effect, begin, end, length in CLOCKS})
    clock_part[:] = [0] * len(CLOCKS)
    return 0


def answer(read):
    """The frame after this one, as inputs and rules have it."""
    before, asked = shown_at(answering["frame"])[0], None
    for at, one in enumerate(INPUTS):
        hear(one, heard[at], read(at))
    for at, (number, when, valued, low, high, steps, even, stays) in enumerate(RULES):
        now = heard[number]
        if valued:
            if when == PRESSED and now[4]:
                step_of[at] = (step_of[at] + 1) % steps
        elif now[4] if when == PRESSED else now[5]:
            asked = at
    find_values()
    if asked is not None:
        begin_scene(asked)
    else:
        gone = answering["part"] + pace_of(0)
        for _ in range(gone >> 12):
            answering["frame"] = frame_after(answering["frame"])
        answering["part"] = gone & 4095
    run_clocks(before)
    return answering["frame"]


def shade(slot, own):
    """A light dimmed as the rules have it: their values, multiplied."""
    share = [65536] * 3
    for rule, first, stop, colours in SHADES:
        value = value_of[rule]
        if first <= slot < stop and value < 65536:
            share = [old * value >> 16 if has else old for old, has in zip(share, colours)]
    return [(byte * part + 32768) >> 16 for byte, part in zip(own, share)]
'''
PYTHON_TOLD = '''

def given_state():
    """What inputs have made of the show, as the next board is told it: the value of each rule in three bytes, then the
    frame of each clock in four, the lowest byte first."""
    told = [value >> 8 * at & 255 for value in value_of for at in range(3)]
    return told + [own_ticks[clock[0]] >> 8 * at & 255 for clock in CLOCKS for at in range(4)]


def take_state(told):
    """What the board before has told of it."""
    whole = 3 * len(RULES)
    value_of[:] = [sum(told[first + at] << 8 * at for at in range(3)) for first in range(0, whole, 3)]
    for number, clock in enumerate(CLOCKS):
        first = whole + 4 * number
        own_ticks[clock[0]] = sum(told[first + at] << 8 * at for at in range(4))
'''
