"""A dwelling as it is entered: every field of it declared, for the file, the sheets and the forms."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from voltaje.inputs.declare import declared, keys_of, lists_of, many
from voltaje.inputs.read import Reader, Rule, read_lists, read_values
from voltaje.inputs.shapes import (
    FLAG,
    RATING,
    RATING_OR_NONE,
    TEXT,
    TYPED_AREA,
    VOLTS,
    one_of,
    one_word,
    several,
    whole,
)
from voltaje.limits import MOST_ITEMS
from voltaje.message import Message
from voltaje.quantity import Rating
from voltaje.rounding import HalfReading

HOUSE, LOADS, SERVICE = Message("House"), Message("Loads"), Message("Service")
MATERIALS = ("Cu", "Al")
_MOST_CIRCUITS, _MOST_COUNT = 50, 100
_RATINGS = several(RATING, MOST_ITEMS, 0, placed=True)
_RATING = 'a rating: "4.5 kW", "14 200 VA", "48 A", "1½ hp"; a bare number is VA'


class Method(StrEnum):
    """The ways to reckon a dwelling: any, a new one with one service, one that stands and gets more load."""

    STANDARD = "standard"
    OPTIONAL = "optional"
    EXISTING = "existing"


class Occupancy(StrEnum):
    """A house with a service of its own, or one dwelling unit of a larger building on a feeder."""

    ONE_FAMILY = "one-family"
    UNIT = "unit"


class CookingKind(StrEnum):
    """Household cooking equipment."""

    RANGE = "range"
    COOKTOP = "cooktop"
    OVEN = "oven"


class HeatingKind(StrEnum):
    """Electric space heating."""

    RESISTANCE = "resistance"
    HEAT_PUMP = "heat_pump"
    SUPPLEMENT = "heat_pump_supplement"
    THERMAL_STORAGE = "thermal_storage"


class Terminals(StrEnum):
    """What the terminals of the service equipment are marked for."""

    MARKED_75 = "75"
    MARKED_60 = "60"
    UNMARKED = "unmarked"


# What the choices are called.
_COOKERS = {"range": Message("Range"), "cooktop": Message("Cooktop"), "oven": Message("Wall oven")}
_HEATERS = {
    "resistance": Message("Electric heat"),
    "heat_pump": Message("Heat pump"),
    "heat_pump_supplement": Message("Heat-pump strip heat"),
    "thermal_storage": Message("Storage heater"),
}
_METALS = {"Cu": Message("copper"), "Al": Message("aluminum")}
_MARKS = {"75": Message("marked 75 °C"), "unmarked": Message("not marked"), "60": Message("marked 60 °C")}
_DWELLINGS = {"one-family": Message("one-family house"), "unit": Message("unit of a building")}
_HALVES = {"counts": Message("counts (usual)"), "does not count": Message("does not (strict)")}


@dataclass(frozen=True, kw_only=True)
class ApplianceSpec:
    """An appliance: all but cooking, dryers, heating, cooling and chargers."""

    name: str = declared(TEXT, "what it is", "Name", shown="")
    load: Rating = declared(RATING, _RATING, "Rating", required=True)
    volts: float | None = declared(
        VOLTS,
        "120 or 240 V as it is wired; not given: amperes count at line-to-line volts, and it stays on the neutral",
        "Wired for",
        hint="V",
    )
    motor: bool | None = declared(FLAG, "true by default where the load is in hp", "Motor", shown=False, default=None)
    fastened: bool = declared(FLAG, "fastened in place", "Fastened in place", shown=True)


@dataclass(frozen=True, kw_only=True)
class CookingSpec:
    """Household cooking units that are alike."""

    kind: CookingKind = declared(
        one_of(CookingKind), "what it is", "Kind", shown="range", default=CookingKind.RANGE, titles=_COOKERS
    )
    load: Rating = declared(RATING, "rating of one", "Rating of one", required=True)
    count: int = declared(whole(1, _MOST_COUNT), "how many", "Quantity", shown=1)


@dataclass(frozen=True, kw_only=True)
class HeatingSpec:
    """Electric space heating."""

    kind: HeatingKind = declared(
        one_of(HeatingKind), "how it heats", "Kind", shown="resistance", default=HeatingKind.RESISTANCE, titles=_HEATERS
    )
    load: Rating = declared(RATING, "load in all", "Load in all", required=True)
    units: int = declared(
        whole(1, _MOST_COUNT),
        "separately controlled units in it",
        "Controlled apart",
        shown=1,
        when=("kind", ("resistance",)),
    )
    locked_out: bool = declared(
        FLAG,
        "heat pump supplement: never runs with the compressor",
        "Locked out",
        shown=False,
        when=("kind", ("heat_pump_supplement",)),
    )


@dataclass(frozen=True, kw_only=True)
class HouseSpec:
    """A dwelling: what is in it, how its demand is reckoned, what its service is made of.

    floor_area: as it was typed, and in ft²
    """

    method: Method = declared(
        one_of(Method),
        "the method whose result sizes the service; the other is shown beside",
        "Method",
        SERVICE,
        shown="standard",
        default=Method.STANDARD,
    )
    occupancy: Occupancy = declared(
        one_of(Occupancy),
        "a house with its own service, or one dwelling unit of a larger building on a feeder",
        "Occupancy",
        HOUSE,
        shown="one-family",
        default=Occupancy.ONE_FAMILY,
        more=True,
        titles=_DWELLINGS,
    )
    floor_area: tuple[str, float] = declared(
        TYPED_AREA,
        'outside dimensions: "2340 ft2", "217 m²"; a bare number is ft²',
        "Floor area",
        HOUSE,
        "ft²",
        required=True,
        rule="floor_area",
    )
    small_appliance_circuits: int | None = declared(
        whole(0, _MOST_CIRCUITS),
        "2 at least",
        "Small-appliance circuits",
        HOUSE,
        shown=2,
        default=None,
        more=True,
        rule="small_appliance_least",
    )
    laundry_circuits: int | None = declared(
        whole(0, _MOST_CIRCUITS),
        "1 at least; 0 for a unit with a common laundry",
        "Laundry circuits",
        HOUSE,
        shown=1,
        default=None,
        more=True,
        rule="laundry_least",
    )
    appliances: list[ApplianceSpec] | None = many(ApplianceSpec, Message("Appliances"), Message("appliance"))
    dryers: list[Rating] | None = declared(
        _RATINGS, "household electric dryers, one rating each", "Dryers", LOADS, shown=[], default=None
    )
    cooking: list[CookingSpec] | None = many(CookingSpec, Message("Cooking"), Message("cooking unit"))
    heating: list[HeatingSpec] | None = many(HeatingSpec, Message("Heating"), Message("heating"))
    cooling: Rating | None = declared(
        RATING_OR_NONE, "all the cooling that can run at one time; 0 or left out: none", "Cooling", LOADS
    )
    vehicle_chargers: list[Rating] | None = declared(
        _RATINGS, "vehicle charging equipment, one rating each", "Vehicle chargers", LOADS, shown=[], default=None
    )
    conductor_material: str = declared(
        one_word(*MATERIALS), "of the service", "Conductors", SERVICE, shown=MATERIALS[0], titles=_METALS
    )
    terminals: Terminals = declared(
        one_of(Terminals),
        "what the service equipment is marked for; unmarked counts as 60 °C up to 100 A",
        "Terminals",
        SERVICE,
        shown="75",
        default=Terminals.MARKED_75,
        titles=_MARKS,
    )
    exact_half_kw: HalfReading = declared(
        one_of(HalfReading),
        "ranges table: whether exactly half a kilowatt is a major fraction; usual: it counts",
        "Exactly half a kW",
        LOADS,
        shown="counts",
        default=HalfReading.COUNTS,
        more=True,
        titles=_HALVES,
    )


HOUSE_LISTS = tuple(each.key for each in lists_of(HouseSpec))


def read_house(raw: object, rule: Rule) -> HouseSpec:
    """Return a house as it is entered. Raises InputError with field, message and rule; further ones on `also`.

    rule: gives the clause of a topic
    """
    reader = Reader(raw, (*keys_of(HouseSpec), *HOUSE_LISTS))
    values = read_values(HouseSpec, reader, "ft") | read_lists(HouseSpec, reader, "ft")
    reader.cite(HouseSpec, rule)
    reader.finish()
    return HouseSpec(**values)
