"""A dwelling's demand, and what both methods of reckoning it share."""

from __future__ import annotations

from dataclasses import dataclass, field

from voltaje.books.nec.dwelling.climate import Motor
from voltaje.books.nec.dwelling.cooking import CookingWay
from voltaje.books.nec.dwelling.house import Appliance, DemandLine, House, Load, Part
from voltaje.books.nec.edition import Edition
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.house import Method
from voltaje.sheet import Sheet

LIGHTING = Formula("area * unit_load")
CIRCUITS = Formula("circuits * each")
SUM = Formula("sum(parts)")

IN_FULL = 100.0


_TOTALS = {Method.STANDARD: "total", Method.OPTIONAL: "optional", Method.EXISTING: "existing"}


@dataclass(frozen=True)
class Demand:
    """A dwelling's load by one method: the worksheet's lines, their sum, and the steps.

    general_va, general_demand_va: the pool of the optional methods; 0 in the standard one
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
class Work:
    """A demand being worked: the house, the edition, the sheet, the lines so far."""

    house: House
    edition: Edition
    sheet: Sheet
    lines: list[DemandLine] = field(default_factory=list)


def closed(
    work: Work,
    method: Method,
    cooking_ways: tuple[CookingWay, ...] = (),
    general_va: float = 0.0,
    general_demand_va: float = 0.0,
) -> Demand:
    """Add up the lines: in the optional methods the pooled ones count through the pool alone."""
    counted = [line for line in work.lines if method is Method.STANDARD or line.key in ("general", "climate")]
    rule = work.edition.cite(_TOTALS[method])
    with work.sheet.section("total"):
        total = work.sheet.apply(
            SUM, Message("Demand of the dwelling"), "VA", rule, None, parts=[line.demand_va for line in counted]
        )
    connected = sum(line.connected_va for line in work.lines if line.key != "general")
    return Demand(method, tuple(work.lines), connected, total, work.sheet, cooking_ways, general_va, general_demand_va)


def take_workings(work: Work, *loads: Load) -> None:
    """Show how these loads were converted to volt-amperes, in the section that is open."""
    work.sheet.take((load.working for load in loads if load.working), work.sheet.current)


def take_climate_workings(work: Work) -> None:
    """Show how heating and cooling were converted."""
    loads = [heating.load for heating in work.house.heating]
    take_workings(work, *loads, *([work.house.cooling] if work.house.cooling else []))


def lighting_parts(house: House, edition: Edition) -> tuple[Part, ...]:
    """Return what lighting and circuits are made of, for the worksheet. Source: NEC 220.52, 220.41."""
    lighting, kitchen = edition.figure("lighting_va_per_ft2"), edition.figure("small_appliance_va")
    laundry, area = edition.figure("laundry_va"), Figure(house.floor_area_ft2, "ft²", 1)
    each = Message("{area} × {each}", area=area, each=Figure(lighting, "VA"))
    circuits = house.small_appliance_circuits
    by_kitchen = Message("{n} × {each}", n=circuits, each=Figure(kitchen, "VA"))
    by_laundry = Message("{n} × {each}", n=house.laundry_circuits, each=Figure(laundry, "VA"))
    return (
        Part(Message("General lighting"), each, house.floor_area_ft2 * lighting),
        Part(Message("Small-appliance circuits"), by_kitchen, circuits * kitchen),
        Part(Message("Laundry circuits"), by_laundry, house.laundry_circuits * laundry),
    )


def lighting_and_circuits(work: Work) -> float:
    """Return general lighting, small-appliance and laundry circuits, connected [VA].

    Source: NEC 220.52; general lighting by edition (220.12, 220.14(J), 220.41).
    """
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
    return edition.figure("fastened_percent") if count >= edition.figure("fastened_count") else IN_FULL


def appliance_parts(house: House) -> tuple[Part, ...]:
    """Return the appliances one by one, for the worksheet."""
    return tuple(
        Part(Message("{name}", name=item.name), Message("{typed}", typed=item.load.typed), item.load.va)
        for item in house.appliances
    )


def appliance_motors(house: House) -> list[Motor]:
    """Return the appliances that are motors."""
    return [
        Motor(Message("{name}", name=item.name), item.load.va, item.on_neutral)
        for item in house.appliances
        if item.motor
    ]
