"""A supply as one sees it at the meter: its windings as a small picture, with the volts between its conductors."""

import math
from typing import NamedTuple

from voltaje.systems import System

_R, _MIDDLE = 30.0, 44.0
_THREE = 3


class Point(NamedTuple):
    """Where a conductor ends in the picture, and what it is called."""

    x: float
    y: float
    name: str
    label_x: float
    label_y: float


class SupplyPicture(NamedTuple):
    """Windings as a path, the ends of the conductors, where the neutral is, and the volts."""

    windings: str
    ends: tuple[Point, ...]
    neutral: tuple[float, float] | None
    volts: tuple[str, ...]


def supply_picture(system: System) -> SupplyPicture:
    """Return the picture of a supply: its phasors, L1 upward."""
    ends = tuple(_end(leg, angle, system) for leg, angle in system.legs)
    middle: tuple[float, float] | None = (_MIDDLE, _MIDDLE) if system.line_to_neutral_v else None
    if system.high_leg or (len(ends) == _THREE and middle is None):
        windings = "M" + "L".join(f"{end.x:g} {end.y:g}" for end in ends) + "Z"
    elif middle:
        windings = "".join(f"M{_MIDDLE:g} {_MIDDLE:g}L{end.x:g} {end.y:g}" for end in ends)
    else:
        windings = "M" + "L".join(f"{end.x:g} {end.y:g}" for end in ends)
    volts = [f"{system.line_to_line_v:g} V"] if len(ends) > 1 else []
    if system.line_to_neutral_v and (len(ends) == 1 or system.line_to_neutral_v != system.line_to_line_v):
        volts.append(f"{system.line_to_neutral_v:g} V to N")
    return SupplyPicture(windings, ends, middle, tuple(volts))


def _end(leg: str, angle: float, system: System) -> Point:
    radius = _R * min(system.to_middle_v(leg) / (system.line_to_line_v / math.sqrt(_THREE)), 1.25)
    turned = math.radians(angle + 90)
    x, y = _MIDDLE + radius * math.cos(turned), _MIDDLE - radius * math.sin(turned)
    away = (radius + 11) / radius if radius else 1
    return Point(
        round(x, 1),
        round(y, 1),
        leg,
        round(_MIDDLE + (x - _MIDDLE) * away, 1),
        round(_MIDDLE + (y - _MIDDLE) * away + 4, 1),
    )
