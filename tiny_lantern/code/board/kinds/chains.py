"""Chains of chips whose outputs are on or off."""

from __future__ import annotations

from tiny_lantern.code.board.text import Text

TYPE = """\
/* Chains whose outputs are on or off. */
"""
C = """\
static void set_chains(uint32_t now)
{
    uint16_t at;
    (void)now;
    for (at = 0; at < CHAINS; at++) {
        take_levels(&chains[at]);
        send_chain(&chains[at], 0);
    }
}

static void begin_chains(uint32_t now)
{
    set_chains(now);
}

"""
PYTHON = """
def set_chains(now):
    for chain in CHAINS:
        take_levels(chain)
        send_chain(chain, 0)


def begin_chains(now):
    set_chains(now)

"""
TEXT = Text(TYPE, C, PYTHON)
