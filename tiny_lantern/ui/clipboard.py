"""Pieces to the system's clipboard and back."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QApplication

from tiny_lantern.model.clip import clip_text
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.place import Place

if TYPE_CHECKING:
    from tiny_lantern.ui.shell import Shell


def copy(shell: Shell) -> bool:
    """Put the selected pieces on the clipboard as text; False when that is refused."""
    chosen = shell.session.selection.all("pieces")
    try:
        text = clip_text(shell.session.build, chosen)
    except LanternError as error:
        shell.tell(error)
        return False
    QApplication.clipboard().setText(text)
    shell.session.say(f"Copied {len(chosen)} piece{'s' if len(chosen) > 1 else ''}.")
    return True


def cut(shell: Shell) -> None:
    """Copy the selected pieces and take them out of the build."""
    if copy(shell):
        shell.pieces_hand().form.remove()


def paste(shell: Shell) -> None:
    """Add the pieces that are on the clipboard and select them."""
    from tiny_lantern.plans.paste import paste as paste_into  # needs what the warm-up loads

    session = shell.session
    before = {piece.id for piece in session.build.pieces}
    if session.apply("Pasted pieces", partial(paste_into, text=QApplication.clipboard().text())):
        new = [piece.id for piece in session.build.pieces if piece.id not in before]
        session.select_place(Place.on("pieces", *new))
