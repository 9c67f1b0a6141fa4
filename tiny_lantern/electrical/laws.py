"""The current a pixel draws at a voltage, as a sum of ramps."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.model.parts.strip import CcPixel, Pixel, StripPart

Floats = NDArray[np.float64]
QUIESCENT_RAMP_V = 1.0


@dataclass(frozen=True)
class PixelLaws:
    """Piecewise-linear laws ``I(v) = Σ_k slope_k · clip(v − start_k, 0, width_k)``  (1) of many pairs of nodes.

    ``slope_s`` has shape (n_ramps, n_pairs): one column a pair of rail nodes, in node order. ``start_v`` and
    ``width_v`` have the same shape, or one column (n_ramps, 1) where every run is of the same pixels. Channels with the
    same ramp share one. The pairs at the two ends of a run draw nothing; their ramps, like unused ones, have slope
    zero.
    """

    start_v: Floats
    width_v: Floats
    slope_s: Floats

    @cached_property
    def stop_v(self) -> Floats:
        """Where each ramp ends. (n_ramps, n_pairs) or (n_ramps, 1) [V]"""
        return self.start_v + self.width_v

    def without(self, pairs: NDArray[np.int64]) -> PixelLaws:
        """The same laws with some pairs drawing nothing. (n_pairs,)

        Args:
            pairs: numbers of the pairs, (n_dark,). [-]
        """
        if not len(pairs):
            return self
        slope_s = self.slope_s.copy()
        slope_s[:, pairs] = 0.0
        return PixelLaws(self.start_v, self.width_v, slope_s)

    def beside(self, currents_a: Floats) -> PixelLaws:
        """The same laws followed by those of elements that hold a current, (n_elements,), from one volt on. [A]

        Args:
            currents_a: what each draws, (n_elements,). [A]
        """
        if not len(currents_a):
            return self
        slope_s = np.zeros((len(self.slope_s), len(currents_a)))
        slope_s[0] = currents_a / QUIESCENT_RAMP_V
        slope_s = np.concatenate([self.slope_s, slope_s], axis=1)
        if self.start_v.shape[1] == 1:
            return PixelLaws(self.start_v, self.width_v, slope_s)
        start, width = np.zeros((len(slope_s), len(currents_a))), np.ones((len(slope_s), len(currents_a)))
        width[0] = QUIESCENT_RAMP_V
        return PixelLaws(
            np.concatenate([self.start_v, start], axis=1), np.concatenate([self.width_v, width], axis=1), slope_s
        )

    def current_a(self, v: Floats) -> Floats:
        """Current of each pair. (n_pairs,) [A]

        Args:
            v: voltage of each pair, (n_pairs,). [V]
        """
        climbed = np.minimum(v, self.stop_v)
        np.maximum(climbed, self.start_v, out=climbed)
        climbed -= self.start_v
        return np.asarray(np.einsum("rp,rp->p", climbed, self.slope_s))  # (1)

    def on_ramp(self, v: Floats) -> NDArray[np.bool_]:
        """Whether each pair's voltage lies inside each ramp. (n_ramps, n_pairs)

        Args:
            v: voltage of each pair, (n_pairs,). [V]
        """
        return (v > self.start_v) & (v < self.stop_v)

    def conductance_s(self, v: Floats) -> Floats:
        """Slope of each pair's law. (n_pairs,) [S]

        Args:
            v: voltage of each pair, (n_pairs,). [V]
        """
        return np.asarray(np.einsum("rp,rp->p", self.on_ramp(v), self.slope_s))

    def all_held(self, v: Floats) -> bool:
        """Whether every lit pixel is past all its ramps, so that its current is what its duty asks for.

        A resistor-limited ramp has no end; it counts as held while it conducts at all, since its current is
        then linear in the voltage and the mean of the current is the current of the mean.

        Args:
            v: voltage of each pair, (n_pairs,). [V]
        """
        lit = self.slope_s > 0
        endless = np.isinf(self.stop_v)
        return not bool(np.any(lit & np.where(endless, v <= self.start_v, v < self.stop_v)))


def ramps_of(pixel: Pixel) -> tuple[Floats, Floats, Floats]:
    """Start, width and full-duty slope of a pixel's ramps, the quiescent one first. Each (n_channels + 1,)."""
    starts, widths, slopes = [0.0], [QUIESCENT_RAMP_V], [pixel.quiescent_a / QUIESCENT_RAMP_V]
    if isinstance(pixel, CcPixel):
        for held in pixel.channels:
            width = held.v_full_v - held.v_off_v
            starts.append(held.v_off_v)
            widths.append(width)
            slopes.append(held.full_current_a / width)
    else:
        for limited in pixel.channels:
            starts.append(limited.led_count * limited.forward_v)
            widths.append(np.inf)
            slopes.append(1 / limited.resistor_ohm)
    return np.array(starts), np.array(widths), np.array(slopes)


