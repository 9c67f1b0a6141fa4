"""Lamps of two opposite dies between two pins that change places."""

from __future__ import annotations

from tiny_lantern.code.board.text import Text

TYPE = """\
/* Lamps of two opposite dies between two pins that change places: half of the time is each die's
 * own. */
typedef struct {
    uint8_t end[2];
    int16_t channel[2];
    uint32_t half_us, dead_us;
} pair_t;
"""
C = """\
static uint8_t pair_half[PAIRS], pair_dead[PAIRS];
static uint32_t pair_due[PAIRS];

static void step_pairs(uint32_t now)
{
    uint16_t at;
    for (at = 0; at < PAIRS; at++) {
        const LANTERN_FLASH pair_t *one = &pairs[at];
        const uint8_t half = pair_half[at];
        if (!due(now, pair_due[at])) {
            continue;
        }
        if (!pair_dead[at]) { /* both low before they change places */
            pin_set(one->end[0], 0);
            pin_set(one->end[1], 0);
            pair_dead[at] = 1;
            pair_due[at] += one->dead_us;
            continue;
        }
        pin_set(one->end[half], lit(one->channel[half]));
        pair_half[at] = (uint8_t)!half;
        pair_dead[at] = 0;
        pair_due[at] += one->half_us - one->dead_us;
        if (due(now, pair_due[at])) {
            pair_due[at] = now;
        }
    }
}

static void begin_pairs(uint32_t now)
{
    uint16_t at;
    for (at = 0; at < PAIRS; at++) {
        pin_set(pairs[at].end[0], 0);
        pin_set(pairs[at].end[1], 0);
        pair_half[at] = 0;
        pair_dead[at] = 0;
        pair_due[at] = now;
    }
}

"""
PYTHON = """
pair_half = [0] * len(PAIRS)
pair_dead = [0] * len(PAIRS)
pair_due = [0] * len(PAIRS)


def step_pairs(now):
    for at, (ends, channels, half_us, dead_us) in enumerate(PAIRS):
        half = pair_half[at]
        if not due(now, pair_due[at]):
            continue
        if not pair_dead[at]:  # both low before they change places
            pins.pin_set(ends[0], 0)
            pins.pin_set(ends[1], 0)
            pair_dead[at] = 1
            pair_due[at] += dead_us
            continue
        pins.pin_set(ends[half], lit(channels[half]))
        pair_half[at], pair_dead[at] = 1 - half, 0
        pair_due[at] += half_us - dead_us
        if due(now, pair_due[at]):
            pair_due[at] = now


def begin_pairs(now):
    for at, (ends, channels, half_us, dead_us) in enumerate(PAIRS):
        pins.pin_set(ends[0], 0)
        pins.pin_set(ends[1], 0)
        pair_half[at], pair_dead[at], pair_due[at] = 0, 0, now

"""
TEXT = Text(TYPE, C, PYTHON, sets=False, steps=True)
