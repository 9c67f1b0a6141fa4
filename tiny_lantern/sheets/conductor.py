"""One conductor and its two ends."""

from __future__ import annotations

from dataclasses import dataclass

from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Driver
from tiny_lantern.model.edits import item
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.chip import ChipPart

SHARED = ("data", "clock")
GROUPS = ("Commons", "Chip supply", "Control", "Lamps", "Feeds and fuses", "Lamp supply, last")
COMMONS, CHIPS, CONTROL, LAMPS, FEEDS, LAST = GROUPS
THIN, ON_BOARD_M = "24 AWG", 0.15


@dataclass(frozen=True)
class End:
    """One end of a conductor: what it is on, which terminal, and what more to say; ``leg`` counts from the notch, from
    1, where it is a chip's."""

    on: str
    terminal: str
    more: str = ""
    leg: int | None = None
    chip_id: str = ""

    @property
    def words(self) -> str:
        """In words."""
        leg = f"leg {self.leg} ({self.terminal})" if self.leg is not None else self.terminal
        return f"{self.on}, {leg}" if leg else self.on


@dataclass(frozen=True)
class Connection:
    """One conductor: its key, its group by the hands, its ends, what lies in it, and the wire itself."""

    key: str
    group: str
    start: End
    end: End
    through: str = ""
    role: str = "lamps"
    colour: str = ""
    gauge: str = THIN
    cut_m: float = ON_BOARD_M
    passage: str = ""
    driver_id: str = ""
    slot: int | None = None
    label: str = ""

    @property
    def words(self) -> str:
        """From, through, to."""
        middle = f" → {self.through}" if self.through else ""
        return f"{self.start.words}{middle} → {self.end.words}"


def pin_end(build: Build, driver: Driver, role: str) -> End:
    """The board's end of a control wire; a chain that shares lines has those of their owner.

    Args:
        build: the build.
        driver: what is controlled.
        role: the role of the pin.
    """
    board = item(build.boards, driver.board_id, "board")
    shared = getattr(driver, "bus_of", None)
    owner = next((other for other in build.drivers if other.id == shared and role in SHARED), driver)
    pin = next((each.pin for each in owner.pins if each.role == role), None)
    part = build.shelf.find(BoardPart, board.part_id)
    there = part.pin(pin) if pin is not None else None
    return End(board.name, f"pin {pin}" if pin is not None else "no pin yet", there.compare if there else "")


def chip_end(driver: Driver, chip: ChipPart, number: int, leg: str) -> End:
    """A leg of one of a driver's chips, counted from the notch.

    Args:
        driver: what the chip belongs to.
        chip: its part.
        number: which chip of the chain, from 0. [-]
        leg: the leg's name.
    """
    name = f"{driver.name} chip {number + 1}" if getattr(driver, "chips", 1) > 1 else f"{driver.name} chip"
    at = chip.legs.index(leg) + 1 if leg in chip.legs else None
    return End(name, leg, "", at, chip.id)
