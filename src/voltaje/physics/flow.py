"""Four-wire flow down a radial path: volts and currents of every conductor, the neutral's among them, as phasors.

No rules in here. Currents are summed from the far ends to the source, volts brought down from the source, again and
again until they stand; along the tree both are running sums, so that a sweep takes time proportional to its nodes. At
every source and behind every transformer the neutral is earthed: volts are counted from there. A path with a ring, or
a neutral that is broken and joined elsewhere, is for `nodal`.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from voltaje.message import Message
from voltaje.physics.draws import Drawn, Draws, NoSolution, Phasors, kva_of, not_converging
from voltaje.physics.unit import CONDUCTORS, NEUTRAL, Maps, Unit, maps_of
from voltaje.systems import System

_SWEEPS, _STANDS = 200, 1e-11
_THREE = 3

Ohms = tuple[complex, complex, complex, complex]


def alike(line: complex, neutral: complex | None = None) -> Ohms:
    """Return the impedances of conductors whose lines are alike [Ω]; no neutral given: it is as they are."""
    return (line, line, line, line if neutral is None else neutral)


class Span(NamedTuple):
    """A node and the conductors that bring it what it takes.

    after: the place of what feeds it, before its own; None at the source
    ohms: of L1, L2, L3 and the neutral [Ω]; at the source: what is behind it
    unit: a transformer at the end of those conductors, which makes `system` of them: its coils, or what they make
    """

    after: int | None
    ohms: Ohms
    unit: Unit | Maps | None = None
    system: System | None = None


class Load(NamedTuple):
    """A load: the span at whose end it stands, volt-amperes at nominal volts, power factor (lagging), legs.

    One leg: to neutral. Two: between them. Three: balanced, between the lines.
    """

    at: int
    va: float
    power_factor: float
    legs: tuple[str, ...]
    draws: Draws = Draws.PAPER


@dataclass(frozen=True)
class Flow:
    """What flows: of each span, the volts at its end from where its neutral is earthed, and the amperes in it.

    volts, amps: by span and conductor (L1, L2, L3, N); amps: positive toward the loads
    """

    volts: Phasors
    amps: Phasors

    def across(self, at: int, legs: Sequence[str]) -> complex:
        """Return what stands between two legs at the end of a span, or from one leg to the neutral there [V]."""
        ends = [CONDUCTORS.index(leg) for leg in legs]
        return complex(self.volts[at, ends[0]] - self.volts[at, ends[1] if len(ends) > 1 else NEUTRAL])

    def neutral(self, at: int) -> complex:
        """Return the neutral's current in a span [A], positive toward the loads."""
        return complex(self.amps[at, NEUTRAL])


def flow(system: System, spans: Sequence[Span], loads: Iterable[Load]) -> Flow:
    """Return what flows from a source of that system. Raises NoSolution where no volts hold."""
    parts = _parts(system, spans)
    follows = len(parts) > 1
    for part, drawn in zip(parts, _drawn(parts, loads), strict=True):
        part.drawn = drawn
        follows = follows or drawn.follows
    slack = _STANDS * max(float(np.abs(part.root_v).max()) for part in parts)
    for _ in range(_SWEEPS):
        with np.errstate(all="ignore"):
            _sum_currents(parts)
            moved = _bring_down(parts)
        if not np.isfinite(moved):
            break
        if moved <= slack or not follows:
            return _gathered(parts, len(spans))
    raise not_converging()


@dataclass
class _Part:
    """Spans between one transformer and the next, the source's first; in an order in which each follows what feeds it.

    order: their places; gates: which are transformers, with the conductors before them
    ends: of each, where what hangs on it ends in that order; enters, leaves: its places on the walk down and up the
        tree, for the running sum of what is lost
    root_v: where its volts begin; behind: the part that feeds it and its transformer's place there, None for the source
    """

    system: System
    order: NDArray[np.intp]
    gates: NDArray[np.bool_]
    ends: NDArray[np.intp]
    enters: NDArray[np.intp]
    leaves: NDArray[np.intp]
    ohms: Phasors
    root_v: Phasors
    volts: Phasors
    amps: Phasors
    maps: Maps | None = None
    behind: tuple[_Part, int] | None = None
    drawn: _Loads | None = None


@dataclass
class _Loads:
    """The loads of a part: in which place, from which conductor to which, what they draw."""

    at: NDArray[np.intp]
    start: NDArray[np.intp]
    end: NDArray[np.intp]
    drawn: Drawn

    @property
    def follows(self) -> bool:
        """Whether any changes with its volts."""
        return self.drawn.follows

    def amps(self, volts: Phasors) -> Phasors:
        """Return what is drawn at each place from each conductor [A]."""
        found = np.zeros_like(volts)
        each = self.drawn.amps(volts[self.at, self.start] - volts[self.at, self.end])
        np.add.at(found, (self.at, self.start), each)
        np.subtract.at(found, (self.at, self.end), each)
        return found


def _sum_currents(parts: list[_Part]) -> None:
    """Sum the currents of each part from its far ends, those behind its transformers first."""
    taken = [part.drawn.amps(part.volts) if part.drawn else np.zeros_like(part.volts) for part in parts]
    at_of = {id(part): at for at, part in enumerate(parts)}
    for at in range(len(parts) - 1, -1, -1):
        part = parts[at]
        sums = np.zeros((len(part.order) + 1, len(CONDUCTORS)), complex)
        np.cumsum(taken[at], axis=0, out=sums[1:])
        part.amps = sums[part.ends] - sums[:-1]
        if part.behind and part.maps:
            before, place = part.behind
            taken[at_of[id(before)]][place] += part.maps.amps(before.volts[place], part.amps[0])


