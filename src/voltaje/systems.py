"""Supply systems by name: their legs, phasors and voltages."""

from __future__ import annotations

import cmath
import math
from dataclasses import dataclass

from voltaje.errors import UnknownName
from voltaje.message import Message


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

    def phasors(self) -> dict[str, complex]:
        """Return each leg's voltage to neutral as a phasor [V]."""
        volts = self.line_to_neutral_v or self.line_to_line_v / math.sqrt(3)
        return {leg: cmath.rect(volts, math.radians(angle)) for leg, angle in self.legs}


_SPLIT = (("L1", 0.0), ("L2", 180.0))
_TWO_OF_THREE = (("L1", 0.0), ("L2", -120.0))

SYSTEMS: dict[str, System] = {
    system.name: system
    for system in (
        System("120/240 1ph 3w", 1, 240, 120, _SPLIT),
        System("208Y/120 2 legs", 1, 208, 120, _TWO_OF_THREE, wye_legs=True),
    )
}


def find_system(name: object, field: str = "system") -> System:
    """Return the system of that name. Raises UnknownName at `field`, listing those known."""
    system = SYSTEMS.get(name) if isinstance(name, str) else None
    if system is None:
        message = Message("unknown system {name}; this calculation knows: {known}", name=name, known=list(SYSTEMS))
        raise UnknownName(field, message)
    return system
