"""The motor-feeder tool: a feeder of several motors with other loads."""

from __future__ import annotations

from voltaje.books.answers import Guard, sets_of
from voltaje.books.machines import FeederMotor, Motor, MotorCircuit
from voltaje.books.questions import Motors
from voltaje.design.chain import Pins, next_device, size_run
from voltaje.errors import InputError
from voltaje.inputs.declare import declared, many
from voltaje.inputs.shapes import AMPS, AMPS_OR_NONE, HP, KW, TEXT, VOLTS, Json, one_number, one_of, whole
from voltaje.message import Figure, Message
from voltaje.path.machines import Design, DeviceKind, MotorType
from voltaje.sheet import Sheet, off
from voltaje.systems import THREE_PHASE
from voltaje.tools.asked.motor import DESIGNS, DEVICES, TYPES
from voltaje.tools.asking import Asked
from voltaje.tools.conductors import OnARun, conductor_of, earth_of, exactly, run_node, standing
from voltaje.tools.tool import PUT, Answered, Group, Head, Tool

_MOTORS, _OTHER, _FEEDER = Message("Motors"), Message("Other loads"), Message("Feeder")
_LINES = {1: 2, 3: 3}  # conductors that carry, by phases


class MotorItem(Asked):
    """Motors that are alike, on the feeder."""

    name: str = declared(TEXT, "what it drives", "Name", shown="")
    count: int = declared(whole(1, 100), "how many such", "How many", shown=1)
    hp: float | None = declared(HP, "rated output", "Power", hint="hp", family="nec")
    kw: float | None = declared(KW, "in place of hp", "Power in kW", hint="kW", family="iec")
    volts: float | None = declared(VOLTS, "the feeder's where not given", "Volts", hint="V", more=True)
    phases: int | None = declared(one_number(1, 2, 3), "the feeder's where not given", "Phases", more=True)
    motor_type: MotorType = declared(
        one_of(MotorType),
        "by construction",
        "Kind",
        shown="squirrel_cage",
        more=True,
        titles=TYPES,
        family="nec",
        default=MotorType.SQUIRREL_CAGE,
    )
    nameplate_a: float | None = declared(AMPS, "the plate's own current", "Nameplate current", hint="A", more=True)
    design: Design = declared(
        one_of(Design),
        "as the plate has it",
        "Design",
        shown="other",
        more=True,
        titles=DESIGNS,
        family="nec",
        default=Design.OTHER,
    )
    device_kind: DeviceKind = declared(
        one_of(DeviceKind),
        "of its own circuit",
        "Its device",
        shown="inverse_time_breaker",
        more=True,
        titles=DEVICES,
        family="nec",
        default=DeviceKind.INVERSE_TIME_BREAKER,
    )


class FeederAsked(OnARun):
    """What a feeder of motors is asked by."""

    motors: list[MotorItem] = many(MotorItem, _MOTORS, Message("motor"), required=True)
    volts: float | None = declared(VOLTS, "of the feeder; the first motor's where not given", "Volts", _FEEDER, "V")
    phases: int | None = declared(
        one_number(1, 3),
        "of the feeder; the first motor's, or 3, where not given",
        "Phases",
        _FEEDER,
        shown=3,
        default=None,
    )
    other_a: float = declared(
        AMPS_OR_NONE, "other loads that are not continuous", "Other loads", _OTHER, "A", 0, default=0.0
    )
    other_continuous_a: float = declared(
        AMPS_OR_NONE, "other loads that are continuous", "Continuous", _OTHER, "A", 0, default=0.0
    )


