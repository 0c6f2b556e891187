"""Supply systems by name: their legs, phasors and voltages."""

from __future__ import annotations

import cmath
import math
from dataclasses import dataclass
from functools import cache

from voltaje.errors import UnknownName
from voltaje.message import Message

THREE_PHASE = 3


@dataclass(frozen=True)
class System:
    """A voltage system.

    line_to_line_v, line_to_neutral_v: nominal volts; no neutral is None
    legs: name of each line conductor and the angle of its phasor to neutral [degrees]
    """

    name: str
    phases: int
    line_to_line_v: float
    line_to_neutral_v: float | None
    legs: tuple[tuple[str, float], ...]
    wye_legs: bool = False  # two legs of a wye: the neutral carries current though the legs balance
    high_leg: str = ""  # the leg that no load to neutral may use

    def phasors(self) -> dict[str, complex]:
        """Return each leg's voltage to neutral, or to the middle of the system, as a phasor [V]."""
        return _phasors(self)

    def is_wye_pair(self, legs: tuple[str, ...]) -> bool:
        """Return whether legs are two of a wye: their neutral carries current though they balance."""
        return len(legs) == len(_SPLIT) and (self.wye_legs or (len(self.legs) > len(_SPLIT) and not self.high_leg))

    def to_middle_v(self, leg: str) -> float:
        """Return a leg's volts to neutral, or to the middle where there is none [V]."""
        if leg == self.high_leg:
            return self.line_to_line_v * math.sqrt(3) / 2
        if self.high_leg or (len(self.legs) == len(_SPLIT) and not self.wye_legs):
            return self.line_to_line_v / 2
        if len(self.legs) == len(_ONE):
            return self.line_to_line_v
        return self.line_to_line_v / math.sqrt(3)


@cache
def _phasors(system: System) -> dict[str, complex]:
    return {leg: cmath.rect(system.to_middle_v(leg), math.radians(angle)) for leg, angle in system.legs}


_ONE = (("L1", 0.0),)
_SPLIT = (("L1", 0.0), ("L2", 180.0))
_TWO_OF_THREE = (("L1", 0.0), ("L2", -120.0))
_THREE = (("L1", 0.0), ("L2", -120.0), ("L3", 120.0))
# A delta whose L1 to L3 winding is tapped in its middle: L2 stands high above the neutral.
_HIGH_LEG = (("L1", 0.0), ("L2", -90.0), ("L3", 180.0))

SYSTEMS: dict[str, System] = {
    system.name: system
    for system in (
        System("120 1ph", 1, 120, 120, _ONE),
        System("208 1ph", 1, 208, None, _SPLIT),
        System("240 1ph", 1, 240, None, _SPLIT),
        System("480 1ph", 1, 480, None, _SPLIT),
        System("120/240 1ph 3w", 1, 240, 120, _SPLIT),
        System("208Y/120", 3, 208, 120, _THREE),
        System("208Y/120 2 legs", 1, 208, 120, _TWO_OF_THREE, wye_legs=True),
        System("480Y/277", 3, 480, 277, _THREE),
        System("600Y/347", 3, 600, 347, _THREE),
        System("240 3ph", 3, 240, None, _THREE),
        System("480 3ph", 3, 480, None, _THREE),
        System("600 3ph", 3, 600, None, _THREE),
        System("240/120 high-leg", 3, 240, 120, _HIGH_LEG, high_leg="L2"),
        System("230 1ph", 1, 230, 230, _ONE),
        System("230/400", 3, 400, 230, _THREE),
        System("400 3ph", 3, 400, None, _THREE),
    )
}
DWELLING_SYSTEMS = ("120/240 1ph 3w", "208Y/120 2 legs")


def find_system(name: object, field: str = "system", among: tuple[str, ...] = tuple(SYSTEMS)) -> System:
    """Return the system of that name. Raises UnknownName at `field`, listing those that serve here."""
    if not isinstance(name, str) or name not in among:
        known = list(among)
        raise UnknownName(field, Message("unknown system {name}; known here: {known}", name=str(name), known=known))
    return SYSTEMS[name]


def system_of(volts: float, legs: int, neutral: bool, within: float) -> System | None:
    """Return the system of so many legs, with a neutral or without, whose line volts [V] are nearest.

    within: how far they may be off [share]; None where none is so near; one with a high leg never counts
    """
    fit = [
        each
        for each in SYSTEMS.values()
        if len(each.legs) == legs
        and bool(each.line_to_neutral_v) == neutral
        and not each.high_leg
        and not each.wye_legs
        and abs(each.line_to_line_v / volts - 1) <= within
    ]
    return min(fit, key=lambda each: abs(each.line_to_line_v / volts - 1), default=None)
