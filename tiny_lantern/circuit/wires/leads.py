"""How the leads of a lamp are called: by length, by cup, by place in the row."""

from __future__ import annotations

import math
from dataclasses import dataclass

from tiny_lantern.circuit.conductor import LEAD, End
from tiny_lantern.electrical.driven.contract import DrivenLamp
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Channel
from tiny_lantern.model.effects import SlotRef
from tiny_lantern.model.layout import slot_places
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.piece import Piece

UNKNOWN_FED, UNKNOWN_OTHER = "lead that is fed (not known yet)", "other lead (not known yet)"


@dataclass(frozen=True)
class Leads:
    """The lead where a die's current comes in, and the one where it goes out; ``shared`` is the one that other dies of
    the lamp have too, None where there is none."""

    fed: str
    other: str
    shared: str | None = None


def leads_of(channel: Channel, lamp: DrivenLamp) -> Leads:
    """The leads of a channel's die.

    Args:
        channel: the channel.
        lamp: its lamp.
    """
    part = lamp.part
    if not isinstance(part, LampPart):
        return Leads("one end", "other end")
    if part.leads is None or not part.leads.order:
        return _unknown(part, channel)
    order = part.leads.order
    if channel.die is not None and channel.die in order:
        own = lead_words(part, channel.die)
        common = lead_words(part, "common" if "common" in order else "other")
        return Leads(common, own, common) if part.common == "anode" else Leads(own, common, common)
    fed = next((lead for lead in ("anode", "plus") if lead in order), order[0])
    other = next((lead for lead in order if lead != fed), "other lead")
    return Leads(lead_words(part, fed), lead_words(part, other))


def _unknown(part: LampPart, channel: Channel) -> Leads:
    """Of a lamp whose leads nobody knows: a die of several has one of its own all the same."""
    if len(part.dies) < 2 or part.common == "none" or channel.die is None:
        return Leads(UNKNOWN_FED, UNKNOWN_OTHER)
    own = f"{channel.die} lead (not known yet)"
    common = "common lead (not known yet)"
    return Leads(common, own, common) if part.common == "anode" else Leads(own, common, common)


def lead_words(part: LampPart, lead: str) -> str:
    """A lead in words.

    Args:
        part: the lamp.
        lead: the lead.
    """
    leads = part.leads
    if leads is None:
        return lead
    words = [lead]
    if leads.longest == lead:
        words.append("long leg")
    elif len(leads.order) == 2 and leads.longest is not None:
        words.append("short leg")
    if leads.cup == lead:
        words.append("cup side")
    if len(leads.order) > 2 and lead in leads.order:
        words.append(f"{leads.order.index(lead) + 1} of {len(leads.order)} in the row")
    return ", ".join(words)


def away_m(build: Build, one: SlotRef, other: SlotRef) -> float:
    """How far two lights are from each other in the picture. [m]

    Args:
        build: the build.
        one: a light.
        other: another.
    """
    places = (slot_places(build.line.piece(ref.piece_id))[ref.index] for ref in (one, other))
    return math.dist(*places)


def lead_of(piece: Piece, index: int, name: str) -> End:
    """A lead of one lamp of a piece.

    Args:
        piece: the piece.
        index: the lamp's number in it. [-]
        name: how the lead is called.
    """
    return End(piece.place_name(index), name, piece.function_name(index), of=f"{piece.id}/{index}", takes=LEAD)
