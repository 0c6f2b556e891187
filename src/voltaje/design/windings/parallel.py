"""Two transformers side by side: what stands between their open low sides, what circulates once they are joined.

The current that circulates comes from the solver: both sets of coils, their lines joined on either side, each low coil
with its own impedance. Source of the sharing of load: each takes its kVA over its per-cent impedance (handbooks).
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Mapping
from typing import NamedTuple

from voltaje.design.windings.groups import HIGH, LOW, Joint, Windings, letter_of, nodes_of, reach
from voltaje.physics.windings import Coil, Wound, three_phase, wound

_THREE = 3
_OTHER = "beside "
_MOST_PERCENT = 100.0


class Rated(NamedTuple):
    """A transformer of a pair: its coils, rated low volts (line to line), kVA, impedance [%]."""

    windings: Windings
    low_v: float
    kva: float | None
    impedance_percent: float | None


class Beside(NamedTuple):
    """How two stand to each other.

    degrees: of the second's low side behind the first's; apart_v: between their lines of one name, open [V]
    apart_percent: that of the first's line to middle; ratio_percent: how far their volts differ
    circulating_a: in each low line once joined [A], None without kVA and impedances; of_rated: that, of the first's and
    the second's rated current [%]; shares: of a load between them [%]; carried_kva: before the first is full
    """

    degrees: float
    apart_v: float
    apart_percent: float
    ratio_percent: float
    circulating_a: float | None
    of_rated: tuple[float, float] | None
    shares: tuple[float, float] | None
    carried_kva: float | None


def beside(first: Rated, second: Rated, high_v: float) -> Beside:
    """Return how two transformers on one high-side supply stand to each other. Raises Contradiction of either alone."""
    here, there = (_low(each.windings, high_v) for each in (first, second))
    apart = here - there
    turned = math.degrees(cmath.phase(here / there))
    ratio = (abs(there) / abs(here) - 1) * _MOST_PERCENT
    facts = (first.kva, first.impedance_percent, second.kva, second.impedance_percent)
    if any(each is None for each in facts):
        return Beside(turned, abs(apart), abs(apart / here) * _MOST_PERCENT, ratio, None, None, None, None)
    amps = _circulating(first, second, high_v)
    rated = tuple((each.kva or 0.0) * 1000 / (math.sqrt(_THREE) * each.low_v) for each in (first, second))
    weights = tuple((each.kva or 0.0) / (each.impedance_percent or 1.0) for each in (first, second))
    whole = sum(weights)
    carried = min((each.impedance_percent or 0.0) * whole for each in (first, second))
    return Beside(
        turned,
        abs(apart),
        abs(apart / here) * _MOST_PERCENT,
        ratio,
        amps,
        (amps / rated[0] * _MOST_PERCENT, amps / rated[1] * _MOST_PERCENT),
        (weights[0] / whole * _MOST_PERCENT, weights[1] / whole * _MOST_PERCENT),
        carried,
    )


def _low(windings: Windings, high_v: float) -> complex:
    """Return what line a of the low side has to the middle of the three [V]."""
    found = wound(windings.coils, windings.joints, _supply(high_v))
    return found.volts[LOW[0]] - sum(found.volts[line] for line in LOW) / _THREE


def _circulating(first: Rated, second: Rated, high_v: float) -> float:
    """Return the most that flows in a low line of the pair, joined and without a load [A]."""
    mine, other = _with_ohms(first), _with_ohms(second)
    coils = [*mine.coils, *(_renamed(coil) for coil in other.coils)]
    joints: list[Joint] = [*mine.joints, *((_OTHER + one, _OTHER + two) for one, two in other.joints)]
    joints += [(line, _OTHER + line) for line in (*HIGH, *LOW)]
    found = wound(coils, joints, _supply(high_v))
    return max(abs(_out_of(found, mine, line)) for line in LOW)


def _supply(high_v: float) -> Mapping[str, complex]:
    return dict(zip(HIGH, three_phase(high_v), strict=True))


def _renamed(coil: Coil) -> Coil:
    return coil._replace(id=_OTHER + coil.id, core=_OTHER + coil.core, start=_OTHER + coil.start, end=_OTHER + coil.end)


def _with_ohms(rated: Rated) -> Windings:
    """Return coils with a transformer's impedance in those of its low side, as reactance alone."""
    base = rated.low_v**2 / ((rated.kva or 1.0) * 1000)
    each = base * (rated.impedance_percent or 0.0) / _MOST_PERCENT
    letter = letter_of(rated.windings, LOW)
    # Of a delta each coil has three times a phase's; of a zigzag two halves share it.
    ohms = 1j * each * (_THREE if letter == "d" else 0.5 if letter == "z" else 1.0)
    low = reach(rated.windings, LOW)
    coils = tuple(coil._replace(ohms=ohms) if coil.start in low else coil for coil in rated.windings.coils)
    return rated.windings._replace(coils=coils)


def _out_of(found: Wound, windings: Windings, line: str) -> complex:
    """Return what leaves a set of coils at a line [A]: through every end of theirs that is joined there."""
    node = nodes_of(windings)
    return sum(
        (
            found.amps[coil.id] * ((node[coil.end] == node[line]) - (node[coil.start] == node[line]))
            for coil in windings.coils
        ),
        0j,
    )
