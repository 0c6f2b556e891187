"""What a load draws as its volts change, and where a network has no solution. No rules in here."""

from __future__ import annotations

import math
from enum import Enum

import numpy as np
from numpy.typing import NDArray

from voltaje.errors import Refused
from voltaje.message import Message

Phasors = NDArray[np.complex128]


class Draws(Enum):
    """How a load's current follows its volts.

    PAPER: it does not, neither in size nor in angle, as one reckons on paper; CURRENT: its size stays, its angle turns
    with its volts; IMPEDANCE: it grows with them (heat); POWER: it grows as they fall (motors, electronics)
    """

    PAPER = "paper"
    CURRENT = "constant current"
    IMPEDANCE = "constant impedance"
    POWER = "constant power"


class NoSolution(Refused):
    """A network that no voltages and currents satisfy, or whose voltages nothing decides."""


def not_converging() -> NoSolution:
    """Return what is said of loads that the supply cannot carry."""
    return NoSolution("load", Message("no voltages hold: the loads draw more than these conductors can bring"))


def kva_of(va: float, power_factor: float) -> complex:
    """Return a load's complex power [VA], lagging."""
    return complex(va * power_factor, va * math.sqrt(1 - power_factor**2))


class Drawn:
    """Loads as arrays: what they draw at the volts across them.

    va: complex power at the nominal volts; nominal: those volts, as phasors
    """

    def __init__(self, va: Phasors, nominal: Phasors, kinds: list[Draws]) -> None:
        self._paper = np.conj(va / nominal)
        self._va, self._size = va, np.abs(nominal)
        of = {kind: np.array([each is kind for each in kinds], dtype=bool) for kind in Draws}
        self._current, self._impedance, self._power = of[Draws.CURRENT], of[Draws.IMPEDANCE], of[Draws.POWER]
        self.follows = not bool(of[Draws.PAPER].all())

    def amps(self, volts: Phasors) -> Phasors:
        """Return what each draws at these volts [A]."""
        if not self.follows:
            return self._paper
        found = self._paper.copy()
        share = np.abs(volts) / self._size
        with np.errstate(divide="ignore", invalid="ignore"):
            full = np.conj(self._va / volts)
        found[self._power] = full[self._power]
        found[self._current] = (full * share)[self._current]
        found[self._impedance] = (full * share**2)[self._impedance]
        return np.nan_to_num(found, nan=0.0, posinf=np.inf, neginf=np.inf) if not np.isfinite(found).all() else found
