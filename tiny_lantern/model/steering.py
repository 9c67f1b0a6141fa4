"""What hangs on the outputs of register chains beside lamps: the inputs of transistors, relays and boxes."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.model.drive import Channel, Driver, Steered
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.ways.register import RegisterChain
from tiny_lantern.model.whole import Whole


def chain_of(build: Whole, driver: Driver) -> RegisterChain | None:
    """The chain of registers that a driver's inputs hang on; None where they hang on pins.

    Args:
        build: the build.
        driver: the driver.
    """
    if not isinstance(driver, Steered) or driver.inputs_on is None:
        return None
    found = next(each for each in build.drivers if each.id == driver.inputs_on)
    return found if isinstance(found, RegisterChain) else None


def steered_by(build: Whole, chain: Driver) -> Iterator[Steered]:
    """The drivers whose inputs hang on a chain.

    Args:
        build: the build.
        chain: the chain.
    """
    return (each for each in build.drivers if isinstance(each, Steered) and each.inputs_on == chain.id)


def inputs_on(build: Whole, chain: Driver) -> dict[int, tuple[Steered, Channel]]:
    """The inputs that hang on a chain's outputs, by the output: whose each is, and the channel that it controls.

    Args:
        build: the build.
        chain: the chain.
    """
    return {
        driver.inputs_from + channel.output: (driver, channel)
        for driver in steered_by(build, chain)
        for channel in build.channels_of[driver.id]
    }


def outputs_used(build: Whole, driver: Driver) -> int:
    """How many outputs a driver uses, up to the last one: those of its lamps, and those that inputs hang on. [-]

    Args:
        build: the build.
        driver: the driver.
    """
    own = (channel.output for channel in build.channels_of[driver.id])
    return 1 + max((*own, *inputs_on(build, driver)), default=-1)


def check_steering(build: Whole) -> None:
    """Refuse inputs on what is no chain of registers of their board, or on outputs that are taken or not there.

    Args:
        build: the build.

    Raises:
        LanternError: there are such, with the place.
    """
    by_id = {driver.id: driver for driver in build.drivers}
    for number, driver in enumerate(build.drivers):
        if not isinstance(driver, Steered) or driver.inputs_on is None:
            continue
        where, chain = f"drivers[{number}].inputs_on", by_id[driver.inputs_on]
        if not isinstance(chain, RegisterChain) or chain.board_id != driver.board_id:
            told = f"the inputs of {driver.name} cannot hang on {chain.name}"
            raise LanternError(told, where, "a chain of latch registers of the same board")
        if chain.sink:
            told = f"the outputs of {chain.name} are low while they are lit, and its lamps hang on them so"
            raise LanternError(told, where, "a chain whose outputs are high while they are lit")
        wanted = [driver.inputs_from + channel.output for channel in build.channels_of[driver.id]]
        taken = {channel.output: chain.name for channel in build.channels_of[chain.id]}
        taken |= {output: other.name for output, (other, _) in inputs_on(build, chain).items() if other is not driver}
        there = chain.output_count(build.shelf) or 0
        for output in wanted:
            if output in taken:
                told = f"output {output} of {chain.name}, for an input of {driver.name}, is taken by {taken[output]}"
                raise LanternError(told, f"drivers[{number}].inputs_from", "outputs that nothing hangs on")
            if output >= there:
                told = f"{chain.name} has no output {output} for an input of {driver.name}"
                raise LanternError(told, f"drivers[{number}].inputs_from", f"0 to {there - 1}, or more chips")
