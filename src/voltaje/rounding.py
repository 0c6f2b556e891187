"""Rounding of the trade, in one place."""

from __future__ import annotations

import math
from enum import StrEnum

from voltaje.errors import InputError
from voltaje.message import Message

# Sums of entered decimals carry binary dust (0.1 + 0.2); a half must be seen as a half.
_DUST = 1e-9
DUST = 1e-6  # amperes and volt-amperes are compared with it: the sums are of entered decimals, through products


def exceeds(value: float, limit: float) -> bool:
    """Return whether a value is over a limit, by more than the dust of reckoning: what is shown alike is alike.

    >>> exceeds(20.000000000000004, 20), exceeds(20.01, 20), exceeds(3e-12, 0)
    (False, True, False)
    """
    return value > limit + _DUST * max(abs(limit), 1.0)


def plainly(value: float) -> float:
    """Return a figure without the dust of reckoning, to nine digits, more than any meter has [no unit].

    >>> plainly(119.99999999999983), plainly(1.2e-15), plainly(0.1 + 0.2)
    (120.0, 0.0, 0.3)
    """
    return 0.0 if abs(value) < DUST / 10 else float(f"{value:.9g}")


class HalfReading(StrEnum):
    """Whether exactly one half is a major fraction: authorities differ."""

    COUNTS = "counts"
    DOES_NOT = "does not count"


def nearest_ampere(amps: float) -> int:
    """Amperes to the nearest whole one, 0.5 and over upward [A].

    Source: NEC 220.5(B), common practice of dropping fractions smaller than 0.5.
    Raises: InputError for a negative or non-finite value.

    >>> nearest_ampere(77.5), nearest_ampere(77.49)
    (78, 77)
    """
    if not math.isfinite(amps) or amps < 0:
        raise InputError("amps", Message("amperes must be zero or more"))
    return math.floor(amps + 0.5 + _DUST)


def major_fractions(excess: float, half: HalfReading = HalfReading.COUNTS) -> int:
    """Whole units in an excess, a major fraction counting as one; none below zero [count].

    Source: NEC Table 220.55 notes 1 and 2, "or major fraction thereof".

    >>> major_fractions(4.5), major_fractions(4.5, HalfReading.DOES_NOT), major_fractions(-2)
    (5, 4, 0)
    """
    if excess <= 0:
        return 0
    if half is HalfReading.DOES_NOT:
        return math.ceil(excess - 0.5 - _DUST)
    return math.floor(excess + 0.5 + _DUST)