def laws_for(pixels: tuple[Pixel, ...], duties: tuple[Floats, ...]) -> PixelLaws:
    """Laws of all pairs of nodes of all runs, run after run, with an empty pair at each end of a run.

    Args:
        pixels: the kind of pixel of each run.
        duties: duty of each run, (n_pixels, n_channels), 0 to 1. [-]
    """
    kinds = {pixel: _shared_ramps(pixel) for pixel in pixels}
    ramps = max((len(shared.start_v) for shared in kinds.values()), default=1)
    total = sum(len(duty) + 2 for duty in duties)
    slope = np.zeros((ramps, total))
    columns = 1 if len(kinds) == 1 else total
    start, width = np.zeros((ramps, columns)), np.ones((ramps, columns))
    first = 0
    for pixel, duty in zip(pixels, duties, strict=True):
        shared, run = kinds[pixel], slice(first + 1, first + 1 + len(duty))
        used = len(shared.start_v)
        own = slice(None) if columns == 1 else slice(first, first + len(duty) + 2)
        start[:used, own], width[:used, own] = shared.start_v[:, None], shared.width_v[:, None]
        np.matmul(shared.full_s, duty.T, out=slope[:used, run])
        slope[:used, run] += shared.always_s[:, None]
        first += len(duty) + 2
    return PixelLaws(start, width, slope)


@dataclass(frozen=True)
class _Ramps:
    """The different ramps of one pixel, (n_ramps,), what each draws always, (n_ramps,), and at full duty of each
    channel, (n_ramps, n_channels). [V] [S]"""

    start_v: Floats
    width_v: Floats
    always_s: Floats
    full_s: Floats


def _shared_ramps(pixel: Pixel) -> _Ramps:
    start, width, slope = ramps_of(pixel)
    places: dict[tuple[float, float], int] = {}
    ramp = np.array([places.setdefault(ends, len(places)) for ends in zip(start, width, strict=True)])
    slopes = np.zeros((len(places), len(slope)))
    slopes[ramp, np.arange(len(slope))] = slope
    ends = np.array(list(places))
    return _Ramps(ends[:, 0], ends[:, 1], slopes[:, 0], slopes[:, 1:])


def channel_share(pixel: Pixel, v: Floats, nominal_a: tuple[float, ...]) -> Floats:
    """Each channel's current at full duty as a share of its nominal one. (n_pixels, n_channels) [-]

    Args:
        pixel: the kind of pixel.
        v: voltage of each pixel, (n_pixels,). [V]
        nominal_a: full-duty current of each channel at the nominal voltage. [A]
    """
    start, width, slope = ramps_of(pixel)
    current = np.clip(v[:, None] - start[1:], 0, width[1:]) * slope[1:]
    return np.asarray(current / np.maximum(np.array(nominal_a), 1e-12))


def linear_above_v(part: StripPart) -> float:
    """The voltage above which every lit channel conducts fully, so that the law is one line. [V]"""
    if isinstance(part.pixel, CcPixel):
        return max(channel.v_full_v for channel in part.pixel.channels)
    return max(channel.led_count * channel.forward_v for channel in part.pixel.channels)
