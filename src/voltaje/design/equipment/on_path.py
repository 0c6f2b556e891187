"""Equipment whose circuit has rules of its own, as it stands on a path: motors, compressors, inverters."""

from __future__ import annotations

import math

from voltaje.books.answers import Guard, Run
from voltaje.books.machines import InverterAsked, WelderAsked
from voltaje.books.questions import Book, Compressors, Motors, Welders
from voltaje.design.equipment.cooking import nothing_to_spare, taps_of
from voltaje.design.equipment.inverter import inverter_device, inverter_run, usual_factors
from voltaje.design.equipment.kitchen import branch, units_of
from voltaje.design.equipment.kitchen import circuit_of as kitchen_of
from voltaje.design.equipment.motor import circuit_of, guarded, motor_of, off_its_volts
from voltaje.design.solution import NodeSolution
from voltaje.design.transformers.on_path import primary_run
from voltaje.errors import NotCovered
from voltaje.findings import Finding, Severity
from voltaje.message import Figure, Message
from voltaje.path.kinds import Kind, LoadKind
from voltaje.path.load import LoadSpec
from voltaje.rounding import exceeds
from voltaje.sheet import Sheet, off
from voltaje.systems import THREE_PHASE

_KEPT = 4_000
_COOLING, _WELDER = "cooling", "welder"


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
    if load.kind is LoadKind.WELDER and book.terms.family == "nec":
        return _welder(run, load, solved, book)
    if load.kind is LoadKind.COOLING and book.terms.family == "nec":
        return _compressor(run, load, solved, book)
    return run


def _motor(run: Run, load: LoadSpec, solved: NodeSolution, book: Book) -> Run:
    if load.count > 1:
        raise NotCovered("load.count", Message("several motors on one circuit: give each a circuit of its own"))
    motor = motor_of(load, max(solved.amps.values()), run.volts, run.phases)
    circuit = circuit_of(motor, book)
    if solved.sheet.on:
        told = Sheet()
        book.asked(Motors).circuit(motor, told)
        for section in ("device", "conductor", "overload"):
            solved.sheet.take(told.of(section), section)
    solved.motor = circuit
    solved.findings.extend(each for each in circuit.findings if each.code != "motor.no_nameplate")
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
        continuous_a=0.0,
        needed_a=found.conductor_a,
        installed_a=found.conductor_a,
        guard=Guard(found.device_a, max(found.device_max_a, found.device_a), found.device_a, rule),
        surroundings=run.surroundings.with_exempt(_COOLING),
    )


def _welder(run: Run, load: LoadSpec, solved: NodeSolution, book: Book) -> Run:
    if load.count > 1:
        raise NotCovered("load.count", Message("several welders on one circuit: give each a circuit of its own"))
    rated = solved.connected_va / (solved.nominal_v * (math.sqrt(THREE_PHASE) if load.phases == THREE_PHASE else 1))
    told = Sheet() if solved.sheet.on else off()
    pinned = solved.node.run.pins.device_a
    found = book.asked(Welders).circuit(WelderAsked(rated, load.welder, load.duty_percent, pinned), told)
    for section in ("device", "conductor"):
        solved.sheet.take(told.of(section), section)
    return run._replace(
        continuous_a=0.0,
        needed_a=found.conductor_a,
        installed_a=found.conductor_a,
        guard=Guard(found.device_a, found.device_max_a, found.device_a, found.rule),
        surroundings=run.surroundings.with_exempt(_WELDER),
    )


def _kitchen(run: Run, load: LoadSpec, solved: NodeSolution, book: Book) -> Run:
    if load.rating.unit != "VA" or solved.node.run.pins.demand_va or book.terms.family != "nec":
        return run
    told = Sheet() if solved.sheet.on else off()
    circuit = kitchen_of(load, run.volts, book, told)
    solved.sheet.take(told.of("device"), "device")
    sized = branch(run, circuit, circuit.device_a)
    # On two legs of a wye the neutral of a range is not reduced, whatever the branch rule says elsewhere.
    neutral = run.neutral if solved.system.is_wye_pair(solved.legs) else sized.neutral
    if circuit.taps and not circuit.tap_allowed:
        message = Message("A {device} circuit may not be tapped.", device=Figure(circuit.device_a, "A"))
        rule = book.rule("cooking_taps")
        solved.findings.append(Finding(Severity.STOP, "cooking.not_tapped", message, rule, solved.node.id))
    solved.findings.extend(nothing_to_spare(circuit, book, f"{solved.node.id}.run.pins.device_a"))
    if circuit.taps:
        lengths = [part.length_m for part in load.parts]
        solved.taps = taps_of(units_of(load), lengths, circuit, run, "", book, told)
        solved.sheet.take(told.of("taps"), "taps")
    return sized._replace(neutral=neutral)


def _inverter(run: Run, solved: NodeSolution, above: NodeSolution, book: Book) -> Run:
    around, board = solved.node.run.surroundings, above.node.board
    entered = {
        "ambient": around.breaker_ambient,
        "neighbours": around.breaker_neighbours,
        "enclosure": around.breaker_enclosure,
    }
    amps = max(solved.amps.values())
    asked = InverterAsked(
        amps,
        run.phases,
        run.ambient_c,
        "domestic",
        False,
        {key: value for key, value in entered.items() if value is not None},
        board.main_a,
        None,
    )
    rule, device = inverter_device(asked, book, solved.sheet)
    solved.findings.extend(usual_factors(rule, device, book, f"{solved.node.id}.run.breaker_neighbours"))
    pinned, kept = solved.node.run.pins.device_a, rule.factors.all
    if pinned and pinned < device and exceeds(rule.needed_a, pinned * kept):
        message = Message(
            "{device} keeps {share} of its rating where it stands, under the {need} that it must carry.",
            device=Figure(pinned, "A"),
            share=Figure(kept * 100, "%"),
            need=Figure(rule.needed_a, "A", 1),
        )
        where = f"{solved.node.id}.run.pins.device_a"
        solved.findings.append(Finding(Severity.STOP, "device.under_load", message, book.device_rule, where))
    # What the breaker keeps is in its rating already.
    plain = around.without_breaker_factors()
    return inverter_run(run, rule, device)._replace(surroundings=plain)
