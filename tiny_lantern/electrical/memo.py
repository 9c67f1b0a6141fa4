"""Remembering the last results of a pure analysis by the identity of what it read."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from functools import wraps
from threading import Lock
from typing import Any, Concatenate, ParamSpec, TypeVar

from tiny_lantern.model.build import Supply
from tiny_lantern.model.piece import Piece

P = ParamSpec("P")
R = TypeVar("R")
B = TypeVar("B")
PLAIN = (int, float, str, type(None))
PLACED = (Piece, Supply)
SHORT = 8


def memoised_on(
    *fields: str, keep: int = 6
) -> Callable[[Callable[Concatenate[B, P], R]], Callable[Concatenate[B, P], R]]:
    """Remember results by the identity of some fields of the first argument and of all further ones.

    Without fields the first argument counts whole. A tuple counts as the same when its members are, since every
    validated copy of a build has tuples of its own; a strip or a supply, when it is the same but for its place in the
    picture, so that a drag there costs no new analysis. Identity is safe because what is read is frozen; the memo holds
    what it compares, so no id is reused. Keyword arguments are hints that make the work shorter without changing its
    result; they are not compared.
    """

    def decorate(function: Callable[Concatenate[B, P], R]) -> Callable[Concatenate[B, P], R]:
        kept: OrderedDict[tuple[Any, ...], tuple[Any, R]] = OrderedDict()
        lock = Lock()

        @wraps(function)
        def remembered(subject: B, /, *args: P.args, **kwargs: P.kwargs) -> R:
            read = [getattr(subject, field) for field in fields] if fields else [subject]
            read += args
            key = tuple(_identity(thing) for thing in read)
            with lock:
                if key in kept:
                    kept.move_to_end(key)
                    return kept[key][1]
            result = function(subject, *args, **kwargs)
            with lock:
                kept[key] = (read, result)
                while len(kept) > keep:
                    kept.popitem(last=False)
            return result

        return remembered

    return decorate


def _identity(thing: Any) -> Any:
    """What makes a thing, or each member of a tuple, the same: its plain value, what current sees of it, or its id."""
    if isinstance(thing, tuple):
        return _LONG.token(thing) if len(thing) > SHORT else tuple(map(_identity, thing))
    if isinstance(thing, PLACED):
        return thing.unplaced
    return thing if type(thing) in PLAIN else id(thing)


class _Tokens:
    """One small token for all long tuples whose members are the same, so that a key need not be made and hashed anew.

    Tuples and members are held as long as their token is, so no id is reused; an entry that is let go only costs a
    result worked out again.
    """

    def __init__(self, keep: int) -> None:
        self._keep = keep
        self._by_id: OrderedDict[int, tuple[tuple[Any, ...], int]] = OrderedDict()
        self._by_content: OrderedDict[tuple[Any, ...], tuple[tuple[Any, ...], int]] = OrderedDict()
        self._next = 0
        self._lock = Lock()

    def token(self, thing: tuple[Any, ...]) -> tuple[str, int]:
        with self._lock:
            known = self._by_id.get(id(thing))
            if known is None:
                content = tuple(map(_identity, thing))
                held = self._by_content.get(content)
                if held is None:
                    self._next += 1
                    held = self._by_content[content] = (thing, self._next)
                known = self._by_id[id(thing)] = (thing, held[1])
                for table in (self._by_id, self._by_content):
                    while len(table) > self._keep:
                        table.popitem(last=False)
            return ("long", known[1])


_LONG = _Tokens(keep=128)
