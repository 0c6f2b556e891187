"""One transformer by its plate: its currents, what it loses at load, what a short circuit draws. No rules in here."""

from __future__ import annotations

import math
from typing import NamedTuple

from voltaje.systems import THREE_PHASE

USUAL_X_OVER_R = 3.0  # where a plate gives none (common practice)


class Plate(NamedTuple):
    """A transformer: kVA, phases, volts of each side (line to line), impedance [%] and its X over R."""

    kva: float
    phases: int
    primary_v: float
    secondary_v: float
    impedance_percent: float
    x_over_r: float

    @property
    def impedance(self) -> complex:
        """Its impedance, of its own base [per unit]."""
        size = self.impedance_percent / 100
        resistance = size / math.sqrt(1 + self.x_over_r**2)
        return complex(resistance, resistance * self.x_over_r)


def rated_amps(kva: float, volts: float, phases: int) -> float:
    """Return the current of so many kVA in each line [A]."""
    return kva * 1000 / (volts * (math.sqrt(3) if phases == THREE_PHASE else 1.0))


def secondary_share(plate: Plate, load_kva: float, power_factor: float, source_share: float = 1.0) -> float:
    """Return the secondary's volts under load, of its open volts at the rated primary [share].

    The load draws so many kVA at its own volts, constant power, lagging; source_share: the primary's volts, of rated.
    Source: the phasor |E|² = (|V| cos φ + I R)² + (|V| sin φ + I X)², solved for |V|.
    """
    each = load_kva / plate.kva
    drop = each * plate.impedance
    cosine, sine = power_factor, math.sqrt(1 - power_factor**2)
    along, across = drop.real * cosine + drop.imag * sine, drop.imag * cosine - drop.real * sine
    # V⁴ + (2 a − E²) V² + a² + b² = 0, with a and b the drop along and across the load's own volts at one ampere unit.
    middle = source_share**2 - 2 * along
    inside = middle**2 - 4 * (along**2 + across**2)
    if inside < 0:
        return 0.0
    return math.sqrt((middle + math.sqrt(inside)) / 2)


def regulation_percent(plate: Plate, power_factor: float) -> float:
    """Return how much the secondary falls from open to its rated current, of its loaded volts [%]."""
    z = plate.impedance
    sine = math.sqrt(1 - power_factor**2)
    open_v = abs(complex(power_factor + z.real, sine + z.imag))
    return (open_v - 1) * 100


def short_circuit_a(plate: Plate, source_kva: float | None) -> float:
    """Return the bolted short-circuit current at the secondary [A]; source_kva: None for an infinite source."""
    through = abs(plate.impedance) + (plate.kva / source_kva if source_kva else 0.0)
    return rated_amps(plate.kva, plate.secondary_v, plate.phases) / through
