"""Outputs of a demultiplexer, lit one at a time."""

from __future__ import annotations

from tiny_lantern.code.board.text import Text

TYPE = """\
/* Outputs of a demultiplexer, lit one at a time: its number on the select lines, low on the enable
 * line. */
typedef struct {
    uint8_t selects;
    uint8_t select[6];
    uint8_t enable;
    uint8_t count;
    const LANTERN_FLASH int16_t *channels;
    uint32_t dwell_us;
} turns_t;
"""
C = """\
static uint8_t turn_at[TURNS];
static uint32_t turn_due[TURNS];

static void step_turns(uint32_t now)
{
    uint16_t at;
    uint8_t bit;
    for (at = 0; at < TURNS; at++) {
        const LANTERN_FLASH turns_t *one = &turns[at];
        if (!due(now, turn_due[at])) {
            continue;
        }
        pin_set(one->enable, 1); /* dark while the number changes */
        for (bit = 0; bit < one->selects; bit++) {
            pin_set(one->select[bit], (turn_at[at] >> bit) & 1);
        }
        pin_set(one->enable, !lit(one->channels[turn_at[at]]));
        turn_at[at] = (uint8_t)((turn_at[at] + 1) % one->count);
        turn_due[at] += one->dwell_us;
        if (due(now, turn_due[at])) {
            turn_due[at] = now;
        }
    }
}

static void begin_turns(uint32_t now)
{
    uint16_t at;
    for (at = 0; at < TURNS; at++) {
        pin_set(turns[at].enable, 1);
        turn_at[at] = 0;
        turn_due[at] = now;
    }
}

"""
PYTHON = """
turn_at = [0] * len(TURNS)
turn_due = [0] * len(TURNS)


def step_turns(now):
    for at, (selects, enable, channels, dwell_us) in enumerate(TURNS):
        if not due(now, turn_due[at]):
            continue
        pins.pin_set(enable, 1)  # dark while the number changes
        for bit, select in enumerate(selects):
            pins.pin_set(select, turn_at[at] >> bit & 1)
        pins.pin_set(enable, not lit(channels[turn_at[at]]))
        turn_at[at] = (turn_at[at] + 1) % len(channels)
        turn_due[at] += dwell_us
        if due(now, turn_due[at]):
            turn_due[at] = now


def begin_turns(now):
    for at, (selects, enable, channels, dwell_us) in enumerate(TURNS):
        pins.pin_set(enable, 1)
        turn_at[at], turn_due[at] = 0, now

"""
TEXT = Text(TYPE, C, PYTHON, sets=False, steps=True)
