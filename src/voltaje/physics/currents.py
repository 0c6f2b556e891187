"""Leg and neutral currents of loads on a system, as phasors."""

from __future__ import annotations

import cmath
import math
from collections.abc import Iterable
from functools import cache
from typing import NamedTuple

from voltaje.systems import System

Currents = dict[str, complex]


class Placed(NamedTuple):
    """A load on its legs: volt-amperes, power factor (lagging), the legs it is connected to."""

    va: float
    power_factor: float
    legs: tuple[str, ...]


def leg_currents(load: Placed, system: System) -> Currents:
    """Return the current that a load draws in each of its legs [A, as phasors].

    One leg: to neutral. Two: between them. Three: balanced. The current lags its own voltage by the
    angle of the power factor.
    """
    return {leg: unit * load.va for leg, unit in _of_one_va(load.power_factor, load.legs, system)}


@cache
def _of_one_va(power_factor: float, legs: tuple[str, ...], system: System) -> tuple[tuple[str, complex], ...]:
    """Return the current of one volt-ampere in each leg [A, as phasors]."""
    volts = system.phasors()
    lag = cmath.rect(1.0, -math.acos(power_factor))
    if len(legs) == 1:
        leg = legs[0]
        return ((leg, _along(volts[leg]) * lag / (system.line_to_neutral_v or system.line_to_line_v)),)
    if len(legs) == len(("L1", "L2")):
        first, second = legs
        current = _along(volts[first] - volts[second]) * lag / system.line_to_line_v
        return ((first, current), (second, -current))
    # In phase with each leg's voltage to the middle of the three, in whatever order the legs are named.
    amps = 1 / (math.sqrt(3) * system.line_to_line_v)
    middle = sum(volts[leg] for leg in legs) / len(legs)
    return tuple((leg, _along(volts[leg] - middle) * lag * amps) for leg in legs)


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


def around(currents: Currents, voltage: tuple[str, ...]) -> tuple[complex, complex]:
    """Return the currents that bring a voltage down [A, as phasors]: of its line or lines, and of the neutral.

    voltage: the two legs that it stands between, or the one that stands to neutral
    """
    here = currents.get(voltage[0], 0j)
    if len(voltage) > 1:
        return here - currents.get(voltage[1], 0j), 0j
    return here, sum(currents.values(), 0j)
