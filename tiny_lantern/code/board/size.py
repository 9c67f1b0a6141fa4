"""About how many bytes a board needs for what it does at its pins: as a compiler for 8 bits makes it."""

from __future__ import annotations

from tiny_lantern.code.board.doings import Chain, Doings, Knob, Matrix, Pixels, Turns
from tiny_lantern.code.board.printed import PARTS

# fitted to what compiled programs of every kind took: of each kind its functions, and a row of its table
BASE, PIN, LEVELS, LINE, SPAN = 250, 18, 80, 20, 40
CODE = {"switched": 300, "dimmed": 80, "chains": 210, "dimming": 940, "matrices": 920, "turns": 375, "pairs": 590,
        "held": 60, "knobs": 250}  # fmt: skip
ROW = {"switched": 6, "dimmed": 6, "chains": 21, "dimming": 21, "matrices": 32, "turns": 16, "pairs": 14, "held": 6,
       "knobs": 9}  # fmt: skip
OUTPUT, CROSSING, LINK, LISTENING, SIGNAL = 3, 2, 200, 1700, 50
RAM_BASE, RAM_CHANNEL, RAM_OUTPUT, RAM_LISTENING, RAM_SIGNAL = 9, 2, 2, 50, 1
RAM_ROW = {"switched": 5, "dimming": 9, "matrices": 6, "turns": 5, "pairs": 6}


def pins_size(doings: Doings) -> tuple[int, int]:
    """How many bytes of memory, and of programme, what a board does at its pins takes. [-]

    Args:
        doings: what it does.
    """
    rows = {each.name: len(each.rows(doings)) for each in PARTS} | {"knobs": len(doings.of(Knob))}
    outputs = sum(len(chain.outputs) for chain in doings.of(Chain))
    lists = [*(row.channels for row in doings.of(Matrix)), *(row.channels for row in doings.of(Turns))]
    flash = BASE + PIN * len(doings.pins) + (LEVELS if doings.channels else 0) + OUTPUT * outputs
    flash += sum(CODE[name] + ROW[name] * count for name, count in rows.items() if count)
    flash += CROSSING * sum(map(len, lists)) + LINK * (doings.follows + doings.leads)
    flash += LISTENING + SIGNAL * len(doings.signals) if doings.listens else 0
    lines = doings.of(Pixels)
    flash += sum(LINE + SPAN * (len(line.spans) > 1) * len(line.spans) for line in lines)
    ram = RAM_BASE + RAM_CHANNEL * doings.channels + RAM_OUTPUT * outputs
    ram += sum(RAM_ROW.get(name, 0) * count for name, count in rows.items())
    ram += RAM_LISTENING + RAM_SIGNAL * len(doings.signals) if doings.listens else 0
    ram += max((line.count for line in lines if len(line.spans) > 1), default=0)
    return ram, flash
