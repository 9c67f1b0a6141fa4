"""Chains of chips that dim, bit after bit of every level."""

from __future__ import annotations

from tiny_lantern.code.board.text import Text

TYPE = """\
/* Chains that dim. */
"""
C = """\
static uint8_t dimming_bit[DIMMING];
static uint32_t dimming_due[DIMMING], dimming_unit[DIMMING];

static void step_dimming(uint32_t now)
{
    uint16_t at;
    for (at = 0; at < DIMMING; at++) {
        const LANTERN_FLASH chain_t *one = &dimming[at];
        if (!due(now, dimming_due[at])) {
            continue;
        }
        if (dimming_bit[at] == 0) {
            take_levels(one); /* a new level begins with a new round */
        }
        send_chain(one, dimming_bit[at]);
        dimming_due[at] += dimming_unit[at] << dimming_bit[at];
        if (due(now, dimming_due[at])) {
            dimming_due[at] = now; /* late: what is late is not made up for */
        }
        dimming_bit[at] = (uint8_t)((dimming_bit[at] + 1) % one->bits);
    }
}

static void begin_dimming(uint32_t now)
{
    uint16_t at;
    for (at = 0; at < DIMMING; at++) {
        const uint32_t began = now_us();
        uint32_t took;
        take_levels(&dimming[at]);
        send_chain(&dimming[at], 0);
        took = now_us() - began;
        dimming_unit[at] = (took > dimming[at].unit_us) ? took : dimming[at].unit_us;
        dimming_due[at] = now;
        dimming_bit[at] = 0;
    }
}

"""
PYTHON = """
dimming_bit = [0] * len(DIMMING)
dimming_due = [0] * len(DIMMING)
dimming_unit = [0] * len(DIMMING)


def step_dimming(now):
    for at, chain in enumerate(DIMMING):
        if not due(now, dimming_due[at]):
            continue
        if dimming_bit[at] == 0:
            take_levels(chain)  # a new level begins with a new round
        send_chain(chain, dimming_bit[at])
        dimming_due[at] += dimming_unit[at] << dimming_bit[at]
        if due(now, dimming_due[at]):
            dimming_due[at] = now  # late: what is late is not made up for
        dimming_bit[at] = (dimming_bit[at] + 1) % chain[3]


def begin_dimming(now):
    for at, chain in enumerate(DIMMING):
        began = pins.now_us()
        take_levels(chain)
        send_chain(chain, 0)
        dimming_unit[at] = max(since(pins.now_us(), began), chain[4])
        dimming_due[at] = now
        dimming_bit[at] = 0

"""
TEXT = Text(TYPE, C, PYTHON, sets=False, steps=True)
