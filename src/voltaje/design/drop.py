"""Voltage drop of a run: of every voltage that it brings down, with the neutral's own part, and from the source."""

from __future__ import annotations

import cmath
from collections.abc import Sequence
from itertools import combinations
from typing import NamedTuple

from voltaje.books.answers import Choice, DropLimit, Fall, Run
from voltaje.books.questions import Book
from voltaje.design.leaves import Flow
from voltaje.formula import Formula
from voltaje.message import Message
from voltaje.physics.currents import around
from voltaje.quantity import length_in
from voltaje.sheet import Sheet, off
from voltaje.systems import System

Legs = tuple[str, ...]
Fallen = dict[Legs, float]

PERCENT = Formula("drop / volts * 100")
LONGEST = Formula("length * room / percent")
PART = Formula("length * (along * resistance + across * reactance) / 1000 / sets")
PART_ALONG = Formula("length * amps * millivolts / 1000 / sets")
SUM = Formula("sum(parts)")

_OF_NOMINAL = Message("Of the nominal")
_LONGEST = Message("Longest run of this size")
_LEFT = Message("where the drop reaches what is left of its limits")
_ALIKE = 1e-6
_TRIES = 60


class Drop(NamedTuple):
    """The drop of a run [V, % of its nominal], of the voltage that falls most.

    total_percent: from the source, of the voltage that is lowest there; falls: of each voltage, by its legs [%]
    longest_m: where it reaches what is left of its limits, None where nothing drops
    """

    volts: float
    percent: float
    total_percent: float
    limit: DropLimit
    room_percent: float
    longest_m: float | None
    falls: tuple[tuple[Legs, float], ...]


def voltages_of(system: System, legs: Legs, board: bool) -> list[Legs]:
    """Return the voltages that hang on legs: between each two, and of each to neutral where a load may stand there."""
    if len(legs) == 1:
        return [legs]
    pairs: list[Legs] = list(combinations([leg for leg, _a in system.legs if leg in legs], 2))
    if not board or not system.line_to_neutral_v:
        return pairs
    return [*((leg,) for leg in legs if leg != system.high_leg), *pairs]


def nominal_of(voltage: Legs, system: System) -> float:
    """Return a voltage's nominal [V]."""
    return (system.line_to_neutral_v if len(voltage) == 1 else None) or system.line_to_line_v


def balanced(flows: Sequence[Flow], system: System, legs: Legs) -> float | None:
    """Return the power factor of legs that carry alike, each with the same lag; None of others [factor]."""
    if len(flows) > 1:
        return None
    volts, flow = system.phasors(), flows[0]
    middle = sum((volts[leg] for leg in legs), 0j) / len(legs) if len(legs) > 1 else 0j
    turned = [flow.lagging[leg] * cmath.exp(-1j * cmath.phase(volts[leg] - middle)) for leg in legs]
    most = max(abs(amps) for amps in turned)
    alike = all(abs(amps - turned[0]) <= _ALIKE * most for amps in turned)
    if not most or not alike or abs(most - max(abs(flow.level[leg]) for leg in legs)) > _ALIKE * most:
        return None
    if len(legs) > 1 and abs(sum((flow.lagging[leg] for leg in legs), 0j)) > _ALIKE * most:
        return None
    return min(max(turned[0].real / most, _ALIKE), 1.0) if abs(turned[0].imag) > _ALIKE * most else 1.0


def falls_of(flows: Sequence[Flow], system: System, legs: Legs, before: Fallen) -> tuple[Fall, ...]:
    """Return the voltages that a run to unlike legs brings down, with the currents that do it."""
    return falls_on(flows, system, voltages_of(system, legs, board=True), before)


def falls_on(flows: Sequence[Flow], system: System, voltages: Sequence[Legs], before: Fallen) -> tuple[Fall, ...]:
    """Return some voltages that currents bring down, with what of them does it: of the lines, of the neutral."""
    volts = system.phasors()
    found = []
    for voltage in voltages:
        along = volts[voltage[0]] - (volts[voltage[1]] if len(voltage) > 1 else 0)
        turn = along.conjugate() / abs(along)
        for flow in flows:
            line, back = around(flow.lagging, voltage)
            found.append(Fall(voltage, nominal_of(voltage, system), line * turn, back * turn, before.get(voltage, 0.0)))
    return tuple(dict.fromkeys(found))


def drop_of(run: Run, choice: Choice, neutral: str, book: Book, sheet: Sheet) -> Drop | None:
    """Return the drop of a run as it is built, None where it has no length.

    neutral: the neutral's size, "" where it is as its line
    """
    if run.length_m is None:
        return None
    limits = _Limits(book.drop_limit(run, False), book.drop_limit(run, True).percent)
    limit = limits.own
    each = _each(run, choice, neutral, book, sheet, limit)
    volts, percent, before, of = max(each, key=_own_percent) if len(each) > 1 else each[0]
    total = before + max(percent, 0.0)
    room = min(limit.percent, limits.total - before)
    falls: dict[Legs, float] = {of: max(percent, 0.0)}
    for _volts, own, lost, voltage in each if len(each) > 1 else ():
        # A light leg rises while another is loaded; that one may be off.
        falls[voltage] = max(own, falls.get(voltage, own), 0.0)
        total, room = max(total, lost + max(own, 0.0)), min(room, limits.total - lost)
    longest = _longest(run, each, limits, book, sheet) if percent > 0 else None
    return Drop(volts, percent, total, limit, room, longest, tuple(falls.items()))


