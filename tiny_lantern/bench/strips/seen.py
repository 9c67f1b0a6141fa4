"""What is seen of strips: which pixels are dark, dim, reddish, flicker or show what was not sent."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.bench.strips.plan import Duties, StripPlan
from tiny_lantern.model.parts.strip import CcPixel, Pixel

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]
LIGHT = {"red": 0.45, "green": 0.80, "blue": 0.20, "white": 0.90}
WORDS = ("dark", "reddish", "dim", "flicker", "wrong")
DARK_SHARE, REDDISH_SHARE, DIM_SHARE = 0.05, 0.75, 0.7
FLICKER_V, FLICKER_BELOW_V = (2.0, 3.7), 6.0
OTHER_BY, LEAST_LIGHT = 0.2, 0.02
MISS_NATS, SHARP, SOFT = 4.0, 0.005, 0.05


@dataclass(frozen=True)
class SeenRange:
    """A word for an unbroken range of pixels: the strip's number, its first and its last pixel."""

    word: str
    run: int
    first: int
    last: int


class Eye:
    """Looks at strips under one test, by fixed rules of light.

    Args:
        plan: the strips, and what is sent.
    """

    def __init__(self, plan: StripPlan) -> None:
        self.plan = plan
        self.pixels = [plan.pixel(number) for number in range(len(plan.strips))]
        self.weights = [_weights(pixel) for pixel in self.pixels]
        self.highest_v = max(supply.open_v for supply in plan.network.supplies)
        self.total = sum(len(duty) for duty in plan.sent)

    def ranges(self, pixel_v: Sequence[Floats], shown: Duties) -> tuple[SeenRange, ...]:
        """Every word with the ranges that it holds for.

        Args:
            pixel_v: voltage of each planned pixel, strip by strip, (n_pixels,) each. [V]
            shown: the duties that each shows, strip by strip, (n_pixels, n_channels) each. [-]
        """
        found = []
        for number, (volts, duty) in enumerate(zip(pixel_v, shown, strict=True)):
            for word, marked in self._marks(number, volts, duty).items():
                found += [SeenRange(word, number, first, last) for first, last in _unbroken(marked)]
        return tuple(found)

    def _gain(self, pixel: Pixel, volts: Floats) -> Floats:
        """How much of its light each channel gives. (n_pixels, n_channels)"""
        if isinstance(pixel, CcPixel):
            low = np.array([channel.v_off_v for channel in pixel.channels])
            high = np.array([channel.v_full_v for channel in pixel.channels])
        else:
            low = np.array([channel.led_count * channel.forward_v for channel in pixel.channels])
            high = np.full(len(low), self.highest_v)
        return np.asarray(np.clip((volts[:, None] - low) / (high - low), 0.0, 1.0))

    def _marks(self, number: int, volts: Floats, shown: Floats) -> Mapping[str, Bools]:
        pixel, weight, sent = self.pixels[number], self.weights[number], self.plan.sent[number]
        gain = self._gain(pixel, volts)
        gives, should, meant = (gain * shown) @ weight, shown @ weight, sent @ weight
        dark = (meant > 0) & (gives < DARK_SHARE * meant)
        reddish = self._reddish(pixel, gain, shown) & ~dark
        lit_up = (sent > 0).any(axis=1)
        starved = (volts >= FLICKER_V[0]) & (volts < FLICKER_V[1])
        flickers = isinstance(pixel, CcPixel) and self.highest_v < FLICKER_BELOW_V
        other = (np.abs(shown - sent) > OTHER_BY).any(axis=1)
        return {
            "dark": dark,
            "reddish": reddish,
            "dim": ~dark & ~reddish & (gives < DIM_SHARE * should),
            "flicker": lit_up & starved if flickers else np.zeros(len(volts), bool),
            "wrong": other & (gives >= LEAST_LIGHT) & ~dark,
        }

    @staticmethod
    def _reddish(pixel: Pixel, gain: Floats, shown: Floats) -> Bools:
        names = [channel.name for channel in pixel.channels]
        if not {"red", "green", "blue"} <= set(names):
            return np.zeros(len(gain), bool)
        red, green, blue = (names.index(name) for name in ("red", "green", "blue"))
        all_shown = (shown[:, [red, green, blue]] > 0).all(axis=1)
        return np.asarray(all_shown & (np.minimum(gain[:, green], gain[:, blue]) < REDDISH_SHARE * gain[:, red]))

    def log_likelihood(self, seen: Sequence[SeenRange], predicted: Sequence[SeenRange]) -> float:
        """How likely a person says what was said where something else is predicted: 4 nats at most a word. [nats]

        Args:
            seen: what was said.
            predicted: what would be seen.
        """
        found = 0.0
        for word in WORDS:
            said = [each for each in seen if each.word == word]
            meant = [each for each in predicted if each.word == word]
            if said or meant:
                found += self._of_word(word, said, meant)
        return found

    def _of_word(self, word: str, said: list[SeenRange], meant: list[SeenRange]) -> float:
        if len(said) != len(meant):
            return -MISS_NATS
        per_pixel = SHARP if word in ("dark", "wrong") else SOFT
        tau = 1 + per_pixel * self.total
        if len(said) == 1 and said[0].run == meant[0].run:
            off = (said[0].first - meant[0].first, said[0].last - meant[0].last)
            return -min(MISS_NATS, 0.5 * sum((each / tau) ** 2 for each in off))
        differing = len(_pixels(said) ^ _pixels(meant))
        return -min(MISS_NATS, 0.5 * (differing / tau) ** 2)


def _pixels(ranges: list[SeenRange]) -> set[tuple[int, int]]:
    return {(each.run, pixel) for each in ranges for pixel in range(each.first, each.last + 1)}


def _unbroken(marked: Bools) -> list[tuple[int, int]]:
    """First and last of each unbroken range."""
    if not marked.any():
        return []
    edges = np.flatnonzero(np.diff(np.concatenate([[False], marked, [False]]).astype(np.int8)))
    return [(int(first), int(after) - 1) for first, after in edges.reshape(-1, 2)]


def _weights(pixel: Pixel) -> Floats:
    """The share of light of each channel at full duty. (n_channels,)"""
    light = np.array([LIGHT.get(channel.name, LIGHT["white"]) for channel in pixel.channels])
    return np.asarray(light / light.sum())
