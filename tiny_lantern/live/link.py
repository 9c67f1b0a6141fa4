"""The computer's end of the cable to a board: asks it, sends the newest frame once that before is answered."""

from __future__ import annotations

from typing import Protocol

from tiny_lantern.live.wire import (
    ALIVE,
    ASK,
    END,
    FRAME,
    FRAMING,
    IDENTITY,
    READINGS,
    Decoder,
    Identity,
    Message,
    encoded,
    identity_told,
    readings_told,
)
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.listening import BITS_A_BYTE, Listening

SLACK_S, ASK_AGAIN_S, SILENT_S, SIGNS = 0.3, 0.5, 6.0, 4.0


class Wire(Protocol):
    """An open port: bytes as they have come, and as many as it takes now."""

    def read(self) -> bytes:
        """What has come.

        Raises:
            LanternError: nobody is at its far end any more.
        """
        ...

    def write(self, data: bytes) -> int:
        """Send; how many bytes were taken. [-]

        Args:
            data: what goes.

        Raises:
            LanternError: nobody is at its far end any more.
        """
        ...

    def close(self) -> None:
        """Let go of it."""
        ...


class BoardLink:
    """A board at the far end of a wire. Nothing goes to it but what is asked for here: ``ask`` what it plays, ``show``
    a frame, ``end``. Time is given, so that a test has its own.

    ``known`` is what the board says it is, ``readings`` what its inputs read; ``sent`` and ``answered`` count frames,
    ``left_out`` those that a newer one came before, ``lost`` those that were not answered in time, ``not_understood``
    what the board counts. [-]

    Args:
        wire: the open port.
        listens: how the board listens.
    """

    def __init__(self, wire: Wire, listens: Listening) -> None:
        self._wire, self._listens = wire, listens
        self._decoder = Decoder()
        self._rest = b""
        self._waits: tuple[Message, float] | None = None
        self._newest: Message | None = None
        self._asked_since: float | None = None
        self._asked_at = self._said_at = 0.0
        self._live = self.ended = False
        self.known: Identity | None = None
        self.readings: tuple[int, ...] = ()
        self.sent = self.answered = self.left_out = self.lost = self.not_understood = 0

    @property
    def silent(self) -> bool:
        """Whether the board was asked and has not answered for as long as one takes to begin anew."""
        return self._asked_since is not None and self._asked_at - self._asked_since >= SILENT_S

    def ask(self, now_s: float) -> None:
        """Ask the board what it plays, over and over until it answers: many begin anew when their port is opened.

        Args:
            now_s: the time. [s]
        """
        self.known = None
        self._asked_since = self._asked_at = now_s
        self._put(Message(ASK, b""))

    def show(self, frame: Message) -> None:
        """Have a frame shown as soon as the one before has been answered; only the newest waits.

        Args:
            frame: the frame.
        """
        if self._newest is not None:
            self.left_out += 1
        self._newest = frame

    def turn(self, now_s: float) -> bool:
        """Hear what has come and send what waits; whether anything came.

        Args:
            now_s: the time. [s]

        Raises:
            LanternError: the board is gone.
        """
        if self.ended:
            return False
        came = [message for message in self._decoder.feed(self._wire.read()) if self._take(message)]
        self._flush()
        if self._asked_since is not None and now_s - self._asked_at >= ASK_AGAIN_S:
            self._asked_at = now_s
            self._put(Message(ASK, b""))
        if self._waits is not None and now_s >= self._waits[1]:
            self._give_up(self._waits[0])
        if self._waits is None and not self._rest:
            self._say(now_s)
        return bool(came)

    def end(self) -> None:
        """Say that it is over, and let go of the wire: the board is on its own at once."""
        if self.ended:
            return
        self.ended = True
        try:
            if self._live or self._waits is not None:
                self._put(Message(END, b""))
        except LanternError:
            pass  # gone already, and on its own by itself
        finally:
            self._wire.close()

    def _say(self, now_s: float) -> None:
        """The newest frame to a board that hears frames, else a sign of life, where one is due."""
        due = self._live and now_s - self._said_at >= self._listens.alone_s / SIGNS
        if self._newest is not None and self._live:
            message, self._newest = self._newest, None
            self.sent += 1
        elif self._newest is not None or due:
            message = Message(ALIVE, b"")
        else:
            return
        wire_s = (len(message.body) + 2 * FRAMING + 2 * len(self.readings)) * BITS_A_BYTE / self._listens.bits_per_s
        self._waits = message, now_s + wire_s + SLACK_S
        self._said_at = now_s
        self._put(message)

    def _give_up(self, unanswered: Message) -> None:
        """What was not answered in time is lost: the board may be on its own by now. Its frame goes again, unless a
        newer one waits."""
        self._waits, self._live = None, False
        if unanswered.sort == FRAME:
            self.lost += 1
            self._newest = self._newest or unanswered

    def _take(self, message: Message) -> bool:
        """What a message says; whether it is one."""
        try:
            if message.sort == IDENTITY:
                self.known, self._asked_since = identity_told(message), None
            elif message.sort == READINGS:
                self.not_understood, self.readings = readings_told(message)
                self.answered += self._waits is not None and self._waits[0].sort == FRAME
                self._live, self._waits = True, None
            else:
                return False
        except ValueError:
            return False
        return True

    def _put(self, message: Message) -> None:
        self._rest += encoded(message)
        self._flush()

    def _flush(self) -> None:
        if self._rest:
            self._rest = self._rest[self._wire.write(self._rest) :]


def refuse_other(known: Identity, wanted: Identity) -> str:
    """Refuse a board that does not play a build; in what its show differs, in words, where that does not matter.

    Args:
        known: what the board says of itself.
        wanted: what the build's code would say.

    Raises:
        LanternError: it was loaded with the code of another build, or of one that is wired otherwise.
    """
    if (known.title, known.byte_count, _wired(known)) != (wanted.title, wanted.byte_count, _wired(wanted)):
        raise LanternError(
            f"this board plays “{known.title}”, stamp {known.stamp}, of {known.byte_count} bytes a frame; the build "
            f"wants “{wanted.title}”, stamp {wanted.stamp}, of {wanted.byte_count}", "live",
            "the code saved and loaded again, or the port of the other board",
        )  # fmt: skip
    older = known.stamp != wanted.stamp
    return f"its own show has stamp {known.stamp}, the build's {wanted.stamp}: load it again for later" if older else ""


def _wired(who: Identity) -> str:
    """The half of a stamp that says how a build is wired."""
    return who.stamp.partition("-")[0]
