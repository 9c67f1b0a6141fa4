"""What several kinds of doing use: levels in steps, moments of a clock, the lines of a chain."""

from __future__ import annotations

LEVELS = """\
/* What the show asks of each channel, 0 to 65535. */
static uint16_t asked[CHANNELS];

/* A level in steps from 0 to full. */
static uint16_t in_steps(uint16_t level, uint16_t full)
{
    return (uint16_t)(((uint32_t)level * full + 32767u) / 65535u);
}

"""
LIT = """\
/* Whether a channel is lit at all; an output that nothing hangs on is dark. */
static uint8_t lit(int16_t channel)
{
    return (uint8_t)(channel != DARK && asked[channel] != 0);
}

"""
DUE = """\
/* Whether a moment has come; the clock may begin again at 0 in between. */
static uint8_t due(uint32_t now, uint32_t moment)
{
    return (uint8_t)((now - moment) < UINT32_C(0x80000000));
}

"""
LATCH = """\
/* Lines of a chain of chips. The latch may be behind a multiplexer, whose select lines are set
 * first. */
typedef struct {
    uint8_t data, clock, latch;
    uint8_t selects;    /* how many select lines */
    uint8_t select[6];  /* their pins */
    uint8_t selected;   /* their levels, the first in the lowest bit */
} lines_t;

static void send_bit(const LANTERN_FLASH lines_t *lines, uint8_t bit)
{
    pin_set(lines->data, bit);
    pin_set(lines->clock, 1);
    pin_set(lines->clock, 0);
}

static void latch(const LANTERN_FLASH lines_t *lines)
{
    uint8_t at;
    for (at = 0; at < lines->selects; at++) {
        pin_set(lines->select[at], (lines->selected >> at) & 1);
    }
    pin_set(lines->latch, 1);
    pin_set(lines->latch, 0);
}

"""
OUTPUT = """\
/* An output of a chip, and the channel that it shows. */
typedef struct {
    int16_t channel;
    uint8_t low;
} output_t;

/* Chips in a chain. With more than one bit they dim: bit after bit of every level is shown, each for
 * twice as long as the one before. */
typedef struct {
    lines_t lines;
    uint16_t first, count; /* its outputs in the table, the first next to the board */
    uint8_t bits;
    uint32_t unit_us; /* the lowest bit is shown for so long, or for as long as sending takes */
} chain_t;
"""
SENDING = """\
static uint16_t steps_of[OUTPUTS]; /* the levels that are being shown */

/* What is sent first ends in the last output. */
static void send_chain(const LANTERN_FLASH chain_t *one, uint8_t bit)
{
    uint16_t at = (uint16_t)(one->first + one->count);
    while (at > one->first) {
        at--;
        send_bit(&one->lines, ((steps_of[at] >> bit) & 1) != outputs[at].low);
    }
    latch(&one->lines);
}

static void take_levels(const LANTERN_FLASH chain_t *one)
{
    const uint16_t full = (uint16_t)((UINT32_C(1) << one->bits) - 1u);
    uint16_t at;
    for (at = one->first; at < one->first + one->count; at++) {
        const int16_t channel = outputs[at].channel;
        steps_of[at] = (channel == DARK) ? 0 : in_steps(asked[channel], full);
    }
}

"""
PYTHON_LEVELS = '''
asked = [0] * CHANNELS  # what the show asks of each channel, 0 to 65535


def in_steps(level, full):
    """A level in steps from 0 to full."""
    return (level * full + 32767) // 65535


def lit(channel):
    """Whether a channel is lit at all; an output that nothing hangs on is dark."""
    return int(channel != DARK and asked[channel] != 0)

'''
PYTHON_MOMENTS = '''
MOMENTS = (1 << 30) - 1  # the clock begins again at 0 after so many microseconds


def since(now, moment):
    return (now - moment) & MOMENTS


def due(now, moment):
    """Whether a moment has come."""
    return since(now, moment) <= MOMENTS // 2

'''
PYTHON_LATCH = """
def send_bit(lines, bit):
    data, clock = lines[:2]
    pins.pin_set(data, bit)
    pins.pin_set(clock, 1)
    pins.pin_set(clock, 0)


def latch(lines):
    pin, selects = lines[2:]
    for select, level in selects:
        pins.pin_set(select, level)
    pins.pin_set(pin, 1)
    pins.pin_set(pin, 0)

"""
PYTHON_SENDING = '''
steps_of = [0] * len(OUTPUTS)  # the levels that are being shown


def send_chain(chain, bit):
    """What is sent first ends in the last output."""
    lines, first, count = chain[:3]
    for at in reversed(range(first, first + count)):
        send_bit(lines, (steps_of[at] >> bit & 1) != OUTPUTS[at][1])
    latch(lines)


def take_levels(chain):
    first, count, bits = chain[1:4]
    for at in range(first, first + count):
        channel = OUTPUTS[at][0]
        steps_of[at] = 0 if channel == DARK else in_steps(asked[channel], (1 << bits) - 1)

'''
