"""The motor-branch tool: one motor, its conductors, its device, its overload, its disconnect, its start."""

from __future__ import annotations

import math
from enum import StrEnum
from typing import ClassVar

from voltaje.books.answers import sets_of
from voltaje.books.machines import Motor
from voltaje.books.questions import Motors
from voltaje.books.registry import find_book
from voltaje.design.chain import Pins
from voltaje.design.equipment.motor import AtVolts, MotorRun, at_volts, motor_run, off_its_volts
from voltaje.errors import InputError
from voltaje.findings import Finding, Severity
from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import (
    AMPS,
    FACTOR,
    HP,
    KW,
    PART,
    RISE,
    VOLTS,
    Json,
    Shape,
    number,
    one_number,
    one_of,
    one_of_words,
    one_word,
)
from voltaje.message import Figure, Message
from voltaje.path.machines import Design, DeviceKind, MotorType
from voltaje.quantity import read_amps
from voltaje.sheet import Sheet, off
from voltaje.systems import THREE_PHASE
from voltaje.tools.asking import DEFAULT_BOOK
from voltaje.tools.conductors import CIRCUIT, OnARun, conductor_of, earth_of, exactly, run_node, said_length, standing
from voltaje.tools.plates import Spread, of_motor
from voltaje.tools.tool import Answered, Group, Head, Tool

MOTOR, START, SUPPLY = Message("Motor"), Message("Starting"), Message("Another voltage")
_LINES = {1: 2, 2: 4, 3: 3}  # conductors that carry, by phases
TYPES = {
    "squirrel_cage": Message("squirrel cage"),
    "wound_rotor": Message("wound rotor"),
    "synchronous": Message("synchronous"),
    "dc": Message("direct current"),
}
DESIGNS = {"B energy-efficient": Message("B, premium"), "other": Message("other")}
DEVICES = {
    "inverse_time_breaker": Message("Inverse-time breaker"),
    "dual_element_fuse": Message("Dual-element fuse"),
    "nontime_delay_fuse": Message("Nontime-delay fuse"),
    "instantaneous": Message("Instantaneous trip"),
}
_STARTS = {
    "direct": Message("across the line"),
    "star_delta": Message("star–delta (wye–delta)"),
    "autotransformer": Message("autotransformer"),
}


def _duties() -> tuple[str, ...]:
    return ("continuous", *find_book(DEFAULT_BOOK).asked(Motors).duties())


DUTY = one_of_words(_duties)
LETTERS = Shape(one_of_words(lambda: tuple("ABCDEFGHJKLMNPRSTUV")).read, {"type": "string", "maxLength": 1})