class _Limits(NamedTuple):
    """What a run may lose of itself, and what a voltage may lose from the source [%]."""

    own: DropLimit
    total: float

    def room(self, before: float) -> float:
        """Return what a voltage may still lose in the run [%]."""
        return max(min(self.own.percent, self.total - before), 0.0)


def _own_percent(fall: tuple[float, float, float, Legs]) -> float:
    return fall[1]


_Each = list[tuple[float, float, float, Legs]]


def _each(run: Run, choice: Choice, neutral: str, book: Book, sheet: Sheet, limit: DropLimit) -> _Each:
    """Return of each voltage its drop [V, %], what it has lost before [%], its legs; none: whatever the run feeds."""
    if not run.falls:
        volts = book.drop_v(run, choice, sheet)
        percent = sheet.apply(PERCENT, _OF_NOMINAL, "%", limit.rule, None, drop=volts, volts=run.volts)
        return [(volts, percent, run.drop_before_percent, ())]
    found = []
    for fall in run.falls:
        volts = _fall_v(run, fall, choice, neutral, book, off())
        found.append((volts, volts / fall.volts * 100, fall.before_percent, fall.of))
    if sheet.on:
        worst = max(range(len(found)), key=lambda at: found[at][1])
        fall = run.falls[worst]
        volts = _fall_v(run, fall, choice, neutral, book, sheet)
        sheet.apply(PERCENT, _OF_NOMINAL, "%", limit.rule, None, drop=volts, volts=fall.volts)
    return found


class _Wire(NamedTuple):
    """A conductor that a fall is made of: its current along and across the voltage [A], its size."""

    amps: complex
    size: str
    label: Message


def _fall_v(run: Run, fall: Fall, choice: Choice, neutral: str, book: Book, sheet: Sheet) -> float:
    named = "–".join(fall.of)
    wires = [_Wire(fall.line, choice.size, Message("Lost in the lines, {legs}", legs=named))]
    if fall.neutral:
        wires.append(_Wire(fall.neutral, neutral or choice.size, Message("Lost in the neutral")))
    parts = [_part(run, fall, wire, choice.sets, book, sheet) for wire in wires]
    label = Message("Voltage drop, {legs}", legs=named)
    if len(fall.of) == 1:
        label = Message("Voltage drop, {legs} to neutral", legs=named)
    return sheet.apply(SUM, label, "V", book.rule("drop"), None, parts=parts)


def _part(run: Run, fall: Fall, wire: _Wire, sets: int, book: Book, sheet: Sheet) -> float:
    # Against the larger of the two: a neutral on which nothing is left has but the dust of what cancelled there.
    dust = _ALIKE * max(abs(fall.line), abs(fall.neutral))
    unity = all(abs(amps.imag) <= dust for amps in (fall.line, fall.neutral))
    found = book.impedance(run, wire.size, unity)
    length = (run.length_m or 0.0) / found.unit_m
    if found.along:
        # The table's one figure is taken along the line's current, whatever its lag.
        turn = fall.line.conjugate() / abs(fall.line) if fall.line else 1.0
        because = Message("one conductor's part of the tabulated millivolts, along the current of its line")
        amps = (wire.amps * turn).real
        return sheet.apply(
            PART_ALONG,
            wire.label,
            "V",
            found.rule,
            because,
            length=length,
            amps=amps,
            millivolts=found.resistance,
            sets=sets,
        )
    because = Message("current along the voltage and across it, with the table's resistance and reactance")
    along, across = wire.amps.real, -wire.amps.imag
    return sheet.apply(
        PART,
        wire.label,
        "V",
        found.rule,
        because,
        length=length,
        along=along,
        resistance=found.resistance,
        across=across,
        reactance=found.reactance,
        sets=sets,
    )


def _longest(run: Run, each: _Each, limits: _Limits, book: Book, sheet: Sheet) -> float:
    """Return the length [m] at which the first voltage reaches what is left of its limits.

    Limits may grow with the length: then the greatest length at which they hold still.
    """
    length = run.length_m or 0.0
    found, shown = float("inf"), (0.0, 1.0)
    grows = book.terms.drop_limit_grows
    if grows:
        limits = _limits_at(_FAR_M, run, book)
    for _volts, percent, before, _of in each:
        if percent <= 0:
            continue
        room = limits.room(before)
        at = length * room / percent
        for _ in range(_TRIES if grows else 0):
            room = _limits_at(at, run, book).room(before)
            nearer = length * room / percent
            if nearer == at:
                break
            at = nearer
        if at < found:
            found, shown = at, (room, percent)
    if not sheet.on:
        return found
    unit = book.terms.length_unit
    said = length_in(length, unit)
    sheet.apply(LONGEST, _LONGEST, unit, limits.own.rule, _LEFT, length=said, room=shown[0], percent=shown[1])
    return found


_FAR_M = 1e6


def _limits_at(length_m: float, run: Run, book: Book) -> _Limits:
    there = run._replace(length_m=length_m)
    return _Limits(book.drop_limit(there, False), book.drop_limit(there, True).percent)
