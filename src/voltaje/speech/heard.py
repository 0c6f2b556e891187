"""Everything of one part of a line on the way to becoming a node: the words, the quantities, and where it is said."""

from __future__ import annotations

from typing import NamedTuple

from voltaje.speech.naming import Named
from voltaje.speech.said import Item, Where
from voltaje.speech.taken import Taken
from voltaje.speech.words import Words


class Heard(NamedTuple):
    """What was heard; `item` is what it becomes."""

    item: Item
    taken: Taken
    named: Named
    where: Where
    words: Words

    @property
    def head(self) -> str:
        """The word that decides what it is, "" where none does."""
        return self.named.head.word if self.named.head else ""

    @property
    def many(self) -> int:
        """How many of it were said [count], 0 where nothing was."""
        return self.taken.count or self.named.count
