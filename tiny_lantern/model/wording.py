"""Lists as people read them."""

from __future__ import annotations

from collections.abc import Callable, Sequence


def listed(names: Sequence[str], most: int) -> str:
    """The first few of some names, and how many more there are."""
    more = f" and {len(names) - most} more" if len(names) > most else ""
    return ", ".join(names[:most]) + more


RUN_AS_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def harmless(text: str) -> str:
    """A cell's text with an apostrophe before it where a table program would run it as a formula; one more where it has
    such an apostrophe of its own.

    Source: the usual advice against formula injection in comma-separated values.
    """
    return f"'{text}" if text.lstrip("'").startswith(RUN_AS_FORMULA) else text


def from_cell(text: str) -> str:
    """A cell's text as it was before ``harmless``."""
    return text[1:] if text.startswith("'") and text.lstrip("'").startswith(RUN_AS_FORMULA) else text


def feeds_in_words(count: int, feed: str = "feed") -> str:
    """So many feeds, by the word for one."""
    return f"{count} {feed}{'s' * (count != 1)}"


def told_apart(names: Sequence[str], fits: Callable[[int, str], bool]) -> list[str]:
    """Names shortened to their rooms so that they still differ: what tells one from the others is kept to the last.

    Args:
        names: the names, all different.
        fits: whether a text fits the room of the name with a number.
    """
    return [_shortest_needed(names, number, fits) for number in range(len(names))]


def _shortest_needed(names: Sequence[str], number: int, fits: Callable[[int, str], bool]) -> str:
    name = names[number]
    if fits(number, name):
        return name
    alike = max((_alike(name, other) for other in names if other != name), default=0)
    ending = name[min(alike, len(name) - 1) :] if alike else ""
    for kept in range(alike or len(name) - 1, -1, -1):
        text = f"{name[:kept].rstrip()}…{ending}"
        if fits(number, text):
            return text
    return ending if ending and fits(number, ending) else ""


def _alike(one: str, other: str) -> int:
    """How many letters two names have in common from their beginning."""
    return next((n for n, (a, b) in enumerate(zip(one, other, strict=False)) if a != b), min(len(one), len(other)))
