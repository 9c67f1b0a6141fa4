"""The light of one channel of a part."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from tiny_lantern.model.base import Frozen

ChannelName = Literal["red", "green", "blue", "white", "amber"]


class Primary(Frozen):
    """The light of one channel at its nominal current: CIE 1931 chromaticity and luminous intensity."""

    x: Annotated[float, Field(gt=0, lt=1)]
    y: Annotated[float, Field(gt=0, lt=1)]
    intensity_cd: Annotated[float, Field(gt=0, le=1e5)]
