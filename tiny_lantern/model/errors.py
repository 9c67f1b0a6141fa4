"""The one family of errors that a person, not the program, can put right."""

from __future__ import annotations


class LanternError(ValueError):
    """Something the person did or gave cannot be used; says what, where, and what would be accepted.

    Args:
        what: one sentence, no full stop needed.
        where: path in the build or the file, or the name of the field; empty when there is no place.
        accepted: what would have been taken instead.
    """

    def __init__(self, what: str, where: str = "", accepted: str = "") -> None:
        self.what = what
        self.where = where
        self.accepted = accepted
        super().__init__(self.sentence())

    def sentence(self) -> str:
        """The whole message on one line of at most 200 characters; what is too long loses its middle."""
        what, where, accepted = (on_one_line(text) for text in (self.what, self.where, self.accepted))
        where, what = shortened(where, 70), shortened(what.rstrip("."), 110)
        told = f"{where}: {what}." if where else f"{what}."
        if not accepted:
            return told
        return f"{told} Accepted: {shortened(accepted.rstrip('.'), LONGEST - len(told) - 12)}."


LONGEST = 200


def on_one_line(text: str) -> str:
    """A text that any terminal and any window can show: one line, and a character that has no shape spelled out."""
    seen = " ".join(text.split())
    return "".join(sign if sign.isprintable() else sign.encode("unicode_escape").decode() for sign in seen)


def shortened(text: str, most: int) -> str:
    """A text of at most so many characters, its middle left out where it is longer."""
    if len(text) <= most:
        return text
    head = max(1, (most - 1) * 2 // 3)
    return f"{text[:head]}…{text[len(text) - max(0, most - 1 - head) :]}"


def told_plainly(error: BaseException, where: str = "") -> LanternError:
    """What is told of any error: a person's own as it is, everything else as the defect of the program that it is.

    Args:
        error: what happened.
        where: where it was logged.
    """
    if isinstance(error, LanternError):
        return error
    return LanternError(
        f"a defect in the program ({type(error).__name__}: {error})", where, "your build is kept as it is"
    )


class CancelledError(Exception):
    """Long work was stopped because the person asked for it or a newer edit made it pointless."""
