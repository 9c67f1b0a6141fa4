"""Two builds put into one, so that each thing has another of its kind before it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.model.build import Build

LISTS = (
    "pieces", "supplies", "feeds", "buses", "joints", "boards", "drivers", "channels", "rails", "effects", "groups",
)  # fmt: skip


def beside(first: Build, second: Build) -> Build:
    """The things of one build, by ids of their own, before those of a second, whose show and settings hold."""
    own, whole = (build.model_dump(mode="json") for build in (first, second))
    taken = {each["id"] for name in LISTS for each in whole[name] if "id" in each}
    ids = [each["id"] for name in LISTS for each in own[name] if "id" in each]
    free = (name for name in (f"o{number}" for number in range(10_000)) if name not in taken)
    by_id = dict(zip(ids, free, strict=False))
    things = {name: _renamed(own[name], by_id) + whole[name] for name in LISTS}
    known = {part["id"] for part in whole["parts"]}
    parts = whole["parts"] + [part for part in own["parts"] if part["id"] not in known]
    return Build.model_validate(whole | things | {"parts": parts})


def _renamed(value: Any, by_id: Mapping[str, str], key: str = "") -> Any:
    if isinstance(value, dict):
        return {each: _renamed(of, by_id, each) for each, of in value.items()}
    if isinstance(value, list):
        return [_renamed(each, by_id, key) for each in value]
    return by_id.get(value, value) if key.endswith(("id", "ids")) and isinstance(value, str) else value
