"""Effects by the kernel beside the same looks in floating point, and one frame of very many effects.

Run by hand: ``.venv/bin/python benchmarks/effects.py``.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import Any

import numpy as np

from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.effects.kind import Span
from tiny_lantern.light.colour import linear_of
from tiny_lantern.memory import keep_freed_memory
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_pieces import add_strip
from tiny_lantern.model.effects import LOOKS, Effect, Look
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.show.looks import as_bytes, look_light
from tiny_lantern.show.weave import show_of

ROUNDS = 15
FRAMES, HZ, LENGTH_S = 64, 40.0, 10.0
WANTED_MS = 5.0
WITH_A_TWIN = ("steady", "fade", "breathe", "blink", "chase", "wheel")


def best_ms(work: Callable[[], object]) -> float:
    """The shortest of several runs, after one that does not count. [ms]"""
    work()
    times = []
    for _ in range(ROUNDS):
        begin = time.perf_counter()
        work()
        times.append(time.perf_counter() - begin)
    return min(times) * 1000


def same_everywhere(rgb: np.ndarray, lights: int) -> np.ndarray:
    """A colour that every light has."""
    return np.broadcast_to(rgb[:, None, :], (len(rgb), lights, 3))


def float_light(look: Look, place: np.ndarray, time_s: np.ndarray) -> np.ndarray:
    """The looks in floating point, written plainly. (n_frames, n_lights, 3)"""
    value: dict[str, Any] = look.values
    colour = linear_of(value["colour"]) if "colour" in value else np.ones(3)
    if look.kind == "steady":
        return same_everywhere(np.repeat(colour[None], len(time_s), axis=0), len(place))
    if look.kind == "fade":
        share = np.clip(time_s / LENGTH_S, 0, 1)[:, None]
        return same_everywhere((1 - share) * colour + share * linear_of(value["colour_to"]), len(place))
    if look.kind == "breathe":
        wave = 0.5 - 0.5 * np.cos(2 * np.pi * time_s / value["period_s"])
        return same_everywhere((value["low"] + (1 - value["low"]) * wave)[:, None] * colour, len(place))
    if look.kind == "blink":
        return same_everywhere((time_s / value["period_s"] % 1.0 < value["duty"])[:, None] * colour, len(place))
    if look.kind == "chase":
        behind = (value["speed_px_per_s"] * time_s[:, None] - place[None]) % value["spacing_px"]
        tail = np.clip(1 - (np.floor(behind) - value["length_px"] + 1) / (value["tail_px"] + 1), 0, 1)
        return np.where(behind < value["length_px"], 1.0, tail)[..., None] * colour
    turn = place[None] / len(place) * value["turns"] - time_s[:, None] / value["period_s"]
    return value["level"] * (0.5 + 0.5 * np.cos(2 * np.pi * (turn[..., None] - np.arange(3) / 3)))


def crowd(pieces: int = 200, effects: int = 1000) -> Build:
    """So many short strips, with so many effects that all go on at the same time."""
    strip = next(part for part in shelf().of(StripPart) if part.id == "rgb-5v-60")
    build = Build()
    for number in range(pieces):
        build = add_strip(build, strip, 20, f"Rail {number + 1}")
    slots = build.line.slot_count
    laid = tuple(
        Effect(
            id=f"laid-{number}", first=build.line.ref_at(number * 4 % slots),
            last=build.line.ref_at(number * 4 % slots + 3), start_s=0.0, length_s=60.0, look=LOOKS[number % len(LOOKS)],
        )
        for number in range(effects)
    )  # fmt: skip
    return revise(build, effects=laid)


def main() -> None:
    """Print times and ratios."""
    keep_freed_memory()  # as the program does
    for lights in (432, 5000):
        place, ticks = np.arange(lights), np.arange(FRAMES)
        laid = np.zeros((3, FRAMES, lights), np.int32)

        def kernel(look: Look, place: np.ndarray = place, ticks: np.ndarray = ticks, laid: np.ndarray = laid) -> None:
            for below, above in zip(laid, look_light(look, place, Span(len(place), LENGTH_S, HZ), ticks), strict=True):
                below[:] = above
            np.ascontiguousarray(np.moveaxis(as_bytes(laid), 0, -1))

        def plain(look: Look, place: np.ndarray = place, ticks: np.ndarray = ticks) -> None:
            light = np.zeros((FRAMES, len(place), 3))
            light[:] = float_light(look, place, ticks / HZ)
            np.round(np.clip(light, 0, 1) * 255).astype(np.uint8)

        for look in (look for look in LOOKS if look.kind in WITH_A_TWIN):
            ours, theirs = best_ms(lambda look=look: kernel(look)), best_ms(lambda look=look: plain(look))
            print(f"{look.kind:8} {FRAMES} frames of {lights} lights: kernel {ours:6.2f} ms, "
                  f"floating point {theirs:6.2f} ms, ratio {ours / theirs:.2f}")  # fmt: skip
        frame = np.array([77])
        for look in (look for look in LOOKS if look.kind in WITH_A_TWIN):
            one = laid[:, :1]
            ours = best_ms(lambda look=look, one=one, frame=frame: kernel(look, ticks=frame, laid=one))
            print(f"{look.kind:8} one frame of {lights} lights: kernel {ours:6.3f} ms")
    for build in (crowd(), crowd(effects=100)):
        show = show_of(build)
        frame = best_ms(lambda show=show: show.render(np.array([77])))
        print(f"one frame of {len(build.effects)} effects on {len(build.strips)} pieces: {frame:.2f} ms, "
              f"wanted {WANTED_MS:g} ms, ratio {frame / WANTED_MS:.2f}")  # fmt: skip


if __name__ == "__main__":
    main()