class MotorPlate(OnARun):
    """What a motor is asked by, wherever it stands."""

    plate: ClassVar[Spread | None] = staticmethod(of_motor)
    plate_at: ClassVar[tuple[str, ...]] = ("hp", "kw", "nameplate_a")

    hp: float | None = declared(
        HP, "rated output in horsepower, as the tables have it", "Power", MOTOR, "hp", family="nec"
    )
    kw: float | None = declared(
        KW, "rated output in kilowatts, in place of hp", "Power in kW", MOTOR, "kW", family="iec"
    )
    volts: float = declared(
        VOLTS,
        "rated or nominal: 115, 200, 208, 230, 460, 575 or 120, 240, 480, 600 V; 230, 400 V (IEC)",
        "Volts",
        MOTOR,
        "V",
        required=True,
    )
    phases: int = declared(one_number(1, 2, 3), "1, 2 or 3", "Phases", MOTOR, shown=3)
    motor_type: MotorType = declared(
        one_of(MotorType),
        "by construction",
        "Kind",
        MOTOR,
        shown="squirrel_cage",
        more=True,
        titles=TYPES,
        family="nec",
        default=MotorType.SQUIRREL_CAGE,
    )
    nameplate_a: float | None = declared(
        AMPS,
        "the plate's own current: sets the overload device only (NEC), is the current (IEC)",
        "Nameplate current",
        MOTOR,
        "A",
    )
    service_factor: float | None = declared(FACTOR, "as marked", "Service factor", MOTOR, family="nec")
    temp_rise_c: float | None = declared(RISE, "as marked", "Temperature rise", MOTOR, "°C", more=True, family="nec")
    duty: str = declared(
        DUTY, f"one of: {', '.join(_duties())}", "Duty", MOTOR, shown="continuous", more=True, family="nec"
    )
    design: Design = declared(
        one_of(Design),
        "design B energy-efficient (premium too), or another",
        "Design",
        MOTOR,
        shown="other",
        titles=DESIGNS,
        family="nec",
        default=Design.OTHER,
    )
    by_plate: str = declared(
        one_word("no", "yes"),
        "yes for motors built for low speed, high torque or several speeds: 430.6(A)(1)",
        "Low speed or high torque",
        MOTOR,
        shown="no",
        more=True,
        family="nec",
    )
    device_kind: DeviceKind = declared(
        one_of(DeviceKind),
        "what guards it against short circuit",
        "Device",
        CIRCUIT,
        shown="inverse_time_breaker",
        titles=DEVICES,
        family="nec",
        default=DeviceKind.INVERSE_TIME_BREAKER,
    )
    code_letter: str = declared(
        LETTERS, "locked-rotor code letter of the plate", "Code letter", START, more=True, family="nec", default=""
    )
    locked_rotor_a: float | None = declared(
        number(0, 60_000, "A", read_amps), "what it draws standing", "Locked-rotor current", START, "A", more=True
    )

    def motor(self) -> Motor:
        """Return the motor. Raises InputError unless its output is given, in one unit."""
        if self.hp is not None and self.kw is not None:
            raise InputError("kw", Message("give hp or kW, not both"))
        if self.hp is None and self.kw is None and not (self.nameplate_a and self.book.terms.family == "iec"):
            raise InputError("kw" if self.book.terms.family == "iec" else "hp", Message("must be given"))
        return Motor(
            self.hp,
            self.kw,
            self.volts,
            self.phases,
            self.motor_type,
            self.design,
            self.nameplate_a,
            self.service_factor,
            self.temp_rise_c,
            self.duty,
            self.device_kind,
            self.by_plate == "yes",
            self.code_letter,
            self.locked_rotor_a,
        )


class MotorAsked(MotorPlate):
    """What a motor's circuit is asked by."""

    start: str = declared(
        one_word("direct", "star_delta", "autotransformer"),
        "how it is started",
        "Start",
        START,
        shown="direct",
        more=True,
        titles=_STARTS,
    )
    tap_percent: float = declared(
        PART, "volts that the autotransformer gives", "Tap", START, shown="65 %", more=True, default=0.65
    )
    source_ka: float | None = declared(
        number(0, 200, "kA"),
        "short-circuit current where the circuit begins; a stiff supply where not given",
        "Short circuit at the panel",
        START,
        "kA",
        more=True,
    )
    supply_v: float | None = declared(
        VOLTS, "what it gets, where that is not its own voltage", "Measured volts", SUPPLY, "V", more=True
    )


def solve(asked: MotorAsked) -> Answered:
    """Return a motor's circuit. Raises InputError at the field that stands in the way."""
    book, sheet, motor = asked.book, Sheet(), asked.motor()
    base = asked.run(1.0, asked.volts, THREE_PHASE if motor.phases > 1 else 1)
    found = motor_run(motor, base, Pins(sets=asked.sets), book, sheet, _source_ohm(asked), _tap(asked))
    circuit, findings = found.circuit, list(found.findings)
    other = at_volts(circuit.rated_v, asked.supply_v, sheet) if asked.supply_v else None
    if asked.supply_v:
        off = off_its_volts(circuit.rated_v, asked.supply_v, book.rule("motor_amperes"), "supply_v")
        findings += [off] if off else []
    findings += _why(found, asked)
    result = {
        **plain_result(found),
        "locked_rotor_a": circuit.locked_rotor_a,
        "start": _start(found),
        "current_percent": other.current_percent if other else None,
        "heating_percent": other.heating_percent if other else None,
        "torque_percent": other.torque_percent if other else None,
        "drop_v": found.design.drop.volts if found.design.drop else None,
        "drop_percent": found.design.drop.percent if found.design.drop else None,
        "rated_v": circuit.rated_v,
    }
    return Answered(
        book, result, sheet.steps, findings, _heads(found, asked), lambda: _facts(asked, found, other), _nodes(asked)
    )


