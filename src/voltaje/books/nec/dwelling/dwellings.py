"""Several dwellings on one board: taken together by the standard method, or by the multifamily table."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from voltaje.books.nec.dwelling.demand import CIRCUITS
from voltaje.books.nec.dwelling.house import Heating, House, Load
from voltaje.books.nec.dwelling.standard import standard_demand
from voltaje.books.nec.edition import Edition
from voltaje.books.tables import number
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.board import DwellingsMethod
from voltaje.path.house import HeatingKind, Occupancy
from voltaje.sheet import Sheet

UNIT = Formula("lighting + sum(circuits) + sum(loads) + max(heating, cooling)")
SHARE = Formula("sum(units) * percent / 100")


def dwellings_demand(
    houses: Sequence[House], method: DwellingsMethod, three_phase: bool, edition: Edition, sheet: Sheet
) -> float:
    """Return the demand of several dwellings on one board [VA].

    The standard method takes their loads together, so that each table is entered with the whole number.
    The optional one applies the multifamily table to all that is connected; where its conditions do
    not hold, the standard method stands in.
    Source: NEC Article 220 Part III; 220.84, Table 220.84.
    """
    if method is DwellingsMethod.OPTIONAL and optional_allowed(houses, edition):
        return _optional(houses, edition, sheet)
    together = standard_demand(taken_together(houses, three_phase), edition, sheet.on)
    sheet.take(together.sheet.steps)
    return together.demand_va


def optional_allowed(houses: Sequence[House], edition: Edition) -> bool:
    """Return whether the multifamily table may be used.

    Three or more dwellings, each with electric cooking and electric heating or cooling.
    Source: NEC 220.84(A).
    """
    enough = len(houses) >= edition.figure("multifamily_from")
    return enough and all(house.cooking and (house.heating or house.cooling) for house in houses)


def taken_together(houses: Sequence[House], three_phase: bool) -> House:
    """Return one house that holds the loads of all."""
    cooling = [house.cooling for house in houses if house.cooling]
    return replace(
        houses[0],
        occupancy=Occupancy.UNIT,
        floor_area_ft2=sum(house.floor_area_ft2 for house in houses),
        floor_area_typed="",
        small_appliance_circuits=sum(house.small_appliance_circuits for house in houses),
        laundry_circuits=sum(house.laundry_circuits for house in houses),
        appliances=tuple(item for house in houses for item in house.appliances),
        dryers=tuple(dryer for house in houses for dryer in house.dryers),
        cooking=tuple(unit for house in houses for unit in house.cooking),
        heating=tuple(heating for house in houses for heating in what_runs(house)),
        cooling=Load("cooling", "", sum(load.va for load in cooling)) if cooling else None,
        chargers=tuple(charger for house in houses for charger in house.chargers),
        three_phase=three_phase,
        largest_cooling_va=max((load.va for load in cooling), default=0.0),
    )


def what_runs(house: House) -> tuple[Heating, ...]:
    """Return the heating of a house that can run together: of a heat pump and a locked-out supplement the larger.

    A lock-out is between the two of one house, whatever the others have. Source: NEC 220.60.
    """
    pumps = [heating for heating in house.heating if heating.kind is HeatingKind.HEAT_PUMP]
    locked = [each for each in house.heating if each.kind is HeatingKind.SUPPLEMENT and each.locked_out]
    smaller = (pumps if _sum(pumps) < _sum(locked) else locked) if pumps and locked else []
    runs = (heating for heating in house.heating if heating not in smaller)
    return tuple(replace(heating, locked_out=False) for heating in runs)


def _sum(heatings: list[Heating]) -> float:
    return sum(heating.load.va for heating in heatings)


def _optional(houses: Sequence[House], edition: Edition, sheet: Sheet) -> float:
    rule = edition.cite("multifamily")
    percent = number(edition.table("multifamily").band("dwellings", edition.name, len(houses)), "percent")
    units = [_connected(house, edition, sheet) for house in houses]
    label = Message("{n} dwellings at {percent}", n=len(units), percent=Figure(percent, "%"))
    because = Message("of all that is connected; loads of the house apart")
    return sheet.apply(SHARE, label, "VA", rule, because, units=units, percent=percent)


def _connected(house: House, edition: Edition, sheet: Sheet) -> float:
    """Return what counts of one dwelling [VA]: all at nameplate, of heating and cooling the larger."""
    each = {"kitchen": edition.figure("small_appliance_va"), "laundry": edition.figure("laundry_va")}
    circuits = [
        CIRCUITS.value(circuits=house.small_appliance_circuits, each=each["kitchen"]),
        CIRCUITS.value(circuits=house.laundry_circuits, each=each["laundry"]),
    ]
    loads = [
        *(item.load.va for item in house.appliances),
        *(dryer.va for dryer in house.dryers),
        *(unit.load.va for unit in house.cooking for _ in range(unit.count)),
        *(charger.va for charger in house.chargers),
    ]
    heating = sum(heating.load.va for heating in what_runs(house))
    return sheet.apply(
        UNIT,
        Message("Connected in one dwelling"),
        "VA",
        edition.cite("multifamily"),
        Message("the larger of heating and cooling"),
        lighting=house.floor_area_ft2 * edition.figure("lighting_va_per_ft2"),
        circuits=circuits,
        loads=loads,
        heating=heating,
        cooling=house.cooling.va if house.cooling else 0.0,
    )
