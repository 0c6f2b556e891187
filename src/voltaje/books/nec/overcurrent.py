"""Overcurrent devices: standard ratings, and which of them may protect a conductor."""

from __future__ import annotations

from voltaje.books.nec.edition import Edition
from voltaje.books.tables import number
from voltaje.errors import OutsideTable
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.rounding import DUST
from voltaje.sheet import Sheet

NEXT = Formula("min(ratings)")

_SHOWN = 3


def standard_ratings(edition: Edition) -> list[float]:
    """Return the standard ratings that breakers have [A], smallest first. Source: NEC 240.6(A)."""
    rows = edition.table("standard_ratings").rows
    return [number(row, "amps") for row in rows if row["made_as"] == "breaker_and_fuse"]


def next_rating(need_a: float, edition: Edition, sheet: Sheet, label: Message | None = None) -> float:
    """Return the standard rating at or above a current [A].

    Source: NEC 240.6(A). Raises: OutsideTable above the largest rating.
    """
    ratings = standard_ratings(edition)
    enough = [rating for rating in ratings if rating >= need_a - DUST]
    if not enough:
        message = Message(
            "{need} is above the largest standard rating, {most}",
            need=Figure(need_a, "A"),
            most=Figure(ratings[-1], "A"),
        )
        raise OutsideTable("demand", message, str(edition.cite("standard_ratings")))
    below = [rating for rating in ratings if rating < enough[0]]
    because = Message("the smallest standard rating not under {need}", need=Figure(need_a, "A", 1))
    if below:
        because = Message(
            "{below} is under {need}; the next standard rating serves",
            below=Figure(below[-1], "A"),
            need=Figure(need_a, "A", 1),
        )
    return sheet.apply(
        NEXT, label or Message("Device"), "A", edition.cite("standard_ratings"), because, ratings=enough[:_SHOWN]
    )


def may_protect(device_a: float, ampacity_a: float, edition: Edition) -> bool:
    """Return whether a device may protect conductors of that ampacity, not counting small-conductor limits.

    Up to 800 A the next standard rating above the ampacity is allowed; above it the device may not
    exceed the ampacity.
    Source: NEC 240.4(B), (C).
    """
    if device_a <= ampacity_a + DUST:
        return True
    if device_a > edition.figure("round_up_to_a"):
        return False
    return device_a <= next((r for r in standard_ratings(edition) if r >= ampacity_a - DUST), 0.0)
