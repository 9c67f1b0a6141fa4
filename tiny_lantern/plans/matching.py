"""Bringing unlike lamps of a driver to one brightness by the currents that are asked of them."""

from __future__ import annotations

import numpy as np

from tiny_lantern.electrical.driven.contract import case_of
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.light.mixing import match
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import item
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.ways.scanned import Scanned
from tiny_lantern.model.ways.sink import SinkChain
from tiny_lantern.plans.ways import with_resistors


def match_brightness(build: Build, driver_id: str) -> Build:
    """Ask each channel of a driver for the current at which all are as bright as the weakest; resistors follow.

    Raises:
        LanternError: all channels of this way to drive carry one current.
    """
    driver = item(build.drivers, driver_id, "driver")
    if isinstance(driver, SinkChain | Scanned):
        accepted = "a chip for each colour, or duties in the show"
        raise LanternError(f"{driver.name} carries one current in all outputs", "match brightness", accepted)
    channels = build.channels_of[driver_id]
    case = case_of(build, driver, channels)
    own_cd = np.array([lamp.intensity_cd(ch.wanted_a) for lamp, ch in zip(case.lamps, channels, strict=True)])
    if not len(own_cd) or not own_cd.min() > 0:
        raise LanternError(
            f"nobody tells how bright the lamps of {driver.name} are", "match brightness", "lamps with dies"
        )
    found = match(own_cd, np.array([channel.wanted_a for channel in channels]))
    new = {
        channel.id: revise(channel, wanted_a=float(f"{amps:.4g}"))
        for channel, amps in zip(channels, found.currents_a, strict=True)
    }
    build = revise(build, channels=tuple(new.get(channel.id, channel) for channel in build.channels))
    return with_resistors(build, driver_id)


def match_by_duty(build: Build, driver_id: str) -> Build:
    """Trim each channel of a driver that dims to the duty at which all are as bright as the weakest; currents stay.

    Raises:
        LanternError: it does not dim, or nobody tells how bright its lamps are.
    """
    driver = item(build.drivers, driver_id, "driver")
    if driver.on_off:
        raise LanternError(f"{driver.name} knows on and off only", "match by duty", "a way to drive that dims")
    result = solve_drive(build).by_driver[driver_id]
    own_cd = np.array(
        [lamp.intensity_cd(float(amps)) for lamp, amps in zip(result.case.lamps, result.on_a, strict=True)]
    )
    if not len(own_cd) or not own_cd.min() > 0:
        words = f"nobody tells how bright the lamps of {driver.name} are"
        raise LanternError(words, "match by duty", "lamps with dies, and some current in each")
    duties = match(own_cd, result.on_a).duties
    trims = {channel.id: float(f"{duty:.4g}") for channel, duty in zip(result.case.channels, duties, strict=True)}
    channels = tuple(
        revise(channel, trim=trims[channel.id]) if channel.id in trims else channel for channel in build.channels
    )
    return revise(build, channels=channels)
