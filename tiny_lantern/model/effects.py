"""What an effect is: its span of lights, its time, how it is laid on those below, and its parameters."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from tiny_lantern.model.base import Colour, Frozen, Id, Ratio, Seconds

Layer = Literal["replace", "add", "lighten", "dim"]
Period = Annotated[float, Field(ge=0.02, le=3600)]


class SlotRef(Frozen):
    """One light: a pixel of a strip."""

    strip_id: Id
    pixel: Annotated[int, Field(ge=0, le=1_000_000)]


class Look(Frozen):
    """What an effect looks like; each kind adds its own parameters."""

    kind: str


class Steady(Look):
    """One colour, unchanging."""

    kind: Literal["steady"] = "steady"
    colour: Colour = "#ffb648"


class Fade(Look):
    """From one colour to another, once, over the whole length of the effect."""

    kind: Literal["fade"] = "fade"
    colour: Colour = "#000000"
    colour_to: Colour = "#ffb648"


class Breathe(Look):
    """Rises and falls as a raised cosine between ``low`` and full."""

    kind: Literal["breathe"] = "breathe"
    colour: Colour = "#ffb648"
    period_s: Period = 4.0
    low: Ratio = 0.05


class Blink(Look):
    """On for ``duty`` of each period, dark for the rest."""

    kind: Literal["blink"] = "blink"
    colour: Colour = "#ffb648"
    period_s: Period = 1.0
    duty: Ratio = 0.5


class Chase(Look):
    """Lit dashes that travel along the Line, each with a tail that dies away behind it."""

    kind: Literal["chase"] = "chase"
    colour: Colour = "#ffb648"
    length_px: Annotated[int, Field(ge=1, le=100_000)] = 6
    tail_px: Annotated[int, Field(ge=0, le=100_000)] = 12
    spacing_px: Annotated[int, Field(ge=1, le=1_000_000)] = 48
    speed_px_per_s: Annotated[float, Field(ge=-100_000, le=100_000)] = 24.0


class Wheel(Look):
    """The hues in turn along the Line, turning with time."""

    kind: Literal["wheel"] = "wheel"
    level: Ratio = 1.0
    period_s: Period = 6.0
    turns: Annotated[float, Field(ge=-1000, le=1000)] = 1.0


EffectKind = Annotated[Steady | Fade | Breathe | Blink | Chase | Wheel, Field(discriminator="kind")]
LOOKS: tuple[Look, ...] = (Steady(), Fade(), Breathe(), Blink(), Chase(), Wheel())


class Effect(Frozen):
    """A rectangle on the weave: lights ``first`` to ``last`` inclusive, from ``start_s`` for ``length_s``."""

    id: Id
    first: SlotRef
    last: SlotRef
    start_s: Seconds
    length_s: Annotated[float, Field(ge=0.025, le=86_400)]
    layer: Layer = "replace"
    look: EffectKind
