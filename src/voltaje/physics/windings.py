"""Coils on cores, joined, fed and loaded: the volts of every terminal, the volts and amperes of every coil.

No rules, and no names of connections: star, delta, zigzag, series and common windings are what comes out. Coils of one
core share its volts per turn; joined terminals share their volts; a source holds a terminal's. Where these leave
something free (the star point of a bank that nothing holds) the cores take as little as they can, as magnetising
currents would have it. With a load, ampere-turns cancel on every core and currents at every terminal. Coils are ideal
where no impedance is entered; with one, volts and currents are found together.
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Mapping, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from voltaje.errors import Refused
from voltaje.message import Message

_SMALL = 1e-7
_ALIKE = 1e-9

Matrix = NDArray[np.complex128]


class Coil(NamedTuple):
    """A coil: its name, core, turns (or rated volts: only their ratios matter), its marked end, its other.

    ohms: its own impedance [Ω]; of a pair all of it may stand in one coil, by its side's volts
    """

    id: str
    core: str
    turns: float
    start: str
    end: str
    ohms: complex = 0j


class Burden(NamedTuple):
    """A load between two terminals: what it draws, an ampere phasor from the first to the other."""

    start: str
    end: str
    amps: complex


class Contradiction(Refused):
    """Joints that cannot be: a coil shorted, sources against each other, a ring that does not close."""


class Wound(NamedTuple):
    """What stands and flows.

    volts: of each terminal; coils: across each coil, marked end first; amps: through each, in at its marked end
    fed: what each source gives [A]
    """

    volts: dict[str, complex]
    coils: dict[str, complex]
    amps: dict[str, complex]
    fed: dict[str, complex]
    free: _Free

    def between(self, start: str, end: str) -> complex | None:
        """Return the volts from one terminal to another, None where nothing decides them [V]."""
        if self.free.hangs(start, end):
            return None
        return self.volts[start] - self.volts[end]


class _Free(NamedTuple):
    """What is left undecided: directions in which terminals may move together."""

    places: dict[str, int]
    ways: Matrix

    def hangs(self, start: str, end: str) -> bool:
        """Return whether nothing decides the volts between two terminals."""
        moved = self.ways[self.places[start]] - self.ways[self.places[end]]
        return bool(np.abs(moved).max(initial=0.0) > _SMALL)


def wound(
    coils: Sequence[Coil],
    joints: Sequence[tuple[str, str]],
    sources: Mapping[str, complex],
    loads: Sequence[Burden] = (),
) -> Wound:
    """Return what stands and flows. Raises Contradiction with the terminals that cannot be joined so."""
    net = _Net(coils, joints, sources, loads)
    # Where coils have impedance, rings need not close and share by it: volts and currents hang on each other.
    flows = net.together() if any(coil.ohms for coil in coils) else net.flows() if loads else net.idle()
    solution, ways = net.volts(flows[: len(coils)])
    stands = {name: complex(solution[at]) for name, at in net.places.items()}
    across = {coil.id: stands[coil.start] - stands[coil.end] for coil in coils}
    amps = {coil.id: complex(each) for coil, each in zip(coils, flows, strict=False)}
    fed = {name: complex(each) for name, each in zip(sources, flows[len(coils) :], strict=True)}
    return Wound(stands, across, amps, fed, _Free(net.places, ways))


class _Net:
    """The network: joined terminals as one, coils and cores in order."""

    def __init__(
        self,
        coils: Sequence[Coil],
        joints: Sequence[tuple[str, str]],
        sources: Mapping[str, complex],
        loads: Sequence[Burden],
    ) -> None:
        self.coils, self.joints, self.sources, self.loads = coils, joints, sources, loads
        names = dict.fromkeys(end for coil in coils for end in (coil.start, coil.end))
        names |= dict.fromkeys([*sources, *(end for joint in joints for end in joint)])
        names |= dict.fromkeys(end for load in loads for end in load[:2])
        self.places = _merged(list(names), joints)
        self.nodes = max(self.places.values(), default=-1) + 1
        self.cores = list(dict.fromkeys(coil.core for coil in coils))
        for coil in coils:
            if self.places[coil.start] == self.places[coil.end]:
                raise Contradiction(
                    "joints",
                    Message(
                        "coil {coil} is shorted: {start} is joined to {end}",
                        coil=coil.id,
                        start=coil.start,
                        end=coil.end,
                    ),
                )

    def volts(self, amps: Matrix) -> tuple[Matrix, Matrix]:
        """Return the volts of the nodes with those currents in the coils, and in which directions they are free.

        Unknown: each node, each core's volts per turn. What is free is settled by the least of the cores' squares.
        """
        left, wanted = self._across()
        wanted[: len(self.coils)] += np.array([coil.ohms for coil in self.coils], complex) * amps
        found = _least(left, wanted)
        if _misses(left @ found, wanted):
            raise self._contradiction()
        null = _nullspace(left)
        # As little flux as can be: move along what is free until the cores' squares are least.
        cores = null[self.nodes :]
        if cores.size and np.abs(cores).max(initial=0.0) > _SMALL:
            along = np.linalg.lstsq(cores, -found[self.nodes :], rcond=_SMALL)[0]
            found = found + null @ along
            null = null @ _nullspace(cores)
        return found[: self.nodes], null[: self.nodes]

    def flows(self) -> Matrix:
        """Return the current of each coil, then of each source [A]; rings share what is free as equal coils would."""
        left, wanted = self._through()
        found = _least(left, wanted)
        if _misses(left @ found, wanted):
            raise _no_return()
        return found

    def idle(self) -> Matrix:
        """Return the same of ideal coils without a load: none."""
        return np.zeros(len(self.coils) + len(self.sources), complex)

    def together(self) -> Matrix:
        """Return the same where coils have impedance: volts and currents found as one."""
        across, volts = self._across()
        through, drawn = self._through()
        ohms = np.zeros((len(across), through.shape[1]), complex)
        for at, coil in enumerate(self.coils):
            ohms[at, at] = -coil.ohms
        left = np.block([[across, ohms], [np.zeros((len(through), across.shape[1]), complex), through]])
        wanted = np.concatenate([volts, drawn])
        found = _least(left, wanted)
        missed = left @ found
        if _misses(missed[len(across) :], drawn):
            raise _no_return()
        if _misses(missed[: len(across)], volts):
            raise self._contradiction()
        return found[across.shape[1] :]

    def _across(self) -> tuple[Matrix, Matrix]:
        """Return what holds of volts, of each node and of each core's turn: each coil first, then each source."""
        rows = np.zeros((len(self.coils) + len(self.sources), self.nodes + len(self.cores)), complex)
        for at, coil in enumerate(self.coils):
            rows[at, self.places[coil.start]] += 1
            rows[at, self.places[coil.end]] -= 1
            rows[at, self.nodes + self.cores.index(coil.core)] -= coil.turns
        for at, name in enumerate(self.sources, len(self.coils)):
            rows[at, self.places[name]] = 1
        return rows, np.array([*(0j for _coil in self.coils), *self.sources.values()], complex)

    def _through(self) -> tuple[Matrix, Matrix]:
        """Return what holds of currents, of each coil and each source: at every node, on every core."""
        rows = np.zeros((self.nodes + len(self.cores), len(self.coils) + len(self.sources)), complex)
        right = np.zeros(self.nodes + len(self.cores), complex)
        for at, coil in enumerate(self.coils):
            rows[self.places[coil.start], at] += 1
            rows[self.places[coil.end], at] -= 1
            rows[self.nodes + self.cores.index(coil.core), at] += coil.turns
        for at, name in enumerate(self.sources, len(self.coils)):
            rows[self.places[name], at] -= 1
        for load in self.loads:
            right[self.places[load.start]] -= load.amps
            right[self.places[load.end]] += load.amps
        return rows, right

    def _contradiction(self) -> Contradiction:
        """Return what is said of the joint that cannot be, with the volts that stand there without it."""
        found_at: list[tuple[float, str, str]] = []
        for at, (one, other) in enumerate(self.joints):
            rest = [*self.joints[:at], *self.joints[at + 1 :]]
            try:
                found = wound(self.coils, rest, self.sources)
            except Refused:
                continue
            volts = found.between(one, other)
            if volts is not None and abs(volts) > _SMALL:
                found_at.append((round(abs(volts), 6), one, other))
        if found_at:
            least, one, other = min(found_at, key=lambda each: each[0])
            message = Message(
                "{one} cannot be joined to {other}: {volts} V stand between them",
                one=one,
                other=other,
                volts=f"{least:.4g}",
            )
            return Contradiction("joints", message)
        names = ", ".join(self.sources)
        return Contradiction("sources", Message("the sources at {names} stand against each other", names=names))


