"""The wiring on paper and as tables: the steps in the order of the hands, and the way back by pin, leg and label."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from functools import cache
from importlib import resources

from jinja2 import Environment, StrictUndefined, Template
from markupsafe import Markup

from tiny_lantern.circuit.conductor import GROUPS, Conductor
from tiny_lantern.circuit.drive import wired
from tiny_lantern.circuit.equations import NotSolvedError
from tiny_lantern.circuit.plugs import Contact, contacts_of
from tiny_lantern.model.build import Build
from tiny_lantern.model.parts.connector import ConnectorPart
from tiny_lantern.model.plug import Plug
from tiny_lantern.model.quantities import amps, metres
from tiny_lantern.model.stamp import stamp_of
from tiny_lantern.model.wording import harmless
from tiny_lantern.sheets.connections import connections, most_through, through_counts

HEADS = ("step", "group", "from", "through", "to", "shows", "colour", "gauge", "cut_m", "label", "passage", "state",
         "ohm", "diode_v", "carries_a")  # fmt: skip


def wiring_csv(build: Build) -> str:
    """Every conductor as comma-separated values, in the order of the hands; its resistance in all its digits, empty
    where no direct current passes."""
    text = io.StringIO()
    table = csv.writer(text, lineterminator="\n")
    table.writerow(HEADS)
    for number, row in enumerate(connections(build), 1):
        way = (str(number), row.group, row.start.words, row.through, row.end.words, row.end.more)
        wire = (row.colour, row.gauge, f"{row.cut_m:.3f}", row.label, row.passage)
        passes = not (row.blocks or row.licensed)
        electrical = (repr(row.ohm) if passes else "", _number(row.drop_v), _number(row.limit_a))
        cells = (*way, *wire, build.wiring.state_of(row.key) or "", *electrical)
        table.writerow([harmless(cell) for cell in cells])
    return text.getvalue()


def _number(value: float | None) -> str:
    return f"{value:g}" if value is not None and value != float("inf") else ""


def by_terminal(rows: Sequence[Conductor]) -> list[tuple[str, str, str]]:
    """The way back: each end by what it is on and its terminal, with where it leads and its label."""
    found = []
    for row in rows:
        found.append((row.start.words, row.end.words, row.label))
        found.append((row.end.words, row.start.words, row.label))
    return sorted(found, key=lambda each: (_natural(each[0]), _natural(each[1])))


def _natural(text: str) -> list[tuple[int, str]]:
    """A text in an order in which leg 10 comes after leg 9."""
    parts: list[tuple[int, str]] = []
    word = ""
    for mark in f"{text} ":
        if mark.isdecimal():
            word += mark
        else:
            if word:
                parts.append((int(word), ""))
                word = ""
            parts.append((-1, mark))
    return parts


def wiring_html(build: Build, most_rows: int = 1_000_000) -> str:
    """The wiring as a page.

    Args:
        build: the build.
        most_rows: rows of a table after which the rest is only counted, for a preview. [-]
    """
    rows = connections(build)
    counts = through_counts(build, rows)
    plugs = [(plug, build.shelf.find(ConnectorPart, plug.part_id), _contacts(build, plug)) for plug in build.plugs]
    holes = [(hole.name, counts[hole.name], most_through(hole)) for hole in build.passages]
    groups = [(group, [row for row in rows if row.group == group]) for group in GROUPS]
    return _template().render(
        build=build, stamp=stamp_of(build), groups=[(name, own) for name, own in groups if own], holes=holes,
        plugs=plugs, number={row.key: n for n, row in enumerate(rows, 1)}, state=build.wiring.state_of, most=most_rows,
        back=by_terminal(rows), total=len(rows),
    )  # fmt: skip


def _contacts(build: Build, plug: Plug) -> list[tuple[Contact, str]]:
    """The table of a connector, each contact with what it carries when everything is lit."""
    contacts = contacts_of(connections(build), plug)
    try:
        carried_a = wired(build).lit.conductor_a
    except NotSolvedError:
        carried_a = {}
    return [(each, amps(carried_a[each.row.key]) if each.row.key in carried_a else "") for each in contacts]


@cache
def _template() -> Template:
    environment = Environment(autoescape=True, undefined=StrictUndefined, trim_blocks=True, lstrip_blocks=True)
    environment.filters["metres"] = metres
    folder = resources.files("tiny_lantern.sheets") / "templates"
    environment.globals["style"] = Markup((folder / "sheet.css").read_text(encoding="utf-8"))
    return environment.from_string((folder / "wiring.html").read_text(encoding="utf-8"))