def plain_result(found: MotorRun) -> Json:
    """Return the figures that every door gives of a motor's circuit."""
    circuit, design = found.circuit, found.design
    return {
        "flc_a": circuit.flc_a,
        "conductor_min_a": circuit.conductor_min_a,
        "conductor": conductor_of(design),
        "device_a": circuit.device.first_a,
        "device_max_a": circuit.device.most_a,
        "devices": {
            kind.value: {"device_a": each.first_a, "device_max_a": each.most_a}
            for kind, each in circuit.devices.items()
        },
        "breaker_type": circuit.curve,
        "overload_a": circuit.overload_a,
        "overload_max_a": circuit.overload_max_a,
        "disconnect_min_a": circuit.disconnect_min_a,
        "equipment_ground": earth_of(design.earth),
    }


def _facts(asked: MotorAsked, found: MotorRun, other: AtVolts | None) -> Json:
    circuit = found.circuit
    kinds = [
        {"key": kind.value, "title": DEVICES[kind.value], "reach": reach} for kind, reach in circuit.devices.items()
    ]
    return {
        "asked": asked,
        "found": found,
        "other": other,
        "length": said_length(asked.length),
        "kinds": kinds,
        "curves": _curves(circuit.rated_v) if asked.supply_v else [],
    }


def _curves(rated: float) -> list[Json]:
    """Return current, heating and torque [%] by volts, over 20 % to either side of the rated ones."""
    volts = [rated * (0.8 + 0.01 * at) for at in range(41)]
    found = [at_volts(rated, each, off()) for each in volts]
    return [
        {"key": key, "words": words, "points": [(v, getattr(one, key)) for v, one in zip(volts, found, strict=True)]}
        for key, words in _BY_VOLTS.items()
    ]


_BY_VOLTS = {
    "current_percent": Message("current"),
    "heating_percent": Message("heating"),
    "torque_percent": Message("torque"),
}


def _source_ohm(asked: MotorAsked) -> complex:
    """Return the impedance of a line before the circuit [Ω], by its short-circuit current; its angle is taken as X."""
    if asked.source_ka is None:
        return 0j
    volts = asked.volts / math.sqrt(3) if asked.phases == THREE_PHASE else asked.volts / 2
    return complex(0.0, volts / (asked.source_ka * 1000))


def _tap(asked: MotorAsked) -> float:
    return {"direct": 1.0, "star_delta": 1 / math.sqrt(3)}.get(asked.start, asked.tap_percent)


def _start(found: MotorRun) -> Json | None:
    if found.start is None:
        return None
    start = found.start
    return {"amps": start.amps, "volts": start.volts, "percent": start.percent, "torque_percent": start.torque_percent}


def _why(found: MotorRun, asked: MotorAsked) -> list[Finding]:
    """Return why the device may be larger than its wire's ampacity, and what other terminals would ask."""
    circuit, design, book = found.circuit, found.design, asked.book
    said, ampacity = [], design.capacity.ampacity_a
    if circuit.short_circuit_only and circuit.device.first_a > ampacity:
        message = Message(
            "{device} on {size} is right here: the breaker or fuse guards against short circuit, the overload device "
            "guards wire and motor. Small-conductor limits do not hold for motors.",
            device=Figure(circuit.device.first_a, "A"),
            size=f"{sets_of(design.choice.size, design.choice.sets)} {book.terms.gauge(design.choice.size)}",
        )
        said.append(Finding(Severity.NOTE, "motor.device_over_wire", message, book.rule("motor_small"), "device_a"))
    if design.other and asked.terminal_c is None:
        size = f"{sets_of(design.other.size, design.other.sets)} {book.terms.gauge(design.other.size)}"
        message = Message("With terminals marked otherwise (60 °C against 75 °C) it takes {size}.", size=size)
        said.append(
            Finding(Severity.NOTE, "motor.other_terminals", message, book.rule("motor_terminals"), "terminal_c")
        )
    return said


