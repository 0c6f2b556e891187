"""What there is to say of transformers: how they are joined, and what hangs on them."""

from __future__ import annotations

import math
from collections.abc import Sequence

from voltaje.books.questions import Book
from voltaje.design.leaves import Flow
from voltaje.design.solution import NodeSolution
from voltaje.design.transformers.made import Made, figure_of
from voltaje.design.windings.bank import MOST_PERCENT
from voltaje.findings import Finding, Severity
from voltaje.message import Figure, Message
from voltaje.path.model import Node
from voltaje.path.transformer import TransformerSpec
from voltaje.physics.reflection import Connection, hardest_winding
from voltaje.rounding import DUST
from voltaje.systems import THREE_PHASE, System


def connection(node: Node, spec: TransformerSpec, joined: Connection | None, solved: NodeSolution) -> None:
    """A connection that is not understood is taken as the usual one, aloud."""
    if joined is None:
        message = Message(
            "The connection {name} is not understood, or does not give {secondary}: it is taken as the usual one.",
            name=spec.connection,
            secondary=spec.secondary.name,
        )
        mend = Message("Write it as Dyn, Yyn, Dd, Yd.")
        solved.findings.append(
            Finding(Severity.WARN, "transformer.connection", message, None, f"{node.id}.transformer.connection", mend)
        )


def ungrounded(node: Node, spec: TransformerSpec, solved: NodeSolution, book: Book) -> None:
    """A derived system of three wires that nothing grounds: a first fault to ground is only told by detectors."""
    rule = book.rule("ground_detection")
    unit, secondary = solved.unit, spec.secondary
    if rule is None or secondary.line_to_neutral_v or len(secondary.legs) < THREE_PHASE or (unit and unit.stacked):
        return
    message = Message(
        "Its secondary has no neutral: where no corner is grounded either, ground detectors tell the first fault."
    )
    solved.findings.append(Finding(Severity.NOTE, "transformer.ungrounded", message, rule, node.id))


def loading(
    node: Node,
    spec: TransformerSpec,
    solved: NodeSolution,
    flows: Sequence[Flow],
    secondary: System,
    joined: Connection | None,
) -> None:
    """More than a transformer's rating, in all or in one of its windings, by the current of the winding itself."""
    unit = solved.unit
    rated = (unit.plate.kva if unit else spec.kva) * _VA_IN_KVA
    mend = Message("Take a larger transformer, or move load off it.")
    if solved.demand_va > rated * (1 + DUST):
        message = Message(
            "{demand} on a transformer of {rated}: {percent} of its rating.",
            demand=_kva(solved.demand_va),
            rated=_kva(rated),
            percent=Figure(solved.demand_va / rated * 100, "%"),
        )
        solved.findings.append(Finding(Severity.STOP, "transformer.overloaded", message, None, node.id, mend))
        return
    if unit and unit.made:
        _hardest(node, unit.made, solved, flows)
        return
    if len(secondary.legs) == THREE_PHASE and len(solved.legs) == THREE_PHASE and joined:
        leg, amps = max((hardest_winding(flow.level, secondary, joined) for flow in flows), key=lambda each: each[1])
        volts = secondary.line_to_line_v
        if joined.secondary == "Y":
            volts = secondary.line_to_neutral_v or volts / math.sqrt(THREE_PHASE)
        _winding(node, solved, leg, amps * volts, rated / THREE_PHASE)
        return
    low = [leg for leg, _angle in secondary.legs if leg != secondary.high_leg]
    if not secondary.line_to_neutral_v or len(low) == 1:
        return
    drawn = {leg: max(abs(flow.level.get(leg, 0j)) for flow in flows) * secondary.to_middle_v(leg) for leg in low}
    leg = max(low, key=lambda leg: drawn[leg])
    _winding(node, solved, leg, drawn[leg], rated / len(secondary.legs))


def _kva(va: float) -> Figure:
    return Figure(va / _VA_IN_KVA, "kVA", 1 if va >= _VA_IN_KVA else 3)  # 25 VA is not "0 kVA"


def _winding(node: Node, solved: NodeSolution, named: str, drawn_va: float, rated_va: float) -> None:
    if drawn_va <= rated_va * _LEG_MARGIN:
        return
    message = Message(
        "{va} on one winding, {leg}, rated {each}: the load is uneven.",
        va=Figure(drawn_va / _VA_IN_KVA, "kVA", 1),
        leg=named,
        each=Figure(rated_va / _VA_IN_KVA, "kVA", 1),
    )
    mend = Message("Spread the single-phase loads over the legs, or take a larger transformer.")
    solved.findings.append(Finding(Severity.WARN, "transformer.winding_overloaded", message, None, node.id, mend))


def _hardest(node: Node, made: Made, solved: NodeSolution, flows: Sequence[Flow]) -> None:
    """A coil of a unit beyond its rating, though all of them together are not."""
    share = max(made.loaded(flow.lagging) for flow in flows)
    if share > _LEG_MARGIN:
        message = Message(
            "One unit of {units} carries {percent} of its rating: the load is uneven.",
            units=figure_of(made),
            percent=Figure(share * 100, "%"),
        )
        mend = Message("Spread the single-phase loads over the legs, or take larger units.")
        solved.findings.append(Finding(Severity.WARN, "transformer.winding_overloaded", message, None, node.id, mend))


def made(solved: NodeSolution, units: Made, supply_share: float, book: Book) -> None:
    """Units at volts beyond their windings', an output that is not what its system says, one that is not isolated.

    supply_share: the volts that it gets, of nominal
    """
    key, spec = solved.node.id, solved.node.transformer
    percent = units.winding_percent * supply_share
    if percent > MOST_PERCENT:
        message = Message(
            "Its windings stand at {percent} of their rated volts: they saturate and burn.",
            percent=Figure(percent, "%"),
        )
        mend = Message("Star on that side, units of more volts, or another tap.")
        where = f"{key}.transformer.unit_primary_v"
        solved.findings.append(Finding(Severity.STOP, "transformer.over_volts", message, None, where, mend))
    if spec and abs(units.share - 1) > _FAR:
        message = Message(
            "It makes {volts}, where its secondary is {system}.",
            volts=Figure(units.share * spec.secondary.line_to_line_v, "V", 1),
            system=spec.secondary.name,
        )
        mend = Message("Units of another ratio, another tap, or another connection.")
        where = f"{key}.transformer.secondary"
        solved.findings.append(Finding(Severity.WARN, "transformer.other_volts", message, None, where, mend))
    if units.stacked:
        message = Message("No isolation: what hangs on it stands on the supply, and has its earth.")
        rule = book.rule("auto_restricted")
        solved.findings.append(Finding(Severity.NOTE, "auto.not_isolated", message, rule, f"{key}.transformer.made_as"))


_VA_IN_KVA = 1000.0
_FAR = 0.06  # of nominal, as equipment's own volts differ (common practice)
_LEG_MARGIN = 1.005  # volts are named rounded, 208Y/120
