"""Feeders of motors on a path: what hangs below each, how far its device may go, when it guards its motors alone."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from voltaje.books.answers import Guard, Run
from voltaje.books.machines import FeederMotor
from voltaje.books.questions import Book, Compressors, Motors
from voltaje.design.chain import DUST_A, Pins, plain_need
from voltaje.design.equipment.motor import circuit_of, motor_of
from voltaje.design.solution import NodeSolution
from voltaje.errors import NotCovered, Refused
from voltaje.path.kinds import LOAD_KINDS, Kind, LoadKind
from voltaje.path.load import LoadSpec
from voltaje.path.model import Node
from voltaje.rounding import exceeds
from voltaje.sheet import off

_KINDS = tuple(kind for kind, traits in LOAD_KINDS.items() if traits.motor)


def motors_below(order: Sequence[Node], nodes: Mapping[str, NodeSolution], book: Book) -> dict[str, list[FeederMotor]]:
    """Return the motors below each node that feeds some, through boards, not through transformers.

    order: parents before children. Motor-compressors are motors among them (440.33): the largest of all counts, once.
    """
    below: dict[str, list[FeederMotor]] = {}
    for node in reversed(order):
        load = node.load
        if load and load.counts_as not in _KINDS:
            continue
        mine = [*_own(node, nodes[node.id], book), *below.get(node.id, ())]
        if mine and node.parent and node.kind is not Kind.TRANSFORMER:
            below.setdefault(node.parent, []).extend(mine)
    return below


def _own(node: Node, solved: NodeSolution, book: Book) -> list[FeederMotor]:
    """Return a load as a motor of its feeder: its current, the device that guards it; nothing of any other load."""
    load = node.load
    if load is None or load.count > 1 or not solved.amps:
        return []
    amps = max(solved.amps.values())
    try:
        if load.counts_as is LoadKind.MOTOR and node.kind is Kind.LOAD:
            circuit = circuit_of(motor_of(load, amps, solved.nominal_v, load.phases), book)
            device = node.run.pins.device_a or circuit.device.first_a
            return [FeederMotor(circuit.flc_a, device)] if circuit.short_circuit_only else []
        if _is_compressor(load, book):
            found = book.asked(Compressors).circuit(amps, None, load.mca, load.mop, off())
            return [FeederMotor(amps, node.run.pins.device_a or found.device_a)]
    except Refused:
        pass  # its own circuit tells why
    return []


def _is_compressor(load: LoadSpec, book: Book) -> bool:
    """Return whether a load is a motor-compressor behind a device of its own rule."""
    return load.counts_as is LoadKind.COOLING and book.terms.family == "nec"


def fed(run: Run, pins: Pins, motors: Sequence[FeederMotor], solved: NodeSolution, book: Book) -> Run:
    """Return a feeder's run, and say on its node how far its device may go.

    Where a device was chosen that the rule of motor feeders lets be, it guards against short circuit alone: the
    conductors are as the motors ask (240.4(G), 430.62, 430.63), the drop is that of what runs.
    """
    rules, rule = book.asked(Motors), book.rule("motor_feeder_device")
    largest = max(each.flc_a for each in motors)
    # What the board draws has the largest motor's addition in it: here that is reckoned by the rule itself.
    added = largest * rules.extra_of_largest
    counted = sum(each.flc_a for each in motors) + added
    continuous = min(run.continuous_a, max(run.amps - counted, 0.0))
    others = max(max(solved.amps.values()) - counted - continuous, 0.0)
    others = others if exceeds(others, 0.0) else 0.0
    try:
        with solved.sheet.section("device"):
            feeder = rules.feeder(motors, others, continuous, solved.sheet)
    except NotCovered:
        return run
    solved.motors_most_a = most = feeder.device_max_a
    device = pins.device_a
    if rule is None or device is None or exceeds(device, most) or device < plain_need(run, book) - DUST_A:
        return run
    return run._replace(
        guard=Guard(device, most, device, rule),
        needed_a=feeder.conductor_min_a,
        continuous_a=0.0,
        amps=max(run.amps - added, 0.0),
        installed_a=feeder.conductor_min_a,
    )
