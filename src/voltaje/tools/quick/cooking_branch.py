"""The cooking-branch tool: a household range, an oven, or a kitchen on one circuit with taps."""

from __future__ import annotations

from typing import Any

from voltaje.books.answers import sets_of
from voltaje.books.machines import CookingUnit
from voltaje.books.questions import Book, CookingCircuits
from voltaje.books.registry import books
from voltaje.design.equipment.cooking import CookingRun, cooking_run, nothing_to_spare
from voltaje.errors import InputError, Refused
from voltaje.findings import Finding, Severity
from voltaje.inputs.declare import declared, many
from voltaje.inputs.shapes import NAMEPLATE, TEXT, VOLTS, Json, Shape, one_of
from voltaje.limits import MOST_ITEMS
from voltaje.message import Figure, Message
from voltaje.path.house import CookingKind
from voltaje.quantity import Rating
from voltaje.rounding import HalfReading
from voltaje.sheet import Sheet, off
from voltaje.tools.asking import Asked
from voltaje.tools.conductors import (
    CIRCUIT,
    TYPED_LENGTH,
    OnARun,
    conductor_of,
    earth_of,
    exactly,
    run_node,
    said_length,
)
from voltaje.tools.tool import Answered, Group, Head, Tool

_KITCHEN, _READING = Message("Kitchen"), Message("Readings of the rule")
_KINDS = {"range": Message("range"), "cooktop": Message("cooktop"), "oven": Message("wall oven")}
_HALVES = {"counts": Message("counts"), "does not count": Message("does not")}
_BRANCH = "branch"


def _lengths(raw: Any, unit: str) -> dict[str, tuple[str, float]]:
    if not isinstance(raw, dict) or len(raw) > MOST_ITEMS:
        raise InputError("", Message("must be an object: branch, and each appliance by its name"))
    found = {}
    for key, value in raw.items():
        try:
            found[str(key)] = TYPED_LENGTH.read(value, unit)
        except InputError as error:
            raise error.at(f"cable_lengths.{key}") from None
    return found


_LENGTHS = Shape(_lengths, {"type": "object", "additionalProperties": {"type": ["string", "number"]}})


class CookerAsked(Asked):
    """A cooking appliance of the kitchen."""

    kind: CookingKind = declared(
        one_of(CookingKind),
        "range, cooktop or wall oven",
        "Kind",
        shown="range",
        titles=_KINDS,
        default=CookingKind.RANGE,
    )
    load: Rating = declared(NAMEPLATE, 'nameplate: "8.2 kW", "34 A"', "Nameplate", required=True)
    name: str = declared(TEXT, "what it is called", "Name", shown="", more=True)
    length: tuple[str, float] | None = declared(TYPED_LENGTH, "of its tap, from the box", "Tap length", hint="length")


class CookingAsked(OnARun):
    """What a cooking circuit is asked by."""

    appliances: list[CookerAsked] = many(CookerAsked, _KITCHEN, Message("appliance"), required=True)
    volts: float = declared(VOLTS, "between its lines", "Volts", CIRCUIT, "V", 240, default=240.0)
    cable_lengths: dict[str, tuple[str, float]] = declared(
        _LENGTHS, 'by name: {"branch": "45 ft", "Cooktop": "6 ft"}; in place of the lengths of each', factory=dict
    )
    exact_half_kw: HalfReading = declared(
        one_of(HalfReading),
        "whether exactly half a kilowatt over 12 is a major fraction; usual: it counts",
        "Exactly half a kW",
        _READING,
        shown="counts",
        more=True,
        titles=_HALVES,
        both="demand_kw",
        default=HalfReading.COUNTS,
    )

    def units(self) -> list[CookingUnit]:
        """Return the appliances, each with a name."""
        found: list[CookingUnit] = []
        for at, item in enumerate(self.appliances):
            if item.load.unit == "hp":
                raise InputError(f"appliances[{at}].load", Message("give it in kW, VA or A"))
            va = item.load.value * (self.volts if item.load.unit == "A" else 1.0)
            same = sum(each.kind is item.kind for each in self.appliances)
            number = sum(each.kind is item.kind for each in self.appliances[: at + 1])
            named = str(_KINDS[item.kind.value]).capitalize()
            found.append(CookingUnit(item.kind.value, va, item.name or (f"{named} {number}" if same > 1 else named)))
        return found

    def tap_lengths(self, units: list[CookingUnit]) -> list[float | None]:
        """Return the length of each tap [m]. Raises InputError for a length of what is not there."""
        known = {_BRANCH, *(unit.name for unit in units)}
        for key in self.cable_lengths:
            if key not in known:
                message = Message("unknown key; known are: {known}", known=sorted(known))
                raise InputError(f"cable_lengths.{key}", message)
        by_name = [
            self.cable_lengths.get(unit.name) or item.length for unit, item in zip(units, self.appliances, strict=True)
        ]
        return [length[1] if length else None for length in by_name]


