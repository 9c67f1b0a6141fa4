"""Numbers as people write them: decimal comma or point, thousands apart, fractions, any minus."""

from __future__ import annotations

import re
import unicodedata

from tiny_lantern.model.errors import LanternError

LONGEST = 60
_SAME = str.maketrans({
    "−": "-", "–": "-", "—": "-", "‐": "-", "‑": "-", "⁄": "/", "′": "'", "’": "'", "‘": "'", "″": '"', "”": '"',
    "“": '"', "\u00a0": " ", "\u202f": " ", "\u2009": " ", "\u2007": " ", "\t": " ",
    "\u03bc": "\u00b5", "\u2126": "\u03a9",
})  # fmt: skip
_GROUPED = r"\d{1,3}(?: \d{3})+(?:[.,]\d+)?"
_POINTED = r"(?:\d+(?:[.,]\d+)*[.,]?|[.,]\d+)(?:[eE][-+]?\d+)?"
_FRACTION = r"\d+ ?/ ?\d+"
NUMBER = rf"[-+]? ?(?:\d+ {_FRACTION}|{_FRACTION}|{_GROUPED}|{_POINTED})"


def normal(text: str) -> str:
    """What was typed with one sign for each thing: minus, quotes, spaces, ohm, micro; ``½`` as ``1/2``."""
    spread = "".join(
        f" {unicodedata.normalize('NFKC', sign)}"
        if unicodedata.category(sign) == "No" and "/" in _plain(sign)
        else sign
        for sign in text
    )
    return re.sub(r" +", " ", spread.translate(_SAME)).strip()


def _plain(sign: str) -> str:
    return unicodedata.normalize("NFKC", sign).replace("⁄", "/")


def number(text: str, where: str = "", unit: str = "") -> float:
    """The value of a number as ``NUMBER`` finds it.

    Args:
        text: the number.
        where: name of the field, for the message.
        unit: what stands behind it, for the message.

    Raises:
        LanternError: it can be read in two ways, or divides by zero.
    """
    body = text.replace("+", "").strip()
    sign = -1.0 if body.startswith("-") else 1.0
    body = body.lstrip("- ")
    if "/" in body:
        return sign * _mixed(body, where)
    return sign * float(_decimal(body.replace(" ", ""), where, unit))


def _mixed(body: str, where: str) -> float:
    whole, _, fraction = body.rpartition(" ") if re.fullmatch(r"\d+ \d+/\d+", body) else ("0", "", body)
    above, below = (int(part) for part in fraction.replace(" ", "").split("/"))
    if below == 0:
        raise LanternError(f"“{body[:40]}” divides by zero", where, "a fraction like 1/2")
    return int(whole or 0) + above / below


def _decimal(body: str, where: str, unit: str) -> str:
    """The number with a point for its decimals and nothing between thousands."""
    mantissa, exponent = [*re.split("[eE]", body), ""][:2]
    commas, points = mantissa.count(","), mantissa.count(".")
    if commas and points:
        decimal = "," if mantissa.rfind(",") > mantissa.rfind(".") else "."
        mantissa = mantissa.replace("." if decimal == "," else ",", "").replace(decimal, ".")
    elif commas == 1 and re.fullmatch(r"[1-9]\d{0,2},\d{3}", mantissa):
        small, large = mantissa.replace(",", "."), mantissa.replace(",", "")
        behind = f" {unit}" if unit else ""
        raise LanternError(
            f"“{mantissa}{behind}” can be read as {float(small):g}{behind} or as {large}{behind}", where,
            f"{float(small):g}{behind} or {large}{behind}",
        )  # fmt: skip
    elif commas > 1 or points > 1:
        mantissa = mantissa.replace(",", "").replace(".", "")
    else:
        mantissa = mantissa.replace(",", ".")
    return f"{mantissa}e{exponent}" if exponent else mantissa
