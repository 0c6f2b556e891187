"""A board with few ways to stand, tried way by way: what is best of them is best, without any search."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from voltaje.design.balancing.assignment import Board, Counts

_MOST_WAYS = 600_000  # twelve circuits that may each go three ways, nineteen that may go two
_ALIKE_A = 1e-6


def is_small(board: Board) -> bool:
    """Return whether all ways that a board may stand can be tried."""
    return math.prod(len(each.may) for each in board.circuits) <= _MOST_WAYS


def best_of_all(board: Board) -> Counts | None:
    """Return the assignment of least largest leg, then least neutral, then fewest moves; None where none is allowed."""
    kinds = [kind for kind in board.kinds for _ in kind.members]
    sizes = [len(kind.columns) for kind in kinds]
    every = math.prod(sizes)
    standing = np.repeat(board.base_a[:, None], every, axis=1)
    pull = np.full(every, board.base_neutral, np.complex128)
    moves = np.zeros(every)
    chosen: list[NDArray[np.intp]] = []
    inner = every
    for kind, size in zip(kinds, sizes, strict=True):
        inner //= size
        columns = np.array(kind.columns)[np.arange(every) // inner % size]
        for at in range(len(board.order)):
            standing[at] += board.legs_a[at, columns]
        pull += board.pull_a[columns]
        moves += board.moved[columns]
        if kind.one.kept_apart:
            chosen.append(columns)
    allowed = moves <= board.most_moves
    allowed &= _apart(board, chosen, every)
    if not allowed.any():
        return None
    largest = standing.max(axis=0)
    left = np.flatnonzero(allowed)
    for measure in (largest, np.abs(pull), moves):
        left = left[measure[left] <= measure[left].min() + _ALIKE_A]
    counts = np.zeros(len(board.ways))
    way = int(left[0])
    inner = every
    for kind, size in zip(kinds, sizes, strict=True):
        inner //= size
        counts[kind.columns[way // inner % size]] += 1
    return counts


def _apart(board: Board, chosen: list[NDArray[np.intp]], every: int) -> NDArray[np.bool_]:
    """Return in which ways circuits that share a neutral stand on legs of their own."""
    sharing = [kind for kind in board.kinds if kind.one.kept_apart]
    fine = np.ones(every, np.bool_)
    stands = board.legs_a > 0
    for at, kind in enumerate(sharing):
        for other, before in zip(sharing[:at], chosen[:at], strict=True):
            if other.one.kept_apart == kind.one.kept_apart:
                fine &= ~(stands[:, chosen[at]] & stands[:, before]).any(axis=0)
    return fine