def solve(asked: CookingAsked) -> Answered:
    """Return a cooking circuit. Raises InputError at its field; NotCovered for what stands on no one circuit."""
    book, sheet, units = asked.book, Sheet(), asked.units()
    found = _worked(asked, units, book, sheet)
    circuit, design = found.circuit, found.design
    result = {
        "demand_kw": circuit.ways[0].kw,
        "demand_ways": [{"way": str(way.name), "demand_kw": way.kw} for way in circuit.ways],
        "amps": circuit.amps,
        "device_a": circuit.device_a,
        "conductor": conductor_of(design),
        "taps": [{"name": tap.unit.name, "amps": tap.amps, "conductor": _one(tap.size, asked)} for tap in found.taps],
        "tap_allowed": circuit.tap_allowed,
        "neutral_min": None if circuit.neutral_a is None else {"amps": circuit.neutral_a, "size": design.neutral},
        "equipment_ground": earth_of(design.earth),
        "untapped": None
        if found.untapped is None
        else {"device_a": found.untapped.choice.device_a, "conductor": conductor_of(found.untapped)},
        "metal_kg": found.metal_kg,
        "each": None
        if found.each is None
        else {
            "circuits": [
                {"name": unit.name, "device_a": one.choice.device_a, "conductor": conductor_of(one)}
                for unit, one in zip(units, found.each.designs, strict=True)
            ],
            "metal_kg": found.each.metal_kg,
        },
    }
    return Answered(
        book,
        result,
        sheet.steps,
        _findings(found, asked),
        _heads(found, asked, units),
        lambda: _facts(asked, found, units),
        (_node(asked, units),),
    )


def _facts(asked: CookingAsked, found: CookingRun, units: list[CookingUnit]) -> Json:
    return {
        "asked": asked,
        "found": found,
        "units": units,
        "editions": _editions(asked, units),
        "lengths": _said_lengths(asked, units),
        "branch_length": said_length(_branch_length(asked)),
    }


def _worked(asked: CookingAsked, units: list[CookingUnit], book: Book, sheet: Sheet) -> CookingRun:
    length = _branch_length(asked)
    base = asked.run(0.0, asked.volts, 1)._replace(length_m=length[1] if length else None)
    return cooking_run(units, asked.tap_lengths(units), asked.exact_half_kw, base, book, sheet, asked.sets)


def _branch_length(asked: CookingAsked) -> tuple[str, float] | None:
    return asked.cable_lengths.get(_BRANCH) or asked.length


def _one(size: str, asked: CookingAsked) -> Json:
    return {"size": size, "material": asked.material, "sets": 1}


def _said_lengths(asked: CookingAsked, units: list[CookingUnit]) -> list[str]:
    return [
        said_length(asked.cable_lengths.get(unit.name) or item.length)
        for unit, item in zip(units, asked.appliances, strict=True)
    ]


