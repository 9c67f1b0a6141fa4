"""What Find offers: things of the build, snags and commands, and where each leads."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from tiny_lantern.model.find import closeness, found_in
from tiny_lantern.model.place import Place
from tiny_lantern.ui.declared.command import Command, Shell
from tiny_lantern.ui.declared.registry import commands
from tiny_lantern.ui.widgets.finder import Choice

LEAVING = ("close", "quit")


def choices_for(shell: Shell) -> Callable[[str], list[Choice]]:
    """Looks a word up in everything that the window knows."""

    def look_up(word: str) -> list[Choice]:
        things = [
            Choice(found.title, found.about, partial(go_to, shell, found.place))
            for found in found_in(shell.session.build, word)
        ]
        return [*things, *_snags(shell, word), *_commands(shell, word)]

    return look_up


def go_to(shell: Shell, place: Place) -> None:
    """Select a place and bring it into view, in whichever station is shown."""
    shell.session.select_place(place)
    slot = shell.session.slot
    if slot is not None:
        shell.axis.reveal(shell.axis.slot_place(slot))


def _snags(shell: Shell, word: str) -> list[Choice]:
    sought = word.strip().casefold()
    return [
        Choice(finding.title, f"snag · {finding.severity.label}", partial(shell.jump_to, finding))
        for finding in shell.session.findings
        if sought and closeness(sought, finding.title, finding.message) is not None
    ]


def _commands(shell: Shell, word: str) -> list[Choice]:
    """Every command that has the word, those that can be done now first, those that end the work last."""
    sought = word.strip().casefold()
    found = [command for command in commands() if closeness(sought, command.title, command.help) is not None]
    found.sort(key=lambda command: (command.id in LEAVING, not command.when(shell)))
    return [Choice(command.title, _about(shell, command), partial(_run, shell, command)) for command in found]


def _about(shell: Shell, command: Command) -> str:
    told = f"command · {command.group} · {command.keys}"
    return told if command.when(shell) else f"{told} · nothing to do it on now"


def _run(shell: Shell, command: Command) -> None:
    if command.when(shell):
        command.run(shell)
    else:
        shell.session.say(f"{command.title}: there is nothing to do it on now.")
