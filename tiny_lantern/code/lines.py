"""Lines of C no longer than a page is wide: remarks go above what they are about, calls and tables go on below."""

from __future__ import annotations

import re
from collections.abc import Iterator
from textwrap import wrap

WIDEST = 100
REMARKED = re.compile(r"^(?P<code>\s*\S.*?)\s*/\* (?P<remark>[^*]*(?:\*(?!/)[^*]*)*) \*/$")
IN_REMARK = re.compile(r"^(?P<indent>\s*)(?P<mark>/\*| \*) (?P<words>.*)$")


def within_page(text: str) -> str:
    """C source whose lines are at most as wide as a page, and mean the same.

    Args:
        text: the source.
    """
    return "\n".join(line for long in text.split("\n") for line in _broken(long))


def _broken(line: str) -> Iterator[str]:
    if len(line) <= WIDEST:
        yield line
        return
    remark = IN_REMARK.match(line)
    if remark:
        yield from _remark(remark["indent"], remark["mark"], remark["words"])
        return
    remarked = REMARKED.match(line)
    if remarked:
        indent = re.match(r"\s*", line)[0]  # type: ignore[index]
        yield from _remark(indent, "/*", f"{remarked['remark']} */")
        yield from _broken(remarked["code"])
        return
    yield from _code(line)


def _remark(indent: str, mark: str, words: str) -> Iterator[str]:
    """A line of a remark as several, the first with the mark that it had."""
    lines = wrap(words, WIDEST - len(indent) - 3, break_long_words=False, break_on_hyphens=False)
    for number, each in enumerate(lines):
        yield f"{indent}{mark if number == 0 else ' *'} {each}"


def _code(line: str) -> Iterator[str]:
    """A line of code, broken behind a comma, else before an operator; whole where there is neither."""
    indent = re.match(r"\s*", line)[0]  # type: ignore[index]
    if line.lstrip().startswith("#") or '"' in line:
        yield line
        return
    at = line.rfind(", ", len(indent) + 8, WIDEST)
    at = at + 1 if at > 0 else max(line.rfind(f" {sign} ", len(indent) + 8, WIDEST) for sign in "+-*/&|?:<>=")
    if at <= 0:
        yield line
        return
    yield line[:at]
    below = indent if indent.endswith("        ") else f"{indent}    "
    yield from _broken(f"{below}{line[at:].lstrip()}")
