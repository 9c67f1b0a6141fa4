"""One piece of every kind, and a small pier that has them all."""

from __future__ import annotations

from tests.support.builds import part
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_pieces import add_piece
from tiny_lantern.model.lamps import HoldGroup, Indicator, LampGroup, Matrix, SwitchedLoad
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.strip import Panel, Strip

EVERY_PIECE: tuple[Piece, ...] = (
    Strip(id="deck", name="Deck", part_id="rgb-5v-60", pixel_count=12, pitch_m=1 / 60, colour_order="GRB"),
    Panel(
        id="sign", name="Sign", part_id="rgb-5v-60", rows=2, columns=3, pitch_m=0.1, cross_pitch_m=0.2,
        colour_order="GRB",
    ),
    LampGroup(id="quay", name="Quay", part_id="led-white-5mm", lamp_count=5),
    HoldGroup(id="festoon", name="Festoon", part_id="lamp-self-changing", lamp_count=4),
    Matrix(id="arcade", name="Arcade", part_id="matrix-red-8x8", rows=8, columns=8),
    Indicator(id="gauge", name="Gauge", part_id="bar-red-10", form="bar", count=10),
    Indicator(id="clock", name="Clock", part_id="figure-red", form="figures", count=4),
    SwitchedLoad(id="flood", name="Flood", part_id="floodlight-12v"),
)  # fmt: skip


def pier() -> Build:
    """A pier with a piece of every kind, without power."""
    build = Build(name="Small pier")
    for piece in EVERY_PIECE:
        build = add_piece(build, part(piece.part_id), piece)
    return build
