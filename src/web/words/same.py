"""What was made before of the very same things: unchanged nodes and their solutions are the same objects again."""

from collections import OrderedDict
from operator import is_
from typing import Any


class Same:
    """Keeps what was made of one or two objects, which must never change, and of some small values beside them.

    The objects are kept with it, so that no other can come to stand for them.
    """

    def __init__(self, most: int) -> None:
        self._most = most
        self._made: OrderedDict[tuple[int, int], tuple[Any, Any, Any, Any]] = OrderedDict()

    def get(self, one: Any, other: Any, beside: Any) -> Any:
        """Return what was made of them, None where that is not known."""
        found = self._made.get((id(one), id(other)))
        return found[3] if found and found[0] is one and found[1] is other and found[2] == beside else None

    def keep(self, one: Any, other: Any, beside: Any, made: Any) -> Any:
        """Keep what was made of them, and return it."""
        self._made[id(one), id(other)] = (one, other, beside, made)
        while len(self._made) > self._most:
            self._made.popitem(last=False)
        return made


class SameOfMany:
    """Keeps, under a name, what was made of many objects, which must never change, and of small values beside them."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._made: OrderedDict[Any, tuple[list[Any], Any, Any]] = OrderedDict()

    def get(self, name: Any, many: list[Any], beside: Any) -> Any:
        """Return what was made of the very same objects under that name, None where that is not known."""
        found = self._made.get(name)
        same = found and found[1] == beside and len(found[0]) == len(many) and all(map(is_, found[0], many))
        return found[2] if found and same else None

    def keep(self, name: Any, many: list[Any], beside: Any, made: Any) -> Any:
        """Keep what was made of them in place of what stood under that name, and return it."""
        self._made[name] = (many, beside, made)
        while len(self._made) > self._most:
            self._made.popitem(last=False)
        return made