def _least(left: Matrix, wanted: Matrix) -> Matrix:
    return np.asarray(np.linalg.lstsq(left, wanted, rcond=None)[0], np.complex128)


def _misses(found: Matrix, wanted: Matrix) -> bool:
    return bool(np.abs(found - wanted).max(initial=0.0) > _SMALL * max(np.abs(wanted).max(initial=0.0), 1.0))


def _no_return() -> Contradiction:
    return Contradiction("loads", Message("nothing brings what is drawn there: ampere-turns have no return"))


def _merged(names: Sequence[str], joints: Sequence[tuple[str, str]]) -> dict[str, int]:
    """Return the node of each terminal: joined ones share one."""
    head = {name: name for name in names}

    def root(name: str) -> str:
        while head[name] != name:
            name = head[name]
        return name

    for one, other in joints:
        head[root(other)] = root(one)
    order = {each: at for at, each in enumerate(dict.fromkeys(root(name) for name in names))}
    return {name: order[root(name)] for name in names}


def _nullspace(matrix: Matrix) -> Matrix:
    _u, sizes, spread = np.linalg.svd(matrix)
    rank = int((sizes > _ALIKE * max(sizes.max(initial=0.0), 1.0)).sum())
    found: Matrix = spread[rank:].conj().T
    return found


def three_phase(volts: float, reverse: bool = False) -> tuple[complex, complex, complex]:
    """Return a symmetrical supply of so many volts line to line, each line to its middle [V]; reverse: A C B."""
    turn = -1 if reverse else 1
    size = volts / math.sqrt(3)
    first, second, third = (cmath.rect(size, -turn * at * 2 * math.pi / 3) for at in range(3))
    return first, second, third
