"""Pieces: what is lit, with what, where."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from tiny_lantern.model.edits_layout import align_pieces, distribute_pieces
from tiny_lantern.ui.declared.command import Command
from tiny_lantern.ui.declared.station import Around, Station

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

    from tiny_lantern.ui.shell import Shell


def _make(around: Around) -> QWidget:
    from tiny_lantern.ui.stations.pieces import PiecesStation  # loaded when first shown

    return PiecesStation(around.session, around.frames)


def _lay(shell: Shell, how: str) -> None:
    """Align or distribute the selected pieces: ``align-left``, ``distribute`` ..."""
    ids = shell.session.selection.all("pieces")
    act, _, side = how.partition("-")
    if act == "align":
        shell.session.apply(f"Aligned {len(ids)} pieces", partial(align_pieces, piece_ids=ids, side=side))
    else:
        edit = partial(distribute_pieces, piece_ids=ids, upright=bool(side))
        shell.session.apply(f"Distributed {len(ids)} pieces", edit)


def _measure(shell: Shell) -> None:
    """Measure in the picture until Escape."""
    shell.pieces_hand().hand.mode = "tape"
    shell.session.say("Drag from one point to another; Escape puts the tape away.")


def _pieces_chosen(shell: Shell) -> bool:
    return bool(shell.session.selection.all("pieces"))


def _several(shell: Shell) -> bool:
    return len(shell.session.selection.all("pieces")) > 1


STATION = Station(
    number=1,
    title="Pieces",
    make=_make,
    empty="Nothing is here yet: add the first piece, then say where it lies and how large it is.",
    commands=(
        Command("add-strip", "Pieces", 30, "Add a strip", "Ctrl+T", "Add a strip to the end of the Line",
                lambda s: s.add_strip()),
        Command("build-fields", "Build", 45, "This build …", "Ctrl+B", "Name, place, show and notes of the build",
                lambda s: s.show_build_fields()),
        Command("mirror", "Pieces", 31, "Mirror left to right", "Ctrl+M", "Mirror the selected pieces in the picture",
                lambda s: s.pieces_hand().form.mirror(), _pieces_chosen),
        Command("align-left", "Pieces", 32, "Align left edges", "Ctrl+Alt+Left", "Align the selected pieces",
                lambda s: _lay(s, "align-left"), _several),
        Command("align-right", "Pieces", 33, "Align right edges", "Ctrl+Alt+Right", "Align the selected pieces",
                lambda s: _lay(s, "align-right"), _several),
        Command("align-top", "Pieces", 34, "Align upper edges", "Ctrl+Alt+Up", "Align the selected pieces",
                lambda s: _lay(s, "align-top"), _several),
        Command("align-bottom", "Pieces", 35, "Align lower edges", "Ctrl+Alt+Down", "Align the selected pieces",
                lambda s: _lay(s, "align-bottom"), _several),
        Command("distribute", "Pieces", 36, "Distribute evenly", "Ctrl+Alt+H",
                "Even distances between the middles of the selected pieces", lambda s: _lay(s, "distribute"), _several),
        Command("distribute-down", "Pieces", 37, "Distribute evenly upright", "Ctrl+Alt+V",
                "Even heights between their middles", lambda s: _lay(s, "distribute-down"), _several),
        Command("group", "Pieces", 38, "Group what is selected", "Ctrl+G",
                "Name the selected pieces' lights as a group", lambda s: s.pieces_hand().groups.group_selected(),
                _pieces_chosen),
        Command("passage", "Pieces", 41, "Add a passage for wires", "Ctrl+Shift+H",
                "A hole that wires go through; it counts them", lambda s: s.pieces_hand().add_room("passages")),
        Command("box", "Pieces", 42, "Add a box", "Ctrl+Shift+B", "A box for supplies, boards or a battery",
                lambda s: s.pieces_hand().add_room("boxes")),
        Command("tape", "Pieces", 39, "Tape measure", "Ctrl+Shift+M", "Measure in the picture; Escape ends",
                lambda s: _measure(s)),
        Command("photo", "Pieces", 40, "Lay a photo under …", "Ctrl+Shift+P", "A reference photo under the picture",
                lambda s: s.pieces_hand().photo.ask()),
    ),
)  # fmt: skip
