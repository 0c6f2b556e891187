"""The load of a dwelling, by the standard and by the optional method."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum

from voltaje.books.nec.climate import Motor, optional_climate, standard_climate
from voltaje.books.nec.cooking import CookingWay, cooking_demand
from voltaje.books.nec.edition import Edition
from voltaje.books.nec.house import Appliance, DemandLine, House, Load
from voltaje.books.tables import cell_formula, number
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.sheet import Sheet

LIGHTING = Formula("area * unit_load")
CIRCUITS = Formula("circuits * each")
SUM = Formula("sum(parts)")
SHARE = Formula("load * percent / 100")
SHARE_OF_SUM = Formula("sum(parts) * percent / 100")
SHARE_AND_REST = Formula("load * percent / 100 + sum(rest)")
AT_LEAST = Formula("max(nameplate, least)")
FIRST_AND_REST = Formula("first + (load - first) * percent / 100")


_IN_FULL = 100.0


class Method(StrEnum):
    """The two ways to reckon a dwelling."""

    STANDARD = "standard"
    OPTIONAL = "optional"


@dataclass(frozen=True)
class Demand:
    """A dwelling's load by one method: the worksheet's lines, their sum, and the steps.

    general_va, general_demand_va: the pool of the optional method; 0 in the standard one
    """

    method: Method
    lines: tuple[DemandLine, ...]
    connected_va: float
    demand_va: float
    sheet: Sheet
    cooking_ways: tuple[CookingWay, ...] = ()
    general_va: float = 0.0
    general_demand_va: float = 0.0

    def of(self, key: str) -> float:
        """Return the demand of one line [VA], 0 where the house has none."""
        return sum(line.demand_va for line in self.lines if line.key == key)


@dataclass
class _Work:
    house: House
    edition: Edition
    sheet: Sheet
    lines: list[DemandLine] = field(default_factory=list)


def standard_demand(house: House, edition: Edition, record: bool = True) -> Demand:
    """Return the load of a dwelling by the standard method.

    Source: NEC Article 220 Parts II and III.
    """
    work = _Work(house, edition, Sheet(on=record))
    _lighting_line(work)
    _appliances_line(work)
    _dryers_line(work)
    ways: tuple[CookingWay, ...] = ()
    if house.cooking:
        with work.sheet.section("cooking"):
            _take_workings(work, *(unit.load for unit in house.cooking))
            cooking = cooking_demand(house.cooking, edition, house.half, work.sheet)
        work.lines.append(cooking.line)
        ways = cooking.ways
    motors = appliance_motors(house)
    with work.sheet.section("climate"):
        _take_climate_workings(work)
        climate = standard_climate(house, motors, edition, work.sheet)
    if climate:
        work.lines.append(climate.line)
        motors = [*motors, *climate.motors]
    _chargers_line(work)
    _motor_line(work, motors)
    return _closed(work, Method.STANDARD, cooking_ways=ways)


def optional_demand(house: House, edition: Edition, record: bool = True) -> Demand:
    """Return the load of a dwelling by the optional method.

    All general loads at nameplate, the first 10 kVA in full and the rest at 40 %, and the largest
    of the heating and cooling selections.
    Source: NEC 220.82.
    """
    work = _Work(house, edition, Sheet(on=record))
    sheet, pool = work.sheet, edition.cite("optional_general")
    with sheet.section("lighting"):
        _connect(work, "lighting", Message("Lighting and circuits"), _lighting_and_circuits(work))
    groups: tuple[tuple[str, Message, tuple[Load, ...]], ...] = (
        ("appliances", Message("Appliances"), tuple(appliance.load for appliance in house.appliances)),
        ("dryers", Message("Dryer"), house.dryers),
        ("cooking", Message("Cooking"), tuple(unit.load for unit in house.cooking for _ in range(unit.count))),
        ("chargers", Message("Vehicle charger"), house.chargers),
    )
    for key, label, loads in groups:
        if loads:
            with sheet.section(key):
                _take_workings(work, *dict.fromkeys(loads))
                parts = [load.va for load in loads]
                because = Message("at nameplate")
                _connect(work, key, label, sheet.apply(SUM, label, "VA", pool, because, parts=parts))
    with sheet.section("general"):
        general_va, general_demand_va = _pool(work)
    with sheet.section("climate"):
        _take_climate_workings(work)
        climate = optional_climate(house, edition, sheet)
    if climate:
        work.lines.append(climate.line)
    return _closed(work, Method.OPTIONAL, general_va=general_va, general_demand_va=general_demand_va)


def _closed(
    work: _Work,
    method: Method,
    cooking_ways: tuple[CookingWay, ...] = (),
    general_va: float = 0.0,
    general_demand_va: float = 0.0,
) -> Demand:
    """Add up the lines: in the optional method the pooled ones count through the pool alone."""
    counted = [line for line in work.lines if method is Method.STANDARD or line.key in ("general", "climate")]
    rule = work.edition.cite("total" if method is Method.STANDARD else "optional")
    with work.sheet.section("total"):
        total = work.sheet.apply(
            SUM, Message("Demand of the dwelling"), "VA", rule, None, parts=[line.demand_va for line in counted]
        )
    connected = sum(line.connected_va for line in work.lines if line.key != "general")
    return Demand(method, tuple(work.lines), connected, total, work.sheet, cooking_ways, general_va, general_demand_va)


def _connect(work: _Work, key: str, label: Message, va: float) -> None:
    rule = work.edition.cite("optional_general")
    work.lines.append(DemandLine(key, label, Message("at nameplate, among the general loads"), va, va, rule))


def _pool(work: _Work) -> tuple[float, float]:
    edition, rule = work.edition, work.edition.cite("optional_general")
    parts = [line.connected_va for line in work.lines]
    general = work.sheet.apply(SUM, Message("General loads"), "VA", rule, None, parts=parts)
    first, percent = edition.figure("optional_first_va"), edition.figure("optional_rest_percent")
    summary = Message(
        "first {first} in full, rest at {percent}",
        first=Figure(first / 1000, "kVA"),
        percent=Figure(percent, "%"),
    )
    demand = general
    if general > first:
        demand = work.sheet.apply(
            FIRST_AND_REST, Message("Demand"), "VA", rule, summary, load=general, first=first, percent=percent
        )
    work.lines.append(DemandLine("general", Message("General loads"), summary, general, demand, rule))
    return general, demand


def _take_workings(work: _Work, *loads: Load) -> None:
    work.sheet.take((load.working for load in loads if load.working), work.sheet.current)


def _take_climate_workings(work: _Work) -> None:
    loads = [heating.load for heating in work.house.heating]
    _take_workings(work, *loads, *([work.house.cooling] if work.house.cooling else []))


def _lighting_and_circuits(work: _Work) -> float:
    house, edition, sheet = work.house, work.edition, work.sheet
    general = sheet.apply(
        LIGHTING,
        Message("General lighting"),
        "VA",
        edition.cite("general_lighting"),
        _area_because(house, edition),
        area=house.floor_area_ft2,
        unit_load=edition.figure("lighting_va_per_ft2"),
    )
    kitchen = sheet.apply(
        CIRCUITS,
        Message("Small-appliance circuits"),
        "VA",
        edition.cite("small_appliance"),
        None,
        circuits=house.small_appliance_circuits,
        each=edition.figure("small_appliance_va"),
    )
    laundry = sheet.apply(
        CIRCUITS,
        Message("Laundry circuits"),
        "VA",
        edition.cite("laundry"),
        None if house.laundry_circuits else Message("a laundry for all occupants is elsewhere"),
        circuits=house.laundry_circuits,
        each=edition.figure("laundry_va"),
    )
    rule = edition.cite("general_lighting")
    return sheet.apply(SUM, Message("Connected"), "VA", rule, None, parts=[general, kitchen, laundry])


def _area_because(house: House, edition: Edition) -> Message:
    if "m" not in house.floor_area_typed.lower():
        return Message("outside dimensions; no open porch, garage or space that cannot be finished")
    return Message(
        "{typed}, converted; the metric unit load, {metric}, is a rounding of it",
        typed=house.floor_area_typed,
        metric=Figure(edition.figure("lighting_va_per_m2"), "VA/m²"),
    )


def _lighting_line(work: _Work) -> None:
    edition, sheet = work.edition, work.sheet
    with sheet.section("lighting"):
        connected = _lighting_and_circuits(work)
        rule, parts, shares = edition.cite_table("lighting_demand"), [], []
        for row in edition.table("lighting_demand").rows:
            over, percent = number(row, "over"), number(row, "percent")
            portion = min(connected, float("inf") if row["to"] is None else number(row, "to")) - over
            if portion > 0:
                shares.append(Figure(percent, "%"))
                label = Message("{portion} at {percent}", portion=Figure(portion, "VA"), percent=shares[-1])
                parts.append(sheet.apply(SHARE, label, "VA", rule, None, load=portion, percent=percent))
        demand = sheet.apply(SUM, Message("Lighting demand"), "VA", rule, None, parts=parts)
    first = Figure(number(edition.table("lighting_demand").rows[0], "to"), "VA")
    summary = Message("first {first} in full, then by steps: {shares}", first=first, shares=shares)
    work.lines.append(DemandLine("lighting", Message("Lighting and circuits"), summary, connected, demand, rule))


def counts_as_fastened(appliance: Appliance, edition: Edition) -> bool:
    """Return whether an appliance counts toward four fastened in place.

    Source: NEC 220.53; from 2020 only from ¼ hp or 500 W up.
    """
    if not appliance.fastened or not edition.fastened_least_rating:
        return appliance.fastened
    if appliance.load.hp is not None:
        return appliance.load.hp >= edition.figure("fastened_least_hp")
    return appliance.load.va >= edition.figure("fastened_least_w")


def fastened_percent(house: House, edition: Edition) -> float:
    """Return the demand factor [%] of the fastened appliances that count: 75, or 100 with fewer than four.

    Source: NEC 220.53.
    """
    count = sum(1 for appliance in house.appliances if counts_as_fastened(appliance, edition))
    return edition.figure("fastened_percent") if count >= edition.figure("fastened_count") else _IN_FULL


def _appliances_line(work: _Work) -> None:
    house, edition, sheet = work.house, work.edition, work.sheet
    if not house.appliances:
        return
    rule = edition.cite("fastened")
    counted = [item.load.va for item in house.appliances if counts_as_fastened(item, edition)]
    others = [item.load.va for item in house.appliances if not counts_as_fastened(item, edition)]
    percent, least = fastened_percent(house, edition), Figure(edition.figure("fastened_count"))
    with sheet.section("appliances"):
        _take_workings(work, *(item.load for item in house.appliances))
        if counted:
            label = Message("Fastened appliances, {n}", n=len(counted))
            connected = sheet.apply(SUM, label, "VA", rule, _counted_because(edition), parts=counted)
        else:
            connected = 0.0
        reduced = percent < _IN_FULL
        because = (
            Message(
                "{least} or more: all of them at {percent}, so that one more can lower the demand",
                least=least,
                percent=Figure(percent, "%"),
            )
            if reduced
            else Message("fewer than {least} count: no reduction", least=least)
        )
        label = Message("Appliance demand")
        if others:
            demand = sheet.apply(
                SHARE_AND_REST, label, "VA", rule, because, load=connected, percent=percent, rest=others
            )
        else:
            demand = sheet.apply(SHARE, label, "VA", rule, because, load=connected, percent=percent)
    summary = Message("75 % of {n}", n=len(counted)) if reduced else Message("fewer than four: in full")
    if reduced and others:
        summary = Message("75 % of {n}, {others} in full", n=len(counted), others=len(others))
    work.lines.append(DemandLine("appliances", Message("Appliances"), summary, connected + sum(others), demand, rule))


def _counted_because(edition: Edition) -> Message | None:
    if edition.fastened_least_rating:
        return Message("fastened in place, ¼ hp or 500 W and over; no cooking, dryer, heating, cooling")
    return Message("fastened in place; no cooking, dryer, heating, cooling")


def _dryers_line(work: _Work) -> None:
    house, edition, sheet = work.house, work.edition, work.sheet
    if not house.dryers:
        return
    least, rule = edition.figure("dryer_least_va"), edition.cite_table("dryers")
    with sheet.section("dryers"):
        _take_workings(work, *house.dryers)
        each = [
            sheet.apply(
                AT_LEAST,
                Message("Dryer"),
                "VA",
                edition.cite("dryers"),
                Message("{least} or nameplate, the greater", least=Figure(least, "W")),
                nameplate=dryer.va,
                least=least,
            )
            for dryer in house.dryers
        ]
        cell = cell_formula(edition.table("dryers").band("dryers", edition.name, len(each)), "percent")
        values = {"n": float(len(each))} if cell.names else {}
        percent = sheet.apply(cell, Message("Demand factor for {n}", n=len(each)), "%", rule, None, **values)
        demand = sheet.apply(SHARE_OF_SUM, Message("Dryer demand"), "VA", rule, None, parts=each, percent=percent)
    summary = (
        Message("{n} dryers at {percent}", n=len(each), percent=Figure(percent, "%", 1))
        if len(each) > 1
        else Message("nameplate, 5 kW at least")
    )
    connected = sum(dryer.va for dryer in house.dryers)
    label = Message("Dryer") if len(each) == 1 else Message("Dryers")
    work.lines.append(DemandLine("dryers", label, summary, connected, demand, rule))


def _chargers_line(work: _Work) -> None:
    house, edition, sheet = work.house, work.edition, work.sheet
    if not house.chargers:
        return
    rule = edition.cite("charger")
    with sheet.section("chargers"):
        _take_workings(work, *house.chargers)
        if edition.charger_least_load:
            least = edition.figure("charger_least_va")
            because = Message("{least} or nameplate, the greater", least=Figure(least, "VA"))
            each = [
                sheet.apply(
                    AT_LEAST, Message("Vehicle charger"), "VA", rule, because, nameplate=charger.va, least=least
                )
                for charger in house.chargers
            ]
            summary = because
        else:
            each = [charger.va for charger in house.chargers]
            summary = Message("at nameplate")
        apart = Message("kept apart from the fastened appliances, the safe side; the other reading lists it among them")
        why = None if edition.charger_least_load else apart
        demand = sheet.apply(SUM, Message("Charger load"), "VA", rule, why, parts=each)
    connected = sum(charger.va for charger in house.chargers)
    work.lines.append(DemandLine("chargers", Message("Vehicle charger"), summary, connected, demand, rule))


def appliance_motors(house: House) -> list[Motor]:
    """Return the appliances that are motors."""
    return [
        Motor(Message("{name}", name=item.name), item.load.va, item.on_neutral)
        for item in house.appliances
        if item.motor
    ]


def _motor_line(work: _Work, motors: list[Motor]) -> None:
    if not motors:
        return
    edition, rule = work.edition, work.edition.cite("largest_motor")
    largest = max(motors, key=lambda motor: motor.va)
    percent = edition.figure("motor_extra_percent")
    with work.sheet.section("motor"):
        label = Message("Largest motor: {name}", name=largest.name)
        extra = work.sheet.apply(SHARE, label, "VA", rule, None, load=largest.va, percent=percent)
    summary = Message("{percent} of {load} added", percent=Figure(percent, "%"), load=Figure(largest.va, "VA"))
    work.lines.append(DemandLine("motor", label, summary, 0.0, extra, rule))
