"""An induction motor's torque over its speed, at any volts: Kloss's formula (handbooks). No rules in here.

Torque goes with the square of the volts at every speed; where it runs is where it gives what its load asks. A motor of
the usual build is taken: the shape is one motor's, the way it changes with the volts is any's.
"""

from __future__ import annotations

import math
from typing import NamedTuple

PEAK, PEAK_SLIP = 2.2, 0.18  # breakdown torque, of the rated one, and its slip: design B, common practice


class Running(NamedTuple):
    """A motor at work on its rated torque: its slip, its current and its rotor's heat, of those at rated volts."""

    slip: float
    amps: float
    heat: float


def torque(slip: float, volts: float) -> float:
    """Return the torque at a slip [share of the rated one]; volts: of the rated ones [share]."""
    return 2 * PEAK / (slip / PEAK_SLIP + PEAK_SLIP / slip) * volts**2


def running(volts: float) -> Running | None:
    """Return how it runs its rated torque at a share of its rated volts; None where it stalls.

    A rotor's losses go with its slip, its current with the square root of losses over resistance (handbooks).
    """
    here, rated = _slip(volts), _slip(1.0)
    if here is None or rated is None:
        return None
    return Running(here, math.sqrt(here / rated), here / rated)


def _slip(volts: float) -> float | None:
    peak = PEAK * volts**2
    if peak <= 1:
        return None
    return PEAK_SLIP * (peak - math.sqrt(peak**2 - 1))
