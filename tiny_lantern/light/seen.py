"""How a pixel at less than its voltage looks beside one at full voltage."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.laws import channel_share
from tiny_lantern.light.colour import uv_of, xyz_of
from tiny_lantern.model.build import Limits
from tiny_lantern.model.parts.strip import StripPart, channel_letters, nominal_currents_a

Floats = NDArray[np.float64]
LEAST_STEPS = 96
DARK_CD = 1e-9
SCREEN_RGB = {"R": (1.0, 0.0, 0.0), "G": (0.0, 1.0, 0.0), "B": (0.0, 0.0, 1.0), "W": (1.0, 1.0, 1.0)}


@dataclass(frozen=True)
class Seen:
    """Each pixel (n_pixels,): light lost (0 to 1) and Δu′v′."""

    light_loss: Floats
    tint_shift: Floats


def seen(part: StripPart, v: Floats, duty: Floats) -> Seen:
    """What the eye gets from pixels at their solved voltages.

    Light is ``Σ_c d_c · g_c · XYZ_c``  (1) with g the channel's share of its nominal current; loss is one minus its
    luminance over the same with g = 1, tint shift the distance between the two in the u′v′ plane.

    Args:
        part: the strip's part.
        v: voltage of each pixel, (n_pixels,). [V]
        duty: duty of each channel, (n_pixels, n_channels). [-]

    Source: CIE 15 (1976 UCS); light taken as proportional to current, good to a few per cent within the ratings.
    """
    share = channel_share(part.pixel, v, nominal_currents_a(part))
    primaries = np.array([xyz_of(channel.light) for channel in part.pixel.channels])
    got, wanted = (duty * share) @ primaries, duty @ primaries  # (1)
    lit = wanted[:, 1] > DARK_CD
    loss = np.where(lit, 1 - got[:, 1] / np.where(lit, wanted[:, 1], 1), 0.0)
    both = lit & (got[:, 1] > DARK_CD)
    shift = np.where(both, np.linalg.norm(uv_of(got) - uv_of(wanted), axis=1), 0.0)
    return Seen(loss, shift)


def screen_look(part: StripPart, v: Floats, duty: Floats) -> Floats:
    """Linear RGB that shows pixels at their solved voltages on a screen. (n_pixels, 3) [-]

    The screen's primaries stand for the pixel's own, as if the eye had adapted to their mix.

    Args:
        part: the strip's part.
        v: voltage of each pixel, (n_pixels,). [V]
        duty: duty of each channel, (n_pixels, n_channels). [-]
    """
    share = channel_share(part.pixel, v, nominal_currents_a(part))
    primaries = np.array([SCREEN_RGB[letter] for letter in channel_letters(part)])
    return np.asarray(np.clip((duty * share) @ primaries / np.maximum(duty @ primaries, 1.0), 0, 1))


def voltage_floor(part: StripPart, limits: Limits) -> float:
    """The voltage that every pixel must keep: the build's own limit, or what the part's chip needs. [V]"""
    return part.v_logic_min_v if limits.v_min_v is None else limits.v_min_v


def acceptable(part: StripPart, limits: Limits, duty: Floats, v: Floats) -> NDArray[np.bool_]:
    """Whether each pixel is within all limits. (n_pixels,)

    Args:
        part: the strip's part.
        limits: what every pixel must meet.
        duty: what each channel is asked for, (n_pixels, n_channels). [-]
        v: voltage of each pixel, (n_pixels,). [V]
    """
    look = seen(part, v, duty)
    return (
        (v >= voltage_floor(part, limits) - 1e-9)
        & (look.light_loss <= limits.light_loss_max + 1e-12)
        & (look.tint_shift <= limits.tint_max + 1e-12)
    )


def least_voltage(part: StripPart, limits: Limits, duty: Floats) -> Floats:
    """The voltage from which up to the nominal one each pixel is within all limits. (n_pixels,) [V]

    Infinite where even the nominal voltage is not enough. Limits can be met again far below, where a channel or all of
    them are dark and nothing is tinted any more, so the highest voltage that fails is sought, first on a grid, then by
    halving.

    Args:
        part: the strip's part.
        limits: the limits.
        duty: duty of each channel, (n_pixels, n_channels). [-]
    """
    count, grid = len(duty), np.linspace(0.0, part.nominal_v, LEAST_STEPS + 1)
    met = acceptable(part, limits, np.tile(duty, (len(grid), 1)), np.repeat(grid, count)).reshape(len(grid), count)
    never = ~met[-1]
    fails = np.where(met.all(axis=0), 0, len(grid) - 1 - np.argmin(met[::-1], axis=0))
    low, high = grid[fails], grid[np.minimum(fails + 1, LEAST_STEPS)]
    for _ in range(48):
        middle = (low + high) / 2
        inside = acceptable(part, limits, duty, middle)
        low, high = np.where(inside, low, middle), np.where(inside, middle, high)
    return np.where(never, np.inf, high)
