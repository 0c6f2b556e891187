"""Leg and neutral currents of loads on a system, as phasors."""

from __future__ import annotations

import cmath
import math
from collections.abc import Iterable
from dataclasses import dataclass

from voltaje.systems import System

Currents = dict[str, complex]


@dataclass(frozen=True)
class Placed:
    """A load on its legs: volt-amperes, power factor (lagging), the legs it is connected to."""

    va: float
    power_factor: float
    legs: tuple[str, ...]


def leg_currents(load: Placed, system: System) -> Currents:
    """Return the current that a load draws in each of its legs [A, as phasors].

    One leg: to neutral. Two: between them. Three: balanced. The current lags its own voltage by the
    angle of the power factor.
    """
    volts = system.phasors()
    lag = cmath.rect(1.0, -math.acos(load.power_factor))
    if len(load.legs) == 1:
        leg = load.legs[0]
        return {leg: _along(volts[leg]) * lag * load.va / (system.line_to_neutral_v or system.line_to_line_v)}
    if len(load.legs) == len(("L1", "L2")):
        first, second = load.legs
        current = _along(volts[first] - volts[second]) * lag * load.va / system.line_to_line_v
        return {first: current, second: -current}
    amps = load.va / (math.sqrt(3) * system.line_to_line_v)
    return {leg: _THIRDS[place] * lag * amps for place, leg in enumerate(load.legs)}


_THIRDS = tuple(cmath.rect(1.0, math.radians(angle)) for angle in (0, -120, 120))


def _along(voltage: complex) -> complex:
    return voltage / abs(voltage)


def total(currents: Iterable[Currents], system: System) -> Currents:
    """Return the sum of currents, leg by leg [A, as phasors]."""
    summed: Currents = {leg: 0j for leg, _angle in system.legs}
    for each in currents:
        for leg, amps in each.items():
            summed[leg] += amps
    return summed


def neutral(legs: Currents) -> float:
    """Return the neutral's current: what the legs' currents do not cancel [A]."""
    return abs(sum(legs.values(), 0j))