def _bring_down(parts: list[_Part]) -> float:
    """Bring the volts down each part, those before its transformer first; return by how much the most moved [V]."""
    most = 0.0
    for part in parts:
        if part.behind and part.maps:
            before, place = part.behind
            part.root_v = part.maps.volts(before.volts[place], part.amps[0])
        lost = part.ohms * part.amps
        walk = np.empty((2 * len(part.order), len(CONDUCTORS)), complex)
        walk[part.enters], walk[part.leaves] = lost, -lost
        found = part.root_v - np.cumsum(walk, axis=0)[part.enters]
        most = max(most, float(np.abs(found - part.volts).max()))
        part.volts = found
    return most


def _gathered(parts: list[_Part], count: int) -> Flow:
    volts, amps = np.zeros((count, len(CONDUCTORS)), complex), np.zeros((count, len(CONDUCTORS)), complex)
    for part in parts:
        volts[part.order[~part.gates]] = part.volts[~part.gates]
        own = slice(1 if part.behind else 0, None)  # a transformer's place has its primary's currents, at its gate
        amps[part.order[own]] = part.amps[own]
    return Flow(volts, amps)


# The tree


def _parts(system: System, spans: Sequence[Span]) -> list[_Part]:
    children: list[list[int]] = [[] for _ in spans]
    heads = []
    for at, span in enumerate(spans):
        if span.after is None:
            heads.append(at)
        elif 0 <= span.after < at:
            children[span.after].append(at)
        else:
            raise NoSolution("after", Message("each must come after what feeds it"))
    parts = [_walk(heads, None, spans, children, system)]
    for part in parts:  # grows as it goes
        for place in np.flatnonzero(part.gates):
            at = part.order[place]
            unit, made = spans[at].unit, spans[at].system
            if unit and made:
                found = _walk([at], at, spans, children, made)
                found.maps = unit if isinstance(unit, Maps) else maps_of(unit)
                found.behind = part, int(place)
                found.root_v = found.maps.volts(part.root_v, np.zeros(len(CONDUCTORS), complex))
                found.volts[:] = found.root_v
                parts.append(found)
    return parts


def _walk(roots: list[int], own: int | None, spans: Sequence[Span], children: list[list[int]], system: System) -> _Part:
    """Return a part, walked from its roots down and up; a transformer that is met ends it.

    own: the transformer that it stands behind, its root
    """
    order: list[int] = []
    enters: list[int] = []
    leaves: list[int] = []
    ends: list[int] = []
    stack = [(at, -1) for at in reversed(roots)]
    step = 0
    while stack:
        at, place = stack.pop()
        if place >= 0:
            leaves[place], ends[place] = step, len(order)
        else:
            stack.append((at, len(order)))
            order.append(at)
            enters.append(step)
            leaves.append(0)
            ends.append(0)
            if at == own or spans[at].unit is None:
                stack.extend((child, -1) for child in reversed(children[at]))
        step += 1
    ohms = np.array([spans[at].ohms for at in order], complex).reshape(-1, len(CONDUCTORS))
    gates = np.array([spans[at].unit is not None and at != own for at in order], bool)
    if own is not None:
        ohms[0] = 0
    root_v = np.array([system.phasors().get(leg, 0j) for leg in CONDUCTORS], complex)
    volts = np.tile(root_v, (len(order), 1))
    return _Part(
        system,
        np.array(order, np.intp),
        gates,
        np.array(ends, np.intp),
        np.array(enters, np.intp),
        np.array(leaves, np.intp),
        ohms,
        root_v,
        volts,
        np.zeros_like(volts),
    )


# The loads


def _drawn(parts: list[_Part], loads: Iterable[Load]) -> list[_Loads]:
    """Return the loads of each part, three-phase ones as three between the lines."""
    where = {
        int(at): (part, place)
        for part, each in enumerate(parts)
        for place, at in enumerate(each.order)
        if not each.gates[place]
    }
    rows: list[list[tuple[int, int, int, complex, Draws]]] = [[] for _ in parts]
    for load in loads:
        part, place = where[load.at]
        each = kva_of(load.va, load.power_factor)
        legs = [CONDUCTORS.index(leg) for leg in load.legs]
        if len(legs) == 1:
            rows[part].append((place, legs[0], NEUTRAL, each, load.draws))
        elif len(legs) < _THREE:
            rows[part].append((place, legs[0], legs[1], each, load.draws))
        else:
            rows[part].extend(
                (place, one, other, each / _THREE, load.draws)
                for one, other in zip(legs, legs[1:] + legs[:1], strict=True)
            )
    return [_as_arrays(part, found) for part, found in zip(parts, rows, strict=True)]


def _as_arrays(part: _Part, rows: list[tuple[int, int, int, complex, Draws]]) -> _Loads:
    at, start, end = (np.array([row[column] for row in rows], np.intp) for column in range(_THREE))
    across = part.root_v[start] - part.root_v[end]
    nominal = across / np.abs(across) * _nominal(part.system, end) if len(rows) else across
    return _Loads(at, start, end, Drawn(np.array([row[3] for row in rows], complex), nominal, [row[4] for row in rows]))


def _nominal(system: System, end: NDArray[np.intp]) -> NDArray[np.float64]:
    """Return the nominal volts of what stands to neutral, or between lines [V]."""
    return np.where(end == NEUTRAL, system.line_to_neutral_v or system.line_to_line_v, system.line_to_line_v)
