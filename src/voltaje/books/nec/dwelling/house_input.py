"""Reading a house from raw input, JSON or form: every error at its field."""

from __future__ import annotations

from typing import Any

from voltaje.books.nec.dwelling.demand import Method
from voltaje.books.nec.dwelling.house import (
    Appliance,
    Cooking,
    CookingKind,
    Heating,
    HeatingKind,
    House,
    Load,
    Occupancy,
    Terminals,
)
from voltaje.books.nec.dwelling.ratings import load_from, on_neutral
from voltaje.books.nec.edition import Edition, find_edition
from voltaje.errors import InputError
from voltaje.message import Message
from voltaje.quantity import Rating, read_area, read_count, read_rating, read_volts, require_between
from voltaje.reader import Reader
from voltaje.rounding import HalfReading
from voltaje.systems import DWELLING_SYSTEMS, SYSTEMS, System, find_system

DEFAULT_BOOK = "NEC 2023"
DEFAULT_SYSTEM = "120/240 1ph 3w"
MATERIALS = ("Cu", "Al")
KEYS = (
    *("book", "system", "method", "occupancy", "floor_area", "small_appliance_circuits", "laundry_circuits"),
    *("appliances", "dryers", "cooking", "heating", "cooling", "vehicle_chargers"),
    *("conductor_material", "terminals", "exact_half_kw"),
)

_MOST_AREA_FT2 = 1_000_000
_MOST_LOAD_VA = 1_000_000
_MOST_CIRCUITS = 50
_MOST_COUNT = 100
_ONE = Rating("1 VA", 1.0, "VA")  # goes on in the place of a load that could not be read


def read_house(raw: object, decimal: str = ".") -> tuple[House, Method, Edition]:
    """Return a house, the method and the edition from raw input.

    decimal: decimal mark of numbers that a person typed
    Raises: InputError with field, message and rule; further ones on `also`.
    """
    reader = Reader(raw, KEYS)
    edition = reader.value("book", find_edition, find_edition(DEFAULT_BOOK))
    system = reader.value("system", _system, SYSTEMS[DEFAULT_SYSTEM])
    method = reader.choice("method", Method, Method.STANDARD)
    house = _HouseReader(reader, edition, system, decimal).house()
    reader.finish()
    return house, method, edition


