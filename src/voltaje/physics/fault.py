"""Bolted short circuits down a radial path: impedance of a line and of the way back, from the source to a place.

No rules in here. What a fault meets adds up as phasors; behind a transformer it is what it was before, by the square
of the ratio of volts, and the transformer's own. A source is taken as reactance alone: beside conductors, which are
mostly resistance, that lets the most through.
"""

from __future__ import annotations

import math
from typing import NamedTuple

from voltaje.physics.transformer import Plate
from voltaje.systems import THREE_PHASE, System

# A fault from one half of a tapped winding to its middle draws 1.5 times what the whole winding does (common practice).
_HALF_WINDING = 1.5
_TWO = 2


class Met(NamedTuple):
    """What a fault meets up to a place [Ω]: each line; beside its line, the way back by the neutral.

    back: may be below zero, where a fault to neutral meets less than a line does (behind a delta); None for no neutral
    infinite: whether the source was taken as infinite
    to_ground_v: of a line, where no neutral is though the supply is grounded, behind an autotransformer [V]; the way
        back is then by the grounding conductors, whose own impedance is left out
    """

    line: complex
    back: complex | None
    infinite: bool
    to_ground_v: float = 0.0

    def further(self, line: complex, back: complex | None) -> Met:
        """Return what is met behind conductors of so many ohms."""
        if self.to_ground_v:
            return self._replace(line=self.line + line)
        both = None if self.back is None or back is None else self.back + back
        return Met(self.line + line, both, self.infinite)


def at_source(short_a: float, system: System) -> Met:
    """Return what a fault meets at a source that lets so much through [A]."""
    volts = _across(system, tuple(leg for leg, _angle in system.legs))
    return Met(complex(0.0, volts / short_a), 0j if system.line_to_neutral_v else None, infinite=False)


def behind(plate: Plate, before: Met | None, legs: int, secondary: System) -> Met:
    """Return what a fault meets at a transformer's secondary.

    before: at its primary, None for an infinite source; legs: of the supply that its primary stands on
    """
    own = plate.impedance * plate.secondary_v**2 / (plate.kva * 1000)
    ratio = (plate.secondary_v / plate.primary_v) ** 2
    infinite = before is None or before.infinite
    if plate.phases == THREE_PHASE:
        line = own + (before.line * ratio if before else 0j)
        # To neutral the delta holds back what comes before it: a third of the loop's zero part lacks it.
        back = (own - line) / THREE_PHASE if secondary.line_to_neutral_v else None
        return Met(line, back, infinite)
    loop = own
    if before:
        loop += ratio * (_TWO * before.line if legs > 1 else before.line + (before.back or 0j))
    if len(secondary.legs) == 1:
        return Met(loop, 0j, infinite)
    half = loop / _TWO
    return Met(half, half / _HALF_WINDING - half if secondary.line_to_neutral_v else None, infinite)


def stacked(plate: Plate, before: Met | None, legs: int, secondary: System, to_ground_v: float) -> Met:
    """Return what a fault meets behind an autotransformer: its neutral, and its ground, are the supply's.

    to_ground_v: the most that a line of its output has to the supply's ground [V], 0 where none is grounded
    """
    found = behind(plate, before, legs, secondary)
    back = before.back if before else 0j
    if back is None or len(secondary.legs) == 1:
        return found
    if secondary.line_to_neutral_v:
        return found._replace(back=back * (plate.secondary_v / plate.primary_v) ** 2)
    own = plate.impedance * plate.secondary_v**2 / (plate.kva * 1000)
    to_ground = (before.line if before else 0j) + back + own
    return found._replace(back=to_ground - found.line, to_ground_v=to_ground_v)


def most_a(met: Met, system: System, legs: tuple[str, ...]) -> float:
    """Return the greatest bolted fault at a place [A]: between its lines, or from one to neutral."""
    found = [_across(system, legs) / abs(met.line)] if len(legs) > 1 else []
    low = [leg for leg in legs if leg != system.high_leg]
    if met.back is not None and system.line_to_neutral_v and low and not system.high_leg:
        found.append(system.line_to_neutral_v / max(abs(met.line + met.back), _LEAST))
    if met.to_ground_v and met.back is not None:
        found.append(met.to_ground_v / max(abs(met.line + met.back), _LEAST))
    if not found:
        found.append(system.line_to_line_v / abs(met.line))
    return max(found)


_LEAST = 1e-9


def _across(system: System, legs: tuple[str, ...]) -> float:
    """Return the volts that drive a fault through one line's impedance [V]: to the middle of three, half of two."""
    if len(legs) == THREE_PHASE:
        return system.line_to_line_v / math.sqrt(THREE_PHASE)
    return system.line_to_line_v / _TWO if len(legs) > 1 else system.line_to_neutral_v or system.line_to_line_v
