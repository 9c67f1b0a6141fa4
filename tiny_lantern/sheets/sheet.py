"""The printed sheet as HTML: picture, parts, feeds, wires, fuses, findings and cautions."""

from __future__ import annotations

import base64
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from importlib import resources

import numpy as np
from jinja2 import Environment, StrictUndefined, Template
from markupsafe import Markup
from numpy.typing import NDArray

from tiny_lantern.catalogue.drawer import Drawer
from tiny_lantern.catalogue.shopping import shopping_list
from tiny_lantern.circuit.bill import whole_bill
from tiny_lantern.electrical.network import part_of, supply_part
from tiny_lantern.electrical.power_tree import PowerNode, power_tree
from tiny_lantern.electrical.supplies import allowed_share
from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding
from tiny_lantern.findings.together import grouped
from tiny_lantern.light.seen import screen_look, seen
from tiny_lantern.model.build import Build
from tiny_lantern.model.lamps import Indicator, Matrix
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.model.quantities import amps, engineering, metres, volts
from tiny_lantern.model.strip import PixelRun
from tiny_lantern.model.wording import listed
from tiny_lantern.sheets.moving import Seen
from tiny_lantern.sheets.picture import picture_svg
from tiny_lantern.sheets.schedule import feed_rows

PICTURE_SOURCE = "picture.svg"
EVERY_ROW = 1_000_000
NAMED = 40
NOTHING_OWNED = Drawer()


@dataclass(frozen=True)
class StripRow:
    """One strip on the sheet, with what its worst pixel gets."""

    name: str
    part: str
    pixels: int
    length: str
    order: str
    cuts: str
    lowest: str
    loss: str


def sheet_html(
    evidence: Evidence, inline_picture: bool = True, most_rows: int = EVERY_ROW, drawer: Drawer = NOTHING_OWNED
) -> str:
    """The sheet of a build.

    Args:
        evidence: the build with its results.
        inline_picture: put the picture into the page; otherwise refer to ``picture.svg``.
        most_rows: rows of a table after which the rest is only counted, for a preview. [-]
        drawer: what is owned, and need not be bought.
    """
    source = PICTURE_SOURCE
    if inline_picture:
        source = "data:image/svg+xml;base64," + base64.b64encode(sheet_picture(evidence).encode()).decode()
    findings = grouped(check(evidence))
    parts = shopping_list(whole_bill(evidence.build), drawer)
    return _template().render(
        build=evidence.build,
        most=most_rows,
        picture=source,
        strips=_strip_rows(evidence),
        parts=parts,
        owned=any(part.owned for part in parts),
        cost=sum(part.cost for part in parts),
        feeds=feed_rows(evidence),
        supplies=_supply_rows(evidence),
        tree=_tree_rows(evidence),
        lamps=lamp_rows(evidence.build),
        findings=[f for f in findings if not f.code.startswith("caution-")],
        cautions=_cautions(findings),
        slots=evidence.build.line.slot_count,
        length=metres(sum(strip.length_m for strip in evidence.build.strips)),
    )


def sheet_picture(evidence: Evidence) -> str:
    """The sheet's picture: every light as it shows white, lamps in the colours that they have, those of strips as their
    white looks at the voltages solved."""
    build = evidence.build
    looks = Seen(build).frame(np.full((build.line.slot_count, 3), 255, np.uint8))
    solved = evidence.white.runs if evidence.white is not None else {}
    for span in build.line.runs:
        if span.run.id in solved:
            part = part_of(build, span.run)
            full = _full(span.run.pixel_count, part)
            looks[span.first : span.stop] = screen_look(part, solved[span.run.id].pixel_v, full)
    return picture_svg(build, looks)


def _full(count: int, part: StripPart) -> NDArray[np.float64]:
    return np.ones((count, len(part.pixel.channels)))


@cache
def _template() -> Template:
    environment = Environment(autoescape=True, undefined=StrictUndefined, trim_blocks=True, lstrip_blocks=True)
    environment.filters.update(amps=amps, volts=volts, metres=metres, ohms=lambda v: engineering(v, "ohm"))
    folder = resources.files("tiny_lantern.sheets") / "templates"
    environment.globals["style"] = Markup((folder / "sheet.css").read_text(encoding="utf-8"))
    return environment.from_string((folder / "sheet.html").read_text(encoding="utf-8"))


