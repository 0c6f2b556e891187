"""A job's document as the library takes a house, and back from the library's fields to places."""

import re
from dataclasses import dataclass
from typing import Any

from django.utils import formats

from voltaje.books.dwellings import DEFAULT_BOOK, DEFAULT_SYSTEM, HouseSolution, books_with_a_sheet, solved
from voltaje.books.registry import find_book
from voltaje.inputs.declare import fields_of, keys_of, lists_of
from voltaje.path.house import HouseSpec, read_house
from voltaje.path.kinds import Kind
from voltaje.systems import DWELLING_SYSTEMS
from voltaje.typed import with_point, with_unit, with_unit_of
from web.jobs.document import Document, Path, read

SOURCE, HOUSE = "src", "house"

# What a node holds beside the input of the dwelling tool.
_SCREEN_ONLY = (
    "id",
    "area_unit",
    "place",
    "kind",
    "parent",
    "position",
    "name",
    "run",
    "legs",
    "way",
    "assumed",
    "note",
)
_BARE = tuple(each.key for each in fields_of(HouseSpec) if each.shape.schema.get("type") == "array")  # ratings alone
LISTS = {each.key: keys_of(each.model) for each in lists_of(HouseSpec)} | dict.fromkeys(_BARE, ("load",))
FLAGS = tuple(each.key for items in lists_of(HouseSpec) for each in fields_of(items.model) if each.is_flag)
_PLAIN = ("area_unit", *(key for key in keys_of(HouseSpec) if key not in _BARE))
_ELSEWHERE = {"book": ("job", "book"), "system": ("nodes", SOURCE, "system"), "name": ("job", "name")}


def may_hold(path: Path) -> bool:
    """Return whether a path leads to a place that the sheet may set to a typed value."""
    if path in _ELSEWHERE.values():
        return True
    match path:
        case ("nodes", node, key) if node == HOUSE:
            return key in _PLAIN
        case ("nodes", node, key, _, part) if node == HOUSE:
            return part in LISTS.get(key, ())
    return False


def may_be_item(path: Path) -> bool:
    """Return whether a path leads to an item of one of the lists."""
    return path[:2] == ("nodes", HOUSE) and len(path) == len(("nodes", HOUSE, "list", "item")) and path[2] in LISTS


def new_document(name: str, floor_area: str, book: str = DEFAULT_BOOK, system: str = DEFAULT_SYSTEM) -> Document:
    """Return the document of a new house."""
    house = {"floor_area": floor_area, "small_appliance_circuits": "2", "laundry_circuits": "1"}
    empty: dict[str, list[Any]] = {key: [] for key in LISTS}
    source = {"kind": Kind.SOURCE, "parent": "", "position": 0.0, "system": system}
    dwelling = {"kind": Kind.DWELLING, "parent": SOURCE, "position": 1.0, **house, **empty}
    return {"job": {"name": name, "book": book}, "nodes": {SOURCE: source, HOUSE: dwelling}}


@dataclass(frozen=True)
class Place:
    """Where a house stands in its job: its node and its source, under the names that the sheet gives them."""

    key: str
    source: str

    def shown(self, document: Document) -> Document:
        """Return the part of a job's document that the sheet works on."""
        nodes = document["nodes"]
        system = system_of(document, self.key)
        return {
            "job": document["job"],
            "nodes": {SOURCE: {**nodes[self.source], "system": system}, HOUSE: nodes[self.key]},
        }

    def path(self, path: Path) -> Path:
        """Return where a place of the sheet is in the job."""
        if path[:1] != ("nodes",):
            return path
        real = {HOUSE: self.key, SOURCE: self.source}
        return ("nodes", real.get(path[1], path[1]), *path[2:])


def find_house(document: Document, key: str) -> Place | None:
    """Return the place of a dwelling, None where there is no such node."""
    node = document["nodes"].get(key)
    if not node or node["kind"] != Kind.DWELLING:
        return None
    return Place(key, _source_of(document, key))


def _source_of(document: Document, key: str) -> str:
    nodes, here = document["nodes"], key
    while nodes[here].get("parent"):
        here = nodes[here]["parent"]
    return here


def system_of(document: Document, key: str) -> str:
    """Return the system a dwelling is fed by: its source's, or the last transformer's; of a wye two legs."""
    nodes, here = document["nodes"], nodes_parent(document, key)
    while here:
        node = nodes[here]
        name = node.get("transformer", {}).get("secondary") if node["kind"] == Kind.TRANSFORMER else None
        name = name or node.get("system")
        if name:
            return "208Y/120 2 legs" if name == "208Y/120" else name
        here = node.get("parent")
    return DEFAULT_SYSTEM


def nodes_parent(document: Document, key: str) -> str:
    """Return a node's parent."""
    return document["nodes"][key].get("parent") or ""


def library_fields(house: dict[str, Any]) -> dict[str, Any]:
    """Return a dwelling's node as the dwelling tool's input, without what comes from the path."""
    raw = {key: value for key, value in house.items() if key not in LISTS and key not in _SCREEN_ONLY}
    for key in LISTS:
        items = [{name: item[name] for name in item if name not in ("id", "place")} for item in house.get(key, [])]
        raw[key] = [item.get("load") for item in items] if key in _BARE else items
    return raw


def check(document: Document, _changes: Any = ()) -> None:
    """Raise InputError where the document is not a house to keep: unreadable, or beyond a table."""
    solve(document, record=False)


def solve(document: Document, record: bool = True) -> HouseSolution:
    """Return the house solved. Raises InputError."""
    marked = {key: document["job"][key] for key in ("terminals",) if document["job"].get(key)}
    book = document["job"]["book"]
    house = read_house({**marked, **library_fields(document["nodes"][HOUSE])}, find_book(book).rule)
    return solved(house, book, document["nodes"][SOURCE]["system"], record)


def tidied(path: Path, typed: str, document: Document) -> str:
    """Return a typed value as it is kept: a point as decimal mark, and the unit that stood there where it has none.

    So that a value means the same to a person of another locale, and after units are switched.
    """
    key = path[-1]
    if key == "floor_area":
        area_unit = document["nodes"][HOUSE].get("area_unit", "ft²")
        return with_unit(with_point(typed, _decimal_mark()), area_unit)
    if key in ("load", "cooling"):
        was = read(document, path)
        was = was if isinstance(was, str) else ""
        return with_unit_of(with_point(typed, _decimal_mark()), was, asked="kW, W, VA, A, hp")
    return typed


def _decimal_mark() -> str:
    return str(formats.get_format("DECIMAL_SEPARATOR"))


_FIELD = re.compile(r"(?P<key>\w+)(?:\[(?P<place>\d+)\])?(?:\.(?P<part>\w+))?")


def path_of(field: str, document: Document) -> Path:
    """Return the place that a field of the library's input comes from; of a whole list, its first row."""
    if field in _ELSEWHERE:
        return _ELSEWHERE[field]
    match = _FIELD.fullmatch(field)
    if not match or match["key"] not in LISTS:
        return ("nodes", HOUSE, field)
    items = document["nodes"][HOUSE][match["key"]]
    if match["place"] is None and not items:
        return ("nodes", HOUSE, field)
    item = items[int(match["place"] or 0)]
    return ("nodes", HOUSE, match["key"], item["id"], match["part"] or "load")


def books() -> list[str]:
    """Return the books a house can be reckoned by."""
    return list(books_with_a_sheet())


def systems() -> list[str]:
    """Return the supplies a house can have."""
    return list(DWELLING_SYSTEMS)
