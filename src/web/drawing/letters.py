"""How wide words are in the letters that the pages ship: a drawing is laid out before any browser sees it."""

import json
import math
from collections.abc import Sequence
from functools import cache
from pathlib import Path
from typing import NamedTuple

_PLAIN, _BOLD = "400", "600"
_EM = 1000  # what the widths are parts of
_UNKNOWN = 640  # of a letter that is not measured: wider than most
# Size [px] and weight of the words of each look, as the style sheet has them.
_SET = {
    "word": (13.5, _PLAIN),
    "note": (13.5, _PLAIN),
    "strong": (15.0, _BOLD),
    "big": (17.0, _BOLD),
    "copper": (13.5, _BOLD),
    "earthword": (15.0, _BOLD),
    "wrong-word": (13.5, _BOLD),
    "letter": (12.0, _BOLD),
}
_ASCENT, _DESCENT = 0.74, 0.2  # of letters over and under their line, in parts of their size


class Box(NamedTuple):
    """The room that words take."""

    left: float
    top: float
    right: float
    bottom: float

    def meets(self, other: "Box") -> bool:
        """Return whether two lie on one another."""
        return (
            self.left < other.right and other.left < self.right and self.top < other.bottom and other.top < self.bottom
        )


def width_of(text: str, look: str) -> float:
    """Return how wide a text is in its look [px]."""
    size, weight = _SET[look]
    widths = _widths()[weight]
    return sum(widths.get(letter, _UNKNOWN) for letter in text) * size / _EM


def box_of(text: str, look: str, x: float, y: float, anchor: str = "") -> Box:
    """Return the room that a text takes, written at a place: from there on, around it (`mid`), or up to it (`end`)."""
    wide, size = width_of(text, look), _SET[look][0]
    left = x - {"": 0.0, "mid": wide / 2, "end": wide}[anchor]
    return Box(left, y - _ASCENT * size, left + wide, y + _DESCENT * size)


def fitted(text: str, look: str, room: float) -> str:
    """Return a text, cut with an ellipsis where it is wider than its room [px]."""
    if width_of(text, look) <= room:
        return text
    while text and width_of(f"{text}…", look) > room:
        text = text[:-1]
    return f"{text.rstrip()}…"


_BETWEEN = 8.0  # words beside each other [px]


def apart(words: Sequence[tuple[float, float]], right: float) -> list[float]:
    """Return where the middles of words lie [px], each given by its wished middle and its width.

    None lies on another, and none beyond the right edge: those that are too near go apart, in their order.
    """
    order = sorted(range(len(words)), key=lambda at: words[at][0])
    found = [middle for middle, _wide in words]
    end = -math.inf
    for at in order:
        found[at] = max(words[at][0], end + _BETWEEN + words[at][1] / 2)
        end = found[at] + words[at][1] / 2
    for at in reversed(order):
        found[at] = min(found[at], right - words[at][1] / 2)
        right = found[at] - words[at][1] / 2 - _BETWEEN
    return found


@cache
def _widths() -> dict[str, dict[str, int]]:
    widths: dict[str, dict[str, int]] = json.loads((Path(__file__).parent / "letters.json").read_text("utf-8"))
    return widths
