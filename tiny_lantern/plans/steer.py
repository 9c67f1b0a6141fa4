"""Having registers control transistors, relays and boxes in place of pins, and pins again."""

from __future__ import annotations

from tiny_lantern.catalogue.shelf import all_parts
from tiny_lantern.model.base import made, revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Driver, Steered
from tiny_lantern.model.edits import fresh_family, item, replaced, with_part
from tiny_lantern.model.edits_drive import without_idle_pins
from tiny_lantern.model.edits_sources import with_sources
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.parts.relay import RelayPart
from tiny_lantern.model.steering import outputs_used
from tiny_lantern.model.ways.register import RegisterChain
from tiny_lantern.model.ways.relay import RelayBoard
from tiny_lantern.plans.pins import assign_pins
from tiny_lantern.plans.rewire import assert_memory

NEW, REGISTER = "new", "register-8"


def chains_for(build: Build, driver: Driver) -> list[RegisterChain]:
    """The chains of registers that a driver's inputs could hang on.

    Args:
        build: the build.
        driver: the driver.
    """
    if not isinstance(driver, Steered):
        return []
    return [
        each
        for each in build.drivers
        if isinstance(each, RegisterChain) and not each.sink and each.board_id == driver.board_id
    ]


def steer(build: Build, driver_id: str, chain_id: str | None) -> Build:
    """Hang the inputs of a driver on the outputs of a chain that are free, after those that are used, with as many
    chips as that takes; or on pins of its board.

    Args:
        build: the build.
        driver_id: the driver.
        chain_id: the chain, ``new`` for registers of its own, None for pins.

    Raises:
        LanternError: it has no inputs, the chain is none of its board, or the board has too few pins.
    """
    driver = item(build.drivers, driver_id, "driver")
    if not isinstance(driver, Steered):
        accepted = "transistors, relays, or boxes with inputs"
        raise LanternError(f"{driver.name} has no inputs that registers could control", "inputs", accepted)
    build = revise(build, drivers=replaced(build.drivers, driver_id, revise(driver, inputs_on=None, inputs_from=0)))
    build = without_idle_chains(build)
    if chain_id == NEW:
        build, chain_id = _with_registers(build, driver)
    if chain_id is not None:
        build = _on_chain(build, driver_id, chain_id)
    return assign_pins(without_idle_pins(build), driver.board_id)


def without_idle_chains(build: Build) -> Build:
    """The build without chains that neither lamps nor inputs hang on.

    Args:
        build: the build.
    """
    kept = tuple(each for each in build.drivers if not isinstance(each, RegisterChain) or outputs_used(build, each))
    return build if len(kept) == len(build.drivers) else revise(build, drivers=kept)


def _with_registers(build: Build, driver: Steered) -> tuple[Build, str]:
    """The build with registers for a driver's inputs, on the voltage of what they control where that is their coils',
    else on that of the board's pins."""
    chip = all_parts(build).find(ChipPart, REGISTER)
    build = with_part(build, chip)
    board = item(build.boards, driver.board_id, "board")
    high_v = build.shelf.find(BoardPart, board.part_id).logic_v
    if isinstance(driver, RelayBoard):
        high_v = max(high_v, min(5.0, build.shelf.find(RelayPart, driver.relay_id).coil_v))
    identity = fresh_family(build, f"{driver.name} registers")
    chain = made(
        RegisterChain, id=identity, name=f"{driver.name} registers", board_id=driver.board_id, chip_id=chip.id,
        led_v=high_v,
    )  # fmt: skip
    return with_sources(revise(build, drivers=(*build.drivers, chain))), identity


def _on_chain(build: Build, driver_id: str, chain_id: str) -> Build:
    driver, chain = (item(build.drivers, each, "driver") for each in (driver_id, chain_id))
    if chain not in chains_for(build, driver):
        told = f"the inputs of {driver.name} cannot hang on {chain.name}"
        raise LanternError(told, "inputs", "a chain of latch registers of the same board whose outputs give")
    first = outputs_used(build, chain)
    used = 1 + max((channel.output for channel in build.channels_of[driver_id]), default=-1)
    wider = revise(chain, chips=max(chain.chips, chain.chips_for(first + used, build.shelf)))
    steered = revise(driver, inputs_on=chain_id, inputs_from=first)
    drivers = replaced(replaced(build.drivers, chain_id, wider), driver_id, steered)
    build = revise(build, drivers=drivers)
    assert_memory(build, driver.board_id)
    return build
