"""Format 1 knew strips only: they become pieces, the shelf one list of parts by kind, pixels lights of a piece."""

from __future__ import annotations

from typing import Any

SHELVES = {"strips": "strip", "supplies": "supply", "fuses": "fuse", "connectors": "connector", "wires": "wire"}


def from_1(data: dict[str, Any]) -> dict[str, Any]:
    """Format 2 of what a file of format 1 holds; what is not as it should be is left for the reader to refuse.

    Args:
        data: the file's content.
    """
    found = dict(data)
    found["parts"] = _parts(data.get("parts", {}))
    found["pieces"] = _each(found.pop("strips", []), lambda strip: {"kind": "strip", **strip})
    found["effects"] = _each(data.get("effects", []), _effect)
    return found


def _each(items: Any, change: Any) -> Any:
    if not isinstance(items, list):
        return items
    return [change(item) if isinstance(item, dict) else item for item in items]


def _parts(shelves: Any) -> Any:
    if not isinstance(shelves, dict) or shelves.keys() - SHELVES.keys():
        return shelves
    return [part for field, kind in SHELVES.items() for part in _shelf(shelves.get(field, []), kind)]


def _shelf(items: Any, kind: str) -> list[Any]:
    def part(item: dict[str, Any]) -> dict[str, Any]:
        own = {"source" if kind == "supply" and key == "kind" else key: value for key, value in item.items()}
        return {"kind": kind, **own}

    return list(_each(items, part)) if isinstance(items, list) else [items]


def _effect(effect: dict[str, Any]) -> dict[str, Any]:
    return {key: _ref(value) if key in ("first", "last") else value for key, value in effect.items()}


def _ref(ref: Any) -> Any:
    names = {"strip_id": "piece_id", "pixel": "index"}
    return {names.get(key, key): value for key, value in ref.items()} if isinstance(ref, dict) else ref
