"""What each service of a job connects to earth, by the run that brings it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import lru_cache

from voltaje.books.machines import Earthing, EarthingAsked
from voltaje.books.questions import Book, Demands, Earthings
from voltaje.design.solution import NodeSolution
from voltaje.errors import Refused
from voltaje.findings import Finding, Severity
from voltaje.message import Figure, Message
from voltaje.path.model import Node
from voltaje.path.run import Role
from voltaje.sheet import Sheet, off
from voltaje.systems import THREE_PHASE


def services(order: Sequence[Node], nodes: Mapping[str, NodeSolution], book: Book) -> None:
    """Give every service what it connects to earth; where its book has no rule of it, nothing."""
    for node in order:
        solved = nodes[node.id]
        design = solved.design
        if design is None or node.parent is None or design.run.role != Role.SERVICE:
            continue
        supply = nodes[node.parent].node.supply
        asked = EarthingAsked(
            design.choice.size,
            design.run.material,
            design.choice.sets,
            design.choice.sets,
            ring_size=supply.ring_size,
            system=supply.earthing,
            supply_neutral=supply.neutral_mm2,
            neutral=design.neutral,
        )
        solved.earthing = _earthing(book, asked, solved.sheet) if solved.sheet.on else _worked_before(book, asked)


def limits(order: Sequence[Node], nodes: Mapping[str, NodeSolution], book: Book) -> None:
    """Hold each supply's service disconnects against what bounds them: their number; ground-fault protection."""
    for node in order:
        _over_single_phase(nodes[node.id], book)
    known = book.asked(Demands).service_limits()
    if known is None:
        return
    of_supply: dict[str, int] = {}
    for node in order:
        solved = nodes[node.id]
        design, system = solved.design, solved.system
        if design is None or node.parent is None or design.run.role != Role.SERVICE:
            continue
        of_supply[node.parent] = of_supply.get(node.parent, 0) + 1
        volts = (system.line_to_neutral_v or 0.0) if len(system.legs) == THREE_PHASE and not system.high_leg else 0.0
        if design.choice.device_a >= known.ground_fault_from_a and volts > known.ground_fault_over_v:
            message = Message(
                "A disconnect of {device} at {volts} to ground has ground-fault protection of equipment.",
                device=Figure(design.choice.device_a, "A"),
                volts=Figure(volts, "V"),
            )
            mend = Message("Say so on the drawing and order it with the gear; test it when it is set up.")
            found = Finding(Severity.WARN, "service.ground_fault", message, known.ground_fault_rule, node.id, mend)
            solved.findings.append(found)
    for key, number in of_supply.items():
        if number > known.most_disconnects:
            message = Message(
                "{n} service disconnects on one supply: {most} at most.", n=number, most=f"{known.most_disconnects:g}"
            )
            mend = Message("Feed some from a common service board.")
            found = Finding(Severity.STOP, "service.disconnects", message, known.disconnects_rule, key, mend)
            nodes[key].findings.append(found)


def _over_single_phase(solved: NodeSolution, book: Book) -> None:
    """A single-phase service over what is usually to be had, where its network gives three phases too."""
    design, usual = solved.design, book.usual_single_phase_a
    if design is None or design.run.role != Role.SERVICE or len(solved.system.legs) > 1:
        return
    if book.terms.family == "nec" or design.choice.device_a <= usual:
        return
    message = Message(
        "{device} on a single phase: {usual} is the most that is usually given.",
        device=Figure(design.choice.device_a, "A"),
        usual=Figure(usual, "A"),
    )
    mend = Message("Diversity for its circuits, a limit on the charger, or three phases; ask the distributor.")
    where = f"{solved.node.id}.run.pins.device_a"
    solved.findings.append(Finding(Severity.WARN, "service.single_phase", message, None, where, mend))


def _earthing(book: Book, asked: EarthingAsked, sheet: Sheet) -> Earthing | None:
    try:
        return book.asked(Earthings).earthing(asked, sheet)
    except Refused:
        return None  # its own conductors say why


@lru_cache(maxsize=4_000)
def _worked_before(book: Book, asked: EarthingAsked) -> Earthing | None:
    """Return it without its steps: the same service, as after an edit elsewhere, is worked out once."""
    return _earthing(book, asked, off())
