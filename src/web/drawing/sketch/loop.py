"""A fault to earth: the way that its current goes round, each part with its ohms, and the loop against its limit."""

from collections.abc import Sequence
from typing import NamedTuple

from web.drawing.shapes import Drawing
from web.drawing.sketch.pen import Pen
from web.drawing.sketch.scales import Even
from web.drawing.symbols import source

_TOP, _BACK, _LEFT, _RIGHT = 62.0, 150.0, 70.0, 560.0
_BAR_Y, _BAR_H, _AT_LEFT = 40.0, 22.0, 14.0


class Way(NamedTuple):
    """The way round in words: the supply, the line, the way back, what opens it, and what flows."""

    supply: str
    line: str
    back: str
    device: str
    fault: str
    by_earth: bool


class Part(NamedTuple):
    """A part of the loop: its name, its ohms, and the look of its bar."""

    name: str
    ohm: float
    look: str


def way_round(seen: Way, iec: bool) -> Drawing:
    """Return the loop drawn: out by the line, through the fault, back by the protective conductor."""
    pen = Pen(206)
    middle = (_TOP + _BACK) / 2
    pen.line("core", f"M{_LEFT:g} {middle - 18:g}V{_TOP:g}H{_RIGHT:g}V{middle - 8:g}")
    pen.line("earth", f"M{_RIGHT:g} {middle + 8:g}V{_BACK:g}H{_LEFT:g}V{middle + 18:g}")
    pen.put(source(iec), _LEFT, middle)
    pen.breakers(iec, 200, (_TOP,))
    for down in (-9, 9):  # a cross: line touches metal
        pen.line("wrong", f"M{_RIGHT - 9:g} {middle + down:g}L{_RIGHT + 9:g} {middle - down:g}")
    if seen.by_earth:
        pen.line("soil", f"M{_LEFT + 60:g} {_BACK + 22:g}H{_RIGHT - 60:g}")
    pen.say("strong", _LEFT + 30, middle + 5, seen.supply, room=180)
    pen.say("note", 200, _TOP - 22, seen.device, "mid", room=200)
    pen.say("copper", 400, _TOP - 14, seen.line, "mid", room=240)
    pen.say("earthword", 330, _BACK - 12, seen.back, "mid", room=330)
    pen.say("wrong-word", _RIGHT - 20, middle + 5, seen.fault, "end", room=200)
    return pen.drawing()


def unrolled(parts: Sequence[Part], words: str, most: float, most_words: str) -> Drawing:
    """Return the loop as one bar, part by part, against the greatest with which it is opened; none where that is 0."""
    pen = Pen(116)
    whole = sum(part.ohm for part in parts)
    scale = Even([(max(whole, most), most_words, "strong")], _AT_LEFT)
    x = 0.0
    for part in parts:
        begin, end = scale.x(x), scale.x(x + part.ohm)
        pen.line(part.look, f"M{begin:.1f} {_BAR_Y:g}H{end:.1f}", _BAR_H)
        x += part.ohm
    if most > whole:
        end, upto = scale.x(whole), scale.x(most)
        pen.line("may", f"M{end:.1f} {_BAR_Y - 11:g}H{upto:.1f}V{_BAR_Y + 11:g}H{end:.1f}Z")
    if most:
        at = scale.x(most)
        pen.line("limit", f"M{at:.1f} {_BAR_Y - 20:g}V{_BAR_Y + 20:g}")
        pen.say("strong", at + 8, _BAR_Y + 5 if most > whole else _BAR_Y - 16, most_words)
    pen.say("note", _AT_LEFT, _BAR_Y + 36, " · ".join(part.name for part in parts))
    pen.say("strong", _AT_LEFT, _BAR_Y + 58, words)
    return pen.drawing()
