"""What can be done with the reference photo, in a corner of the picture: how strong, scale, move, take away."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QFrame, QHBoxLayout, QInputDialog

from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.pixels import FILES
from tiny_lantern.model.quantities import parse_quantity
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import PlainLabel, button, combo, quiet, set_choice
from tiny_lantern.ui.widgets.picture import Picture
from tiny_lantern.ui.widgets.picture_hand import PHOTO, SCALE, PictureHand

STRENGTHS = (0.2, 0.35, 0.6, 1.0)
MARGIN = 10


class PhotoBar(QFrame):
    """Shown while there is a photo; asks for one too."""

    def __init__(self, session: Session, picture: Picture, hand: PictureHand) -> None:
        super().__init__(picture)
        self._session, self._picture, self._hand = session, picture, hand
        self.setObjectName("panel")
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 4, 6, 4)
        row.setSpacing(5)
        row.addWidget(PlainLabel("photo"))
        self.strength = combo([(f"{share:.0%}", share) for share in STRENGTHS], "How strong the photo is", self._set)
        self.scale = button("Scale", self._scale, "small", "Drag between two points whose distance you know")
        self.move_it = button("Move", self._move, "small", "Drag the photo; Escape ends it")
        self.remove = button("×", self._remove, "small", "Take the photo away")
        self.remove.setAccessibleName("Take the photo away")
        for widget in (self.strength, self.scale, self.move_it, self.remove):
            row.addWidget(widget)
        self.ask_text: Callable[[str], str | None] = self._ask_text
        hand.measured.connect(self._ask_distance)
        session.build_changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show itself where there is a photo."""
        photo = self._session.build.photo
        self.setVisible(photo is not None)
        if photo is None:
            return
        with quiet(self.strength):
            set_choice(self.strength, photo.strength)
        self.adjustSize()
        self.move(self._picture.width() - self.width() - MARGIN, MARGIN)

    def ask(self) -> None:
        """Ask for a file and lay it under the picture."""
        chosen, _ = QFileDialog.getOpenFileName(self._picture, "Lay a photo under", "", FILES)
        if chosen:
            self.lay(Path(chosen))

    def lay(self, path: Path) -> None:
        """Lay a photo under the picture as wide as what is in view; a refusal is told."""
        from tiny_lantern.model.edits_photo import lay_photo, photo_from  # loads the library that reads pictures

        left, bottom, right, _ = self._picture.view_m()
        try:
            photo = photo_from(path, left, bottom, right - left)
        except LanternError as error:
            self._session.refused.emit(error)
            return
        self._session.apply(f"Laid {path.name} under the picture", partial(lay_photo, photo=photo))
        self._session.say("Now scale it: drag between two points whose distance you know.")

    def _scale(self) -> None:
        self._hand.mode = SCALE
        self._session.say("Drag between two points of the photo whose distance you know.")

    def _ask_distance(self, first: tuple[float, float], second: tuple[float, float]) -> None:
        text = self.ask_text("How far apart are these two points?")
        if text is not None:
            self.scale_by(first, second, text)

    def _ask_text(self, question: str) -> str | None:
        text, wanted = QInputDialog.getText(self, "Scale the photo", question, text="1 m")
        return text if wanted else None

    def scale_by(self, first: tuple[float, float], second: tuple[float, float], text: str) -> None:
        """Scale the photo so that two points are as far apart as a text says."""
        from tiny_lantern.model.edits_photo import scale_photo

        try:
            apart_m = parse_quantity(text, "m", "distance")
        except LanternError as error:
            self._session.refused.emit(error)
            return
        edit = partial(scale_photo, first=first, second=second, apart_m=apart_m)
        if self._session.apply("Scaled the photo", edit):
            self._hand.mode, self._picture.tape = "", None
            self._picture.update()

    def _move(self) -> None:
        self._hand.mode = PHOTO

    def _set(self, strength: object) -> None:
        from tiny_lantern.model.edits_photo import change_photo

        self._session.apply("Changed how strong the photo is", partial(change_photo, strength=strength))

    def _remove(self) -> None:
        from tiny_lantern.model.edits_photo import lay_photo

        self._session.apply("Took the photo away", partial(lay_photo, photo=None))
