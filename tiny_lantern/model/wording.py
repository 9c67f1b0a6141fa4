"""Lists as people read them."""

from __future__ import annotations

from collections.abc import Sequence


def listed(names: Sequence[str], most: int) -> str:
    """The first few of some names, and how many more there are."""
    more = f" and {len(names) - most} more" if len(names) > most else ""
    return ", ".join(names[:most]) + more


def feeds_in_words(count: int, feed: str = "feed") -> str:
    """So many feeds, by the word for one."""
    return f"{count} {feed}{'s' * (count != 1)}"
