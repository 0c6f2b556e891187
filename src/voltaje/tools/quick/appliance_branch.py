"""The appliance-branch tool: heat, water, drying, charging, kilns and compressors on their own circuits."""

from __future__ import annotations

from enum import StrEnum
from typing import ClassVar

from voltaje.books.answers import Guard, Run
from voltaje.books.machines import Hermetic, Motor
from voltaje.books.questions import Compressors, Demands
from voltaje.design.chain import Pins, size_run
from voltaje.design.equipment.motor import motor_run
from voltaje.errors import InputError
from voltaje.findings import Finding, Severity
from voltaje.formula import Formula
from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import AMPS, NAMEPLATE, SHARE, VOLTS, Json, one_number, one_of
from voltaje.message import Figure, Message
from voltaje.quantity import Rating
from voltaje.sheet import Citation, Sheet
from voltaje.systems import THREE_PHASE
from voltaje.tools import plates
from voltaje.tools.conductors import OnARun, conductor_of, earth_of, exactly, run_node, said_length, standing
from voltaje.tools.quick.run import heads_of
from voltaje.tools.tool import Answered, Group, Head, Tool

_SINGLE, _THREE = Formula("va / volts"), Formula("va / (sqrt(3) * volts)")
_AT_SUPPLY = Formula("amps * supply / rated")
_OUTPUT = Formula("100 * (supply / rated) * (supply / rated)")

_APPLIANCE, _PLATE, _SUPPLY = Message("Appliance"), Message("Compressor's plate"), Message("Another voltage")
_HERMETIC, _CHARGER = ("kind", ("hermetic",)), ("kind", ("charger",))
_OFF_PERCENT = 5.0
_FIRST = 3  # of what stands large of a run: the drop is in the drawing


class Kind(StrEnum):
    """What an appliance is, as rules tell their circuits apart."""

    SPACE_HEAT = "space_heat"
    WATER_HEATER = "water_heater"
    DRYER = "dryer"
    CHARGER = "charger"
    DISPOSER = "disposer"
    HERMETIC = "hermetic"
    KILN = "kiln"
    OTHER = "other"


_TITLES = {
    "space_heat": Message("space heating"),
    "water_heater": Message("storage water heater"),
    "dryer": Message("dryer"),
    "charger": Message("vehicle charger"),
    "disposer": Message("waste disposer"),
    "hermetic": Message("air conditioner, heat pump, refrigeration"),
    "kiln": Message("kiln"),
    "other": Message("other"),
}
_ON_PATH = {
    Kind.SPACE_HEAT: "heating",
    Kind.WATER_HEATER: "water_heater",
    Kind.DRYER: "dryer",
    Kind.CHARGER: "charger",
    Kind.HERMETIC: "cooling",
    Kind.DISPOSER: "general",
    Kind.KILN: "general",
    Kind.OTHER: "general",
}
_RESISTANCE = (Kind.SPACE_HEAT, Kind.WATER_HEATER, Kind.DRYER, Kind.KILN, Kind.OTHER)


class ApplianceAsked(OnARun):
    """What an appliance's circuit is asked by."""

    plate: ClassVar[plates.Plate | None] = plates.APPLIANCE

    kind: Kind = declared(
        one_of(Kind), "what it is", "Kind", _APPLIANCE, shown="other", titles=_TITLES, default=Kind.OTHER
    )
    load: Rating | None = declared(
        NAMEPLATE,
        'nameplate: "4.5 kW", "48 A", "½ hp"; not needed where a compressor\'s plate is given',
        "Nameplate",
        _APPLIANCE,
    )
    rated_v: float | None = declared(
        VOLTS,
        "that it is rated for",
        "Rated volts",
        _APPLIANCE,
        "V",
        key="volts",
        by_family={"nec": "240", "iec": "230"},
    )
    phases: int = declared(one_number(1, THREE_PHASE), "1 or 3", "Phases", _APPLIANCE, shown=1)
    continuous_share: float | None = declared(
        SHARE,
        "what of it runs three hours or more; by its kind where not given",
        "Continuous",
        _APPLIANCE,
        family="nec",
        by_family={"nec": ""},
    )
    managed_limit_a: float | None = declared(
        AMPS, "a charger under load management: the current it is held to", "Held to", _APPLIANCE, "A", when=_CHARGER
    )
    rated_load_a: float | None = declared(
        AMPS, "rated-load current of the compressor", "Rated-load current", _PLATE, "A", when=_HERMETIC
    )
    branch_selection_a: float | None = declared(
        AMPS,
        "branch-circuit selection current, where the plate has one",
        "Branch selection",
        _PLATE,
        "A",
        more=True,
        when=_HERMETIC,
    )
    mca: float | None = declared(AMPS, "minimum circuit ampacity as printed", "MCA", _PLATE, "A", when=_HERMETIC)
    mop: float | None = declared(
        AMPS, "maximum overcurrent device as printed", "Max. breaker (MOP)", _PLATE, "A", when=_HERMETIC
    )
    supply_v: float | None = declared(
        VOLTS, "what it gets, where that is not its rated voltage", "Measured volts", _SUPPLY, "V", more=True
    )

    @property
    def volts(self) -> float:
        """What it is rated for [V]; where not given, what its country's single-phase appliances are."""
        return self.rated_v or _USUAL_V[self.book.terms.family]


