"""Commands that every station shares."""

from __future__ import annotations

from tiny_lantern.ui import clipboard
from tiny_lantern.ui.declared.command import Command

COMMANDS = (
    Command("undo", "Edit", 10, "Undo", "Ctrl+Z", "Take the last step back", lambda s: s.session.undo(),
            lambda s: s.session.history.undo_label is not None),
    Command("redo", "Edit", 20, "Redo", "Ctrl+Shift+Z", "Do the step again that was taken back",
            lambda s: s.session.redo(), lambda s: s.session.history.redo_label is not None),
    Command("duplicate", "Edit", 40, "Duplicate", "Ctrl+D", "A copy of the selected piece, or of the effect in Weave",
            lambda s: s.duplicate(),
            lambda s: bool(s.session.selection.one("pieces") or s.session.selection.one("effects"))),
    Command("play", "Weave", 50, "Play or pause", "Ctrl+Space", "Run the show; Space alone does it too",
            lambda s: s.transport.toggle()),
    Command("next-snag", "View", 60, "Next snag", "F8", "Jump to the next finding", lambda s: s.next_snag()),
    Command("zoom-in", "View", 10, "Zoom in on the Line", "Ctrl++", "Show less of the Line",
            lambda s: s.axis.zoom(0.7, s.zoom_place())),
    Command("zoom-out", "View", 20, "Zoom out", "Ctrl+-", "Show more of the Line",
            lambda s: s.axis.zoom(1.4, s.zoom_place())),
    Command("zoom-all", "View", 30, "Show the whole Line", "Ctrl+0", "Show every light", lambda s: s.axis.show_all()),
    Command("find", "Edit", 5, "Find", "Ctrl+F", "A lamp by name or number, a piece, a part, a snag, a command",
            lambda s: s.open_finder()),
    Command("copy", "Edit", 15, "Copy", "Ctrl+C",
            "The selected pieces with all that is theirs, or in Weave the selected effects, as text",
            lambda s: clipboard.copy(s), clipboard.something_in_hand),
    Command("cut-pieces", "Edit", 16, "Cut", "Ctrl+X", "Copy what is selected and take it out",
            lambda s: clipboard.cut(s), clipboard.something_in_hand),
    Command("paste", "Edit", 17, "Paste", "Ctrl+V",
            "Pieces that were copied here or in another window; effects at the caret and the selected light",
            lambda s: clipboard.paste(s)),
    Command("parts", "Build", 46, "Parts and stock …", "Ctrl+Shift+D",
            "Every part, how many you own, and parts of your own", lambda s: s.show_parts()),
    Command("night", "View", 40, "Paper or night", "Ctrl+J", "Change the theme of the whole window",
            lambda s: s.toggle_theme()),
    Command("cancel", "Edit", 50, "Stop the search", "Ctrl+.", "Stop work that is under way",
            lambda s: s.long_work.stop(), lambda s: s.long_work.running),
    Command("guide", "Help", 10, "Guide", "F1", "The guide, at the chapter of the station in hand",
            lambda s: s.show_guide(s.station)),
    Command("keys", "Help", 20, "Keys", "Ctrl+F1", "Every command and its keys, a page of the guide",
            lambda s: s.show_guide("Keys")),
)  # fmt: skip
