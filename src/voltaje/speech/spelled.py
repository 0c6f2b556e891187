"""Numbers that are said in words before a unit: "forty amp", "three hundred fifty amp", "siete y medio hp"."""

from __future__ import annotations

import re
from functools import cache

from voltaje.speech.words import Words, either, folded, words_of

_HALVES = ("and a half", "y medio", "y media")
_HUNDRED = "hundred"


@cache
def _pattern(family: str) -> re.Pattern[str]:
    """Return what finds a number in words before a unit: hundreds, tens, ones and a half, in their order.

    "two fifty amp welders" are two of fifty: what is no number as a whole is read from its end.
    """
    words = words_of(family)
    said = words.said
    units = rf"{said['horsepower']}|amps?|amperes?|kw|kva|kilowatts?|watts?|volts?|{said['feet']}|{said['metres']}"
    ones, tens = (either(_some(words, low, most)) for low, most in ((1, 9), (20, 90)))
    rest = rf"{tens}(?:[ -]{ones})?|{either(_some(words, 10, 19))}|{ones}"
    hundreds = rf"(?:(?:{ones}|an?) )?{_HUNDRED}(?:(?: and)? (?:{rest}))?"
    parts = either(word for word, value in words.amounts.items() if value < 1)
    return re.compile(
        rf"(?<![\w-])(?P<number>{hundreds}|{rest}|{parts})(?P<half> {either(_HALVES)})?(?=[ -](?:{units})(?![\w/]))"
    )


def _some(words: Words, low: float, most: float) -> list[str]:
    return [word for word, value in words.amounts.items() if low <= value <= most]


def _value(said: str, words: Words) -> float:
    """Return a number said in words."""
    total = 0.0
    if said in words.amounts:
        return words.amounts[said]
    for word in re.split(r"[ -]", said):
        if word == _HUNDRED:
            total = (total or 1) * 100
        else:
            total += words.amounts.get(word, 0.0)  # "and", "a" add nothing
    return total


def in_figures(text: str, family: str) -> str:
    """Return a line with such numbers in figures.

    >>> in_figures("forty amp welder, two 20 A circuits", "nec")
    '40 amp welder, two 20 A circuits'
    >>> in_figures("three hundred fifty amp panel, two fifty amp welders, one and a half hp", "nec")
    '350 amp panel, two 50 amp welders, 1.5 hp'
    """
    words, plain, shift = words_of(family), folded(text), 0
    for match in _pattern(family).finditer(plain):
        figure = f"{_value(match['number'], words) + (0.5 if match['half'] else 0):g}"
        text = text[: match.start() + shift] + figure + text[match.end() + shift :]
        shift += len(figure) - (match.end() - match.start())
    return text