_USUAL_V = {"nec": 240.0, "iec": 230.0}


def solve(asked: ApplianceAsked) -> Answered:
    """Return an appliance's circuit. Raises InputError at the field that stands in the way."""
    sheet = Sheet()
    if asked.kind is not Kind.HERMETIC and (asked.mca or asked.mop or asked.rated_load_a or asked.branch_selection_a):
        key = next(key for key in ("rated_load_a", "branch_selection_a", "mca", "mop") if getattr(asked, key))
        raise InputError(key, Message("is for a compressor: choose that kind"))
    if asked.kind is Kind.HERMETIC and asked.book.terms.family == "nec":
        return _hermetic(asked, sheet)
    if asked.load is not None and asked.load.unit == "hp":
        return _motor(asked, sheet)
    return _plain(asked, sheet)


def _plain(asked: ApplianceAsked, sheet: Sheet) -> Answered:
    with sheet.section("demand"):
        amps, output = _amps(asked, sheet)
    share, rule = _continuous(asked)
    volts = asked.supply_v or asked.volts
    run = asked.run(amps, volts, asked.phases, continuous_a=amps * share)
    design = size_run(run, Pins(sets=asked.sets), asked.book, sheet)
    findings = [*design.findings, *_of_volts(asked, output)]
    if share == 1 and rule:
        message = Message("It counts as continuous: 125 %, whatever the time it runs.")
        findings.append(Finding(Severity.NOTE, "appliance.continuous", message, rule, "continuous_share"))
    result = {
        "amps": amps,
        "required_a": design.need_a,
        "device_a": design.choice.device_a,
        "device_max_a": design.capacity.device_max_a,
        "conductor": conductor_of(design),
        "equipment_ground": earth_of(design.earth),
        "output_percent": output,
        "drop_percent": design.drop.percent if design.drop else None,
    }
    heads = (_current(amps, output), *heads_of(design, asked)[:_FIRST])
    return Answered(
        asked.book,
        result,
        sheet.steps,
        findings,
        heads,
        lambda: _facts(asked),
        (_node(asked, _plain_rating(asked, amps), continuous=share),),
    )


def _hermetic(asked: ApplianceAsked, sheet: Sheet) -> Answered:
    book = asked.book
    rated = asked.rated_load_a
    if rated is None and asked.load is not None and asked.load.unit == "A":
        rated = asked.load.value
    with sheet.section("demand"):
        found = book.asked(Compressors).circuit(rated, asked.branch_selection_a, asked.mca, asked.mop, sheet)
    rule = book.rule("cooling_device") or book.device_rule
    run = asked.run(
        found.amps,
        asked.volts,
        asked.phases,
        exempt="cooling",
        needed_a=found.conductor_a,
        installed_a=found.conductor_a,
        guard=Guard(found.device_a, found.device_max_a, found.device_a, rule),
    )
    _require_room(found, run)
    design = size_run(run, Pins(sets=asked.sets), book, sheet)
    result = {
        "amps": found.amps,
        "required_a": found.conductor_a,
        "device_a": found.device_a,
        "device_max_a": found.device_max_a,
        "conductor": conductor_of(design),
        "equipment_ground": earth_of(design.earth),
        "output_percent": None,
        "drop_percent": design.drop.percent if design.drop else None,
    }
    said = list(design.findings)
    if found.device_a > design.capacity.ampacity_a:
        message = Message(
            "{device} over a wire of {amps} is right here: the compressor has its own overload protection.",
            device=Figure(found.device_a, "A"),
            amps=Figure(design.capacity.ampacity_a, "A"),
        )
        said.append(Finding(Severity.NOTE, "motor.device_over_wire", message, rule, "device_a"))
    heads = (_current(found.amps, None), *heads_of(design, asked)[:_FIRST])
    return Answered(
        book,
        result,
        sheet.steps,
        said,
        heads,
        lambda: _facts(asked),
        (_node(asked, f"{exactly(found.amps)} A", mca=asked.mca, mop=asked.mop),),
    )


