"""The steps of a node's current, leg by leg: which loads, with what share, as lines that a pencil can add up."""

from __future__ import annotations

import cmath
from collections.abc import Sequence
from typing import NamedTuple

from voltaje.books.questions import Book
from voltaje.design.leaves import Flow, Leaf
from voltaje.design.solution import NodeSolution
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.model import Node
from voltaje.rounding import DUST
from voltaje.sheet import Citation, Sheet
from voltaje.systems import THREE_PHASE

AMPS_1 = Formula("va / volts")
AMPS_3 = Formula("va / (sqrt(3) * volts)")
SUM = Formula("sum(parts)")
PHASOR = Formula("sqrt(along * along + across * across)")


class Running(NamedTuple):
    """One set of loads that run together: each with its factor and its continuous share, and the currents of all."""

    flow: Flow
    shares: list[tuple[Leaf, float, float]]


def running(
    flows: Sequence[Flow], leaves: Sequence[Leaf], sets: Sequence[Sequence[float]], continuous: dict[str, float]
) -> list[Running]:
    """Return each flow with the loads that make it."""
    steady = [continuous.get(leaf.connected.id, leaf.continuous) for leaf in leaves]
    return [
        Running(flow, list(zip(leaves, factors, steady, strict=True)))
        for flow, factors in zip(flows, sets, strict=True)
    ]


def current(solved: NodeSolution, sets: Sequence[Running], book: Book) -> None:
    """Write the steps of a node's amperes: one formula for a load balanced over its legs, else leg by leg."""
    if not solved.amps:
        return
    amps = max(solved.amps.values())
    formula = AMPS_3 if len(solved.legs) == THREE_PHASE else AMPS_1
    values = {"va": solved.demand_va, "volts": solved.nominal_v}
    with solved.sheet.section("current"):
        if abs(formula.value(**values) - amps) <= DUST * max(amps, 1.0):
            solved.sheet.apply(formula, Message("Current of each line"), "A", book.load_rule, None, **values)
            return
        for leg, most in solved.amps.items():
            _leg(solved, leg, most, sets, book)


def _leg(solved: NodeSolution, leg: str, most: float, sets: Sequence[Running], book: Book) -> None:
    sheet, rule = solved.sheet, book.load_rule
    found = next(((each, lags) for each in sets for lags in (False, True) if _is(each.flow, lags, leg, most)), None)
    lines = _lines(solved.node, leg, *found) if found else []
    if not lines:
        whole = Message("as its own sheet has it, or through the transformer")
        sheet.read(most, Message("{leg}", leg=leg), "A", rule, whole)
        return
    because = None
    if found and found[0] is not sets[0]:
        because = Message("of loads that exclude each other those run that ask most of this leg")
    for name, amps, share in lines:
        sheet.read(abs(amps), Message("{leg}: {name}", leg=leg, name=name), "A", None, share)
    parts = [amps for _name, amps, _share in lines]
    _add_up(sheet, solved, leg, parts, Message("{leg}", leg=leg), rule, because)


def _is(flow: Flow, lags: bool, leg: str, most: float) -> bool:
    amps = abs((flow.lagging if lags else flow.level).get(leg, 0j))
    return abs(amps - most) <= DUST * max(most, 1.0)


def _add_up(
    sheet: Sheet,
    solved: NodeSolution,
    leg: str,
    parts: Sequence[complex],
    label: Message,
    rule: Citation | None,
    because: Message | None = None,
) -> float:
    """Write a sum of currents: plainly where they are in step, else along and across the leg's voltage."""
    turn = cmath.exp(-1j * cmath.phase(solved.system.phasors()[leg]))
    along = [_tidy((amps * turn).real) for amps in parts]
    across = [_tidy((amps * turn).imag) for amps in parts]
    if not any(across):
        return abs(sheet.apply(SUM, label, "A", rule, because, parts=along))
    one = sheet.apply(SUM, Message("{what}, along its voltage", what=label), "A", None, None, parts=along)
    other = sheet.apply(SUM, Message("{what}, across it", what=label), "A", None, None, parts=across)
    return sheet.apply(PHASOR, label, "A", rule, because, along=one, across=other)


def _tidy(part: float) -> float:
    return 0.0 if abs(part) <= DUST else part


def _lines(node: Node, leg: str, running: Running, lags: bool) -> list[tuple[str, complex, Message]]:
    """Return what loads one leg: each load on the board itself, and what hangs further down."""
    found: list[tuple[str, complex, Message]] = []
    for leaf, factor, _steady in running.shares:
        amps = (leaf.lagging if lags else leaf.level).get(leg, 0j) * factor
        if not amps:
            continue
        share, legs = Figure(factor * 100, "%", 1), "–".join(leaf.level)
        because = Message("{percent} of {va} on {legs}", percent=share, va=Figure(leaf.connected.va, "VA"), legs=legs)
        if leaf.node.id == node.id:
            because = Message("{what}, for the board as a whole", what=because)
        elif leaf.node.parent != node.id:
            because = Message("{what}, further down", what=because)
        found.append((leaf.node.name or leaf.node.id, amps, because))
    return found


def need(leg: str, needs: tuple[float, float], solved: NodeSolution, sets: Sequence[Running]) -> None:
    """Write which leg the run is sized by where they are not alike, and what of it is continuous."""
    amps, continuous = needs
    sheet = solved.sheet
    with sheet.section("current"):
        if max(solved.amps.values()) - min(solved.amps.values()) > DUST * amps:
            because = Message("the leg that asks most, continuous load at its factor")
            sheet.read(amps, Message("Sized by {leg}", leg=leg), "A", None, because)
        label = Message("Continuous on {leg}", leg=leg)
        for each in sets:
            if abs(abs(each.flow.steady.get(leg, 0j)) - continuous) > DUST * max(continuous, 1.0):
                continue
            parts = [
                leaf.level[leg] * factor * steady
                for leaf, factor, steady in each.shares
                if leaf.steady is None and factor * steady and leg in leaf.level
            ]
            if len(parts) > 1 and all(leaf.steady is None for leaf, _factor, _steady in each.shares):
                _add_up(sheet, solved, leg, parts, label, None)
            return
