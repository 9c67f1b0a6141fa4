"""Pieces to the system's clipboard and back."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QApplication

from tiny_lantern.model.clip import clip_text
from tiny_lantern.model.edits_many import effects_text, is_effects_text, paste_effects, remove_effects
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.place import Place

if TYPE_CHECKING:
    from tiny_lantern.ui.shell import Shell

AT_ONCE = 60_000  # letters of pieces that are pasted before one could notice


def effects_in_hand(shell: Shell) -> tuple[str, ...]:
    """The selected effects while Weave is shown, which come before pieces there."""
    return shell.session.selection.all("effects") if shell.station == "Weave" else ()


def something_in_hand(shell: Shell) -> bool:
    """Whether anything is selected that can be copied."""
    return bool(effects_in_hand(shell) or shell.session.selection.all("pieces"))


def copy(shell: Shell) -> bool:
    """Put the selected effects or pieces on the clipboard as text; False when that is refused."""
    effects = effects_in_hand(shell)
    if effects:
        QApplication.clipboard().setText(effects_text(shell.session.build, effects))
        shell.session.say(f"Copied {len(effects)} effect{'s' if len(effects) > 1 else ''}.")
        return True
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
    """Copy the selected effects or pieces and take them out of the build."""
    effects = effects_in_hand(shell)
    if not copy(shell):
        return
    if effects:
        shell.session.apply("Took effects out", partial(remove_effects, ids=effects))
    else:
        shell.pieces_hand().form.remove()


def paste(shell: Shell) -> None:
    """Add the pieces on the clipboard and select them; effects are laid at the caret and the selected light."""
    text = QApplication.clipboard().text()
    if is_effects_text(text):
        _paste_effects(shell, text)
        return
    from tiny_lantern.plans.paste import paste as paste_into  # needs what the warm-up loads

    session = shell.session
    before = {piece.id for piece in session.build.pieces}

    def choose() -> None:
        new = [piece.id for piece in session.build.pieces if piece.id not in before]
        session.select_place(Place.on("pieces", *new))

    edit = partial(paste_into, text=text)
    if len(text) > AT_ONCE:
        session.apply_later("Pasted pieces", edit, choose)
    elif session.apply("Pasted pieces", edit):
        choose()


def _paste_effects(shell: Shell, text: str) -> None:
    session = shell.session
    before = {effect.id for effect in session.build.effects}
    shell.show_station("Weave")
    edit = partial(paste_effects, text=text, first_slot=session.slot or 0, time_s=session.time_s)
    if session.apply("Pasted effects", edit):
        new = [effect.id for effect in session.build.effects if effect.id not in before]
        session.select("effects", *new)
