"""A bank of single-phase units: every connection and tap tried by the solver, those over their rating struck out."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

from voltaje.design.windings.groups import HIGH, LOW, Joint, Windings
from voltaje.physics.windings import Coil, three_phase, wound

MOST_PERCENT = 105.0  # of rated volts, by volts per turn, that a winding stands (common practice)
_THREE, _TWO = 3, 2
OPEN = "Vv"
OPEN_OF_THREE = 1 / math.sqrt(_THREE)  # what two units carry of three: 57.7 %
OPEN_OF_TWO = math.sqrt(_THREE) / _TWO  # and of their own two: 86.6 %


class Unit(NamedTuple):
    """A single-phase unit: rated volts of both windings, taps of one of them [%], kVA."""

    primary_v: float
    secondary_v: float
    taps_on: str
    taps: tuple[float, ...]
    kva: float


class Candidate(NamedTuple):
    """A connection with a tap: the line volts that it gives, how hard its windings are used, how far off it is [%]."""

    connection: str
    tap: float
    line_v: float
    winding_percent: float
    error_percent: float
    windings: Windings
    struck: bool

    @property
    def has_neutral(self) -> bool:
        """True where its secondary has a star point, which loads to neutral hang on."""
        return self.connection.endswith("y")


def candidates(
    unit: Unit, units: int, supply_v: float, wanted_v: float, most_percent: float, neutral: bool = False
) -> list[Candidate]:
    """Return every connection with every tap, the nearest first, those over their windings' rating last.

    units: two make an open delta alone; most_percent: of the rated volts per turn; neutral: loads hang on one, so that
    a connection with a star point comes before all without
    """
    letters = [OPEN] if units == _TWO else [f"{high}{low}" for high in "YD" for low in "yd"] + [OPEN]
    found = [
        _tried(unit, each, tap, supply_v, wanted_v, most_percent) for each in letters for tap in unit.taps or (0.0,)
    ]
    return sorted(found, key=lambda each: (each.struck, neutral and not each.has_neutral, *_nearness(each)))


def _nearness(each: Candidate) -> tuple[object, ...]:
    """Return by what candidates are ranked: volts as near as they are told, all units at work, windings near rating."""
    error, off = round(abs(each.error_percent), _TOLD), round(abs(each.winding_percent - 100), _TOLD)
    return error, each.connection == OPEN, off, abs(each.tap)


def alike(found: list[Candidate]) -> list[Candidate]:
    """Return what else, its windings within their rating, gives the first one's volts as they are told."""
    best = _nearness(found[0])[0]
    return [each for each in found[1:] if not each.struck and _nearness(each)[0] == best]


_TOLD = 3  # decimals of a per cent: what differs by less is alike


def _tried(unit: Unit, connection: str, tap: float, supply_v: float, wanted_v: float, most_percent: float) -> Candidate:
    turns = (unit.primary_v, unit.secondary_v)
    part = 1 + tap / 100
    turns = (turns[0] * part, turns[1]) if unit.taps_on == "primary" else (turns[0], turns[1] * part)
    windings = joined(connection, turns)
    found = wound(windings.coils, windings.joints, dict(zip(HIGH, three_phase(supply_v), strict=True)))
    line = found.between(LOW[0], LOW[1]) or 0j
    percent = abs(found.coils["h1"]) / turns[0] * 100
    error = (abs(line) / wanted_v - 1) * 100
    return Candidate(connection, tap, abs(line), percent, error, windings, percent > most_percent)


def joined(connection: str, turns: tuple[float, float], tapped: bool = False) -> Windings:
    """Return the coils of a bank, joined: the first letter is its primary's, Vv the open delta of two units.

    tapped: the secondary between the first line and the third has its middle brought out, as n: a high-leg bank
    """
    coils: tuple[Coil, ...]
    if connection == OPEN and tapped:
        coils = (
            Coil("h1", "unit 1", turns[0], "C", "C2"),
            Coil("h2", "unit 2", turns[0], "A", "A2"),
            *_halves("l1", "unit 1", turns[1]),
            Coil("l2", "unit 2", turns[1], "a", "a2"),
        )
        return Windings(coils, (("C2", "A"), ("A2", "B"), ("a2", "b")))
    if connection == OPEN:
        coils = (
            Coil("h1", "unit 1", turns[0], "A", "A2"),
            Coil("h2", "unit 2", turns[0], "B", "B2"),
            Coil("l1", "unit 1", turns[1], "a", "a2"),
            Coil("l2", "unit 2", turns[1], "b", "b2"),
        )
        return Windings(coils, (("A2", "B"), ("B2", "C"), ("a2", "b"), ("b2", "c")))
    made: list[Coil] = []
    joints: list[Joint] = []
    for side, (letter, lines) in enumerate(zip(connection.upper(), (HIGH, LOW), strict=True)):
        for at, line in enumerate(lines):
            if tapped and side and at == len(lines) - 1:
                made.extend(_halves(f"l{at + 1}", f"unit {at + 1}", turns[side]))
                continue
            made.append(Coil(f"{'hl'[side]}{at + 1}", f"unit {at + 1}", turns[side], line, f"{line}2"))
            joints.append((f"{line}2", lines[(at + 1) % _THREE] if letter == "D" else "Nn"[side]))
    return Windings(tuple(made), tuple(joints))


def _halves(name: str, unit: str, turns: float) -> tuple[Coil, Coil]:
    """Return a secondary from the third line to the first, its middle brought out."""
    return Coil(f"{name}c", unit, turns / 2, "c", "n"), Coil(f"{name}a", unit, turns / 2, "n", "a")


class Thought(NamedTuple):
    """A step of a person's reasoning: of which matter, what was kept, what was crossed out, with figures."""

    matter: str
    kept: str
    crossed: str
    figures: Sequence[float]


def reasoning(
    unit: Unit, units: int, supply_v: float, wanted_v: float, most_percent: float, neutral: bool = False
) -> list[Thought]:
    """Return how a person finds the connection: the primary by the supply, the secondary by what is wanted, the tap.

    neutral: the secondary's star is settled first, and the primary gives the nearest volts to it
    """
    root = math.sqrt(_THREE)
    if units == _TWO:
        return [Thought("open", OPEN, "", (OPEN_OF_THREE * 100, OPEN_OF_TWO * 100))]
    over = supply_v > unit.primary_v * most_percent / 100
    under = supply_v / root / unit.primary_v * 100
    high = "Y" if over else "D"
    if neutral:
        gives = supply_v / unit.primary_v * unit.secondary_v  # line to line from a star, √3 times that from a delta
        high = "Y" if over or abs(gives - wanted_v) < abs(gives * root - wanted_v) else "D"
        now = gives if high == "Y" else gives * root
        return [
            Thought("neutral", "y", "d", ()),
            Thought("star", high, "D" if high == "Y" else "Y", (gives, gives * root, wanted_v)),
            Thought("tap", "high" if now > wanted_v else "low", "", (now, wanted_v)),
        ]
    thoughts = [Thought("primary", high, "D" if over else "Y", (supply_v, unit.primary_v, under))]
    winding = supply_v / (root if over else 1) / unit.primary_v * unit.secondary_v
    star = abs(winding * root / wanted_v - 1) < abs(winding / wanted_v - 1)
    thoughts.append(
        Thought("secondary", "y" if star else "d", "d" if star else "y", (wanted_v, winding, winding * root))
    )
    now = winding * (root if star else 1)
    thoughts.append(Thought("tap", "high" if now > wanted_v else "low", "", (now, wanted_v)))
    return thoughts
