"""The order of the work: all ways of a small board; of a larger one a search down to its bound, then fewer moves."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import permutations

import numpy as np
from numpy.typing import NDArray

from voltaje.design.balancing import bound, programme
from voltaje.design.balancing.assignment import Board, Counts, Kind
from voltaje.design.balancing.board import Balanced, Circuit, Legs
from voltaje.design.balancing.descent import Score, Search
from voltaje.design.balancing.every_way import best_of_all, is_small
from voltaje.systems import System

_TOLERANCE_A = 0.1  # the last digit that is shown
_QUIET_A = 1.0  # a neutral that nobody evens out further
_LEG_FIRST = 1000.0  # so much more the largest leg weighs than the neutral
_RESTARTS, _SHAKEN = 12, 4
_LAST_PAIRS = 2_000_000  # kept for taking moves back that bring nothing


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
    board = Board(circuits, system, base or {}, most_moves, order, base_neutral)
    start = board.as_it_stands()
    if not any(len(each.may) > 1 for each in circuits):
        return _answer(board, start, board.largest(start))
    if is_small(board):
        best = best_of_all(board)
        # Circuits that share a neutral and have no legs of their own stand as they do.
        return _answer(board, start if best is None else best, board.largest(start if best is None else best))
    return _searched(board, start)


def _searched(board: Board, start: Counts) -> Balanced:
    least, cut = bound.least_largest(board), False
    search = Search(board)
    begun = start if board.is_allowed(start) else _parted(board, start)
    if begun is None:
        return _answer(board, start, least)
    best = _near(board, search, begun, least + _TOLERANCE_A)
    if board.largest(best) > least + _TOLERANCE_A:
        found = programme.least_largest(board, least)
        least, cut = found.bound_a, found.cut
        if found.counts is not None and board.largest(found.counts) < board.largest(best) - _TOLERANCE_A / 2:
            best = search.down(found.counts, _by_legs(board.largest(found.counts), _LEG_FIRST))
    limit_a = max(board.largest(best), least + _TOLERANCE_A)
    neutral_a = max(board.neutral(best), _QUIET_A)
    search.left = max(search.left, 0) + _LAST_PAIRS  # whatever the search has cost
    return _answer(board, search.down(best, _by_moves(limit_a, neutral_a)), least, cut)


def _near(board: Board, search: Search, start: Counts, enough_a: float) -> Counts:
    """Return the best of some descents: from how it stands, and from the best so far, shaken."""
    legs_first, alike = _by_legs(enough_a, _LEG_FIRST), _by_legs(enough_a, 1.0)

    def worth(counts: Counts) -> tuple[float, float, float]:
        return (max(board.largest(counts), enough_a), max(board.neutral(counts), _QUIET_A), board.moves(counts))

    best = min(search.down(start, legs_first), search.down(search.down(start, alike), legs_first), key=worth)
    for _ in range(_RESTARTS):
        if search.is_spent or worth(best)[:2] == (enough_a, _QUIET_A):
            break
        best = min(best, search.down(search.down(search.shaken(best, _SHAKEN), alike), legs_first), key=worth)
    return best


def _by_legs(enough_a: float, first: float) -> Score:
    """Score by the largest leg, down to what is enough, and the neutral."""

    def score(
        legs: NDArray[np.float64], neutral: NDArray[np.float64], _moves: NDArray[np.float64]
    ) -> NDArray[np.float64]:
        return np.asarray(np.maximum(legs.max(axis=0), enough_a) * first + neutral)

    return score


def _by_moves(limit_a: float, neutral_a: float) -> Score:
    """Score by the moves, as long as legs and neutral stay within what was reached."""

    def score(
        legs: NDArray[np.float64], neutral: NDArray[np.float64], moves: NDArray[np.float64]
    ) -> NDArray[np.float64]:
        held = (legs.max(axis=0) <= limit_a) & (neutral <= neutral_a)
        return np.where(held, moves, np.inf)

    return score


def _parted(board: Board, start: Counts) -> Counts | None:
    """Return the assignment with circuits that share a neutral on legs of their own; None where that cannot be."""
    counts = start
    for group in board.groups():
        ways = [made for made in _ways_apart(board, group, counts) if board.moves(made) <= board.most_moves]
        if not ways:
            return None
        counts = min(ways, key=lambda made: (board.largest(made), board.moves(made)))
    return counts


def _ways_apart(board: Board, group: list[Kind], counts: Counts) -> list[Counts]:
    if len(group) > len(board.order):
        return []
    found = []
    for legs in permutations(board.order, len(group)):
        ways = [
            next((way for way in kind.one.may if way == (leg,)), None) for kind, leg in zip(group, legs, strict=True)
        ]
        if None in ways:
            continue
        made = counts.copy()
        for kind, way in zip(group, ways, strict=True):
            made[kind.columns] = 0
            made[board.column(kind, way or ())] = 1
        found.append(made)
    return found


def _answer(board: Board, counts: Counts, least_a: float, cut: bool = False) -> Balanced:
    start, standing = board.as_it_stands(), board.standing(counts)
    return Balanced(
        moves=board.moves_of(counts),
        amps=dict(zip(board.order, standing.tolist(), strict=True)),
        amps_before=dict(zip(board.order, board.standing(start).tolist(), strict=True)),
        neutral_a=board.neutral(counts),
        neutral_before_a=board.neutral(start),
        bound_a=least_a,
        proven=float(standing.max()) <= least_a + _TOLERANCE_A,
        cut=cut,
    )
