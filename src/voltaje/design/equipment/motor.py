"""A motor on its circuit: what its book says, its run sized, how it starts, what another voltage does to it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from voltaje.books.answers import Guard, Run
from voltaje.books.machines import Motor, MotorCircuit
from voltaje.books.questions import Book, Motors
from voltaje.design.chain import Pins, RunDesign, size_run
from voltaje.findings import Finding, Severity
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.load import LoadSpec
from voltaje.physics.starting import Start, starting
from voltaje.sheet import Citation, Sheet, off

PERCENT = Formula("100 * rated / supply")
SQUARE = Formula("100 * (rated / supply) * (rated / supply)")
TORQUE = Formula("100 * (supply / rated) * (supply / rated)")

_KEPT = 4_000
MOTOR_EXEMPT = "motor"
_OFF_PERCENT = 5.0
_USUAL_START_COSINE = 0.35  # standing motors, common practice


@dataclass(frozen=True)
class AtVolts:
    """What a motor does at another voltage than its own, carrying the same load [%]."""

    current_percent: float
    heating_percent: float
    torque_percent: float


@dataclass(frozen=True)
class MotorRun:
    """A motor's circuit sized."""

    circuit: MotorCircuit
    design: RunDesign
    start: Start | None
    findings: tuple[Finding, ...]


def motor_of(load: LoadSpec, amps: float | None, volts: float, phases: int) -> Motor:
    """Return a load as a motor by its plate: by its output as the tables have it, else by its own current [A]."""
    hp = load.rating.value if load.rating.unit == "hp" else None
    kw = load.rating.value / _W_IN_KW if load.rating.is_watts else None
    alone = hp is None and kw is None
    return Motor(
        hp,
        kw,
        volts,
        phases,
        load.motor_type,
        load.design,
        load.nameplate_a or (amps if alone else None),
        load.service_factor,
        load.temp_rise_c,
        load.duty,
        load.device_kind,
        alone or load.by_plate,
    )


_W_IN_KW = 1000.0


@lru_cache(maxsize=_KEPT)
def circuit_of(motor: Motor, book: Book) -> MotorCircuit:
    """Return what a book says of a motor's circuit, without its steps. Raises InputError at the motor's field."""
    return book.asked(Motors).circuit(motor, off())


def guarded(run: Run, circuit: MotorCircuit, book: Book) -> Run:
    """Return the run with what its motor asks of it: conductors at 125 %, a device of its own rule."""
    if not circuit.short_circuit_only:
        return run._replace(least_device_a=circuit.device.first_a)
    reach = circuit.device
    rule = book.rule("motor_device_most") or book.device_rule
    return run._replace(
        amps=circuit.flc_a,
        continuous_a=0.0,
        needed_a=circuit.conductor_min_a,
        installed_a=circuit.conductor_min_a,
        terminal_c=run.terminal_c or circuit.terminal_c,
        surroundings=run.surroundings.with_exempt(MOTOR_EXEMPT),
        guard=Guard(reach.first_a, reach.most_a, circuit.ground_device_a, rule),
    )


def motor_run(
    motor: Motor, run: Run, pins: Pins, book: Book, sheet: Sheet, source_ohm: complex = 0j, tap: float = 1.0
) -> MotorRun:
    """Return a motor's circuit sized. Raises InputError at the field that stands in the way.

    run: what it lies in; its amperes are the motor's; source_ohm: the impedance before it, of a line [Ω]
    tap: share of the volts that the starter gives the motor
    """
    circuit = book.asked(Motors).circuit(motor, sheet)
    asked = guarded(run._replace(amps=circuit.flc_a), circuit, book)
    design = size_run(asked, pins, book, sheet)
    start = None
    if circuit.locked_rotor_a and (run.length_m or source_ohm):
        path = source_ohm + _path_ohm(design, book)
        start = starting(circuit.locked_rotor_a, run.volts, motor.phases, path, _USUAL_START_COSINE, tap)
    return MotorRun(circuit, design, start, (*circuit.findings, *design.findings))


def _path_ohm(design: RunDesign, book: Book) -> complex:
    """Return the impedance of one line of a run [Ω]."""
    run, choice = design.run, design.choice
    if not run.length_m:
        return 0j
    found = book.impedance(run, choice.size, False)
    lengths = run.length_m / found.unit_m / 1000 / choice.sets
    return complex(found.resistance, found.reactance) * lengths


def at_volts(rated_v: float, supply_v: float, sheet: Sheet) -> AtVolts:
    """Return current, heating and torque at another voltage, the load the same.

    Source: physics of induction motors near their rating: current as 1/V, its heating as 1/V², torque as V².
    """
    values = {"rated": rated_v, "supply": supply_v}
    with sheet.section("volts"):
        return AtVolts(
            sheet.apply(PERCENT, Message("Current, as 1/V"), "%", None, None, **values),
            sheet.apply(SQUARE, Message("Heating, as 1/V²"), "%", None, None, **values),
            sheet.apply(TORQUE, Message("Torque, as V²"), "%", None, None, **values),
        )


def off_its_volts(rated_v: float, supply_v: float, rule: Citation | None, field: str) -> Finding | None:
    """Return the finding of a motor whose rated volts are more than 5 % off what it gets, with its mends."""
    off = (supply_v / rated_v - 1) * 100
    if abs(off) <= _OFF_PERCENT + 1e-9:
        return None
    message = Message(
        "A {rated} motor on {supply}: {off} off its voltage; it draws {amps} of its current and has {torque} of its "
        "torque.",
        rated=Figure(rated_v, "V"),
        supply=Figure(supply_v, "V"),
        off=Figure(abs(off), "%", 1),
        amps=Figure(PERCENT.value(rated=rated_v, supply=supply_v), "%"),
        torque=Figure(TORQUE.value(rated=rated_v, supply=supply_v), "%"),
    )
    mend = Message("Another tap of the transformer, a boost transformer, or a machine for this voltage.")
    return Finding(Severity.WARN, "motor.off_volts", message, rule, field, mend)
