"""A short stamp of a build, by which a sheet or code that is old is known."""

from __future__ import annotations

import hashlib
import json
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from tiny_lantern.model.build import Build

MATTERS = ("pieces", "supplies", "rails", "feeds", "boards", "drivers", "channels", "wires")
SINCE = ("plugs",)
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


def _matters(thing: dict[str, object]) -> dict[str, object]:
    return {name: value for name, value in thing.items() if name not in ONLY_PLACE}
