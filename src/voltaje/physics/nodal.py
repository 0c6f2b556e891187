"""Any network of impedances, sources and loads between terminals: rings, ladders, a neutral broken or joined twice.

No rules in here. Kirchhoff's laws as they stand, with the current of every branch an unknown, so that a branch may have
no ohms at all; a sparse solution (scipy's SuperLU). Loads that are not impedances are put in by what they draw, again
and again, until the volts stand.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np

from voltaje.message import Message
from voltaje.numerics import graphs, sparse, sparse_solvers
from voltaje.physics.draws import Drawn, Draws, NoSolution, Phasors, kva_of, not_converging

_TRIES, _STANDS = 400, 1e-10


class Branch(NamedTuple):
    """A conductor or a source between two terminals: ohms, and the volts that it adds from the first to the other."""

    start: str
    end: str
    ohms: complex
    volts: complex = 0j


class Taken(NamedTuple):
    """A load between two terminals: volt-amperes at the nominal volts across it (a phasor), power factor."""

    start: str
    end: str
    va: float
    power_factor: float
    nominal: complex
    draws: Draws


class Solved(NamedTuple):
    """Volts of each terminal, amperes of each branch (from its first to its other) and of each load."""

    volts: dict[str, complex]
    branches: list[complex]
    taken: list[complex]


def nodal(branches: Sequence[Branch], loads: Sequence[Taken], earth: str) -> Solved:
    """Return what flows in a network; volts are counted from `earth`.

    Raises NoSolution where a terminal's volts hang on nothing, where sources stand against each other, or where no
    voltages hold.
    """
    names = {name: at for at, name in enumerate(dict.fromkeys(end for each in branches for end in each[:2]))}
    for load in loads:
        for end in load[:2]:
            names.setdefault(end, len(names))
    fixed = [load for load in loads if load.draws is Draws.IMPEDANCE]
    rest = [load for load in loads if load.draws is not Draws.IMPEDANCE]
    passive = [Branch(load.start, load.end, _ohms(load)) for load in fixed]
    both = [*branches, *passive]
    _all_joined(names, both, earth)
    inner = {name: at for at, name in enumerate(name for name in names if name != earth)}
    matrix = _matrix(both, inner)
    added = np.array([each.volts for each in both], complex)
    drawn = Drawn(
        np.array([kva_of(load.va, load.power_factor) for load in rest], complex),
        np.array([load.nominal for load in rest], complex),
        [load.draws for load in rest],
    )
    found = _solved(matrix, added, drawn, [(inner.get(load.start, -1), inner.get(load.end, -1)) for load in rest])
    volts, currents, amps = found
    named = {name: complex(volts[at]) for name, at in inner.items()} | {earth: 0j}
    of_passive = iter(currents[len(branches) :])
    of_rest = iter(amps)
    taken = [complex(next(of_passive if load.draws is Draws.IMPEDANCE else of_rest)) for load in loads]
    return Solved(named, [complex(each) for each in currents[: len(branches)]], taken)


def _ohms(load: Taken) -> complex:
    return abs(load.nominal) ** 2 / kva_of(load.va, load.power_factor).conjugate()


def _all_joined(names: dict[str, int], branches: Sequence[Branch], earth: str) -> None:
    """Refuse a terminal that nothing joins to where volts are counted from. Raises NoSolution."""
    names.setdefault(earth, len(names))
    rows = [names[each.start] for each in branches]
    ends = [names[each.end] for each in branches]
    joined = sparse().csc_matrix((np.ones(len(rows)), (rows, ends)), shape=(len(names), len(names)))
    _count, part = graphs().connected_components(joined, directed=False)
    for name, at in names.items():
        if part[at] != part[names[earth]]:
            raise NoSolution(name, Message("nothing decides the volts of {terminal}", terminal=name))


def _matrix(branches: Sequence[Branch], inner: dict[str, int]) -> Any:
    """Return the laws as a matrix: a row a terminal (currents sum to nothing), a row a branch (its volts)."""
    rows: list[int] = []
    columns: list[int] = []
    values: list[complex] = []
    for at, each in enumerate(branches):
        own = len(inner) + at
        for sign, name in ((1, each.start), (-1, each.end)):
            if name in inner:
                rows += [inner[name], own]
                columns += [own, inner[name]]
                values += [sign, sign]
        if each.ohms:
            rows.append(own)
            columns.append(own)
            values.append(-each.ohms)
    size = len(inner) + len(branches)
    return sparse().csc_matrix((np.array(values, complex), (rows, columns)), shape=(size, size))


def _solved(
    matrix: Any, added: Phasors, drawn: Drawn, ends: Sequence[tuple[int, int]]
) -> tuple[Phasors, Phasors, Phasors]:
    """Return the volts of the terminals, the currents of the branches, what the loads draw."""
    terminals = matrix.shape[0] - len(added)
    try:
        factored = sparse_solvers().splu(matrix)
    except RuntimeError:
        message = Message("the conductors or sources stand against each other: a ring without ohms")
        raise NoSolution("network", message) from None
    start = np.array([each[0] for each in ends], np.intp)
    end = np.array([each[1] for each in ends], np.intp)
    amps = np.zeros(len(ends), complex)
    volts = np.zeros(terminals + 1, complex)  # the last: where volts are counted from
    for turn in range(_TRIES):
        right = np.zeros(terminals + 1, complex)
        np.subtract.at(right, start, amps)
        np.add.at(right, end, amps)
        found = factored.solve(np.concatenate([right[:-1], -added]))
        now = np.append(found[:terminals], 0)
        moved = float(np.abs(now - volts).max(initial=0.0))
        volts = now
        if not np.isfinite(moved):
            break
        if turn and moved <= _STANDS * float(np.abs(added).max(initial=1.0)):
            return volts[:-1], found[terminals:], amps
        if not len(ends):
            return volts[:-1], found[terminals:], amps
        with np.errstate(all="ignore"):
            amps = drawn.amps(volts[start] - volts[end])
    raise not_converging()
