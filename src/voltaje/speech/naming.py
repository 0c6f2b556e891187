"""The words of a line: what it is, what it is called, how many there are; and which words nothing was made of."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from functools import partial
from typing import NamedTuple

from voltaje.digits import is_whole
from voltaje.message import Message
from voltaje.path.kinds import Kind
from voltaje.speech.said import Unused
from voltaje.speech.taken import Taken
from voltaje.speech.typed import Typed, Word
from voltaje.speech.words import Words, holds

_ARTICLES = ("a", "an", "the")
_MOST_IN_A_NAME = 99  # a number behind a noun that is part of its name


class Head(NamedTuple):
    """A word that tells what the line is about: its kind, and whether that is a kind of node."""

    word: str
    kind: str
    is_node: bool
    start: int
    end: int


@dataclass
class Named:
    """What the words say. mid: whether a count stood in the middle of other words."""

    heads: list[Head] = field(default_factory=list)
    name: str = ""
    count: int = 0
    mid: bool = False
    numbers: list[str] = field(default_factory=list)
    in_name: list[str] = field(default_factory=list)
    problems: list[Message] = field(default_factory=list)
    unused: list[Unused] = field(default_factory=list)

    @property
    def head(self) -> Head | None:
        """The word that decides what it is: the last of its phrase, as in "compressor room lights"."""
        return self.heads[-1] if self.heads else None


def named(typed: Typed, words: Words, taken: Taken, rings: bool = False) -> Named:
    """Return what the words say that are left; rings: whether the book has ring final circuits."""
    found, heads = Named(), _heads(typed, words)
    hints = set(words.unused)
    if rings and words.any_of("ring_words", typed.left):
        taken.run["ring"] = True
        hints -= set(words.rules["ring_words"])
    for phrase in sorted(hints, key=len, reverse=True):
        pattern = re.compile(rf"(?<![\w/&]){re.escape(phrase)}(?![\w&])")
        typed.take(pattern, partial(_hint, typed, found, Message(words.unused[phrase])))
    left = list(typed.words())
    found.heads = _board_first(heads, typed) or _deciding(heads, left, words)
    segment = _segment(found, left)
    head = found.head
    outlets = head is not None and not head.is_node and head.kind in words.rules["outlets"]
    kept: list[Word] = []
    for at, word in enumerate(left):
        before = kept[-1].plain if kept and kept[-1].segment == word.segment else ""
        if _is_number(word, words) and at == 0 and len(left) > 1 and word.start <= _first_letter(typed) + 1:
            found.count = _number(word, words)
            if not found.count:
                found.problems.append(Message("0 of them: there is nothing to add"))
        elif is_whole(word.plain) and before and _names_a_place(left, at, words):
            kept.append(word)  # lights 3 bdrm: the rooms, not how many lights
        elif is_whole(word.plain) and word.segment == segment and outlets and before not in words.lists["numbered"]:
            if taken.count or found.count:
                found.numbers.append(word.typed)
                continue
            found.count = int(word.plain)
            found.mid = at + 1 < len(left) and left[at + 1].segment == word.segment
        elif is_whole(word.plain):
            ok = word.segment == segment and before and int(word.plain) <= _MOST_IN_A_NAME
            (found.in_name if ok else found.numbers).append(word.typed)
            kept += [word] if ok else []
        elif _is_figure(word, words) and not _is_place(word, head):
            found.unused.append(Unused(word.typed))
        elif word.segment <= segment or _belongs(word, words, found):
            kept.append(word)
        elif word.plain not in words.lists["fillers"] and word.plain != "&":
            found.unused.append(Unused(word.typed))
    found.name = taken.called or _name(kept, words)
    return found


def _hint(typed: Typed, found: Named, why: Message, match: re.Match[str]) -> bool:
    found.unused.append(Unused(typed.text[match.start() : match.end()], why))
    return True


def _heads(typed: Typed, words: Words) -> list[Head]:
    """Return every word that could decide, in the order of the line, of overlapping ones the longest."""
    loads, nodes = words.head_at
    found = [
        Head(match["word"], known[match["word"]], is_node, *match.span("word"))
        for pattern, known, is_node in ((loads, words.kinds, False), (nodes, words.nodes, True))
        for match in pattern.finditer(typed.left)
    ]
    taken: list[Head] = []
    for head in sorted(found, key=lambda head: head.start - head.end):
        if all(head.end <= other.start or head.start >= other.end for other in taken):
            taken.append(head)
    return sorted(taken, key=lambda head: head.start)


def _board_first(heads: list[Head], typed: Typed) -> list[Head]:
    """Return the board with which a line begins: "panel kiln room" is a panel, whatever its name says; else nothing."""
    first = heads[0] if heads else None
    if first is None or first.kind != Kind.BOARD or first.start > _first_letter(typed):
        return []
    return [] if re.match(r"\s*room\b", typed.left[first.end :]) else [first]


def _deciding(heads: list[Head], left: list[Word], words: Words) -> list[Head]:
    """Return the heads of the first phrase that has any: what stands behind a preposition decides nothing."""
    if not heads or not left:
        return heads
    segment_of = {word.start: word.segment for word in left}
    parting = [word.start for word in left if word.plain in words.lists["parting"] and word.start > heads[0].end - 1]
    end = parting[0] if parting else 1 << 30
    first = _segment_at(heads[0], segment_of)
    return [head for head in heads if head.start < end and _segment_at(head, segment_of) == first]


def _segment_at(head: Head, segment_of: dict[int, int]) -> int:
    return segment_of[max((start for start in segment_of if start <= head.start), default=min(segment_of))]


def _segment(found: Named, left: list[Word]) -> int:
    """Return the piece of the line that names it: where its head stands, else the first."""
    if not left:
        return 0
    segments = {word.start: word.segment for word in left}
    return _segment_at(found.heads[0], segments) if found.heads else left[0].segment


def _first_letter(typed: Typed) -> int:
    return len(typed.text) - len(typed.text.lstrip(" ("))


def _is_number(word: Word, words: Words) -> bool:
    return is_whole(word.plain) or word.plain in words.numbers


def _is_figure(word: Word, words: Words) -> bool:
    """Return whether a word begins with a digit and is not a fixture's size: a figure that was not understood."""
    return word.plain[0].isdigit() and word.plain not in words.lists["fixture_sizes"]