def _require_room(found: Hermetic, run: Run) -> None:
    if found.device_max_a < run.amps:
        message = Message(
            "{mop} is under the {amps} that it draws",
            mop=Figure(found.device_max_a, "A"),
            amps=Figure(run.amps, "A", 1),
        )
        raise InputError("mop", message)


def _motor(asked: ApplianceAsked, sheet: Sheet) -> Answered:
    """A motor-operated appliance by its horsepower: as any motor."""
    hp = asked.load.value if asked.load else None
    motor = Motor(hp, None, asked.volts, asked.phases)
    found = motor_run(motor, asked.run(1.0, asked.volts, asked.phases), Pins(sets=asked.sets), asked.book, sheet)
    circuit, design = found.circuit, found.design
    result = {
        "amps": circuit.flc_a,
        "required_a": circuit.conductor_min_a,
        "device_a": circuit.device.first_a,
        "device_max_a": circuit.device.most_a,
        "conductor": conductor_of(design),
        "equipment_ground": earth_of(design.earth),
        "output_percent": None,
        "drop_percent": design.drop.percent if design.drop else None,
    }
    heads = (_current(circuit.flc_a, None), *heads_of(design, asked)[:_FIRST])
    return Answered(
        asked.book,
        result,
        sheet.steps,
        found.findings,
        heads,
        lambda: _facts(asked),
        (_node(asked, asked.load.typed if asked.load else ""),),
    )


def _amps(asked: ApplianceAsked, sheet: Sheet) -> tuple[float, float | None]:
    """Return the current that it draws [A], and its output at another voltage [%]."""
    book, rule = asked.book, asked.book.load_rule
    if asked.load is None:
        raise InputError("load", Message("must be given"))
    if asked.load.unit == "A":
        amps = sheet.read(asked.load.value, Message("Current"), "A", rule, Message("from the nameplate"))
    else:
        three = asked.phases == THREE_PHASE
        amps = sheet.apply(
            _THREE if three else _SINGLE, Message("Current"), "A", rule, None, va=asked.load.value, volts=asked.volts
        )
    output = None
    if asked.supply_v and asked.kind in _RESISTANCE:
        values = {"supply": asked.supply_v, "rated": asked.volts}
        because = Message("a resistance draws in proportion to its volts")
        amps = sheet.apply(
            _AT_SUPPLY,
            Message("Current on {volts} V", volts=f"{asked.supply_v:g}"),
            "A",
            None,
            because,
            amps=amps,
            **values,
        )
        because = Message("its power goes with the square of its volts")
        output = sheet.apply(_OUTPUT, Message("Output"), "%", None, because, **values)
    elif asked.supply_v and asked.load.unit != "A":
        because = Message("it takes the same power: less volts, more amperes")
        amps = sheet.apply(
            _AT_SUPPLY,
            Message("Current on {volts} V", volts=f"{asked.supply_v:g}"),
            "A",
            None,
            because,
            amps=amps,
            supply=asked.volts,
            rated=asked.supply_v,
        )
    if asked.managed_limit_a is not None:
        if asked.kind is not Kind.CHARGER:
            raise InputError("managed_limit_a", Message("is for a charger: choose that kind"))
        held = book.rule("charger_continuous")
        amps = sheet.read(min(asked.managed_limit_a, amps), Message("Held to, by load management"), "A", held)
    return amps, output


