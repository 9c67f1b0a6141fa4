"""Pins that are on while a lamp is lit."""

from __future__ import annotations

from tiny_lantern.code.board.text import Text

TYPE = """\
/* Pins that are on while a lamp is lit. A relay stays as it is for a time at least. */
typedef struct {
    uint8_t pin;
    int16_t channel;
    uint8_t low;
    uint16_t least_ms;
} switched_t;
"""
C = """\
static uint8_t switched_on[SWITCHED];
static uint32_t switched_at[SWITCHED];

static void set_switched(uint32_t now)
{
    uint16_t at;
    for (at = 0; at < SWITCHED; at++) {
        const LANTERN_FLASH switched_t *one = &switched[at];
        const uint8_t on = lit(one->channel);
        if (on == switched_on[at] || now - switched_at[at] < one->least_ms * UINT32_C(1000)) {
            continue;
        }
        switched_on[at] = on;
        switched_at[at] = now;
        pin_set(one->pin, on != one->low);
    }
}

static void begin_switched(uint32_t now)
{
    uint16_t at;
    for (at = 0; at < SWITCHED; at++) {
        switched_on[at] = 0;
        switched_at[at] = now - switched[at].least_ms * UINT32_C(1000);
        pin_set(switched[at].pin, switched[at].low);
    }
}

"""
PYTHON = """
switched_on = [0] * len(SWITCHED)
switched_at = [0] * len(SWITCHED)


def set_switched(now):
    for at, (pin, channel, low, least_ms) in enumerate(SWITCHED):
        on = lit(channel)
        if on != switched_on[at] and since(now, switched_at[at]) >= least_ms * 1000:
            switched_on[at] = on
            switched_at[at] = now
            pins.pin_set(pin, on != low)


def begin_switched(now):
    for at, (pin, channel, low, least_ms) in enumerate(SWITCHED):
        switched_on[at] = 0
        switched_at[at] = now - least_ms * 1000
        pins.pin_set(pin, low)

"""
TEXT = Text(TYPE, C, PYTHON)
