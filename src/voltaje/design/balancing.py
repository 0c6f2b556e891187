"""Circuits spread over legs: a best assignment, with its proof.

Least largest leg, then least neutral, then fewest moves, each found by integer programming (scipy's HiGHS) with what
was found before held fast. What weighs on a leg is counted as current by its volts to neutral, so that circuits add up
as they stand; circuits to neutral alone weigh on the neutral, as phasors.
"""

from __future__ import annotations

import cmath
import math
from collections import defaultdict
from collections.abc import Hashable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from itertools import combinations
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from voltaje.numerics import optimize
from voltaje.systems import System

Legs = tuple[str, ...]
Counts = NDArray[np.float64]

_EXACT_UP_TO = 12  # so many circuits that may move are solved to the last digit
_TOLERANCE_A = 0.1  # the last digit that is shown
_SECONDS, _LONG = 0.2, 1.0  # for each question, of a board of many circuits and of few
_DIRECTIONS, _ROUNDS = 24, 6
_GRAINS = 5_000  # an ampere
_DUST_A, _ALIKE = 1e-7, 1e-6


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
    """The best assignment.

    amps, amps_before: of each leg; neutral_a, neutral_before_a: what the circuits leave on the neutral [A]
    bound_a: under which no assignment brings the largest leg; proven: whether that is met
    """

    moves: tuple[Move, ...]
    amps: dict[str, float]
    amps_before: dict[str, float]
    neutral_a: float
    neutral_before_a: float
    bound_a: float
    proven: bool

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


def even_out(
    circuits: Sequence[Circuit],
    system: System,
    base: Mapping[str, float] | None = None,
    most_moves: int | None = None,
    order: Legs = (),
    base_neutral: complex = 0j,
) -> Balanced:
    """Return the best assignment of circuits to legs.

    base: what stands on each leg anyhow [A]; most_moves: how many circuits may change, None for any
    order: the legs that there are, of a board that has not all of its system's; base_neutral: what stands on the
        neutral anyhow [A, as a phasor]
    """
    return _Problem(circuits, system, base or {}, most_moves, order, base_neutral).solved()


@dataclass
class _Kind:
    """Circuits that are alike: where one goes, another might."""

    members: list[Circuit] = field(default_factory=list)
    columns: list[int] = field(default_factory=list)


