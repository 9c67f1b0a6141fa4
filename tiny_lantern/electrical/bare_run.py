"""One run without its feeds, ready to be fed anywhere: the linear part of the feed search."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import solveh_banded

from tiny_lantern.electrical.laws import ramps_of
from tiny_lantern.electrical.network import node_position_m, rails_ohm_per_m
from tiny_lantern.electrical.reach import zone_of_node, zones
from tiny_lantern.model.build import Strip
from tiny_lantern.model.parts import CcPixel, StripPart

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
LEAK_S = 1.0


@dataclass(frozen=True)
class FeedKind:
    """What a feed at any place would be: its supply, its wire, and how the wire's length grows along the run.

    ``base_m`` is the wire from the supply to the place ``at_m`` on the strip; from there it runs along the strip.
    """

    open_v: float
    output_ohm: float
    wire_ohm_per_m: float
    pos_fixed_ohm: float
    neg_fixed_ohm: float
    base_m: float
    at_m: float


@dataclass(frozen=True)
class Fed:
    """Choices of places, solved: pixels (n_choices, n_pixels) [V], the larger of each feed's two currents
    (n_choices, n_feeds) [A], and the largest rail current (n_choices,) [A]."""

    pixel_v: Floats
    feed_a: Floats
    rail_a: Floats


class BareRun:
    """A run's copper and pixels with unit responses at every candidate place.

    The rails float until they are fed, so each piece gets a small leak to ground; the leak's current is an unknown
    beside the feeds' and is put back, which removes it exactly.

    Args:
        strip: the strip.
        part: its part.
        duty: duty of each channel, (n_pixels, n_channels). [-]
        kind: what a feed would be.
        candidates: rail nodes that may be fed, rising, 0 start .. N + 1 end.
    """

    def __init__(self, strip: Strip, part: StripPart, duty: Floats, kind: FeedKind, candidates: Ints) -> None:
        self.candidates = np.asarray(candidates, np.int64)
        self.node_count = strip.pixel_count + 2
        self._kind = kind
        places = np.array([node_position_m(strip, int(node)) for node in self.candidates])
        self.wire_m = kind.base_m + np.abs(places - kind.at_m)
        self._place_m = places
        self.zones = zones(strip)
        self.loop_ohm_per_m = sum(rails_ohm_per_m(strip, part))
        self.step_ohm = tuple(strip.pitch_m * ohm for ohm in rails_ohm_per_m(strip, part))
        self._zone = np.array([zone_of_node(strip, int(node)) for node in self.candidates])
        self._slope_s, self._fixed_a = _linear_law(part, duty)
        self.rail_s = _rail_conductance(strip, part)
        self._leaks = np.array([0 if first == 0 else 2 * (first + 1) for first, _ in self.zones] + [1])
        self._zone_ends_m = np.array([(first * strip.pitch_m, stop * strip.pitch_m) for first, stop in self.zones])
        self._respond()

    @property
    def zone_count(self) -> int:
        """Pieces of the positive rail."""
        return len(self.zones)

    @property
    def drawn_a(self) -> float:
        """Current of the whole run at the supply's voltage. [A]"""
        return float((self._slope_s * self._kind.open_v + self._fixed_a).sum())

    def least_pixel_a(self, floor_v: float) -> Floats:
        """What each pixel draws at the lowest voltage that is accepted. (n_pixels,) [A]"""
        return self._slope_s * floor_v + self._fixed_a

    def headroom_v(self, floor_v: float) -> float:
        """What the rails may drop at most, the supply's own loss taken off. [V]"""
        return self._kind.open_v - self._kind.output_ohm * float(self.least_pixel_a(floor_v).sum()) - floor_v

    @property
    def largest_pixel_a(self) -> float:
        """The largest current of one pixel. [A]"""
        return float((self._slope_s * self._kind.open_v + self._fixed_a).max())

    def reaches_every_zone(self, choices: Ints) -> NDArray[np.bool_]:
        """Whether each choice, (n_choices, n_feeds), feeds every zone at least once. (n_choices,)"""
        zone = self._zone[choices]
        return np.all([(zone == number).any(axis=1) for number in range(self.zone_count)], axis=0)

    def feed_currents(self, choices: Ints) -> Floats:
        """Out and back current of each feed and the leaks' currents, (n_choices, 2 · n_feeds + n_leaks). [A]

        Args:
            choices: candidate numbers, rising along each row, (n_choices, n_feeds).
        """
        ports = self._ports_of(choices)
        drive = self._drive(ports, choices.shape[1])
        found = np.linalg.solve(self._ports(choices, ports), drive[..., None])
        return np.asarray(found[..., 0], np.float64)

    def solve(self, choices: Ints, currents: Floats | None = None) -> Fed:
        """Voltages and currents for each choice of candidate numbers, (n_choices, n_feeds)."""
        count = choices.shape[1]
        if currents is None:
            currents = self.feed_currents(choices)
        v = np.repeat(self._at_rest[None], len(choices), axis=0)
        for column, port in enumerate(self._ports_of(choices).T):
            v += currents[:, column, None] * self._response[port]
        pos, neg = v[:, 0::2], v[:, 1::2]
        rails = np.maximum(np.abs(np.diff(pos) * self.rail_s[0::2]), np.abs(np.diff(neg) * self.rail_s[1::2]))
        feeds = np.maximum(np.abs(currents[:, :count]), np.abs(currents[:, count : 2 * count]))
        return Fed((pos - neg)[:, 1:-1], feeds, rails.max(axis=1))

    def _ports_of(self, choices: Ints) -> Ints:
        return np.concatenate([choices, choices + len(self.candidates), self._leak_columns(len(choices))], axis=1)

    def short_a(self, choices: Ints) -> Floats:
        """Current of a dead short at the far end of what each feed's fuse guards. (n_choices, n_feeds) [A]

        The far end is the next feed in the same zone, or the zone's end; places rise along each choice.
        """
        place, zone = self._place_m[choices], self._zone[choices]
        start, stop = self._zone_ends_m[zone, 0], self._zone_ends_m[zone, 1]
        same = zone[:, 1:] == zone[:, :-1]
        start[:, 1:] = np.where(same, place[:, :-1], start[:, 1:])
        stop[:, :-1] = np.where(same, place[:, 1:], stop[:, :-1])
        reach = np.maximum(place - start, stop - place)
        kind = self._kind
        lead = 2 * kind.wire_ohm_per_m * self.wire_m[choices] + kind.pos_fixed_ohm + kind.neg_fixed_ohm
        return kind.open_v / (kind.output_ohm + lead + self.loop_ohm_per_m * reach)

    def _leak_columns(self, rows: int) -> Ints:
        first = 2 * len(self.candidates)
        return np.repeat(first + np.arange(len(self._leaks))[None], rows, axis=0)

    def _respond(self) -> None:
        """Voltages at rest and for one ampere into each candidate's positive node, return node, and each leak."""
        size = 2 * self.node_count
        band = np.zeros((3, size))
        band[0, :-2] += self.rail_s
        band[0, 2:] += self.rail_s
        band[2, :-2] = -self.rail_s
        band[0, self._leaks] += LEAK_S
        pixels = slice(2, size - 2)
        both = np.repeat(self._slope_s, 2)
        band[0, pixels] += both
        band[1, 2 : size - 2 : 2] -= self._slope_s
        ports = np.concatenate([2 * self.candidates, 2 * self.candidates + 1, self._leaks])
        right = np.zeros((size, len(ports) + 1))
        right[2 : size - 2 : 2, 0] = -self._fixed_a
        right[3 : size - 2 : 2, 0] = self._fixed_a
        right[ports, 1 + np.arange(len(ports))] = 1.0
        found = solveh_banded(band, right, lower=True, overwrite_b=True)
        self._port_nodes = ports
        self._at_rest = found[:, 0]
        self._response = np.ascontiguousarray(found[:, 1:].T)

    def _ports(self, choices: Ints, inject: Ints) -> Floats:
        """Matrix of the port equations: response between ports plus each port's own resistance."""
        count, kind = choices.shape[1], self._kind
        nodes = self._port_nodes[inject]
        matrix = self._response[inject[:, :, None], nodes[:, None, :]].transpose(0, 2, 1).copy()
        wire = kind.wire_ohm_per_m * self.wire_m[choices]
        own = np.concatenate(
            [
                wire + kind.pos_fixed_ohm,
                wire + kind.neg_fixed_ohm,
                np.full((len(inject), len(self._leaks)), -1 / LEAK_S),
            ],
            axis=1,
        )
        ports = np.arange(inject.shape[1])
        matrix[:, ports, ports] += own
        matrix[:, :count, :count] += kind.output_ohm
        return matrix

    def _drive(self, inject: Ints, count: int) -> Floats:
        drive = -self._at_rest[self._port_nodes[inject]]
        drive[:, :count] += self._kind.open_v
        return drive


