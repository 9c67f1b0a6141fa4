"""Patterns that are run on a build at the bench: which of its outputs each one lights."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.circuit.fitted import Still
from tiny_lantern.circuit.stills import Output, all_lit
from tiny_lantern.model.build import Build

Bytes = NDArray[np.uint8]
WHITE_RGB = (255, 255, 255)
DIE_RGB = {"red": (255, 0, 0), "green": (0, 255, 0), "blue": (0, 0, 255)}
DARK, LIT = "dark", "lit"
COLOUR, DRIVER, ONE, BIT = "colour ", "all of ", "one ", "bit "


@dataclass(frozen=True)
class Pattern:
    """A pattern: its key, what it is called, and the outputs that it lights."""

    key: str
    name: str
    lit: frozenset[Output]

    @property
    def still(self) -> Still:
        """It as a still of the circuit."""
        return Still(self.lit)


def outputs_of(build: Build) -> tuple[Output, ...]:
    """Every output with a lamp on it, in the order of drivers and outputs. (n_outputs,)

    Args:
        build: the build.
    """
    return tuple((driver.id, channel.output) for driver in build.drivers for channel in build.channels_of[driver.id])


def patterns_of(build: Build) -> tuple[Pattern, ...]:
    """The patterns that are offered: all dark, all that can be lit at once in as many turns as it takes, each colour
    alone, each driver alone, and the number of each output in binary, one bit at a time: as few looks as find one wrong
    wire among all.

    Args:
        build: the build.
    """
    outputs = outputs_of(build)
    found = [Pattern(DARK, "all dark", frozenset())]
    if not outputs:
        return tuple(found)
    turns = [still.lit for still, _ in all_lit(build)]
    many = len(turns) > 1
    found += [Pattern(f"{LIT} {at}" if many else LIT, f"all on, turn {at + 1}" if many else "all on", lit)
              for at, lit in enumerate(turns)]  # fmt: skip
    found += _colours(build, turns[0])
    if len(build.drivers) > 1:
        found += _drivers(build, turns[0])
    if not many:
        found += _bits(outputs)
    return tuple(pattern for pattern in found if pattern.lit or pattern.key == DARK)


def pattern_of(build: Build, key: str) -> Pattern | None:
    """A pattern by its key, one lit alone among them; None where the build has no such.

    Args:
        build: the build.
        key: the key.
    """
    if key.startswith(ONE):
        output = next((each for each in outputs_of(build) if key == one_key(each)), None)
        return Pattern(key, f"{_named(build, output)} alone", frozenset({output})) if output is not None else None
    return next((each for each in patterns_of(build) if each.key == key), None)


def one_key(output: Output) -> str:
    """The key of the pattern that lights one output alone.

    Args:
        output: the driver's id and the number of its output.
    """
    return f"{ONE}{output[0]}/{output[1]}"


def frame_of(build: Build, pattern: Pattern) -> Bytes:
    """What every light is sent in a pattern of lamps: a die its colour, any other white. (n_slots, 3)

    Args:
        build: the build.
        pattern: the pattern.
    """
    found = np.zeros((build.line.slot_count, 3), np.uint8)
    for channel in build.channels:
        if (channel.driver_id, channel.output) in pattern.lit:
            for ref in channel.slots:
                found[build.line.slot_of(ref)] |= np.array(DIE_RGB.get(channel.die or "", WHITE_RGB), np.uint8)
    return found


def _named(build: Build, output: Output) -> str:
    channel = next(each for each in build.channels_of[output[0]] if each.output == output[1])
    ref = channel.slots[0]
    return f"{build.line.piece(ref.piece_id).place_name(ref.index)} {channel.die or ''}".strip()


def _colours(build: Build, lit: frozenset[Output]) -> list[Pattern]:
    dies = {(channel.driver_id, channel.output): channel.die for channel in build.channels}
    colours = dict.fromkeys(die for die in dies.values() if die)
    return [
        Pattern(f"{COLOUR}{colour}", f"{colour} alone", frozenset(each for each in lit if dies.get(each) == colour))
        for colour in colours
    ]


def _drivers(build: Build, lit: frozenset[Output]) -> list[Pattern]:
    return [
        Pattern(f"{DRIVER}{driver.id}", f"{driver.name} alone", frozenset(each for each in lit if each[0] == driver.id))
        for driver in build.drivers
    ]


def _bits(outputs: tuple[Output, ...]) -> list[Pattern]:
    """The outputs counted from 1, those lit whose number has a bit."""
    return [
        Pattern(f"{BIT}{bit}", f"binary {bit + 1}",
                frozenset(each for number, each in enumerate(outputs, 1) if number >> bit & 1))
        for bit in range(len(outputs).bit_length())
    ]  # fmt: skip
