"""The inputs of the house, grouped as one walks it: every field with its place, words and choices."""

from dataclasses import dataclass, field
from typing import Any

from django.utils.translation import gettext as _
from django.utils.translation import gettext_noop

from voltaje.inputs.declare import Declared, fields_of, lists_of
from voltaje.path.house import HouseSpec
from web.jobs.document import Document, Path
from web.jobs.fields import Field, other_unit
from web.jobs.files.house import HOUSE, SOURCE, books, systems
from web.words.figures import say


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
    in_kitchen = [item for item in house["appliances"] if item.get("place") == "kitchen"]
    elsewhere = [item for item in house["appliances"] if item not in in_kitchen]
    return [
        Group(_("Floors"), [_of(house, key) for key in ("floor_area", "small_appliance_circuits", "laundry_circuits")]),
        Group(_("Kitchen"), items=[*_items("cooking", house["cooking"]), *_items("appliances", in_kitchen)]),
        Group(_("Utility"), items=[*_items("appliances", elsewhere), *_items("dryers", house["dryers"])]),
        Group(
            _("Heat, air, car"),
            [_of(house, "cooling")],
            [*_items("heating", house["heating"]), *_items("vehicle_chargers", house["vehicle_chargers"])],
        ),
        Group(_("Service and assumptions"), [*(_supply(document) if alone else []), *_assumed(house)]),
    ]


_DECLARED = {each.key: each for each in fields_of(HouseSpec)}
_ITEMS = {items.key: items for items in lists_of(HouseSpec)}
_BARE = {"dryers": gettext_noop("Dryer"), "vehicle_chargers": gettext_noop("Vehicle charger")}
_ASSUMED = ("occupancy", "conductor_material", "terminals", "area_unit", "exact_half_kw")
_WIRED = ("120", "240", "208")  # volts that an appliance is offered; others may be typed elsewhere


def _of(house: dict[str, Any], key: str) -> Field:
    each = _DECLARED[key]
    hint = other_unit(house["floor_area"]) if key == "floor_area" else ""
    return Field(("nodes", HOUSE, key), _(each.label), _typed(house, each), _choices(each), hint=hint)


def _typed(entered: dict[str, Any], each: Declared) -> str:
    """Return what stands in a field: as entered, else what is taken."""
    return str(entered.get(each.key, "" if each.shown is None else each.shown))


def _choices(each: Declared, value: str = "") -> tuple[tuple[str, str], ...]:
    if each.key == "volts":
        offered = {"": _("not given"), **{volts: f"{volts} V" for volts in _WIRED}}
        return tuple({**offered, value: offered.get(value, f"{value} V")}.items())
    return tuple((name, say(words)) for name, words in each.titles.items())


def _items(key: str, entered: list[dict[str, Any]]) -> list[Item]:
    return [_item(key, item) for item in entered]


def _item(key: str, item: dict[str, Any]) -> Item:
    """Return an item of a list: its load, behind a fold what else is declared of it and matters now."""
    path = ("nodes", HOUSE, key, item["id"])
    title = _title(key, item)
    more, toggles = [], []
    for each in fields_of(_ITEMS[key].model) if key in _ITEMS else ():
        if each.key == "load" or not _matters(each, key, item):
            continue
        place = (*path, each.key)
        if each.is_flag:
            toggles.append(Toggle(place, _(each.label).lower(), _is_on(each, item)))
        else:
            value = _typed(item, each)
            more.append(Field(place, _(each.label), value, _choices(each, value)))
    return Item(path, title, Field((*path, "load"), title, item["load"]), tuple(more), tuple(toggles))


def _title(key: str, item: dict[str, Any]) -> str:
    if key in _BARE:
        return _(_BARE[key])
    if key == "appliances":
        return item.get("name") or _("Appliance")
    kind = next(each for each in fields_of(_ITEMS[key].model) if each.key == "kind")
    title = say(kind.titles.get(_typed(item, kind)))
    count = str(item.get("count", "1"))
    return f"{title} × {count}" if count != "1" else title


def _matters(each: Declared, key: str, item: dict[str, Any]) -> bool:
    if each.when is None:
        return True
    other = next(one for one in fields_of(_ITEMS[key].model) if one.key == each.when[0])
    return _typed(item, other) in each.when[1]


def _is_on(each: Declared, item: dict[str, Any]) -> bool:
    in_hp = each.key == "motor" and "hp" in str(item["load"]).lower()  # what is rated in horsepower is a motor
    return bool(item.get(each.key, in_hp or each.shown))


def _supply(document: Document) -> list[Field]:
    book, system = document["job"]["book"], document["nodes"][SOURCE]["system"]
    return [
        Field(("job", "book"), _("Code (edition)"), book, tuple((name, name) for name in books())),
        Field(("nodes", SOURCE, "system"), _("Supply"), system, tuple((name, name) for name in systems())),
    ]


def _assumed(house: dict[str, Any]) -> list[Field]:
    unit = Field(
        ("nodes", HOUSE, "area_unit"), _("Default unit"), house.get("area_unit", "ft²"), (("ft²", "ft²"), ("m²", "m²"))
    )
    return [unit if key == "area_unit" else _of(house, key) for key in _ASSUMED]