def _names_a_place(left: list[Word], at: int, words: Words) -> bool:
    """Return whether a number stands before a place of the same piece of the line."""
    after = left[at + 1] if at + 1 < len(left) else None
    return after is not None and after.segment == left[at].segment and after.plain in words.lists["rooms"]


_ORDINAL, _LETTERED = re.compile(r"\d{1,2}(?:st|nd|rd|th)"), re.compile(r"\d{1,3}[a-z]")


def _is_place(word: Word, head: Head | None) -> bool:
    """Return whether a figure belongs to a name: 1st floor; of a board a unit too, 2F, 4B."""
    lettered = head is not None and head.is_node and _LETTERED.fullmatch(word.plain)
    return bool(_ORDINAL.fullmatch(word.plain) or lettered)


def _number(word: Word, words: Words) -> int:
    return int(word.plain) if is_whole(word.plain) else words.numbers[word.plain]


def _belongs(word: Word, words: Words, found: Named) -> bool:
    """Return whether a word far from the noun is part of the name: a place, or the kind said again."""
    if word.plain in words.lists["places"]:
        return True
    head = found.head
    same = [
        phrase for known in (words.kinds, words.nodes) for phrase, kind in known.items() if head and kind == head.kind
    ]
    return any(holds(phrase, word.plain) for phrase in same) or (head is None and len(word.plain) > 1)


def _name(kept: list[Word], words: Words) -> str:
    """Return a name of words, without what only joins them at its ends."""
    fillers, joining = words.lists["fillers"], words.lists["parting"] | words.lists["fillers"] - {"circuit", "circuits"}
    while len(kept) > 1 and kept[0].plain in fillers:
        kept = kept[1:]
    while len(kept) > 1 and kept[-1].plain in joining and kept[-1].typed != "A":
        kept = kept[:-1]
    text = " ".join(word.typed for word in kept if word.plain not in _ARTICLES or word.typed == "A")
    return text[:1].upper() + text[1:]
