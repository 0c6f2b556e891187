"""The least largest leg that so many moves can bring, as an integer programme (scipy's HiGHS).

Ended by the nodes of its tree. A guard of seconds stands far behind them and says where it cut.
"""

from __future__ import annotations

import time
from typing import Any, NamedTuple

import numpy as np

from voltaje.design.balancing.assignment import Board, Counts
from voltaje.numerics import optimize

_NODES, _GUARD_S = 40, 30.0
_MOST_COLUMNS = 400  # of more the root of the tree alone takes over a second
_TOLERANCE_A = 0.02  # of the largest leg: under the digit that is shown


class Found(NamedTuple):
    """An assignment where one was found, a bound under which none comes [A], whether the guard cut."""

    counts: Counts | None
    bound_a: float
    cut: bool


def least_largest(board: Board, bound_a: float) -> Found:
    """Return the assignment of least largest leg within the moves that may be made, and the bound it raises."""
    ways, kinds = len(board.ways), board.kinds
    if ways > _MOST_COLUMNS:
        return Found(None, bound_a, False)
    each, numbers = np.zeros((len(kinds), ways + 1)), []
    for row, kind in enumerate(kinds):
        each[row, kind.columns] = 1
        numbers.append(len(kind.members))
    rules = [optimize().LinearConstraint(each, np.array(numbers), np.array(numbers))]
    rules += [optimize().LinearConstraint(np.append(board.moved, 0.0), -np.inf, board.most_moves)]
    rules += _apart(board)
    under = np.column_stack([board.legs_a, np.full(len(board.order), -1.0)])
    rules.append(optimize().LinearConstraint(under, -np.inf, -board.base_a))
    most = np.append([float(len(kind.members)) for kind, _way in board.ways], np.inf)
    begun = time.monotonic()
    found = optimize().milp(
        np.append(np.zeros(ways), 1.0),
        integrality=np.append(np.ones(ways), 0),
        bounds=optimize().Bounds(np.zeros(ways + 1), most),
        constraints=rules,
        options={"node_limit": _NODES, "time_limit": _GUARD_S, "mip_rel_gap": _TOLERANCE_A / max(bound_a, 1.0)},
    )
    cut = time.monotonic() - begun >= _GUARD_S
    dual = getattr(found, "mip_dual_bound", None)
    bound = max(bound_a, float(dual)) if dual is not None and np.isfinite(dual) else bound_a
    return Found(None if found.x is None else np.round(found.x[:ways]), bound, cut)


def _apart(board: Board) -> list[Any]:
    """Return the rows that keep circuits that share a neutral on legs of their own."""
    rows = []
    for group in board.groups():
        columns = [column for kind in group for column in kind.columns]
        for leg in board.order:
            row = np.zeros(len(board.ways) + 1)
            row[[column for column in columns if leg in board.ways[column][1]]] = 1
            rows.append(optimize().LinearConstraint(row, 0, 1))
    return rows
