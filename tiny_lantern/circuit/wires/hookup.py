"""What a way to drive is wired from: its board's pins, its chips' legs, its lamps' leads, and the rails."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import pairwise

from tiny_lantern.circuit.conductor import COMMONS, CONTROL, LAMPS, Conductor, End, InLine
from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.diodes import Led
from tiny_lantern.circuit.elements.loads import Load
from tiny_lantern.circuit.fitted import At, Fitted, Law, Same, Still
from tiny_lantern.circuit.wires.leads import Leads, away_m, lead_of, leads_of
from tiny_lantern.circuit.wires.rails import lamp_rail, logic_rail, zero_rail
from tiny_lantern.circuit.wires.ties import tied
from tiny_lantern.electrical.driven.contract import LIMITED_INSIDE, DrivenLamp, lamp_of
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Board, Channel, Driver
from tiny_lantern.model.edits import item
from tiny_lantern.model.edits_sources import wanted_v
from tiny_lantern.model.effects import SlotRef
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.parts.load import LoadPart
from tiny_lantern.model.quantities import engineering
from tiny_lantern.model.steering import chain_of

SHARED, LINES = ("data", "clock"), ("data", "clock", "latch")
Wired = Conductor | Fitted | Same


def resistor(ohm: float | None) -> tuple[InLine, ...]:
    """A resistor in line, none where there is none. [ohm]"""
    return (InLine(engineering(ohm, "ohm"), ohm),) if ohm else ()


@dataclass(frozen=True)
class Hookup:
    """A driver of a build, about to be wired."""

    build: Build
    driver: Driver

    @cached_property
    def channels(self) -> tuple[Channel, ...]:
        """Its channels, in the order of its outputs."""
        return self.build.channels_of[self.driver.id]

    @cached_property
    def board(self) -> Board:
        """The board that controls it."""
        return item(self.build.boards, self.driver.board_id, "board")

    @cached_property
    def board_part(self) -> BoardPart:
        """That board's part."""
        return self.build.shelf.find(BoardPart, self.board.part_id)

    @property
    def zero(self) -> End:
        """The rail that all returns meet on."""
        return zero_rail()

    @property
    def logic(self) -> End:
        """The rail of what the board's pins give."""
        return logic_rail(self.build, self.board)

    def rail(self, field: str = "fed_by") -> End:
        """The rail of a source that the driver names.

        Args:
            field: the field that names it.
        """
        return lamp_rail(self.build, getattr(self.driver, field), self._wanted_v.get(field, 0.0))

    @cached_property
    def _wanted_v(self) -> Mapping[str, float]:
        return wanted_v(self.build, self.driver)

    def pin(self, role: str) -> End:
        """The board's end of a control wire; a chain that shares lines has those of their owner.

        Args:
            role: the role of the pin.
        """
        shared = getattr(self.driver, "bus_of", None)
        owner = next((each for each in self.build.drivers if each.id == shared and role in SHARED), self.driver)
        pin = next((each.pin for each in owner.pins if each.role == role), None)
        there = self.board_part.pin(pin) if pin is not None else None
        if pin is None:
            return End(self.board.name, f"no pin yet, {role}", of=f"{self.board.id}/{self.driver.id}/{role}")
        return End(self.board.name, f"pin {pin}", there.compare if there else "", of=self.board.id)

    @cached_property
    def on_chain(self) -> Hookup | None:
        """The chain of registers that its inputs hang on; None where they hang on pins."""
        chain = chain_of(self.build, self.driver)
        return Hookup(self.build, chain) if chain is not None else None

    def part_end(self, word: str, terminal: str, takes: int = 1) -> End:
        """A terminal of something that belongs to the driver.

        Args:
            word: what it is.
            terminal: which terminal.
            takes: how many wires it takes. [-]
        """
        return End(f"{self.driver.name} {word}", terminal, of=f"{self.driver.id} {word}", takes=takes)

    def leg(self, chip: ChipPart, number: int, leg: str) -> End:
        """A leg of one of the driver's chips, counted from the notch.

        Args:
            chip: the part.
            number: which chip of the chain, from 0. [-]
            leg: the leg's name.
        """
        many = getattr(self.driver, "chips", 1) > 1
        word = f"chip {number + 1}" if many else "chip"
        at = chip.legs.index(leg) + 1 if leg in chip.legs else None
        return End(f"{self.driver.name} {word}", leg, "", at, chip.id, of=f"{self.driver.id} {word}")

    def row(
        self, key: str, group: str, start: End, end: End, in_line: tuple[InLine, ...] = (), role: str = "control",
        slot: int | None = None,
    ) -> Conductor:  # fmt: skip
        """A conductor of the driver.

        Args:
            key: its key within the driver.
            group: its group by the hands.
            start: one end.
            end: the other.
            in_line: what lies in it.
            role: what it is for.
            slot: the light that it leads to. [-]
        """
        whole = f"{self.driver.id}/{key}"
        return Conductor(whole, group, start, end, in_line, role, driver_id=self.driver.id, slot=slot)

    def hung(self) -> Iterator[Hung]:
        """What hangs on each output."""
        yield from (Hung(self.build, channel) for channel in self.channels)

    def on_output(self, hung: Hung, output: End, fed_from: End | None = None) -> Iterator[Wired]:
        """A channel's lamps on an output, behind their resistor, and the lead that their dies share on a rail.

        Args:
            hung: the lamps.
            output: the output.
            fed_from: the rail that feeds them where the output sinks; where it gives, they lead to 0 V.
        """
        shared, in_line = hung.other if fed_from is None else hung.fed, resistor(hung.channel.resistor_ohm)
        for number, switched in enumerate(hung.switched(gives=fed_from is None)):
            key = f"{hung.channel.output}/lamp{number or ''}"
            row = self.row(key, LAMPS, output, switched, in_line, "lamps", hung.slot_at(number))
            yield replace(row, die=hung.lamp.die.name if hung.lamp.die is not None else "")
        yield from self.common(hung, fed_from or self.zero, shared, "return" if fed_from is None else "lamp supply")
        yield from hung.between(self, gives=fed_from is None)
        yield from hung.fitted()

    def common(self, hung: Hung, rail: End, lead: End, role: str) -> Iterator[Conductor]:
        """What joins a rail and a lamp's lead that all of its dies share, as its piece ties them.

        Args:
            hung: the lamp.
            rail: the rail.
            lead: the lead.
            role: what it is for.
        """
        row = self.row(f"lamp{hung.slot}/common", COMMONS, rail, lead, role=role, slot=hung.slot)
        refs = (ref for channel in self.channels for ref in channel.slots)
        yield from tied(self.build, self.board, row, hung.channel.slots[0], refs)

    def control(self, key: str, role: str, end: End) -> Conductor:
        """The conductor from a pin to what it controls.

        Args:
            key: its key within the driver.
            role: the role of the pin.
            end: what it controls.
        """
        return self.row(key, CONTROL, self.pin(role), end, role=role if role in LINES else "control")


