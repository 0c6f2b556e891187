"""The dwelling tool: a house's loads in, its demand and service out.

What is asked is declared here; the amounts are read by the house's own rules, which know the edition and the supply.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any

from pydantic import Field

from voltaje.books.dwellings import (
    MATERIALS,
    CookingKind,
    HeatingKind,
    HouseSolution,
    Method,
    Occupancy,
    Pick,
    Terminals,
    books_with_a_sheet,
    read_house,
    solve_house,
)  # fmt: skip
from voltaje.books.registry import find_book
from voltaje.design.circuits.common import sets_of
from voltaje.limits import MOST_ITEMS, MOST_VA
from voltaje.message import Figure, Message
from voltaje.path.fields import Shape
from voltaje.rounding import HalfReading
from voltaje.systems import DWELLING_SYSTEMS
from voltaje.tools.answer import Json, conductor_json
from voltaje.tools.asking import DEFAULT_BOOK, Ask, Asked, Items
from voltaje.tools.tool import Answered, Group, Head, Tool

_HOUSE, _LOADS, _SERVICE = Message("House"), Message("Loads"), Message("Service")


def _as_given(raw: Any, _unit: str) -> Any:
    return raw


def _given(schema: Mapping[str, Any], typed: bool = False, edges: tuple[Any, Any] | None = None) -> Shape:
    return Shape(_as_given, dict(schema), typed, edges)


def _one_of(kinds: Any) -> Shape:
    return _given({"enum": [getattr(kind, "value", kind) for kind in kinds]})


_TYPED = {"type": ["string", "number"]}
_TOO_MUCH = (MOST_VA, MOST_VA + 1)  # the house's own reader judges amounts and counts
_AMOUNT, _COUNT = _given(_TYPED, typed=True, edges=_TOO_MUCH), _given({"type": ["integer", "string"]}, edges=_TOO_MUCH)
_RATINGS = _given({"type": "array", "items": _TYPED, "maxItems": MOST_ITEMS})
_FLAG, _NAME = _given({"type": "boolean"}), _given({"type": "string"})
_RATING = 'a rating: "4.5 kW", "14 200 VA", "48 A", "1½ hp"; a bare number is VA'


class ApplianceAsked(Asked):
    """An appliance: all but cooking, dryers, heating, cooling and chargers."""

    name: Annotated[str, Ask(_NAME, "what it is", Message("Name"), shown="")] = ""
    load: Annotated[Any, Ask(_AMOUNT, _RATING, Message("Rating"))]
    volts: Annotated[
        Any,
        Ask(_AMOUNT, "120 or 240 V as it is wired; not given: amperes count at line-to-line volts, "
            "and the load stays on the neutral", Message("Volts"), hint="V"),
    ] = None  # fmt: skip
    motor: Annotated[Any, Ask(_FLAG, "true by default where the load is in hp", Message("Motor"), shown=False)] = False
    fastened: Annotated[Any, Ask(_FLAG, "fastened in place", Message("Fastened in place"), shown=True)] = True


class CookingAsked(Asked):
    """Household cooking units that are alike."""

    kind: Annotated[Any, Ask(_one_of(CookingKind), "what it is", Message("Kind"), shown="range")] = "range"
    load: Annotated[Any, Ask(_AMOUNT, "rating of one", Message("Rating of one"))]
    count: Annotated[Any, Ask(_COUNT, "how many", Message("How many"), shown=1)] = 1


class HeatingAsked(Asked):
    """Electric space heating."""

    kind: Annotated[Any, Ask(_one_of(HeatingKind), "how it heats", Message("Kind"), shown="resistance")] = "resistance"
    load: Annotated[Any, Ask(_AMOUNT, "load in all", Message("Load in all"))]
    units: Annotated[Any, Ask(_COUNT, "separately controlled units in it", Message("Controlled apart"), shown=1)] = 1
    locked_out: Annotated[
        Any, Ask(_FLAG, "heat pump supplement: never runs with the compressor", Message("Locked out"), shown=False)
    ] = False


_MANY: Any = Field(default_factory=list, max_length=MOST_ITEMS)


class DwellingAsked(Asked):
    """What a house is asked by."""

    book: Annotated[Any, Ask(_one_of(books_with_a_sheet()), "the edition", shown=DEFAULT_BOOK)] = DEFAULT_BOOK
    system: Annotated[
        Any, Ask(_one_of(DWELLING_SYSTEMS), "of the supply", Message("Supply"), _HOUSE, shown=DWELLING_SYSTEMS[0])
    ] = DWELLING_SYSTEMS[0]
    method: Annotated[
        Any,
        Ask(_one_of(Method), "the method whose result sizes the service; the other is shown beside",
            Message("Method"), _SERVICE, shown="standard"),
    ] = "standard"  # fmt: skip
    occupancy: Annotated[
        Any,
        Ask(_one_of(Occupancy), "a house with its own service, or one dwelling unit of a larger building on a feeder",
            Message("Occupancy"), _HOUSE, shown="one-family", more=True),
    ] = "one-family"  # fmt: skip
    floor_area: Annotated[
        Any,
        Ask(_AMOUNT, 'outside dimensions: "2340 ft2", "217 m²"; a bare number is ft²', Message("Floor area"), _HOUSE,
            "ft²"),
    ]  # fmt: skip
    small_appliance_circuits: Annotated[
        Any, Ask(_COUNT, "2 at least", Message("Small-appliance circuits"), _HOUSE, shown=2, more=True)
    ] = 2
    laundry_circuits: Annotated[
        Any,
        Ask(_COUNT, "1 at least; 0 for a unit with a common laundry", Message("Laundry circuits"), _HOUSE, shown=1,
            more=True),
    ] = 1  # fmt: skip
    appliances: Annotated[list[ApplianceAsked], Items(Message("Appliances"), Message("appliance"))] = _MANY
    dryers: Annotated[
        Any, Ask(_RATINGS, "household electric dryers, one rating each", Message("Dryers"), _LOADS, shown=[])
    ] = ()
    cooking: Annotated[list[CookingAsked], Items(Message("Cooking"), Message("cooking unit"))] = _MANY
    heating: Annotated[list[HeatingAsked], Items(Message("Heating"), Message("heating"))] = _MANY
    cooling: Annotated[
        Any, Ask(_AMOUNT, "all the cooling that can run at one time; 0 or left out: none", Message("Cooling"), _LOADS)
    ] = None
    vehicle_chargers: Annotated[
        Any,
        Ask(_RATINGS, "vehicle charging equipment, one rating each", Message("Vehicle chargers"), _LOADS, shown=[]),
    ] = ()
    conductor_material: Annotated[
        Any, Ask(_one_of(MATERIALS), "of the service", Message("Metal"), _SERVICE, shown=MATERIALS[0])
    ] = MATERIALS[0]
    terminals: Annotated[
        Any,
        Ask(_one_of(Terminals), "what the service equipment is marked for; unmarked counts as 60 °C up to 100 A",
            Message("Terminals"), _SERVICE, shown="75"),
    ] = "75"  # fmt: skip
    exact_half_kw: Annotated[
        Any,
        Ask(_one_of(HalfReading), "ranges table: whether exactly half a kilowatt is a major fraction; usual: it counts",
            Message("Exactly half a kW"), _LOADS, shown="counts", more=True),
    ] = "counts"  # fmt: skip


def solve(asked: DwellingAsked) -> Answered:
    """Return a house's answer. Raises InputError, the first with the others on it."""
    house, method, edition = read_house(asked.model_dump(exclude_unset=True))
    solution = solve_house(house, method, edition)
    steps = [*solution.demand.sheet.steps, *solution.service.sheet.steps]
    raw = asked.model_dump(exclude_unset=True)
    # The job sizes a house's run as any other: what its own rule lets be smaller goes with it, fixed by hand.
    lines = solution.service.conductor
    pins = {"size": lines.size, "sets": lines.sets, "device_a": solution.service.device_a}
    house_entries = {key: value for key, value in raw.items() if key not in _OF_THE_JOB}
    node = {"kind": "dwelling", "name": "Dwelling", "dwelling": house_entries, "run": {"pins": pins}}
    book = find_book(edition.name)
    return Answered(book, result_of(solution), steps, solution.findings, _heads(solution), nodes=(node,))


