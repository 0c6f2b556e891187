"""Equipment whose circuit has rules of its own, as it stands on a path: motors, compressors, inverters."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import lru_cache

from voltaje.books.answers import Guard, Run
from voltaje.books.machines import FeederMotor, InverterAsked, Motor, MotorCircuit
from voltaje.books.questions import Book, Compressors, Motors
from voltaje.design.chain import Pins, sized
from voltaje.design.equipment.cooking import taps_of
from voltaje.design.equipment.inverter import inverter_device, inverter_run
from voltaje.design.equipment.kitchen import branch, circuit_of, units_of
from voltaje.design.equipment.motor import guarded, off_its_volts
from voltaje.design.solution import NodeSolution
from voltaje.design.transformers.on_path import primary_run
from voltaje.errors import NotCovered, Refused
from voltaje.findings import Finding, Severity
from voltaje.message import Figure, Message
from voltaje.path.kinds import Kind, LoadKind
from voltaje.path.model import LoadSpec, Node
from voltaje.rounding import exceeds
from voltaje.sheet import Sheet, off

_KEPT = 4_000
_COOLING = "cooling"


def equipped(run: Run, solved: NodeSolution, above: NodeSolution, book: Book) -> Run:
    """Return the run with what its equipment asks of it; the steps and findings are the node's.

    Raises: Refused at the field that stands in the way; NotCovered for several motors on one circuit.
    """
    node, load = solved.node, solved.node.load
    if node.transformer:
        return primary_run(run, node.transformer, solved, book)
    if load is None:
        return run
    if node.kind is Kind.INVERTER:
        return _inverter(run, solved, above, book)
    if load.counts_as is LoadKind.MOTOR:
        return _motor(run, load, solved, book)
    if load.kind is LoadKind.RANGE and load.count == 1 and (load.parts or (load.household and len(solved.legs) > 1)):
        return _kitchen(run, load, solved, book)
    if load.kind is LoadKind.COOLING and book.terms.family == "nec":
        return _compressor(run, load, solved, book)
    return run


def motor_of(load: LoadSpec, amps: float, volts: float, phases: int) -> Motor:
    """Return a load as a motor by its plate: by its output as the tables have it, else by its own current [A]."""
    hp = load.rating.value if load.rating.unit == "hp" else None
    kw = load.rating.value / _W_IN_KW if load.rating.is_watts else None
    alone = hp is None and kw is None
    return Motor(
        hp, kw, volts, phases, design=load.design,
        nameplate_a=load.nameplate_a or (amps if alone else None),
        service_factor=load.service_factor, device_kind=load.device_kind, by_plate=alone,
    )  # fmt: skip


_W_IN_KW = 1000.0


@lru_cache(maxsize=_KEPT)
def _circuit(motor: Motor, book: Book) -> MotorCircuit:
    return book.asked(Motors).circuit(motor, off())


def _motor(run: Run, load: LoadSpec, solved: NodeSolution, book: Book) -> Run:
    if load.count > 1:
        raise NotCovered("load.count", Message("several motors on one circuit: give each a circuit of its own"))
    motor = motor_of(load, max(solved.amps.values()), run.volts, run.phases)
    circuit = _circuit(motor, book)
    if solved.sheet.on:
        told = Sheet()
        book.asked(Motors).circuit(motor, told)
        for section in ("device", "conductor", "overload"):
            solved.sheet.take(told.of(section), section)
    solved.motor = circuit
    if load.volts is not None:
        off_volts = off_its_volts(load.volts, run.volts, book.rule("motor_amperes"), f"{solved.node.id}.load.volts")
        solved.findings.extend([off_volts] if off_volts else [])
    return guarded(run, circuit, book)


def _compressor(run: Run, load: LoadSpec, solved: NodeSolution, book: Book) -> Run:
    if load.count > 1:
        return run
    found = book.asked(Compressors).circuit(run.amps, None, load.mca, load.mop, solved.sheet)
    rule = book.rule("cooling_device") or book.device_rule
    return run._replace(
        continuous_a=0.0, needed_a=found.conductor_a, installed_a=found.conductor_a,
        guard=Guard(found.device_a, max(found.device_max_a, found.device_a), found.device_a, rule),
        surroundings=run.surroundings.with_exempt(_COOLING),
    )  # fmt: skip


def _kitchen(run: Run, load: LoadSpec, solved: NodeSolution, book: Book) -> Run:
    if load.rating.unit != "VA" or solved.node.run.pins.demand_va or book.terms.family != "nec":
        return run
    told = Sheet() if solved.sheet.on else off()
    circuit = circuit_of(load, run.volts, book, told)
    solved.sheet.take(told.of("device"), "device")
    sized = branch(run, circuit, circuit.device_a)
    # On two legs of a wye the neutral of a range is not reduced, whatever the branch rule says elsewhere.
    neutral = run.neutral if solved.system.is_wye_pair(solved.legs) else sized.neutral
    if circuit.taps and not circuit.tap_allowed:
        message = Message("A {device} circuit may not be tapped.", device=Figure(circuit.device_a, "A"))
        rule = book.rule("cooking_taps")
        solved.findings.append(Finding(Severity.STOP, "cooking.not_tapped", message, rule, solved.node.id))
    if circuit.taps:
        lengths = [part.length_m for part in load.parts]
        solved.taps = taps_of(units_of(load), lengths, circuit, run, "", book, told)
        solved.sheet.take(told.of("taps"), "taps")
    return sized._replace(neutral=neutral)


def _inverter(run: Run, solved: NodeSolution, above: NodeSolution, book: Book) -> Run:
    around, board = solved.node.run.surroundings, above.node.board
    entered = {"ambient": around.breaker_ambient, "neighbours": around.breaker_neighbours,
               "enclosure": around.breaker_enclosure}  # fmt: skip
    amps = max(solved.amps.values())
    asked = InverterAsked(
        amps, run.phases, run.ambient_c, "domestic", False,
        {key: value for key, value in entered.items() if value is not None}, board.main_a, None,
    )  # fmt: skip
    rule, device = inverter_device(asked, book, solved.sheet)
    # What the breaker keeps is in its rating already.
    plain = around.without_breaker_factors()
    return inverter_run(run, rule, device)._replace(surroundings=plain)


def feeders_of_motors(order: Sequence[Node], nodes: Mapping[str, NodeSolution], book: Book) -> None:
    """Say of every feeder with motors below it how far its device may go. Source: the book's rule of motor feeders.

    Motor-compressors are motors among them (440.33): the largest of all counts, once.
    """
    below: dict[str, list[FeederMotor]] = {}
    for node in reversed(order):
        solved = nodes[node.id]
        mine = below.pop(node.id, [])
        if solved.motor and solved.motor.short_circuit_only and solved.design:
            mine = [FeederMotor(solved.motor.flc_a, solved.design.choice.device_a)]
        elif node.load and _is_compressor(node.load, book) and solved.design:
            mine = [FeederMotor(max(solved.amps.values()), solved.design.choice.device_a)]
        if not mine:
            continue
        if node.kind is Kind.BOARD and solved.design:
            _feeder(mine, solved, book)
        if node.parent and node.kind is not Kind.TRANSFORMER:
            below.setdefault(node.parent, []).extend(mine)


def _is_compressor(load: LoadSpec, book: Book) -> bool:
    """Return whether a load is a single motor-compressor behind a device of its own rule."""
    return load.counts_as is LoadKind.COOLING and load.count == 1 and book.terms.family == "nec"


_OVER_ITS_CONDUCTORS = {"conductor.too_small", "conductor.parallel_too_small"}


def _feeder(motors: Sequence[FeederMotor], solved: NodeSolution, book: Book) -> None:
    design, rules = solved.design, book.asked(Motors)
    if design is None or not any(each.flc_a for each in motors):
        return
    largest = max(each.flc_a for each in motors)
    # What the board draws has the largest motor's addition in it: here that is reckoned by the rule itself.
    counted = sum(each.flc_a for each in motors) + largest * rules.extra_of_largest
    continuous = min(design.run.continuous_a, max(design.run.amps - counted, 0.0))
    others = max(max(solved.amps.values()) - counted - continuous, 0.0)
    others = others if exceeds(others, 0.0) else 0.0
    with solved.sheet.section("device"):
        feeder = rules.feeder(motors, others, continuous, solved.sheet)
    solved.motors_most_a = feeder.device_max_a
    pins, device = solved.node.run.pins, design.choice.device_a
    rule = book.rule("motor_feeder_device")
    objected = {each.code for each in design.findings if each.severity is Severity.STOP}
    guards = objected and objected <= _OVER_ITS_CONDUCTORS
    if rule is None or pins.device_a is None or not guards or exceeds(device, feeder.device_max_a):
        return
    # A device that guards against short circuit alone may be larger than the conductors' own: 240.4(G), 430.62.
    guarded = design.run._replace(
        guard=Guard(device, feeder.device_max_a, device, rule), needed_a=feeder.conductor_min_a,
        installed_a=max(design.run.installed_a, feeder.conductor_min_a),
    )  # fmt: skip
    try:
        again = sized(guarded, Pins(pins.device_a, pins.size, pins.sets or solved.node.run.sets), book)
    except Refused:
        return  # what stands in its way is said already
    solved.findings = [each for each in solved.findings if each not in design.findings] + list(again.findings)
    solved.design = again
