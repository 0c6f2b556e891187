"""A motor that starts: what its terminals and its line have while it stands. No rules in here."""

from __future__ import annotations

import cmath
import math
from typing import NamedTuple

from voltaje.systems import THREE_PHASE


class Start(NamedTuple):
    """A start: the line's current [A], volts at the terminals [V, and % of the supply's], torque [% of the full]."""

    amps: float
    volts: float
    percent: float
    torque_percent: float


def starting(locked_a: float, volts: float, phases: int, line_ohm: complex, cosine: float, tap: float = 1.0) -> Start:
    """Return how a motor starts: standing it is an impedance, behind that of its lines.

    locked_a: its current standing at full volts; volts: of the supply, line to line on three phases
    line_ohm: of each line from where the volts hold; cosine: of the standing motor
    tap: share of the volts that an autotransformer gives it; star for delta is 1/√3
    """
    three = phases == THREE_PHASE
    driven = volts / math.sqrt(3) if three else volts
    motor = cmath.rect(driven / locked_a, math.acos(cosine))
    seen = motor / tap**2  # what the line sees of it through the starter
    loop = seen + (line_ohm if three else 2 * line_ohm)
    amps = driven / abs(loop)
    share = abs(seen) / abs(loop)
    return Start(amps, volts * share, share * 100, (tap * share) ** 2 * 100)
