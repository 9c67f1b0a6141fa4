"""The resistance of every piece of copper: rails, joints, buses with their taps, and the conductors of a feed.

Each is told here and nowhere else; the network, the study of shorts and the search for feeds read the same figures.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.model.build import Build, Bus, Conductor, Feed, Joint
from tiny_lantern.model.parts.connector import ConnectorPart
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.model.strip import PixelRun

Floats = NDArray[np.float64]


def rails_ohm_per_m(strip: PixelRun, part: StripPart) -> tuple[float, float]:
    """Positive and return rail of a strip, its own figures before its part's. [ohm/m]"""
    return (
        strip.rail_pos_ohm_per_m or part.rail_pos_ohm_per_m,
        strip.rail_neg_ohm_per_m or part.rail_neg_ohm_per_m,
    )


def gap_ohm(strip: PixelRun, part: StripPart) -> tuple[Floats, Floats]:
    """Positive and return rail from each node to the next, half a pitch at both ends. (n_pixels + 1,) each [ohm]"""
    share = np.ones(strip.pixel_count + 1)
    share[[0, -1]] = 0.5
    pos_ohm, neg_ohm = (share * strip.pitch_m * ohm for ohm in rails_ohm_per_m(strip, part))
    return pos_ohm, neg_ohm


def joint_ohm(joint: Joint) -> tuple[float, float]:
    """Positive and return side of a joint between two strips. [ohm]"""
    return joint.pos_ohm, joint.neg_ohm


def bus_ohm(bus: Bus, strip: PixelRun) -> tuple[Floats, Floats]:
    """Positive and return conductor of a bus from its start, by its taps, to its end. (n_taps + 1,) each [ohm]"""
    places = [0.0, *((tap + 0.5) * strip.pitch_m for tap in bus.tap_pixels), strip.length_m]
    steps_m = np.diff(places)
    return steps_m * bus.pos_ohm_per_m, steps_m * bus.neg_ohm_per_m


def tap_ohm(bus: Bus) -> tuple[float, float]:
    """Positive and return side of each tap of a bus. [ohm]"""
    return bus.tap_pos_ohm, bus.tap_neg_ohm


def fuse_of(build: Build, feed: Feed) -> FusePart | None:
    """The fuse of a feed, if it has one."""
    return None if feed.fuse_id is None else build.shelf.find(FusePart, feed.fuse_id)


def wire_of(build: Build, conductor: Conductor) -> WirePart:
    """The wire of a conductor."""
    return build.shelf.find(WirePart, conductor.wire_id)


def connector_of(build: Build, conductor: Conductor) -> ConnectorPart | None:
    """The connector of a conductor, if it has one."""
    if conductor.connector_id is None:
        return None
    return build.shelf.find(ConnectorPart, conductor.connector_id)


def conductor_ohm(build: Build, conductor: Conductor, fuse: FusePart | None = None) -> float:
    """One conductor of a feed: wire, fuse and connector, or what was measured. [ohm]"""
    if conductor.measured_ohm is not None:
        return conductor.measured_ohm
    fixed = fittings_ohm(fuse, connector_of(build, conductor))
    return conductor.length_m * wire_of(build, conductor).ohm_per_m + fixed


def fittings_ohm(fuse: FusePart | None, connector: ConnectorPart | None) -> float:
    """What a conductor has beside its wire. [ohm]"""
    return (fuse.cold_ohm if fuse else 0.0) + (connector.contact_ohm if connector else 0.0)
