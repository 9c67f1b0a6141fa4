"""Scenes: stretches of the show that follow one another, each with a name and a transition into it."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from tiny_lantern.model.base import Frozen, Id, Name, Seconds


class Scene(Frozen):
    """A scene goes on until the next begins; effects belong to the scene that they begin in. During ``fade_s`` from its
    beginning the scene before fades into it, whose effects that last up to there go on for so long."""

    id: Id
    name: Name
    start_s: Seconds
    fade_s: Annotated[float, Field(ge=0, le=600)] = 0.0