_OF_THE_JOB = ("book", "system")


def _heads(solution: HouseSolution) -> tuple[Head, ...]:
    service, terms = solution.service, find_book(solution.edition.name).terms
    lines, neutral, demand = service.conductor, service.neutral_conductor, solution.demand
    connected = Message("of {load} connected", load=Figure(demand.connected_va / 1000, "kVA", 1))
    reckoned = Message("{amps} reckoned", amps=Figure(service.amps, "A", 1))
    return (
        Head(Message("Demand"), Figure(demand.demand_va / 1000, "kVA", 1), note=connected),
        Head(Message("Service"), Figure(service.device_a, "A"), note=reckoned),
        Head(Message("Lines"), sets_of(lines.size, lines.sets), f"{terms.gauge(lines.size)} {lines.material}"),
        Head(Message("Neutral"), neutral.size, terms.gauge(neutral.size), main=False),
    )


def result_of(solution: HouseSolution) -> Json:
    """Return the result's figures, not rounded.

    In the standard method the parts add up to `demand_va`; in the optional one the parts named after
    loads are what enters the general loads, and `general_demand_va` and `hvac_va` add up to it.
    """
    demand, service = solution.demand, solution.service
    picks = service.picks[solution.house.material]
    return {
        "method": solution.method.value,
        "connected_va": demand.connected_va,
        "demand_va": demand.demand_va,
        "amps": service.amps,
        "leg_amps": service.leg_amps,
        "required_a": service.need_a,
        "device_a": service.device_a,
        "device_without_continuous_a": service.device_plain_a,
        "conductor": conductor_json(service.conductor),
        "conductor_ordinary": conductor_json(picks.ordinary),
        "conductors": {material: _pick_json(pick) for material, pick in service.picks.items()},
        "neutral_va": service.neutral.load_va,
        "neutral_a": service.neutral.amps,
        "neutral_conductor": conductor_json(service.neutral_conductor),
        "grounding_electrode": {item.electrode: item.size for item in service.electrodes},
        "grounding_electrode_material": MATERIALS[0],
        "lighting_va": demand.of("lighting"),
        "cooking_va": demand.of("cooking"),
        "cooking_ways": [
            {"way": str(way.name), "demand_va": way.demand_va, "lawful": way.lawful} for way in demand.cooking_ways
        ],
        "dryer_va": demand.of("dryers"),
        "appliances_va": demand.of("appliances"),
        "hvac_va": demand.of("climate"),
        "motor_25_va": demand.of("motor"),
        "charger_va": demand.of("chargers"),
        "general_va": demand.general_va,
        "general_demand_va": demand.general_demand_va,
        "other_method": _other(solution),
    }