def solve(asked: FeederAsked) -> Answered:
    """Return what a feeder of motors needs. Raises InputError at the motor's field that stands in the way."""
    book, sheet, rules = asked.book, Sheet(), asked.book.asked(Motors)
    volts = asked.volts or asked.motors[0].volts
    if volts is None:
        raise InputError("volts", Message("must be given"))
    phases = asked.phases or asked.motors[0].phases or THREE_PHASE
    circuits, named = [], []
    for at, item in enumerate(asked.motors):
        circuits.append(_circuit(item, at, volts, phases, rules, sheet))
        named.append(item.name or _rated(item))
    motors = [
        FeederMotor(circuit.flc_a, _device(circuit), item.count)
        for circuit, item in zip(circuits, asked.motors, strict=True)
    ]
    feeder = rules.feeder(motors, asked.other_a, asked.other_continuous_a, sheet)
    total = sum(each.flc_a * each.count for each in motors) + asked.other_a + asked.other_continuous_a
    run = asked.run(
        total,
        volts,
        THREE_PHASE if phases > 1 else 1,
        needed_a=feeder.conductor_min_a,
        installed_a=feeder.conductor_min_a,
        feeder=True,
    )
    own = next_device(feeder.conductor_min_a, run, book, off())
    most, rule = feeder.device_max_a, book.rule("motor_feeder_device") or book.device_rule
    design = size_run(run._replace(guard=Guard(most, most, most, rule)), Pins(sets=asked.sets), book, sheet)
    result = {
        "conductor_min_a": feeder.conductor_min_a,
        "conductor": conductor_of(design),
        "device_max_a": feeder.device_max_a,
        "device_of_the_wire_a": own,
        "equipment_ground": earth_of(design.earth),
        "motors": [
            {"name": name, "count": motor.count, "flc_a": motor.flc_a, "device_a": motor.device_a}
            for name, motor in zip(named, motors, strict=True)
        ],
    }
    terms, choice = book.terms, design.choice
    carries = Message(
        "{need} needed, carries {amps}",
        need=Figure(feeder.conductor_min_a, "A", 1),
        amps=Figure(design.capacity.ampacity_a, "A", 1),
    )
    heads = (
        Head(
            Message("Device, at most"),
            Figure(feeder.device_max_a, "A"),
            "",
            Message("the wire's own would be {device}", device=Figure(own, "A")),
        ),
        Head(
            Message("Lines"),
            f"{_LINES[run.phases]} × {sets_of(choice.size, choice.sets)}",
            f"{terms.gauge(choice.size)} {asked.material}",
            carries,
        ),
        Head(
            Message("Ground") if terms.family == "nec" else Message("Earth"),
            design.earth.size,
            f"{terms.gauge(design.earth.size)} {design.earth.material}",
            main=False,
        ),
    )
    findings = [each for circuit in circuits for each in circuit.findings if each.code != "motor.no_nameplate"]
    return Answered(
        book,
        result,
        sheet.steps,
        [*findings, *design.findings],
        heads,
        {"volts": volts}.copy,
        _nodes(asked, volts, phases, most),
    )


def _nodes(asked: FeederAsked, volts: float, phases: int, most_a: float) -> tuple[Json, ...]:
    """Return the feeder as a board of a job, with its motors on it, and the other loads."""
    board = {"kind": "board", "name": "Motors", "run": run_node(asked, device_a=most_a)}
    below: list[Json] = []
    for item in asked.motors:
        stands = standing(item.volts or volts, item.phases or phases, asked.book)
        rating = f"{exactly(item.hp)} hp" if item.hp else f"{exactly(item.kw)} kW" if item.kw else None
        load: Json = {
            "kind": "motor",
            "rating": rating or f"{exactly(item.nameplate_a or 0.0)} A",
            **stands,
            "motor_type": item.motor_type.value,
            "design": item.design.value,
            "device_kind": item.device_kind.value,
        }
        load |= {"nameplate_a": item.nameplate_a} if item.nameplate_a else {}
        below += [{"kind": "load", "name": item.name or _rated(item), "load": load}] * item.count
    for amps, share in ((asked.other_a, 0), (asked.other_continuous_a, 1)):
        if amps:
            load = {
                "kind": "general",
                "rating": f"{exactly(amps)} A",
                "continuous": share,
                **standing(volts, phases, asked.book),
            }
            below.append({"kind": "load", "name": "Other load", "load": load})
    return board, *({"id": f"{PUT}-{at}", "parent": PUT, **each} for at, each in enumerate(below))


def _rated(item: MotorItem) -> str:
    return f"{item.hp:g} hp" if item.hp else f"{item.kw or 0:g} kW"


def _device(circuit: MotorCircuit) -> float:
    """Return the branch device that counts for the feeder [A]: of an instantaneous trip, the greatest fuse."""
    instantaneous = circuit.device_kind is DeviceKind.INSTANTANEOUS
    return circuit.ground_device_a if instantaneous else circuit.device.first_a


def _circuit(item: MotorItem, at: int, volts: float, phases: int, rules: Motors, sheet: Sheet) -> MotorCircuit:
    place = f"motors[{at}]"
    if item.hp is None and item.kw is None and not item.nameplate_a:
        raise InputError(f"{place}.hp", Message("must be given"))
    motor = Motor(
        item.hp,
        item.kw,
        item.volts or volts,
        item.phases or phases,
        item.motor_type,
        item.design,
        item.nameplate_a,
        device_kind=item.device_kind,
    )
    try:
        with sheet.section(place):
            return rules.circuit(motor, sheet)
    except InputError as error:
        raise error.at(f"{place}.{error.field}") from None


TOOL = Tool(
    name="motor-feeder",
    title=Message("Feeder of several motors"),
    question=Message("What feeder for these motors together?"),
    group=Group.CIRCUIT,
    place=3,
    words=("motors", "group", "mcc", "control center", "pumps", "430.24", "430.62", "430.63"),
    asks=FeederAsked,
    solve=solve,
    example={
        "nec": {
            "volts": "460 V",
            "phases": 3,
            "length": "120 ft",
            "motors": [{"name": "Saw", "hp": "40 hp"}, {"name": "Fan", "hp": "25 hp"}, {"name": "Pump", "hp": "10 hp"}],
        },
        "iec": {
            "volts": "400 V",
            "phases": 3,
            "length": "40 m",
            "motors": [{"name": "Pump", "kw": "7.5 kW"}, {"name": "Fan", "kw": "4 kW", "count": 2}],
        },
    },
    caution=Message("Isolate, lock off, prove dead. Local code and the licensed person decide."),
)
