"""The house-demand tool: what a dwelling at 230 V draws, circuit by circuit, and the fuse of its supply."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from typing import NamedTuple

from voltaje.books.households import HouseCircuit, HouseDemand
from voltaje.books.questions import Households
from voltaje.errors import InputError
from voltaje.findings import Finding, Severity
from voltaje.formula import Formula
from voltaje.inputs.declare import declared, many
from voltaje.inputs.shapes import AMPS, FLAG, KVA, NAMEPLATE, Json, number, one_number, one_word, whole
from voltaje.message import Figure, Message
from voltaje.quantity import Rating, read_share
from voltaje.rounding import exceeds
from voltaje.sheet import Citation, Sheet
from voltaje.systems import SYSTEMS, THREE_PHASE
from voltaje.tools.asking import Asked
from voltaje.tools.conductors import OfAnIecBook
from voltaje.tools.tool import Answered, Group, Head, Tool

_SUPPLY, _CIRCUITS = Message("Supply"), Message("Circuits")
_KINDS = (
    *("ring sockets", "radial sockets", "lighting", "cooker", "shower", "water heater", "heating"),
    *("storage heater", "floor heating", "heat pump", "charger", "other"),
)
_OF_ONE, _OF_THREE = Formula("va / volts"), Formula("va / (sqrt(3) * volts)")
_TOGETHER = Formula("sum(counted)")
_OF_HOUSES = Formula("kva * houses * 1000 / (phases * volts)")


class CircuitItem(Asked):
    """Circuits alike."""

    kind: str = declared(one_word(*_KINDS), "what it feeds", "Kind", shown="ring sockets")
    load: Rating | None = declared(NAMEPLATE, "what one draws: kW, or give its device", "Load")
    device_a: float | None = declared(AMPS, "its breaker or fuse, in place of the load", "Device", hint="A")
    count: int = declared(whole(1, 40), "circuits alike", "How many", shown=1)
    points: int = declared(whole(0, 400), "lights or sockets of all of them", "Points", shown=0, more=True)
    with_socket: bool = declared(
        FLAG, "the cooker's control unit has a socket", "With a socket", shown=False, more=True
    )
    phases: int = declared(one_number(1, 3), "3 where it stands on three", "Phases", shown=1, more=True)
    diversity: float | None = declared(
        number(-1e-9, 1, read=read_share), "entered, in place of the practice", "Diversity", hint="%", more=True
    )


class HouseAsked(OfAnIecBook):
    """What a dwelling's demand is asked by."""

    phases: int = declared(one_number(1, 3), "of its supply", "Phases", _SUPPLY, shown=1)
    main_a: float | None = declared(AMPS, "fuse of the supply, where it is known", "Main fuse", _SUPPLY, "A")
    admd_kva: float | None = declared(
        KVA, "after diversity, of one house, as the distributor has it", "A house", _SUPPLY, "kVA", more=True
    )
    houses: int = declared(whole(1, 2000), "houses of that kind", "Houses", _SUPPLY, shown=1, more=True)
    circuits: list[CircuitItem] = many(CircuitItem, _CIRCUITS, Message("circuit"))


class Row(NamedTuple):
    """Circuits alike: connected, what they count, each of three phases once [A], why, and by which rule."""

    item: CircuitItem
    connected_a: float
    demand_a: float
    why: Message
    rule: Citation | None


def solve(asked: HouseAsked) -> Answered:
    """Return the demand of a dwelling, on its fullest phase. Raises InputError at the circuit's field."""
    book, sheet = asked.book, Sheet()
    rules = book.asked(Households)
    system = SYSTEMS["230/400" if asked.phases == THREE_PHASE else "230 1ph"]
    names = [leg for leg, _angle in system.legs][: asked.phases]
    volts = system.line_to_neutral_v or system.line_to_line_v
    if bool(asked.circuits) == (asked.admd_kva is not None):
        field = "admd_kva" if asked.circuits else "circuits"
        raise InputError(field, Message("give the circuits, or what a house draws after diversity: one of them"))
    rows: list[Row] = []
    if asked.admd_kva is not None:
        given = {"kva": asked.admd_kva, "houses": asked.houses, "phases": asked.phases, "volts": volts}
        each = sheet.apply(_OF_HOUSES, Message("Of each line"), "A", book.load_rule, None, **given)
        legs, connected = dict.fromkeys(names, each), each
    else:
        circuits = [_circuit(item, at, asked, volts, sheet) for at, item in enumerate(asked.circuits)]
        on = _on_legs(circuits, names)
        counted = {leg: rules.demand([each for _at, each in mine], sheet) for leg, mine in on.items()}
        legs = {leg: _together(leg, counted[leg], asked, sheet) for leg in names}
        rows = [_row(item, at, circuits[at], on, counted) for at, item in enumerate(asked.circuits)]
        connected = sum(row.connected_a for row in rows)
    fullest, fuses = max(legs.values()), rules.main_fuses()
    usual = fuses if asked.houses == 1 else ()
    fuse = asked.main_a or next((rating for rating in usual if not exceeds(fullest, rating)), None)
    result: Json = {
        "rows": [
            {
                "kind": row.item.kind,
                "connected_a": row.connected_a,
                "demand_a": row.demand_a,
                "rule": str(row.rule) if row.rule else None,
            }
            for row in rows
        ],
        "connected_a": connected,
        "demand_a": fullest,
        "legs": legs,
        "main_fuse_a": fuse,
    }
    facts = {"asked": asked, "rows": rows, "legs": legs, "fuse": fuse}
    return Answered(book, result, sheet.steps, _said(asked, fullest, fuse, fuses[-1]), _heads(result), facts.copy)


