"""The order of the first power: what is done and read before anything else is, each with what should be found."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from tiny_lantern.bench.of_build import AtBench
from tiny_lantern.bench.patterns import COLOUR, DARK, DRIVER, Pattern, pattern_of, patterns_of
from tiny_lantern.bench.readings import OPEN_OHM, Probe, sigma_of
from tiny_lantern.bench.strips.of_build import STRIPS, StripsAtBench, pad, pattern_name
from tiny_lantern.bench.strips.plan import WHITE
from tiny_lantern.bench.strips.probes import spread_of
from tiny_lantern.circuit.equations import NotSolvedError
from tiny_lantern.electrical.network import supply_part
from tiny_lantern.model.bench import BenchReading, MeterKind
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.quantities import amps, engineering, volts

UNPOWERED, SUPPLIES, LIGHT = "Supply off", "Supplies alone", "First light"
LIMIT_TIMES, LIMIT_MORE_A = 1.5, 0.05
SIGMAS = 2.0


@dataclass(frozen=True)
class Asked:
    """Where a step is read: what kind, on which terminals or in which conductor, in which pattern."""

    kind: MeterKind
    plus: str = ""
    minus: str = ""
    conductor: str = ""
    pattern: str = DARK


@dataclass(frozen=True)
class Expected:
    """What a meter should say, and from where to where though nothing is wrong. [V], [A] or [ohm]"""

    value: float
    low: float
    high: float

    def holds(self, value: float | None) -> bool:
        """Whether a reading lies in the band; None is ohms that are open.

        Args:
            value: the reading. [V], [A] or [ohm]
        """
        return self.low <= (OPEN_OHM * 10 if value is None else value) <= self.high


@dataclass(frozen=True)
class Step:
    """A step: its key and part of the order, what is done, what should be found, when to stop, and where it is read if
    it is."""

    key: str
    part: str
    act: str
    expect: str
    stop_if: str
    asked: Asked | None = None
    expected: Expected | None = None


def in_words(kind: MeterKind, value: float | None) -> str:
    """A reading in words.

    Args:
        kind: of what kind.
        value: the reading, None for ohms that are open. [V], [A] or [ohm]
    """
    if kind == "ohm":
        return "open" if value is None or value > OPEN_OHM else engineering(value, "ohm")
    return volts(value or 0.0) if kind == "V" else amps(value or 0.0)


def band_in_words(kind: MeterKind, expected: Expected) -> str:
    """What is expected, in words, with its band.

    Args:
        kind: of what kind.
        expected: what is expected.
    """
    if kind == "ohm" and expected.value > OPEN_OHM:
        return "open, above 1 MΩ"
    if kind == "ohm" and expected.low <= 0.0:
        return f"{in_words(kind, expected.value)}, below {in_words(kind, expected.high)}"
    return f"{in_words(kind, expected.value)}, {in_words(kind, expected.low)} to {in_words(kind, expected.high)}"


class Order:
    """The order of a build's first power.

    Args:
        bench: the build at the bench.
    """

    def __init__(self, bench: AtBench) -> None:
        self.bench, self.build = bench, bench.build

    def steps(self) -> tuple[Step, ...]:
        """All steps in their order."""
        return (*self.unpowered(), *self._supplies(), *self._light())

    def expected(self, asked: Asked) -> Expected | None:
        """What a meter should say; None where the circuit has no still state or no such terminal.

        Args:
            asked: where it is put.
        """
        if pattern_name(asked.pattern) is not None:
            return self._of_strips(asked)
        pattern = pattern_of(self.build, asked.pattern)
        if pattern is None:
            return None
        try:
            probe = self.bench.probe(asked.kind, asked.plus, asked.minus, asked.conductor)
            return self._band(pattern, probe)
        except (NotSolvedError, KeyError):
            return None

    @cached_property
    def strips(self) -> StripsAtBench | None:
        """The strips that are fed, None without any."""
        return StripsAtBench(self.build) if self.build.strips and self.build.feeds else None

    def _of_strips(self, asked: Asked) -> Expected | None:
        if self.strips is None or asked.kind == "ohm":
            return None
        try:
            name = pattern_name(asked.pattern) or ""
            probe = self.strips.probe(asked.kind, asked.plus, asked.minus, asked.conductor, name)
            value, off = self.strips.expected(probe)
        except (KeyError, ValueError, LanternError):
            return None
        share, always = spread_of(probe.kind)
        off = float(np.hypot(off, SIGMAS * (share * abs(value) + always)))
        return Expected(value, value - off, value + off)

    def _band(self, pattern: Pattern, probe: Probe) -> Expected:
        value = self.bench.expected(pattern, probe)
        if probe.kind == "ohm":
            if value > OPEN_OHM:
                return Expected(value, OPEN_OHM, float("inf"))
            off = 0.1 * value + SIGMAS * sigma_of("ohm", value)
            return Expected(value, max(0.0, value - off), value + off)
        off = float(np.hypot(self.bench.off(pattern, probe), SIGMAS * sigma_of(probe.kind, value)))
        return Expected(value, value - off, value + off)

    def _read(self, key: str, part: str, act: str, stop_if: str, asked: Asked) -> Iterator[Step]:
        expected = self.expected(asked)
        if expected is not None:
            yield Step(key, part, act, band_in_words(asked.kind, expected), stop_if, asked, expected)

    def unpowered(self) -> Iterator[Step]:
        """Those with the supply off."""
        yield Step("off/plug", UNPOWERED, "Everything is unplugged, cells are out.", "no volts anywhere",
                   "anything is warm, or a cell is still in")  # fmt: skip
        yield from self._cautions()
        resistors = sum(row.what == "resistor" for row in self.bench.rows.values())
        if resistors:
            yield Step("off/resistors", UNPOWERED, "Every lamp that needs a resistor has one.",
                       f"{resistors} of them, by the wiring list", "one is missing or has another value")  # fmt: skip
        fuses = [row.fuse_a for row in self.bench.circuit.conductors if row.fuse_a is not None]
        if fuses:
            ratings = ", ".join(f"{fuse:g} A" for fuse in sorted(set(fuses)))
            yield Step("off/fuses", UNPOWERED, "Every fuse is in, near its source, of its rating.",
                       f"{len(fuses)} of them: {ratings}", "one is larger than the list says")  # fmt: skip
        for supply in self.build.supplies:
            plus, zero = self._ends(supply.id)
            act = f"Ohms across “{supply.name}”: red probe on +, black on 0 V."
            asked = Asked("ohm", plus, zero)
            yield from self._read(f"off/short/{supply.id}", UNPOWERED, act, "it is a short, a few ohm or less", asked)
        yield from self._joined()
        yield from self._tied()

    def _cautions(self) -> Iterator[Step]:
        """What can hurt, before anything is on."""
        kinds = {supply_part(self.build, supply.id).source for supply in self.build.supplies}
        licensed = any(row.licensed for row in self.bench.circuit.conductors)
        if "mains" in kinds or licensed:
            yield Step("off/mains", UNPOWERED, "The mains side is closed, and stays so: nothing in it is probed.",
                       "made by a licensed person, to local code, earthed where it has to be",
                       "a mains terminal can be touched")  # fmt: skip
        if "battery" in kinds:
            yield Step("off/cells", UNPOWERED, "Cells are out, and have their own protection and a fuse at the pack.",
                       "no swelling, no dent, no smell", "one is warm, swollen or wet: take it outside")  # fmt: skip
        yield Step("off/hot", UNPOWERED, "Iron and glue gun are off, and lie away from plastic and wires.",
                   "both cold, or in their stands", "something smells of it")  # fmt: skip

    def _ends(self, source_id: str) -> tuple[str, str]:
        """The terminals of a supply or a rail: its plus and its zero."""
        part = next(each for each in self.bench.circuit.fitted if each.name == source_id)
        plus, zero = part.ends[-2:]
        return plus.node, zero.node

    def _joined(self) -> Iterator[Step]:
        """The zeros that are one."""
        zero = self.bench.circuit.ground.words
        for key, end in self.bench.ends.items():
            if end.terminal == "0 V" and key != self.bench.zero and not end.on.startswith("Splice"):
                act = f"0 V is one: ohms from {end.words} to {zero}."
                asked = Asked("ohm", key, self.bench.zero)
                yield from self._read(f"off/0v/{key}", UNPOWERED, act, "it is more than an ohm or two", asked)

    def _tied(self) -> Iterator[Step]:
        """Legs of chips that must hang on something: enable on 0 V, clear on the supply."""
        for key, end in self.bench.ends.items():
            if end.terminal in ("enable", "clear"):
                to = self.bench.zero if end.terminal == "enable" else end.node.replace("|clear", "|supply")
                if to == self.bench.zero or to in self.bench.ends:
                    where = "0 V" if end.terminal == "enable" else "the chip's supply"
                    act = f"{end.words}: ohms to {where}."
                    yield from self._read(f"off/tied/{key}", UNPOWERED, act, "it is open: the leg hangs free",
                                          Asked("ohm", key, to))  # fmt: skip

    def _supplies(self) -> Iterator[Step]:
        for supply in self.build.supplies:
            dark = self.expected(Asked("A", conductor=supply.id))
            if dark is not None:
                limit_a = LIMIT_TIMES * max(dark.value, 0.0) + LIMIT_MORE_A
                yield Step(f"on/limit/{supply.id}", SUPPLIES,
                           f"An adjustable source in place of “{supply.name}” first: set {volts(supply.set_v)} and its "
                           "limit.", f"a limit of {amps(limit_a)}, above the {amps(dark.value)} of all dark",
                           "there is no limit to set: then a fuse of the smallest rating stands in")  # fmt: skip
            plus, zero = self._ends(supply.id)
            yield from self._read(f"on/supply/{supply.id}", SUPPLIES, f"“{supply.name}” on: volts between + and 0 V.",
                                  "it is low or falls: switch off", Asked("V", plus, zero))  # fmt: skip
        for rail in self.build.rails:
            out, zero = self._ends(rail.id)
            asked = Asked("V", out, zero)
            yield from self._read(f"on/rail/{rail.id}", SUPPLIES, f"Rail “{rail.name}”: trim and read it.",
                                  "it does not come into its window", asked)  # fmt: skip
        for key, end in self.bench.ends.items():
            if end.terminal == "supply":
                act = f"{end.words}: volts to 0 V."
                yield from self._read(
                    f"on/fed/{key}",
                    SUPPLIES,
                    act,
                    "nothing is there: look at its wire",
                    Asked("V", key, self.bench.zero),
                )

    def _light(self) -> Iterator[Step]:
        for pattern in patterns_of(self.build):
            if pattern.key == DARK:
                words = "All outputs dark: the current of"
            elif pattern.key.startswith((DRIVER, COLOUR)):
                words = f"{pattern.name}: the current of"
            else:
                continue
            yield from self._currents(pattern, words[0].upper() + words[1:])
        for pattern in patterns_of(self.build):
            if pattern.key.startswith("lit"):
                yield from self._currents(pattern, f"{pattern.name[0].upper()}{pattern.name[1:]}: the current of")
                break
        yield from self._strips()
        yield Step("lit/heat", LIGHT, "Ten minutes of all on, then a thermometer on regulators, transistors and fuses.",
                   "none above 60 °C outside; a cheap contact or infrared thermometer serves",
                   "something smells or browns. Hot parts are never tried with a finger")  # fmt: skip

    def _currents(self, pattern: Pattern, words: str) -> Iterator[Step]:
        for supply in self.build.supplies:
            asked = Asked("A", conductor=supply.id, pattern=pattern.key)
            yield from self._read(f"lit/{pattern.key}/{supply.id}", LIGHT, f"{words} “{supply.name}”.",
                                  "it is above the band: switch off, then Why?", asked)  # fmt: skip

    def _strips(self) -> Iterator[Step]:
        """Strips: each colour seen, then white, read at both ends and at each feed."""
        if self.strips is None:
            return
        yield Step("lit/strips/colours", LIGHT, "Strips red, then green, then blue, all of each.",
                   "the colour that was sent, from the first pixel to the last",
                   "another colour is seen: the order of colours is another")  # fmt: skip
        white = f"{STRIPS}{WHITE}"
        for feed in self.build.feeds:
            letter = self.build.feed_letters[feed.id]
            asked = Asked("A", conductor=f"feed/{feed.id}/out", pattern=white)
            yield from self._read(f"lit/strips/{feed.id}", LIGHT, f"Strips white: the current out of feed {letter}.",
                                  "it is far off: a feed that gives nothing makes others give more", asked)  # fmt: skip
        for strip in self.build.strips:
            for pixel in dict.fromkeys((0, strip.pixel_count - 1)):
                asked = Asked("V", pad(strip, pixel, "pos"), pad(strip, pixel, "neg"), pattern=white)
                act = f"Strips white: volts across pixel {pixel} of “{strip.name}”."
                yield from self._read(f"lit/strips/{strip.id}/{pixel}", LIGHT, act, "it is below the band", asked)


def asked_of(reading: BenchReading) -> Asked:
    """Where a reading was taken.

    Args:
        reading: the reading.
    """
    return Asked(reading.kind, reading.plus, reading.minus, reading.conductor, reading.pattern)


def first_power(build: Build) -> tuple[Step, ...]:
    """The order of a build's first power.

    Args:
        build: the build.
    """
    return Order(AtBench(build)).steps()
