"""The directory of a panel, as it hangs in its door: odd ways at the left, even ones at the right."""

from collections.abc import Sequence
from typing import NamedTuple

_COLUMNS = 2


class Place(NamedTuple):
    """One way of the panel: its number, what is on it, and whether a device of several poles goes on there."""

    way: int
    key: str = ""
    name: str = ""
    device: str = ""
    goes_on: bool = False


class Pair(NamedTuple):
    """A row of the directory."""

    left: Place
    right: Place


def directory(circuits: Sequence[tuple[tuple[int, ...], str, str, str]], spaces: int) -> list[Pair]:
    """Return the rows of a directory.

    circuits: ways, key, name and device of each; spaces: how many ways the panel has, 0 where that was not entered
    """
    on: dict[int, Place] = {}
    for ways, key, name, device in circuits:
        for at, way in enumerate(ways):
            on.setdefault(way, Place(way, key, name, device, goes_on=at > 0))
    last = max([spaces, *on], default=0)
    last += last % _COLUMNS
    return [Pair(on.get(way, Place(way)), on.get(way + 1, Place(way + 1))) for way in range(1, last, _COLUMNS)]
