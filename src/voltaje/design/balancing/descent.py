"""A search by changes: one or two circuits at a time go elsewhere, the best such change each time.

Every change, and every pair of changes of a board of some fifty circuits; of a larger one pairs of a sample that is
drawn anew each time, by dice that fall alike on every machine. What it may cost is counted in pairs looked at.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from voltaje.design.balancing.assignment import Board, Counts

_MOST_AT_ONCE = 240  # changes whose pairs are looked at together
_MOST_PAIRS = 9_000_000  # looked at in one search, about half a second
_IDLE = 3  # samples in a row that bring nothing
_STEPS = 4_000
_DUST = 1e-7

# What an assignment is worth by its legs [A], neutral [A] and moves: arrays of candidates in, of scores out.
Score = Callable[[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]], NDArray[np.float64]]


class Search:
    """Goes down from assignments; `left` is how many pairs it may still look at."""

    def __init__(self, board: Board) -> None:
        self.board = board
        pairs = [
            (one, other)
            for kind in board.kinds
            if not kind.one.kept_apart  # those that share a neutral stay
            for one in kind.columns
            for other in kind.columns
            if one != other
        ]
        self.goes, self.comes = np.array(pairs, np.intp).reshape(-1, 2).T
        self.legs_a = board.legs_a[:, self.comes] - board.legs_a[:, self.goes]
        self.pull_a = board.pull_a[self.comes] - board.pull_a[self.goes]
        self.moves = board.moved[self.comes] - board.moved[self.goes]
        self.dice = np.random.default_rng(1)  # the same each time
        self.left = _MOST_PAIRS

    @property
    def is_spent(self) -> bool:
        """Whether it has looked at all that it may, or nothing can change."""
        return self.left <= 0 or not len(self.goes)

    def down(self, counts: Counts, score: Score) -> Counts:
        """Return where the best changes lead: alone first, since a pair costs more to find."""
        idle = 0
        for _ in range(_STEPS):
            if self.is_spent:
                break
            better = self._alone(counts, score)
            if better is None:
                better = self._in_pairs(counts, score)
                idle += 1
            if better is not None:
                counts, idle = better, 0
            elif idle >= _IDLE or np.count_nonzero(counts[self.goes] > 0) <= _MOST_AT_ONCE:
                break
        return counts

    def shaken(self, counts: Counts, times: int) -> Counts:
        """Return an assignment with some changes thrown by dice."""
        other = counts.copy()
        for at in self.dice.integers(0, len(self.goes), times):
            if other[self.goes[at]] > 0:
                other[self.goes[at]] -= 1
                other[self.comes[at]] += 1
        return other if self.board.moves(other) <= self.board.most_moves else counts

    def _now(self, counts: Counts, score: Score) -> tuple[NDArray[np.float64], complex, float, float]:
        standing = self.board.standing(counts)
        pull, moved = complex(self.board.pull_a @ counts) + self.board.base_neutral, self.board.moves(counts)
        worth = score(standing[:, None], np.abs(np.array([pull])), np.array([moved]))[0]
        return standing, pull, moved, float(worth)

    def _alone(self, counts: Counts, score: Score) -> Counts | None:
        standing, pull, moved, now = self._now(counts, score)
        worth = score(standing[:, None] + self.legs_a, np.abs(pull + self.pull_a), moved + self.moves)
        worth[(counts[self.goes] <= 0) | (moved + self.moves > self.board.most_moves)] = np.inf
        self.left -= len(worth)
        at = int(np.argmin(worth))
        return self._made(counts, at) if worth[at] < now - _DUST else None

    def _in_pairs(self, counts: Counts, score: Score) -> Counts | None:
        possible = np.flatnonzero(counts[self.goes] > 0)
        if len(possible) > _MOST_AT_ONCE:
            possible = self.dice.choice(possible, _MOST_AT_ONCE, replace=False)
        standing, pull, moved, now = self._now(counts, score)
        legs, pulls, moves = self.legs_a[:, possible], self.pull_a[possible], self.moves[possible]
        goes = self.goes[possible]
        both = moved + moves[:, None] + moves[None, :]
        worth = score(
            standing[:, None, None] + legs[:, :, None] + legs[:, None, :],
            np.abs(pull + pulls[:, None] + pulls[None, :]),
            both,
        )
        # Two go from one column only where it has two.
        same = (goes[:, None] == goes[None, :]) & (counts[goes] <= 1)[:, None]
        worth[same | (both > self.board.most_moves)] = np.inf
        self.left -= worth.size
        at = int(np.argmin(worth))
        if not worth.flat[at] < now - _DUST:
            return None
        one, other = divmod(at, len(possible))
        return self._made(self._made(counts, int(possible[one])), int(possible[other]))

    def _made(self, counts: Counts, at: int) -> Counts:
        made = counts.copy()
        made[self.goes[at]] -= 1
        made[self.comes[at]] += 1
        return made
