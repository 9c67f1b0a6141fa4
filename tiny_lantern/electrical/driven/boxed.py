"""Lamps on outputs of boxes that pins control, whatever the box is."""

from __future__ import annotations

import numpy as np

from tiny_lantern.electrical.driven.contract import Block, Case, ChannelResult, Source, resistors
from tiny_lantern.electrical.driven.on_pins import pin_current
from tiny_lantern.model.ways.boxed import Boxed

KIND = Boxed


def solve(case: Case) -> ChannelResult:
    """Each lamp behind its resistor and the output, and each box with the sum of its outputs.

    Args:
        case: the driver with its channels.
    """
    driver = case.driver
    assert isinstance(driver, Boxed)
    output, ohms, count = driver.output, resistors(case), len(case.channels)
    behind_v = driver.led_v - output.drop_v
    lamps = zip(ohms, case.lamps, strict=True)
    on_a = np.array([pin_current(behind_v, output.ohm, float(ohm), lamp) for ohm, lamp in lamps])
    box_of = np.array([channel.output // output.per_box for channel in case.channels], np.int64)
    blocks = []
    for box in np.unique(box_of).tolist():
        own = np.flatnonzero(box_of == box).tolist()
        words = f"{len(own)} of {output.per_box}"
        total_a = float(on_a[own].sum())
        blocks.append(Block(f"{driver.name} {box + 1}", own[0], own[-1] + 1, total_a, output.box_a, "A", words))
    heat_w = on_a**2 * ohms * case.duties
    return ChannelResult(
        case, on_a, on_a * case.duties, np.full(count, output.each_a), np.full(count, output.most_a),
        behind_v - on_a * (ohms + output.ohm), heat_w, tuple(blocks), driver.led_v, float(on_a.sum()), 0.0,
        np.full(count, output.pin_a),
    )  # fmt: skip


def source(case: Case) -> Source:
    """A lamp's resistor lies behind its output.

    Args:
        case: the driver with its channels.
    """
    driver = case.driver
    assert isinstance(driver, Boxed)
    return Source(driver.led_v - driver.output.drop_v, driver.output.ohm)
