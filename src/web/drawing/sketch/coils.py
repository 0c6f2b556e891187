"""Coils of small transformers: an autotransformer's two windings, and the terminals of a buck-boost unit joined."""

from collections.abc import Sequence
from typing import NamedTuple

from django.utils.translation import gettext as _

from web.drawing.shapes import Drawing
from web.drawing.sketch.pen import Pen

_TURN = "q16 9 0 18"


class Windings(NamedTuple):
    """An autotransformer in words: what comes in and goes out, each winding's volts and amperes, what it is built for.

    down: whether it gives less than it gets
    """

    down: bool
    comes_in: str
    goes_out: str
    series: str
    series_a: str
    common: str
    common_a: str
    built: str


def auto_windings(seen: Windings) -> Drawing:
    """Return the series and the common winding, one above the other."""
    pen = Pen(300)
    high, low, bottom = 40, 112, 256
    comes, goes = (high, low) if seen.down else (low, high)
    pen.line("ink", f"M60 {comes}H300M300 {goes}H620M60 {bottom}H620")
    pen.line("core-thin", f"M300 {high}{_TURN * 4}")
    pen.line("bond", f"M300 {low}{_TURN * 8}", 3)
    pen.dots("joint", 5, (300, low))
    pen.say("copper", 330, 72, seen.series)
    pen.say("note", 330, 92, seen.series_a)
    pen.say("earthword", 330, 184, seen.common)
    pen.say("note", 330, 204, seen.common_a)
    pen.say("big", 60, comes - 10, seen.comes_in, room=230)
    pen.say("big", 620, goes - 10, seen.goes_out, "end", room=270)
    pen.say("note", 60, 282, seen.built)
    return pen.drawing()


_AT = {"H1": 90, "H2": 90, "H3": 210, "H4": 210, "X1": 430, "X2": 430, "X3": 550, "X4": 550}
_UPPER = ("H1", "H3", "X1", "X3")
_TOP_Y, _BOTTOM_Y, _TRACK_FROM, _TRACK = 58, 134, 158, 13


def joined_terminals(primary: str, secondary: str, joints: Sequence[tuple[str, str]], said: str) -> Drawing:
    """Return the four coils of a unit and the wires that join their terminals, each on a track of its own."""
    foot = _TRACK_FROM + _TRACK * len(joints) + 16
    pen = Pen(foot + 14)
    for x, side in ((90, "bond"), (210, "bond"), (430, "wire"), (550, "wire")):
        pen.line(side, f"M{x} 64q12 8 0 16q12 8 0 16q12 8 0 16q12 8 0 16", 3)
    for at, (one, other) in enumerate(joints):
        y = float(_TRACK_FROM + at * _TRACK)
        (from_x, from_y), (to_x, to_y) = _begins(one), _begins(other)
        pen.line("link-thin", f"M{from_x} {from_y}V{y}H{to_x}V{to_y}")
    for name, at_x in _AT.items():
        at_y = _TOP_Y if name in _UPPER else _BOTTOM_Y
        pen.dots("terminal", 12, (at_x, at_y))
        pen.say("letter", at_x, at_y + 4, name, "mid")
    pen.say("strong", 60, 24, _("%(volts)s each") % {"volts": primary})
    pen.say("strong", 400, 24, _("%(volts)s each") % {"volts": secondary})
    pen.say("note", 30, foot, said)
    return pen.drawing()


def _begins(name: str) -> tuple[float, float]:
    """Return where a wire leaves a terminal: upper ones to the left, beside their coil."""
    upper = name in _UPPER
    return (_AT[name] - 14 if upper else _AT[name]), (_TOP_Y if upper else _BOTTOM_Y + 12)
