"""Strips of a build fitted to what was read of them, as it is shown."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from tiny_lantern.bench.of_build import AtBench
from tiny_lantern.bench.strips.fit import CURRENT, fit_names, fit_strips, number_of, planned_value
from tiny_lantern.bench.strips.of_build import StripsAtBench, pattern_name
from tiny_lantern.bench.strips.plan import StripPlan
from tiny_lantern.bench.why_strips import strip_look
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.quantities import engineering, volts

SCALE_WORDS = {
    "rail_scale": "both rails",
    "rail_pos_scale": "the positive rail",
    "rail_neg_scale": "the return rail",
    CURRENT: "the current of every pixel",
}


@dataclass(frozen=True)
class FittedRow:
    """One parameter as it is shown: its name, what it is, what it is as planned, and what it was found to be."""

    name: str
    words: str
    planned: str
    found: str
    value: float


@dataclass(frozen=True)
class Fitted:
    """A fit as it is shown: its parameters, which of them the readings cannot tell apart, in words, and how well it
    fits, ``χ²`` for so many readings."""

    rows: tuple[FittedRow, ...]
    inseparable: tuple[str, ...]
    chi2: float
    readings: int


def parameters(build: Build) -> tuple[tuple[str, str], ...]:
    """What may be fitted of a build's strips: names and words; nothing where none is fed or nothing of them was read.

    Args:
        build: the build.
    """
    read = any(pattern_name(reading.pattern) is not None for reading in build.bench.readings)
    if not (build.strips and build.feeds and read):
        return ()
    plan = StripsAtBench(build).plan
    return tuple((name, _words(plan, name)) for name in fit_names(plan))


def fit_task(
    build: Build, free: tuple[str, ...], progress: Callable[[float], None], cancelled: Callable[[], bool]
) -> Fitted:
    """Some parameters fitted to all readings of strips.

    Args:
        build: the build.
        free: the parameters. (n_free,)
        progress: told how far it is. [-]
        cancelled: asked whether to stop.

    Raises:
        LanternError: there are fewer readings than parameters.
    """
    found = strip_look(AtBench(build))
    readings = found[2].readings if found is not None else ()
    if found is None or len(readings) < max(len(free), 1):
        raise LanternError(
            f"{len(readings)} readings of strips do not tell {len(free)} figures", "fit",
            "more readings in a pattern of strips, or fewer figures at once",
        )  # fmt: skip
    plan = found[2].plan
    fit = fit_strips(plan, readings, free)
    rows = tuple(
        FittedRow(name, _words(plan, name), _told(name, planned_value(plan, name)),
                  f"{_told(name, fit.estimate[name])} ± {_told(name, fit.sigma[name])}", fit.estimate[name])
        for name in free
    )  # fmt: skip
    pairs = tuple(f"{_words(plan, one)} and {_words(plan, other)}" for one, other in fit.inseparable)
    return Fitted(rows, pairs, fit.chi2, len(readings))


def _words(plan: StripPlan, name: str) -> str:
    if name in SCALE_WORDS:
        return SCALE_WORDS[name]
    number = number_of(name)
    if name.startswith("feed"):
        return f"more in feed {plan.build.feed_letters[plan.build.feeds[number].id]}"
    return f"volts of “{plan.build.supplies[number].name}”"


def _told(name: str, value: float) -> str:
    if name.endswith("_V"):
        return volts(value)
    return engineering(value, "ohm") if name.endswith("_ohm") else f"{value:.0%}"
