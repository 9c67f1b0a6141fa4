"""A fault in a build's data in the reader's words."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from pydantic import ValidationError

from tiny_lantern.model.errors import LanternError

Words = Callable[[dict[str, Any]], str]
SHOWN = 40
ONE_OF_KINDS = ("attach", "layout", "look", "pixel", "load")
LISTS_OF_KINDS = ("pieces", "parts", "drivers")

_WORDS: dict[str, Words] = {
    "missing": lambda c: "this field is missing",
    "extra_forbidden": lambda c: "this field is not known here",
    "greater_than_equal": lambda c: f"it must be at least {c['ge']:g}",
    "greater_than": lambda c: f"it must be above {c['gt']:g}",
    "less_than_equal": lambda c: f"it must be at most {c['le']:g}",
    "less_than": lambda c: f"it must be below {c['lt']:g}",
    "too_long": lambda c: f"there are more than {c['max_length']} entries",
    "too_short": lambda c: f"there must be at least {c['min_length']}",
    "string_too_long": lambda c: f"the text is longer than {c['max_length']} characters",
    "string_too_short": lambda c: "the text is empty",
    "string_pattern_mismatch": lambda c: "the text has characters or a form that cannot be used here",
    "string_unicode": lambda c: "the text holds characters that are none",
    "literal_error": lambda c: f"it must be {c['expected']}".replace("' or '", "’ or ‘").replace("'", ""),
    "union_tag_invalid": lambda c: f"the kind “{str(c['tag'])[:SHOWN]}” is not known here",
    "union_tag_not_found": lambda c: "its kind is missing",
    "finite_number": lambda c: "it must be a number that ends",
}
_WANTED = {
    "float": "a number is wanted", "int": "a whole number is wanted", "string": "a text is wanted",
    "bool": "true or false is wanted", "tuple": "a list is wanted", "model": "an object with fields is wanted",
    "dict": "an object with fields is wanted",
}  # fmt: skip


def first_fault(error: ValidationError, name: str = "") -> LanternError:
    """The first fault of some data as one message.

    Args:
        error: what the models found.
        name: what the data came from, before the place in it.
    """
    faults = error.errors(include_url=False, include_input=True)
    fault = faults[0]
    cause = fault.get("ctx", {}).get("error")
    more = f" (and {len(faults) - 1} more)" if len(faults) > 1 else ""
    if isinstance(cause, LanternError):
        return LanternError(cause.what + more, _where(name, cause.where), cause.accepted)
    given = fault.get("input")
    plain = isinstance(given, int | float | str) and given != "" and fault["type"] != "value_error"
    shown = f", not {str(given)[:SHOWN]}" if plain else ""  # a sentence of our own says what was given
    return LanternError(f"{in_words(fault)}{shown}{more}", _where(name, path_text(fault["loc"])))


def in_words(fault: Any) -> str:
    """What a fault is, without the library's own terms."""
    kind, context = fault["type"], fault.get("ctx", {})
    if kind in _WORDS:
        return _WORDS[kind](context)
    if kind == "value_error":
        return str(context.get("error", fault["msg"])).removeprefix("Value error, ")
    return _WANTED.get(kind.split("_")[0], "this cannot be used here")


def _where(name: str, place: str) -> str:
    return f"{name}: {place}" if name and place else name or place


def path_text(location: tuple[int | str, ...]) -> str:
    """A place in the file, e.g. ``pieces[0].pitch_m``; the kind of a thing that has several is no place."""
    text, field = "", ""
    for number, step in enumerate(location):
        if isinstance(step, int):
            text += f"[{step}]"
            continue
        is_kind = field in ONE_OF_KINDS or (field in LISTS_OF_KINDS and isinstance(location[number - 1], int))
        field = step
        if not is_kind:
            text += f".{step[:SHOWN]}"
    return text.removeprefix(".") or "the whole file"
