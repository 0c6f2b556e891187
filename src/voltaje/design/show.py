"""The steps of a node's current, leg by leg: which loads, with what share, as lines that a pencil can add up."""

from __future__ import annotations

import cmath
import math
from collections.abc import Sequence

from voltaje.books.book import Book
from voltaje.design.leaves import Flow, Leaf, Rising
from voltaje.design.solution import NodeSolution
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.model import Node
from voltaje.sheet import Sheet

AMPS_1 = Formula("va / volts")
AMPS_3 = Formula("va / (sqrt(3) * volts)")
SUM = Formula("sum(parts)")
PHASOR = Formula("sqrt(along * along + across * across)")

_DUST_A = 1e-6
_THREE_PHASE = 3

Share = tuple[Leaf, float]


def current(solved: NodeSolution, rising: Rising, shares: Sequence[Share], book: Book) -> None:
    """Write the steps of a node's amperes: one formula for a load balanced over its legs, else leg by leg.

    shares: the loads that count there, each with its factor in the demand
    """
    if not solved.amps:
        return
    amps = max(solved.amps.values())
    formula = AMPS_3 if len(solved.legs) == _THREE_PHASE else AMPS_1
    values = {"va": solved.demand_va, "volts": solved.nominal_v}
    with solved.sheet.section("current"):
        if abs(formula.value(**values) - amps) <= _DUST_A * max(amps, 1.0):
            solved.sheet.apply(formula, Message("Current of each line"), "A", book.load_rule, None, **values)
            return
        flow = rising.drawn.flows[0]
        lags = sum(abs(a) for a in flow.lagging.values()) > sum(abs(a) for a in flow.level.values())
        for leg, most in solved.amps.items():
            _leg(solved, leg, most, flow, shares, lags, book)


def _leg(
    solved: NodeSolution, leg: str, most: float, flow: Flow, shares: Sequence[Share], lags: bool, book: Book
) -> None:
    sheet, rule = solved.sheet, book.load_rule
    turn = cmath.exp(-1j * cmath.phase(solved.system.phasors()[leg]))
    along, across = [], []
    for name, amps, because in _lines(solved.node, leg, shares, lags):
        turned = amps * turn
        along.append(turned.real)
        across.append(turned.imag)
        sheet.read(abs(amps), Message("{leg}: {name}", leg=leg, name=name), "A", rule, because)
    summed = (flow.lagging if lags else flow.level)[leg] * turn
    known = abs(complex(math.fsum(along), math.fsum(across)) - summed) <= _DUST_A * max(abs(summed), 1.0)
    if not known or abs(abs(summed) - most) > _DUST_A * max(most, 1.0):
        because = Message(
            "with other loads running in the place of those that exclude them, or as its own sheet has it"
        )
        sheet.read(most, Message("{leg}", leg=leg), "A", rule, because)
        return
    if max((abs(part) for part in across), default=0.0) <= _DUST_A:
        sheet.apply(SUM, Message("{leg}", leg=leg), "A", rule, None, parts=along)
        return
    one = sheet.apply(SUM, Message("{leg}, along its voltage", leg=leg), "A", rule, None, parts=along)
    other = sheet.apply(SUM, Message("{leg}, across it", leg=leg), "A", rule, None, parts=across)
    sheet.apply(PHASOR, Message("{leg}", leg=leg), "A", rule, None, along=one, across=other)


def _lines(node: Node, leg: str, shares: Sequence[Share], lags: bool) -> list[tuple[str, complex, Message]]:
    """Return what loads one leg: each load on the board itself, and each board below as a whole."""
    found: list[tuple[str, complex, Message]] = []
    together: dict[str, complex] = {}
    for leaf, factor in shares:
        amps = (leaf.lagging if lags else leaf.level).get(leg, 0j) * factor
        if not amps:
            continue
        if leaf.node.parent == node.id:
            legs = "–".join(leaf.level)
            because = Message(
                "{percent} of {va} on {legs}",
                percent=Figure(factor * 100, "%", 1), va=Figure(leaf.connected.va, "VA"), legs=legs,
            )  # fmt: skip
            found.append((leaf.node.name or leaf.node.id, amps, because))
        else:
            together[leaf.node.name or leaf.node.id] = together.get(leaf.node.name or leaf.node.id, 0j) + amps
    further = Message("further down")
    return [*found, *((name, amps, further) for name, amps in together.items())]


def need(sheet: Sheet, leg: str, solved: NodeSolution) -> None:
    """Write which leg the run is sized by, where they are not alike."""
    amps = solved.amps[leg]
    if max(solved.amps.values()) - min(solved.amps.values()) > _DUST_A * amps:
        because = Message("the leg that asks most, continuous load at its factor")
        sheet.read(amps, Message("Sized by {leg}", leg=leg), "A", None, because)