def _pick_json(pick: Pick) -> Json:
    return {
        "by_83_percent": conductor_json(pick.by_83) if pick.by_83 else None,
        "ordinary": conductor_json(pick.ordinary),
        "ordinary_pair": conductor_json(pick.ordinary_pair) if pick.ordinary_pair else None,
    }


def _other(solution: HouseSolution) -> Json:
    other = solution.other
    service = solution.services[other]
    return {
        "method": other.value,
        "demand_va": solution.demands[other].demand_va,
        "amps": service.amps,
        "device_a": service.device_a,
    }


TOOL = Tool(
    name="dwelling",
    title=Message("Dwelling and its service"),
    question=Message("What service does a house need?"),
    group=Group.WHOLE,
    place=0,
    words=("house", "home", "apartment", "service", "load calculation", "220.82", "220.42", "310.12", "demand"),
    asks=DwellingAsked,
    solve=solve,
    example={
        "nec": {
            "floor_area": "2340 ft2",
            "cooking": [{"kind": "range", "load": "13.9 kW"}],
            "dryers": ["5.5 kW"],
            "appliances": [{"name": "Water heater", "load": "4.5 kW", "volts": "240 V"}],
            "cooling": "28 A",
        },
    },
    caution=Message("A service is the authority's and the utility's to approve. The licensed person decides."),
    families=("nec",),
)
