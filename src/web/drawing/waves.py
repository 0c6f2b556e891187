"""Legs' currents over one turn, and their sum: what the neutral brings back, at every instant."""

import cmath
import math
from collections.abc import Mapping
from dataclasses import dataclass

from web.drawing.legs import colour

WIDTH, HEIGHT = 690.0, 190.0
_LEFT, _RIGHT, _MIDDLE, _REACH = 16.0, 560.0, 95.0, 78.0
_POINTS = 120
_WORDS_Y, _WORDS_APART = 40.0, 26.0


@dataclass(frozen=True)
class Wave:
    """A curve: whose, its colour, as a path, and what makes it: r.m.s. amperes and angle, of each harmonic."""

    name: str
    hue: str
    d: str
    parts: str
    amps: float
    words_y: float  # where its name stands beside the curves


def waves(currents: Mapping[str, complex], third: Mapping[str, complex], family: str, volts: float) -> list[Wave]:
    """Return each leg's wave and the neutral's [A r.m.s. as phasors]; third: harmonic of each leg, at three times."""
    of = {leg: [(1, each), (3, third.get(leg, 0j))] for leg, each in currents.items()}
    of["N"] = [(times, sum((parts[at][1] for parts in of.values()), 0j)) for at, times in enumerate((1, 3))]
    peaks = [_at(parts, turn / _POINTS) for parts in of.values() for turn in range(_POINTS)]
    most = max((abs(each) for each in peaks), default=0.0) or 1.0
    found: list[Wave] = []
    for leg, parts in of.items():
        points = [
            (_LEFT + (_RIGHT - _LEFT) * at / _POINTS, _MIDDLE - _at(parts, at / _POINTS) / most * _REACH)
            for at in range(_POINTS + 1)
        ]
        d = "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in points)
        said = ";".join(f"{times},{abs(each) * math.sqrt(2):.6g},{cmath.phase(each):.6g}" for times, each in parts)
        amps = math.hypot(*(abs(each) for _times, each in parts))
        found.append(
            Wave(
                leg,
                "neutral" if leg == "N" else colour(leg, family, volts),
                d,
                f"{said}|{most:.6g}",
                amps,
                _WORDS_Y + _WORDS_APART * len(found),
            )
        )
    return found


def _at(parts: list[tuple[int, complex]], turn: float) -> float:
    """Return the instant's value [A] at a part of a turn; sums of r.m.s. phasors swing to √2 times their size."""
    return sum(
        math.sqrt(2) * abs(each) * math.cos(2 * math.pi * turn * times + cmath.phase(each)) for times, each in parts
    )
