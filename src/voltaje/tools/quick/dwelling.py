"""The dwelling tool: a house's loads in, its demand and service out."""

from __future__ import annotations

from typing import Any

from voltaje.books.answers import sets_of
from voltaje.books.dwellings import DEFAULT_SYSTEM, HouseSolution, Pick, books_with_a_sheet, solved
from voltaje.books.questions import Book
from voltaje.books.registry import find_book
from voltaje.errors import UnknownName
from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import Json, Shape, one_word
from voltaje.message import Figure, Message
from voltaje.path.house import HOUSE, MATERIALS, HouseSpec
from voltaje.systems import DWELLING_SYSTEMS
from voltaje.tools.answer import conductor_json
from voltaje.tools.asking import DEFAULT_BOOK, Asked
from voltaje.tools.tool import Answered, Group, Head, Tool


def _book(raw: Any, _unit: str) -> Book:
    found, known = find_book(raw), list(books_with_a_sheet())
    if found.name not in known:
        raise UnknownName("", Message("must be one of: {known}", known=known))
    return found


class DwellingAsked(Asked, HouseSpec):
    """What a house is asked by: a house as it is entered, its supply and the edition."""

    book: Book = declared(
        Shape(_book, {"enum": list(books_with_a_sheet())}),
        "the edition",
        shown=DEFAULT_BOOK,
        default=find_book(DEFAULT_BOOK),
    )
    system: str = declared(one_word(*DWELLING_SYSTEMS), "of the supply", "Supply", HOUSE, shown=DEFAULT_SYSTEM)


def solve(asked: DwellingAsked) -> Answered:
    """Return a house's answer. Raises InputError, the first with the others on it."""
    solution = solved(asked, asked.book.name, asked.system)
    steps = [*solution.demand.sheet.steps, *solution.service.sheet.steps]
    # The job sizes a house's run as any other: what its own rule lets be smaller goes with it, fixed by hand.
    lines = solution.service.conductor
    pins = {"size": lines.size, "sets": lines.sets, "device_a": solution.service.device_a}
    entries = {key: value for key, value in asked.given.items() if key not in _OF_THE_JOB}
    node = {"kind": "dwelling", "name": "Dwelling", "dwelling": entries, "run": {"pins": pins}}
    return Answered(asked.book, result_of(solution), steps, solution.findings, _heads(solution), nodes=(node,))


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
        }
    },
    caution=Message("A service is the authority's and the utility's to approve. The licensed person decides."),
    families=("nec",),
)
