"""The inputs of the house, grouped as one walks it: every field with its place, words and choices."""

from dataclasses import dataclass, field
from typing import Any

from django.utils.translation import gettext as _

from web.jobs.document import Document, Path
from web.jobs.fields import Field, other_unit
from web.jobs.house import HOUSE, SOURCE, books, systems


@dataclass(frozen=True)
class Toggle:
    """A yes or no: the word for what is, and the value a press will set."""

    path: Path
    label: str
    on: bool

    @property
    def place(self) -> str:
        """The path as one word."""
        return "/".join(self.path)

    @property
    def next(self) -> str:
        """What pressing it sets."""
        return "false" if self.on else "true"


@dataclass(frozen=True)
class Item:
    """An appliance, cooking unit, dryer, heater or charger: its load, and the rest of it behind a fold."""

    path: Path
    title: str
    load: Field
    more: tuple[Field, ...] = ()
    toggles: tuple[Toggle, ...] = ()

    @property
    def place(self) -> str:
        """The path as one word."""
        return "/".join(self.path)

    @property
    def id(self) -> str:
        """The row's name in the page."""
        return "i-" + "-".join(self.path)


@dataclass
class Group:
    """A part of the walk through the house."""

    title: str
    fields: list[Field] = field(default_factory=list)
    items: list[Item] = field(default_factory=list)


def groups(document: Document, alone: bool = True) -> list[Group]:
    """Return every input of the sheet, in the order of the walk.

    alone: whether the job is this house and its supply; in a larger one the supply is the path's
    """
    house = document["nodes"][HOUSE]
    appliances = [(item.get("place", "utility"), _appliance(item)) for item in house["appliances"]]
    return [
        Group(_("Floors"), _floors(house)),
        Group(
            _("Kitchen"),
            items=[
                *(_cooking(item) for item in house["cooking"]),
                *(row for place, row in appliances if place == "kitchen"),
            ],
        ),
        Group(
            _("Utility"),
            items=[
                *(row for place, row in appliances if place != "kitchen"),
                *(_rating("dryers", item, _("Dryer")) for item in house["dryers"]),
            ],
        ),
        Group(
            _("Heat, air, car"),
            [Field(_at("cooling"), _("Cooling"), house.get("cooling", ""))],
            [
                *(_heating(item) for item in house["heating"]),
                *(_rating("vehicle_chargers", item, _("Vehicle charger")) for item in house["vehicle_chargers"]),
            ],
        ),
        Group(_("Service and assumptions"), _supply(document, alone)),
    ]


def _at(*keys: str) -> Path:
    return ("nodes", HOUSE, *keys)


def _floors(house: dict[str, Any]) -> list[Field]:
    return [
        Field(
            _at("floor_area"),
            _("Floor area (outside dimensions)"),
            house["floor_area"],
            hint=other_unit(house["floor_area"]),
        ),
        Field(_at("small_appliance_circuits"), _("Small-appliance circuits"), house["small_appliance_circuits"]),
        Field(_at("laundry_circuits"), _("Laundry circuits"), house["laundry_circuits"]),
    ]


def _item(key: str, item: dict[str, Any]) -> Path:
    return _at(key, item["id"])


def _load(path: Path, item: dict[str, Any], title: str) -> Field:
    return Field((*path, "load"), title, item["load"])


def _rating(key: str, item: dict[str, Any], title: str) -> Item:
    path = _item(key, item)
    return Item(path, title, _load(path, item, title))


def _appliance(item: dict[str, Any]) -> Item:
    path = _item("appliances", item)
    title = item.get("name") or _("Appliance")
    volts = item.get("volts", "")
    known = {"": _("not given"), "120": "120 V", "240": "240 V", "208": "208 V"}
    choices = tuple({**known, volts: known.get(volts, f"{volts} V")}.items())
    more = (
        Field((*path, "name"), _("Name"), item.get("name", "")),
        Field((*path, "volts"), _("Wired for"), volts, choices),
    )
    in_hp = "hp" in str(item["load"]).lower()
    toggles = (
        Toggle((*path, "motor"), _("motor"), item.get("motor", in_hp)),
        Toggle((*path, "fastened"), _("fastened in place"), item.get("fastened", True)),
    )
    return Item(path, title, _load(path, item, title), more, toggles)


def _cooking(item: dict[str, Any]) -> Item:
    path = _item("cooking", item)
    kinds = {"range": _("Range"), "cooktop": _("Cooktop"), "oven": _("Wall oven")}
    title = kinds.get(item.get("kind", "range"), "")
    if item.get("count", "1") != "1":
        title = f"{title} × {item['count']}"
    more = (
        Field((*path, "kind"), _("Kind"), item.get("kind", "range"), tuple(kinds.items())),
        Field((*path, "count"), _("Quantity"), item.get("count", "1")),
    )
    return Item(path, title, _load(path, item, title), more)


def _heating(item: dict[str, Any]) -> Item:
    path = _item("heating", item)
    kinds = {
        "resistance": _("Electric heat"),
        "heat_pump": _("Heat pump"),
        "heat_pump_supplement": _("Heat-pump strip heat"),
        "thermal_storage": _("Storage heater"),
    }
    kind = item.get("kind", "resistance")
    more = [Field((*path, "kind"), _("Kind"), kind, tuple(kinds.items()))]
    toggles = []
    if kind == "resistance":
        more.append(Field((*path, "units"), _("Separate controls"), item.get("units", "1")))
    if kind == "heat_pump_supplement":
        toggles.append(Toggle((*path, "locked_out"), _("locked out"), item.get("locked_out", False)))
    title = kinds.get(kind, "")
    return Item(path, title, _load(path, item, title), tuple(more), tuple(toggles))


def _supply(document: Document, alone: bool) -> list[Field]:
    house = document["nodes"][HOUSE]
    wire = (("Cu", _("copper")), ("Al", _("aluminum")))
    marks = (("75", _("marked 75 °C")), ("unmarked", _("not marked")), ("60", _("marked 60 °C")))
    kinds = (("one-family", _("one-family house")), ("unit", _("unit of a building")))
    half = (("counts", _("counts (usual)")), ("does not count", _("does not (strict)")))
    supply = [
        Field(("job", "book"), _("Code (edition)"), document["job"]["book"], tuple((name, name) for name in books())),
        Field(
            ("nodes", SOURCE, "system"),
            _("Supply"),
            document["nodes"][SOURCE]["system"],
            tuple((name, name) for name in systems()),
        ),
    ]
    return [
        *(supply if alone else []),
        Field(_at("occupancy"), _("Dwelling"), house.get("occupancy", "one-family"), kinds),
        Field(_at("conductor_material"), _("Conductors"), house.get("conductor_material", "Cu"), wire),
        Field(_at("terminals"), _("Terminals"), house.get("terminals", "75"), marks),
        Field(_at("area_unit"), _("Default unit"), house.get("area_unit", "ft²"), (("ft²", "ft²"), ("m²", "m²"))),
        Field(_at("exact_half_kw"), _("Round ½ kW up"), house.get("exact_half_kw", "counts"), half),
    ]
