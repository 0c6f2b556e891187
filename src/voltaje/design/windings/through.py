"""Windings as a path sees them: what they make of volts and currents between one system and another.

By the solver alone: one line after the other is held at a volt, or drawn an ampere from; all else adds up.
"""

from __future__ import annotations

from functools import lru_cache
from typing import NamedTuple

import numpy as np

from voltaje.design.windings.groups import Joint, Windings
from voltaje.physics.draws import Phasors
from voltaje.physics.unit import CONDUCTORS, Maps
from voltaje.physics.windings import Burden, Coil, Wound, wound

_EARTH = "earth"

Ends = tuple[tuple[str, str], ...]  # a conductor (L1, L2, L3, N) and the terminal that it is joined to


class Through(NamedTuple):
    """Windings between two systems: their coils, what is joined, the terminals of both sides.

    stacked: whether output and input stand on each other; else the output is earthed on its own, at its neutral
    """

    windings: Windings
    inputs: Ends
    outputs: Ends
    stacked: bool

    @property
    def joints(self) -> tuple[Joint, ...]:
        """What is joined to what."""
        return self.windings.joints

    @property
    def coils(self) -> tuple[Coil, ...]:
        """Its coils."""
        return self.windings.coils

    def at_work(self, volts: Phasors, amps: Phasors) -> Wound:
        """Return what stands and flows with those volts before it and those currents drawn behind it [V, A]."""
        return _held(self, volts, amps)


def _ground(through: Through) -> str:
    """Return where what is drawn comes back: earth, or of an output on its own its neutral, or its last line."""
    return _EARTH if through.stacked else through.outputs[-1][1]


def _held(through: Through, volts: Phasors, amps: Phasors) -> Wound:
    ground = _ground(through)
    held = {terminal: complex(volts[CONDUCTORS.index(line)]) for line, terminal in through.inputs}
    drawn = [
        Burden(terminal, ground, complex(amps[CONDUCTORS.index(line)]))
        for line, terminal in through.outputs
        if terminal != ground
    ]
    return wound(through.coils, through.joints, {**held, ground: 0j}, drawn)


@lru_cache(maxsize=500)
def maps_of(through: Through) -> Maps:
    """Return volts behind and currents before, as they follow from volts before and currents behind.

    Raises: Contradiction where the windings cannot stand so, or nothing brings a current that may be drawn.
    """
    wires = len(CONDUCTORS)
    nothing = np.zeros(wires, complex)
    found = np.zeros((4, wires, wires), complex)
    lines = [CONDUCTORS.index(line) for line, _terminal in through.outputs]
    alone = through.outputs[-1][0] != "N"  # what one line brings the others take back
    for at, volt in enumerate(np.eye(wires, dtype=complex)):
        drawn = volt.copy()
        if alone and at in lines:
            drawn[lines] -= 1 / len(lines)
        for place, work in ((0, _held(through, volt, nothing)), (1, _held(through, nothing, drawn))):
            for line, terminal in through.outputs:
                found[place, CONDUCTORS.index(line), at] = work.volts[terminal]
            for line, terminal in through.inputs:
                found[place + 2, CONDUCTORS.index(line), at] = work.fed[terminal]
    if not through.stacked and alone:
        # Counted from its middle, where nothing else says from where.
        for place in (0, 1):
            found[place, lines] -= found[place, lines].mean(axis=0)
    return Maps(*found)