def _linear_law(part: StripPart, duty: Floats) -> tuple[Floats, Floats]:
    """Slope and constant of each pixel's current while all lit channels conduct: ``I = slope · v + constant``."""
    start, width, full = ramps_of(part.pixel)
    slopes = np.concatenate([np.ones((len(duty), 1)), duty], axis=1) * full
    endless = np.isinf(width)
    slope_s = slopes[:, endless].sum(axis=1)
    fixed_a = slopes @ np.where(endless, 0.0, width) - (slopes * np.where(endless, start, 0.0)).sum(axis=1)
    return slope_s, fixed_a


def linear_above_v(part: StripPart) -> float:
    """The voltage above which the linear law holds with every channel lit. [V]"""
    if isinstance(part.pixel, CcPixel):
        return max(channel.v_full_v for channel in part.pixel.channels)
    return max(channel.led_count * channel.forward_v for channel in part.pixel.channels)


def _rail_conductance(strip: Strip, part: StripPart) -> Floats:
    """Conductance from each node to the next of its rail, positive and return in turn. (2 · n_pixels + 2,) [S]"""
    share = np.ones(strip.pixel_count + 1)
    share[[0, -1]] = 0.5
    pos_ohm, neg_ohm = rails_ohm_per_m(strip, part)
    pos_s, neg_s = 1 / (share * strip.pitch_m * pos_ohm), 1 / (share * strip.pitch_m * neg_ohm)
    pos_s[list(strip.cuts)] = 0.0
    return np.stack([pos_s, neg_s], axis=1).ravel()
