"""What the neutral brings back: what the legs do not cancel, and their third harmonics, which do not cancel on a wye.

No rules in here. A third harmonic goes round three times while its leg goes round once: on legs a third of a turn
apart all of them are in step. Effective values of unlike frequencies add as squares.
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Iterable, Mapping
from itertools import combinations
from typing import NamedTuple

from voltaje.systems import System

_THIRD = 3


class Returned(NamedTuple):
    """What the neutral carries: of the supply's own frequency and of its third harmonic [A r.m.s., as phasors]."""

    own: complex
    third: complex

    @property
    def amps(self) -> float:
        """The whole of it [A r.m.s.]."""
        return math.hypot(abs(self.own), abs(self.third))

    @property
    def angle_deg(self) -> float:
        """The angle of the part at the supply's own frequency, 0 where there is none [°]."""
        return math.degrees(cmath.phase(self.own)) if abs(self.own) > _DUST_A else 0.0


_DUST_A = 1e-9


def leg_phasors(amps: Mapping[str, float], factors: Mapping[str, float], system: System) -> dict[str, complex]:
    """Return each leg's current [A, as a phasor], lagging its volts to neutral by its power factor."""
    angles = {leg: math.radians(angle) for leg, angle in system.legs}
    return {leg: cmath.rect(each, angles[leg] - math.acos(factors.get(leg, 1.0))) for leg, each in amps.items()}


def returned(amps: Mapping[str, float], factors: Mapping[str, float], system: System, third: float = 0.0) -> Returned:
    """Return what comes back on the neutral of legs' currents [A]; third: harmonic, as a share of each leg's."""
    angles = {leg: math.radians(angle) for leg, angle in system.legs}
    own = sum(leg_phasors(amps, factors, system).values(), 0j)
    harmonic = sum((cmath.rect(third * each, _THIRD * angles[leg]) for leg, each in amps.items()), 0j)
    return Returned(own, harmonic)


def most_with_any_off(ratings: Iterable[tuple[str, float]], system: System) -> float:
    """Return the greatest current on a neutral while any of its circuits, each a leg and its amperes, are off [A]."""
    by_leg: dict[str, float] = {}
    for leg, amps in ratings:
        by_leg[leg] = by_leg.get(leg, 0.0) + amps
    some = [each for count in range(1, len(by_leg) + 1) for each in combinations(by_leg.items(), count)]
    return max((returned(dict(each), {}, system).amps for each in some), default=0.0)
