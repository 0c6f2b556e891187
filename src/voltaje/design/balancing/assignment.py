"""A board as columns: how many circuits of a kind go which way, and what comes of it on legs and neutral.

Circuits that are alike are counted, not told apart: a board of hundreds has few kinds. An assignment is an array of
counts, one for each way of each kind [count].
"""

from __future__ import annotations

import cmath
import math
from collections import defaultdict
from collections.abc import Hashable, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from voltaje.design.balancing.board import Circuit, Legs, Move
from voltaje.systems import System

Counts = NDArray[np.float64]

_ALIKE_DIGITS = 6  # circuits that differ by less than a microampere are alike


@dataclass
class Kind:
    """Circuits that are alike: where one goes, another might. columns: its ways."""

    members: list[Circuit] = field(default_factory=list)
    columns: list[int] = field(default_factory=list)

    @property
    def one(self) -> Circuit:
        """Any of them."""
        return self.members[0]


class Board:
    """The circuits of a board by kind, with what each column puts on legs and neutral.

    legs_a: of each leg and column [A]; pull_a: of each column on the neutral [A, as phasors]
    moved: which columns are a move; base_a: what stands on each leg anyhow [A]
    """

    def __init__(
        self,
        circuits: Sequence[Circuit],
        system: System,
        base: Mapping[str, float],
        most_moves: int | None,
        order: Legs,
        base_neutral: complex,
    ) -> None:
        self.circuits, self.system = circuits, system
        self.order = order or tuple(leg for leg, _angle in system.legs)
        self.base_a = np.array([base.get(leg, 0.0) for leg in self.order])
        self.base_neutral = base_neutral
        self.most_moves = math.inf if most_moves is None else float(most_moves)
        self.kinds = self._alike()
        self.ways = [(kind, way) for kind in self.kinds for way in kind.one.may]
        for column, (kind, _way) in enumerate(self.ways):
            kind.columns.append(column)
        turn = {leg: cmath.rect(1.0, math.radians(angle)) for leg, angle in system.legs}
        self.legs_a = np.array(
            [[kind.one.each_a if leg in way else 0.0 for kind, way in self.ways] for leg in self.order]
        ).reshape(len(self.order), len(self.ways))
        self.pull_a = np.array(
            [sum((turn[leg] for leg in way), 0j) * kind.one.each_a * kind.one.neutral for kind, way in self.ways],
            np.complex128,
        )
        self.moved = np.array([float(way != kind.one.legs) for kind, way in self.ways])

    def _alike(self) -> list[Kind]:
        found: dict[Hashable, Kind] = defaultdict(Kind)
        for each in self.circuits:
            own = each.key if each.kept_apart else None
            found[round(each.each_a, _ALIKE_DIGITS), each.legs, each.may, each.neutral, own].members.append(each)
        return list(found.values())

    def as_it_stands(self) -> Counts:
        """Return the assignment as it is."""
        counts = np.zeros(len(self.ways))
        for kind in self.kinds:
            counts[self.column(kind, kind.one.legs)] = len(kind.members)
        return counts

    def column(self, kind: Kind, way: Legs) -> int:
        """Return the column of a kind's way [count]."""
        return next(column for column in kind.columns if self.ways[column][1] == way)

    def standing(self, counts: Counts) -> Counts:
        """Return what stands on each leg [A]."""
        return np.asarray(self.base_a + self.legs_a @ counts)

    def largest(self, counts: Counts) -> float:
        """Return the largest leg [A]."""
        return float(self.standing(counts).max())

    def neutral(self, counts: Counts) -> float:
        """Return what is left on the neutral [A]."""
        return float(abs(self.pull_a @ counts + self.base_neutral))

    def moves(self, counts: Counts) -> float:
        """Return how many circuits change [count]."""
        return float(self.moved @ counts)

    def groups(self) -> list[list[Kind]]:
        """Return the circuits that share neutrals, group by group; each is a kind of its own."""
        found: dict[str, list[Kind]] = defaultdict(list)
        for kind in self.kinds:
            if kind.one.kept_apart:
                found[kind.one.kept_apart].append(kind)
        return list(found.values())

    def way_of(self, kind: Kind, counts: Counts) -> Legs:
        """Return where a kind of one circuit stands."""
        return self.ways[max(kind.columns, key=lambda column: counts[column])][1]

    def is_allowed(self, counts: Counts) -> bool:
        """Return whether circuits that share a neutral stand on legs of their own, and no more move than may."""
        if self.moves(counts) > self.most_moves:
            return False
        for group in self.groups():
            legs = [leg for kind in group for leg in self.way_of(kind, counts)]
            if len({*legs}) < len(legs):
                return False
        return True

    def moves_of(self, counts: Counts) -> tuple[Move, ...]:
        """Return the moves of an assignment, in the order of the circuits."""
        found = []
        place = {each.key: at for at, each in enumerate(self.circuits)}
        for kind in self.kinds:
            going = [way for column in kind.columns for way in [self.ways[column][1]] * round(counts[column])]
            away = [way for way in going if way != kind.one.legs]
            # The last of those that are alike go, so that a board's first ways stay as they are.
            for each, way in zip(kind.members[len(kind.members) - len(away) :], away, strict=True):
                found.append(Move(each.key, each.legs, way))
        return tuple(sorted(found, key=lambda move: place[move.key]))