def _heads(found: MotorRun, asked: MotorAsked) -> tuple[Head, ...]:
    circuit, design, terms = found.circuit, found.design, asked.book.terms
    device = Message("up to {most} if it will not start", most=Figure(circuit.device.most_a, "A"))
    kind = DEVICES[circuit.device_kind.value]
    if not circuit.short_circuit_only:
        kind, device = (
            Message("Breaker"),
            Message("type {curve}", curve=circuit.curve) if circuit.curve else Message("moulded case or fuse"),
        )
    carries = Message(
        "{need} needed, carries {amps}",
        need=Figure(circuit.conductor_min_a, "A", 2),
        amps=Figure(design.capacity.ampacity_a, "A", 1),
    )
    lines = _LINES[asked.phases]
    heads = [
        Head(kind, Figure(circuit.device.first_a, "A"), "", device),
        Head(
            Message("Lines"),
            f"{lines} × {sets_of(design.choice.size, design.choice.sets)}",
            f"{terms.gauge(design.choice.size)} {design.run.material}",
            carries,
        ),
        Head(
            Message("Overload"),
            Figure(circuit.overload_a, "A", 1),
            "",
            Message("never over {most}", most=Figure(circuit.overload_max_a, "A", 1))
            if circuit.short_circuit_only
            else Message("set to the motor's current"),
            main=False,
        ),
        Head(
            Message("Ground") if terms.family == "nec" else Message("Earth"),
            design.earth.size,
            f"{terms.gauge(design.earth.size)} {design.earth.material}",
            Message("no larger than the lines"),
            main=False,
        ),
    ]
    return tuple(heads)


def _nodes(asked: MotorAsked) -> tuple[Json, ...]:
    """Return the motor as a load of a job; nothing of two phases, which no supply of a job has."""
    if asked.phases not in (1, THREE_PHASE):
        return ()
    rating = _rating(asked)
    load = {"kind": "motor", "rating": rating, **standing(asked.volts, asked.phases, asked.book), **plate_node(asked)}
    return ({"kind": "load", "name": f"Motor {rating}", "load": load, "run": run_node(asked)},)


def _rating(asked: MotorPlate) -> str:
    if asked.hp is not None:
        return f"{exactly(asked.hp)} hp"
    return f"{exactly(asked.kw)} kW" if asked.kw is not None else f"{exactly(asked.nameplate_a or 0.0)} A"


_PLATE = ("nameplate_a", "service_factor", "temp_rise_c", "motor_type", "duty", "design", "device_kind")


def plate_node(asked: MotorPlate) -> Json:
    """Return what a motor's plate says, as a load of the open job file has it."""
    said = {key: getattr(asked, key) for key in _PLATE if getattr(asked, key) is not None}
    said |= {"by_plate": True} if asked.by_plate == "yes" else {}
    return {key: value.value if isinstance(value, StrEnum) else value for key, value in said.items()}


TOOL = Tool(
    name="motor-branch",
    title=Message("Motor circuit"),
    question=Message("What breaker, wire and overload for this motor?"),
    group=Group.CIRCUIT,
    place=2,
    words=(
        "fuse",
        "pump",
        "compressor",
        "fan",
        "saw",
        "horsepower",
        "hp",
        "starter",
        "overload",
        "heater",
        "starting",
        "locked rotor",
        "430.22",
        "430.52",
        "430.250",
        "430.32",
    ),
    asks=MotorAsked,
    solve=solve,
    example={
        "nec": {
            "hp": "7.5 hp",
            "volts": "208 V",
            "phases": 3,
            "nameplate_a": "23 A",
            "service_factor": "1.15",
            "design": "B energy-efficient",
            "length": "60 ft",
        },
        "iec": {"kw": "22 kW", "volts": "400 V", "phases": 3, "length": "45 m"},
    },
    caution=Message(
        "Isolate, lock off, prove dead before you open the starter. Local code and the licensed person decide."
    ),
)
