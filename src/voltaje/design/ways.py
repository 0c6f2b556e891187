"""The ways of a board: entered ones stay, what has none takes the next that lie on its legs."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

from voltaje.limits import MOST_WAYS

Legs = tuple[str, ...]

# Ways are filled as they are numbered: where two lie in a row, both columns fill evenly (common practice).
_IN_ORDER = range(1, MOST_WAYS + 1)


class Placed(NamedTuple):
    """The way that a circuit was given, 0 where it has none, and the legs that it is on."""

    way: int
    legs: Legs


def ways_of(circuits: Mapping[str, Placed], legs: Legs, columns: int) -> dict[str, tuple[int, ...]]:
    """Return the ways of each circuit of a board, in the order given; none where the board is full [count].

    legs: those of the board; columns: how many neighbouring ways lie in one row, on one leg
    Source: NEC 408.54 (one device a way); numbering of columns is common practice.
    """
    taken: set[int] = set()
    found: dict[str, tuple[int, ...]] = {}
    for key, each in circuits.items():
        if each.way:
            found[key] = span(each.way, len(each.legs), columns)
            taken.update(found[key])
    lowest: dict[tuple[str, int], int] = {}
    for key, each in circuits.items():
        if key in found:
            continue
        # Equal circuits fill up from the same end: where one found no room, the next need not look.
        alike = (each.legs[0], len(each.legs))
        for at in range(lowest.get(alike, 0), len(_IN_ORDER)):
            wanted = span(_IN_ORDER[at], len(each.legs), columns)
            row = (_IN_ORDER[at] - 1) // columns
            lowest[alike] = at
            if legs[row % len(legs)] == each.legs[0] and not taken.intersection(wanted):
                found[key] = wanted
                taken.update(wanted)
                break
        else:
            found[key] = ()
    return found


def free_way(circuits: Mapping[str, Placed], legs: Legs, columns: int, wanted: Legs) -> int:
    """Return the first way that a device on those legs can take beside others [count], 0 where there is none."""
    taken = {way for ways in ways_of(circuits, legs, columns).values() for way in ways}
    for way in _IN_ORDER:
        if legs_at(way, len(wanted), legs, columns) == wanted and not taken.intersection(
            span(way, len(wanted), columns)
        ):
            return way
    return 0


def next_free(taken: set[int], legs: Legs, columns: int, poles: int, shunned: str) -> tuple[int, ...]:
    """Return the next ways that a device of so many poles can take [count]; none where the board is full.

    shunned: a leg that it may not be on, "" for none
    """
    for way in _IN_ORDER:
        wanted = span(way, poles, columns)
        if (not shunned or shunned not in legs_at(way, poles, legs, columns)) and not taken.intersection(wanted):
            return wanted
    return ()


def legs_at(way: int, poles: int, legs: Legs, columns: int) -> Legs:
    """Return the legs of a device at a way."""
    row = (way - 1) // columns
    return tuple(legs[(row + at) % len(legs)] for at in range(poles))


def span(way: int, poles: int, columns: int) -> tuple[int, ...]:
    """Return the ways of one device [count]."""
    return tuple(way + at * columns for at in range(poles))
