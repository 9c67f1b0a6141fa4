"""Pins that a board dims by its own timers."""

from __future__ import annotations

from tiny_lantern.code.board.text import Text

TYPE = """\
/* Pins that the board dims by its own timers. */
typedef struct {
    uint8_t pin;
    int16_t channel;
    uint8_t low;
    uint16_t full; /* steps */
} dimmed_t;
"""
C = """\
static void set_dimmed(uint32_t now)
{
    uint16_t at;
    (void)now;
    for (at = 0; at < DIMMED; at++) {
        const LANTERN_FLASH dimmed_t *one = &dimmed[at];
        const uint16_t level = in_steps(asked[one->channel], one->full);
        pin_dim(one->pin, one->low ? (uint16_t)(one->full - level) : level, one->full);
    }
}
"""
PYTHON = """
def set_dimmed(now):
    for pin, channel, low, full in DIMMED:
        level = in_steps(asked[channel], full)
        pins.pin_dim(pin, full - level if low else level, full)

"""
TEXT = Text(TYPE, C, PYTHON, begins=False)
