"""The load of a dwelling by the optional method: one pool of general loads, and heating or cooling."""

from __future__ import annotations

from voltaje.books.nec.dwelling.climate import optional_climate
from voltaje.books.nec.dwelling.demand import (
    SUM,
    Demand,
    Work,
    appliance_parts,
    closed,
    lighting_and_circuits,
    lighting_parts,
    take_climate_workings,
    take_workings,
)
from voltaje.books.nec.dwelling.house import DemandLine, House, Load, Part
from voltaje.books.nec.edition import Edition
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.house import Method
from voltaje.sheet import Sheet

FIRST_AND_REST = Formula("first + (load - first) * percent / 100")


def optional_demand(house: House, edition: Edition, record: bool = True) -> Demand:
    """Return the load of a dwelling by the optional method.

    All general loads at nameplate, the first 10 kVA in full and the rest at 40 %, and the largest
    of the heating and cooling selections.
    Source: NEC 220.82.
    """
    work = Work(house, edition, Sheet(on=record))
    general_loads(work, "optional_general")
    with work.sheet.section("general"):
        general_va, general_demand_va = pooled(work, "optional")
    with work.sheet.section("climate"):
        take_climate_workings(work)
        climate = optional_climate(house, edition, work.sheet)
    if climate:
        work.lines.append(climate.line)
    return closed(work, Method.OPTIONAL, general_va=general_va, general_demand_va=general_demand_va)


def general_loads(work: Work, topic: str) -> None:
    """Fill in the general loads at nameplate, one line a kind; topic: of the clause. Source: NEC 220.82(B), 220.83."""
    house, edition, sheet, pool = work.house, work.edition, work.sheet, work.edition.cite(topic)
    with sheet.section("lighting"):
        parts = lighting_parts(house, edition)
        connect(work, ("lighting", topic), Message("Lighting and circuits"), lighting_and_circuits(work), parts)
    groups: tuple[tuple[str, Message, tuple[Load, ...]], ...] = (
        ("appliances", Message("Appliances"), tuple(appliance.load for appliance in house.appliances)),
        ("dryers", Message("Dryer"), house.dryers),
        ("cooking", Message("Cooking"), tuple(unit.load for unit in house.cooking for _ in range(unit.count))),
        ("chargers", Message("Vehicle charger"), house.chargers),
    )
    for key, label, loads in groups:
        if loads:
            with sheet.section(key):
                take_workings(work, *dict.fromkeys(loads))
                because = Message("at nameplate")
                va = sheet.apply(SUM, label, "VA", pool, because, parts=[load.va for load in loads])
                connect(work, (key, topic), label, va, appliance_parts(house) if key == "appliances" else ())


def connect(work: Work, key: tuple[str, str], label: Message, va: float, parts: tuple[Part, ...] = ()) -> None:
    """Add a line to the pool, at nameplate; key: its own, and the topic of its clause."""
    named, rule = key[0], work.edition.cite(key[1])
    work.lines.append(DemandLine(named, label, Message("at nameplate"), va, va, rule, parts))


def pooled(work: Work, way: str) -> tuple[float, float]:
    """Return the pool, connected and as it counts [VA]: so much in full, a share of the rest. Source: 220.82, 220.83.

    way: optional, or existing, as its figures and its clause are called
    """
    edition, rule = work.edition, work.edition.cite(f"{way}_general")
    parts = [line.connected_va for line in work.lines]
    general = work.sheet.apply(SUM, Message("General loads"), "VA", rule, None, parts=parts)
    first, percent = edition.figure(f"{way}_first_va"), edition.figure(f"{way}_rest_percent")
    summary = Message(
        "first {first} in full, rest at {percent}", first=Figure(first / 1000, "kVA"), percent=Figure(percent, "%")
    )
    demand = general
    if general > first:
        demand = work.sheet.apply(
            FIRST_AND_REST, Message("Demand"), "VA", rule, summary, load=general, first=first, percent=percent
        )
    work.lines.append(DemandLine("general", Message("General loads"), summary, general, demand, rule))
    return general, demand
