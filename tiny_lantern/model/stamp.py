"""A short stamp of a build, by which a sheet or code that is old is known."""

from __future__ import annotations

import hashlib
import json
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from tiny_lantern.model.build import Build

MATTERS = ("pieces", "supplies", "rails", "feeds", "boards", "drivers", "channels", "wires")
SINCE = ("plugs", "inputs")
SHOWN = ("effects", "scenes", "groups", "palette", "tick_hz", "show_s", "after_end", "plays", "data", "parts")
ANSWERED = ("rules",)
UNCODED = ("cost", "cost_per_m", "name")
LISTENS = "listens"  # what the code does, not what is wired
ONLY_PLACE = ("layout", "x_m", "y_m", "at_m", "mount", "spacing_m")


def stamp_of(build: Build) -> str:
    """A short hash of all that a sheet or code depends on: lamps, power, drive; not where things lie in the picture."""
    dumped = build.model_dump(mode="json", include=set(MATTERS))
    kept = {field: [_matters(thing) for thing in dumped[field]] for field in MATTERS}
    kept |= {field: build.model_dump(mode="json", include={field})[field] for field in SINCE if getattr(build, field)}
    if build.wiring.wire_ids:
        kept["wire_ids"] = [{"ids": build.wiring.wire_ids}]
    text = json.dumps(kept, sort_keys=True, ensure_ascii=False)
    return hashlib.sha256(text.encode("utf-8")).hexdigest()[:4]


def code_stamp_of(build: Build) -> str:
    """The stamp of a build's code: that of its sheet, and a short hash of what the code depends on beside it."""
    dumped = build.model_dump(mode="json", include=set(SHOWN))
    kept = {field: _unpriced(dumped[field]) for field in SHOWN}
    told = [field for field in ANSWERED if getattr(build, field)]
    kept |= {field: build.model_dump(mode="json", include={field})[field] for field in told}
    listening = [[board.id, board.listens.model_dump(mode="json")] for board in build.boards if board.listens]
    kept |= {LISTENS: listening} if listening else {}
    text = json.dumps(kept, sort_keys=True, ensure_ascii=False)
    return f"{stamp_of(build)}-{hashlib.sha256(text.encode('utf-8')).hexdigest()[:4]}"


def _unpriced(value: object) -> object:
    """What a field holds, without what parts cost and are called."""
    if not isinstance(value, list):
        return value
    return [{name: each for name, each in thing.items() if name not in UNCODED} for thing in value]


def _matters(thing: dict[str, object]) -> dict[str, object]:
    return {name: value for name, value in thing.items() if name not in (*ONLY_PLACE, LISTENS)}
