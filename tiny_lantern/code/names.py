"""Names of a build as identifiers of a programming language."""

from __future__ import annotations

import re
from collections.abc import Iterable

from anyascii import anyascii

LONGEST = 40


def identifier(name: str, fallback: str) -> str:
    """A name in lower case letters, figures and underscores, beginning with a letter; of another script in Latin
    letters.

    Args:
        name: what a person called it.
        fallback: used where nothing of it is left.
    """
    plain = anyascii(name).lower()
    word = re.sub(r"[^a-z0-9]+", "_", plain).strip("_")[:LONGEST].strip("_")
    if not word:
        return fallback
    return word if word[0].isalpha() else f"{fallback}_{word}"


class Names:
    """Gives each name once: a second one of the same gets a number."""

    def __init__(self) -> None:
        self._taken: set[str] = set()

    def of(self, name: str, fallback: str, parts: Iterable[str] = ()) -> str:
        """An identifier that nothing else has, nor any of its parts (``name_part``).

        Args:
            name: what a person called it.
            fallback: used where nothing of it is left.
            parts: what belongs to it and is called after it.
        """
        word, number, endings = identifier(name, fallback), 2, ("", *(f"_{part}" for part in parts))
        found = word
        while any(f"{found}{ending}" in self._taken for ending in endings):
            found, number = f"{word}_{number}", number + 1
        self._taken.update(f"{found}{ending}" for ending in endings)
        return found


def plain_text(text: str) -> str:
    """A text in Latin letters that can stand in quotation marks in C or Python, and in a comment.

    Args:
        text: the text.
    """
    return comment(anyascii(text)).replace('"', "'")


def comment(text: str) -> str:
    """A text that can stand in a comment of C or Python: one line, with no mark in it that a compiler reads."""
    plain = re.sub(r"\s+", " ", text).replace("\\", "/")
    return plain.replace("*/", "* /").replace("/*", "/ *").replace("??", "? ?").strip()
