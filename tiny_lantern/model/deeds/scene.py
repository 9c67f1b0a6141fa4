"""Which scene plays."""

from __future__ import annotations

from collections.abc import Collection
from typing import Annotated, ClassVar, Literal, Self

from tiny_lantern.model.base import Id
from tiny_lantern.model.deed import Deed, Names, of_id
from tiny_lantern.model.refers import Refers


class GoToScene(Deed):
    """A scene begins, the next one where ``scene_id`` is None; with ``stays`` it plays over and over until another one
    is asked for. Without scenes the show begins anew."""

    kind: Literal["scene"] = "scene"
    word: ClassVar[str] = "scene"
    rank: ClassVar[int] = 30
    follows: ClassVar[bool] = False
    scene_id: Annotated[Id, Refers("scenes")] | None = None
    stays: bool = False

    def told(self, build: Names) -> str:
        """What it does, in words.

        Args:
            build: the build.
        """
        if not build.scenes:
            return "the show begins anew"
        name = of_id(build.scenes, self.scene_id).name if self.scene_id is not None else ""
        return (f"“{name}” begins" if name else "the next scene begins") + (" and plays on and on" * self.stays)

    def without(self, ids: Collection[str]) -> Self | None:
        """The deed when other things go; None when its scene does."""
        return None if self.scene_id in ids else self
