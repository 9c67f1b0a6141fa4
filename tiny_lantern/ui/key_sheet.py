"""The key sheet: every command and its keys, and the keys of each station."""

from __future__ import annotations

from tiny_lantern.ui.declared.registry import commands


def key_sheet_html() -> str:
    """Every command with its keys, as a table."""
    rows = "".join(
        f"<tr><td style='padding:2px 18px 2px 0'><b>{command.title}</b></td><td style='padding:2px 18px 2px 0'>"
        f"{command.keys}</td><td>{command.help}</td></tr>"
        for command in commands()
    )
    more = (
        "<h3>On the Line, in Power and in Weave</h3><p>Arrow keys step from light to light, Shift by ten, Home and End "
        "to the ends, 0 shows all; the wheel scrolls and Ctrl+wheel zooms.</p>"
        "<h3>Power</h3><p>A letter selects that feed; arrow keys then move it, Del removes it, Esc lets go. Enter "
        "shows the working.</p><h3>Weave</h3><p>N and P pick an effect; arrow keys move it in place and time, "
        "Alt+arrows stretch it, Del removes it. With none picked, up and down move the caret in time.</p>"
    )
    return f"<table>{rows}</table>{more}"