class _HouseReader:
    """Reads the parts of a house for one edition and supply."""

    def __init__(self, reader: Reader, edition: Edition, system: System, decimal: str):
        self.reader = reader
        self.edition = edition
        self.system = system
        self.decimal = decimal

    def house(self) -> House:
        reader = self.reader
        typed, area_ft2 = reader.required("floor_area", self._area, ("1", 1.0))
        occupancy = reader.choice("occupancy", Occupancy, Occupancy.ONE_FAMILY)
        return House(
            system=self.system,
            occupancy=occupancy,
            floor_area_ft2=area_ft2,
            floor_area_typed=typed,
            small_appliance_circuits=self._circuits("small_appliance_circuits", "small_appliance_least"),
            laundry_circuits=self._laundry(occupancy),
            appliances=tuple(self._appliance(at, item) for at, item in reader.items("appliances")),
            dryers=tuple(self._load(at, item, Message("Dryer")) for at, item in reader.items("dryers")),
            cooking=tuple(self._cooking(at, item) for at, item in reader.items("cooking")),
            heating=tuple(self._heating(at, item) for at, item in reader.items("heating")),
            cooling=reader.value("cooling", self._cooling, None),
            chargers=tuple(
                self._load(at, item, Message("Vehicle charger")) for at, item in reader.items("vehicle_chargers")
            ),
            material=reader.value("conductor_material", _material, MATERIALS[0]),
            terminals=reader.choice("terminals", Terminals, Terminals.MARKED_75),
            half=reader.choice("exact_half_kw", HalfReading, HalfReading.COUNTS),
        )

    def _area(self, raw: Any) -> tuple[str, float]:
        typed, area_ft2 = read_area(raw, self.decimal)
        rule = str(self.edition.cite("floor_area"))
        require_between(area_ft2, 0, _MOST_AREA_FT2, "ft²", rule, above=True)
        return typed, area_ft2

    def _circuits(self, key: str, least: str) -> int:
        low = int(self.edition.figure(least))
        return self.reader.value(key, lambda raw: self._counted(raw, low, least), low)

    def _counted(self, raw: Any, low: int, topic: str) -> int:
        try:
            return read_count(raw, low, _MOST_CIRCUITS)
        except InputError as error:
            raise InputError("", error.message, str(self.edition.cite(topic))) from error

    def _laundry(self, occupancy: Occupancy) -> int:
        """A dwelling unit with a laundry for all occupants elsewhere needs no circuit of its own."""
        if occupancy is Occupancy.ONE_FAMILY:
            return self._circuits("laundry_circuits", "laundry_least")
        least = int(self.edition.figure("laundry_least"))
        return self.reader.value("laundry_circuits", lambda raw: self._counted(raw, 0, "common_laundry"), least)

    def _load(self, at: str, raw: Any, name: Message, volts: float | None = None) -> Load:
        field_reader = Reader({"load": raw}, ("load",), "", self.reader.errors)
        load = field_reader.required("load", lambda typed: self._rated(at, typed, name, volts), None)
        for place, error in enumerate(self.reader.errors):
            if error.field == "load":
                self.reader.errors[place] = error.at(at)
        return load or Load(at, _ONE.typed, _ONE.value)

    def _rated(self, at: str, raw: Any, name: Message, volts: float | None) -> Load:
        rating = read_rating(raw, self.decimal)
        if not rating.value > 0:
            raise InputError(at, Message("must be more than zero"))
        load = load_from(rating, at, name, self.edition, self.system, volts)
        if load.va > _MOST_LOAD_VA:
            raise InputError(at, Message("is more than a dwelling's load can be"))
        return load

    def _cooling(self, raw: Any) -> Load | None:
        at = self.reader.path("cooling")
        if read_rating(raw, self.decimal).value == 0:
            return None
        return self._rated(at, raw, Message("Cooling"), None)

    def _appliance(self, at: str, raw: Any) -> Appliance:
        item = self.reader.inside(at, raw, ("name", "load", "volts", "motor", "fastened"))
        name = item.name("name")
        volts: float | None = item.value("volts", self._volts, None)
        load = self._load(item.path("load"), item.raw.get("load"), Message("{name}", name=name), volts)
        return Appliance(
            name=name,
            load=load,
            motor=item.flag("motor", load.hp is not None),
            fastened=item.flag("fastened", True),
            on_neutral=volts is None or on_neutral(volts, self.system),
            volts_known=volts is not None,
        )

    def _volts(self, raw: Any) -> float:
        volts = read_volts(raw, self.decimal)
        on_neutral(volts, self.system)  # refuses what the supply does not have
        return volts

    def _cooking(self, at: str, raw: Any) -> Cooking:
        item = self.reader.inside(at, raw, ("kind", "load", "count"))
        kind = item.choice("kind", CookingKind, CookingKind.RANGE)
        load = self._load(item.path("load"), item.raw.get("load"), Message("Cooking"))
        count = item.value("count", lambda typed: read_count(typed, 1, _MOST_COUNT), 1)
        return Cooking(kind, load, count)

    def _heating(self, at: str, raw: Any) -> Heating:
        item = self.reader.inside(at, raw, ("kind", "load", "units", "locked_out"))
        kind = item.choice("kind", HeatingKind, HeatingKind.RESISTANCE)
        load = self._load(item.path("load"), item.raw.get("load"), Message("Heating"))
        units = item.value("units", lambda typed: read_count(typed, 1, _MOST_COUNT), 1)
        return Heating(kind, load, units, item.flag("locked_out", False))


def _system(raw: Any) -> System:
    return find_system(raw, among=DWELLING_SYSTEMS)


def _material(raw: Any) -> str:
    if raw not in MATERIALS:
        raise InputError("", Message("must be one of: {known}", known=list(MATERIALS)))
    return str(raw)