@dataclass(frozen=True)
class Hung:
    """The lamps of a channel, with their leads."""

    build: Build
    channel: Channel

    @cached_property
    def lamp(self) -> DrivenLamp:
        """What they are."""
        return lamp_of(self.build, self.channel)

    @cached_property
    def slot(self) -> int:
        """The first of them on the Line. [-]"""
        return self.build.line.slot_of(self.channel.slots[0])

    def slot_at(self, number: int) -> int:
        """One of them on the Line. [-]

        Args:
            number: which of them. [-]
        """
        return self.build.line.slot_of(self.channel.slots[number])

    @cached_property
    def leads(self) -> Leads:
        """How their leads are called."""
        return leads_of(self.channel, self.lamp)

    def lead(self, name: str, number: int = 0) -> End:
        """A lead of one of them.

        Args:
            name: how it is called.
            number: which of them; the last is -1. [-]
        """
        return lead_of(self.lamp.piece, self.channel.slots[number].index, name)

    @property
    def fed(self) -> End:
        """Where the current comes in."""
        return self.lead(self.leads.fed)

    @property
    def other(self) -> End:
        """Where it goes out."""
        return self.lead(self.leads.other, -1)

    def switched(self, gives: bool) -> tuple[End, ...]:
        """The leads that an output switches: one, or that of each lamp where each has a resistor of its own.

        Args:
            gives: whether the output gives, else it sinks.
        """
        lead = self.leads.fed if gives else self.leads.other
        if self.lamp.own_resistors > 1:
            return tuple(self.lead(lead, number) for number in range(len(self.channel.slots)))
        return (self.lead(lead, 0 if gives else -1),)

    def between(self, hookup: Hookup, gives: bool = True) -> Iterator[Conductor]:
        """From lamp to lamp of a string in series; both leads to those of the next one where they lie side by side,
        only the one that they share where each has a resistor in the other.

        Args:
            hookup: the driver.
            gives: whether the output gives, else it sinks.
        """
        fed, other = self.leads.fed, self.leads.other
        pairs = [("string", other, fed)] if self.lamp.in_series > 1 else []
        if self.lamp.own_resistors > 1:
            pairs = [("back", other, other)] if gives else [("fed", fed, fed)]
        elif self.lamp.branches > 1:
            pairs = [("fed", fed, fed), ("back", other, other)]
        for number, (here, there) in enumerate(pairwise(self.channel.slots)):
            for name, lead, to in pairs:
                key = f"{self.channel.output}/{name}{number}"
                row = hookup.row(key, LAMPS, self.lead(lead, number), self.lead(to, number + 1), role="lamps")
                yield replace(row, hop_m=away_m(self.build, here, there))

    def fitted(self, reverse: bool = False) -> Iterator[Fitted]:
        """The lamps themselves.

        Args:
            reverse: whether the current of its die comes in at the other lead.
        """
        for number, ref in enumerate(self.channel.slots):
            ends = self.lead(self.leads.fed, number), self.lead(self.leads.other, number)
            ends = ends[::-1] if reverse else ends
            yield Fitted(lamp_id(ref, self.channel), ends, self._law(lamp_id(ref, self.channel), ends))

    def _law(self, name: str, ends: tuple[End, End]) -> Law:
        part, die = self.lamp.part, self.lamp.die

        def law(still: Still, at: At) -> tuple[Element, ...]:
            plus, minus = at(ends[0]), at(ends[1])
            if isinstance(part, LoadPart):
                return (Load(name, plus, minus, part.power_w / part.nominal_v),)
            assert isinstance(part, LampPart) and die is not None
            if part.limited_by in LIMITED_INSIDE and self.lamp.led is None:
                return (Load(name, plus, minus, die.test_a),)
            return (Led(name, plus, minus, die.forward_v, die.test_a, die.slope_ohm),)

        return law


def lamp_id(ref: SlotRef, channel: Channel) -> str:
    """The name of a channel's lamp in the circuit: its piece, its number, and its die where it has several."""
    return f"lamp/{ref.piece_id}/{ref.index}" + (f"/{channel.die}" if channel.die else "")
