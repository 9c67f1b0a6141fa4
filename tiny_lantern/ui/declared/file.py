"""Commands on files."""

from __future__ import annotations

from tiny_lantern.ui.declared.command import Command

COMMANDS = (
    Command("new", "Build", 10, "New build", "Ctrl+N", "Start an empty build", lambda s: s.files.new()),
    Command("open", "Build", 20, "Open …", "Ctrl+O", "Open a .lantern file", lambda s: s.files.ask_open()),
    Command("save", "Build", 30, "Save", "Ctrl+S", "Write the build to its file", lambda s: s.files.save()),
    Command("save-as", "Build", 40, "Save as …", "Ctrl+Shift+S", "Write the build to another file",
            lambda s: s.files.ask_save()),
    Command("close", "Build", 50, "Close", "Ctrl+W", "Close the window", lambda s: s.window().close()),
    Command("quit", "Build", 60, "Quit", "Ctrl+Q", "Close the window too", lambda s: s.window().close()),
)  # fmt: skip
