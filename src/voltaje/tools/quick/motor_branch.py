"""The motor-branch tool: one motor, its conductors, its device, its overload, its disconnect, its start."""

from __future__ import annotations

import math
from enum import StrEnum

from voltaje.books.answers import sets_of
from voltaje.design.chain import Pins
from voltaje.design.equipment.motor import AtVolts, MotorRun, at_volts, motor_run, off_its_volts
from voltaje.findings import Finding, Severity
from voltaje.inputs.shapes import Json
from voltaje.message import Figure, Message
from voltaje.sheet import Sheet, off
from voltaje.systems import THREE_PHASE
from voltaje.tools.asked.motor import DEVICES, MotorAsked, MotorPlate
from voltaje.tools.conductors import conductor_of, earth_of, exactly, run_node, said_length, standing
from voltaje.tools.tool import Answered, Group, Head, Tool

_LINES = {1: 2, 2: 4, 3: 3}  # conductors that carry, by phases


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
