"""A board to be evened out: its circuits, where each may go, and what an answer holds.

What weighs on a leg is counted as current by its volts to neutral, so that circuits add up as they stand; circuits to
neutral alone weigh on the neutral, as phasors.
"""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import dataclass
from itertools import combinations
from typing import NamedTuple

from voltaje.systems import System

Legs = tuple[str, ...]


class Circuit(NamedTuple):
    """A circuit on its legs, and where it may go.

    each_a: what it weighs on each of its legs, by volts to neutral [A]; may: the legs it may have, its own among them
    neutral: whether it weighs on the neutral; kept_apart: those alike in it share a neutral and need legs of their own
    """

    key: Hashable
    each_a: float
    legs: Legs
    may: tuple[Legs, ...]
    neutral: bool
    kept_apart: str = ""


class Move(NamedTuple):
    """A circuit that goes from legs to others."""

    key: Hashable
    before: Legs
    after: Legs


@dataclass(frozen=True)
class Balanced:
    """The best assignment that was found.

    amps, amps_before: of each leg; neutral_a, neutral_before_a: what the circuits leave on the neutral [A]
    bound_a: under which no assignment brings the largest leg; proven: whether that is met, to the tenth of an ampere
    cut: whether the far guard of time ended a search before its counts did: then another machine may find more
    """

    moves: tuple[Move, ...]
    amps: dict[str, float]
    amps_before: dict[str, float]
    neutral_a: float
    neutral_before_a: float
    bound_a: float
    proven: bool
    cut: bool = False

    @property
    def largest_a(self) -> float:
        """The largest leg [A]."""
        return max(self.amps.values())


def places_of(poles: int, system: System, neutral: bool = False) -> tuple[Legs, ...]:
    """Return the legs that a circuit of so many poles may have; neutral: whether it needs one beside two poles."""
    order = [leg for leg, _angle in system.legs]
    low = [leg for leg in order if leg != system.high_leg]
    if poles == 1:
        return tuple((leg,) for leg in low)
    if poles >= len(order):
        return (tuple(order),)
    return tuple(combinations(low if neutral else order, poles))
