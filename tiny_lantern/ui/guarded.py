"""What Qt calls never ends the program: an error in an override is a defect that is logged and told.

Qt calls methods such as ``paintEvent`` from its own code, which cannot carry a Python error on. So every class that
overrides any wears ``guarded``; where one fails, what Qt itself would have done is done instead.
"""

from __future__ import annotations

import sys
from collections.abc import Callable
from functools import wraps
from inspect import isfunction
from traceback import clear_frames
from typing import Any, TypeVar

from shiboken6 import Shiboken

Kind = TypeVar("Kind", bound=type)
OWN_THREAD = "run"


def guarded(kind: Kind) -> Kind:
    """The class with each of its overrides guarded; worn by every class of the window that overrides what Qt calls."""
    for name in overrides_of(kind):
        setattr(kind, name, _guard(vars(kind)[name], _of_qt(kind, name)))
    return kind


def overrides_of(kind: type) -> list[str]:
    """Names of the methods in which a class overrides what Qt calls; what runs in a thread of its own tells its errors
    itself."""
    return [
        name
        for name, method in vars(kind).items()
        if isfunction(method) and not name.startswith("__") and name != OWN_THREAD and _of_qt(kind, name) is not None
    ]


def is_guarded(method: object) -> bool:
    """Whether a method is one that ``guarded`` made."""
    return hasattr(method, "__guards__")


def _of_qt(kind: type, name: str) -> Callable[..., Any] | None:
    """Qt's own method of a name; None where Qt has none."""
    for base in kind.__mro__:
        if base.__module__.startswith("PySide6.") and name in vars(base):
            return getattr(base, name)  # type: ignore[no-any-return]
    return None


def _guard(method: Callable[..., Any], instead: Callable[..., Any] | None) -> Callable[..., Any]:
    assert instead is not None

    @wraps(method)
    def call(self: Any, *args: Any) -> Any:
        try:
            return method(self, *args)
        except Exception as error:  # noqa: BLE001 - told by the one hook for defects
            sys.excepthook(type(error), error, error.__traceback__)
            clear_frames(error.__traceback__)  # a painter that a frame still holds would keep Qt from going on
        return instead(self, *args) if Shiboken.isValid(self) else None

    call.__guards__ = True  # type: ignore[attr-defined]
    return call