def _circuit(item: CircuitItem, at: int, asked: HouseAsked, volts: float, sheet: Sheet) -> HouseCircuit:
    field = f"circuits[{at}]"
    if item.phases > asked.phases:
        raise InputError(f"{field}.phases", Message("the supply has one phase"))
    if item.load is None and item.device_a is None:
        raise InputError(f"{field}.load", Message("give its load, or its breaker"))
    if item.load is None:
        amps = item.device_a or 0.0
    elif item.load.unit == "A":
        amps = item.load.value
    elif item.load.unit == "VA":
        name = Message("{kind}, connected", kind=item.kind)
        of, across = (_OF_THREE, SYSTEMS["230/400"].line_to_line_v) if item.phases == THREE_PHASE else (_OF_ONE, volts)
        amps = sheet.apply(of, name, "A", asked.book.load_rule, None, va=item.load.value, volts=across)
    else:
        raise InputError(f"{field}.load", Message("give it in kW, W or A"))
    return HouseCircuit(item.kind, amps, item.count, item.points, item.with_socket, item.phases, item.diversity, field)


_Placed = list[tuple[int, HouseCircuit]]  # circuits of a line, each with the place of those it is alike in the list


def _on_legs(circuits: list[HouseCircuit], legs: list[str]) -> dict[str, _Placed]:
    """Return the circuits of each line: a line's own circuits decide what it may leave out, not those of another.

    Of one line all stand as they were listed. Of three, those on three phases stand on all, the others one by one, the
    largest first, on the line that has the least connected.
    """
    placed = list(enumerate(circuits))
    if len(legs) == 1:
        return {legs[0]: placed}
    found: dict[str, _Placed] = {leg: [each for each in placed if each[1].phases == THREE_PHASE] for leg in legs}
    singles = [
        (at, replace(each, count=1, points=math.ceil(each.points / each.count)))
        for at, each in placed
        if each.phases != THREE_PHASE
        for _ in range(each.count)
    ]
    for at, each in sorted(singles, key=lambda single: -single[1].amps):
        lightest = min(legs, key=lambda leg: sum(other.amps * other.count for _at, other in found[leg]))
        found[lightest].append((at, each))
    return found


def _together(leg: str, counted: Sequence[HouseDemand], asked: HouseAsked, sheet: Sheet) -> float:
    """Return what the circuits of a line count together [A]."""
    each = [demand.total_a for demand in counted] or [0.0]
    because = Message("its own circuits") if asked.phases == THREE_PHASE else None
    return sheet.apply(_TOGETHER, Message("On {leg}", leg=leg), "A", asked.book.load_rule, because, counted=each)


def _row(
    item: CircuitItem,
    at: int,
    circuit: HouseCircuit,
    on: dict[str, _Placed],
    counted: dict[str, tuple[HouseDemand, ...]],
) -> Row:
    """Return what circuits alike count, wherever they stand."""
    mine = [
        demand
        for leg, placed in on.items()
        for (place, _circuit), demand in zip(placed, counted[leg], strict=True)
        if place == at
    ]
    each = [demand.total_a for demand in mine]
    total = max(each) if circuit.phases == THREE_PHASE else sum(each)
    return Row(item, circuit.amps * circuit.count, total, mine[0].why, mine[0].rule)


def _said(asked: HouseAsked, fullest: float, fuse: float | None, most: float) -> list[Finding]:
    demand, field = Figure(fullest, "A", 1), "main_a" if asked.main_a else "circuits"
    if fuse is not None and not exceeds(fullest, fuse):
        return []
    message = Message(
        "{demand} after diversity are over its fuse of {fuse}.", demand=demand, fuse=Figure(fuse or most, "A")
    )
    if fuse is None:
        message = Message(
            "{demand} after diversity, and {most} is the greatest fuse that is usual.",
            demand=demand,
            most=Figure(most, "A"),
        )
    mend = Message("Let the charger give way to the rest, leave something out, or ask for three phases.")
    return [Finding(Severity.STOP, "house.over_fuse", message, asked.book.load_rule, field, mend)]


def _heads(result: Json) -> tuple[Head, ...]:
    fuse = result["main_fuse_a"]
    on = Message("on its fullest phase") if len(result["legs"]) > 1 else None
    return (
        Head(Message("Demand"), Figure(result["demand_a"], "A", 1), "", on),
        Head(Message("Main fuse"), "–" if fuse is None else Figure(fuse, "A"), "", Message("as the distributor says")),
        Head(Message("Connected"), Figure(result["connected_a"], "A", 1), "", main=False),
    )


TOOL = Tool(
    name="house-demand",
    title=Message("Demand of a house"),
    question=Message("What does this house draw after diversity?"),
    group=Group.WHOLE,
    place=1,
    words=(
        "diversity",
        "demand",
        "house",
        "dwelling",
        "main fuse",
        "cut-out",
        "maximum demand",
        "admd",
        "c1",
        "shower",
    ),
    asks=HouseAsked,
    solve=solve,
    example={
        "iec": {
            "circuits": [
                {"kind": "ring sockets", "device_a": 32, "count": 2},
                {"kind": "lighting", "load": "6 A", "count": 2},
                {"kind": "cooker", "load": "10.5 kW", "with_socket": True},
                {"kind": "shower", "load": "8.5 kW"},
                {"kind": "charger", "load": "3.6 kW"},
            ]
        }
    },
    caution=Message("Diversity is practice, not rule: who knows the house decides, and the distributor."),
    families=("iec",),
)
