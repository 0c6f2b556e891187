"""Bolted short circuit down a path: at every transformer and board, held against what its devices can interrupt."""

from __future__ import annotations

from voltaje.books.questions import Book
from voltaje.design.chain import RunDesign
from voltaje.design.solution import NodeSolution
from voltaje.findings import Finding, Severity
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.kinds import Kind
from voltaje.path.model import SupplySpec
from voltaje.physics.fault import Met, at_source, behind, most_a, stacked

OHMS = Formula("length * value / 1000 / sets")
_IN_KA = 1000.0
_CLOSE = 0.95  # of a rating: conductors that are not hot yet let more through than the tables' do

_NOT_KNOWN = Message("not known: enter the source's short circuit, or the transformer's impedance")
_INFINITE = Message("the source taken as infinite: the most it can be")
_BY_SOURCE = Message("from the source's own, conductors as their table has them")


def begin(solved: NodeSolution, supply: SupplySpec) -> None:
    """Give a source what a fault meets there, and its measured volts."""
    if supply.fault_ka:
        solved.met = at_source(supply.fault_ka * _IN_KA, solved.system)
        solved.fault_a = supply.fault_ka * _IN_KA
    if supply.measured_v:
        solved.supply_share = supply.measured_v / solved.system.line_to_line_v


def reach(solved: NodeSolution, above: NodeSolution, book: Book) -> None:
    """Give a board or transformer what a fault draws at it, and judge its devices."""
    before = _behind(above) if above.unit else above.met
    design = solved.design
    if before is not None:
        met = before.further(*_ohms(design, solved, book)) if design and design.run.length_m else before
        solved.met = met
        solved.fault_a = most_a(met, solved.system, solved.legs)
        with solved.sheet.section("fault"):
            because = _INFINITE if met.infinite else _BY_SOURCE
            solved.sheet.read(abs(met.line), Message("Impedance of each line to here"), "Ω", None)
            solved.sheet.read(solved.fault_a, Message("Bolted short circuit"), "A", None, because)
    if solved.node.kind is Kind.BOARD:
        _judge(solved, book)


def short_circuit_behind(solved: NodeSolution) -> float | None:
    """Return what a bolted fault draws at a transformer's own secondary [A]; None without its impedance."""
    met, spec = _behind(solved), solved.node.transformer
    if met is None or spec is None:
        return None
    return most_a(met, spec.secondary, tuple(leg for leg, _angle in spec.secondary.legs))


def _behind(solved: NodeSolution) -> Met | None:
    unit, spec = solved.unit, solved.node.transformer
    if unit is None or spec is None or not spec.impedance_percent:
        return None
    legs, plate = len(solved.legs), unit.plate
    if unit.made:
        plate = plate._replace(impedance_percent=unit.made.fault_percent)
    if unit.made and unit.stacked:
        to_ground = unit.made.to_ground_v(solved.system, solved.legs)
        return stacked(plate, solved.met, legs, spec.secondary, to_ground)
    return behind(plate, solved.met, legs, spec.secondary)


def _ohms(design: RunDesign, solved: NodeSolution, book: Book) -> tuple[complex, complex | None]:
    """Return the impedance of a run's line and of its neutral [Ω]."""
    line = _of(design, design.choice.size, book)
    if not solved.system.line_to_neutral_v:
        return line, None
    return line, _of(design, design.neutral or design.choice.size, book)


def _of(design: RunDesign, size: str, book: Book) -> complex:
    found = book.cold_impedance(design.run, size)
    length, sets = (design.run.length_m or 0.0) / found.unit_m, design.choice.sets
    return complex(
        OHMS.value(length=length, value=found.resistance, sets=sets),
        OHMS.value(length=length, value=found.reactance, sets=sets),
    )


def _judge(solved: NodeSolution, book: Book) -> None:
    rating, key, rule = solved.node.board.fault_ka, solved.node.id, book.rule("interrupting")
    where = f"{key}.fault_ka"
    if rating is None:
        if solved.fault_a is not None:
            message = Message(
                "{fault} can flow here at most: no interrupting rating is entered to hold it against.",
                fault=Figure(solved.fault_a / _IN_KA, "kA", 1),
            )
            solved.findings.append(Finding(Severity.NOTE, "device.interrupting_not_entered", message, rule, where))
        return
    if solved.fault_a is None:
        message = Message("Its interrupting rating is not judged: the short circuit is {why}.", why=_NOT_KNOWN)
        solved.findings.append(Finding(Severity.NOTE, "device.interrupting_not_judged", message, rule, where))
        return
    fault = solved.fault_a / _IN_KA
    figures = {"fault": Figure(fault, "kA", 2), "rating": Figure(rating, "kA", 2)}
    if fault > rating:
        message = Message("{fault} can flow here, over the {rating} that its devices interrupt.", **figures)
        mend = Message("Devices of a higher rating, a tested series rating, or more impedance before them.")
        solved.findings.append(Finding(Severity.STOP, "device.interrupting", message, rule, where, mend))
    elif fault > rating * _CLOSE:
        message = Message(
            "{fault} can flow here, close to the {rating} of its devices: cold conductors let more through.", **figures
        )
        solved.findings.append(Finding(Severity.WARN, "device.interrupting_close", message, rule, where))
