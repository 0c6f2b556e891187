"""An edition of the NEC: its clause numbers, its tables, and what differs in substance."""

from __future__ import annotations

import tomllib
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from voltaje.books.tables import Table, load_table, number, text
from voltaje.errors import UnknownName
from voltaje.message import Message
from voltaje.sheet import Citation

PACKAGE = "voltaje.books.nec"


@dataclass(frozen=True)
class Edition:
    """One edition; always an argument of a rule, its name saved with every result.

    fastened_least_rating: fastened appliances count from 500 W or ¼ hp
    charger_least_load: a vehicle charger counts at 7200 VA or nameplate, the greater
    noncoincident_motor_extra: a motor that is the smaller of two noncoincident loads is compared at 125 %
    has_83_percent_table: the 83 % rule comes with a table of sizes
    unit_load_column, lighting_demand_set: which figures of the tables by area hold
    unit_load_holds_continuous: the unit loads already hold the 125 % of continuous lighting
    """

    name: str
    year: int
    fastened_least_rating: bool
    charger_least_load: bool
    noncoincident_motor_extra: bool
    has_83_percent_table: bool
    unit_load_column: str
    unit_load_holds_continuous: bool
    lighting_demand_set: str
    clauses: dict[str, str]

    def cite(self, topic: str, suffix: str = "") -> Citation:
        """Return the clause of a topic in this edition."""
        return _cited(self.name, topic, suffix)

    def cite_table(self, key: str, suffix: str = "") -> Citation:
        """Return the citation of a table as this edition numbers it."""
        return _cited_table(self.name, key, suffix)

    def table(self, key: str) -> Table:
        """Return a table of this edition."""
        return load_table(PACKAGE, key)

    def figure(self, key: str) -> float:
        """Return a number that stands in a clause [the unit of its row]."""
        return _figures()[key]

    def size_figure(self, key: str) -> str:
        """Return a conductor size that stands in a clause."""
        return _sizes()[key]


@cache
def _cited(book: str, topic: str, suffix: str) -> Citation:
    return Citation(book, editions()[book].clauses[topic] + suffix, topic)


@cache
def _cited_table(book: str, key: str, suffix: str) -> Citation:
    return load_table(PACKAGE, key).cite(book, suffix)


@cache
def _figures() -> dict[str, float]:
    rows = load_table(PACKAGE, "figures").rows
    return {text(row, "key"): number(row, "value") for row in rows if isinstance(row["value"], float)}


@cache
def _sizes() -> dict[str, str]:
    rows = load_table(PACKAGE, "figures").rows
    return {text(row, "key"): text(row, "value") for row in rows if isinstance(row["value"], str)}


@cache
def editions() -> dict[str, Edition]:
    """Return every edition by name, oldest first."""
    raw = tomllib.loads((files(PACKAGE) / "editions.toml").read_text("utf-8"))
    names = list(raw["substance"])
    return {
        name: Edition(name=name, clauses=_clauses(raw["clauses"], names.index(name)), **raw["substance"][name])
        for name in names
    }


def _clauses(by_topic: dict[str, list[str]], place: int) -> dict[str, str]:
    return {topic: numbers[place] if len(numbers) > 1 else numbers[0] for topic, numbers in by_topic.items()}


def find_edition(name: object, field: str = "book") -> Edition:
    """Return the edition of that name. Raises UnknownName at `field`, listing those known."""
    found = editions().get(name) if isinstance(name, str) else None
    if found is None:
        message = Message("unknown book {name}; this version has: {known}", name=name, known=list(editions()))
        raise UnknownName(field, message)
    return found