def _continuous(asked: ApplianceAsked) -> tuple[float, Citation | None]:
    """Return what of the load is continuous, and the clause where its kind says so."""
    if asked.kind is Kind.KILN and asked.book.terms.family == "nec":
        share = 1.0 if asked.continuous_share is None else asked.continuous_share
        return share, asked.book.rule("kiln")
    rules = asked.book.asked(Demands).load_rules(_ON_PATH[asked.kind], asked.continuous_share)
    if rules.rule and asked.continuous_share is not None and asked.continuous_share < rules.circuit_continuous:
        message = Message("is continuous by rule, whatever is entered")
        raise InputError("continuous_share", message, str(rules.rule))
    return rules.circuit_continuous, rules.rule


def _of_volts(asked: ApplianceAsked, output: float | None) -> list[Finding]:
    if asked.supply_v is None or abs(asked.supply_v / asked.volts - 1) * 100 <= _OFF_PERCENT:
        return []
    values = {"rated": Figure(asked.volts, "V"), "supply": Figure(asked.supply_v, "V")}
    if output is None:
        message = Message("Rated {rated}, on {supply}.", **values)
    else:
        message = Message(
            "Rated {rated}, on {supply}: it gives {output} of its output.", output=Figure(output, "%"), **values
        )
    severity = Severity.STOP if asked.supply_v > asked.volts else Severity.WARN
    mend = Message("Another tap, or an appliance made for this voltage.")
    return [Finding(severity, "appliance.other_voltage", message, None, "supply_v", mend)]


def _facts(asked: ApplianceAsked) -> Json:
    plate = asked.load.typed if asked.load else ""
    return {"asked": asked, "kind_words": _SHORT[asked.kind], "plate": plate, "length": said_length(asked.length)}


_SHORT = {
    Kind.SPACE_HEAT: Message("heater"),
    Kind.WATER_HEATER: Message("water heater"),
    Kind.DRYER: Message("dryer"),
    Kind.CHARGER: Message("charger"),
    Kind.DISPOSER: Message("disposer"),
    Kind.HERMETIC: Message("compressor"),
    Kind.KILN: Message("kiln"),
    Kind.OTHER: Message("load"),
}


def _current(amps: float, output: float | None) -> Head:
    note = Message("gives {output} of its output", output=Figure(output, "%")) if output is not None else None
    return Head(Message("Current"), Figure(amps, "A", 1), "", note, main=False)


def _plain_rating(asked: ApplianceAsked, amps: float) -> str:
    """Return its plate as it was read, or what it draws at the volts that it gets."""
    plate = asked.load
    if plate is None or plate.unit == "A" or (asked.supply_v and asked.supply_v != asked.volts):
        return f"{exactly(amps if asked.managed_limit_a is None else plate.value if plate else amps)} A"
    return f"{exactly(plate.value)} {'W' if plate.is_watts else 'VA'}"


def _node(asked: ApplianceAsked, rating: str, **entries: float | None) -> Json:
    stands = standing(asked.supply_v or asked.volts, asked.phases, asked.book)
    load: Json = {"kind": _ON_PATH[asked.kind], "rating": rating, **stands}
    load |= {key: value for key, value in entries.items() if value is not None}
    load |= {} if asked.managed_limit_a is None else {"managed_a": asked.managed_limit_a}
    title = str(_TITLES[asked.kind.value]).capitalize()
    return {
        "kind": "load",
        "name": title if asked.kind is not Kind.OTHER else "Appliance",
        "load": load,
        "run": run_node(asked),
    }


TOOL = Tool(
    name="appliance-branch",
    title=Message("Heat, water, charging, cooling"),
    question=Message("What breaker and wire for this heater, charger, dryer, air conditioner?"),
    group=Group.CIRCUIT,
    place=1,
    words=(
        "space heating",
        "water heater",
        "dryer",
        "ev",
        "charger",
        "disposer",
        "air conditioner",
        "heat pump",
        "kiln",
        "mca",
        "mop",
        "compressor",
        "424.4",
        "422.13",
        "625.41",
        "440.32",
        "440.22",
    ),
    asks=ApplianceAsked,
    solve=solve,
    example={
        "nec": {"kind": "charger", "load": "48 A", "volts": "240 V", "length": "60 ft"},
        "iec": {"kind": "water_heater", "load": "9.5 kW", "volts": "230 V", "length": "15 m"},
    },
    caution=Message("Isolate, lock off, prove dead. What the plate prints stands before what is reckoned."),
)
