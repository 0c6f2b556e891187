"""A plate typed as it is printed: both sides of a transformer, a motor's two ratings, what tells a motor from a heater.

A plate has more on it than a load's own words say. What it says besides decides what it is; which of two ratings holds
is decided by the supply, and where nothing decides it is refused.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import NamedTuple

from voltaje.message import Figure, Message
from voltaje.systems import SYSTEMS

# Volts of one plate within this share of each other are one winding's for several supplies, as 208-230.
_ONE_WINDING = 1.2
_NEAR = 0.06  # a plate's volts to those of a supply: 460 at 480, 230 at 240
_TWO_WIRES = {120.0: "120 1ph", 230.0: "230 1ph"}  # what is made without another choice


class Sides(NamedTuple):
    """Both sides of a transformer as printed: 600D-208Y/120, 480-120, 13.8kV-480Y/277.

    primary: the line volts that it may be joined for [V], two of 240 × 480
    secondary: its line volts [V]; neutral: its volts to neutral [V], 0 where none is printed
    delta: whether the secondary is printed as a delta
    """

    primary: tuple[float, ...]
    secondary: float
    neutral: float = 0.0
    delta: bool = False


class SeveralAmps(NamedTuple):
    """The amperes of a plate for each of its volts [A], as typed."""

    typed: str
    amps: tuple[float, ...]


def sides_of(primary: tuple[float, ...], secondary: float, neutral: float, delta: bool) -> Sides | None:
    """Return the two sides that two volts [V] name; None where they are one winding's, as 208-230 V is."""
    low, high = sorted((primary[-1], secondary))
    if not low or high / low == 1:
        return None
    both = {secondary, neutral}
    named = (
        any({each.line_to_line_v, each.line_to_neutral_v} == both for each in SYSTEMS.values()) if neutral else delta
    )
    return Sides(primary, secondary, neutral, delta) if named or (not neutral and high / low > _ONE_WINDING) else None


def made_by(sides: Sides, phases: int) -> str | Message:
    """Return the system that a transformer of these sides makes; or what is asked, where the plate leaves it open.

    phases: as said beside it, 0 where nothing was
    """
    line, neutral = max(sides.secondary, sides.neutral), min(sides.secondary, sides.neutral)
    named = [
        name
        for name, each in SYSTEMS.items()
        if each.line_to_line_v == line
        and not each.wye_legs
        and not each.high_leg
        and (not neutral or each.line_to_neutral_v == neutral)
        and not (sides.delta and each.line_to_neutral_v)
        and phases in (0, each.phases)
        and not (sides.delta and each.phases == 1)
    ]
    if not neutral and line in _TWO_WIRES:
        return _TWO_WIRES[line]
    without = [name for name in named if not SYSTEMS[name].line_to_neutral_v]
    if len(named) == 1 or (phases == 1 and not neutral and without):
        return (without or named)[0] if phases == 1 else named[0]
    volts = Figure(line, "V")
    if not named:
        return Message("nothing here makes {volts}: write both sides, as in: 45 kVA 480-208Y/120", volts=volts)
    return Message("{volts} may be {known}: write its phases, or both its volts", volts=volts, known=named)


def by_supply(
    groups: Sequence[tuple[float, ...]], several: SeveralAmps, own: Sequence[float], star: bool
) -> int | None:
    """Return which of a plate's amperes holds: of the volts that the supply has; None where nothing decides.

    groups: the plate's volts as printed [V]; own: those of the supply [V], line to line last
    star: whether a motor of three phases may be joined as a star or as a delta, whose volts are √3 apart
    """
    for volts in groups:
        if len(volts) != len(several.amps):
            continue
        found = {
            each: min(range(len(volts)), key=lambda at, each=each: abs(volts[at] / each - 1))  # type: ignore[misc]
            for each in own
            if any(abs(volt / each - 1) <= _NEAR for volt in volts)
        }
        line = found.get(own[-1])
        if line is not None and (len(set(found.values())) == 1 or star):
            return line
        if len(set(found.values())) == 1:
            return next(iter(found.values()))
    return None


def holds_as_many(line: str, amps: int) -> bool:
    """Return whether a line has as many volts in one group as amperes: 230/460 V 22/11 A."""
    return any(
        len(re.split(r"[-/]", match[1])) == amps for match in re.finditer(r"(?<![\w.])(\d{3}(?:[-/]\d{3})+) ?v", line)
    )
