"""What inverters feed back, summed over all below: through runs, onto the buses on the way up, through transformers."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from voltaje.books.machines import InverterAsked
from voltaje.books.questions import Book, Inverters
from voltaje.design.checks import BY_HAND
from voltaje.design.solution import NodeSolution
from voltaje.errors import Refused
from voltaje.findings import Finding, Severity
from voltaje.message import Figure, Message
from voltaje.path.kinds import Kind
from voltaje.path.model import Node
from voltaje.rounding import DUST
from voltaje.sheet import off
from voltaje.systems import THREE_PHASE

_VA_IN_KVA = 1000.0


def through(node: Node, solved: NodeSolution, back: Mapping[str, float], book: Book) -> None:
    """A run through which inverters can feed back is sized for its loads alone: say so, with what comes back [A]."""
    most = max(back.values(), default=0.0)
    if not most or node.kind in (Kind.INVERTER, Kind.SOURCE):
        return
    need, design = most * book.terms.continuous_factor, solved.design
    holds = design and min(design.choice.device_a, design.capacity.ampacity_a) >= need - DUST
    message = Message(
        "{most} can flow back here, {need} as continuous load: this run is sized for what hangs below it alone.",
        most=Figure(most, "A", 1),
        need=Figure(need, "A", 1),
    )
    if holds:
        message = Message("{most} can flow back here; device and conductors hold it.", most=Figure(most, "A", 1))
        if node.kind is Kind.BOARD and node.board.bus_a is None:
            message = Message(
                "{most} can flow back here; device and conductors hold it. Its busbar is not entered.",
                most=Figure(most, "A", 1),
            )
    severity = Severity.NOTE if holds else Severity.STOP
    solved.findings.append(
        Finding(severity, "run.fed_back", message, book.rule("feed_back"), node.id, None if holds else BY_HAND)
    )
    if node.kind is Kind.TRANSFORMER:
        _unit(node, solved, most)


def _unit(node: Node, solved: NodeSolution, most: float) -> None:
    """Hold a transformer's rating against what goes back through it; most: of its primary's lines [A]."""
    if solved.unit is None:
        return
    spread = math.sqrt(THREE_PHASE) if len(solved.legs) == THREE_PHASE else 1.0
    back_kva, kva = spread * solved.nominal_v * most / _VA_IN_KVA, solved.unit.plate.kva
    if back_kva <= kva * (1 + DUST):
        return
    message = Message(
        "{back} can flow back through it: {percent} of its {kva}.",
        back=Figure(back_kva, "kVA", 1),
        percent=Figure(back_kva / kva * 100, "%"),
        kva=Figure(kva, "kVA", 1),
    )
    mend = Message("A larger transformer, or less that feeds back.")
    solved.findings.append(Finding(Severity.STOP, "transformer.fed_back", message, None, node.id, mend))


def bus(
    node: Node, solved: NodeSolution, circuits: Sequence[NodeSolution], back: Mapping[str, float], book: Book
) -> None:
    """Hold a board's bus against what protects it and all that feeds back onto it, however far below that stands.

    What protects it is its main, or the device at the head of its feeder: the smaller of the two.
    Source: NEC 705.12(B) (either way of it), IEC 60364-5-551 551.7.2.
    """
    most, rating = max(back.values(), default=0.0), node.board.bus_a
    if not most or rating is None or node.kind is not Kind.BOARD:
        return
    ahead = solved.design.choice.device_a if solved.design else node.run.pins.device_a
    main = min((each for each in (node.board.main_a, ahead) if each), default=None)
    if main is None:
        return
    asked = InverterAsked(most, len(solved.legs), None, "domestic", False, {}, main, None)
    try:
        rule = book.asked(Inverters).breaker(asked, off())
    except Refused:
        return
    need = rule.busbar_needed_a
    if need is None or need <= rating + DUST:
        return
    devices = [each.design.choice.device_a if each.design else each.node.run.pins.device_a for each in circuits]
    if book.terms.family == "nec" and all(devices) and sum(each or 0.0 for each in devices) <= rating + DUST:
        message = Message(
            "Its bus, {bus}, bears it by the sum of its devices but the main, {sum}: no more may be added to it.",
            bus=Figure(rating, "A"),
            sum=Figure(sum(each or 0.0 for each in devices), "A"),
        )
        solved.findings.append(Finding(Severity.NOTE, "inverter.busbar", message, rule.busbar_rule, f"{node.id}.bus_a"))
        return
    message = Message(
        "Its bus, {bus}, is under the {need} that {main} and the {back} that can flow back ask for.",
        bus=Figure(rating, "A"),
        need=Figure(need, "A", 1),
        main=Figure(main, "A"),
        back=Figure(most, "A", 1),
    )
    mend = Message("A smaller main, a larger board, or connect ahead of the main.")
    solved.findings.append(
        Finding(Severity.STOP, "inverter.busbar", message, rule.busbar_rule, f"{node.id}.bus_a", mend)
    )