class _Problem:
    """The integer programme: a column for each way that a kind of circuit may go, how many of it go so."""

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
        self.base = {leg: base.get(leg, 0.0) for leg in self.order}
        self.most_moves, self.base_neutral = most_moves, base_neutral
        self.turn = {leg: cmath.rect(1.0, math.radians(angle)) for leg, angle in system.legs}
        free = sum(len(each.may) > 1 for each in circuits)
        self.exact = free <= _EXACT_UP_TO
        self.kinds = self._alike()
        self.ways = [(at, way) for at, kind in enumerate(self.kinds) for way in kind.members[0].may]
        for column, (at, _way) in enumerate(self.ways):
            self.kinds[at].columns.append(column)
        self.directions = self._directions()

    def _alike(self) -> list[_Kind]:
        found: dict[Hashable, _Kind] = defaultdict(_Kind)
        for each in self.circuits:
            own = each.key if each.kept_apart else None
            found[round(each.each_a, 6), each.legs, each.may, each.neutral, own].members.append(each)
        return list(found.values())

    def _directions(self) -> list[complex]:
        if len(self.order) < len(("L1", "L2", "L3")) and not self.system.wye_legs:
            return [1 + 0j, -1 + 0j]
        return [cmath.rect(1.0, 2 * math.pi * at / _DIRECTIONS) for at in range(_DIRECTIONS)]

    # Rows: of each, what a column weighs in it

    def weights(self, leg: str) -> Counts:
        """Return what each column puts on a leg [A]."""
        return np.array([self.kinds[at].members[0].each_a if leg in way else 0.0 for at, way in self.ways])

    def pulls(self, along: complex) -> Counts:
        """Return what each column puts on the neutral along a direction [A]."""
        found = []
        for at, way in self.ways:
            one = self.kinds[at].members[0]
            pull = sum((self.turn[leg] for leg in way), 0j) * one.each_a if one.neutral else 0j
            found.append((pull * along.conjugate()).real)
        return np.array(found)

    def moved(self) -> Counts:
        """Return which columns are a move."""
        return np.array([float(way != self.kinds[at].members[0].legs) for at, way in self.ways])

    def _rules(self, columns: int) -> list[Any]:
        """Every circuit goes somewhere; those that share a neutral on legs of their own; not more moves than may be."""
        rows, low, high = [], [], []
        for kind in self.kinds:
            row = np.zeros(columns)
            row[kind.columns] = 1
            rows.append(row)
            low.append(float(len(kind.members)))
            high.append(float(len(kind.members)))
        shared: dict[tuple[str, str], Counts] = {}
        for column, (at, way) in enumerate(self.ways):
            apart = self.kinds[at].members[0].kept_apart
            for leg in way if apart else ():
                shared.setdefault((apart, leg), np.zeros(columns))[column] = 1
        for row in shared.values():
            rows.append(row)
            low.append(0.0)
            high.append(1.0)
        if self.most_moves is not None:
            rows.append(np.append(self.moved(), np.zeros(columns - len(self.ways))))
            low.append(0.0)
            high.append(float(self.most_moves))
        return [optimize().LinearConstraint(np.array(rows), np.array(low), np.array(high))] if rows else []

    # The three questions

    def solved(self) -> Balanced:
        """Return the best assignment."""
        start = self._as_it_stands()
        if not any(len(each.may) > 1 for each in self.circuits):
            return self._answer(start, max(self._standing(start).values()))
        slack = _DUST_A if self.exact else _TOLERANCE_A
        near = None if self.exact or not self._allowed(start) else self._near(start, self.least + slack)
        counts, bound = self._least_largest(near)
        if counts is None:  # circuits that share a neutral have no legs of their own, or nothing was found in time
            return self._answer(start, bound)
        limit = max(self._standing(counts).values()) + (_DUST_A if self.exact else 0.0)
        limit = max(limit, bound + slack)
        counts = self._least_neutral(counts, limit)
        return self._answer(self._fewest_moves(counts, near, limit, self.neutral_of(counts) + slack), bound)

    def _near(self, start: Counts, enough: float) -> Counts:
        """Return the best of some descents: from how it stands, and from the best so far, shaken."""
        dice = np.random.default_rng(1)  # the same each time
        changes = _changes(self)

        def down(counts: Counts) -> Counts:
            return _descent(self, changes, _descent(self, changes, counts, enough, 1.0), enough, _FIRST)

        def worth(counts: Counts) -> tuple[float, float, float]:
            neutral = self.neutral_of(counts)
            return max(self._largest(counts), enough), max(neutral, _QUIET_A), float(self.moved() @ counts)

        best = min(_descent(self, changes, start, enough, _FIRST), down(start), key=worth)
        for _ in range(_RESTARTS):
            if worth(best)[:2] == (enough, _QUIET_A) or not len(changes):
                break
            other = best.copy()
            for goes, comes in changes[dice.integers(0, len(changes), _SHAKEN)]:
                if other[goes] > 0:
                    other[goes] -= 1
                    other[comes] += 1
            if self.most_moves is None or self.moved() @ other <= self.most_moves:
                best = min(best, down(other), key=worth)
        return best

    @cached_property
    def least(self) -> float:
        """What no assignment brings the largest leg under [A]: the least sum of circuits on a leg from the mean up."""
        mean = sum(self._standing(self._as_it_stands()).values()) / len(self.order)
        counts = sum(len(kind.members) for kind in self.kinds)
        slack = counts / _GRAINS  # of rounding each to a grain
        bounds = []
        for leg in self.order:
            sums, whole = 1, 0
            for kind in self.kinds:
                one = kind.members[0]
                if any(leg in way for way in one.may):
                    grains = round(one.each_a * _GRAINS)
                    for _ in kind.members:
                        sums |= sums << grains
                        whole += grains
            wanted = max(math.floor((mean - self.base[leg] - slack) * _GRAINS), 0)
            above = sums >> wanted
            if above:
                first = (above & -above).bit_length() - 1
                bounds.append(self.base[leg] + (wanted + first) / _GRAINS - slack)
        return max(mean, min(bounds, default=mean))

    def _as_it_stands(self) -> Counts:
        counts = np.zeros(len(self.ways))
        for kind in self.kinds:
            own = next(column for column in kind.columns if self.ways[column][1] == kind.members[0].legs)
            counts[own] = len(kind.members)
        return counts

    def _allowed(self, counts: Counts) -> bool:
        """Return whether circuits that share a neutral stand on legs of their own."""
        return all((each.A @ counts <= each.ub + _DUST_A).all() for each in self._rules(len(self.ways)))

    def _least_largest(self, near: Counts | None) -> tuple[Counts | None, float]:
        """Return the assignment of least largest leg, and the bound under which none brings it."""
        mean = self.least
        if near is not None and self._largest(near) <= mean + _TOLERANCE_A:
            return near, mean
        ways = len(self.ways)
        rows = np.array([np.append(self.weights(leg), -1.0) for leg in self.order])
        over = optimize().LinearConstraint(rows, -np.inf, -np.array([self.base[leg] for leg in self.order]))
        cost = np.append(np.zeros(ways), 1.0)
        found = self._milp(cost, [over], 1, relative=0.0 if self.exact else _TOLERANCE_A / max(mean, 1.0))
        bound = max(float(getattr(found, "mip_dual_bound", None) or mean), mean)
        counts = self._counts(found)
        if counts is None or (near is not None and self._largest(near) <= self._largest(counts) + _TOLERANCE_A):
            counts = near
        return counts, bound

    def _largest(self, counts: Counts) -> float:
        return max(self._standing(counts).values())

    def _least_neutral(self, counts: Counts, limit: float) -> Counts:
        """Return the assignment of least neutral under a limit for each leg; directions are added until it stands."""
        best, directions = counts, list(self.directions)
        for _ in range(_ROUNDS):
            if not self.exact and self.neutral_of(best) <= _QUIET_A:
                break
            pulls = np.array([np.append(self.pulls(along), -1.0) for along in directions])
            cost = np.append(np.zeros(len(self.ways)), 1.0)
            held = [self._under(limit, 1), optimize().LinearConstraint(pulls, -np.inf, self._off(directions))]
            found = self._milp(cost, held, 1,
                               relative=0.0 if self.exact else 0.01)  # fmt: skip
            new = self._counts(found)
            if new is None:
                break
            if self.neutral_of(new) < self.neutral_of(best) - _DUST_A:
                best = new
            real = self._pull(new)
            if not self.exact or abs(real) <= float(found.x[-1]) + _DUST_A:
                break
            directions.append(real / abs(real))
        return best

    def _fewest_moves(self, counts: Counts, near: Counts | None, limit: float, most_neutral: float) -> Counts:
        """Return the assignment of fewest moves that is as good as `counts`."""
        best, directions = counts, list(self.directions)
        moved = self.moved()
        if near is not None and self._largest(near) <= limit and self.neutral_of(near) <= most_neutral:
            best = near
        for _ in range(_ROUNDS):
            pulls = np.array([self.pulls(along) for along in directions])
            held = [
                self._under(limit, 0),
                optimize().LinearConstraint(pulls, -np.inf, most_neutral + self._off(directions)),
            ]
            new = self._counts(self._milp(moved, held, 0, relative=0.0))
            if new is None:
                return best
            if self.neutral_of(new) <= most_neutral + _DUST_A:
                return new if moved @ new < moved @ best else best
            real = self._pull(new)
            directions.append(real / abs(real))
        return best

    def _under(self, limit: float, more: int) -> Any:
        rows = np.array([np.append(self.weights(leg), np.zeros(more)) for leg in self.order])
        return optimize().LinearConstraint(rows, -np.inf, np.array([limit - self.base[leg] for leg in self.order]))

    def _milp(self, cost: Counts, held: list[Any], more: int, relative: float) -> Any:
        ways = len(self.ways)
        most = [float(len(self.kinds[at].members)) for at, _way in self.ways]
        return optimize().milp(
            cost,
            integrality=np.append(np.ones(ways), np.zeros(more)),
            bounds=optimize().Bounds(np.zeros(ways + more), np.append(most, np.full(more, np.inf))),
            constraints=[*self._rules(ways + more), *held],
            options={"time_limit": _LONG if self.exact else _SECONDS, "mip_rel_gap": relative},
        )

    def _counts(self, found: Any) -> Counts | None:
        return None if found.x is None else np.round(found.x[: len(self.ways)])

    # What comes of an assignment

    def _standing(self, counts: Counts) -> dict[str, float]:
        return {leg: self.base[leg] + float(self.weights(leg) @ counts) for leg in self.order}

    def _pull(self, counts: Counts) -> complex:
        own = complex(float(self.pulls(1 + 0j) @ counts), float(self.pulls(1j) @ counts))
        return own + self.base_neutral

    def _off(self, directions: list[complex]) -> Counts:
        """Return what stands on the neutral anyhow along each direction, to be taken off its limit [A]."""
        return np.array([-(self.base_neutral * along.conjugate()).real for along in directions])

    def neutral_of(self, counts: Counts) -> float:
        """Return what an assignment leaves on the neutral [A]."""
        return abs(self._pull(counts))

    def _answer(self, counts: Counts, bound: float) -> Balanced:
        amps, start = self._standing(counts), self._as_it_stands()
        largest = max(amps.values())
        proven = largest <= bound + (_ALIKE * max(largest, 1.0) if self.exact else _TOLERANCE_A)
        return Balanced(
            tuple(self._moves(counts)), amps, self._standing(start), self.neutral_of(counts), self.neutral_of(start),
            bound, proven,
        )  # fmt: skip

    def _moves(self, counts: Counts) -> list[Move]:
        found = []
        place = {each.key: at for at, each in enumerate(self.circuits)}
        for kind in self.kinds:
            going = [way for column in kind.columns for way in [self.ways[column][1]] * int(counts[column])]
            own = kind.members[0].legs
            away = [way for way in going if way != own]
            # The last of those that are alike go, so that a board's first ways stay as they are.
            for each, way in zip(kind.members[len(kind.members) - len(away) :], away, strict=True):
                found.append(Move(each.key, each.legs, way))
        return sorted(found, key=lambda move: place[move.key])


