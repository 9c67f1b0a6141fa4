"""Knobs that set how bright lamps are."""

from __future__ import annotations

TYPE = """\
/* Knobs: none of the light at rest, all of it at full. */
typedef struct {
    uint8_t pin;
    uint16_t first, count; /* the channels that it sets */
    uint16_t rest, full;   /* counts */
} knob_t;
"""
C = """\
static void turn_down(void)
{
    uint16_t at, channel;
    for (at = 0; at < KNOBS; at++) {
        const LANTERN_FLASH knob_t *one = &knobs[at];
        const uint16_t counts = pin_counts(one->pin);
        const uint32_t above = (counts > one->rest) ? (uint32_t)(counts - one->rest) : 0;
        const uint32_t share = (counts >= one->full) ? 65536u : above * 65536u / (uint32_t)(one->full - one->rest);
        for (channel = one->first; channel < one->first + one->count; channel++) {
            asked[channel] = (uint16_t)((asked[channel] * share) >> 16);
        }
    }
}

"""
PYTHON = """
def turn_down():
    for pin, first, count, rest, full in KNOBS:
        counts = pins.pin_counts(pin)
        share = 65536 if counts >= full else max(counts - rest, 0) * 65536 // (full - rest)
        for channel in range(first, first + count):
            asked[channel] = asked[channel] * share >> 16

"""
