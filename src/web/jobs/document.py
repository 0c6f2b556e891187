"""A job as one document, places in it by path, and what changes them.

    {"job": {"name": …, "book": …}, "nodes": {"src": {…}, "house": {"appliances": [{"id": "a1", …}]}}}

A path is a list of keys; inside a list of items the key is an item's id. A missing place reads as None.
"""

import copy
from dataclasses import dataclass
from typing import Any, Self

Path = tuple[str, ...]
Document = dict[str, Any]


class NoSuchPlace(Exception):
    """A path leads through something that is not there."""


@dataclass(frozen=True)
class Change:
    """A place, what it held and what it holds; `at` is an item's position in its list.

    stays: it only writes down what already held, so that it is no one's to take back, and no conflict
    """

    path: Path
    before: Any
    after: Any
    at: int | None = None
    stays: bool = False

    def inverse(self) -> "Change":
        """The change that takes this one back."""
        return Change(self.path, self.after, self.before, self.at)

    def overlaps(self, other: "Change") -> bool:
        """Whether both touch the same place, or one a part of the other's."""
        shared = min(len(self.path), len(other.path))
        return self.path[:shared] == other.path[:shared]

    def as_json(self) -> dict[str, Any]:
        """The change as it is kept."""
        raw = {"path": list(self.path), "before": self.before, "after": self.after, "at": self.at}
        return {**raw, "stays": True} if self.stays else raw

    @classmethod
    def from_json(cls, raw: dict[str, Any]) -> Self:
        """The change as it was kept."""
        return cls(tuple(raw["path"]), raw["before"], raw["after"], raw["at"], raw.get("stays", False))


def read(document: Document, path: Path) -> Any:
    """Return what a place holds, None where there is nothing."""
    here: Any = document
    for key in path:
        if isinstance(here, list):
            here = next((item for item in here if item["id"] == key), None)
        elif isinstance(here, dict):
            here = here.get(key)
        else:
            return None
    return here


def position(document: Document, path: Path) -> int | None:
    """Return an item's place in its list, None for anything else."""
    holder = read(document, path[:-1])
    if not isinstance(holder, list):
        return None
    return next((place for place, item in enumerate(holder) if item["id"] == path[-1]), None)


def put(document: Document, change: Change) -> None:
    """Make a change, in place. Raises NoSuchPlace where the path leads nowhere."""
    holder = _holder(document, change.path[:-1])
    key, value = change.path[-1], copy.deepcopy(change.after)
    if isinstance(holder, dict):
        if value is None:
            holder.pop(key, None)
            _prune(document, change.path[:-1])
        else:
            holder[key] = value
    elif isinstance(holder, list):
        place = position(document, change.path)
        if place is not None:
            holder[place : place + 1] = [] if value is None else [value]
        elif value is not None:
            holder.insert(len(holder) if change.at is None else change.at, value)
    else:
        raise NoSuchPlace("/".join(change.path))


def _prune(document: Document, path: Path) -> None:
    """Take away parts of a node that hold nothing any more: an empty part reads as one that is not there."""
    while len(path) > len(("nodes", "key")) and read(document, path) == {}:
        holder = read(document, path[:-1])
        if isinstance(holder, dict):
            del holder[path[-1]]
        path = path[:-1]


def _holder(document: Document, path: Path) -> Any:
    """Return what holds a place; inside a node a part that is not there yet begins empty."""
    here: Any = document
    for depth, key in enumerate(path):
        if isinstance(here, list):
            here = next((item for item in here if item["id"] == key), None)
        elif isinstance(here, dict):
            if key not in here and depth > 1:
                here[key] = {}
            here = here.get(key)
        else:
            return None
    return here