def _editions(asked: CookingAsked, units: list[CookingUnit]) -> list[Json]:
    """Return the same kitchen by every edition that has the rule."""
    found = []
    for name, book in books().items():
        try:
            book.asked(CookingCircuits)
            other = _worked(asked, units, book, off())
        except Refused:
            continue
        found.append(
            {"book": name, "found": other, "shown": name == asked.book.name, "rule": book.rule("cooking_taps")}
        )
    return found


def _findings(found: CookingRun, asked: CookingAsked) -> list[Finding]:
    circuit, design, book = found.circuit, found.design, asked.book
    said = list(design.findings)
    if circuit.taps and not circuit.tap_allowed:
        message = Message("A {device} circuit may not be tapped.", device=Figure(circuit.device_a, "A"))
        said.append(Finding(Severity.STOP, "cooking.not_tapped", message, book.rule("cooking_taps"), "appliances"))
    said += nothing_to_spare(circuit, book, "device_a")
    message = Message("The breaker serves as the disconnect where it can be locked open.")
    said.append(Finding(Severity.NOTE, "cooking.disconnect", message, book.rule("cooking_disconnect")))
    return said


def _heads(found: CookingRun, asked: CookingAsked, units: list[CookingUnit]) -> tuple[Head, ...]:
    circuit, design, terms = found.circuit, found.design, asked.book.terms
    connected = sum(unit.va for unit in units) / 1000
    of_connected = Message(
        "{kw} of {all} connected", kw=Figure(circuit.ways[0].kw, "kW", 2), all=Figure(connected, "kW", 2)
    )
    grounds = Message("neutral {neutral}, ground {ground}", neutral=design.neutral, ground=design.earth.size)
    heads = [
        Head(Message("Demand"), Figure(circuit.amps, "A", 1), "", of_connected),
        Head(Message("Breaker"), Figure(circuit.device_a, "A"), "", Message("2-pole; locks open: is the disconnect")),
        Head(
            Message("Branch"),
            sets_of(design.choice.size, design.choice.sets),
            f"{terms.gauge(design.choice.size)} {asked.material}",
            grounds,
        ),
    ]
    if found.taps:
        heads.append(
            Head(
                Message("Taps"),
                " · ".join(tap.size for tap in found.taps),
                terms.gauge(found.taps[0].size),
                Message("by nameplate, 20 A at least"),
            )
        )
    return tuple(heads)


def _node(asked: CookingAsked, units: list[CookingUnit]) -> Json:
    name = " + ".join(unit.name for unit in units)[:60]
    load: Json = {
        "kind": "range",
        "rating": f"{exactly(sum(unit.va for unit in units))} VA",
        "household": True,
        "volts": f"{asked.volts:g} V",
    }
    if len(units) == 1:
        load["cooking"] = units[0].kind
    else:
        lengths = _said_lengths(asked, units)
        load["parts"] = [
            {"kind": unit.kind, "load": f"{exactly(unit.va)} VA", "name": unit.name}
            | ({"length": long} if long else {})
            for unit, long in zip(units, lengths, strict=True)
        ]
    return {"kind": "load", "name": name, "load": {**load, "poles": 2}, "run": run_node(asked)}


TOOL = Tool(
    name="cooking-branch",
    title=Message("Cooking circuit"),
    question=Message("What breaker and wire for this range, oven, kitchen?"),
    group=Group.CIRCUIT,
    place=1,
    words=("range", "stove", "cooker", "hob", "oven", "cooktop", "kitchen", "tap", "220.55", "210.19", "210.23"),
    asks=CookingAsked,
    solve=solve,
    example={
        "nec": {
            "appliances": [
                {"kind": "cooktop", "load": "8.2 kW", "length": "6 ft"},
                {"kind": "oven", "load": "4.1 kW", "name": "Upper oven", "length": "8 ft"},
                {"kind": "oven", "load": "4.1 kW", "name": "Lower oven", "length": "10 ft"},
            ],
            "length": "45 ft",
        }
    },
    caution=Message(
        "Lock the breaker open and prove both lines dead at the box. Local code and the licensed person decide."
    ),
    families=("nec",),
)
