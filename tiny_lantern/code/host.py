"""The computer's side of a board that listens: a small module of Python with the names of the build."""

from __future__ import annotations

from collections.abc import Sequence
from string import Template

from tiny_lantern.code.board.kinds.listening import Told
from tiny_lantern.code.names import comment, plain_text
from tiny_lantern.model.listening import Listening

HOST = "lantern_host.py"
TEXT = '''"""$title: the computer's side, stamp $stamp. Tells $board by name what it is to show.

    lantern = Lantern.at("/dev/ttyUSB0")    # wherever your board is; needs the package pyserial
    lantern.tell("$name", "$state")
    while True:
        lantern.keep()                      # more often than once in $alone s, or the board takes the link for lost
        time.sleep($often)

Over the line go texts that any language can send, each ended by a line feed: a signal's name, "=" and its state, as
$example; "alive" for a sign of life; "test" lights everything for three seconds; "?" asks for stamp, name
and bytes of a frame. The board answers "ok", or "what?" to what it does not know.
"""

import time

STAMP = "$stamp"
BITS_PER_S, ALONE_S = $bits_per_s, $alone
SIGNALS = {
$signals}


class Lantern:
    """A board at the far end of a line: an open file or port with read and write, that waits for nothing."""

    def __init__(self, line):
        self.line, self.known, self.said, self.rest = line, {}, float("-inf"), b""

    @classmethod
    def at(cls, port):
        """The board at a serial port."""
        import serial

        return cls(serial.Serial(port, BITS_PER_S, timeout=0))

    def tell(self, name, state):
        """Tell a signal; ValueError where the build knows no such name or state."""
        if name not in SIGNALS or state not in SIGNALS[name]:
            raise ValueError(f"{name}={state} is not one of {SIGNALS}")
        self.known[name] = state
        self.say(f"{name}={state}")

    def keep(self):
        """Stay heard, and tell all that is known again, so that a board that began anew knows it too."""
        if time.monotonic() - self.said >= ALONE_S / 3:
            self.said = time.monotonic()
            self.say("alive")
            for name, state in self.known.items():
                self.say(f"{name}={state}")

    def test(self):
        """Light every lamp for three seconds."""
        self.say("test")

    def say(self, text):
        """Send a line; what came before it and was cut off is ended by an empty one."""
        self.line.write(f"\\n{text}\\n".encode())

    def answers(self):
        """The lines that the board has answered since."""
        self.rest += self.line.read(4096) or b""
        *lines, self.rest = self.rest.split(b"\\n")
        return [line.decode("ascii", "replace").strip() for line in lines if line.strip()]
'''


def host_module(title: str, board: str, stamp: str, listens: Listening, signals: Sequence[Told]) -> str:
    """The module.

    Args:
        title: what the build is called.
        board: what the board is called.
        stamp: the stamp of the show.
        listens: how the board listens.
        signals: what it may be told.
    """
    name, state = (signals[0].name, signals[0].states[1]) if signals else ("gate", "open")
    rows = (f'    "{each.name}": ("{each.states[0]}", "{each.states[1]}"),\n' for each in signals)
    return Template(TEXT).substitute(
        title=plain_text(title), board=comment(plain_text(board)), stamp=stamp, name=name, state=state,
        alone=f"{listens.alone_s:g}", often=f"{listens.alone_s / 6:.2g}", example=f"{name}={state}",
        bits_per_s=listens.bits_per_s, signals="".join(rows),
    )  # fmt: skip
