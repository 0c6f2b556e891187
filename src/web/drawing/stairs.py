"""Volts against length: a step a segment, its loss written on it, the limit as a line."""

from collections.abc import Sequence
from typing import NamedTuple

from django.utils.translation import gettext as _

from web.drawing.shapes import Drawing, Group, Shape
from web.words.figures import write

WIDTH, HEIGHT = 690.0, 300.0
_LEFT, _RIGHT, _TOP, _BOTTOM = 62.0, 640.0, 40.0, 262.0


class Stair(NamedTuple):
    """A segment: how long it is [m], how that was typed, what it carries [A], its size in words, what it loses [V]."""

    length: float
    words: str
    amps: float
    size: str
    drop_v: float


def stairs(found: Sequence[Stair], volts: float, limit_v: float) -> Drawing:
    """Return segments in a row from the source."""
    whole = sum(each.length for each in found) or 1.0
    most = max(sum(each.drop_v for each in found), limit_v) * 1.2 or 1.0

    def x(metres: float) -> float:
        return _LEFT + (_RIGHT - _LEFT) * metres / whole

    def y(lost: float) -> float:
        return _TOP + (_BOTTOM - _TOP) * lost / most

    shapes = [
        Shape("soft", d=f"M{_LEFT} {_TOP}V{_BOTTOM}H{_RIGHT}"),
        Shape("label-end", _LEFT - 8, _TOP + 5, text=f"{write(volts, 0)} V"),
        Shape("limit", d=f"M{_LEFT} {y(limit_v):.1f}H{_RIGHT}"),
        Shape(
            "wrong-word",
            _LEFT + 8,
            y(limit_v) - 7,
            text=_("limit, %(volts)s V left") % {"volts": write(volts - limit_v, 1)},
        ),
        Shape("label-end", _LEFT - 8, y(limit_v) + 5, text=f"{write(limit_v / volts * 100, 1)} %"),
    ]
    widest = max(each.amps for each in found) or 1.0
    metres = lost = 0.0
    for each in found:
        start = (x(metres), y(lost))
        metres, lost = metres + each.length, lost + each.drop_v
        end = (x(metres), y(lost))
        width = 2.2 + 6 * each.amps / widest
        over = lost > limit_v * (1 + 1e-9)
        d = f"M{start[0]:.1f} {start[1]:.1f}L{end[0]:.1f} {end[1]:.1f}"
        middle = ((start[0] + end[0]) / 2, (start[1] + end[1]) / 2)
        shapes += [
            Shape("wire", d=d, width=width),
            Shape("terminal", *end, r=5.5),
            Shape("letter-big", middle[0], middle[1] - 12, text=f"{each.size} · {write(each.amps, 1)} A"),
            Shape("volts-out-end" if over else "volts-end", end[0], end[1] + 22, text=f"{write(volts - lost, 1)} V"),
            Shape("label-mid", middle[0], _BOTTOM + 20, text=each.words),
            Shape("label-mid", middle[0], _BOTTOM + 35, text=_("loses %(volts)s V") % {"volts": write(each.drop_v, 2)}),
        ]
    return Drawing(WIDTH, HEIGHT + 6, [Group("stairs", "", 0, 0, tuple(shapes))])
