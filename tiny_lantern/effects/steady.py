"""Steady: one colour, unchanging."""

from __future__ import annotations

from tiny_lantern.effects.kind import ColourParameter, EffectKind, colour

KIND = EffectKind(
    kind="steady",
    help="One colour, unchanging.",
    rank=10,
    parameters=(ColourParameter("colour", "colour", "#ffb648"),),
    light=lambda: colour("colour"),
)
