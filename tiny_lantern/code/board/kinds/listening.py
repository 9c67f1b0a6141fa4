"""A board that listens to a computer: frames that it shows instead of its own, as long as it hears from it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from string import Template

from tiny_lantern.code.board.kinds.listening_c import C_LOST, C_SIGNALS, C_TELL, GONE, SHOWN, C
from tiny_lantern.code.board.kinds.listening_python import PYTHON, PYTHON_GONE
from tiny_lantern.code.names import plain_text
from tiny_lantern.model.listening import Listening


@dataclass(frozen=True)
class Told:
    """A signal that a computer tells: its name, its words for off and on, and what it is when the link is lost."""

    name: str
    states: tuple[str, str]
    lost: str


LOOKS_AT, STAYS = 32, 2
WORDS_OF_ITS_OWN = ("?", "alive", "test")
CAPPED = "    keep_within_caps();\n"
WORDS = {"show": "its own show", "dark": "dark", "hold": "the light that came last"}


def identity_of(stamp: str, title: str, byte_count: int) -> str:
    """What a board says of itself, line by line.

    Args:
        stamp: the stamp of its code.
        title: what it is called.
        byte_count: how many bytes a frame has. [-]
    """
    return f"{stamp}\n{plain_text(title)}\n{byte_count}"


def shown(levels: bool, caps: bool) -> str:
    """What shows a frame that came, in C; within the caps, whatever the computer asks for.

    Args:
        levels: whether the board drives lamps itself.
        caps: whether a supply has a cap.
    """
    return Template(SHOWN).substitute(levels="    set_levels();\n" if levels else "", capped=CAPPED if caps else "")


def heard(listens: Listening, identity: str, inputs: int, signals: Sequence[Told]) -> str:
    """What hears a computer, in C.

    Args:
        listens: how the board listens.
        identity: what it says of itself.
        inputs: how many inputs it has. [-]
        signals: what a computer may tell it.
    """
    lines = lines_of(signals)
    count = len(signals)
    states = ", ".join(str({"off": 0, "on": 1, "stays": STAYS}[each.lost]) for each in signals)
    return Template(C).substitute(
        alone=WORDS[listens.alone], alone_us=round(listens.alone_s * 1e6),
        identity=identity.replace("\n", "\\n"), looks=LOOKS_AT, gone=GONE[listens.alone], answer_bytes=2 + 2 * inputs,
        readings="".join(f"    answer_two(lantern_read({at}));\n" for at in range(inputs)),
        longest=max(map(len, lines)), lines="\n".join(f'    "{each}\\0"' for each in lines), known=len(lines),
        asks=lines.index("?"), tests=lines.index("test"),
        signals=Template(C_SIGNALS).substitute(count=count, lost=states) if count else "",
        lost=C_LOST if count else "", tell=C_TELL if count else "",
    )  # fmt: skip


def python_heard(listens: Listening, identity: str, inputs: int, signals: Sequence[Told]) -> str:
    """What hears a computer, in Python.

    Args:
        listens: how the board listens.
        identity: what it says of itself.
        inputs: how many inputs it has. [-]
        signals: what a computer may tell it.
    """
    return Template(PYTHON).substitute(
        alone=WORDS[listens.alone], alone_us=round(listens.alone_s * 1e6), identity=repr(identity), looks=LOOKS_AT,
        gone=PYTHON_GONE[listens.alone], readings=f" + [read(at) for at in range({inputs})]" if inputs else "",
        lines=[each.encode() for each in lines_of(signals)],
        lost=[{"off": 0, "on": 1, "stays": None}[each.lost] for each in signals],
    )  # fmt: skip


def lines_of(signals: Sequence[Told]) -> list[str]:
    """The lines of text that a board knows: each signal off and on, then words for the board itself.

    Args:
        signals: what a computer may tell it.
    """
    return [*(f"{each.name}={state}" for each in signals for state in each.states), *WORDS_OF_ITS_OWN]
