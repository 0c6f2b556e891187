"""What no assignment brings the largest leg under.

The mean; the least sum of circuits that reaches up to it; what stays on a leg when so many circuits leave it.
"""

from __future__ import annotations

import math

from voltaje.design.balancing.assignment import Board

_FINEST = 5_000  # grains to an ampere
_MOST_GRAINS = 4_000_000  # of a whole board: half a megabyte of bits
_MOST_WORK = 1_000_000_000  # grains times circuits


def least_largest(board: Board) -> float:
    """Return the bound [A].

    The largest leg is at least the mean, and is a sum of circuits that may stand on it: one bit for each sum that there
    is, in grains. A circuit is rounded to a grain, so that a sum is off by half a grain for each: that much is taken
    off the bound. Grains grow with the board, so that its weight does not set what the question costs.
    """
    counts = sum(len(kind.members) for kind in board.kinds)
    mean = float(board.standing(board.as_it_stands()).mean())
    whole = sum(kind.one.each_a * len(kind.members) for kind in board.kinds)
    if not counts or whole <= 0:
        return mean
    grains = min(_FINEST, min(_MOST_GRAINS, _MOST_WORK / counts) / whole)
    slack = counts / (2 * grains)
    found = []
    for leg, base in zip(board.order, board.base_a, strict=True):
        sums = 1
        for kind in board.kinds:
            if any(leg in way for way in kind.one.may):
                weight = round(kind.one.each_a * grains)
                for _ in kind.members:
                    sums |= sums << weight
        wanted = max(math.floor((mean - base - slack) * grains), 0)
        above = sums >> wanted
        if above:
            first = (above & -above).bit_length() - 1
            found.append(float(base) + (wanted + first) / grains - slack)
    return max(mean, min(found, default=mean), _left_by_moves(board))


def _left_by_moves(board: Board) -> float:
    """Return what stays on some leg however the moves that may be made are made [A]: its heaviest circuits leave it."""
    if math.isinf(board.most_moves):
        return 0.0
    found = []
    for leg, amps in zip(board.order, board.standing(board.as_it_stands()), strict=True):
        leaving = sorted(
            (each.each_a for each in board.circuits if leg in each.legs and any(leg not in way for way in each.may)),
            reverse=True,
        )
        found.append(float(amps) - sum(leaving[: int(board.most_moves)]))
    return max(found)
