"""Currents through ideal transformers: what the loads of a secondary draw from the lines of the primary.

No rules in here. Each winding of the secondary sits on a core with one of the primary; the volt-amperes of the two are
the same, so that each winding's current is reflected by the ratio of the two voltages, as phasors.
"""

from __future__ import annotations

import re
from typing import NamedTuple

from voltaje.physics.currents import Currents
from voltaje.systems import System

_THREE = 3
_NAMED = re.compile(r"(?P<primary>[DYΔ])N?(?P<secondary>[DYΔ])N?\s*(?P<clock>\d{0,2})")
_WORDS = (("DELTA", "D"), ("WYE", "Y"), ("STAR", "Y"), ("Δ", "D"), ("λ", "Y"))


class Connection(NamedTuple):
    """How three-phase windings are joined: D or Y each side, and the hour the secondary's phasors stand at."""

    primary: str
    secondary: str
    clock: int


def connection(named: str, secondary: System) -> Connection | None:
    """Return a connection by its name (`Dyn11`, `delta-wye`); None for one that is not understood or does not fit.

    Nothing named: a delta that feeds a wye where the secondary has a neutral in its middle, else a delta.
    The clock is 1 or 11 between unlike windings, 1 where none is named; 0 between like ones.
    """
    if not named.strip():
        star = bool(secondary.line_to_neutral_v) and not secondary.high_leg
        return Connection("D", "Y" if star else "D", 1 if star else 0)
    text = named.upper()
    for word, letter in _WORDS:
        text = text.replace(word, letter)
    found = _NAMED.fullmatch(re.sub(r"[\s\-–—/]", "", text))
    if found is None:
        return None
    sides = found["primary"], found["secondary"]
    if secondary.line_to_neutral_v and len(secondary.legs) == _THREE and (sides[1] == "Y") == bool(secondary.high_leg):
        return None  # a star has its neutral in the middle, a delta one leg high above it
    clock = int(found["clock"] or (0 if sides[0] == sides[1] else 1))
    allowed = (0, 6) if sides[0] == sides[1] else (1, 5, 7, 11)
    return Connection(*sides, clock) if clock in allowed else None


def reflected(
    drawn: Currents, secondary: System, primary: System, legs: tuple[str, ...], joined: Connection
) -> Currents:
    """Return the line currents of a transformer's primary [A, as phasors] for those of its secondary.

    legs: the primary's legs that it is connected to; two or one: a single-phase transformer
    """
    if len(legs) < _THREE:
        return _single_phase(drawn, secondary, primary, legs)
    order = tuple(leg for leg, _angle in primary.legs)
    return _three_phase(_to_coils(drawn, secondary, joined.secondary), primary, order, joined)


def _single_phase(drawn: Currents, secondary: System, primary: System, legs: tuple[str, ...]) -> Currents:
    volts, across = secondary.phasors(), primary.phasors()
    over = across[legs[0]] - (across[legs[1]] if len(legs) > 1 else 0)
    # Volt-amperes of the whole winding: its halves stand on one core.
    amps = sum((current * volts[leg].conjugate() for leg, current in drawn.items()), 0j) / over.conjugate()
    return {legs[0]: amps} if len(legs) == 1 else {legs[0]: amps, legs[1]: -amps}


class _Coil(NamedTuple):
    """A winding of the secondary: its voltage and its current."""

    volts: complex
    amps: complex


def _to_coils(drawn: Currents, secondary: System, joined: str) -> list[_Coil]:
    """Return voltage and current of each winding; those of a delta stand between one leg and the next."""
    volts = secondary.phasors()
    order = [leg for leg, _angle in secondary.legs]
    amps = {leg: drawn.get(leg, 0j) for leg in order}
    if joined == "Y" or len(order) < _THREE:
        return [_Coil(volts[leg], amps[leg]) for leg in order]
    if secondary.high_leg:
        # The neutral taps one winding in its middle: half of its turns for each side.
        low = [leg for leg in order if leg != secondary.high_leg]
        neutral = sum(amps.values(), 0j)
        amps |= {leg: amps[leg] - neutral / 2 for leg in low}
    pairs = zip(order, [*order[1:], order[0]], strict=True)
    # Windings alike share what lies between two lines as 2 to 1 with the way around.
    return [_Coil(volts[one] - volts[next_], (amps[one] - amps[next_]) / _THREE) for one, next_ in pairs]


def hardest_winding(drawn: Currents, secondary: System, joined: Connection) -> tuple[str, float]:
    """Return which winding of a three-phase secondary carries the most, by the legs it stands between, and its current
    [A]. Of a tapped winding that is the harder of its halves.
    """
    order = [leg for leg, _angle in secondary.legs]
    coils = _to_coils(drawn, secondary, joined.secondary)
    if joined.secondary == "Y":
        return max(((leg, abs(coil.amps)) for leg, coil in zip(order, coils, strict=True)), key=lambda each: each[1])
    tap = sum(drawn.values(), 0j) / 2 if secondary.high_leg else 0j
    found = []
    for start, end, coil in zip(order, [*order[1:], order[0]], coils, strict=True):
        halves = (tap, -tap) if secondary.high_leg not in (start, end) else (0j,)
        found.append((f"{start}–{end}", max(abs(coil.amps + half) for half in halves)))
    return max(found, key=lambda each: each[1])


def _three_phase(coils: list[_Coil], primary: System, legs: tuple[str, ...], joined: Connection) -> Currents:
    volts = primary.phasors()
    found: Currents = dict.fromkeys(legs, 0j)
    for at, coil in enumerate(coils):
        start, end = _primary_ends(at, legs, joined)
        over = volts[start] - (volts[end] if end else 0)
        amps = coil.amps * coil.volts.conjugate() / over.conjugate()
        found[start] += amps
        if end:
            found[end] -= amps
    if joined.primary == "Y" and not primary.line_to_neutral_v:
        # No neutral brings the sum of the three back: the star point gives way.
        mean = sum(found.values(), 0j) / len(found)
        found = {leg: amps - mean for leg, amps in found.items()}
    return found


def _primary_ends(at: int, legs: tuple[str, ...], joined: Connection) -> tuple[str, str]:
    """Return the legs that a primary winding stands between; "" for the star point."""
    here, after, before = legs[at], legs[(at + 1) % _THREE], legs[(at - 1) % _THREE]
    if joined.primary == joined.secondary:
        return (here, after) if joined.primary == "D" else (here, "")
    leads = joined.clock in (11, 5)
    if joined.primary == "D":
        return (here, after) if leads else (here, before)
    # A delta's winding between one leg and the next stands with the star's winding of the one, or of the next.
    return (after, "") if leads else (here, "")
