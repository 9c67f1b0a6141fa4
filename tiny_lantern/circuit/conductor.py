"""One conductor of the circuit: the two terminals that it joins, what lies in it, and the wire itself."""

from __future__ import annotations

from dataclasses import dataclass, replace

GROUPS = ("Commons", "Chip supply", "Control", "Lamps", "Feeds and fuses", "Lamp supply, last")
COMMONS, CHIPS, CONTROL, LAMPS, FEEDS, LAST = GROUPS
THIN, ON_BOARD_M = "24 AWG", 0.15
SCREW, LEAD, MANY = 2, 2, 1000


@dataclass(frozen=True)
class End:
    """A terminal: what it is on, which it is, and what more to say; ``leg`` counts from the notch, from 1, where it is
    a chip's. ``of`` tells apart what has the same name, ``takes`` says how many wires it takes, ``gives_a`` what a
    source can give there at most. [A]"""

    on: str
    terminal: str
    more: str = ""
    leg: int | None = None
    chip_id: str = ""
    of: str = ""
    takes: int = 1
    gives_a: float = 0.0

    @property
    def words(self) -> str:
        """In words."""
        leg = f"leg {self.leg} ({self.terminal})" if self.leg is not None else self.terminal
        return f"{self.on}, {leg}" if leg else self.on

    @property
    def node(self) -> str:
        """The name of its node in the circuit."""
        return f"{self.of or self.on}|{self.terminal}"


@dataclass(frozen=True)
class InLine:
    """What lies in a conductor: in words, its resistance, the volts that it takes where it is a diode, the rating of a
    fuse, whether it lets no direct current through, and of a contact whose it is and its number. [ohm], [V], [A]"""

    words: str
    ohm: float = 0.0
    drop_v: float | None = None
    fuse_a: float | None = None
    blocks: bool = False
    plug_id: str = ""
    contact: int = 0

    @property
    def is_resistor(self) -> bool:
        """Whether it is a resistor: neither a diode, a fuse nor a contact, and not what wires have by themselves."""
        return self.ohm > 0 and self.drop_v is None and self.fuse_a is None and not self.plug_id


DECOUPLING = (InLine("100 nF, close by", blocks=True),)


@dataclass(frozen=True)
class Conductor:
    """One conductor: its key, its group by the hands, its ends, what lies in it, and the wire itself with its
    resistance, ``told_ohm`` where the build tells it, and what it may carry; ``hop_m`` is its length where it leads
    from one lamp to another, ``bears_a`` what a fuse before it and its load ask of it, ``die`` the one that it lights.
    One of a ``licensed`` person has a row and no place in the circuit. [m], [ohm], [A]"""

    key: str
    group: str
    start: End
    end: End
    in_line: tuple[InLine, ...] = ()
    role: str = "lamps"
    colour: str = ""
    gauge: str = THIN
    cut_m: float = ON_BOARD_M
    hop_m: float | None = None
    told_ohm: float | None = None
    wire_ohm: float = 0.0
    limit_a: float = float("inf")
    bears_a: float = 0.0
    passage: str = ""
    driver_id: str = ""
    slot: int | None = None
    die: str = ""
    label: str = ""
    licensed: bool = False

    def with_wire(self, ohm_per_m: float) -> Conductor:
        """The conductor with its wire's resistance: what the build tells of it, else by its length.

        Args:
            ohm_per_m: that of the wire. [ohm/m]
        """
        return replace(self, wire_ohm=self.cut_m * ohm_per_m if self.told_ohm is None else self.told_ohm)

    @property
    def through(self) -> str:
        """What lies in it, in words."""
        return ", ".join(each.words for each in self.in_line)

    @property
    def wire_words(self) -> str:
        """Its colour and gauge in words; what it is instead where it takes no wire."""
        return ", ".join(filter(None, (self.colour, self.gauge))) if self.cut_m else "soldered or plugged, no wire"

    @property
    def ohm(self) -> float:
        """The wire with what lies in it. [ohm]"""
        return self.wire_ohm + self.in_line_ohm

    @property
    def in_line_ohm(self) -> float:
        """What lies in it, without the wire. [ohm]"""
        return sum(each.ohm for each in self.in_line)

    @property
    def what(self) -> str:
        """What it is by what lies in it: a resistor, a fuse, a connector, else a wire."""
        if any(each.is_resistor for each in self.in_line):
            return "resistor"
        if self.fuse_a is not None:
            return "fuse"
        return "connector" if any(each.plug_id for each in self.in_line) else "wire"

    @property
    def blocks(self) -> bool:
        """Whether no direct current passes."""
        return any(each.blocks for each in self.in_line)

    @property
    def drop_v(self) -> float | None:
        """The volts that a diode in it takes, None without one. [V]"""
        return next((each.drop_v for each in self.in_line if each.drop_v is not None), None)

    @property
    def fuse_a(self) -> float | None:
        """The rating of the fuse in it, None without one. [A]"""
        return next((each.fuse_a for each in self.in_line if each.fuse_a is not None), None)

    @property
    def words(self) -> str:
        """From, through, to."""
        middle = f" → {self.through}" if self.through else ""
        return f"{self.start.words}{middle} → {self.end.words}"
