"""Every command, declared once: the menu, the shortcuts, the key sheet and the guide come from here."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from tiny_lantern.ui.shell import Shell


@dataclass(frozen=True)
class Command:
    """A command: what it is called, which keys, what it does, and when it can be done."""

    id: str
    group: str
    title: str
    keys: str
    help: str
    run: Callable[[Shell], object]
    when: Callable[[Shell], bool] = lambda shell: True


def _station(number: int, title: str) -> Command:
    return Command(
        f"station-{number}", "Go", title, f"Alt+{number}", f"Show the {title} station",
        lambda shell: shell.show_station(title),
    )  # fmt: skip


COMMANDS: tuple[Command, ...] = (
    Command("new", "File", "New build", "Ctrl+N", "Start an empty build", lambda s: s.files.new()),
    Command("open", "File", "Open …", "Ctrl+O", "Open a .lantern file", lambda s: s.files.ask_open()),
    Command("save", "File", "Save", "Ctrl+S", "Write the build to its file", lambda s: s.files.save()),
    Command("save-as", "File", "Save as …", "Ctrl+Shift+S", "Write the build to another file",
            lambda s: s.files.ask_save()),
    Command("close", "File", "Close", "Ctrl+W", "Close the window", lambda s: s.close()),
    Command("quit", "File", "Quit", "Ctrl+Q", "Close the window too", lambda s: s.close()),
    Command("undo", "Edit", "Undo", "Ctrl+Z", "Take the last step back", lambda s: s.session.undo(),
            lambda s: s.session.history.undo_label is not None),
    Command("redo", "Edit", "Redo", "Ctrl+Shift+Z", "Do the step again that was taken back", lambda s: s.session.redo(),
            lambda s: s.session.history.redo_label is not None),
    Command("add-strip", "Edit", "Add a strip", "Ctrl+T", "Add a strip to the end of the Line",
            lambda s: s.add_strip()),
    Command("duplicate", "Edit", "Duplicate", "Ctrl+D", "A copy of the selected strip, or of the effect in Weave",
            lambda s: s.duplicate(),
            lambda s: bool(s.session.selection.piece_id or s.session.selection.effect_id)),
    Command("find-feeds", "Edit", "Find feeds", "Ctrl+F", "The fewest feeds that keep the selected strip in its limits",
            lambda s: s.find_feeds_here(), lambda s: bool(s.session.build.strips and s.session.build.supplies)),
    Command("cut", "Edit", "Cut the rail before this light", "Ctrl+K",
            "Open the positive rail before the selected light, or close the cut that is there",
            lambda s: s.cut_here(), lambda s: s.session.selection.slot is not None),
    Command("short", "Edit", "Try a short here", "Ctrl+H",
            "Put a short on the Line at the selected light to see what it does, or take it off",
            lambda s: s.try_short(),
            lambda s: bool(s.session.build.strips)),
    Command("keep-load", "Edit", "Keep this load as a case", "Ctrl+L",
            "Put the load in hand among the build's own load cases", lambda s: s.keep_load()),
    Command("working", "Edit", "Show the working", "Ctrl+I", "How the selected light's or feed's figures came about",
            lambda s: s.show_selected_working(), lambda s: bool(s.session.build.strips)),
    Command("supply-working", "Edit", "Show the supplies' working", "Ctrl+Shift+I",
            "How the supply gauge's figures came about", lambda s: s.show_supplies_working(),
            lambda s: bool(s.session.build.supplies)),
    _station(1, "Pieces"),
    _station(2, "Power"),
    _station(4, "Weave"),
    _station(6, "Sheets"),
    Command("play", "Go", "Play or pause", "Ctrl+Space", "Run the show; Space alone does it too",
            lambda s: s.transport.toggle()),
    Command("next-snag", "Go", "Next snag", "F8", "Jump to the next finding", lambda s: s.next_snag()),
    Command("zoom-in", "View", "Zoom in on the Line", "Ctrl++", "Show less of the Line",
            lambda s: s.axis.zoom(0.7, s.zoom_place())),
    Command("zoom-out", "View", "Zoom out", "Ctrl+-", "Show more of the Line",
            lambda s: s.axis.zoom(1.4, s.zoom_place())),
    Command("zoom-all", "View", "Show the whole Line", "Ctrl+0", "Show every light", lambda s: s.axis.show_all()),
    Command("night", "View", "Paper or night", "Ctrl+J", "Change the theme of the whole window",
            lambda s: s.toggle_theme()),
    Command("cancel", "View", "Stop the search", "Ctrl+.", "Stop work that is under way", lambda s: s.long_work.stop(),
            lambda s: s.long_work.running),
    Command("keys", "Help", "Keys", "F1", "Every command and its keys", lambda s: s.show_keys()),
)  # fmt: skip


def key_sheet_html() -> str:
    """Every command with its keys, as a table."""
    rows = "".join(
        f"<tr><td style='padding:2px 18px 2px 0'><b>{command.title}</b></td><td style='padding:2px 18px 2px 0'>"
        f"{command.keys}</td><td>{command.help}</td></tr>"
        for command in COMMANDS
    )
    more = (
        "<h3>On the Line, in Power and in Weave</h3><p>Arrow keys step from light to light, Shift by ten, Home and End "
        "to the ends, 0 shows all; the wheel scrolls and Ctrl+wheel zooms.</p>"
        "<h3>Power</h3><p>A letter selects that feed; arrow keys then move it, Del removes it, Esc lets go. Enter "
        "shows the working.</p><h3>Weave</h3><p>N and P pick an effect; arrow keys move it in place and time, "
        "Alt+arrows stretch it, Del removes it. With none picked, up and down move the caret in time.</p>"
    )
    return f"<table>{rows}</table>{more}"
