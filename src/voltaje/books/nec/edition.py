"""An edition of the NEC: its clause numbers, its tables, and what differs in substance."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from importlib.resources.abc import Traversable

from voltaje.books.lineage import as_numbered_by, rule_sets
from voltaje.books.tables import Table, load_table, text
from voltaje.errors import UnknownName
from voltaje.message import Message
from voltaje.sheet import Citation

PACKAGE = "voltaje.books.nec"


@dataclass(frozen=True, eq=False)  # one of a kind: hashed by itself, so that what it answers can be kept
class Edition:
    """One edition; always an argument of a rule, its name saved with every result.

    lineage: its name, and those of what it extends; clauses by topic; figures and sizes that stand in clauses
    tables: files of tables that differ from those of their name
    fastened_least_rating: fastened appliances count from 500 W or ¼ hp
    charger_least_load: a vehicle charger counts at 7200 VA or nameplate, the greater
    noncoincident_motor_extra: a motor that is the smaller of two noncoincident loads is compared at 125 %
    taps_only_of_largest: of cooking circuits only those of the largest rating may be tapped
    unit_load_column, lighting_demand_set: which figures of the tables by area hold
    unit_load_holds_continuous: the unit loads already hold the 125 % of continuous lighting
    """

    name: str
    lineage: tuple[str, ...]
    fastened_least_rating: bool
    charger_least_load: bool
    noncoincident_motor_extra: bool
    taps_only_of_largest: bool
    unit_load_column: str
    unit_load_holds_continuous: bool
    lighting_demand_set: str
    clauses: dict[str, str]
    figures: dict[str, float]
    sizes: dict[str, str]
    tables: dict[str, str]

    @cache  # noqa: B019  (editions live as long as the process)
    def cite(self, topic: str, suffix: str = "") -> Citation:
        """Return the clause of a topic in this edition."""
        return Citation(self.name, self.clauses[topic] + suffix, topic)

    @cache  # noqa: B019
    def cite_table(self, key: str, suffix: str = "", row: str = "", column: str = "") -> Citation:
        """Return the citation of a table as this edition numbers it; with the cell that was read, where one was."""
        cell = (row, column) if row else ()
        return self.table(key).cite(self.name, suffix, *cell)

    @cache  # noqa: B019
    def table(self, key: str) -> Table:
        """Return a table of this edition."""
        return as_numbered_by(load_table(PACKAGE, self.tables.get(key, key)), self.lineage)

    def figure(self, key: str) -> float:
        """Return a number that stands in a clause of this edition [the unit of its row]."""
        return self.figures[key]

    def size_figure(self, key: str) -> str:
        """Return a conductor size that stands in a clause of this edition."""
        return self.sizes[key]


FOLDERS: list[Traversable] = [files(PACKAGE) / "editions"]  # a local profile may lie in another, and extend any


@cache
def editions() -> dict[str, Edition]:
    """Return every edition by name, oldest first."""
    rows = load_table(PACKAGE, "figures").rows
    found = {}
    for name, rule_set in rule_sets(FOLDERS).items():
        values = rule_set.values
        own = {text(row, "key"): row["value"] for row in rows} | values.get("figures", {})
        found[name] = Edition(
            name=name,
            lineage=rule_set.lineage,
            clauses=values["clauses"],
            figures={key: float(value) for key, value in own.items() if not isinstance(value, str)},
            sizes={key: value for key, value in own.items() if isinstance(value, str)},
            tables=values.get("tables", {}),
            **values["substance"],
        )
    return found


def find_edition(name: object, field: str = "book") -> Edition:
    """Return the edition of that name. Raises UnknownName at `field`, listing those known."""
    found = editions().get(name) if isinstance(name, str) else None
    if found is None:
        message = Message("unknown book {name}; this version has: {known}", name=name, known=list(editions()))
        raise UnknownName(field, message)
    return found