def _strip_rows(evidence: Evidence) -> list[StripRow]:
    rows = []
    for strip in evidence.build.strips:
        part = part_of(evidence.build, strip)
        lowest = loss = "not solved"
        if evidence.white is not None:
            v = evidence.white.runs[strip.id].pixel_v
            lowest = f"{volts(float(v.min()))} at pixel {int(v.argmin())}"
            loss = f"{seen(part, v, _full(strip.pixel_count, part)).light_loss.max():.0%}"
        cuts = ", ".join(f"before {cut}" for cut in strip.cuts) or "none"
        rows.append(
            StripRow(strip.name, part.name, strip.pixel_count, metres(strip.length_m), strip.colour_order, cuts,
                     lowest, loss)
        )  # fmt: skip
    return rows


@dataclass(frozen=True)
class TreeRow:
    """One line of what feeds what: how deep it stands, its name, its volts, what it draws or gives with nothing lit and
    with everything, what it may, and what more there is to say."""

    depth: int
    name: str
    volts: str
    idle: str
    worst: str
    allowed: str
    note: str


def _tree_rows(evidence: Evidence) -> list[TreeRow]:
    """What feeds what, as the power tree has it; nothing where only strips hang on supplies."""
    if not evidence.build.drivers and not evidence.build.boards:
        return []
    return [
        row for root in power_tree(evidence.build, evidence.white, evidence.drive) for row in _branch(root, 0)
    ]  # fmt: skip


def _branch(node: PowerNode, depth: int) -> Iterator[TreeRow]:
    told = volts(node.volts) if node.volts else ""
    allowed = amps(node.allowed_a) if node.allowed_a is not None else ""
    yield TreeRow(depth, node.name, told, amps(node.idle_a), amps(node.worst_a), allowed, node.note)
    for child in node.children:
        yield from _branch(child, depth + 1)


@dataclass(frozen=True)
class LampRow:
    """One named lamp on the sheet: both its numbers, where it is, what it shows, and its leads."""

    place: str
    from_0: int
    from_1: int
    function: str
    leads: str


def lamp_rows(build: Build) -> list[LampRow]:
    """Every lamp that has a name of its own, and every lamp of pieces that are no strip, in wiring order."""
    rows = []
    for span in build.line.spans:
        piece = span.piece
        part = build.shelf.find(Part, piece.part_id)
        known = part.leads if isinstance(part, LampPart) else None
        singly = not isinstance(piece, PixelRun | Matrix | Indicator)
        for index in range(piece.slot_count) if singly else sorted(piece.note_of):
            note = piece.note_of.get(index)
            own = note.leads if note and note.leads else known
            order = note.colour_order if note and note.colour_order else ""
            leads = ", ".join(own.order) if own else ("unknown" if isinstance(part, LampPart) else "")
            words = f"{leads}; {order}" if order else leads
            rows.append(LampRow(piece.place_name(index), index, index + 1, piece.function_name(index), words))
    return rows


def _supply_rows(evidence: Evidence) -> list[tuple[str, str, str, str, str]]:
    rows = []
    letters = evidence.build.feed_letters
    for supply in evidence.build.supplies:
        part = supply_part(evidence.build, supply.id)
        solved = evidence.white.supplies[supply.id] if evidence.white else None
        own = [letters[feed.id] for feed in evidence.build.feeds if feed.supply_id == supply.id]
        feeds = listed(own, NAMED)
        load = f"{amps(solved.current_a)} of {allowed_share(supply) * part.rated_a:g} A allowed" if solved else "—"
        rows.append((supply.name, part.name, volts(supply.set_v), feeds or "none", load))
    return rows


def _cautions(findings: list[Finding]) -> list[str]:
    usual = [
        "Fuses protect wires, not people: fit each one at the supply end of its wire.",
        "Soldering iron and hot glue burn; wear eye protection when cutting wire, and air the room.",
        "Do not look into bright LEDs close up.",
    ]
    return list(dict.fromkeys([f.message for f in findings if f.code.startswith("caution-")] + usual))
