"""What a show asks of chips at worst, and the lowest supply that sinks can do with."""

from __future__ import annotations

import numpy as np

from tiny_lantern.electrical.drive.register import EACH, WorstFrame, all_lit, register_frame, worst_frames
from tiny_lantern.electrical.driven.contract import Case
from tiny_lantern.electrical.driven.register import outputs_of, stage_of
from tiny_lantern.electrical.driven.sink import best_supply_v
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.ways.register import RegisterChain
from tiny_lantern.model.ways.sink import SinkChain
from tiny_lantern.model.working import Step
from tiny_lantern.show.channels import ON_FROM, show_levels


def worst_of_show(case: Case) -> list[tuple[int, WorstFrame]]:
    """The frame of the show in which each chip of a register chain carries most, with the chip's number; none where
    nothing is ever lit.

    Args:
        case: the driver with its channels.
    """
    driver = case.driver
    assert isinstance(driver, RegisterChain)
    stage = stage_of(driver, case.build.shelf.find(ChipPart, driver.chip_id))
    outputs, levels = outputs_of(case), show_levels(case.build, case.channels)
    if not levels.size:
        return []
    from_on = ON_FROM if driver.levels_bits == 1 else np.finfo(float).tiny
    lit = np.zeros((len(levels), len(outputs)), bool)
    lit[:, [channel.output for channel in case.channels]] = levels >= from_on
    found = []
    for chip in range(driver.chips):
        own = slice(chip * EACH, (chip + 1) * EACH)
        patterns, first_at = np.unique(lit[:, own], axis=0, return_index=True)
        order = np.argsort(first_at)
        frames = [register_frame(stage, outputs[own], patterns[at]) for at in order]
        worst = worst_frames(stage, frames, register_frame(stage, outputs[own], all_lit(outputs[own])))[0]
        if worst.chip_a > 0:
            at = int(first_at[order][worst.frame])
            found.append((chip, WorstFrame(chip, at, worst.chip_a, worst.over_limit, worst.all_on_a,
                                           worst.all_on_over_limit)))  # fmt: skip
    return found


def chip_steps(case: Case) -> tuple[Step, ...]:
    """Steps of a working about chips: the worst frame of the show, or the best supply of sinks.

    Args:
        case: the driver with its channels.
    """
    if isinstance(case.driver, SinkChain) and case.lamps:
        return (
            Step(
                "V = n·Vf + V_min + 0.2 V, the highest lamp", "least supply that holds", f"{best_supply_v(case):.2f} V"
            ),
        )
    if not isinstance(case.driver, RegisterChain):
        return ()
    hz = case.build.tick_hz
    return tuple(
        Step(f"chip {chip + 1}: worst frame of the show", f"at {worst.frame / hz:.2f} s",
             f"{worst.chip_a * 1000:.1f} mA; all lit {worst.all_on_a * 1000:.1f} mA")
        for chip, worst in worst_of_show(case)
    )  # fmt: skip
