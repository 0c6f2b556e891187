"""What there is to say of transformers: how they are joined, and what hangs on them."""

from __future__ import annotations

from collections.abc import Sequence

from voltaje.design.leaves import Flow
from voltaje.design.solution import NodeSolution
from voltaje.findings import Finding, Severity
from voltaje.message import Figure, Message
from voltaje.path.model import Node, TransformerSpec
from voltaje.physics.reflection import Connection
from voltaje.systems import System

_THREE_PHASE = 3
_DUST = 1e-6


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


def loading(node: Node, spec: TransformerSpec, solved: NodeSolution, flows: Sequence[Flow], secondary: System) -> None:
    """More than a transformer's rating, in all or in one of its windings."""
    rated = spec.kva * _VA_IN_KVA
    mend = Message("Take a larger transformer, or move load off it.")
    if solved.demand_va > rated * (1 + _DUST):
        message = Message(
            "{demand} on a transformer of {rated}: {percent} of its rating.",
            demand=Figure(solved.demand_va / _VA_IN_KVA, "kVA", 1),
            rated=Figure(spec.kva, "kVA", 1),
            percent=Figure(solved.demand_va / rated * 100, "%"),
        )
        solved.findings.append(Finding(Severity.STOP, "transformer.overloaded", message, None, node.id, mend))
        return
    low = [leg for leg, _angle in secondary.legs if leg != secondary.high_leg]
    if not secondary.line_to_neutral_v or len(low) == 1:
        return
    each = rated / len(secondary.legs) if not secondary.high_leg else rated / _THREE_PHASE
    drawn = {leg: max(abs(flow.level.get(leg, 0j)) for flow in flows) * secondary.to_middle_v(leg) for leg in low}
    leg = max(low, key=lambda leg: drawn[leg])
    if drawn[leg] > each * _LEG_MARGIN:
        message = Message(
            "{va} on one winding, {leg}, rated {each}: the load is uneven.",
            va=Figure(drawn[leg] / _VA_IN_KVA, "kVA", 1),
            leg=leg,
            each=Figure(each / _VA_IN_KVA, "kVA", 1),
        )
        mend = Message("Spread the single-phase loads over the legs, or take a larger transformer.")
        solved.findings.append(Finding(Severity.WARN, "transformer.winding_overloaded", message, None, node.id, mend))


_VA_IN_KVA = 1000.0
_LEG_MARGIN = 1.005  # volts are named rounded, 208Y/120
