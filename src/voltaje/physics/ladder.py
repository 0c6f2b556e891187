"""A three-wire ladder: two lines and a neutral feeding loads in sections; the neutral may be opened in one of them.

No rules in here. While the neutral is whole, a load that was given in amperes draws them as on paper. Once it is opened
every load is the impedance that it was before: its volts over its amperes.
"""

from __future__ import annotations

import cmath
from collections.abc import Sequence
from typing import NamedTuple

from voltaje.physics.draws import Draws
from voltaje.physics.nodal import Branch, Taken, nodal

_SOURCE, _ROWS = "source", ("a", "n", "b")


class Rung(NamedTuple):
    """What hangs across two wires at the end of a section: amperes as on paper, or ohms; None for nothing."""

    amps: float | None = None
    ohms: complex | None = None

    @property
    def there(self) -> bool:
        """Whether anything hangs there."""
        return bool(self.amps) or self.ohms is not None


class Section(NamedTuple):
    """A section: ohms of its line 1, neutral, line 2; its loads on line 1, on line 2, between the lines."""

    ohms: tuple[complex, complex, complex]
    loads: tuple[Rung, Rung, Rung]


class Found(NamedTuple):
    """What flows in a section, and what stands at its end, as phasors.

    line1, neutral: toward the loads; line2: as its loads draw it, positive back to the source where the two lines are
    half a turn apart [A]; volts: across the loads on line 1, on line 2, between the lines; amps: in them
    at: the volts of line 1, neutral and line 2 there, from the source's neutral
    """

    line1: complex
    neutral: complex
    line2: complex
    volts: tuple[complex, complex, complex]
    amps: tuple[complex, complex, complex]
    at: tuple[complex, complex, complex]


def ladder(volts: tuple[complex, complex], sections: Sequence[Section], opened: int | None = None) -> list[Found]:
    """Return what flows in each section; volts: of the lines to the source's neutral [V, as phasors].

    opened: the section whose neutral is open. Raises NoSolution where no voltages hold.
    """
    whole = _solved(volts, sections, None)
    if opened is None:
        return whole
    changed = [section._replace(loads=_as_ohms(section, found)) for section, found in zip(sections, whole, strict=True)]
    return _solved(volts, changed, opened)


def _as_ohms(section: Section, found: Found) -> tuple[Rung, Rung, Rung]:
    one, two, both = (
        load if load.ohms is not None or not load.amps else Rung(ohms=volts / amps)
        for load, volts, amps in zip(section.loads, found.volts, found.amps, strict=True)
    )
    return one, two, both


_AIR_OHM = 1e9
_SPANS = ((0, 1), (1, 2), (0, 2))  # the wires that a load on line 1, on line 2, between them stands on


def _solved(volts: tuple[complex, complex], sections: Sequence[Section], opened: int | None) -> list[Found]:
    branches = [
        Branch(_SOURCE, f"{_SOURCE}a", 0, volts[0]),
        Branch(_SOURCE, f"{_SOURCE}b", 0, volts[1]),
        Branch(_SOURCE, f"{_SOURCE}n", 0),
    ]
    at_of: dict[tuple[int, int], int] = {}
    loads: dict[tuple[int, int], int] = {}
    drawn: dict[tuple[int, int], complex] = {}
    before = _SOURCE
    nominal = (volts[0], -volts[1], volts[0] - volts[1])
    for number, section in enumerate(sections):
        for wire, row in enumerate(_ROWS):
            if not (row == "n" and number == opened):
                at_of[number, wire] = len(branches)
                branches.append(Branch(f"{before}{row}", f"{number}{row}", section.ohms[wire]))
        for place, (load, (start, end)) in enumerate(zip(section.loads, _SPANS, strict=True)):
            ends = f"{number}{_ROWS[start]}", f"{number}{_ROWS[end]}"
            if load.ohms is not None:
                loads[number, place] = len(branches)
                branches.append(Branch(*ends, load.ohms))
            elif load.amps:
                drawn[number, place] = cmath.rect(load.amps, cmath.phase(nominal[place]))
        before = str(number)
    if opened is not None and not any(load.there for each in sections[opened:] for load in each.loads[:2]):
        branches.append(Branch(_SOURCE, f"{opened}n", _AIR_OHM))  # a neutral that nothing hangs on
    takes = []
    for (number, place), amps in drawn.items():
        one, other = (f"{number}{_ROWS[wire]}" for wire in _SPANS[place])
        takes.append(Taken(one, other, abs(amps) * abs(nominal[place]), 1.0, nominal[place], Draws.PAPER))
    found = nodal(branches, takes, _SOURCE)
    result = []
    for number in range(len(sections)):
        over, middle, under = (found.volts[f"{number}{row}"] for row in _ROWS)
        taken = [
            drawn.get((number, place)) or _current(found.branches, loads.get((number, place))) for place in range(3)
        ]
        flow = [_current(found.branches, at_of.get((number, wire))) for wire in range(3)]
        result.append(
            Found(
                flow[0],
                flow[1],
                -flow[2],
                (over - middle, middle - under, over - under),
                (taken[0], taken[1], taken[2]),
                (over, middle, under),
            )
        )
    return result


def _current(currents: Sequence[complex], at: int | None) -> complex:
    return currents[at] if at is not None else 0j
