"""Numbers that are said in words before a unit: "forty amp", "half horse", "siete y medio hp"."""

from __future__ import annotations

import re
from functools import cache

from voltaje.speech.words import either, folded, words_of

_HALVES = ("and a half", "y medio", "y media")


@cache
def _pattern(family: str) -> re.Pattern[str]:
    said = words_of(family).said
    units = rf"{said['horsepower']}|amps?|amperes?|kw|kva|kilowatts?|watts?|volts?|{said['feet']}|{said['metres']}"
    amounts = either(words_of(family).amounts)
    return re.compile(rf"(?<![\w-])(?P<amount>{amounts})(?P<half> {either(_HALVES)})?(?=[ -](?:{units})(?![\w/]))")


def in_figures(text: str, family: str) -> str:
    """Return a line with such numbers in figures.

    >>> in_figures("forty amp welder, two 20 A circuits", "nec")
    '40 amp welder, two 20 A circuits'
    """
    amounts, plain, shift = words_of(family).amounts, folded(text), 0
    for match in _pattern(family).finditer(plain):
        figure = f"{amounts[match['amount']] + (0.5 if match['half'] else 0):g}"
        text = text[: match.start() + shift] + figure + text[match.end() + shift :]
        shift += len(figure) - (match.end() - match.start())
    return text
