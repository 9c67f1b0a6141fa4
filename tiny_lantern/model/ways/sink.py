"""Constant-current sinks."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from tiny_lantern.model.base import Ohms
from tiny_lantern.model.drive import LedVolts
from tiny_lantern.model.ways.chain import Chain


class SinkChain(Chain):
    """Constant-current sinks: the setting resistor gives the current of every output."""

    kind: Literal["sink"] = "sink"
    word: ClassVar[str] = "constant-current sinks"
    at: ClassVar[str] = "on a sink"
    wins: ClassVar[str] = "many lamps of one current, without a resistor each"
    rank: ClassVar[int] = 50
    rext_ohm: Annotated[float, Field(gt=0, le=1e6)] = 1000.0
    led_v: LedVolts = 5.0
    common_ohm: Ohms = 0.0
