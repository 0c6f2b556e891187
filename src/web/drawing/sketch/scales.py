"""Amounts on a scale: bars from a common zero, each with its figure at its end."""

import math
from collections.abc import Sequence
from typing import NamedTuple

from web.drawing.letters import width_of
from web.drawing.shapes import Drawing
from web.drawing.sketch.pen import WIDTH, Pen

LEFT, _GAP, _EDGE, _ROW, _DOT = 150.0, 8.0, 8.0, 34.0, 7.0
_STEPS = (1, 2, 5)


class Bar(NamedTuple):
    """A row: what it is, how much, its figure in words; `look` of the bar, `strong` of its words.

    dot: whether its end is marked; most: up to where it may reach, hatched, with the words there
    """

    name: str
    value: float
    words: str
    look: str = "reached"
    strong: str = "strong"
    dot: bool = False
    width: float = 0.0
    most: float = 0.0
    most_words: str = ""


class Even:
    """An even scale from zero to the greatest of several values, its end so placed that the words there fit.

    spare: room that words may be moved on by, for a mark that they would lie on [px]
    """

    def __init__(self, rows: Sequence[tuple[float, str, str]], left: float = LEFT, spare: float = 0.0) -> None:
        self.left = left
        most = max((value for value, _words, _look in rows), default=0.0) or 1.0
        # Each row's own end and words bound the scale: the bar that leaves least for itself decides.
        ends = [
            (WIDTH - _EDGE - _GAP - spare - width_of(words, look) - left) * most / value if value > 0 else math.inf
            for value, words, look in rows
        ]
        self.end, self.most = left + min(WIDTH - left - _EDGE, *ends), most

    def x(self, value: float) -> float:
        """Return where a value lies."""
        return self.left + max(value, 0.0) / self.most * (self.end - self.left)


def bars(rows: Sequence[Bar], left: float = LEFT) -> Drawing:
    """Return rows of bars on one scale."""
    pen = Pen(_GAP + _ROW * (len(rows) + sum(bool(row.most) for row in rows)))
    scale = Even(
        [(row.value, row.words, row.strong) for row in rows]
        + [(row.most, row.most_words, "note") for row in rows if row.most],
        left,
        _DOT,
    )
    y = 24.0
    for row in rows:
        end = scale.x(row.value)
        pen.say("word", 14, y + 5, row.name, room=left - 14 - _GAP)
        pen.line(row.look, f"M{left:g} {y:g}H{end:.1f}", row.width)
        if row.dot:
            pen.dots("copper-dot", _DOT, (end, y))
        pen.say(row.strong, end + _GAP + (_DOT if row.dot else 0), y + 5, row.words)
        y += _ROW
        if row.most:
            most = scale.x(row.most)
            pen.line("may", f"M{end:.1f} {y - 6:g}H{most:.1f}V{y + 6:g}H{end:.1f}Z")
            pen.line("end", f"M{most:.1f} {y - 12:g}V{y + 12:g}")
            pen.say("note", most + _GAP, y + 5, row.most_words)
            y += _ROW
    return pen.drawing()


class Log:
    """A scale by factors between two values, and two places."""

    def __init__(self, low: float, high: float, left: float, right: float) -> None:
        self.low, self.high, self.left, self.right = low, high, left, right

    def x(self, value: float) -> float:
        """Return where a value lies; what is off the scale lies at its end."""
        share = math.log(min(max(value, self.low), self.high) / self.low) / math.log(self.high / self.low)
        return self.left + share * (self.right - self.left)

    def ticks(self) -> list[float]:
        """Return the round figures on it: 1, 2 and 5 of each decade."""
        decades = range(math.floor(math.log10(self.low)), math.ceil(math.log10(self.high)) + 1)
        return [at for decade in decades for step in _STEPS if self.low <= (at := step * 10.0**decade) <= self.high]
