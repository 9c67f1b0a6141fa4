"""Format 2 said for boards what feeds them and found by voltage what feeds lamps; now everything names its source."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

ALIKE_V, COIL_V, LOOSE_V = 0.5, 5.0, 5.0
LAMP_V = {"register": 5.0, "sink": 5.0, "scanned": 5.0, "demux": 5.0, "switch": 12.0}


def from_2(data: dict[str, Any]) -> dict[str, Any]:
    """Format 3 of what a file of format 2 holds; what is not as it should be is left for the reader to refuse.

    Args:
        data: the file's content.
    """
    old = _Old(data)
    found = dict(data)
    found["rails"] = _each(data.get("rails", []), _rail)
    found["boards"] = _each(data.get("boards", []), _board)
    found["drivers"] = _each(data.get("drivers", []), old.driver)
    found["pieces"] = _each(data.get("pieces", []), old.piece)
    return found


def _each(items: Any, change: Any) -> Any:
    if not isinstance(items, list):
        return items
    return [change(item) if isinstance(item, dict) else item for item in items]


def _rail(rail: dict[str, Any]) -> dict[str, Any]:
    return {("fed_by" if key == "supply_id" else key): _named(value) if key == "supply_id" else value
            for key, value in rail.items()}  # fmt: skip


def _board(board: dict[str, Any]) -> dict[str, Any]:
    kept = {key: value for key, value in board.items() if key not in ("supply_id", "rail_id")}
    source = board.get("rail_id") or board.get("supply_id")
    return kept if source is None else {**kept, "fed_by": _named(source)}


def _named(identity: Any) -> dict[str, Any]:
    return {"id": identity}


class _Old:
    """What format 2 fed from what: what feeds the board where its voltage fits, else the first supply or rail that
    does."""

    def __init__(self, data: dict[str, Any]) -> None:
        self.boards = [board for board in _listed(data, "boards") if "id" in board]
        self.parts = {str(part.get("id")): part for part in _listed(data, "parts")}
        self.pieces = {str(piece.get("id")): piece for piece in _listed(data, "pieces")}
        self.channels = list(_listed(data, "channels"))
        supplies = [(each.get("id"), _number(each.get("set_v"))) for each in _listed(data, "supplies")]
        self.sources = supplies + [(each.get("id"), _number(each.get("target_v"))) for each in _listed(data, "rails")]

    def driver(self, driver: dict[str, Any]) -> dict[str, Any]:
        """A driver with its sources named."""
        kind, board = driver.get("kind"), self._board(driver.get("board_id"))
        wanted: dict[str, float | None] = {}
        if kind in LAMP_V:
            wanted["fed_by"] = _number(driver.get("led_v", LAMP_V[kind]))
        if kind == "sink":
            wanted["chips_fed_by"] = _number(self._part(driver.get("chip_id")).get("vcc_v", 5.0))
        if kind == "hold":
            wanted["fed_by"] = _number(driver.get("in_v", 5.0))
            wanted["full_fed_by"] = _number(driver.get("full_v", 3.3))
        if kind == "relay":
            wanted["load_fed_by"] = self._load_v(driver)
            wanted["coils_fed_by"] = _number(self._part(driver.get("relay_id")).get("coil_v", COIL_V))
        found = {field: self._source(board, volts) for field, volts in wanted.items() if volts is not None}
        if kind == "relay" and (own := _fed(board)) is not None:
            found["coils_fed_by"] = _named(own)
        return driver | {field: source for field, source in found.items() if source is not None}

    def piece(self, piece: dict[str, Any]) -> dict[str, Any]:
        """A piece; loose addressable lamps with their source named."""
        if piece.get("kind") != "lamps" or not self._part(piece.get("part_id")).get("addressable"):
            return piece
        board = self._board(piece.get("board_id")) or next(iter(self.boards), None)
        source = self._source(board, LOOSE_V)
        return piece if source is None else {**piece, "fed_by": source}

    def _source(self, board: dict[str, Any] | None, volts: float) -> dict[str, Any] | None:
        own = _fed(board)
        ordered = [each for each in self.sources if own is not None and each[0] == own] + self.sources
        fitting = (identity for identity, gives in ordered if gives is not None and abs(gives - volts) <= ALIKE_V)
        found = next(fitting, None)
        return _named(found) if found is not None else None

    def _board(self, identity: Any) -> dict[str, Any] | None:
        return next((board for board in self.boards if board["id"] == identity), None)

    def _part(self, identity: Any) -> dict[str, Any]:
        return self.parts.get(str(identity), {})

    def _load_v(self, driver: dict[str, Any]) -> float | None:
        """The voltage of the first load behind a relay that is not on the mains. [V]"""
        for channel in self.channels:
            slots = channel.get("slots")
            if channel.get("driver_id") != driver.get("id") or not isinstance(slots, list) or not slots:
                continue
            piece = self.pieces.get(str(slots[0].get("piece_id"))) if isinstance(slots[0], dict) else None
            load = self._part(piece.get("part_id")) if piece is not None else {}
            if load.get("kind") == "load" and not load.get("mains"):
                return _number(load.get("nominal_v", 12.0))
        return None


def _fed(board: dict[str, Any] | None) -> Any:
    return None if board is None else board.get("rail_id") or board.get("supply_id")


def _listed(data: dict[str, Any], field: str) -> Iterator[dict[str, Any]]:
    items = data.get(field, [])
    return (item for item in (items if isinstance(items, list) else []) if isinstance(item, dict))


def _number(value: Any) -> float | None:
    return float(value) if isinstance(value, int | float) and not isinstance(value, bool) else None