_STEPS = 40


def _changes(problem: _Problem) -> NDArray[np.intp]:
    """Return which columns a circuit may leave and come to; those that share a neutral stay."""
    found = [
        (one, other)
        for kind in problem.kinds if not kind.members[0].kept_apart
        for one in kind.columns for other in kind.columns if one != other
    ]  # fmt: skip
    return np.array(found, np.intp).reshape(-1, 2)


def _descent(problem: _Problem, changes: NDArray[np.intp], start: Counts, enough: float, first: float) -> Counts:
    """Return where changes of one or two circuits at a time lead, the best of all such each time.

    Best: the least largest leg, down to `enough`, which weighs `first` times as much as the neutral.
    """
    if not len(changes):
        return start
    legs = np.array([problem.weights(leg) for leg in problem.order])
    pull = problem.pulls(1 + 0j) + 1j * problem.pulls(1j)
    goes, comes = changes[:, 0], changes[:, 1]
    leg_change, pull_change = legs[:, comes] - legs[:, goes], pull[comes] - pull[goes]
    moved = problem.moved()
    moves = moved[comes] - moved[goes]
    same = goes[:, None] == goes[None, :]
    base = np.array([problem.base[leg] for leg in problem.order])
    most = np.inf if problem.most_moves is None else problem.most_moves
    counts = start
    for _ in range(_STEPS):
        standing, neutral = base + legs @ counts, complex(pull @ counts) + problem.base_neutral
        possible = counts[goes] > 0
        both = possible[:, None] & possible[None, :] & ~(same & (counts[goes] < 2)[:, None])  # noqa: PLR2004
        both &= moved @ counts + moves[:, None] + moves[None, :] <= most
        largest = np.max(standing[:, None, None] + leg_change[:, :, None] + leg_change[:, None, :], axis=0)
        left = np.abs(neutral + pull_change[:, None] + pull_change[None, :])
        # One alone is a pair with itself: it stands on the diagonal.
        alone = np.max(standing[:, None] + leg_change, axis=0), np.abs(neutral + pull_change)
        np.fill_diagonal(largest, alone[0])
        np.fill_diagonal(left, alone[1])
        np.fill_diagonal(both, possible & (moved @ counts + moves <= most))
        score = np.maximum(largest, enough) * first + left
        score[~both] = np.inf
        at = int(np.argmin(score))
        if score.flat[at] >= max(standing.max(), enough) * first + abs(neutral) - _DUST_A:
            return counts
        counts = counts.copy()
        for each in {*divmod(at, len(changes))}:
            counts[goes[each]] -= 1
            counts[comes[each]] += 1
    return counts


_FIRST = 1000.0  # so much more the largest leg weighs than the neutral
_RESTARTS, _SHAKEN = 14, 4
_QUIET_A = 1.0  # a neutral that nobody evens out further
