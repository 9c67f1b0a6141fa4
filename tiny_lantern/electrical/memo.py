"""Remembering the last results of a pure analysis by the identity of what it read."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from contextvars import ContextVar
from functools import wraps
from hashlib import blake2b
from threading import Lock
from typing import Any, Concatenate, ParamSpec, TypeVar

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.model.build import Supply
from tiny_lantern.model.piece import Piece

P = ParamSpec("P")
R = TypeVar("R")
B = TypeVar("B")
A = TypeVar("A", bound=NDArray[Any])
PLAIN = (int, float, str, type(None))
PLACED = (Piece, Supply)
SHORT = 8


class Cache:
    """The last results of analyses, a few for each; a session has one of its own and lets go of it with its build."""

    def __init__(self) -> None:
        self._kept: dict[Any, OrderedDict[tuple[Any, ...], tuple[Any, Any]]] = {}
        self._lock = Lock()

    def find(self, function: Any, key: tuple[Any, ...]) -> tuple[Any, Any] | None:
        """What was read and the result, if it is remembered."""
        with self._lock:
            kept = self._kept.get(function)
            if kept is None or key not in kept:
                return None
            kept.move_to_end(key)
            return kept[key]

    def keep(self, function: Any, key: tuple[Any, ...], read: Any, result: Any, most: int) -> None:
        """Remember a result, and let go of the one that was not asked for longest when there are more than so many."""
        with self._lock:
            kept = self._kept.setdefault(function, OrderedDict())
            kept[key] = (read, result)
            while len(kept) > most:
                kept.popitem(last=False)

    def clear(self) -> None:
        """Let go of everything."""
        with self._lock:
            self._kept.clear()


_IN_USE: ContextVar[Cache] = ContextVar("cache in use", default=Cache())  # noqa: B039 - the program's own, of the command line


def remember_in(cache: Cache) -> None:
    """From now on remember what this thread works out in a cache."""
    _IN_USE.set(cache)


def memoised_on(
    *fields: str, keep: int = 6
) -> Callable[[Callable[Concatenate[B, P], R]], Callable[Concatenate[B, P], R]]:
    """Remember results by the identity of some fields of the first argument and of all further ones.

    Without fields the first argument counts whole. A tuple counts as the same when its members are, since every
    validated copy of a build has tuples of its own; a piece or a supply, when it is the same but for its place in the
    picture, so that a drag there costs no new analysis; an array, when its digest is the same. Identity is safe because
    what is read is frozen; the cache holds what it compares, so no id is reused. Keyword arguments are hints that make
    the work shorter without changing its result; they are not compared.
    """

    def decorate(function: Callable[Concatenate[B, P], R]) -> Callable[Concatenate[B, P], R]:
        @wraps(function)
        def remembered(subject: B, /, *args: P.args, **kwargs: P.kwargs) -> R:
            read = [getattr(subject, field) for field in fields] if fields else [subject]
            read += args
            key = tuple(_identity(thing) for thing in read)
            cache = _IN_USE.get()
            known = cache.find(function, key)
            if known is not None:
                return known[1]  # type: ignore[no-any-return]
            result = function(subject, *args, **kwargs)
            cache.keep(function, key, read, result, keep)
            return result

        return remembered

    return decorate


def read_only(array: A) -> A:
    """An array that others share: whoever would change it is told so."""
    array.setflags(write=False)
    return array


def _identity(thing: Any) -> Any:
    """What makes a thing, or each member of a tuple, the same: its plain value, what current sees of it, an array's
    digest, or its id."""
    if isinstance(thing, np.ndarray):
        return (thing.shape, thing.dtype.str, blake2b(np.ascontiguousarray(thing).data, digest_size=16).digest())
    if isinstance(thing, tuple):
        arrays = bool(thing) and isinstance(thing[0], np.ndarray)
        return _LONG.token(thing) if len(thing) > SHORT and not arrays else tuple(map(_identity, thing))
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
