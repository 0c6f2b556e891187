"""A transformer between two parts of a network: its coils, and what they make of volts and currents.

No rules in here. Coils are joined as their connection says (`Dyn11`); each pair on a core holds volts to volts by the
ratio, ampere-turns to ampere-turns, and loses its own impedance. The secondary's neutral, or its middle where it has
none, is where its volts are counted from: it is earthed there.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from voltaje.message import Message
from voltaje.physics.draws import NoSolution, Phasors
from voltaje.physics.reflection import Connection
from voltaje.systems import System

CONDUCTORS = ("L1", "L2", "L3", "N")
NEUTRAL = CONDUCTORS.index("N")
_STAR = len(CONDUCTORS)  # a star point that nothing is joined to
_THREE, _TWO = 3, 2
_LEAST_OHM = 1e-9  # a ring of coils needs some

Matrix = NDArray[np.complex128]


class Pair(NamedTuple):
    """Two coils on one core: conductors that each stands between, ratio of volts, impedance [Ω, secondary]."""

    primary: tuple[int, int]
    secondary: tuple[int, int]
    ratio: float
    ohms: complex


Unit = tuple[Pair, ...]


class Maps(NamedTuple):
    """Volts behind a transformer and currents before it, as they follow from volts before and currents behind."""

    volts_of_volts: Matrix
    volts_of_amps: Matrix
    amps_of_volts: Matrix
    amps_of_amps: Matrix

    def volts(self, before: Phasors, drawn: Phasors) -> Phasors:
        """Return the volts of each conductor behind it [V]."""
        found: Phasors = self.volts_of_volts @ before + self.volts_of_amps @ drawn
        return found

    def amps(self, before: Phasors, drawn: Phasors) -> Phasors:
        """Return what it draws from each conductor before it [A]."""
        found: Phasors = self.amps_of_volts @ before + self.amps_of_amps @ drawn
        return found


def three_phase(joined: Connection, primary: System, secondary: System, ohms: complex) -> Unit:
    """Return a three-phase unit; ohms: of one phase, as in a star, seen from its secondary [Ω]."""
    star = NEUTRAL if primary.line_to_neutral_v else _STAR
    over = primary.line_to_line_v / (1 if joined.primary == "D" else math.sqrt(_THREE))
    over *= _polarity(joined)
    ends = _ends(joined, star)
    if joined.secondary == "Y":
        ratio = over / (secondary.line_to_line_v / math.sqrt(_THREE))
        return tuple(Pair(ends[at], (at, NEUTRAL), ratio, ohms) for at in range(_THREE))
    pairs: list[Pair] = []
    for at in range(_THREE):
        after, ratio = (at + 1) % _THREE, over / secondary.line_to_line_v
        if secondary.high_leg and secondary.high_leg not in (CONDUCTORS[at], CONDUCTORS[after]):
            # The tapped winding: a half each side of the neutral, on the same core.
            halves = ((at, NEUTRAL), (NEUTRAL, after))
            pairs.extend(Pair(ends[at], half, _TWO * ratio, _THREE * ohms / _TWO) for half in halves)
        else:
            pairs.append(Pair(ends[at], (at, after), ratio, _THREE * ohms))
    return tuple(pairs)


def _polarity(joined: Connection) -> int:
    """Return -1 where the coils of a pair stand against each other."""
    against = (7, 11) if (joined.primary, joined.secondary) == ("Y", "D") else (5, 6, 7)
    return -1 if joined.clock in against else 1


def single_phase(legs: tuple[str, ...], volts: float, secondary: System, ohms: complex) -> Unit:
    """Return a single-phase unit between two legs, or a leg and neutral; ohms: of the whole secondary [Ω]."""
    start = CONDUCTORS.index(legs[0])
    over = (start, CONDUCTORS.index(legs[1]) if len(legs) > 1 else NEUTRAL)
    behind = [CONDUCTORS.index(leg) for leg, _angle in secondary.legs]
    if len(behind) == 1:
        return (Pair(over, (behind[0], NEUTRAL), volts / secondary.line_to_line_v, ohms),)
    if secondary.line_to_neutral_v:
        ratio = volts / (secondary.line_to_line_v / _TWO)
        halves = ((behind[0], NEUTRAL), (NEUTRAL, behind[1]))
        return tuple(Pair(over, half, ratio, ohms / _TWO) for half in halves)
    return (Pair(over, (behind[0], behind[1]), volts / secondary.line_to_line_v, ohms),)


def _ends(joined: Connection, star: int) -> list[tuple[int, int]]:
    """Return the conductors between which the primary coil of each secondary coil stands."""
    found = []
    for here in range(_THREE):
        after, before = (here + 1) % _THREE, (here - 1) % _THREE
        leads = joined.clock in (11, 5)
        if joined.primary == joined.secondary:
            found.append((here, after) if joined.primary == "D" else (here, star))
        elif joined.primary == "D":
            found.append((here, after) if leads else (here, before))
        else:
            found.append((after, star) if leads else (here, star))
    return found


def maps_of(unit: Unit) -> Maps:
    """Return what a transformer makes of volts and currents. Raises NoSolution where nothing decides its star point.

    Solved for the currents of its coils, the volts behind it, and a star point that is joined to nothing.
    """
    coils, wires = len(unit), len(CONDUCTORS)
    used = sorted({end for pair in unit for end in pair.secondary})
    star = any(_STAR in pair.primary for pair in unit)
    size = coils + wires + star
    left, of_volts = np.zeros((size, size), complex), np.zeros((size, wires), complex)
    of_amps = np.zeros((size, wires), complex)
    for at, pair in enumerate(unit):
        (start, end), (hot, cold) = pair.primary, pair.secondary
        # Volts of the coil: those before it by the ratio, less what it loses itself.
        left[at, coils + hot] += 1
        left[at, coils + cold] -= 1
        left[at, at] += pair.ohms or _LEAST_OHM
        for sign, wire in ((1, start), (-1, end)):
            if wire == _STAR:
                left[at, coils + wires] -= sign / pair.ratio
                left[coils + wires, at] += sign / pair.ratio
            else:
                of_volts[at, wire] += sign / pair.ratio
        for sign, wire in ((1, hot), (-1, cold)):
            left[coils + wire, at] += sign
    for wire in range(wires):
        of_amps[coils + wire, wire] = 1
    _refer(left, of_amps, used, coils)
    try:
        both = np.linalg.solve(left, np.hstack([of_volts, of_amps]))
    except np.linalg.LinAlgError:
        raise NoSolution("connection", Message("nothing decides the volts of its star point")) from None
    amps, volts = both[:coils], both[coils : coils + wires]
    back = np.zeros((wires, coils), complex)
    for at, pair in enumerate(unit):
        for sign, wire in zip((1, -1), pair.primary, strict=True):
            if wire != _STAR:
                back[wire, at] += sign / pair.ratio
    before = back @ amps
    return Maps(volts[:, :wires], volts[:, wires:], before[:, :wires], before[:, wires:])


def _refer(left: Matrix, of_amps: Matrix, used: list[int], coils: int) -> None:
    """Set where volts are counted from, in place of a balance of currents that the others hold already."""
    reference = NEUTRAL if NEUTRAL in used else used[0]
    row = coils + reference
    left[row], of_amps[row] = 0, 0
    for wire in [NEUTRAL] if NEUTRAL in used else used:
        left[row, coils + wire] = 1
    for wire in set(range(len(CONDUCTORS))) - {*used}:
        left[coils + wire], of_amps[coils + wire] = 0, 0
        left[coils + wire, coils + wire] = 1
