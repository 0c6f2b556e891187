"""A line as it was typed, of which one takes what one understands: what is left can be told from what was used."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from typing import NamedTuple

from voltaje.speech.words import folded

USED = "\x1f"
_BARE = " ,.;:()[]{}-–+&/\"'"


class Word(NamedTuple):
    """A word that nothing was made of yet: as typed, folded, its place, and how many used pieces stand before it."""

    typed: str
    plain: str
    start: int
    segment: int


class Typed:
    """A line; `left` is folded, as long as the text, with marks where it was used."""

    def __init__(self, text: str) -> None:
        self.text = text
        self.left = folded(text)

    def take(self, pattern: re.Pattern[str], use: Callable[[re.Match[str]], bool]) -> None:
        """Give every match to `use`; where it says so the match is used up."""
        at = 0
        while match := pattern.search(self.left, at):
            if match.end() == match.start():
                return
            if use(match):
                self.left = self.left[: match.start()] + USED * (match.end() - match.start()) + self.left[match.end() :]
            at = match.end()

    def use_up(self, start: int, end: int) -> None:
        """Mark a piece as used."""
        self.left = self.left[:start] + USED * (end - start) + self.left[end:]

    def words(self) -> Iterator[Word]:
        """Yield what is left, word by word, as it was typed."""
        segment, last = 0, 0
        for match in re.finditer(rf"[^\s{USED}]+", self.left):
            segment += USED in self.left[last : match.start()]
            last = match.end()
            typed = self.text[match.start() : match.end()]
            bare = typed.strip(_BARE)
            if not bare and "&" not in typed:
                continue
            offset = typed.index(bare) if bare else 0
            start = match.start() + offset
            yield Word(bare or typed, folded(bare or typed), start, segment)

    def swapped(self, start: int, end: int, words: str) -> str:
        """Return the line with a piece said otherwise."""
        return f"{self.text[:start]}{words}{self.text[end:]}"
