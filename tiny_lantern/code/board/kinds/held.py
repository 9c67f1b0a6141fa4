"""Self-changing lamps that are full, held or off."""

from __future__ import annotations

from tiny_lantern.code.board.text import Text

TYPE = """\
/* Lamps that change by themselves: full while they are lit, held while they are dark, so that they
 * keep their place; off before the show begins and after it was stopped. One switch goes off
 * before the other goes on. */
typedef struct {
    uint8_t full, hold;
    int16_t channel;
    uint8_t low;
} held_t;
"""
C = """\
static void set_held(uint32_t now)
{
    uint16_t at;
    (void)now;
    for (at = 0; at < HELD; at++) {
        const LANTERN_FLASH held_t *one = &held[at];
        const uint8_t full = lit(one->channel);
        pin_set(full ? one->hold : one->full, one->low);
        pin_set(full ? one->full : one->hold, !one->low);
    }
}

static void begin_held(uint32_t now)
{
    uint16_t at;
    (void)now;
    for (at = 0; at < HELD; at++) {
        pin_set(held[at].full, held[at].low);
        pin_set(held[at].hold, held[at].low);
    }
}

"""
PYTHON = """
def set_held(now):
    for full, hold, channel, low in HELD:
        one, other = (hold, full) if lit(channel) else (full, hold)
        pins.pin_set(one, low)  # one switch goes off before the other goes on
        pins.pin_set(other, not low)


def begin_held(now):
    for full, hold, channel, low in HELD:
        pins.pin_set(full, low)
        pins.pin_set(hold, low)

"""
TEXT = Text(TYPE, C, PYTHON)
